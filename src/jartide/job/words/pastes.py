"""What a batch of paste does, and what to stir into it, in words."""

from __future__ import annotations

from jartide.errors import JarTideError
from jartide.figures import figure
from jartide.job.words.jars import ml_words
from jartide.job.words.numbers import plain_words
from jartide.paint.paste import STANDS_PA, Stiffness, next_addition, spread_mm, stiffness
from jartide.store.jar_records import Mix
from jartide.wording import tr

# Within so much of the spread that is wanted nobody adds anything.
_NEAR = 0.04
# From so much on it is stirred in twice: feel goes before the sum.
_TWICE_ML = 10.0


def paste_words(mix: Mix) -> str:
    """Return how stiff a batch is and what to add; "" where nobody looked."""
    if not mix.spreads:
        return ""
    last = mix.spreads[-1]
    try:
        said = tr(f"paste.{stiffness(last.pa)}")
        wanted = spread_mm(last.spoon_ml, STANDS_PA)
        added = next_addition(mix.spreads)
    except JarTideError as error:
        return str(error)
    aim = tr("paste.aim", spread=figure(wanted))
    if abs(last.diameter_mm / wanted - 1) <= _NEAR or stiffness(last.pa) is Stiffness.STANDS:
        return f"{said} {tr('paste.right')}"
    if added.powder_ml > 0:
        first = min(added.powder_ml, max(added.powder_ml / 2, _TWICE_ML))
        what = tr("paste.powder", ml=ml_words(added.powder_ml), first=ml_words(first))
    elif added.paint_ml > 0:
        what = tr("paste.paint", ml=ml_words(added.paint_ml))
    else:
        what = tr("paste.water")
    return f"{said} {what} {aim}"


def spread_words(mix: Mix) -> str:
    """Return how far a spoonful spread last, for the sheet; "" where nobody looked."""
    if not mix.spreads:
        return ""
    last = mix.spreads[-1]
    return tr(
        "paste.spread_line", spoon=plain_words(last.spoon_ml), spread=figure(last.diameter_mm)
    )

"""What to add to a jar, in millilitres and words."""

from __future__ import annotations

from jartide.colour.difference import delta_e_2000
from jartide.job.jars import JarState
from jartide.job.outside_devices import source_words
from jartide.job.shelf import Shelf
from jartide.job.words.jars import close_words, ml_words
from jartide.paint.correct import Correction
from jartide.store.jar_records import Mix
from jartide.wording import tr

# Batches farther apart than this are better poured together before they are laid, CIEDE2000.
_BOXED = 0.7


def correction_words(correction: Correction, state: JarState, shelf: Shelf) -> tuple[str, str]:
    """Return what to add, and what to expect of it."""
    work = shelf.work()
    expect = close_words(correction.de00, state.mix.target, correction.lab)
    if work is None or not correction.add:
        return tr("trial.leave"), expect
    names = {tin.id: tin.name for tin in shelf.tins()}
    whole = sum(part.parts for part in state.mix.readings[-1].parts)
    total = state.mix.mixed_ml or state.needed_ml
    pieces = [
        tr(
            "trial.piece",
            ml=ml_words(total * part.parts / whole),
            name=names[work.tin_ids[part.paint]],
        )
        for part in correction.add
    ]
    listed = pieces[0]
    if len(pieces) > 1:
        listed = tr("words.and", first=", ".join(pieces[:-1]), last=pieces[-1])
    return tr("trial.add", pieces=listed), tr("trial.expect", words=expect)


def batches_words(mix: Mix) -> str:
    """Say how the last batch of a jar stands to the first, when there were two."""
    own = {part.tin_id for part in mix.parts}
    batches = [r.lab for r in mix.readings if {part.tin_id for part in r.parts} == own]
    if len(batches) < 2:
        return ""
    first, last = batches[0], batches[-1]
    apart = float(delta_e_2000(first, last))
    words = tr("trial.batches", words=close_words(apart, first, last).lower())
    return words if apart <= _BOXED else f"{words} {tr('trial.box')}"


def told_words(mix: Mix) -> str:
    """Say what told the last reading of a jar, where that matters."""
    said = source_words(mix.readings[-1].source) if mix.readings else ""
    return tr("trial.told", source=said) if said else ""

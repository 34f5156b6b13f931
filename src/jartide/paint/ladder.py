"""Ladders: which swatches teach most about a paint, and which disagree with the rest."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from jartide.colour.difference import delta_e_2000
from jartide.colour.observer import smoothest_reflectance
from jartide.colour.words import Lab
from jartide.paint.fit import fit_shelf
from jartide.paint.fitted import FittedShelf
from jartide.paint.forward import lab_of
from jartide.paint.glaze import films
from jartide.paint.predict import predict
from jartide.paint.recipe import as_lab
from jartide.paint.rows import hiding_layers, rows_of
from jartide.paint.shelf import Card, Shelf, ShelfPaint, Swatch, SwatchKind

# A reading this many deviations from what all others say is pointed out.
DISAGREES = 2.6
# Paler than this a paint says nothing in white; it is let down with black instead.
_PALE_L = 80.0
# Mixes of a paint with its shelf that stand for what it will be used for.
_TRIAL_SHARES = (0.2, 0.5, 0.8)


@dataclass(frozen=True, slots=True, kw_only=True)
class Lesson:
    """A set of swatches to paint, and what it would buy.

    Attributes
    ----------
    swatches : how to paint them; their colours are the predicted ones
    mix_de00 : the bound of typical mixes with them, CIEDE2000
    glaze_de00 : the bound of typical glazes with them
    """

    swatches: tuple[Swatch, ...]
    mix_de00: float
    glaze_de00: float


class Doubt(StrEnum):
    """What may be wrong with a swatch that disagrees."""

    WET = "wet"
    RATIO = "ratio"
    THIN = "thin"


@dataclass(frozen=True, slots=True, kw_only=True)
class SwatchCheck:
    """One swatch, predicted against read.

    Attributes
    ----------
    number : its place among the paint's swatches
    predicted, read : Lab
    de00 : between them
    doubt : when it disagrees with all others, the likeliest cause; None otherwise
    """

    number: int
    predicted: Lab
    read: Lab
    de00: float
    doubt: Doubt | None


def checks(fitted: FittedShelf, paint: int) -> tuple[SwatchCheck, ...]:
    """Return each swatch of a paint, predicted against read; those that disagree are doubted."""
    rows = fitted.rows
    own = np.flatnonzero(rows.paint == paint)
    apart = fitted.disagreement[own]
    # One bad swatch pulls at its neighbours: only the worst is doubted at a time.
    worst = int(own[apart.argmax()]) if apart.size and apart.max() > DISAGREES else -1
    found = []
    for row in own:
        read, predicted = rows.lab[row], rows.lab[row] + fitted.residual[row]
        swatch = fitted.shelf.paints[paint].swatches[rows.swatch[row]]
        found.append(
            SwatchCheck(
                number=int(rows.swatch[row]),
                predicted=as_lab(predicted),
                read=as_lab(read),
                de00=float(delta_e_2000(predicted, read)),
                doubt=_doubt(swatch, predicted, read) if row == worst else None,
            )
        )
    return tuple(found)


def _doubt(swatch: Swatch, predicted: np.ndarray, read: np.ndarray) -> Doubt:
    chroma = np.hypot(read[1], read[2]) - np.hypot(predicted[1], predicted[2])
    darker = read[0] < predicted[0] - 1
    if swatch.kind is SwatchKind.MASSTONE:
        return Doubt.WET if darker else Doubt.THIN
    if swatch.kind is SwatchKind.GLAZE:
        return Doubt.RATIO
    # Wet paint is darker without being greyer; more of the other paint is seldom both.
    return Doubt.WET if darker and chroma > -1 else Doubt.RATIO


def lessons(shelf: Shelf, name: str) -> tuple[Lesson, ...]:
    """Return which swatches would teach most about a paint, best value first.

    Each is tried by the posterior it would leave, with the colours it is predicted to have:
    how sharp the answer gets depends on what is painted, hardly on what it reads.
    """
    # The paint with those it is and would be mixed with: all others hardly matter to it.
    paint = shelf.number_of(name)
    mixed = {swatch.other.casefold() for swatch in shelf.paints[paint].swatches}
    near = {paint, _lightest(shelf), _darkest(shelf), (paint + 1) % len(shelf.paints)}
    near |= {n for n, own in enumerate(shelf.paints) if own.name.casefold() in mixed}
    shelf = shelf.only(sorted(near))
    fitted, paint = fit_shelf(shelf), shelf.number_of(name)
    options = _options(shelf, paint)
    now = _worth(fitted, paint, shelf)
    found = []
    for swatches in options:
        there = shelf.paints[paint].swatches
        expected = expected_swatches(shelf, fitted, paint, swatches)
        changed = replace(shelf.paints[paint], swatches=(*there, *expected))
        taught = fit_shelf(replace(shelf, paints=_with(shelf.paints, paint, changed)))
        mix, glaze = _worth(taught, paint, shelf)
        found.append(Lesson(swatches=expected, mix_de00=mix, glaze_de00=glaze))

    def worth(lesson: Lesson) -> float:
        gain = (now[0] - lesson.mix_de00) / now[0] + 0.5 * (now[1] - lesson.glaze_de00) / now[1]
        # Each swatch more must buy a tenth.
        return gain - 0.1 * len(lesson.swatches)

    return tuple(sorted(found, key=lambda lesson: -worth(lesson)))


def known_to(fitted: FittedShelf, name: str) -> tuple[float, float]:
    """Return the bounds, CIEDE2000, of typical mixes and glazes of a paint as it is known."""
    return _worth(fitted, fitted.shelf.number_of(name), fitted.shelf)


def _with(
    paints: tuple[ShelfPaint, ...], place: int, changed: ShelfPaint
) -> tuple[ShelfPaint, ...]:
    return (*paints[:place], changed, *paints[place + 1 :])


def _lightest(shelf: Shelf) -> int:
    return int(np.argmax([paint.masstone[0] for paint in shelf.paints]))


def _darkest(shelf: Shelf) -> int:
    return int(np.argmin([p.masstone[0] + 0.5 * np.hypot(*p.masstone[1:]) for p in shelf.paints]))


def _options(shelf: Shelf, paint: int) -> list[tuple[Swatch, ...]]:
    """Return sets of swatches worth painting, without their colours."""
    white, black = _lightest(shelf), _darkest(shelf)
    none = (0.0, 0.0, 0.0)
    in_white = Swatch(
        kind=SwatchKind.MIX, lab=none, other=shelf.paints[white].name, paint_parts=1, other_parts=4
    )
    in_black = Swatch(
        kind=SwatchKind.MIX, lab=none, other=shelf.paints[black].name, paint_parts=9, other_parts=1
    )
    glazes = tuple(
        Swatch(kind=SwatchKind.GLAZE, lab=none, over=over, paint_parts=1, other_parts=3)
        for over in Card
    )
    singles: list[tuple[Swatch, ...]] = []
    # A pale paint in white looks as it did before.
    if paint != white and shelf.paints[paint].masstone[0] < _PALE_L:
        singles.append((in_white,))
    if paint != black:
        singles.append((in_black,))
    pairs = [(*singles[0], *singles[1])] if len(singles) == 2 else []
    with_glaze = [(*single, *glazes) for single in singles]
    return [*singles, *pairs, glazes, *with_glaze]


def expected_swatches(
    shelf: Shelf, fitted: FittedShelf, paint: int, swatches: tuple[Swatch, ...]
) -> tuple[Swatch, ...]:
    """Return swatches with the colours they are predicted to have."""
    there = shelf.paints[paint]
    changed = replace(there, swatches=(*there.swatches, *swatches))
    rows = rows_of(replace(shelf, paints=_with(shelf.paints, paint, changed)))
    own = np.flatnonzero((rows.paint == paint) & (rows.swatch >= len(there.swatches)))
    labs = lab_of(rows.painted_of(own), fitted.parameters)
    return tuple(replace(s, lab=as_lab(lab)) for s, lab in zip(swatches, labs, strict=True))


def _worth(fitted: FittedShelf, paint: int, shelf: Shelf) -> tuple[float, float]:
    """Return the median bounds of typical mixes and glazes of one paint."""
    count = len(shelf.paints)
    others = [n for n in {_lightest(shelf), _darkest(shelf), (paint + 1) % count} if n != paint]
    rows = []
    for other in others or [paint]:
        for share in _TRIAL_SHARES:
            row = np.zeros(count)
            row[paint] += share
            row[other] += 1 - share
            rows.append(row)
    mixes = predict(fitted, hiding_layers(np.array(rows)))
    alone = np.repeat(np.eye(count)[[paint]], 6, axis=0)
    grounds = smoothest_reflectance(np.array([(85.0, 0.0, 4.0), (45.0, 2.0, 5.0)]))
    glazes = predict(
        fitted,
        films(
            alone,
            np.repeat(grounds, 3, axis=0),
            carrier=np.tile([2.0, 4.0, 8.0], 2),
            coats=np.ones(6),
            medium=0,
        ),
    )
    return float(np.median(mixes.bound_de00)), float(np.median(glazes.bound_de00))

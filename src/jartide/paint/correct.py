"""Correct a mixed jar: what to add after reading what was really mixed."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.colour.difference import delta_e_2000
from jartide.colour.words import Lab
from jartide.paint.enumeration import HidingColours
from jartide.paint.fitted import FittedShelf
from jartide.paint.hiding import parts_row
from jartide.paint.predict import Trials, predict
from jartide.paint.recipe import Part
from jartide.paint.rows import hiding_layers

# A jar grows by this share at most; beyond it a fresh mix is the better way.
MOST_GROWTH = 1.0
# Steps of what is added, as shares of the jar: from the tip of a spoon up.
_STEPS = (0.01, 0.02, 0.03, 0.05, 0.08, 0.12, 0.2, 0.3, 0.45, 0.7, 1.0)
_LOOKED_AT = 40


@dataclass(frozen=True, slots=True, kw_only=True)
class Correction:
    """What to add to a jar.

    Attributes
    ----------
    add : parts on the scale of the jar's own parts; empty to leave it as it is
    lab : what it will then look like
    de00, uncertainty_de00 : from the target, and how surely
    """

    add: tuple[Part, ...]
    lab: Lab
    de00: float
    uncertainty_de00: float


def trial_of(fitted: FittedShelf, jars: tuple[tuple[tuple[Part, ...], Lab], ...]) -> Trials | None:
    """Return what the painter's own mixed jars taught, as trials for `predict`."""
    if not jars:
        return None
    rows = np.vstack([parts_row(fitted, parts) for parts, _ in jars])
    return Trials(
        painted=hiding_layers(rows / rows.sum(axis=1, keepdims=True)),
        lab=np.array([lab for _, lab in jars]),
    )


def corrections(
    fitted: FittedShelf,
    used: tuple[Part, ...],
    read: Lab,
    target: Lab,
    *,
    paints: frozenset[int] | None = None,
    top: int = 3,
) -> tuple[Correction, ...]:
    """Return the best additions of at most two paints to a jar, nearest first; maybe none at all.

    Parameters
    ----------
    used : parts really measured into the jar
    read : the jar's colour, dry and hiding
    paints : what may be added; None for the whole shelf
    """
    trials = trial_of(fitted, ((used, read),))
    row = parts_row(fitted, used)[0]
    whole = row.sum()
    allowed = sorted(range(row.size) if paints is None else paints)
    candidates = [np.zeros(row.size)]
    for paint in allowed:
        for step in _STEPS:
            if step <= MOST_GROWTH:
                added = np.zeros(row.size)
                added[paint] = step * whole
                candidates.append(added)
    singles = np.array(candidates)
    near = _nearest(fitted, row, singles, read, target)
    leading = list(dict.fromkeys(int(singles[n].argmax()) for n in near if singles[n].any()))[:8]
    doubles = [
        _two(row.size, (first, a * whole), (second, b * whole))
        for place, first in enumerate(leading)
        for second in allowed
        if second not in leading[: place + 1]
        for a in _STEPS
        for b in _STEPS
        if a + b <= MOST_GROWTH
    ]
    everything = np.vstack([singles, doubles]) if doubles else singles
    near = _nearest(fitted, row, everything, read, target)
    return _sorted(fitted, row, everything[near], target, trials, top)


def _two(paints: int, *added: tuple[int, float]) -> np.ndarray:
    row = np.zeros(paints)
    for paint, parts in added:
        row[paint] = parts
    return row


def _nearest(
    fitted: FittedShelf, row: np.ndarray, added: np.ndarray, read: Lab, target: Lab
) -> np.ndarray:
    """Return the additions nearest the target, by the jar's own error carried over whole."""
    colours = HidingColours.of(fitted.parameters)
    mixes = (row + added) / (row + added).sum(axis=1, keepdims=True)
    labs = colours.of_weights(np.vstack([row[None] / row.sum(), mixes]))
    moved = labs[1:] - labs[0] + np.array(read)
    return np.argsort(delta_e_2000(moved, target), kind="stable")[:_LOOKED_AT]


def _sorted(
    fitted: FittedShelf,
    row: np.ndarray,
    added: np.ndarray,
    target: Lab,
    trials: Trials | None,
    top: int,
) -> tuple[Correction, ...]:
    mixes = (row + added) / (row + added).sum(axis=1, keepdims=True)
    predicted = predict(fitted, hiding_layers(mixes), trials)
    apart = delta_e_2000(predicted.lab, target)
    chosen: dict[bytes, int] = {}
    for n in np.argsort(apart, kind="stable"):
        chosen.setdefault((added[n] > 0).tobytes(), int(n))
    return tuple(
        Correction(
            add=tuple(
                Part(paint=int(p), parts=float(added[n, p])) for p in np.flatnonzero(added[n])
            ),
            lab=(
                float(predicted.lab[n, 0]),
                float(predicted.lab[n, 1]),
                float(predicted.lab[n, 2]),
            ),
            de00=float(apart[n]),
            uncertainty_de00=float(predicted.bound_de00[n]),
        )
        for n in list(chosen.values())[:top]
    )

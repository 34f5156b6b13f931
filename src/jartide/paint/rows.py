"""Swatches as equal-length arrays: one row for each reading that teaches the shelf something."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.colour.observer import BANDS_NM, smoothest_reflectance
from jartide.errors import PaintError
from jartide.paint.shelf import Card, Shelf, SwatchKind


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Painted:
    """What is painted: R hiding layers or films over a ground.

    Attributes
    ----------
    weights : (R, P) share of each paint of the shelf in what dries, water apart
    film : (R,) bool, a film over a ground and not a hiding layer
    coats : (R,) films laid
    water : (R,) share of the wet volume that is water
    carrier : (R,) int, place among the fitted carriers; -1 for none
    ground : (R, 36) what is seen of the ground under a film
    """

    weights: np.ndarray
    film: np.ndarray
    coats: np.ndarray
    water: np.ndarray
    carrier: np.ndarray
    ground: np.ndarray


def hiding_layers(weights: np.ndarray) -> Painted:
    """Return hiding layers of mixes, (R, P) shares."""
    rows = weights.shape[0]
    return Painted(
        weights=weights,
        film=np.zeros(rows, dtype=bool),
        coats=np.ones(rows),
        water=np.zeros(rows),
        carrier=np.full(rows, -1),
        ground=np.ones((rows, BANDS_NM.size)),
    )


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Rows:
    """Readings and how they were painted; one entry of each array is one reading.

    Attributes
    ----------
    painted : what was read
    paint, other : (R,) int, places on the shelf; other -1 for none
    lab : (R, 3) as read
    noise : (R,) standard deviation
    swatch : (R,) int, place among the paint's swatches
    carriers : names of the clear carriers; the first is the shelf's own
    """

    painted: Painted
    paint: np.ndarray
    other: np.ndarray
    lab: np.ndarray
    noise: np.ndarray
    swatch: np.ndarray
    carriers: tuple[str, ...]

    def painted_of(self, which: np.ndarray) -> Painted:
        """Return what was painted for the readings chosen by numbers, (N,)."""
        names = Painted.__slots__
        return Painted(**{name: getattr(self.painted, name)[which] for name in names})


def rows_of(shelf: Shelf) -> Rows:
    """Return all readings of a shelf that are not left out.

    Raises
    ------
    PaintError : when a swatch names a paint that is not there.
    """
    cards = smoothest_reflectance(np.array([shelf.white_card, shelf.black_card]))
    used = [
        (number, place, swatch)
        for number, paint in enumerate(shelf.paints)
        for place, swatch in enumerate(paint.swatches)
        if not swatch.left_out
    ]
    carriers: dict[str, int] = {"": 0}
    weights = np.zeros((len(used), len(shelf.paints)))
    other, carrier = np.full(len(used), -1), np.full(len(used), -1)
    water = np.zeros(len(used))
    for row, (number, _, swatch) in enumerate(used):
        if swatch.kind is SwatchKind.MASSTONE:
            weights[row, number] = 1
            continue
        weights[row, number] = swatch.paint_share()
        if swatch.kind is SwatchKind.MIX:
            other[row] = _other(shelf, shelf.paints[number].name, swatch.other)
            weights[row, other[row]] += 1 - swatch.paint_share()
            continue
        wet = swatch.paint_parts + swatch.other_parts + swatch.water_parts
        water[row] = swatch.water_parts / wet
        if swatch.other_parts > 0:
            carrier[row] = carriers.setdefault(swatch.other.casefold(), len(carriers))
    swatches = [swatch for _, _, swatch in used]
    return Rows(
        painted=Painted(
            weights=weights,
            film=np.array([s.kind is SwatchKind.GLAZE for s in swatches]),
            coats=np.array([s.coats for s in swatches], dtype=float),
            water=water,
            carrier=carrier,
            ground=cards[[1 if s.over is Card.BLACK else 0 for s in swatches]],
        ),
        paint=np.array([number for number, _, _ in used]),
        other=other,
        lab=np.array([s.lab for s in swatches], dtype=float),
        noise=np.array([s.noise for s in swatches], dtype=float),
        swatch=np.array([place for _, place, _ in used]),
        carriers=tuple(carriers),
    )


def _other(shelf: Shelf, paint: str, other: str) -> int:
    try:
        return shelf.number_of(other)
    except PaintError as error:
        raise PaintError("error.paint.other", paint=paint, other=other) from error

"""A stack of two to six coats for every family."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from skimage.color import deltaE_ciede2000

from accuracy.second.canvas import Canvas, Stack
from accuracy.second.shapes import bands, cuts, dabs, dashes, specks, threads, veins

FAMILIES = (
    "marble",
    "stone",
    "concrete",
    "rust",
    "verdigris",
    "bronze",
    "plaster",
    "crackle",
    "wood",
    "linen",
    "leather",
    "brushed",
)
Recoloured = Callable[[list[tuple[float, float, float]]], list[tuple[float, float, float]]]
# Base colours to start from; the seed moves them.
_BASES = {
    "marble": (30, -8, 2),
    "stone": (70, 3, 14),
    "concrete": (60, 1, 5),
    "rust": (28, 6, 6),
    "verdigris": (30, 6, 12),
    "bronze": (34, 8, 18),
    "plaster": (78, 4, 15),
    "crackle": (32, 8, 9),
    "wood": (66, 7, 21),
    "linen": (79, 0, 12),
    "leather": (42, 16, 21),
    "brushed": (32, -3, -6),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """What is drawn otherwise: times as soft and wide, so much more share, degrees turned.

    `recoloured` gives the coats' colours, base first, for others.
    """

    recoloured: Recoloured | None = None
    softer: float = 1.0
    wider: float = 1.0
    more_share: float = 0.0
    turned_deg: float = 0.0


UNCHANGED = Change()
# How far apart the tones of a family lie, CIEDE2000.
_NEAR_TONES = {"stone", "concrete", "plaster"}
# What grows or is brushed on these is not darker than the metal or coat below.
_ON_DARK = {"rust", "verdigris", "bronze", "brushed"}
_APART, _APART_NEAR = 7.0, 5.0


def draw_stack(
    family: str,
    seed: int,
    size_mm: float = 240.0,
    patch: int = 0,
    change: Change = UNCHANGED,
) -> Stack:
    """Draw a square stack of a family; the seed chooses colours, number of coats and sizes.

    `patch` draws another piece of the same finish, `change` one that differs from it.
    """
    rng = np.random.default_rng([seed, FAMILIES.index(family)])
    canvas = Canvas(size_mm, size_mm, 100 * seed + FAMILIES.index(family) + 10_000 * patch)
    coats = 1 + int(rng.integers(1, 6))
    size = rng.uniform(0.8, 1.3)
    covers = _covers(family, canvas, size, rng, change)[: coats - 1]
    labs = _colours(family, 1 + len(covers), rng)
    if family == "crackle":
        # The cracked coat lies over what its cracks show.
        labs[1] = (max(labs[0][0], 30) + 38, labs[1][1], labs[1][2] + 4)
    if change.recoloured is not None:
        labs = change.recoloured(labs)
    canvas.lay(labs[0])
    for lab, cover in zip(labs[1:], covers, strict=True):
        canvas.lay(lab, cover)
    return canvas.finish(texture=float(rng.uniform(0.02, 0.05)))


def _covers(
    family: str, canvas: Canvas, size: float, rng: np.random.Generator, change: Change
) -> list[np.ndarray]:
    """The covers of up to five coats over the base, lowest first."""
    way = float(rng.uniform(30, 150)) + change.turned_deg
    more, wide, edge = change.more_share, change.wider, change.softer
    if family == "marble":
        return [
            dabs(canvas, 22 * size, 0.26 + more, 1.5 * edge, 1.4),
            veins(canvas, 9, 3.2 * size * wide, 0.8 * edge, way),
            veins(canvas, 14, 1.8 * size * wide, 0.5 * edge, way + 35),
            dabs(canvas, 10 * size, 0.06, 1.0 * edge),
            specks(canvas, 6, 4.0),
        ]
    if family in ("stone", "concrete", "plaster"):
        soft = {"stone": 0.8, "concrete": 2.4, "plaster": 1.6}[family] * edge
        cut = family == "plaster"
        lines = cuts(canvas, 70 * size, 2.4 * wide) if cut else specks(canvas, 16, 3.2)
        return [
            dabs(canvas, 26 * size, 0.3 + more, soft),
            dabs(canvas, 14 * size, 0.16, soft),
            lines,
            dabs(canvas, 9 * size, 0.07, 0.6 * edge),
            specks(canvas, 5, 5.0),
        ]
    if family in ("rust", "verdigris"):
        return [
            dabs(canvas, 20 * size, 0.42 + more, 0.5 * edge, 1.8),
            dabs(canvas, 12 * size, 0.22, 0.5 * edge, 1.8),
            dabs(canvas, 7 * size, 0.09, 0.4 * edge, 2.2),
            veins(canvas, 8, 3.0, 0.8 * edge, 90),
            specks(canvas, 8, 3.0),
        ]
    if family == "bronze":
        return [
            dabs(canvas, 24 * size, 0.25 + more, 0.8 * edge),
            dabs(canvas, 9 * size, 0.10, 0.6 * edge),
            specks(canvas, 10, 3.4),
            dashes(canvas, 0.05, 1.6, 24, way),
        ]
    if family == "crackle":
        net = cuts(canvas, 15 * size, 1.8 * wide)
        cells = canvas.know(1 - net, **canvas.known_of(net))
        return [
            cells,
            cells * dabs(canvas, 20 * size, 0.2 + more, 1.0 * edge),
            cells * dabs(canvas, 8 * size, 0.07, 0.6 * edge),
        ]
    if family == "wood":
        return [
            bands(canvas, 8 * size, 0.34 + more, 1.0 * edge),
            dashes(canvas, 0.10, 1.3, 16, 90),
            dashes(canvas, 0.04, 1.6, 9, 90),
            dabs(canvas, 12 * size, 0.06, 1.5 * edge, 2.0),
        ]
    if family == "linen":
        return [
            threads(canvas, 3.2 / size, 0.38 + more, True),
            threads(canvas, 2.8 / size, 0.28, False),
            dashes(canvas, 0.03, 2.2, 18, 0),
        ]
    if family == "leather":
        return [
            cuts(canvas, 6.5 * size, 1.5 * wide),
            dabs(canvas, 26 * size, 0.18 + more, 1.2 * edge),
            dabs(canvas, 12 * size, 0.06, 0.8 * edge),
        ]
    return [
        dashes(canvas, 0.30 + more, 2.0 * size * wide, 70, way),
        dashes(canvas, 0.16, 1.8 * size * wide, 60, way + 70),
        dashes(canvas, 0.06, 1.5 * size * wide, 40, way),
    ]


def _colours(family: str, count: int, rng: np.random.Generator) -> list:
    """Colours that can be told apart, the base first."""
    least = _APART_NEAR if family in _NEAR_TONES else _APART
    base = np.array(_BASES[family], float) + rng.uniform((-5, -4, -5), (5, 4, 5))
    found = [base]
    reach = 1.0
    while len(found) < count:
        reach *= 1.01
        spread = (13, 7, 9) if family in _NEAR_TONES else (20, 11, 14)
        new = base + reach * rng.normal(0, spread)
        apart = min(float(deltaE_ciede2000(new, other)) for other in found)
        if family in _ON_DARK and new[0] < base[0] - 2:
            continue
        if 10 < new[0] < 93 and np.hypot(new[1], new[2]) < 48 and apart > least:
            found.append(new)
    return [tuple(float(v) for v in lab) for lab in found]

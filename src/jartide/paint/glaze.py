"""Glazes, washes and veils: paint in a clear carrier, thinned or not, over a ground.

Holds for clear carriers laid evenly and dried; runs, rubbed-out and broken films are
outside it, and so is a carrier of its own colour.
"""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations

import numpy as np

from jartide.colour.difference import delta_e_2000
from jartide.colour.observer import smoothest_reflectance
from jartide.colour.words import Lab
from jartide.errors import PaintError
from jartide.paint.enumeration import whole_parts
from jartide.paint.fitted import FittedShelf
from jartide.paint.forward import lab_of
from jartide.paint.predict import Predicted, Trials, predict
from jartide.paint.recipe import Part, as_lab
from jartide.paint.rows import Painted

# Parts of carrier to one part of paint that painters measure out.
CARRIER_PARTS = (0, 1, 2, 3, 4, 6, 8, 10, 12)
# Water beyond a third of the wet glaze starves the binder, whatever the label allows.
MOST_WATER_SHARE = 1 / 3
# Films looked at together.
_AT_ONCE = 20_000
# Paints whose pairs are tried: the best alone, and those next to them.
_PAIRED = 16
# A simpler glaze is taken while it is no farther off than this.
_SIMPLER_DE00 = 0.15


@dataclass(frozen=True, slots=True, kw_only=True)
class GlazeRecipe:
    """A glaze over a ground and what it is predicted to look like, dry.

    Attributes
    ----------
    parts : of paint, whole
    carrier, water : parts, by wet volume
    coats : films laid
    de00 : from what was wanted; uncertainty_de00 holds nine of ten
    """

    parts: tuple[Part, ...]
    carrier: float
    water: float
    coats: int
    lab: Lab
    de00: float
    uncertainty_de00: float

    @property
    def total(self) -> float:
        """All wet parts together."""
        return sum(part.parts for part in self.parts) + self.carrier + self.water


@dataclass(frozen=True, slots=True, kw_only=True)
class GlazeWishes:
    """Limits to the glazes that are looked for.

    Attributes
    ----------
    paints : only these; None for all
    keep : each glaze holds all of these
    most_parts : of the whole wet glaze
    most_coats, most_paints : of one glaze
    least_carrier : parts; 0 lets a thin coat of the paint alone count as a glaze
    water : parts of water that may be added, in the painter's school; (0,) for never
    carrier_name : one of the fitted carriers; "" is the shelf's own
    top : how many, of different paints
    """

    paints: frozenset[int] | None = None
    keep: frozenset[int] = frozenset()
    most_parts: int = 16
    most_coats: int = 3
    most_paints: int = 2
    least_carrier: int = 0
    water: tuple[int, ...] = (0, 1, 2)
    carrier_name: str = ""
    top: int = 5


def carrier_number(fitted: FittedShelf, name: str) -> int:
    """Return a carrier's place among the fitted ones.

    Raises
    ------
    PaintError : when no swatch was painted with it, so nothing is known of it.
    """
    try:
        return fitted.rows.carriers.index(name.strip().casefold())
    except ValueError:
        raise PaintError("error.glaze.carrier", name=name) from None


def films(
    parts: np.ndarray,
    ground: np.ndarray,
    *,
    carrier: np.ndarray | float = 0.0,
    water: np.ndarray | float = 0.0,
    coats: np.ndarray | float = 1.0,
    medium: int = 0,
) -> Painted:
    """Return films of R glazes over a ground.

    Parameters
    ----------
    parts : (R, P) parts of paint
    ground : (36,) or (R, 36) as seen
    carrier, water, coats : (R,) or one for all
    medium : the carrier's place among the fitted ones
    """
    rows = parts.shape[0]
    carrier, water, coats = (
        np.broadcast_to(x, rows).astype(float) for x in (carrier, water, coats)
    )
    dries = parts.sum(axis=1) + carrier
    return Painted(
        weights=parts / dries[:, None],
        film=np.ones(rows, dtype=bool),
        coats=coats,
        water=water / (dries + water),
        carrier=np.where(carrier > 0, medium, -1),
        ground=np.broadcast_to(ground, (rows, ground.shape[-1])),
    )


def predict_glaze(
    fitted: FittedShelf,
    parts: tuple[Part, ...],
    base: Lab,
    *,
    carrier: float = 0.0,
    water: float = 0.0,
    coats: int = 1,
    carrier_name: str = "",
    trials: Trials | None = None,
) -> Predicted:
    """Return what one glaze looks like over a ground of the given colour."""
    row = np.zeros((1, len(fitted.shelf.paints)))
    for part in parts:
        row[0, part.paint] += part.parts
    medium = carrier_number(fitted, carrier_name)
    painted = films(
        row,
        smoothest_reflectance(np.array(base))[0],
        carrier=carrier,
        water=water,
        coats=coats,
        medium=medium,
    )
    return predict(fitted, painted, trials)


@dataclass(frozen=True, slots=True, kw_only=True)
class _Ratios:
    """Which ratios are tried: most parts of paint together, and parts of carrier in all."""

    most_paint_parts: int
    carriers: tuple[int, ...]


_COARSE = _Ratios(most_paint_parts=4, carriers=(0, 1, 2, 3, 4, 6, 8, 10, 12))
_FINE = _Ratios(most_paint_parts=6, carriers=tuple(range(25)))


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class _Tried:
    """Glazes that were looked at, (N,) or (N, P) each; `of_set` numbers their paints."""

    of_set: np.ndarray
    parts: np.ndarray
    carrier: np.ndarray
    water: np.ndarray
    coats: np.ndarray
    de00: np.ndarray


def find_glazes(
    fitted: FittedShelf, base: Lab, target: Lab, wishes: GlazeWishes
) -> tuple[GlazeRecipe, ...]:
    """Return the glazes that bring a ground nearest to a wanted colour, nearest first.

    All glazes of one paint are tried, and those of two among the paints that do best alone
    and those that pull the other way.

    Raises
    ------
    PaintError : when the wishes leave nothing to try.
    """
    shelf = len(fitted.shelf.paints)
    allowed = set(range(shelf)) if wishes.paints is None else set(wishes.paints)
    if not allowed:
        raise PaintError("error.mix.no_paint")
    if not wishes.keep <= allowed or len(wishes.keep) > wishes.most_paints:
        raise PaintError("error.mix.keep")
    ground = smoothest_reflectance(np.array(base))[0]
    medium = carrier_number(fitted, wishes.carrier_name)
    goal = np.array(target, dtype=float)

    def tried(sets: np.ndarray, ratios: _Ratios) -> _Tried:
        return _try_all(fitted, sets, ground, goal, medium, wishes, ratios)

    singles = np.array(sorted(allowed))[:, None]
    alone = tried(singles, _COARSE)
    kept = []
    if not wishes.keep:
        kept.append(tried(_leading(alone, singles, 2 * wishes.top), _FINE))
    elif len(wishes.keep) == 1:
        kept.append(tried(np.array([sorted(wishes.keep)]), _FINE))
    if wishes.most_paints > 1 and len(allowed) > 1:
        pairs = _pairs(fitted, alone, goal, sorted(allowed), ground, medium, wishes.keep)
        kept.append(tried(_leading(tried(pairs, _COARSE), pairs, 2 * wishes.top), _FINE))
    return _best(fitted, kept, ground, goal, medium, wishes)


def _leading(tried: _Tried, sets: np.ndarray, most: int) -> np.ndarray:
    """Return the sets of paints whose nearest glaze is nearest."""
    nearest = np.full(sets.shape[0], np.inf)
    np.minimum.at(nearest, tried.of_set, tried.de00)
    return sets[np.argsort(nearest, kind="stable")[:most]]


def _try_all(
    fitted: FittedShelf,
    sets: np.ndarray,
    ground: np.ndarray,
    goal: np.ndarray,
    medium: int,
    wishes: GlazeWishes,
    ratios: _Ratios,
) -> _Tried:
    """Look at all glazes of sets of paints, (C, size)."""
    ways = whole_parts(sets.shape[1], ratios.most_paint_parts if sets.shape[1] > 1 else 1)
    table = [
        (own, carrier, water, coats)
        for own in ways.astype(float)
        for carrier in ratios.carriers
        for water in wishes.water
        for coats in range(1, wishes.most_coats + 1)
        if own.sum() + carrier + water <= max(wishes.most_parts, 1)
        and carrier >= wishes.least_carrier
        and water <= MOST_WATER_SHARE * (own.sum() + carrier + water)
    ]
    if not table:
        raise PaintError("error.glaze.few_parts")
    own, carrier, water, coats = (np.array(column) for column in zip(*table, strict=True))
    many = len(table)
    parts = np.zeros((sets.shape[0] * many, len(fitted.shelf.paints)), dtype=np.float32)
    for place in range(sets.shape[1]):
        rows = np.arange(parts.shape[0])
        parts[rows, np.repeat(sets[:, place], many)] = np.tile(own[:, place], sets.shape[0])
    carrier, water, coats = (
        np.tile(column, sets.shape[0]).astype(float) for column in (carrier, water, coats)
    )
    apart = np.empty(parts.shape[0])
    for begin in range(0, parts.shape[0], _AT_ONCE):
        run = slice(begin, begin + _AT_ONCE)
        painted = films(
            parts[run],
            ground,
            carrier=carrier[run],
            water=water[run],
            coats=coats[run],
            medium=medium,
        )
        apart[run] = delta_e_2000(lab_of(painted, fitted.parameters), goal)
    of_set = np.repeat(np.arange(sets.shape[0]), many)
    return _Tried(of_set=of_set, parts=parts, carrier=carrier, water=water, coats=coats, de00=apart)


def _pairs(
    fitted: FittedShelf,
    alone: _Tried,
    goal: np.ndarray,
    allowed: list[int],
    ground: np.ndarray,
    medium: int,
    keep: frozenset[int],
) -> np.ndarray:
    """Return the pairs, (C, 2), worth trying.

    The paints that do best alone, and those that move the ground most towards what the best
    one leaves missing.
    """
    paint = alone.parts.argmax(axis=1)
    best = np.array([alone.de00[paint == p].min() for p in allowed])
    leading = [allowed[n] for n in np.argsort(best, kind="stable")[:_PAIRED]]
    bare = np.eye(len(fitted.shelf.paints))[allowed]
    moved = lab_of(films(bare, ground, carrier=8.0, medium=medium), fitted.parameters)
    still = lab_of(films(bare[:1] * 1e-6, ground, carrier=8.0, medium=medium), fitted.parameters)
    towards = (moved - still) @ (goal - still[0])
    pulling = [allowed[n] for n in np.argsort(-towards, kind="stable")[:_PAIRED]]
    chosen = sorted({*leading, *pulling, *keep})
    pairs = [pair for pair in combinations(chosen, 2) if keep <= set(pair)]
    return np.array(pairs, dtype=int).reshape(-1, 2)


def _best(
    fitted: FittedShelf,
    kept: list[_Tried],
    ground: np.ndarray,
    goal: np.ndarray,
    medium: int,
    wishes: GlazeWishes,
) -> tuple[GlazeRecipe, ...]:
    """Return the best glaze of each set of paints; of those as near, the simplest."""
    choice: list[tuple[float, _Tried, int]] = []
    for tried in kept:
        order = np.argsort(tried.de00, kind="stable")
        sets, first = np.unique(tried.of_set[order], return_index=True)
        leading = np.argsort(tried.de00[order[first]], kind="stable")[: 3 * wishes.top]
        for own, nearest in zip(sets[leading], order[first[leading]], strict=True):
            rows = np.flatnonzero(
                (tried.of_set == own) & (tried.de00 <= tried.de00[nearest] + _SIMPLER_DE00)
            )
            effort = 2 * tried.coats[rows] + tried.water[rows] + 0.05 * tried.carrier[rows]
            row = int(rows[np.lexsort((tried.de00[rows], effort))[0]])
            choice.append((float(tried.de00[row]), tried, row))
    choice.sort(key=lambda one: one[0])
    found = []
    for _, tried, row in choice[: wishes.top]:
        painted = films(
            tried.parts[row : row + 1].astype(float),
            ground,
            carrier=tried.carrier[row],
            water=tried.water[row],
            coats=tried.coats[row],
            medium=medium,
        )
        predicted = predict(fitted, painted)
        numbers = sorted(np.flatnonzero(tried.parts[row]), key=lambda n: -tried.parts[row, n])
        found.append(
            GlazeRecipe(
                parts=tuple(Part(paint=int(n), parts=float(tried.parts[row, n])) for n in numbers),
                carrier=float(tried.carrier[row]),
                water=float(tried.water[row]),
                coats=int(tried.coats[row]),
                lab=as_lab(predicted.lab[0]),
                de00=float(delta_e_2000(predicted.lab[0], goal)),
                uncertainty_de00=float(predicted.bound_de00[0]),
            )
        )
    return tuple(found)

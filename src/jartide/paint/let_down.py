"""A strong paint let down first: where a part of a dozen is too much of it.

One part of the strong paint is mixed into so many of the mix's own body in a small jar; of that
jar whole parts are taken. So one in sixty can be measured with a spoon.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace

import numpy as np

from jartide.colour.difference import delta_e_2000
from jartide.colour.words import Lab
from jartide.paint.enumeration import HidingColours, whole_parts
from jartide.paint.fitted import FittedShelf
from jartide.paint.predict import Trials
from jartide.paint.recipe import LetDown, Part, Recipe, Wishes
from jartide.paint.search import recipes_of, usable

# Parts of the body to one of the strong paint that are tried; more are no longer stirred well.
BODIES = (4, 9, 19)
# So much nearer it must come to be worth a second jar, CIEDE2000.
LEAST_GAIN = 0.4
# Up close no eye tells what is nearer than this from what was wanted.
_GOOD_ENOUGH = 1.0
# Sets of paints that are looked at, and mixes predicted in full.
_SETS, _EXACT = 12, 60


def counted(parts: Sequence[Part], let_down: LetDown | None) -> tuple[Part, ...]:
    """Return parts as they are measured: those of the small jar stand under its strong paint."""
    if let_down is None:
        return tuple(parts)
    by_paint = {part.paint: part.parts for part in parts}
    jar = by_paint[let_down.paint] * (1 + let_down.parts)
    by_paint[let_down.paint] = jar
    by_paint[let_down.body] -= jar * let_down.parts / (1 + let_down.parts)
    left = [Part(paint=p, parts=n) for p, n in by_paint.items() if n > 1e-6]
    return tuple(sorted(left, key=lambda part: -part.parts))


def find_let_down(
    fitted: FittedShelf,
    target: Lab,
    best: Sequence[Recipe],
    wishes: Wishes,
    trials: Trials | None = None,
) -> Recipe | None:
    """Return the best mix with a strong paint let down first; None where it gains too little.

    It comes nearer than the best plain mix by at least 0.4 CIEDE2000, and no part of it is one of
    the plain mix's size: what whole parts can hold needs no second jar.

    Parameters
    ----------
    best : plain mixes, nearest first; their paints, and one more beside them, are tried
    """
    if not best or best[0].de00 <= _GOOD_ENOUGH or wishes.most_paints < 2:
        return None
    colours = HidingColours.of(fitted.parameters)
    found: list[tuple[float, np.ndarray, LetDown]] = []
    for own in _sets(best, usable(fitted, wishes), wishes):
        found += _of_set(colours, np.asarray(target, float), own, wishes)
    found.sort(key=lambda one: one[0])
    found = found[:_EXACT]
    if not found:
        return None
    exact = recipes_of(fitted, target, np.vstack([row for _, row, _ in found]), trials)
    # At one distance the small jar that is stirred most easily is the better one.
    near = min(
        zip(exact, (one for _, _, one in found), strict=True),
        key=lambda pair: (round(pair[0].de00, 1), pair[1].parts, len(pair[0].parts)),
    )
    recipe = replace(near[0], let_down=near[1])
    return recipe if recipe.de00 <= best[0].de00 - LEAST_GAIN else None


def _sets(
    best: Sequence[Recipe], paints: Sequence[int], wishes: Wishes
) -> Iterable[tuple[int, ...]]:
    """The nearest mixes' own paints, and each with one paint more where that is allowed."""
    found: dict[frozenset[int], None] = {}
    for recipe in best[:_SETS]:
        own = recipe.paints()
        if len(own) > 1:
            found[own] = None
        if len(own) < wishes.most_paints:
            found |= {own | {paint}: None for paint in paints if paint not in own}
    return [tuple(sorted(one)) for one in found if wishes.keep <= one]


def _of_set(
    colours: HidingColours, target: np.ndarray, own: tuple[int, ...], wishes: Wishes
) -> list[tuple[float, np.ndarray, LetDown]]:
    """The nearest mix of one set for each paint let down in each other, and each small jar."""
    size = len(own)
    ways = whole_parts(size, wishes.most_parts).astype(float)
    ways = ways[ways.min(axis=1) >= wishes.least_share * ways.sum(axis=1)]
    if not ways.size:
        return []
    found = []
    for strong in range(size):
        for body in range(size):
            if body == strong:
                continue
            for parts in BODIES:
                shares = ways / ways.sum(axis=1, keepdims=True)
                jar = shares[:, strong] / (1 + parts)
                shares[:, body] += parts * jar
                shares[:, strong] = jar
                # What whole parts can hold is a plain mix.
                small = shares[:, strong] < 1 / (wishes.most_parts + 1)
                if not small.any():
                    continue
                fine = shares[small]
                lab = colours.of_shares(np.array([own]), fine.astype(np.float32)[None])[0]
                apart = delta_e_2000(lab, target)
                place = int(np.argmin(apart))
                row = np.zeros(colours.k.shape[0])
                row[list(own)] = fine[place] * ways[small][place].sum()
                let_down = LetDown(paint=own[strong], body=own[body], parts=float(parts))
                found.append((float(apart[place]), row, let_down))
    return found

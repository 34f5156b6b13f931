"""The mixes of a plan's layers as JSON: what stands in each jar, how near, and how much of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from jartide.paint.batch import amounts, least_batch_ml, measurable
from jartide.paint.closeness import closeness
from jartide.paint.let_down import counted
from jartide.paint.recipe import Recipe
from jartide.paint.shelf import Shelf
from jartide.paint.units import least_part_ml
from jartide.plan.quantities import WareAmount
from jartide.reading.result import Layer
from jartide.store.exchange_mixes import let_down_to_json, recipe_to_json
from jartide.wording import english


@dataclass(frozen=True, slots=True, kw_only=True)
class LayerMix:
    """The mix found for a layer."""

    layer: Layer
    recipe: Recipe


def enough_to_measure(
    wares: Sequence[WareAmount], mixes: Sequence[LayerMix]
) -> tuple[WareAmount, ...]:
    """Return amounts of which every mix is no smaller than its parts can be measured in."""
    least = {
        mix.layer.id: least_batch_ml(
            [part.parts for part in counted(mix.recipe.parts, mix.recipe.let_down)],
            least_part_ml("ml"),
        )
        for mix in mixes
    }
    return tuple(
        replace(one, touch_up_ml=measurable(one.needed, least[one.ware.layer]).touch_up_ml)
        if one.ware.layer in least
        else one
        for one in wares
    )


def plan_mixes_to_json(
    shelf: Shelf, mixes: Sequence[LayerMix], wares: Sequence[WareAmount]
) -> list[dict[str, Any]]:
    """Return each layer's mix with the millilitres of every paint; words are English."""
    mixed = {one.ware.layer: one.mixed_ml for one in wares if one.ware.layer}
    names = shelf.names()
    found = []
    for mix in mixes:
        whole = mixed.get(mix.layer.id, 0.0)
        parts = tuple((names[part.paint], part.parts) for part in mix.recipe.parts)
        jar = mix.recipe.let_down
        target = mix.layer.best_lab or mix.layer.shown_lab
        found.append(
            {
                "layer": mix.layer.id,
                "name": english(mix.layer.name),
                "target": [round(value, 3) for value in target],
                **recipe_to_json(shelf, mix.recipe),
                "reads": closeness(mix.recipe.de00).value,
                "let_down": None if jar is None else let_down_to_json(shelf, mix.recipe),
                "mixed_ml": round(whole, 1),
                "ml": {one.name: round(one.ml, 1) for one in amounts(parts, whole, {})},
            }
        )
    return found

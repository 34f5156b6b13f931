"""Mixes, glazes and predictions as JSON, one schema each, all version 1."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from jartide.colour.words import Lab
from jartide.paint.glaze import GlazeRecipe
from jartide.paint.let_down import counted
from jartide.paint.predict import ROUGH_DE00, Predicted
from jartide.paint.recipe import Part, Recipe
from jartide.paint.shelf import Shelf


def mixes_to_json(
    shelf: Shelf, target: Lab, recipes: Sequence[Recipe], extra: Sequence[dict[str, Any]] = ()
) -> dict[str, Any]:
    """Return recipes; `extra` holds further keys of each, such as its price."""
    more = list(extra) or [{} for _ in recipes]
    return {
        "schema": "jar-tide/mix/1",
        "target": _lab(target),
        "recipes": [
            {**recipe_to_json(shelf, recipe), **own}
            for recipe, own in zip(recipes, more, strict=True)
        ],
    }


def let_down_to_json(shelf: Shelf, recipe: Recipe) -> dict[str, Any]:
    """Return a mix with a strong paint let down first: the small jar, then whole parts of it."""
    jar = recipe.let_down
    assert jar is not None
    names = shelf.names()
    return {
        "small_jar": {names[jar.paint]: 1, names[jar.body]: _whole(jar.parts)},
        "of": names[jar.paint],
        "measured": _parts(shelf, counted(recipe.parts, jar)),
        **recipe_to_json(shelf, recipe),
    }


def glazes_to_json(
    shelf: Shelf, base: Lab, target: Lab, recipes: Sequence[GlazeRecipe]
) -> dict[str, Any]:
    """Return glazes over a base."""
    return {
        "schema": "jar-tide/glaze/1",
        "base": _lab(base),
        "target": _lab(target),
        "recipes": [
            {
                **recipe_to_json(shelf, recipe),
                "carrier": _whole(recipe.carrier),
                "water": _whole(recipe.water),
                "coats": recipe.coats,
            }
            for recipe in recipes
        ],
    }


def prediction_to_json(predicted: Predicted) -> dict[str, Any]:
    """Return the prediction of one recipe."""
    bound = float(predicted.bound_de00[0])
    return {
        "schema": "jar-tide/prediction/1",
        "lab": _lab(predicted.lab[0]),
        "uncertainty_de00": round(bound, 3),
        "rough": bound > ROUGH_DE00,
    }


def recipe_to_json(shelf: Shelf, recipe: Recipe | GlazeRecipe) -> dict[str, Any]:
    """Return the parts of one recipe, its colour and how sure it is."""
    return {
        "parts": _parts(shelf, recipe.parts),
        "lab": _lab(recipe.lab),
        "de00": round(recipe.de00, 4),
        "uncertainty_de00": round(recipe.uncertainty_de00, 3),
        "rough": recipe.uncertainty_de00 > ROUGH_DE00,
    }


def _parts(shelf: Shelf, parts: Sequence[Part]) -> dict[str, float]:
    return {shelf.paints[part.paint].name: _whole(part.parts) for part in parts}


def _whole(value: float) -> float:
    return int(value) if value == int(value) else round(value, 4)


def _lab(lab: Sequence[float]) -> list[float]:
    return [round(float(value), 3) for value in lab]

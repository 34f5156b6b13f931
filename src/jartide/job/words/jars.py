"""Mixes and amounts in painters' words."""

from __future__ import annotations

import math
from collections.abc import Sequence

from jartide.colour.words import Lab, shift
from jartide.figures import figure, largest_remainder
from jartide.job.words.numbers import figure_words
from jartide.paint.closeness import Closeness, closeness
from jartide.paint.hiding import hides as word
from jartide.paint.predict import ROUGH_DE00
from jartide.paint.units import UnitSystem, grams, spooned
from jartide.wording import tr

# A part below this much of a spoon is printed as a fraction.
_WHOLE = 0.05


def parts_words(parts: Sequence[float]) -> str:
    """Return parts with spaced colons: "4 : 3 : 1"."""
    return " : ".join(count_words(part) for part in parts)


def count_words(count: float) -> str:
    """Return a number of parts, whole where it is."""
    return f"{round(count)}" if abs(count - round(count)) < _WHOLE else figure_words(count, 1)


def ml_words(ml: float) -> str:
    """Return millilitres, whole below 100, to 10 above; from a litre on litres to 0.1."""
    if ml >= 995:
        return tr("volume.l", value=figure(ml / 1000, 1))
    return tr("unit.ml", value=10 * round(ml / 10) if ml >= 100 else round(ml))


def close_words(de00: float | None, target: Lab | None, mix: Lab | None) -> str:
    """Return how close a mix comes and which way it is off."""
    if de00 is None or target is None or mix is None:
        return ""
    word = closeness(de00)
    words = tr(f"close.{word}")
    if word is Closeness.UP_CLOSE:
        return words
    way = tr(f"shift.{shift(target, mix)}").lower()
    return tr("close.and_off", words=words, way=way)


def sure_words(uncertainty_de00: float) -> str:
    """Return how surely a prediction will hold; empty when it surely will."""
    if uncertainty_de00 > ROUGH_DE00:
        return tr("jars.rough")
    return tr("jars.about") if uncertainty_de00 > 2 else ""


def hiding_words(coats: int | None, hides: float) -> str:
    """Return in how many coats a mix hides what lies below."""
    if coats is None:
        return tr("jars.never_hides")
    if coats == 1:
        return tr("jars.hides_in_one")
    return tr("jars.hides_in", coats=coats, how=tr(f"hides.{word(hides)}"))


# How amounts are said: millilitres, spoons and cups of three kinds, or grams.
UNITS = ("ml", "metric", "us", "imperial", "grams")
# Of a usual water-borne paint, where the tin does not say.
# Below so much, whole millilitres say too little.
_WHOLE_ML = 8.0
_USUAL_G_PER_ML = 1.3


def whole_ml_words(ml: float) -> str:
    """Return an amount in whole millilitres: what goes in beside it adds up to it."""
    return tr("unit.ml", value=round(ml))


def shares_words(total_ml: float, parts: Sequence[float], units: str) -> list[str]:
    """Return how much of each part goes into a total; whole millilitres add up to it."""
    each = [total_ml * part / sum(parts) for part in parts]
    if units != "ml" or total_ml < _WHOLE_ML:
        return [amount_words(ml, units) for ml in each]
    return [whole_ml_words(ml) for ml in largest_remainder(each, round(total_ml))]


def amount_words(ml: float, units: str, density_g_per_ml: float | None = None) -> str:
    """Return an amount in the painter's measures."""
    if units == "ml":
        return ml_words(ml)
    if units == "grams":
        return tr("unit.g", value=round(grams(ml, density_g_per_ml or _USUAL_G_PER_ML)))
    found = spooned(ml, UnitSystem(units))
    whole, rest = divmod(round(found.count * 4), 4)
    quarter = ("", "¼", "½", "¾")[rest]
    number = f"{whole or ''}{quarter}"
    return tr(f"measure.{found.measure}", count=max(1, math.ceil(found.count)), number=number)

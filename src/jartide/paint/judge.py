"""Judge a tin before it is bought: is it the colour, and can the shelf correct or replace it?"""

from __future__ import annotations

from dataclasses import dataclass, replace

from jartide.colour.difference import delta_e_2000
from jartide.colour.words import Lab
from jartide.paint.fit import fit_shelf
from jartide.paint.fitted import FittedShelf
from jartide.paint.mix_index import MixIndex
from jartide.paint.recipe import Recipe, Wishes
from jartide.paint.search import find_mixes
from jartide.paint.shelf import Opacity, Shelf, ShelfPaint, Swatch, SwatchKind

# With this much of the new tin a mix counts as that tin, corrected.
_MOSTLY = 0.5
_LOOKED_AT = 60


@dataclass(frozen=True, slots=True, kw_only=True)
class TinVerdict:
    """What a tin not owned would bring.

    Attributes
    ----------
    de00 : of the tin as it is from the wanted colour
    corrected : the best mix that is mostly this tin; None when the shelf can't better it
    without : the best mixes of the shelf alone; the first may already do
    """

    de00: float
    corrected: Recipe | None
    without: tuple[Recipe, ...]


def judge_tin(
    fitted: FittedShelf,
    name: str,
    lab: Lab,
    opacity: Opacity,
    target: Lab,
    wishes: Wishes,
    index: MixIndex | None = None,
) -> TinVerdict:
    """Return whether a tin read by photo, chip or reader is worth buying for a colour.

    The tin is known by its masstone only, so a corrected mix is a rough one.
    """
    tin = ShelfPaint(
        name=name, opacity=opacity, swatches=(Swatch(kind=SwatchKind.MASSTONE, lab=lab),)
    )
    own: Shelf = fitted.shelf
    wider = fit_shelf(replace(own, paints=(*own.paints, tin)))
    place = len(own.paints)
    apart = float(delta_e_2000(lab, target))
    mixed = find_mixes(wider, target, replace(wishes, keep=wishes.keep | {place}, top=_LOOKED_AT))
    mostly = [
        recipe
        for recipe in mixed
        if next(p.parts for p in recipe.parts if p.paint == place) >= _MOSTLY * recipe.total
        and len(recipe.parts) > 1
        and recipe.de00 < apart
    ]
    return TinVerdict(
        de00=apart,
        corrected=mostly[0] if mostly else None,
        without=find_mixes(fitted, target, wishes, index),
    )

"""How much of everything a plan takes: for each step, for each product, and what to buy.

Amounts follow the laid share, not the cover that is left to be seen.
"""

from __future__ import annotations

import math
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from jartide.errors import PlanError
from jartide.paint.batch import (
    TOUCH_UP_ML,
    TOUCH_UP_SHARE,
    WASTE,
    Needed,
    Use,
    put_by_ml,
    up_to_ten,
)
from jartide.plan.areas import check_count, one_area_m2
from jartide.plan.propose import Piece, for_piece
from jartide.plan.step import Step
from jartide.plan.technique import Product
from jartide.plan.units import SOLD_ML, Units


@dataclass(frozen=True, slots=True, kw_only=True)
class Ware:
    """What is bought or mixed: the mix of a layer, or a product of a kind and binder.

    `name` is the tin the painter named, "" for any of its kind; `technique` tells primers and
    clear coats apart where none was named.
    """

    layer: str = ""
    product: Product = Product.NONE
    binder: str = ""
    name: str = ""
    technique: str = ""


CARRIER = Ware(product=Product.GLAZE, technique="carrier")


@dataclass(frozen=True, slots=True, kw_only=True)
class StepAmount:
    """What one step takes on all its pieces, millilitres, waste not in it."""

    step_id: str
    area_m2: float
    wet_ml: float
    mix_ml: float
    carrier_ml: float
    water_ml: float


@dataclass(frozen=True, slots=True, kw_only=True)
class WareAmount:
    """What all steps take of one ware together.

    Attributes
    ----------
    laid_ml, waste_ml, tools_ml, touch_up_ml : on the surface, lost, left in the tools, put by
    used_by : ids of the steps
    """

    ware: Ware
    laid_ml: float
    waste_ml: float
    touch_up_ml: float
    used_by: tuple[str, ...]
    tools_ml: float = 0.0

    @property
    def total_ml(self) -> float:
        """All of it."""
        return self.laid_ml + self.waste_ml + self.tools_ml + self.touch_up_ml

    @property
    def mixed_ml(self) -> float:
        """All of it, as it is mixed: up to the next ten."""
        return up_to_ten(self.total_ml)

    @property
    def needed(self) -> Needed:
        """The same figures as a jar has them."""
        return Needed(
            laid_ml=self.laid_ml,
            waste_ml=self.waste_ml,
            touch_up_ml=self.touch_up_ml,
            tools_ml=self.tools_ml,
        )

    @property
    def shown_ml(self) -> tuple[int, ...]:
        """Laid, lost, in the tools, put by, as whole millilitres that add up to `mixed_ml`."""
        return self.needed.shown_ml


def piece_area_m2(piece: Piece) -> float:
    """Return the flat area of all of a piece's panels, square metres."""
    check_count(piece.count)
    return piece.count * one_area_m2(piece.site, piece.width_mm, piece.height_mm)


def step_amounts(steps: Sequence[Step], pieces: Sequence[Piece]) -> tuple[StepAmount, ...]:
    """Return what each step takes, in the order of the steps.

    Raises
    ------
    PlanError : when a piece has no area.
    """
    areas = {piece.id: piece_area_m2(piece) for piece in pieces}
    own = {piece.id: {step.id for step in for_piece(steps, piece)} for piece in pieces}
    found = []
    for step in steps:
        mine = [piece for piece in pieces if step.id in own[piece.id]]
        area = math.fsum(areas[piece.id] for piece in mine)
        uses = [
            Use(
                area_m2=areas[piece.id],
                laid_share=step.laid_share,
                coats=step.coats,
                spreading_m2_per_l=step.spreading_m2_per_l or 1.0,
                relief_factor=piece.site.relief_factor,
            )
            for piece in mine
        ]
        wet = math.fsum(use.ml() for use in uses) if step.spreading_m2_per_l > 0 else 0.0
        whole = 1 + step.carrier + step.water
        found.append(
            StepAmount(
                step_id=step.id,
                area_m2=area,
                wet_ml=wet,
                mix_ml=wet / whole,
                carrier_ml=wet * step.carrier / whole,
                water_ml=wet * step.water / whole,
            )
        )
    return tuple(found)


# What stays in a tool when it is washed out, millilitres, by the words of its name: rules of thumb.
_HOLDS_ML = (("roller", 40.0), ("spray", 30.0), ("trowel", 20.0), ("knife", 20.0), ("blade", 20.0))
_OTHERS_HOLD_ML = 5.0


def tool_holds_ml(tool: str) -> float:
    """Return what stays in a tool; without one nothing does."""
    if not tool:
        return 0.0
    return next((ml for word, ml in _HOLDS_ML if word in tool.casefold()), _OTHERS_HOLD_ML)


# What is mixed for a layer and comes out of its jar, unless a tin is named.
FROM_JARS = (Product.PAINT, Product.GLAZE, Product.STAIN)


def ware_of(step: Step) -> Ware:
    """Return what a step lays on."""
    if step.product is Product.MEDIUM and not step.product_name:
        return CARRIER
    if step.layer and not step.product_name and step.product in FROM_JARS:
        return Ware(layer=step.layer)
    kinds = (Product.PRIMER, Product.CLEAR, Product.CLEANER)
    return Ware(
        product=step.product,
        binder=step.binder,
        name=step.product_name,
        technique=step.technique if step.product in kinds else "",
    )


def ware_amounts(
    steps: Sequence[Step],
    pieces: Sequence[Piece],
    *,
    waste: float = WASTE,
    touch_up_share: float = TOUCH_UP_SHARE,
    touch_up_ml: float = TOUCH_UP_ML,
    thinned: Collection[str] = (),
) -> tuple[WareAmount, ...]:
    """Return what is needed of every mix and product, in the order in which they come up.

    Area x relief x laid share x coats / rate x (1 + waste) + tools + put by = total. A share of a
    mix is put by for touch-ups, at least `touch_up_ml` or half of a small one; products can be
    bought again. A tool holds no more than it lays. `thinned` are the ids of
    layers whose jar holds its carrier and water already: all that is laid comes out of it.

    Raises
    ------
    PlanError : when a piece has no area, or waste is below zero.
    """
    if min(waste, touch_up_share, touch_up_ml) < 0:
        raise PlanError("error.batch.waste")
    laid: dict[Ware, float] = {}
    held: dict[Ware, float] = {}
    used: dict[Ware, list[str]] = {}
    for step, amount in zip(steps, step_amounts(steps, pieces), strict=True):
        if amount.wet_ml <= 0:
            continue
        ware = ware_of(step)
        own = ((ware, amount.mix_ml), (CARRIER, amount.carrier_ml))
        if ware.layer in thinned:
            own = ((ware, amount.wet_ml), (CARRIER, 0.0))
        for ware, ml in own:
            if ml > 0:
                laid[ware] = laid.get(ware, 0.0) + ml
                holds = min(tool_holds_ml(step.tool), amount.wet_ml) * ml / amount.wet_ml
                held[ware] = held.get(ware, 0.0) + holds
                used.setdefault(ware, []).append(step.id)
    return tuple(
        WareAmount(
            ware=ware,
            laid_ml=ml,
            waste_ml=waste * ml,
            touch_up_ml=put_by_ml(ml, touch_up_share, touch_up_ml) if ware.layer else 0.0,
            used_by=tuple(used[ware]),
            tools_ml=held[ware],
        )
        for ware, ml in laid.items()
    )


def tins_to_buy(
    missing_ml: float, units: Units = Units.METRIC, own_ml: float | None = None
) -> tuple[tuple[float, int], ...]:
    """Return tins that hold an amount, as (millilitres, how many), largest first.

    The cheapest wins, as prices usually go: twice the tin costs about 1.74 times as much
    (its volume to the power 0.8, a rule of thumb). Where the painter's own tin size is known,
    only that is bought.
    """
    if missing_ml <= 0:
        return ()
    if own_ml:
        return ((own_ml, math.ceil(missing_ml / own_ml - 1e-9)),)
    return _cheapest(missing_ml, sorted(SOLD_ML[units], reverse=True))


_PRICE_POWER = 0.8


def _cost(tins: tuple[tuple[float, int], ...]) -> float:
    return sum(number * size**_PRICE_POWER for size, number in tins)


def _cheapest(ml: float, sizes: Sequence[float]) -> tuple[tuple[float, int], ...]:
    """Fill an amount from the largest size down: as many as fit or one more, then the rest."""
    largest = sizes[0]
    fit = int(ml / largest + 1e-9)
    left = ml - fit * largest
    whole = ((largest, fit),) if fit else ()
    if left <= 1e-9 * ml:
        return whole
    options = [((largest, fit + 1),)]
    if len(sizes) > 1:
        options.append((*whole, *_cheapest(left, sizes[1:])))
    return min(options, key=lambda tins: (_cost(tins), sum(number for _, number in tins)))


def measured_rate(rate_m2_per_l: float, logged: Sequence[tuple[float, float]]) -> float:
    """Return a spreading rate corrected by what was really used.

    The usual rate counts as much as one logged pass of the same area, so that the first log
    moves it half the way.

    Parameters
    ----------
    logged : (area in m2 times share and coats, millilitres used) of each pass
    """
    used = [(area, ml) for area, ml in logged if area > 0 and ml > 0]
    if not used:
        return rate_m2_per_l
    area = math.fsum(a for a, _ in used)
    usual = area / len(used)
    litres = math.fsum(ml for _, ml in used) / 1000 + usual / rate_m2_per_l
    return (area + usual) / litres


@dataclass(frozen=True, slots=True, kw_only=True)
class Shelved:
    """What is there of one product, and what a tin of it costs; None is unknown."""

    left_ml: float | None = None
    tin_ml: float | None = None
    tin_price: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Line:
    """One line of the shopping list.

    Attributes
    ----------
    name : of the product, or the kind where none is named
    needed_ml, left_ml, missing_ml : left is None when nobody knows, and nothing is missing then
    tins : to buy, (millilitres, how many)
    price : of the tins; None when unknown
    known : whether it stands on the shelf
    """

    name: str
    needed_ml: float
    left_ml: float | None
    missing_ml: float
    tins: tuple[tuple[float, int], ...]
    price: float | None
    known: bool = True

    @property
    def unknown(self) -> bool:
        """Whether it is on the shelf and nobody knows how much is left: that is asked."""
        return self.known and self.left_ml is None and self.missing_ml <= 0


def shopping_list(
    wanted: Mapping[str, float], shelf: Mapping[str, Shelved], units: Units = Units.METRIC
) -> tuple[Line, ...]:
    """Return what there is and what must be bought of each product, by its name."""
    found = []
    for name, ml in wanted.items():
        here = shelf.get(name)
        left = None if here is None else here.left_ml
        missing = ml if here is None else 0.0 if left is None else max(ml - left, 0.0)
        tins = tins_to_buy(missing, units, None if here is None else here.tin_ml)
        price = None
        if here is not None and here.tin_price is not None and here.tin_ml:
            price = here.tin_price * sum(number for _, number in tins)
        found.append(
            Line(
                name=name,
                needed_ml=ml,
                left_ml=left,
                missing_ml=missing,
                tins=tins,
                price=price,
                known=here is not None,
            )
        )
    return tuple(found)

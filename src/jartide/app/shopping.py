"""What a plan's mixes and products come to on the shelf: there, or to be bought."""

from __future__ import annotations

from typing import TYPE_CHECKING

from jartide.app.stations.steps.words import ware_words

if TYPE_CHECKING:
    from jartide.app.plan_desk import PlanDesk
    from jartide.plan.quantities import Line, WareAmount

# Of these kinds one tin on the shelf is the one that is meant.
_SHELVED = ("primer", "clear", "wax", "metal", "carrier")


def shopping_of(plan: PlanDesk, wares: tuple[WareAmount, ...]) -> tuple[Line, ...]:
    """Return what is bought: a mix is its tins, and what is mixed already is not mixed again."""
    from jartide.plan.layup_table import layup_table
    from jartide.plan.quantities import CARRIER, Shelved, shopping_list

    desk, reading = plan.jar_desk, plan.document.target_reading()
    tins = [] if desk is None else [tin for tin in desk.tins() if tin.owned]
    by_id = {tin.id: tin for tin in tins}
    jars = [] if desk is None else desk.mixes()
    sheen = None if reading is None else reading.sheen
    if reading is not None and sheen is None:
        sheen = layup_table(reading.family, plan.own().family(reading.family)).sheen
    wanted: dict[str, float] = {}
    for amount in wares:
        ware = amount.ware
        mix = next((m for m in jars if ware.layer and m.layer == ware.layer), None)
        if mix is not None and mix.parts and mix.total > 0:
            left = max(amount.total_ml - (mix.left_ml or 0.0), 0.0)
            for part in mix.parts:
                if part.tin_id in by_id:
                    name = by_id[part.tin_id].name
                    wanted[name] = wanted.get(name, 0.0) + left * part.parts / mix.total
            continue
        if ware.layer:
            continue  # nothing is mixed for it yet: nobody knows what to buy
        name = ware.name
        if not name:
            kind = "carrier" if ware == CARRIER else str(ware.product)
            own = [
                tin
                for tin in tins
                if tin.stock.kind == kind
                and kind in _SHELVED
                # A clear coat of another sheen is another product.
                and (kind != "clear" or tin.stock.sheen in ("", sheen))
            ]
            # One tin of that kind on the shelf is the one that is meant.
            name = own[0].name if len(own) == 1 else ware_words(ware, reading)
        wanted[name] = wanted.get(name, 0.0) + amount.total_ml
    shelf = {
        tin.name: Shelved(
            left_ml=tin.stock.left_ml, tin_ml=tin.stock.tin_ml, tin_price=tin.stock.price
        )
        for tin in tins
    }
    return shopping_list(wanted, shelf, plan.work().units)

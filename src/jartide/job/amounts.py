"""How much of everything: one amount of each mix and product, for jars, steps and sheet alike."""

from __future__ import annotations

from dataclasses import dataclass, replace

from jartide.errors import JarTideError
from jartide.job.kept import Kept
from jartide.job.measured_parts import recipe_counts
from jartide.job.plan import TimedPlan
from jartide.job.words.steps import ware_words
from jartide.paint.batch import (
    SPREADING_M2_PER_L,
    Needed,
    Use,
    least_batch_ml,
    measurable,
    needed,
    put_by_ml,
)
from jartide.paint.units import least_part_ml
from jartide.plan.layup_table import layup_table
from jartide.plan.quantities import (
    CARRIER,
    Line,
    Shelved,
    StepAmount,
    Ware,
    WareAmount,
    shopping_list,
    step_amounts,
    tool_holds_ml,
    ware_amounts,
    ware_of,
)
from jartide.plan.school import USUAL, WAY
from jartide.plan.step import Step
from jartide.reading.result import Layer
from jartide.store.jar_records import JarUse, Mix, Tin

# Of these kinds one tin on the shelf is the one that is meant.
_SHELVED = ("primer", "clear", "wax", "metal", "carrier")
# Where the finish's own areas are not entered.
_USUAL_AREA_M2 = 1.0
_NOTHING = Needed(laid_ml=0.0, waste_ml=0.0, touch_up_ml=0.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class MixAmount:
    """How much of one mix is needed, and by what.

    Attributes
    ----------
    needed : on the surface, lost, put by
    planned : how many steps of the plan take of it
    usual : area m2, laid share, m2 per litre of a pass where the painter typed none
    is_by_plan : whether the plan says how much; else the jar's own passes do
    uses : the passes, as the plan has them or as they were typed
    least_ml : no less can be measured; 0 for an accent, or where nothing stands in the jar
    is_raised : whether more is mixed than is wanted, so that it can be measured
    """

    needed: Needed
    planned: int
    usual: tuple[float, float, float]
    is_by_plan: bool
    uses: tuple[JarUse, ...]
    least_ml: float = 0.0
    is_raised: bool = False


class Amounts:
    """Works out amounts from the plan, and from what the painter typed for a jar instead."""

    def __init__(self, plan: TimedPlan, kept: Kept) -> None:
        self._plan = plan
        self._wares = kept.table("amounts", 4)

    # ---- by ware

    def wares(self) -> tuple[WareAmount, ...]:
        """Return what is needed of every mix and product, in the order in which they come up.

        Raises
        ------
        JarTideError : when there are no steps to count by, or a piece has no area.
        """
        work, jars = self._plan.work(), self._jars()
        steps, pieces = self._plan.measured_steps(), self._plan.pieces()
        reading = self._plan.readings.of_target()

        def count() -> tuple[WareAmount, ...]:
            found = ware_amounts(
                steps,
                pieces,
                waste=work.waste,
                touch_up_share=work.touch_up_share,
                touch_up_ml=work.touch_up_ml,
                thinned=[layer for layer, mix in jars.items() if mix.carrier > 0],
            )
            return tuple(self._as_typed(amount, jars.get(amount.ware.layer)) for amount in found)

        key = (
            steps,
            pieces,
            work,
            tuple(jars.values()),
            self._measure(),
        )
        # Hundreds of tins are told apart by what they are, not by what stands on them.
        return self._wares.made(key, count, reading, *self._plan.shelf.tins())

    def _jars(self) -> dict[str, Mix]:
        """The kept jars by the id of their layer."""
        return {mix.layer: mix for mix in self._plan.records.mixes() if mix.layer}

    def _as_typed(self, amount: WareAmount, mix: Mix | None) -> WareAmount:
        """What the painter typed for a jar goes before what the plan says."""
        if mix is None:
            return amount
        if is_typed(mix):
            typed = self.of_mix(self._layer(mix.layer), mix).needed
        else:
            typed = measurable(amount.needed, self.least_ml(mix))
        return replace(
            amount,
            laid_ml=typed.laid_ml,
            waste_ml=typed.waste_ml,
            touch_up_ml=typed.touch_up_ml,
            tools_ml=typed.tools_ml,
        )

    def _measure(self) -> str:
        """What the painter measures with."""
        workspace = self._plan.records.workspace
        return "ml" if workspace is None else workspace.preference("units", "ml")

    def least_ml(self, mix: Mix) -> float:
        """Return the least of a mix whose smallest part can be measured; 0 for an accent."""
        if mix.accent or not mix.parts:
            return 0.0
        counts = [*recipe_counts(mix.parts), mix.carrier, mix.water]
        return least_batch_ml(counts, least_part_ml(self._measure()))

    def _layer(self, layer_id: str) -> Layer | None:
        reading = self._plan.readings.of_target()
        layers = () if reading is None else reading.layers
        return next((layer for layer in layers if layer.id == layer_id), None)

    def steps(self) -> tuple[tuple[Step, StepAmount], ...]:
        """Return every step with what it takes, waste not in it."""
        steps = self._plan.measured_steps()
        return tuple(zip(steps, step_amounts(steps, self._plan.pieces()), strict=True))

    # ---- by jar

    def of_mix(self, layer: Layer | None, mix: Mix) -> MixAmount:
        """Return how much of a jar's mix is needed; by rules of thumb where the plan can't tell."""
        usual, work = self._usual(layer, mix), self._plan.work()
        planned_here = layer is not None and not is_typed(mix) and bool(self._plan.pieces())
        known = self._known() if planned_here else ()
        if known and layer is not None:
            own = next((one for one in known if one.ware == Ware(layer=layer.id)), None)
            if own is None:
                # Its layer is made of products, or left out: no jar is mixed for it.
                return MixAmount(
                    needed=_NOTHING, planned=0, usual=usual, is_by_plan=True, uses=mix.uses
                )
            planned = own.needed
            planned_uses = self._uses(layer, thinned=mix.carrier > 0)
            return MixAmount(
                needed=planned,
                planned=len(own.used_by),
                usual=usual,
                is_by_plan=True,
                uses=planned_uses or mix.uses,
                least_ml=self.least_ml(mix),
                is_raised=self._is_raised(planned, mix),
            )
        area, laid, rate = usual
        uses = tuple(
            Use(
                area_m2=area if use.area_m2 is None else use.area_m2,
                laid_share=laid if use.laid_share is None else use.laid_share,
                coats=use.coats * mix.coats,
                spreading_m2_per_l=rate
                if use.spreading_m2_per_l is None
                else use.spreading_m2_per_l,
            )
            for use in mix.uses
        )
        steps = self._steps_of(layer)
        own_needed = needed(
            uses,
            waste=work.waste,
            touch_up_share=work.touch_up_share,
            touch_up_ml=work.touch_up_ml,
            tools_ml=sum(tool_holds_ml(step.tool) for step in steps) or tool_holds_ml("brush"),
        )
        return MixAmount(
            needed=measurable(own_needed, self.least_ml(mix)),
            planned=0,
            usual=usual,
            is_by_plan=False,
            uses=mix.uses,
            least_ml=self.least_ml(mix),
            is_raised=self._is_raised(own_needed, mix),
        )

    def _is_raised(self, needed: Needed, mix: Mix) -> bool:
        """Whether what is wanted, with its usual reserve, is less than can be measured."""
        work = self._plan.work()
        reserve = put_by_ml(needed.laid_ml, work.touch_up_share, work.touch_up_ml)
        wanted = replace(needed, touch_up_ml=reserve)
        return needed.laid_ml > 0 and wanted.total_ml < self.least_ml(mix)

    def _uses(self, layer: Layer, *, thinned: bool) -> tuple[JarUse, ...]:
        """The plan's steps as passes of a jar, for the painter to change: they come to the same.

        A litre of a mix goes the farther, the more of what is laid is carrier.
        """
        found = []
        for step, amount in self.steps():
            ml = amount.wet_ml if thinned else amount.mix_ml
            if ml > 0 and ware_of(step) == Ware(layer=layer.id):
                use = JarUse(
                    area_m2=amount.area_m2,
                    laid_share=step.laid_share,
                    coats=step.coats,
                    spreading_m2_per_l=1000 * amount.area_m2 * step.laid_share * step.coats / ml,
                )
                found.append(use)
        return tuple(found)

    def _known(self) -> tuple[WareAmount, ...]:
        try:
            return self.wares()
        except JarTideError:
            return ()

    def _usual(self, layer: Layer | None, mix: Mix) -> tuple[float, float, float]:
        """Area, laid share and rate of a pass: the plan's own, else rules of thumb."""
        area = round(self._plan.area_m2(), 2) or _USUAL_AREA_M2
        steps = self._steps_of(layer)
        if steps:
            first = steps[0]
            return area, first.laid_share, first.spreading_m2_per_l
        glaze = mix.carrier > 0
        rate = SPREADING_M2_PER_L["glaze" if glaze else "paint"]
        if mix.parts and not glaze:
            tins = {tin.id: tin for tin in self._plan.shelf.tins()}
            first_tin = tins.get(mix.parts[0].tin_id)
            rate = (first_tin and first_tin.stock.spreading_m2_per_l) or rate
        return area, 1.0, rate

    def _steps_of(self, layer: Layer | None) -> list[Step]:
        if layer is None:
            return []
        try:
            steps = self._plan.measured_steps()
        except JarTideError:
            return []
        return [step for step in steps if step.lays and ware_of(step) == Ware(layer=layer.id)]

    # ---- what to buy

    def shopping(self) -> tuple[Line, ...]:
        """Return what is there and what is bought: a mix is its tins, and none is mixed twice.

        Raises
        ------
        JarTideError : as `wares`.
        """
        tins = [tin for tin in self._plan.shelf.tins() if tin.owned]
        by_id, jars = {tin.id: tin for tin in tins}, self._jars()
        sheen = self._sheen()
        wanted: dict[str, float] = {}

        def want(name: str, ml: float) -> None:
            wanted[name] = wanted.get(name, 0.0) + ml

        for amount in self.wares():
            ware = amount.ware
            mix = jars.get(ware.layer) if ware.layer else None
            if mix is not None and mix.parts and mix.total > 0:
                left = max(amount.total_ml - max(mix.mixed_ml, mix.left_ml or 0.0), 0.0)
                for part in mix.parts:
                    if part.tin_id in by_id:
                        want(by_id[part.tin_id].name, left * part.parts / mix.total)
                if mix.carrier > 0:
                    want(self._name_of(CARRIER, tins, sheen), left * mix.carrier / mix.total)
            elif not ware.layer:
                want(ware.name or self._name_of(ware, tins, sheen), amount.total_ml)
            # Nothing is mixed for a layer yet: nobody knows what to buy.
        shelf = {
            tin.name: Shelved(
                left_ml=tin.stock.left_ml, tin_ml=tin.stock.tin_ml, tin_price=tin.stock.price
            )
            for tin in tins
        }
        return shopping_list(wanted, shelf, self._plan.work().units)

    def _sheen(self) -> str | None:
        """The sheen that a clear coat is meant to have."""
        reading = self._plan.readings.of_target()
        if reading is None or reading.sheen is not None:
            return None if reading is None else reading.sheen
        plan, own = self._plan.plan(), self._plan.own().family(reading.family)
        taken = {} if plan is None else {one.group: one.choice for one in plan.schools}
        return layup_table(reading.family, own, taken.get(WAY, USUAL)).sheen

    def _name_of(self, ware: Ware, tins: list[Tin], sheen: str | None) -> str:
        """What an unnamed product is called: one tin of its kind on the shelf is the one meant."""
        kind = "carrier" if ware == CARRIER else str(ware.product)
        own = [
            tin
            for tin in tins
            if tin.stock.kind == kind
            and kind in _SHELVED
            # A clear coat of another sheen is another product.
            and (kind != "clear" or tin.stock.sheen in ("", sheen))
        ]
        return own[0].name if len(own) == 1 else ware_words(ware, self._plan.readings.of_target())


def is_typed(mix: Mix) -> bool:
    """Whether the painter typed passes of a jar's own."""
    return mix.uses != (JarUse(),)

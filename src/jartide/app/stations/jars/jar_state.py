"""A jar with everything the station shows of it: what it looks like and how much is needed."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from jartide.wording import say

if TYPE_CHECKING:
    from jartide.app.document import Document
    from jartide.app.jar_desk import JarDesk
    from jartide.app.jar_work import Shown
    from jartide.colour.words import Lab
    from jartide.paint.batch import Needed, Use
    from jartide.paint.closeness import Closeness
    from jartide.reading.result import Layer
    from jartide.store.jar_records import Mix

# Where the finish's own areas are not entered.
_USUAL_AREA_M2 = 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class JarState:
    """One jar.

    Attributes
    ----------
    mix, layer : the jar, and the layer it is for
    below_name, below : what lies below the layer, and its colour; "" for the bare board
    shown : how it looks; None while empty or not worked out
    close : how near it comes; None without a target or a mix
    usual : area m2, laid share, m2 per litre where the painter gave none
    needed : how much its passes take
    planned : how many passes of the plan say so; 0 where the amounts are those of the jar itself
    """

    mix: Mix
    layer: Layer | None
    below_name: str
    below: Lab | None
    shown: Shown | None
    close: Closeness | None
    usual: tuple[float, float, float]
    needed: Needed
    planned: int = 0

    @property
    def left_ml(self) -> float:
        """What is still to be stirred."""
        return max(self.needed.total_ml - self.mix.mixed_ml, 0.0)


def jar_states(document: Document, desk: JarDesk) -> list[JarState]:
    """Return all jars of the open finish."""
    from jartide.paint.batch import SPREADING_M2_PER_L, Use, needed
    from jartide.paint.closeness import closeness

    finish = document.finish
    if finish is None:
        return []
    area = sum(s.width_mm * s.height_mm * s.count / 1e6 for s in document.surfaces(finish))
    area = round(area, 2) or _USUAL_AREA_M2
    rates = {tin.id: tin.stock.spreading_m2_per_l for tin in desk.tins()}
    jars = desk.jars()
    ground = jars[0][0] if jars else None
    found = []
    for layer, mix in jars:
        below = None
        name = ""
        if layer is not None and ground is not None and layer.id != ground.id:
            below = ground.best_lab or ground.shown_lab
            name = say(ground.name)
        shown = desk.shown(mix, below)
        glaze = mix.carrier > 0
        rate = SPREADING_M2_PER_L["glaze" if glaze else "paint"]
        if mix.parts and not glaze:
            rate = rates.get(mix.parts[0].tin_id) or rate
        laid = 1.0
        if layer is not None and below is not None and not glaze:
            # A little more is laid than shows: edges are softened and some is taken off again.
            laid = min(1.0, round(1.2 * (layer.coverage_painted.value or 0.5) + 0.02, 2))
        usual = (area, laid, rate)
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
        planned = _planned(desk, layer, mix)
        if planned:
            uses = planned
        found.append(
            JarState(
                mix=mix,
                layer=layer,
                below_name=name,
                below=below,
                shown=shown,
                close=None if shown is None or shown.de00 is None else closeness(shown.de00),
                usual=usual,
                needed=needed(uses),
                planned=len(planned),
            )
        )
    return found


def _planned(desk: JarDesk, layer: Layer | None, mix: Mix) -> tuple[Use, ...]:
    """The passes of the plan that take from a jar, unless the painter typed its own.

    A plan that is only proposed changes no amounts.
    """
    from jartide.paint.batch import Use
    from jartide.plan.areas import one_area_m2
    from jartide.plan.propose import for_piece
    from jartide.plan.quantities import ware_of
    from jartide.store.jar_records import JarUse

    plan = desk.plan_desk
    untouched = all(use == JarUse() for use in mix.uses)
    if plan is None or layer is None or not untouched or not plan.is_kept():
        return ()
    steps = [s for s in plan.measured_steps() if ware_of(s).layer == layer.id and s.lays]
    found = []
    for piece in plan.pieces():
        area = piece.count * one_area_m2(piece.site, piece.width_mm, piece.height_mm)
        for step in for_piece(steps, piece):
            # Carrier and water that are in the jar already are not taken off again.
            thinned = 1.0 if mix.carrier > 0 else 1 + step.carrier + step.water
            found.append(
                Use(
                    area_m2=area,
                    laid_share=step.laid_share,
                    coats=step.coats,
                    spreading_m2_per_l=step.spreading_m2_per_l,
                    relief_factor=piece.site.relief_factor,
                    share_of_wet=1 / thinned,
                )
            )
    return tuple(found)

"""Plans proposed by chance: any family, surface, place and school, each held to the craft."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime
from pathlib import Path

import numpy as np

from campaigns.campaign import Campaign
from jartide.errors import PlanError
from jartide.families import families
from jartide.photo.load import decode_photo
from jartide.photo.prepare import prepare
from jartide.photo.settings import PhotoSettings
from jartide.plan.facts import read_facts
from jartide.plan.layup_table import layup_table
from jartide.plan.propose import DUSTY, Piece, for_piece, propose
from jartide.plan.quantities import ware_amounts
from jartide.plan.rules import check
from jartide.plan.schedule import Problem, first_schedule
from jartide.plan.school import USUAL, WAY, schools, ways_of
from jartide.plan.site import Site, Wear, Where, substrates
from jartide.plan.step import Step
from jartide.plan.tasks import lanes_of
from jartide.plan.technique import techniques
from jartide.plan.timeline import Hours, Timeline
from jartide.reading.read import read_picture
from jartide.reading.result import Reading
from jartide.studio.camera import photograph
from jartide.studio.families import draw_family

_SHEENS = (None, "dead matt", "matt", "satin", "gloss", "mirror")


def _readings(_: Path) -> dict[str, Reading]:
    """The reading of one drawn surface of every family."""
    found = {}
    for family in sorted(set(families()) - {"auto"}):
        surface = draw_family(family, (120.0, 120.0), 0.3, 3)
        photo = decode_photo(photograph(surface.rgb_linear, 1), "drawn.jpg")
        found[family] = read_picture(prepare(photo, PhotoSettings(mm_per_px=0.3)), family)[0]
    return found


def _of(rng: np.random.Generator, among: list) -> object:
    return among[int(rng.integers(len(among)))]


def _piece(rng: np.random.Generator, number: int) -> Piece:
    made, conditions, _ = substrates()
    given = [name for name in conditions if rng.random() < 0.12]
    site = Site(
        substrate=str(_of(rng, sorted(made))),
        conditions=tuple(given),
        place=Where(_of(rng, list(Where))),
        wear=Wear(_of(rng, list(Wear))),
        overhead=bool(rng.random() < 0.2),
        behind_glass=bool(rng.random() < 0.1),
    )
    return Piece(
        id=f"P{number}",
        name=f"P{number}",
        width_mm=float(rng.uniform(150, 5000)),
        height_mm=float(rng.uniform(150, 3500)),
        count=int(rng.integers(1, 9)),
        site=site,
        board=False,
    )


def _wanted(rng: np.random.Generator, family: str) -> dict[str, str]:
    way = str(_of(rng, [one.id for one in ways_of(family)])) if rng.random() < 0.5 else USUAL
    found = {} if way == USUAL else {WAY: way}
    for group in layup_table(family, way=way).schools:
        if rng.random() < 0.5:
            found[group] = str(_of(rng, [choice.id for choice in schools()[group].choices]))
    return found


def nonsense(steps: tuple[Step, ...]) -> str | None:
    """Return the first thing that no painter would do, in words; None of a plan that makes sense.

    `steps` are those of one piece.
    """
    known = techniques()
    dusty = False
    for number, step in enumerate(steps):
        least, most = known[step.technique].tool_range_mm or (0.5, 500.0)
        if step.tool_mm is not None and not least <= step.tool_mm <= most:
            return f"{step.technique} with a tool of {step.tool_mm} mm"
        if not (0 < step.laid_share <= 1 and step.speed_m2_h > 0 and step.coats >= 1):
            return f"{step.technique}: {step.laid_share} laid, {step.speed_m2_h} m2 an hour"
        before = steps[number - 1] if number else None
        same = before is not None and (before.technique, before.layer, before.zone) == (
            step.technique, step.layer, step.zone,
        )  # fmt: skip
        if same and step.lays and step.why is None:
            return f"{step.technique} twice without a reason"
        if step.technique == "dust_off" and not dusty:
            return "dust taken off that nothing made"
        dusty = (dusty or step.technique in DUSTY) and step.technique != "dust_off"
        if step.wet and not any(one.open_min > 0 for one in _chain(steps, number)):
            return f"{step.technique} is worked into nothing wet"
    return None


def _chain(steps: tuple[Step, ...], number: int) -> list[Step]:
    found = []
    for step in reversed(steps[:number]):
        found.append(step)
        if not step.wet:
            break
    return found


def hasty(steps: tuple[Step, ...], pieces: tuple[Piece, ...], workers: int) -> str | None:
    """Return what of the hours no painter could do, in words; None of hours that can be kept.

    A wet chain of one panel never lies across a night, and nothing begins before what it goes
    onto is ready. A chain longer than any stretch of work is refused in words.
    """
    lanes = lanes_of(steps, pieces)
    for days in _DAYS:
        time = Timeline(Hours(), _BEGINS, days)
        try:
            schedule = first_schedule(Problem(lanes=lanes, timeline=time, workers=workers))
        except PlanError as error:
            refused = error
            continue
        placed = {one.task_id: one for one in schedule.placed}
        for lane in lanes:
            ready = 0
            for task in lane.tasks:
                one = placed[task.id]
                if one.start < ready:
                    return f"{task.id} begins before what it goes onto is ready"
                ready = one.ready
                begins, ends = time.at(one.start), time.at(max(one.end - 1, one.start))
                if (
                    len(task.step_ids) > 1
                    and len(lane.panels) == 1
                    and ends.date() != begins.date()
                ):
                    return f"{task.id} lies wet across a night"
        return None
    return None if refused.message.id in _REFUSED else str(refused)


# Too large for the hands and hours there are, and said so.
_REFUSED = ("error.plan.chain_too_long", "error.plan.no_room")
_DAYS, _BEGINS = (35, 140, 700), datetime(2026, 5, 14)


def _attack(readings: dict[str, Reading], _: Path, rng: np.random.Generator) -> str | None:
    family = str(_of(rng, sorted(readings)))
    reading = readings[family]
    kept = int(rng.integers(1, len(reading.layers) + 1))
    sheen = _of(rng, list(_SHEENS))
    reading = replace(reading, layers=reading.layers[:kept], sheen=sheen)
    pieces = tuple(_piece(rng, n) for n in range(int(rng.integers(1, 3))))
    wanted = _wanted(rng, family)
    steps = propose(reading, pieces, wanted)
    told = f"{family} {wanted} {[p.site for p in pieces]}"
    findings = check(steps, pieces, family, dark=read_facts(reading).dark)
    stops = [f.rule for f in findings if f.grade == "stop"]
    if stops:
        return f"{told}: stops {stops}"
    for piece in pieces:
        fault = nonsense(for_piece(steps, piece))
        if fault is not None:
            return f"{told}: {fault}"
    laid = {step.layer for step in steps}
    if not any(p.site.behind_glass for p in pieces) and reading.layers[0].id not in laid:
        return f"{told}: the ground is not laid"
    fault = hasty(steps, pieces, int(rng.integers(1, 4)))
    if fault is not None:
        return f"{told}: {fault}"
    for amount in ware_amounts(steps, pieces):
        if sum(amount.shown_ml) != round(amount.mixed_ml) or min(amount.shown_ml) < 0:
            return f"{told}: shown amounts don't add up: {amount.shown_ml}"
    return None


CAMPAIGN = Campaign(
    name="plans",
    promise="a plan proposed for any family, surface, place and school breaks no stop, holds no"
    " nonsense, and its hours can be kept: no wet chain across a night, nothing before its cause",
    made=_readings,
    attack=_attack,
    slice_count=60,
)

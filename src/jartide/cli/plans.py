"""`jar-tide plan`: a photo and a piece in, steps, amounts, findings and a schedule out."""

from __future__ import annotations

import argparse
from datetime import date, datetime
from enum import StrEnum
from pathlib import Path
from typing import Any, TypeVar

from jartide.cli.options import Options, needed, run
from jartide.cli.paints import shelf_of
from jartide.cli.photos import READ_KEYS, read_together_from, size_of
from jartide.errors import CommandError, JarTideError, PlanError
from jartide.paint.let_down import find_let_down
from jartide.paint.recipe import Wishes
from jartide.paint.search import find_mixes
from jartide.paint.shelf import Shelf
from jartide.plan.bound import gap, lower_bound
from jartide.plan.drying import Air
from jartide.plan.facts import read_facts
from jartide.plan.overrides import overridden
from jartide.plan.propose import Piece, propose
from jartide.plan.quantities import WareAmount, ware_amounts
from jartide.plan.rules import Finding, check, set_aside
from jartide.plan.schedule import Problem, Schedule, first_schedule, improve
from jartide.plan.site import Facing, Shape, Site, Wear, Where
from jartide.plan.step import Step
from jartide.plan.sun import USUAL_LATITUDE_DEG
from jartide.plan.tasks import lanes_of
from jartide.plan.timeline import Hours, Timeline
from jartide.plan.weather import Daylight, Outside, WeatherHour, outside
from jartide.reading.result import Reading
from jartide.store.exchange_plan import plan_to_json
from jartide.store.exchange_plan_mixes import LayerMix, enough_to_measure, plan_mixes_to_json
from jartide.store.mix_cache import mix_index
from jartide.store.weather_csv import read_weather

PLAN_KEYS = {
    **READ_KEYS,
    "piece": str,
    "count": int,
    "shape": str,
    "substrate": str,
    "conditions": str,
    "place": str,
    "wear": str,
    "facing": str,
    "relief_factor": float,
    "beside": str,
    "latitude": float,
    "openings": float,
    "behind_glass": bool,
    "schools": str,
    "begins": str,
    "workers": int,
    "temperature": float,
    "humidity": float,
    "weather": str,
    "shelf": str,
    "change": str,
    "let_stand": str,
}
_DAYS = (35, 140)
_Word = TypeVar("_Word", bound=StrEnum)


def plan_photo(options: Options) -> Any:
    """Propose the plan for a finish on one piece, check it, and lay it on the calendar."""
    width, height = size_of(needed(options, "piece"))
    site = _site(options)
    piece = Piece(
        id="piece",
        name=str(needed(options, "piece")),
        width_mm=width,
        height_mm=height,
        count=options.get("count", 1),
        site=site,
    )
    wanted = _schools(options.get("schools", ""))
    reading = read_together_from(options)
    steps, overrides = overridden(
        propose(reading, (piece,), wanted),
        str(options.get("change", "")),
        [layer.id for layer in reading.layers],
    )

    def found(of: tuple[Step, ...]) -> tuple[Finding, ...]:
        return check(of, (piece,), reading.family, dark=read_facts(reading).dark)

    for rule, why in _let_stand(str(options.get("let_stand", ""))):
        spoken = [finding for finding in found(steps) if finding.rule == rule]
        if not spoken:
            raise PlanError("error.plan.nothing_to_stand", rule=rule)
        for finding in spoken:
            steps = set_aside(steps, finding, why)
    timed = _timed(options, steps, piece)
    wares = ware_amounts(steps, (piece,))
    mixes: list[dict[str, Any]] = []
    if "shelf" in options:
        shelf, layers = _mixes(options, reading, wares)
        wares = enough_to_measure(wares, layers)
        mixes = plan_mixes_to_json(shelf, layers, wares)
    return plan_to_json(
        steps, (piece,), found(steps), *timed, wares=wares, mixes=mixes, overrides=overrides
    )


def _mixes(
    options: Options, reading: Reading, wares: tuple[WareAmount, ...]
) -> tuple[Shelf, list[LayerMix]]:
    """The best mix of the shelf for every layer that is laid out of a jar."""
    fitted = shelf_of(options)
    wanted, wishes = {one.ware.layer for one in wares}, Wishes()
    paints = list(range(len(fitted.shelf.paints)))
    index = mix_index(fitted, paints, wishes.most_paints, wishes.most_parts)
    found = []
    for layer in reading.layers:
        if layer.id not in wanted:
            continue
        target = layer.best_lab or layer.shown_lab
        plain = find_mixes(fitted, target, wishes, index)
        let_down = find_let_down(fitted, target, plain, wishes)
        found.append(LayerMix(layer=layer, recipe=let_down or plain[0]))
    return fitted.shelf, found


def _let_stand(text: str) -> list[tuple[str, str]]:
    """The rules and reasons of "rule=why; rule=why"."""
    found = []
    for piece in filter(None, (one.strip() for one in text.split(";"))):
        name, given, value = piece.partition("=")
        if not given or not value.strip():
            raise CommandError("error.command.let_stand", given=piece[:60])
        found.append((name.strip(), value.strip()))
    return found


def _word(options: Options, key: str, words: type[_Word], usual: _Word) -> _Word:
    try:
        return words(options.get(key, usual))
    except ValueError:
        known = ", ".join(words)
        raise CommandError(
            "error.command.word", option=f"--{key}", given=options[key], known=known
        ) from None


def _site(options: Options) -> Site:
    conditions = tuple(c.strip() for c in options.get("conditions", "").split(",") if c.strip())
    return Site(
        shape=_word(options, "shape", Shape, Shape.RECTANGLE),
        substrate=options.get("substrate", "primed_board"),
        conditions=conditions,
        place=_word(options, "place", Where, Where.INSIDE),
        wear=_word(options, "wear", Wear, Wear.WALL),
        facing=_word(options, "facing", Facing, Facing.NORTH),
        openings_m2=options.get("openings", 0.0),
        relief_factor=options.get("relief_factor", 1.0),
        behind_glass=bool(options.get("behind_glass")),
        beside=str(options.get("beside", "")).strip(),
    )


def _schools(text: str) -> dict[str, str]:
    """The choices of "veins=brush,last=wax"."""
    found = {}
    for part in filter(None, (one.strip() for one in text.split(","))):
        group, given, choice = part.partition("=")
        if not given:
            raise CommandError("error.command.school", given=part)
        found[group.strip()] = choice.strip()
    return found


def _timed(
    options: Options, steps: tuple[Step, ...], piece: Piece
) -> tuple[Problem, Schedule, float]:
    """The schedule and how far it is from its bound, on as many days as it takes."""
    begins = options.get("begins", date.today().isoformat())
    try:
        midnight = datetime.fromisoformat(begins).replace(hour=0, minute=0, second=0, tzinfo=None)
    except ValueError:
        raise PlanError("error.plan.free_day", name=begins) from None
    hours: tuple[WeatherHour, ...] = ()
    if "weather" in options:
        path = Path(options["weather"])
        try:
            hours = read_weather(path.read_text(encoding="utf-8-sig"), path.name)
        except (OSError, UnicodeDecodeError) as error:
            why = getattr(error, "strerror", None) or type(error).__name__
            raise CommandError("error.command.list_file", name=path.name, why=why) from error
    air = Air(
        temperature_c=options.get("temperature", 20.0),
        humidity_percent=options.get("humidity", 50.0),
    )
    latitude = options.get("latitude", USUAL_LATITUDE_DEG)
    if not -90 <= latitude <= 90:
        raise CommandError("error.command.latitude", given=f"{latitude:g}")
    refused: JarTideError | None = None
    for days in _DAYS:
        time = Timeline(Hours(), midnight, days)
        weather: dict[str, Outside] = {}
        if piece.site.place is Where.OUTSIDE and hours:
            weather = {
                piece.id: outside(hours, midnight, days, piece.site.facing, Daylight(), latitude)
            }
        problem = Problem(
            lanes=lanes_of(steps, (piece,)),
            timeline=time,
            workers=options.get("workers", 1),
            weather=weather,
            air=air,
        )
        try:
            first = first_schedule(problem)
        except PlanError as error:
            refused = error
            continue
        bound = lower_bound(problem, first.finish)
        best = improve(problem, first, tries=100, stop_at=bound)
        first_start = min((one.start for one in best.placed), default=0)
        return problem, best, gap(best.finish, bound, first_start)
    assert refused is not None
    raise refused


def plan_command(arguments: argparse.Namespace) -> int:
    """Carry out `jar-tide plan`."""
    return run(arguments, PLAN_KEYS, plan_photo)

"""Every word of advice, mend and lesson for boards that went wrong in many ways, as it was."""

from __future__ import annotations

from dataclasses import fields, is_dataclass, replace
from functools import lru_cache, partial
from pathlib import Path

import numpy as np
import pytest

from jartide.boards.advice import advice_for, advised
from jartide.boards.closeness import closeness
from jartide.boards.compare import compare
from jartide.boards.faults import FaultKind, fault_mend, fault_name
from jartide.boards.headline import headline, headline_note, worst_row
from jartide.boards.learning import Course, learn
from jartide.boards.log import PassDone, recipe_changes
from jartide.boards.mend_steps import with_mend
from jartide.boards.mends import mending
from jartide.boards.paint_mends import glaze_for, jar_for, paint_mends, veil_for
from jartide.boards.regular import too_regular
from jartide.boards.seen import view_of
from jartide.boards.sign_off import Panel, compare_wall
from jartide.boards.stages import judge_stage, layer_worth, worth_by_leaving_out
from jartide.boards.surface_state import SurfaceState, as_if, seal_explains
from jartide.boards.surroundings import picked_colour
from jartide.boards.where import where_differs
from jartide.paint.recipe import Part
from jartide.plan.propose import propose
from jartide.reading.trust.measured import Measured
from tests.kept_values import check, demo_readings
from tests.paint.test_kept_values import fitted
from tests.plan.conftest import piece
from tests.reading.test_kept_measures import cloud, rgb_of

FOLDER = Path(__file__).parent / "kept_advice"
TARGETS = ("bar-front-slab", "lift-lobby-door", "library-panel", "terrace-wall")


def scaled(value, factor):
    """Every measure of a result, times a factor; counts, colours and words as they are."""
    if isinstance(value, Measured):
        return value if value.value is None else replace(value, value=value.value * factor)
    if isinstance(value, tuple):
        return tuple(scaled(one, factor) for one in value)
    if is_dataclass(value):
        moved = {f.name: scaled(getattr(value, f.name), factor) for f in fields(value)}
        return replace(value, **{k: v for k, v in moved.items() if v is not getattr(value, k)})
    return value


def recoloured(reading, shifts):
    layers = tuple(
        replace(
            layer,
            lab=layer.lab and tuple(np.add(layer.lab, shifts[n % len(shifts)])),
            shown_lab=tuple(np.add(layer.shown_lab, shifts[n % len(shifts)])),
        )
        for n, layer in enumerate(reading.layers)
    )
    return replace(reading, layers=layers, colours=None, balance_known=True, exposure_known=True)


def shared(reading, factor):
    """The top layers cover so much more, or less, of what lies below."""
    last = len(reading.layers) - 1
    layers = tuple(
        replace(layer, coverage=scaled(layer.coverage, factor)) if n == last else layer
        for n, layer in enumerate(reading.layers)
    )
    return replace(reading, layers=layers)


@lru_cache(maxsize=4)
def spoilt(target):
    """Boards of one target, each wrong in its own way."""
    known = recoloured(demo_readings()[target], ((0.0, 0.0, 0.0),))
    return {
        "as it is": known,
        "larger": replace(known, pattern=scaled(known.pattern, 1.7)),
        "smaller": replace(known, pattern=scaled(known.pattern, 0.55)),
        "lighter": recoloured(known, ((9.0, 0.0, 0.0), (2.0, 0.0, 0.0))),
        "stark": recoloured(known, ((-6.0, 0.0, 0.0), (14.0, 0.0, 2.0))),
        "warmer": recoloured(known, ((0.0, 3.0, 8.0), (0.0, -2.0, 5.0))),
        "grey": recoloured(known, ((1.0, 5.0, -3.0), (-1.0, 6.0, -8.0))),
        "more": shared(known, 1.8),
        "less": shared(known, 0.4),
        "worn": replace(as_if(known, SurfaceState.WET, SurfaceState.SEALED), sheen=None),
    }


def _advised(target):
    boards = spoilt(target)
    known = boards["as it is"]
    kept = {}
    for name, board in boards.items():
        found = compare(known, board, 2.0)
        about = advised(known, board, found.differences)
        kept[name] = {
            "said": [
                (d.quantity, advice_for(d, about)) for d in found.differences if d.significant
            ],
            "headline": (headline(found), headline_note(found)),
            "worst": getattr(worst_row(found), "quantity", None),
            "close": [closeness(found, expected=e) for e in (False, True)],
            "mends": mending(found, known),
            "regular": too_regular(known, board),
            "sealed": seal_explains(known, board),
        }
    return kept


def _mended(target):
    """The plan as each mend would have it."""
    boards = spoilt(target)
    known = boards["as it is"]
    steps = propose(known, (piece(600, 400),))
    places = {step.id: n for n, step in enumerate(steps)}
    before = {step.id: step for step in steps}
    kept = {}
    for name, board in boards.items():
        for mend in mending(compare(known, board, 2.0), known).mends:
            after, chosen = with_mend(steps, mend, known)
            kept[f"{name} {mend.quantity} {mend.layer}"] = {
                "chosen": places.get(chosen, -1),
                "changed": [
                    (places.get(step.id, -1), field.name, getattr(step, field.name))
                    for step in after
                    for field in fields(step)
                    if field.name != "id"
                    and (
                        step.id not in before
                        or getattr(before[step.id], field.name) != getattr(step, field.name)
                    )
                ],
            }
    return kept


def _stages(target):
    boards = spoilt(target)
    known, stark = boards["as it is"], boards["stark"]
    passes = [PassDone(name="Base", minutes=20), PassDone(name="Veil", minutes=15)]
    courses = [
        Course(
            finish=str(n), family=known.family,
            comparisons=tuple(compare(known, boards[name], 1.0) for name in names),
            approved=approved, faults=("hair", "lap")[:n],
        )
        for n, (names, approved) in enumerate(
            ((("stark", "lighter", "as it is"), None), (("larger", "more"), 2), (("warmer",), None))
        )
    ]  # fmt: skip
    panels = [
        Panel(name=name, section="Left" if n % 2 else "Right", who=("Ines", "Ada")[n // 3],
              jar="AB"[n % 2], reading=boards[name])
        for n, name in enumerate(("as it is", "lighter", "warmer", "lighter", "as it is", "more"))
    ]  # fmt: skip
    return {
        "judged": [
            judge_stage(known, board, 2.0, 4.0, minutes_since=minutes, open_min=25)
            for board in (known, stark) for minutes in (5, 40)
        ],
        "worth": [
            layer_worth(known, [(passes[0], stark), (passes[1], boards["lighter"])], bare, 2.0)
            for bare in (None, boards["grey"])
        ],
        "left out": worth_by_leaving_out(known, boards["lighter"], stark, "Veil", 12.0, 2.0),
        "learned": learn(courses),
        "wall": compare_wall(known, panels, 2.0, 4.0),
    }  # fmt: skip


def _in_paint():
    known = spoilt("bar-front-slab")["as it is"]
    used = (Part(paint=0, parts=4.0), Part(paint=1, parts=1.0))
    offs = [mend for board in spoilt("bar-front-slab").values()
            for mend in mending(compare(known, board, 2.0), known).mends][:12]  # fmt: skip
    jars = dict.fromkeys(range(len(known.layers)), used)
    return {
        "veils": [veil_for(fitted(), used, known, share) for share in (0.3, 0.7, 1.0)],
        "jars": [
            jar_for(fitted(), used, (62.0, 2.0, 14.0), to)
            for to in ((54.0, 2.0, 14.0), (62.0, 6.0, 20.0), (75.0, 0.0, 0.0))
        ],
        "glazes": [
            glaze_for(fitted(), (62.0, 2.0, 14.0), to)
            for to in ((55.0, 4.0, 10.0), (48.0, 0.0, 2.0))
        ],
        "ways": [
            paint_mends(mend, fitted(), known, jars, ((62.0, 2.0, 14.0), (55.0, 4.0, 10.0)))
            for mend in offs
        ],
    }


def _noted():
    was = [PassDone(name="Base", layer="1", mix="A", coats=2), PassDone(name="Veil", water_parts=1)]
    now = [PassDone(name="Base", layer="1", mix="B", coats=1, laid_share=0.5), PassDone(name="Wax")]
    pictures = [rgb_of(cloud(sigma=(s, s), seed=40)) for s in (3.0, 5.0)]
    views = [view_of(one, 0.5) for one in pictures]
    return {
        "changes": recipe_changes(was, now, {"A": "Cream", "B": "Straw"}),
        "faults": [(fault_name(kind), fault_mend(kind)) for kind in FaultKind],
        "where": [where_differs(*views, m, spot_mm=mm) for m in (0.5, 3.0) for mm in (10.0, 25.0)],
        "picked": [picked_colour(pictures[0], at) for at in ((0.1, 0.2), (0.5, 0.5), (1.0, 0.0))],
    }


CASES = {f"{target} {name}": partial(make, target) for target in TARGETS for name, make in
         (("advised", _advised), ("mended", _mended), ("stages", _stages))}  # fmt: skip
CASES |= {"in paint": _in_paint, "noted": _noted}


@pytest.mark.parametrize("case", CASES)
def test_no_advice_has_changed(case):
    check(FOLDER, case, CASES[case]())

"""A board's mend in the plan: what is put in, and what of the steps there changes."""

from __future__ import annotations

import pytest

from jartide.boards.compare import compare
from jartide.boards.mend_steps import with_mend
from jartide.boards.mends import Action, Means, Mend, mending
from jartide.boards.paint_mends import PaintMend
from jartide.measures.key import Key
from jartide.paint.veil import Veil
from jartide.plan.propose import Piece, propose
from jartide.plan.technique import Kind
from jartide.wording import Message, say

WORDS = Message("unit.mm", value="1")


@pytest.fixture(scope="module")
def steps(marble_reading):
    board = Piece(id="a", name="A", width_mm=600, height_mm=400)
    return propose(marble_reading, (board,))


def mend(action, amount, quantity="lines.width_mm", layer=None):
    return Mend(
        quantity=Key(quantity, layer), action=action, amount=amount, layer=layer, words=WORDS,
        means=Means.REPAIR,
        minutes=10.0,
    )  # fmt: skip


def test_a_tool_too_large_becomes_smaller_by_what_the_lines_are_too_wide(steps, marble_reading):
    found, chosen = with_mend(steps, mend(Action.TOOL, 1 / 1.6), marble_reading)
    before = {step.id: step for step in steps}
    changed = [step for step in found if step.tool_mm != before[step.id].tool_mm]
    assert changed and all("vein" in step.technique for step in changed)
    for step in changed:
        assert step.tool_mm == pytest.approx(before[step.id].tool_mm / 1.6, abs=0.06)
        assert say(step.how[-1]) == "1 mm"
    assert chosen == changed[0].id
    assert len(found) == len(steps)


def test_a_veil_is_put_in_behind_the_colour_with_its_computed_ratio(steps, marble_reading):
    grey = (50.0, 0.0, 0.0)
    veil = Veil(coats=2, carrier=6.0, water=1.0, contrast_L=22.0, pattern=grey, ground=grey,
                shift_de00=0.1)  # fmt: skip
    found, chosen = with_mend(
        steps, mend(Action.VEIL, 0.6, "lines.contrast_L"), marble_reading, PaintMend(veil=veil)
    )
    fresh = next(step for step in found if step.id == chosen)
    assert (fresh.carrier, fresh.water, fresh.coats) == (6.0, 1.0, 2)
    assert fresh.layer == marble_reading.layers[0].id
    place = found.index(fresh)
    assert all(step.kind not in (Kind.PROTECT, Kind.CARE) for step in found[:place])
    assert not found[place + 1].wet


@pytest.mark.parametrize(
    ("action", "amount", "quantity", "share"),
    [
        (Action.ADD, 1.5, "lines.length_mm_per_cm2", 0.5),
        (Action.COVER, 0.04, "coverage", None),
    ],
)
def test_what_is_lacking_is_laid_once_more(steps, marble_reading, action, amount, quantity, share):
    layer = 1 if quantity == "coverage" else None
    found, chosen = with_mend(steps, mend(action, amount, quantity, layer), marble_reading)
    fresh = next(step for step in found if step.id == chosen)
    own = [s for s in steps if s.technique == fresh.technique and s.layer == fresh.layer][-1]
    wanted = amount if share is None else share * own.laid_share
    assert fresh.laid_share == pytest.approx(wanted)
    assert len(found) == len(steps) + 1


@pytest.mark.parametrize(("action", "amount"), [(Action.TAKE, 0.7), (Action.COVER, -0.1)])
def test_what_is_too_much_is_wiped_back(steps, marble_reading, action, amount):
    found, chosen = with_mend(steps, mend(action, amount, "coverage", 1), marble_reading)
    assert next(step for step in found if step.id == chosen).technique == "wipe_back"


def test_a_turned_lay_goes_back_to_the_axis_and_sheen_to_the_last_coat(steps, marble_reading):
    found, _ = with_mend(steps, mend(Action.TURN, -28.0, "lines.direction_deg"), marble_reading)
    axes = {step.direction_deg for step in found if "vein" in step.technique}
    assert len(axes) == 1
    found, chosen = with_mend(steps, mend(Action.SHEEN, 2.0, "sheen"), marble_reading)
    assert next(s for s in found if s.id == chosen).technique == "clear_gloss"
    assert found[-1].kind is Kind.CARE


def test_every_mend_of_a_compared_board_finds_its_place(steps, marble_reading, wide_reading):
    mends = mending(compare(marble_reading, wide_reading), marble_reading).mends
    assert mends
    for one in mends:
        found, chosen = with_mend(steps, one, marble_reading)
        assert found != steps
        assert chosen in {step.id for step in found}

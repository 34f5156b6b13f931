"""The painter's own way with a plan, in the real window: every part of a step, stops, a log."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta

import pytest
from PySide6.QtWidgets import QLineEdit

from jartide.app.stations.steps.list_page import ListPage
from jartide.app.widgets.ledger import Ledger
from jartide.boards.log import EntryKind, Logged, PassDone
from jartide.job.plan_log import steps_of_log
from jartide.paint.stock import Doubt
from jartide.plan.site import Facing, Where
from jartide.plan.step import Outcome
from jartide.plan.technique import Kind, techniques
from jartide.plan.weather import Daylight, WeatherHour
from jartide.store.records import Entry, Surface
from jartide.wording import say, tr
from tests.app.hand import picked, pressed, the, typed, words_of

from .conftest import settle
from .test_boards_pages import demo_photo, open_page
from .test_steps_station import list_page, open_steps


@pytest.fixture
def steps(qtbot, demo):
    station = open_steps(qtbot, demo, "Bar front")
    station.plan.take_proposal()
    return station


def of(station, technique):
    return next(s for s in station.plan.steps() if s.technique == technique)


def test_name_tool_words_layer_and_wet_are_the_painters(qtbot, demo, steps):
    page = list_page(demo, steps, "veil")
    layers = steps.job.readings.of_target().layers
    typed(page, tr("steps.name"), "Milk over everything")
    typed(page, tr("detail.tool"), "old shaving brush")
    typed(page, tr("steps.note"), "Two thin ones, like fog.")
    picked(page, tr("steps.layer"), layers[1].id)
    settle(qtbot, demo)
    veil = of(steps, "veil")
    assert say(veil.name) == "Milk over everything" and veil.tool == "old shaving brush"
    assert veil.note == "Two thin ones, like fog." and veil.layer == layers[1].id
    assert "Milk over everything" in [row.title for row in the(page, Ledger).rows]
    # The amounts follow the jar that was named.
    by_layer = {a.ware.layer: a for a in demo.job.amounts.wares()}
    assert veil.id in by_layer[layers[1].id].used_by
    pressed(page, tr("steps.wet_in"))
    settle(qtbot, demo)
    assert of(steps, "veil").wet
    sheet = demo.job.sheet.content()
    own = next(step for step in sheet.steps if step.name == "Milk over everything")
    assert "like fog" in own.note and own.amount and any("Ready" in words for words in own.signs)
    # An emptied name is the one that stood there.
    typed(page, tr("steps.name"), "")
    assert say(of(steps, "veil").name) == "Milk over everything"


def test_a_step_that_is_added_has_a_layer_and_a_jar(qtbot, demo, steps):
    page = list_page(demo, steps, "vein_feather")
    picked(page, tr("steps.add"), "spray_tone")
    pressed(page, tr("steps.add_after"))
    settle(qtbot, demo)
    vein, sprayed = of(steps, "vein_feather"), of(steps, "spray_tone")
    assert sprayed.layer == vein.layer
    mix = next(a for a in demo.job.amounts.wares() if a.ware.layer == vein.layer)
    assert sprayed.id in mix.used_by
    picked(page, tr("steps.add"), "metal_wax")
    pressed(page, tr("steps.add_after"))
    assert of(steps, "metal_wax").layer == ""


def test_a_stop_is_set_aside_only_with_a_reason_and_the_sheet_prints_it(qtbot, demo, steps):
    page = list_page(demo, steps, "primer_acrylic")
    pressed(page, tr("steps.remove"))
    settle(qtbot, demo)
    stop = next(f for f in steps.plan.findings() if f.grade == "stop")
    page.choose(stop.step_id)
    pressed(page, tr("steps.set_aside"))
    assert "only with a reason" in demo.foot.shown.text
    assert stop.rule in [f.rule for f in steps.plan.findings()]
    why = next(
        f for f in page.findChildren(QLineEdit) if f.accessibleName() == tr("steps.aside_why")
    )
    why.setText("The boards came primed.")
    pressed(page, tr("steps.set_aside"))
    settle(qtbot, demo)
    assert stop.rule not in [f.rule for f in steps.plan.findings()]
    printed = [words for step in demo.job.sheet.content().steps for words in step.cautions]
    assert any("The boards came primed." in words for words in printed)


def test_a_way_of_working_is_chosen_like_a_school(qtbot, demo):
    station = open_steps(qtbot, demo, "Terrace")
    page = station.open_page("plan")
    assert isinstance(page, ListPage)
    picked(page, tr("steps.schools"), "way")
    assert "layer by layer" in words_of(page)
    picked(page, tr("steps.school"), "pounced_stone")
    settle(qtbot, demo)
    names = [s.technique for s in station.plan.steps()]
    assert "pounce_stiff" in names and "trowel_arcs" not in names


def test_an_old_tin_is_tried_on_a_patch_before_it_is_used(qtbot, demo, steps):
    block = next(
        b for b in steps.plan.timed().blocks
        if steps.plan.steps_of(b.task)[0].technique == "clear_gloss"
    )  # fmt: skip
    tin = next(t for t in demo.job.shelf.tins() if t.stock.kind == "clear")
    old = replace(tin, stock=replace(tin.stock, doubt=Doubt.OLD))
    demo.job.records.change("x", [tin], [old])
    clear = of(steps, "clear_gloss")
    steps.plan.put_steps("x", tuple(
        replace(s, product_name=tin.name) if s.id == clear.id else s for s in steps.plan.steps()
    ))  # fmt: skip
    finding = next(f for f in steps.plan.findings() if f.rule == "untried")
    page = list_page(demo, steps, "clear_gloss")
    page.choose(finding.step_id)
    pressed(page, tr("steps.mend.before", name="").strip())
    settle(qtbot, demo)
    names = [s.technique for s in steps.plan.steps()]
    assert names.index("trial_patch") == names.index("clear_gloss") - 1
    steps.doing(steps.plan.begin, block.task)()
    assert "not passed" in demo.foot.shown.text
    assert not steps.plan.dones()
    page = list_page(demo, steps, "trial_patch")
    pressed(page, tr("steps.passed"))
    settle(qtbot, demo)
    assert of(steps, "trial_patch").outcome is Outcome.PASSED
    steps.plan.begin(block.task)
    assert steps.plan.dones()


def test_a_log_becomes_a_plan_a_colleague_can_repeat(qtbot, demo, steps):
    board = demo.job.records.boards()[0][0]
    layers = demo.job.readings.of_target().layers
    for done in (
        PassDone(name="Ground, rolled", layer=layers[0].id, tool="lambswool roller", coats=3),
        PassDone(name="Smoke", layer=layers[1].id, tool="candle", laid_share=0.5, minutes=12,
                 carrier_parts=5, used_ml=12),
    ):  # fmt: skip
        demo.job.boards.add_entry(board, Logged(kind=EntryKind.PASS, done=done))
    demo.job.boards.add_entry(board, Logged(kind=EntryKind.REMARK, text="Keep the flame moving."))
    demo.go_to("boards")
    boards = demo.station("boards")
    boards.show_board(board.id)
    page = boards.open_page("log")
    pressed(page, tr("log.as_plan"))
    settle(qtbot, demo)
    own = steps.plan.steps()
    smoke = next(s for s in own if say(s.name) == "Smoke")
    assert (smoke.tool, smoke.carrier, smoke.laid_share) == ("candle", 5.0, 0.5)
    assert smoke.note == "Keep the flame moving." and smoke.layer == layers[1].id
    # 0.24 m2, half of it laid, 12 ml: ten square metres to the litre; 12 minutes for the board.
    assert smoke.spreading_m2_per_l == pytest.approx(10)
    assert smoke.speed_m2_h == pytest.approx(1.2)
    rolled = [s for s in own if s.tool == "lambswool roller"]
    assert [(s.technique, s.coats) for s in rolled] == [("base_roller", 3)]
    kinds = [step.kind for step in own]
    assert Kind.PRIME in kinds and Kind.PROTECT in kinds and kinds[-1] is Kind.CARE
    demo.job.history.undo()
    assert "vein_feather" in [s.technique for s in steps.plan.steps()]


def test_the_photo_of_a_stage_goes_with_its_step_onto_the_sheet(qtbot, demo, steps, small_pictures):
    board = demo.job.records.boards()[0][0]
    done = PassDone(name="Smoke", tool="candle", laid_share=0.5)
    demo.job.boards.add_entry(board, Logged(kind=EntryKind.PASS, done=done))
    log = open_page(qtbot, demo, "log", board=1)
    log.take_stage(demo_photo("bar-front-board-2.jpg"), "smoke.jpg")
    settle(qtbot, demo)
    demo.job.plan.take_log(board)
    demo.job.sheet.content()
    settle(qtbot, demo)
    shown = {step.name: step.photo for step in demo.job.sheet.content().steps}
    assert shown["Smoke"] is not None and shown["Smoke"].jpeg[:2] == b"\xff\xd8"
    assert "board 1" in shown["Smoke"].caption
    assert max(shown["Smoke"].width_px, shown["Smoke"].height_px) <= 420
    assert [name for name, photo in shown.items() if photo is not None] == ["Smoke"]


def test_a_seal_in_the_log_stands_for_the_plans_own():
    from tests.plan.conftest import step

    plan = (step("primer_acrylic"), step("base_roller"), step("clear_gloss"), step("keep_base"))
    log = [
        Entry(board_id="b", at="2026-05-14T08:00:00",
              logged=Logged(kind=EntryKind.PASS, done=PassDone(name=name, used_ml=1e6)))
        for name in ("Anything {odd}", "Clear coat")
    ]  # fmt: skip
    found = steps_of_log(log, plan, techniques(), 0.24)
    assert [s.technique for s in found[:2]] == ["primer_acrylic", "own_pass"]
    assert "{" not in say(found[1].name)
    assert found[1].spreading_m2_per_l >= 0.1
    assert found[-1].technique == "keep_base"


def test_sun_and_rain_are_told_at_the_coat(qtbot, demo):
    station = open_steps(qtbot, demo, "Terrace")
    plan = station.plan
    surface = demo.job.records.surfaces()[0]
    assert isinstance(surface, Surface)
    site = replace(surface.site, place=Where.OUTSIDE, facing=Facing.SOUTH)
    south = replace(surface, site=site, width_mm=900.0, height_mm=600.0)
    demo.job.records.change("x", [surface], [south])
    hours = tuple(
        WeatherHour(
            at=(datetime(2026, 5, 14) + timedelta(hours=h)).isoformat(), temperature_c=20,
            humidity_percent=45, cloud_percent=0, rain_mm=2.0 if h == 24 * 27 + 3 else 0.0,
        )
        for h in range(24 * 28)
    )  # fmt: skip
    plan.put("x", work=replace(plan.work(), weather=hours))
    plan.take_proposal()
    settle(qtbot, demo)
    timed = plan.timed()
    assert timed.schedule is not None, timed.refused
    last = [
        b for b in timed.blocks
        if any(s.kind is Kind.PROTECT for s in plan.steps_of(b.task)) and b.task.outside
    ][-1]  # fmt: skip
    told = [care.text for care in station.described.cares(last)]
    assert any("before the rain" in text for text in told), told
    # With light from nine to three only, all of it lies in the sun: that is said, and what to do.
    plan.put("x", work=replace(plan.work(), daylight=Daylight(from_h=9.0, to_h=15.0)))
    settle(qtbot, demo)
    coats = [b for b in plan.timed().blocks if b.task.outside and b.task.dries]
    assert coats, plan.timed().refused
    told = [[care.text for care in station.described.cares(block)] for block in coats]
    assert any("work the other face first" in text for texts in told for text in texts)

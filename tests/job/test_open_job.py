"""What the model says of a job, and that each thing is worked out once and said alike."""

from __future__ import annotations

import subprocess
import sys
from dataclasses import replace

import pytest

from jartide.boards.closeness import closeness
from jartide.boards.pieces import Piece, pair_pieces
from jartide.job import standing
from jartide.job.kept import Freshness
from jartide.job.open_job import OpenJob
from jartide.job.runner import AtOnce
from jartide.job.words.steps import volume_words
from jartide.reading.decisions import changed, choices_of
from jartide.sheet.content import Part
from jartide.store.jar_records import JarUse
from jartide.wording import say

from .conftest import open_finish

STANDINGS = (
    standing.of_photos,
    standing.of_reading,
    standing.of_jars,
    standing.of_steps,
    standing.of_boards,
    standing.of_sheet,
)
# Of any derived value so many may be made at one change of the painter's.
MOST_MADE = 5


def everything(job):
    """Ask for all that any screen shows, as a window does that shows them one after the other."""
    for one in STANDINGS:
        one(job)
    for _, photo in job.records.boards():
        job.comparisons.want(photo)
        job.comparisons.of(photo)
        job.boards.mends(photo)
    for board, photo in job.records.boards():
        job.boards.stop_advice(board, photo)
    job.jars.states()
    job.jars.to_buy()
    job.plan.findings()
    job.described.timers()
    job.described.cares(job.plan.timed().blocks[0])
    job.amounts.wares()
    job.amounts.shopping()
    job.sheet.want("A4", tuple(part.value for part in Part))
    return job.sheet.content()


def changes(job):
    """One change of each kind that a painter makes, by what it is."""
    finish, board = job.finish, job.records.boards()[0][0]
    photo = job.records.boards()[0][1]
    surface, tin = job.records.surfaces()[0], job.records.tins()[0]
    mix = job.jars.all()[0][1]

    def put(old, **new):
        return lambda: job.records.change("a change", [old], [replace(old, **new)])

    yield "distance", put(finish, viewing_m=4.0)
    yield "tolerance", put(finish, tolerance=6.0)
    yield "remark", put(board, remark="dusty")
    yield "surface", put(surface, width_mm=surface.width_mm + 100)
    yield "stock", put(tin, stock=replace(tin.stock, price=1.5))
    yield "jar", lambda: job.jars.put(replace(mix, uses=(JarUse(area_m2=2.0),)), "a change")
    yield "plan", job.plan.take_proposal
    yield "waste", lambda: job.plan.put("a change", work=replace(job.plan.work(), waste=0.3))
    yield "begun", lambda: job.plan.begin(job.plan.timed().blocks[0].task)
    settings = replace(photo.settings, mm_per_px=None, whole_plane=not photo.settings.whole_plane)
    yield "photo", lambda: job.records.set_settings(photo, settings, "a change")
    choices = choices_of(job.readings.of_target().layers)
    renamed = changed(choices, 1, name="Fringe")
    yield "layer", lambda: job.readings.decide_layers(renamed, "a change")


def test_a_change_makes_each_derived_value_a_few_times_at_most(job):
    everything(job)
    for name, change in changes(job):
        before = job.kept.computed.copy()
        change()
        everything(job)
        everything(job)
        made = job.kept.computed - before
        assert all(count <= MOST_MADE for count in made.values()), (name, made)
    # Nothing changed: nothing is made.
    before = job.kept.computed.copy()
    everything(job)
    assert job.kept.computed == before


def test_a_changed_distance_reads_nothing_again(job):
    everything(job)
    before = job.kept.computed.copy()
    job.records.change("far", [job.finish], [replace(job.finish, viewing_m=8.0)])
    everything(job)
    assert not set(job.kept.computed - before) & {"analysis", "flat", "paired", "seen", "proposal"}


def test_every_part_says_the_same_amount(job):
    content = everything(job)
    states, units = job.jars.states(), job.plan.work().units
    wares = {amount.ware.layer: amount for amount in job.amounts.wares() if amount.ware.layer}
    on_sheet = {layer.name: layer.amount for layer in content.layers}
    for state in states:
        own = wares[state.layer.id]
        assert state.needed_ml == own.mixed_ml
        assert on_sheet[say(state.layer.name)] == volume_words(own.mixed_ml, units)
        line = next(one for one in content.amounts if say(state.layer.name) in one.left)
        assert line.right == volume_words(own.mixed_ml, units)


def test_every_part_says_the_same_area(job):
    everything(job)
    shown = [use.area_m2 for s in job.jars.states() if s.amount.is_by_plan for use in s.amount.uses]
    assert len(shown) >= 4
    assert shown == pytest.approx([job.plan.area_m2()] * len(shown))


def test_the_plans_passes_typed_as_they_stand_come_to_the_same(job):
    state = job.jars.states()[1]
    job.jars.put(replace(state.mix, uses=state.amount.uses), "typed")
    typed = job.jars.states()[1]
    assert not typed.amount.is_by_plan
    assert typed.needed_ml == state.needed_ml


def test_passes_that_were_typed_go_before_the_plan_everywhere(job):
    mix = job.jars.all()[0][1]
    job.jars.put(replace(mix, uses=(JarUse(area_m2=10.0, laid_share=1.0),)), "typed")
    state = job.jars.states()[0]
    own = next(one for one in job.amounts.wares() if one.ware.layer == state.layer.id)
    assert state.needed_ml == own.mixed_ml == pytest.approx(1000 * 1.15 + 40 + 100, abs=10)
    assert not state.amount.is_by_plan


def test_every_part_says_the_same_of_a_board(job):
    content = everything(job)
    board, photo = job.records.boards()[-1]
    found = job.comparisons.of(photo)
    assert found.seen and job.comparisons.freshness(photo) is Freshness.FRESH
    assert job.comparisons.of(photo) is found
    assert standing.of_boards(job).level == closeness(found)
    on_sheet = next(one for one in content.boards if one.number == board.number)
    assert on_sheet.closeness == closeness(found)


def test_the_model_compares_as_the_command_line_does(job):
    """`jar-tide compare` pairs two pieces of a reading and a picture each; so does the model."""
    everything(job)
    _, board = job.records.boards()[0]
    target = job.readings.target()
    pieces = (
        Piece(reading=job.readings.of_target(), view=job.pictures.view(target)),
        Piece(reading=job.readings.of_board(board), view=job.pictures.view(board)),
    )
    finish = job.finish
    own = pair_pieces(*pieces).judged(finish.viewing_m, finish.tolerance)
    assert job.comparisons.of(board) == own


def test_what_is_changed_is_stale_until_it_is_worked_out_again(job):
    everything(job)
    _, photo = job.records.boards()[0]
    assert job.comparisons.freshness(photo) is Freshness.FRESH
    other = replace(photo.settings, whole_plane=not photo.settings.whole_plane)
    job.records.set_settings(photo, other, "otherwise")
    fresh = job.records.photo(photo.id)
    assert job.comparisons.freshness(fresh) is Freshness.MISSING
    job.comparisons.want(fresh)
    assert job.comparisons.freshness(fresh) is Freshness.FRESH


def test_undo_is_data_and_goes_both_ways(job):
    before = job.records.surfaces()
    surface = before[0]
    job.records.change("wider", [surface], [replace(surface, width_mm=1234.0)])
    (step,) = job.history.done
    assert (step.words, step.before) == ("wider", (surface,))
    assert job.records.surfaces()[0].width_mm == 1234.0
    job.history.undo()
    assert job.records.surfaces() == before and job.history.can_redo
    job.history.redo()
    assert job.records.surfaces()[0].width_mm == 1234.0
    job.records.change("higher", [surface], [replace(surface, height_mm=50.0)])
    assert not job.history.can_redo


def test_nudges_of_one_drag_are_one_step(job):
    surface = job.records.surfaces()[0]
    for width in (1000.0, 1010.0, 1020.0):
        now = job.records.surfaces()[0]
        job.records.change("drag", [now], [replace(now, width_mm=width)], drag="edge")
    assert len(job.history.done) == 1
    job.history.undo()
    assert job.records.surfaces()[0] == surface


def test_what_can_not_be_saved_is_no_step_and_said(job, monkeypatch):
    from jartide.errors import WorkspaceError

    said = []
    job.events.failed.connect(said.append)

    def full(*records):
        raise WorkspaceError("error.workspace.full", why="No space left on device")

    monkeypatch.setattr(job.workspace, "put", full)
    surface = job.records.surfaces()[0]
    job.records.change("wider", [surface], [replace(surface, width_mm=1.0)])
    assert not job.history.can_undo
    assert len(said) == 1 and "No space left" in said[0]


def test_another_finish_has_its_own_everything(job):
    everything(job)
    first = job.readings.of_target()
    open_finish(job, "Library")
    assert job.readings.of_target() is not first
    assert say(job.readings.of_target().layers[0].name) == "Sand ground"
    assert all(board.finish_id == job.finish.id for board, _ in job.records.boards())


def test_a_folder_that_can_not_be_opened_is_one_sentence_and_the_other_is_opened(tmp_path):
    made, said = OpenJob(AtOnce()), []
    made.events.failed.connect(said.append)
    (tmp_path / "file").write_text("not a folder")
    made.open(tmp_path / "file" / "within", demo=False, instead=tmp_path / "own")
    assert len(said) == 1 and made.workspace.folder == tmp_path / "own"
    made.close()


def test_the_model_runs_where_qt_is_not_installed():
    code = (
        "import sys\n"
        "sys.modules['PySide6'] = None\n"
        "from jartide.job.open_job import OpenJob\n"
        "import jartide.job.standing\n"
    )
    assert subprocess.run([sys.executable, "-c", code]).returncode == 0

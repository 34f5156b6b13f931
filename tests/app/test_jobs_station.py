"""The job list in the real window: it searches, puts away, begins again, backs up and shows."""

from __future__ import annotations

import numpy as np
import pytest
from PySide6.QtWidgets import QFileDialog

from jartide.colour.difference import delta_e_2000
from jartide.wording import tr

from .conftest import settle


@pytest.fixture
def jobs(qtbot, demo):
    """The demo job with two more beside it."""
    station = demo.station("jobs")
    station.search.clear()
    for name, place in (("Villa Morrow", "Hill Road"), ("Chapel", "Old Town")):
        station.new_job()
        job = station.chosen_job()
        job_now = type(job)(**{**fields_of(job), "name": name, "place": place})
        demo.job.records.change("name", [job], [job_now])
    looked(qtbot, demo)
    return station


def fields_of(record):
    return {name: getattr(record, name) for name in record.__dataclass_fields__}


def looked(qtbot, window):
    """Let the pause after typing pass, and what is read in the background arrive."""
    window.station("jobs")._pause.stop()
    window.station("jobs").refresh()
    settle(qtbot, window)


def listed(qtbot, window):
    looked(qtbot, window)
    return [hit.job.job.name for hit in window.station("jobs").hits]


def typed(field, text):
    field.clear()
    field.insert(text)


def test_words_find_jobs_by_name_place_finish_and_paint(qtbot, demo, jobs):
    assert set(listed(qtbot, demo)) == {"Hotel Vessary", "Villa Morrow", "Chapel"}
    for words, found in (
        ("villa", ["Villa Morrow"]),
        ("old town", ["Chapel"]),
        ("limed oak", ["Hotel Vessary"]),
        ("lamp black", ["Hotel Vessary"]),
        ("villa limed", []),
    ):
        typed(jobs.search.words_field, words)
        assert listed(qtbot, demo) == found, words
    assert demo.station("jobs").list.rows == []


def test_narrowed_down_by_colour_day_and_paint(qtbot, demo, jobs):
    jobs.search.narrow.click()
    open_first_finish(demo)
    reading = demo.job.readings.of_target()
    L, a, b = reading.layers[0].best_lab or reading.layers[0].shown_lab
    typed(jobs.search.colour_field, f"{L:.1f} {a:.1f} {b:.1f}")
    assert listed(qtbot, demo) == ["Hotel Vessary"]
    assert jobs.list.rows[0].right_note == tr("close.short.up_close")
    labs = jobs._logbook.labs
    akin = next(
        lab
        for lab in ([L, a + shift / 2, b] for shift in range(-40, 40))
        if 4.3 < delta_e_2000(labs, np.array(lab)).min() < 5.7
    )
    typed(jobs.search.colour_field, " ".join(f"{value:.2f}" for value in akin))
    assert listed(qtbot, demo) == ["Hotel Vessary"]
    assert jobs.list.rows[0].right_note == tr("logbook.akin")
    typed(jobs.search.colour_field, "#ff00ff")
    assert listed(qtbot, demo) == []
    typed(jobs.search.colour_field, "purple")
    assert "purple" not in jobs.search.refused() and jobs.search.refused() == tr(
        "logbook.no_colour"
    )
    typed(jobs.search.colour_field, "")
    typed(jobs.search.until_field, "1999")
    assert listed(qtbot, demo) == []
    typed(jobs.search.until_field, "sometime")
    assert jobs.search.refused() == tr("logbook.no_day")
    typed(jobs.search.until_field, "")
    tin = next(t for t in demo.job.workspace.tins() if t.name == "Deep green")
    jobs.search.look_for_paint(tin.id)
    assert listed(qtbot, demo) == ["Hotel Vessary"]
    jobs.search.narrow.click()
    assert len(listed(qtbot, demo)) == 3


def open_first_finish(window):
    """Open the first finish of the demo job, so that its reading is at hand."""
    _, finishes = next(
        pair for pair in window.job.records.jobs() if pair[0].name == "Hotel Vessary"
    )
    window.job.records.open_finish(finishes[0])


def test_a_job_put_away_is_found_only_when_asked_for(qtbot, demo, jobs):
    villa = next(hit.job.job for hit in jobs.hits if hit.job.job.name == "Villa Morrow")
    jobs._job_id = villa.id
    jobs.pick("away")
    assert "Villa Morrow" not in listed(qtbot, demo)
    jobs.search.narrow.click()
    jobs.search.archived.click()
    assert "Villa Morrow" in listed(qtbot, demo)
    jobs._job_id = villa.id
    jobs.refresh()
    assert tr("jobs.is_away") in jobs._note.text()
    jobs.pick("away")
    jobs.search.narrow.click()
    assert "Villa Morrow" in listed(qtbot, demo)
    demo.job.history.undo()
    demo.job.history.undo()
    assert "Villa Morrow" in listed(qtbot, demo)


def test_a_job_is_the_start_of_another_and_undone_in_one_step(qtbot, demo, jobs):
    hotel, finishes = next(p for p in demo.job.records.jobs() if p[0].name == "Hotel Vessary")
    jobs._job_id = hotel.id
    jobs.pick("start")
    looked(qtbot, demo)
    again, copied = next(p for p in demo.job.records.jobs() if p[0].name == "Hotel Vessary, again")
    assert [f.name for f in copied] == [f.name for f in finishes]
    assert (
        demo.job.readings.target(copied[0]).sha256 == demo.job.readings.target(finishes[0]).sha256
    )
    assert not demo.job.records.boards(copied[0])
    assert again.id == jobs.chosen_job().id
    demo.job.history.undo()
    assert all(job.id != again.id for job, _ in demo.job.records.jobs())


def test_everything_is_backed_up_and_put_in_place_elsewhere(qtbot, demo, open_window, tmp_path,
                                                            monkeypatch):  # fmt: skip
    place = tmp_path / "all.zip"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(place), ""))
    demo.station("jobs").pick("back_up")
    settle(qtbot, demo)
    assert "all.zip" in demo.foot.shown.text
    demo.foot.clear_over()
    other = open_window(folder=tmp_path / "elsewhere")
    assert other.job.records.jobs() == []
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a, **k: (str(place), ""))
    other.station("jobs").pick("restore")
    assert other.foot.shown.text == tr("backup.sure", file="all.zip")
    put = next(a for a in other.foot.shown.actions if a.text == tr("backup.put"))
    put.run()
    settle(qtbot, other)
    assert [job.name for job, _ in other.job.records.jobs()] == [
        job.name for job, _ in demo.job.records.jobs()
    ]


def test_a_file_that_is_no_backup_changes_nothing(qtbot, open_window, tmp_path, monkeypatch):
    window = open_window(demo=True)
    before = window.job.records.jobs()
    wrong = tmp_path / "holiday.zip"
    wrong.write_bytes(b"not a zip at all")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a, **k: (str(wrong), ""))
    window.station("jobs").pick("restore")
    next(a for a in window.foot.shown.actions if a.text == tr("backup.put")).run()
    settle(qtbot, window)
    assert "holiday.zip" in window.foot.shown.text
    assert window.job.records.jobs() == before


def test_an_empty_workspace_offers_ways_to_begin(qtbot, open_window):
    window = open_window()
    first = window.station("jobs").first
    assert first.isVisible() and set(first.buttons) == {"guide", "demo", "bring"}
    assert window.foot.shown.text == tr("jobs.empty")
    first.buttons["demo"].click()
    settle(qtbot, window)
    assert [job.name for job, _ in window.job.records.jobs()] == ["Hotel Vessary"]
    assert not first.isVisible() and window.station("jobs").list.isVisible()


def test_what_the_boards_show(qtbot, demo, jobs):
    jobs.pick("learning")
    settle(qtbot, demo)
    page = jobs.page
    assert page.isVisible()
    rows = {row.title: row for row in page.rows}
    told = rows[tr("learning.median")]
    assert told.note == tr("learning.of", matched=2, finishes=4)
    assert told.right_note == tr("learning.painted", count=6)
    demo.escape()
    assert not page.isVisible()


def test_a_tin_leads_to_the_jobs_that_used_it(qtbot, demo, jobs):
    library = next(f for _, fs in demo.job.records.jobs() for f in fs if f.name == "Library")
    demo.open_finish(library.id)
    demo.go_to("jars")
    settle(qtbot, demo)
    demo.station("jars")._open_paints()
    tins = {tin.name: tin.id for tin in demo.job.records.tins()}
    demo.station("jars").paints.choose(tins["Lamp black"])
    demo.station("jars").paints._panel.jobs_wanted.emit()
    assert demo.page() is jobs
    assert listed(qtbot, demo) == ["Hotel Vessary"]
    demo.show_jobs()
    jobs.search.look_for_paint(tins["White wax"])
    assert listed(qtbot, demo) == []
    jobs.search.clear()
    assert len(listed(qtbot, demo)) == 3

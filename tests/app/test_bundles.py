"""A job is saved from the window and brought in again, here and elsewhere."""

from __future__ import annotations

from jartide.wording import tr

from .conftest import settle


def brought(qtbot, window, path):
    window.station("jobs").bundles.bring(path)
    settle(qtbot, window)
    settle(qtbot, window)


def test_a_job_goes_to_another_workspace_and_opens_there(qtbot, demo, open_window, tmp_path):
    (job, finishes), *_ = demo.job.records.jobs()
    path = tmp_path / "hotel.zip"
    demo.station("jobs").bundles.save(job, path)
    settle(qtbot, demo)
    assert "hotel.zip" in demo.foot.shown.text
    demo.foot.clear_over()
    other = open_window(folder=tmp_path / "other")
    brought(qtbot, other, path)
    assert [(j.name, len(fs)) for j, fs in other.job.records.jobs()] == [(job.name, len(finishes))]
    other.open_finish(finishes[0].id)
    settle(qtbot, other)
    assert other.job.readings.of_target() is not None
    # Brought in again it is asked what becomes of it.
    other.show_jobs()
    brought(qtbot, other, path)
    assert other.foot.shown.text == tr("bundle.known", name=job.name)
    copy = next(a for a in other.foot.shown.actions if a.text == tr("bundle.copy"))
    copy.run()
    settle(qtbot, other)
    assert len(other.job.records.jobs()) == 2


def test_a_broken_bundle_is_one_sentence_and_changes_nothing(qtbot, demo, tmp_path):
    before = demo.job.records.jobs()
    path = tmp_path / "broken.zip"
    path.write_bytes(b"PK no bundle")
    brought(qtbot, demo, path)
    assert "broken.zip" in demo.foot.shown.text
    brought(qtbot, demo, tmp_path / "gone.zip")
    assert "gone.zip" in demo.foot.shown.text
    assert demo.job.records.jobs() == before
    demo.foot.clear_over()

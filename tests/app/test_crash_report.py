"""A failure nobody foresaw: written down beside the work, told once, sent nowhere."""

from __future__ import annotations

import sys
import threading

import pytest

from jartide.app.crash_report import watch_for_failures, write_report


def fail(secret):
    raise ValueError(f"something about {secret}")


@pytest.fixture
def watched(tmp_path, monkeypatch):
    told = []
    monkeypatch.setattr(sys, "excepthook", lambda *_: None)
    monkeypatch.setattr(threading, "excepthook", threading.excepthook)
    watch_for_failures(lambda: tmp_path, told.append)
    return told


def test_a_report_says_where_and_nothing_of_the_work(watched, tmp_path):
    try:
        fail("Hotel Vessary")
    except ValueError as error:
        sys.excepthook(ValueError, error, error.__traceback__)
    (file,) = watched
    assert file.parent == tmp_path / "reports"
    text = file.read_text(encoding="utf-8")
    assert "ValueError" in text and "in fail" in text and "Jar Tide" in text
    assert "Vessary" not in text


def test_other_threads_are_watched_too(watched):
    thread = threading.Thread(target=fail, args=("x",))
    thread.start()
    thread.join()
    assert len(watched) == 1 and watched[0].exists()


def test_an_interrupt_is_no_failure(watched):
    sys.excepthook(KeyboardInterrupt, KeyboardInterrupt(), None)
    assert watched == []


def test_only_the_latest_are_kept_and_a_full_disk_is_survived(tmp_path):
    error = ValueError("x")
    files = [write_report(tmp_path, error) for _ in range(25)]
    left = sorted((tmp_path / "reports").iterdir())
    assert len(left) == 20 and files[-1] in left and files[0] not in left
    blocked = tmp_path / "blocked"
    blocked.write_text("a file", encoding="utf-8")
    assert write_report(blocked, error) is None

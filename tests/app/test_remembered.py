"""What is remembered over tests is what would be worked out anew."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from jartide.job.analysis import Wanted, analyse
from jartide.job.flat import make_flat
from jartide.photo import prepare
from jartide.photo.load import decode_photo
from jartide.photo.settings import PhotoSettings

from ..remembered import Remembered
from .conftest import settle


def test_the_same_is_worked_out_once_and_anything_else_anew(marble_jpeg, monkeypatch):
    made = Remembered(make_flat)
    photo = decode_photo(marble_jpeg, "marble.jpg")
    settings = PhotoSettings(mm_per_px=0.25)
    first = made(photo, settings, None, None)
    assert made(decode_photo(marble_jpeg, "again.jpg"), settings, None, None) is first
    assert made.worked_out == 1
    made(photo, replace(settings, mm_per_px=0.3), None, None)
    assert made.worked_out == 2
    # Another process finds what this one has made.
    elsewhere = Remembered(make_flat)
    np.testing.assert_array_equal(elsewhere(photo, settings, None, None).code, first.code)
    assert elsewhere.worked_out == 0
    monkeypatch.setattr(prepare, "READING_PIXELS", prepare.READING_PIXELS // 4)
    assert made(photo, settings, None, None).code.shape != first.code.shape


def test_a_remembered_reading_of_the_demo_is_what_is_read_now(qtbot, demo, remembered):
    """The window of all tests has used it since it was opened: nothing in it has changed."""
    job = demo.job
    demo.open_finish(next(f.id for _, own in job.records.jobs() for f in own))
    settle(qtbot, demo)
    photo = job.records.targets()[0]
    wanted = Wanted(family=job.finish.family, choices=job.finish.layers, zones=photo.zones)
    decoded = job.pictures.decoded
    loaded = decoded.photo(job.pictures.file_of(photo))
    card = decoded.card(loaded, photo.settings)
    given = (loaded, photo.settings, wanted, lambda _: None, card, None)
    kept, now = remembered["analyse"](*given), analyse(*given)
    assert kept.reading == now.reading
    assert np.array_equal(kept.layers.labels, now.layers.labels)
    assert np.array_equal(kept.flat.code, now.flat.code)
    for name in ("rgb_linear", "lab", "calm", "smooth"):
        assert np.array_equal(
            getattr(kept.basis.evidence, name), getattr(now.basis.evidence, name)
        ), name

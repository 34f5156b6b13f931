"""Shared by all tests: simulated photos made once, and a window without a monitor."""

from __future__ import annotations

import os
import shutil
import tempfile
import threading
import time
from contextlib import contextmanager
from datetime import UTC, datetime

import pytest
import time_machine

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from jartide.photo import prepare
from jartide.photo.load import decode_photo
from jartide.photo.settings import PhotoSettings
from jartide.reading.read import read_picture
from jartide.studio.camera import DAYLIGHT, photograph
from jartide.studio.marble import Marble, draw_marble

# A Thursday forenoon. No test may depend on the day, the hour or the zone of the machine.
MOMENT = datetime(2026, 11, 26, 9, 30, tzinfo=UTC)
os.environ["TZ"] = "UTC"
time.tzset()

MM_PER_PX = 0.25
FULL_PIXELS = prepare.READING_PIXELS
SIZE_MM = (200.0, 200.0)


# The folder where processes of one run leave each other what they worked out (see tests/app).
REMEMBERED = "JARTIDE_TESTS_REMEMBERED"


def pytest_configure(config):
    """Make the folder of this run, before its workers start; those begin with it."""
    if REMEMBERED not in os.environ:
        config.remembered = os.environ[REMEMBERED] = tempfile.mkdtemp(prefix="jar-tide-tests-")


def pytest_unconfigure(config):
    if hasattr(config, "remembered"):
        shutil.rmtree(config.remembered, ignore_errors=True)
        del os.environ[REMEMBERED]


@contextmanager
def half_pictures():
    """Prepare photos at half of the pixels: what a job or a window does does not depend on them."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(prepare, "READING_PIXELS", FULL_PIXELS // 2)
        yield


def read_surface(surface, seed=1, light=DAYLIGHT, **settings):
    """Photograph a surface square on and read it."""
    photo = decode_photo(photograph(surface.rgb_linear, seed, light), "simulated.jpg")
    picture = prepare.prepare(photo, PhotoSettings(mm_per_px=surface.mm_per_px, **settings))
    return read_picture(picture, surface.truth.family)[0]


@pytest.fixture(scope="session")
def marble():
    """A small marble with its truth."""
    return draw_marble(SIZE_MM, MM_PER_PX, 3)


@pytest.fixture(scope="session")
def wide_marble():
    """The same marble with its lines drawn 1.6 times wider."""
    return draw_marble(SIZE_MM, MM_PER_PX, 3, Marble().wider(1.6))


@pytest.fixture(scope="session")
def marble_reading(marble):
    return read_surface(marble)


@pytest.fixture(scope="session")
def wide_reading(wide_marble):
    return read_surface(wide_marble, seed=2)


@pytest.fixture(scope="session")
def marble_jpeg(marble):
    return photograph(marble.rgb_linear, 1)


@pytest.fixture(scope="session")
def wide_jpeg(wide_marble):
    return photograph(wide_marble.rgb_linear, 2)


@pytest.fixture(scope="session", autouse=True)
def fixed_clock():
    """The clock of all tests: it goes on from the same moment, whenever they are run."""
    with time_machine.travel(MOMENT, tick=True):
        yield


@pytest.fixture(autouse=True)
def no_thread_left_running():
    """A test that leaves a thread behind fails: its work would disturb the next."""
    before = set(threading.enumerate())
    yield
    left = [t for t in threading.enumerate() if t not in before and not t.daemon]
    # Qt's pool threads show up as dummies once they have run Python; they rest by themselves.
    left = [t for t in left if not isinstance(t, threading._DummyThread)]
    assert not left, f"threads left running: {left}"

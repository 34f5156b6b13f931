"""The model of the demo job, without a window: all its work is done where it is asked for."""

from __future__ import annotations

import shutil

import pytest

from jartide.job import plan
from jartide.job.open_job import OpenJob
from jartide.job.runner import AtOnce

from ..conftest import half_pictures
from ..remembered import WORK, remember


@pytest.fixture(autouse=True)
def fewer_pixels():
    """Every test here works on pictures of half as many pixels."""
    with half_pictures():
        yield


@pytest.fixture(scope="session", autouse=True)
def remembered():
    """What is made of the same photo with the same settings is made once for all models."""
    with remember(*WORK) as kept:
        yield kept


@pytest.fixture(scope="session")
def demo_folder(tmp_path_factory):
    """The demo's workspace, filled once."""
    job = OpenJob(AtOnce())
    folder = tmp_path_factory.mktemp("model") / "workspace"
    with half_pictures():
        job.open(folder, demo=True)
        job.close()
    return folder


@pytest.fixture
def job(demo_folder, tmp_path, monkeypatch):
    """A model of the demo's workspace, a copy of its own, with its first finish open."""
    # The order of work is improved elsewhere.
    monkeypatch.setattr(plan, "TRIES", 3)
    folder = tmp_path / "workspace"
    shutil.copytree(demo_folder, folder)
    made = OpenJob(AtOnce())
    made.open(folder, demo=False)
    open_finish(made, "Bar front")
    yield made
    made.close()


def open_finish(job, name):
    """Work on a finish of the demo job by its name."""
    finish = next(f for _, own in job.records.jobs() for f in own if f.name == name)
    job.records.open_finish(finish)
    return finish

"""Which device is offered: an attached one, a stand-in only where one is allowed, or none."""

from __future__ import annotations

from datetime import datetime

import numpy as np
import pytest

from jartide.devices.registry import Device, Kind, Registry
from jartide.devices.source import Source
from jartide.studio.stand_ins import STAND_INS


@pytest.mark.parametrize("kind", list(Kind))
def test_a_stand_in_is_offered_only_where_it_is_allowed(kind):
    registry = Registry(STAND_INS)
    assert registry.offered(kind) is None
    assert registry.offered(kind, frozenset(Kind) - {kind}) is None
    offered = registry.offered(kind, frozenset({kind}))
    assert offered is not None
    assert offered.source is Source.STAND_IN


def test_an_attached_device_goes_before_its_stand_in():
    registry = Registry(STAND_INS)
    real = Device(kind=Kind.COLOUR_READER, make=object)
    registry.attach(real)
    assert registry.offered(Kind.COLOUR_READER) is real
    assert registry.offered(Kind.COLOUR_READER, frozenset(Kind)) is real
    assert registry.offered(Kind.CAMERA) is None


def test_stand_ins_of_the_registry_work():
    allowed = frozenset(Kind)
    registry = Registry(STAND_INS)
    meter = registry.offered(Kind.THERMO_HYGROMETER, allowed).make(3, lambda: datetime(2026, 3, 2))
    assert 0 < meter.read().humidity_percent <= 100
    reader = registry.offered(Kind.COLOUR_READER, allowed).make(seed=1)
    reader.lay_on(np.full((20, 20, 3), 0.5, np.float32), None, (10, 10))
    assert reader.read().lab_d65()[0] == pytest.approx(76.1, abs=1)
    assert registry.offered(Kind.CAMERA, allowed).make().take()[:2] == b"\xff\xd8"

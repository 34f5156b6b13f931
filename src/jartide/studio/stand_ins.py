"""The stand-ins that ship with the application, as the registry of devices knows them."""

from __future__ import annotations

from typing import Any

from jartide.devices.registry import Device, Kind
from jartide.devices.source import Source
from jartide.studio.camera_stand import CameraStand
from jartide.studio.colour_reader import SimulatedReader
from jartide.studio.thermo_hygrometer import SimulatedThermoHygrometer


def _camera() -> Any:
    return CameraStand()


def _colour_reader(*settings: Any, **named: Any) -> Any:
    return SimulatedReader(*settings, **named)


def _thermo_hygrometer(*settings: Any) -> Any:
    return SimulatedThermoHygrometer(*settings)


STAND_INS = (
    Device(kind=Kind.CAMERA, make=_camera, source=Source.STAND_IN),
    Device(kind=Kind.COLOUR_READER, make=_colour_reader, source=Source.STAND_IN),
    Device(kind=Kind.THERMO_HYGROMETER, make=_thermo_hygrometer, source=Source.STAND_IN),
)

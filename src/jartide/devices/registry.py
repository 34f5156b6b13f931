"""Which outside devices there are to work with: those attached, and stand-ins where allowed."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from jartide.devices.source import Source


class Kind(StrEnum):
    """What a device is for."""

    CAMERA = "camera"
    COLOUR_READER = "colour_reader"
    THERMO_HYGROMETER = "thermo_hygrometer"


@dataclass(frozen=True, slots=True, kw_only=True)
class Device:
    """One device that can be asked.

    Attributes
    ----------
    kind : what it is for
    make : returns the device, as the protocol of its kind says; what it takes is the device's own
    source : what its values are marked with: a device, or a stand-in for one
    """

    kind: Kind
    make: Callable[..., Any]
    source: Source = Source.DEVICE


class Registry:
    """The devices there are. An attached one always goes before a stand-in of its kind."""

    def __init__(self, devices: Iterable[Device] = ()) -> None:
        self._devices = list(devices)

    def attach(self, device: Device) -> None:
        """Make a device known."""
        self._devices.append(device)

    def offered(self, kind: Kind, stand_ins: frozenset[Kind] = frozenset()) -> Device | None:
        """Return the device of a kind to work with; None when there is none.

        A stand-in is offered only for the kinds in `stand_ins`.
        """
        own = [device for device in self._devices if device.kind is kind]
        real = next((device for device in own if device.source is not Source.STAND_IN), None)
        if real is not None:
            return real
        return next(iter(own), None) if kind in stand_ins else None

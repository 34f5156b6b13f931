"""A thermo-hygrometer: the temperature and humidity of the air where the work is done."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol


@dataclass(frozen=True, slots=True, kw_only=True)
class AirReading:
    """One reading: degrees Celsius, and percent relative humidity."""

    temperature_c: float
    humidity_percent: float


class ThermoHygrometer(Protocol):
    """Anything that tells the air's temperature and humidity when asked."""

    @property
    def name(self) -> str:
        """What the painter calls it."""
        ...

    def read(self) -> AirReading:
        """Read the air now.

        Raises
        ------
        DeviceError : one sentence, when it can't.
        """
        ...

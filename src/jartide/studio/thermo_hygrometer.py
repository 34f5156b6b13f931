"""A simulated thermo-hygrometer: a workshop's air over the day, with the device's own noise."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime

import numpy as np

from jartide.devices.climate import AirReading

# Deviations of a hand-held device's readings.
_NOISE_C, _NOISE_PERCENT = 0.15, 0.8
_WARMEST_HOUR = 15.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Workshop:
    """The air of a workshop: daily mean, half the day's swing, and the dew point it keeps."""

    mean_c: float = 18.5
    swing_c: float = 2.5
    dew_point_c: float = 9.5

    def air(self, hour: float) -> AirReading:
        """Return the true air at an hour of the day, 0..24."""
        temperature = self.mean_c + self.swing_c * float(
            np.cos(2 * np.pi * (hour - _WARMEST_HOUR) / 24)
        )
        humidity = 100 * _vapour(self.dew_point_c) / _vapour(temperature)
        return AirReading(temperature_c=temperature, humidity_percent=min(humidity, 100.0))


def _vapour(celsius: float) -> float:
    """Saturation vapour pressure, hPa (Magnus form; Alduchov & Eskridge 1996)."""
    return 6.1094 * float(np.exp(17.625 * celsius / (celsius + 243.04)))


class SimulatedThermoHygrometer:
    """Stands in for the device on the bench."""

    name = "Bench thermo-hygrometer (simulated)"

    def __init__(
        self, seed: int, clock: Callable[[], datetime], workshop: Workshop | None = None
    ) -> None:
        self._rng = np.random.default_rng(seed)
        self._clock = clock
        self._workshop = workshop or Workshop()

    def read(self) -> AirReading:
        """Read the air now."""
        when = self._clock()
        air = self._workshop.air(when.hour + when.minute / 60)
        noise_c, noise_percent = self._rng.normal(0, (_NOISE_C, _NOISE_PERCENT))
        return AirReading(
            temperature_c=round(air.temperature_c + float(noise_c), 1),
            humidity_percent=round(
                min(max(air.humidity_percent + float(noise_percent), 0.0), 100.0)
            ),
        )

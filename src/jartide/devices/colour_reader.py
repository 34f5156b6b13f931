"""A colour reader: a spectrophotometer or colorimeter laid on a surface."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Protocol

from jartide.colour.adaptation import lab_d50_to_d65
from jartide.colour.words import Lab

APERTURES_MM = (4, 8)


class Illuminant(StrEnum):
    """The light a reader's values are stated for, 2 degree observer."""

    D50 = "D50"
    D65 = "D65"


@dataclass(frozen=True, slots=True, kw_only=True)
class ColourReading:
    """One reading.

    Attributes
    ----------
    lab : as the device states it
    illuminant : what it is stated for
    aperture_mm : diameter of the spot
    repeatability_de00 : the device's own repeatability, standard deviation
    """

    lab: Lab
    illuminant: Illuminant
    aperture_mm: float
    repeatability_de00: float

    def lab_d65(self) -> Lab:
        """Return the colour as the application keeps it: CIELAB D65, 2 degree (Bradford)."""
        if self.illuminant is Illuminant.D65:
            return self.lab
        return lab_d50_to_d65(self.lab)


class ColourReader(Protocol):
    """Anything that reads the colour of what it is laid on."""

    @property
    def name(self) -> str:
        """What the painter calls it."""
        ...

    def read(self) -> ColourReading:
        """Read the colour under the aperture.

        Raises
        ------
        DeviceError : one sentence, when it can't.
        """
        ...

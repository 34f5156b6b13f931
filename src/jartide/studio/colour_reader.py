"""A simulated colour reader, laid on a picture or a drawn surface."""

from __future__ import annotations

import numpy as np

from jartide.colour.adaptation import lab_d65_to_d50
from jartide.colour.spaces import linear_to_lab
from jartide.devices.colour_reader import APERTURES_MM, ColourReading, Illuminant
from jartide.errors import DeviceError

# Standard deviation of repeated readings of one place, CIEDE2000, of a good hand-held reader.
REPEATABILITY_DE00 = 0.12
# Without a scale the spot is this share of the picture's short side.
_SPOT_SHARE = 0.02


class SimulatedReader:
    """Reads the mean colour under its aperture, with the noise of repeated readings.

    Implements `devices.colour_reader.ColourReader`.

    Parameters
    ----------
    illuminant, aperture_mm : as it is set; 4 or 8 mm
    seed : of its noise
    """

    name = "Colour reader"

    def __init__(
        self,
        illuminant: Illuminant = Illuminant.D50,
        aperture_mm: float = 4,
        seed: int = 0,
    ) -> None:
        if aperture_mm not in APERTURES_MM:
            raise DeviceError("error.reader.aperture")
        self.illuminant, self.aperture_mm = illuminant, aperture_mm
        self._rng = np.random.default_rng(seed)
        self._rgb: np.ndarray | None = None
        self._spot = (0.0, 0.0, 1.0)

    def lay_on(
        self, rgb_linear: np.ndarray, mm_per_px: float | None, at_px: tuple[float, float]
    ) -> None:
        """Lay the reader on a picture, (H, W, 3) linear light D65, with its middle at (x, y) px."""
        rows, columns = rgb_linear.shape[:2]
        radius = (
            _SPOT_SHARE * min(rows, columns) / 2
            if mm_per_px is None
            else self.aperture_mm / 2 / mm_per_px
        )
        self._rgb, self._spot = rgb_linear, (at_px[0], at_px[1], max(radius, 0.75))

    def read(self) -> ColourReading:
        """Read the colour under the aperture.

        Raises
        ------
        DeviceError : when it lies on nothing, or partly beside the surface.
        """
        if self._rgb is None:
            raise DeviceError("error.reader.nowhere")
        x, y, radius = self._spot
        rows, columns = self._rgb.shape[:2]
        if not (radius <= x <= columns - radius and radius <= y <= rows - radius):
            raise DeviceError("error.reader.edge")
        top, left = int(y - radius), int(x - radius)
        part = self._rgb[top : int(y + radius) + 1, left : int(x + radius) + 1]
        down, along = np.mgrid[0 : part.shape[0], 0 : part.shape[1]] + 0.5
        inside = np.hypot(along + left - x, down + top - y) <= radius + 0.3
        mean = linear_to_lab(part[inside].mean(axis=0).astype(float))
        noisy = mean + self._rng.normal(0, REPEATABILITY_DE00 / np.sqrt(3), 3)
        lab = (float(noisy[0]), float(noisy[1]), float(noisy[2]))
        if self.illuminant is Illuminant.D50:
            lab = lab_d65_to_d50(lab)
        return ColourReading(
            lab=lab,
            illuminant=self.illuminant,
            aperture_mm=self.aperture_mm,
            repeatability_de00=REPEATABILITY_DE00,
        )

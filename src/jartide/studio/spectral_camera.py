"""A camera with sensitivities, a tone curve and habits of its own, under any lamp.

Colours go through spectra: two materials of one colour in daylight part ways
under a lamp or in a sensor, as they do in life. What is corrected elsewhere
knows nothing of the numbers drawn here.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.ndimage import map_coordinates

from jartide.colour.spaces import encode_srgb
from jartide.colour.spectra import WAVELENGTHS_NM, daylight_weights, planck, reflectance

_NODES = 15
# Nodes lie closer in the darks, as colours on walls do.
_LEVELS = np.linspace(0, 1, _NODES) ** 2


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class SpectralCamera:
    """One camera under one lamp.

    Attributes
    ----------
    paint, ink : (N, N, N, 3) camera light for surface colours, linear sRGB, at `_LEVELS`
    contrast, lift : of the tone curve
    """

    paint: np.ndarray
    ink: np.ndarray
    contrast: float
    lift: float

    def light(self, rgb_linear: np.ndarray, material: str = "paint") -> np.ndarray:
        """Return the camera's linear light, as `rgb_linear` (..., 3), before exposure."""
        table = self.paint if material == "paint" else self.ink
        # Light is about the square of its place in the table: its root goes straight between.
        table = np.sign(table) * np.sqrt(np.abs(table))
        where = np.sqrt(np.clip(rgb_linear, 0, 1)) * (_NODES - 1)
        points = where.reshape(-1, 3).T
        out = [map_coordinates(table[..., c], points, order=1, mode="nearest") for c in range(3)]
        root = np.stack(out, axis=-1).reshape(where.shape)
        return (root * np.abs(root)).astype(np.float32)

    def develop(self, light: np.ndarray) -> np.ndarray:
        """Return encoded values, (..., 3) 0..1, of the camera's light: its tone curve, then sRGB.

        A filmic curve: a toe that deepens darks, a shoulder that saves whites.
        """
        x = np.maximum(light, 0)
        toe = x ** (1 + 0.25 * self.contrast) * (1 + 0.15 * self.lift)
        shoulder = toe * (1 + 0.30 * self.contrast) / (1 + 0.30 * self.contrast * toe)
        return encode_srgb(shoulder)


def make_camera(kelvin: float, rng: np.random.Generator) -> SpectralCamera:
    """Return a camera drawn by chance, set up for a lamp of `kelvin` as cameras do."""
    nm = WAVELENGTHS_NM
    peaks = np.array([598.0, 538.0, 458.0]) + rng.normal(0, 6, 3)
    widths = np.array([42.0, 44.0, 34.0]) * rng.uniform(0.85, 1.15, 3)
    sensor = np.exp(-0.5 * ((nm[:, None] - peaks) / widths) ** 2)
    sensor += 0.06 * np.exp(-0.5 * ((nm[:, None] - np.roll(peaks, 1)) / (1.5 * widths)) ** 2)

    grid = np.stack(np.meshgrid(_LEVELS, _LEVELS, _LEVELS, indexing="ij"), axis=-1).reshape(-1, 3)
    paint = reflectance(grid)
    ink = np.clip(paint + _metameric(rng) * (paint * (1 - paint)).mean(axis=1, keepdims=True), 0, 1)
    # The maker's matrix is fitted to paints under the lamp the camera believes it sees.
    day = sensor * planck(kelvin * rng.uniform(0.85, 1.15))[:, None]
    day /= day.sum(axis=0)
    some = rng.choice(len(paint), 200, replace=False)
    raw, wanted = paint[some] @ day, paint[some] @ daylight_weights()
    matrix = np.linalg.lstsq(raw, wanted, rcond=None)[0]
    matrix /= matrix.sum(axis=0)

    lamp = sensor * planck(kelvin)[:, None]
    white = lamp.sum(axis=0) / (sensor * planck(5600)[:, None]).sum(axis=0)
    white /= white[1]
    # Automatic white balance goes most of the way and leaves some of the lamp's warmth.
    rest = white ** rng.uniform(0.08, 0.35) * np.exp(rng.normal(0, 0.02, 3))
    gains = rest / lamp.sum(axis=0)

    def table(spectra: np.ndarray) -> np.ndarray:
        return ((spectra @ lamp) * gains @ matrix).reshape(_NODES, _NODES, _NODES, 3)

    return SpectralCamera(
        paint=table(paint),
        ink=table(ink),
        contrast=float(rng.uniform(0.2, 1.0)),
        lift=float(rng.uniform(-0.5, 1.0)),
    )


def _metameric(rng: np.random.Generator) -> np.ndarray:
    """A ripple, (31,), over wavelength that daylight and the eye don't see: inks are no paints."""
    phase = rng.uniform(0, 2 * np.pi)
    ripple = np.sin((WAVELENGTHS_NM - 400) / 300 * 2 * np.pi * 2.5 + phase)
    weights = daylight_weights()
    seen, *_ = np.linalg.lstsq(weights, ripple, rcond=None)
    return 0.15 * (ripple - weights @ seen)

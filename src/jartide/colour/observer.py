"""What an eye makes of a reflectance: 36 bands to CIELAB, D65, 2 degree, and back.

Paints are computed on 36 bands from 380 to 730 nm. Sums over 10 nm bands are within
CIEDE2000 0.1 of 1 nm ones for the smooth reflectances of paints.
"""

from __future__ import annotations

from functools import lru_cache
from importlib import resources

import numpy as np

from jartide.colour.spaces import WHITE_D65, lab_to_xyz, xyz_to_lab

BANDS_NM = np.arange(380.0, 731.0, 10.0)
_EPSILON = 216 / 24389
_KAPPA = 24389 / 27
_STEPS = 60


@lru_cache(maxsize=1)
def band_weights() -> np.ndarray:
    """Return the weights, (36, 3), from reflectance to XYZ; a perfect white gives `WHITE_D65`.

    CIE 15:2018, sums over the printed tables every 10 nm.
    """
    table = _table()
    weights = table[:, 1:4] * table[:, 4:5]
    weights *= WHITE_D65 / weights.sum(axis=0)
    weights.setflags(write=False)
    return weights


def observer_bands() -> np.ndarray:
    """Return the CIE 1931 2 degree observer at `BANDS_NM`, (36, 3)."""
    return _table()[:, 1:4]


@lru_cache(maxsize=1)
def _table() -> np.ndarray:
    """Wavelength, the observer's three functions, the power of D65: (36, 5)."""
    text = resources.files("jartide.data").joinpath("observer_d65.csv").read_text("utf-8")
    rows = [line.split(",") for line in text.splitlines() if line[0].isdigit()]
    return np.array(rows, dtype=float)


def lab_of_reflectance(reflectance: np.ndarray) -> np.ndarray:
    """Return CIELAB, (..., 3), of reflectances, (..., 36) in 0..1."""
    return xyz_to_lab(np.asarray(reflectance) @ band_weights())


def lab_slopes(reflectance: np.ndarray) -> np.ndarray:
    """Return by how much Lab changes with each band's reflectance, (..., 3, 36)."""
    weights = band_weights()
    t = (reflectance @ weights) / WHITE_D65
    with np.errstate(divide="ignore"):
        slope = np.where(t > _EPSILON, np.cbrt(np.maximum(t, _EPSILON)) ** -2 / 3, _KAPPA / 116)
    per_band = slope[..., :, None] * (weights / WHITE_D65).T
    x, y, z = per_band[..., 0, :], per_band[..., 1, :], per_band[..., 2, :]
    return np.stack([116 * y, 500 * (x - y), 200 * (y - z)], axis=-2)


def smoothest_reflectance(lab: np.ndarray) -> np.ndarray:
    """Return the smoothest reflectances, (N, 36), that show the given Lab, (N, 3).

    Least squares on the slope of atanh(2 R - 1) with the colour as constraint, by Newton
    steps (Burns 2020, "Numerical methods for smoothest reflectance reconstruction"). Colours no
    surface can show are met as nearly as a reflectance between 0 and 1 can.
    """
    wanted = np.atleast_2d(np.asarray(lab, dtype=float))
    weights, bands = band_weights(), BANDS_NM.size
    slope = np.diff(np.eye(bands), axis=0)
    rough = 2 * slope.T @ slope
    out = np.empty((wanted.shape[0], bands))
    for number, xyz in enumerate(lab_to_xyz(wanted)):
        xyz = np.clip(xyz, 2e-4, 0.999 * WHITE_D65)
        z = np.full(bands, np.arctanh(2 * np.clip(xyz[1], 1e-3, 0.995) - 1))
        pull = np.zeros(3)
        for _ in range(_STEPS):
            bent = 1 - np.tanh(z) ** 2
            shown = (np.tanh(z) + 1) / 2
            towards = weights * (bent / 2)[:, None]
            curved = np.diag((-np.tanh(z) * bent) * (weights @ pull))
            system = np.block([[rough + curved, towards], [towards.T, np.zeros((3, 3))]])
            missing = np.concatenate([-(rough @ z + towards @ pull), xyz - shown @ weights])
            try:
                step = np.linalg.solve(system, missing)
            except np.linalg.LinAlgError:
                step = np.linalg.lstsq(system, missing, rcond=1e-12)[0]
            # Saturated colours run away in full steps.
            step *= min(1.0, 1.5 / max(np.abs(step[:bands]).max(), 1e-9))
            z, pull = z + step[:bands], pull + step[bands:]
            if np.abs(step[:bands]).max() < 1e-8:
                break
        out[number] = (np.tanh(np.clip(z, -8, 8)) + 1) / 2
    return out

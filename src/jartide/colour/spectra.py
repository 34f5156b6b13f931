"""Spectra from 400 to 700 nm: lights, the observer, and smooth reflectances of given colours."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from jartide.colour.spaces import RGB_TO_XYZ, WHITE_D65, XYZ_TO_RGB

WAVELENGTHS_NM = np.arange(400.0, 701.0, 10.0)


def planck(kelvin: float, nm: np.ndarray = WAVELENGTHS_NM) -> np.ndarray:
    """Return a black body's power, (N,), at wavelengths (N,) nm, 1 at 560 (Planck's law)."""

    def power(nm: np.ndarray | float) -> np.ndarray:
        metres = np.asarray(nm) * 1e-9
        return metres**-5 / np.expm1(1.438776877e-2 / (metres * kelvin))

    return power(nm) / power(560.0)


def _lobe(nm: np.ndarray, peak: float, left: float, right: float) -> np.ndarray:
    return np.exp(-0.5 * ((nm - peak) * np.where(nm < peak, left, right)) ** 2)


@lru_cache(maxsize=1)
def observer() -> np.ndarray:
    """Return the CIE 1931 observer, (31, 3), as sums of Gaussian lobes.

    Wyman, Sloan & Shirley 2013, "Simple analytic approximations to the CIE XYZ
    color matching functions", the multi-lobe fit.
    """
    nm = WAVELENGTHS_NM
    x = (
        0.362 * _lobe(nm, 442.0, 0.0624, 0.0374)
        + 1.056 * _lobe(nm, 599.8, 0.0264, 0.0323)
        - 0.065 * _lobe(nm, 501.1, 0.0490, 0.0382)
    )
    y = 0.821 * _lobe(nm, 568.8, 0.0213, 0.0247) + 0.286 * _lobe(nm, 530.9, 0.0613, 0.0322)
    z = 1.217 * _lobe(nm, 437.0, 0.0845, 0.0278) + 0.681 * _lobe(nm, 459.0, 0.0385, 0.0725)
    return np.stack([x, y, z], axis=1)


@lru_cache(maxsize=1)
def daylight_weights() -> np.ndarray:
    """Return weights, (31, 3), from reflectance to linear sRGB; a perfect white gives 1, 1, 1."""
    weights = observer() * planck(6504)[:, None]
    weights *= WHITE_D65 / weights.sum(axis=0)
    return weights @ XYZ_TO_RGB.T


def reflectance(rgb_linear: np.ndarray) -> np.ndarray:
    """Return smooth reflectances, (N, 31), that show given colours, (N, 3), in daylight.

    A sigmoid of a parabola over wavelength (Jakob & Hanika 2019, "A
    low-dimensional function space for efficient spectral upsampling"), fitted by
    Gauss-Newton in linear light; colours on the edge of the gamut are met nearly.
    """
    t = (WAVELENGTHS_NM - 550) / 150
    powers = np.stack([np.ones_like(t), t, t**2])
    wanted = np.clip(np.asarray(rgb_linear, float), 0.002, 0.98)
    weights = daylight_weights()
    grey = wanted @ RGB_TO_XYZ[1]
    start = (grey - 0.5) / np.sqrt(grey * (1 - grey))
    c = np.stack([start, np.zeros_like(start), np.zeros_like(start)], axis=1)
    damping = 1e-4 * np.eye(3)
    for _ in range(40):
        u = c @ powers
        root = np.sqrt(1 + u**2)
        shown = (0.5 + u / (2 * root)) @ weights
        slope = np.einsum("kw,nw,wc->nck", powers, 0.5 / root**3, weights)
        error = wanted - shown
        square = slope.transpose(0, 2, 1) @ slope + damping * np.trace(
            slope.transpose(0, 2, 1) @ slope, axis1=1, axis2=2
        ).reshape(-1, 1, 1)
        step = np.linalg.solve(square, (slope.transpose(0, 2, 1) @ error[..., None]))[..., 0]
        c = np.clip(c + np.clip(step, -4, 4), -60, 60)
    u = c @ powers
    return 0.5 + u / (2 * np.sqrt(1 + u**2))

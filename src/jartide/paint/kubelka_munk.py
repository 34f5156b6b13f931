"""Kubelka-Munk: what a layer of paint reflects, from how it absorbs and scatters.

Holds for flat layers of well stirred paint in diffuse light, seen away from its gloss, on
bands narrow enough that absorption is even inside each. Metal flakes, fluorescence and thick
texture are outside it. Reflectances here are inside the layer; `surface` adds the surface.
"""

from __future__ import annotations

import numpy as np

# No layer absorbs or scatters nothing at all; below this a band counts as clear.
LEAST = 1e-7
# Optical depth at which nothing below is seen.
_DEEP = 40.0


def absorption_ratio(reflectance: np.ndarray) -> np.ndarray:
    """Return K/S of a hiding layer that reflects `reflectance`, in (0, 1).

    Kubelka & Munk 1931: K/S = (1 - R)^2 / 2R.
    """
    return (1 - reflectance) ** 2 / (2 * reflectance)


def hiding_reflectance(k: np.ndarray, s: np.ndarray) -> np.ndarray:
    """Return what a hiding layer reflects, 0..1, of absorption and scattering of any shape, unit.

    Kubelka & Munk 1931, in the form S / (S + K + sqrt(K (K + 2 S))), which loses no digits in
    the dark.
    """
    return s / (s + k + np.sqrt(k * (k + 2 * s)))


def film_reflectance(k: np.ndarray, s: np.ndarray, ground: np.ndarray) -> np.ndarray:
    """Return what a film of absorption `k` and scattering `s` per film reflects over a ground.

    Parameters
    ----------
    k, s : (..., bands) >= 0, times the film's thickness
    ground : (..., bands) what the ground reflects under the film, 0..1

    Kubelka 1948: R = [1 - Rg (a - b coth bSX)] / [a - Rg + b coth bSX] with a = 1 + K/S and
    b = sqrt(a^2 - 1). Written with S coth = S (1 + e) / (1 - e), so that a film which scatters
    nothing (Bouguer 1729) needs no case of its own.
    """
    s = np.maximum(s, LEAST)
    k = np.maximum(k, LEAST)
    depth = np.sqrt(k * (k + 2 * s))
    e = np.exp(-2 * np.minimum(depth, _DEEP))
    both = depth * (1 + e) / np.maximum(1 - e, 1e-300)
    return (s - ground * (s + k - both)) / (s + k - ground * s + both)

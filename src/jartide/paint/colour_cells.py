"""A least CIEDE2000 from one colour to anything inside a box of Lab.

CIEDE2000 is no metric: what is nearest in Lab need not be nearest by it, and no fixed radius
in Lab is safe. For each box the formula's weights are bounded from their ranges, which gives
a distance that nothing in the box can undercut.
"""

from __future__ import annotations

import numpy as np


def least_de00(target: np.ndarray, low: np.ndarray, high: np.ndarray) -> np.ndarray:
    """Return a lower bound, (N,), of CIEDE2000 from `target`, (3,), into boxes of Lab.

    `low`, `high`: (N, 3) corners of the boxes.

    With the notation of Sharma, Wu & Dalal 2005: both colours share G >= 0, so
    dC'^2 + dH'^2 = da'^2 + db'^2 >= da^2 + db^2; S_C is the larger of S_C and S_H; and
    x^2 + y^2 + R_T x y >= (1 - |R_T| / 2) (x^2 + y^2).
    """
    aside = np.maximum(np.maximum(low - target, target - high), 0.0)
    middle = (low + high) / 2
    # The farthest corner from the grey axis, with a' at most 1.5 a (G <= 0.5).
    far = np.maximum(np.abs(low), np.abs(high))
    chroma = np.hypot(*target[1:])
    g = _g((chroma + _nearest_chroma(low, high)) / 2)
    most = (np.hypot((1 + g) * target[1], target[2]) + np.hypot((1 + g) * far[:, 1], far[:, 2])) / 2
    s_c = 1 + 0.045 * most
    lightness = (low[:, 0] + target[0]) / 2 - 50, (high[:, 0] + target[0]) / 2 - 50
    s_l = np.maximum(*(1 + 0.015 * m**2 / np.sqrt(20 + m**2) for m in lightness))
    turn = np.minimum(_turn(target, middle, np.hypot(*(high - low).T[1:]) / 2, most), 1.99)
    chromatic = (1 - turn / 2) * (aside[:, 1] ** 2 + aside[:, 2] ** 2) / s_c**2
    return np.sqrt((aside[:, 0] / s_l) ** 2 + chromatic)


def _g(chroma: np.ndarray) -> np.ndarray:
    seventh = chroma**7
    return 0.5 * (1 - np.sqrt(seventh / (seventh + 25.0**7)))


def _nearest_chroma(low: np.ndarray, high: np.ndarray) -> np.ndarray:
    nearest = np.maximum(np.maximum(low[:, 1:], -high[:, 1:]), 0.0)
    return np.hypot(nearest[:, 0], nearest[:, 1])


def _turn(
    target: np.ndarray, middle: np.ndarray, radius: np.ndarray, most: np.ndarray
) -> np.ndarray:
    """Return the most that |R_T| can be, (N,)."""
    strength = 2 * np.sqrt(most**7 / (most**7 + 25.0**7))
    # a' stretches hues by at most 12 degrees (tan of the half difference for G = 0.5).
    own = np.degrees(np.arctan2(target[2], target[1])) % 360
    hue = np.degrees(np.arctan2(middle[:, 2], middle[:, 1])) % 360
    chroma = np.hypot(middle[:, 1], middle[:, 2])
    wide = np.degrees(np.arcsin(np.minimum(radius / np.maximum(chroma, 1e-9), 1.0)))
    wide = np.where(chroma <= radius, 180.0, wide) / 2 + 12
    apart = (hue - own + 180) % 360 - 180
    between = (own + apart / 2) % 360
    away = np.maximum(np.abs((between - 275 + 180) % 360 - 180) - wide, 0.0)
    # Nearly opposite hues have their mean on either side.
    away = np.where(np.abs(apart) + 2 * wide >= 180, 0.0, away)
    return strength * np.sin(np.radians(60 * np.exp(-((away / 25) ** 2))))

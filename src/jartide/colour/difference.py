"""CIEDE2000: how far apart two colours look.

Holds for uniform patches wider than 4 degrees, side by side, in about 1000 lux
on a mid grey, and for differences below about 5. For larger ones it ranks, but
its numbers are not proportional to what is seen.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike


def delta_e_2000(lab_1: ArrayLike, lab_2: ArrayLike) -> np.ndarray:
    """Return CIEDE2000, (...), between two Lab arrays, (..., 3) each, which broadcast.

    Sharma, Wu & Dalal 2005, "The CIEDE2000 color-difference formula"; the
    parametric factors kL, kC and kH are 1.
    """
    l_1, a_1, b_1 = np.moveaxis(np.asarray(lab_1, dtype=float), -1, 0)
    l_2, a_2, b_2 = np.moveaxis(np.asarray(lab_2, dtype=float), -1, 0)

    c_mean_7 = ((np.hypot(a_1, b_1) + np.hypot(a_2, b_2)) / 2) ** 7
    g = 0.5 * (1 - np.sqrt(c_mean_7 / (c_mean_7 + 25.0**7)))
    a_1, a_2 = (1 + g) * a_1, (1 + g) * a_2
    c_1, c_2 = np.hypot(a_1, b_1), np.hypot(a_2, b_2)
    h_1 = np.degrees(np.arctan2(b_1, a_1)) % 360
    h_2 = np.degrees(np.arctan2(b_2, a_2)) % 360

    dl, dc = l_2 - l_1, c_2 - c_1
    # A grey has no hue: its hue difference is zero by definition.
    grey = c_1 * c_2 == 0
    # By comparison and not by a remainder: of opposite hues that rounds to the same side whichever
    # colour comes first.
    turn = h_2 - h_1
    dh = turn - 360.0 * (turn > 180) + 360.0 * (turn < -180)
    dh = np.where(grey, 0.0, dh)
    dh_big = 2 * np.sqrt(c_1 * c_2) * np.sin(np.radians(dh) / 2)

    l_mean, c_mean = (l_1 + l_2) / 2, (c_1 + c_2) / 2
    h_sum = h_1 + h_2
    h_mean = np.where(
        np.abs(h_1 - h_2) <= 180, h_sum / 2, np.where(h_sum < 360, h_sum / 2 + 180, h_sum / 2 - 180)
    )
    h_mean = np.where(grey, h_sum, h_mean)

    t = (
        1
        - 0.17 * np.cos(np.radians(h_mean - 30))
        + 0.24 * np.cos(np.radians(2 * h_mean))
        + 0.32 * np.cos(np.radians(3 * h_mean + 6))
        - 0.20 * np.cos(np.radians(4 * h_mean - 63))
    )
    s_l = 1 + 0.015 * (l_mean - 50) ** 2 / np.sqrt(20 + (l_mean - 50) ** 2)
    s_c = 1 + 0.045 * c_mean
    s_h = 1 + 0.015 * c_mean * t
    r_c = 2 * np.sqrt(c_mean**7 / (c_mean**7 + 25.0**7))
    r_t = -np.sin(np.radians(60 * np.exp(-(((h_mean - 275) / 25) ** 2)))) * r_c

    dl, dc, dh_big = dl / s_l, dc / s_c, dh_big / s_h
    return np.sqrt(np.maximum(dl**2 + dc**2 + dh_big**2 + r_t * dc * dh_big, 0))

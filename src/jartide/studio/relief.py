"""Light on relief: what faces the lamp is lighter, what turns away is darker."""

from __future__ import annotations

import numpy as np

LAMP_DEG = 135.0


def shade(
    height_mm: np.ndarray, mm_per_px: float, strength: float, light_deg: float = LAMP_DEG
) -> np.ndarray:
    """Return the factor, (H, W), by which relief changes the light it throws back.

    A matt surface throws back light by the cosine between its normal and the lamp
    (Lambert 1760), here for a lamp 30 degrees above the surface that comes from
    `light_deg`, counter-clockwise from the right. `strength` scales the slopes.
    """
    down, right = np.gradient(height_mm.astype(np.float32), mm_per_px)
    right, up = strength * right, -strength * down
    azimuth, low = np.radians(light_deg), np.radians(30)
    towards = -(right * np.cos(azimuth) + up * np.sin(azimuth)) * np.cos(low)
    cosine = (towards + np.sin(low)) / np.sqrt(1 + right**2 + up**2)
    # Turned wholly away it is still lit by the room.
    return np.maximum(cosine, 0.12) / np.sin(low)

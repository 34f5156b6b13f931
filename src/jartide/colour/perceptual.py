"""A space whose straight distances are CIEDE2000's, as far as a straight space can have them.

CIEDE2000 divides differences of lightness and chroma by S_L and S_C (Sharma, Wu & Dalal 2005).
Here both are summed up from the neutral axis outward, as DIN 6176 does for its own weights
(Cui, Luo, Rigg, Roesler & Witt 2002), and a* of near greys is stretched by CIEDE2000's G. Small
differences agree within about a tenth; hues of strong blues, where CIEDE2000 turns its axes, do
not.
"""

from __future__ import annotations

import numpy as np

_KNOTS = np.linspace(-10.0, 120.0, 1041)
_S_L = 1 + 0.015 * (_KNOTS - 50) ** 2 / np.sqrt(20 + (_KNOTS - 50) ** 2)
_EVEN = np.concatenate([[0.0], np.cumsum((1 / _S_L[1:] + 1 / _S_L[:-1]) / 2 * np.diff(_KNOTS))])
_EVEN -= np.interp(0.0, _KNOTS, _EVEN)
_S_C = 0.045


def _grey_stretch(chroma: np.ndarray) -> np.ndarray:
    """CIEDE2000's G, 0..0.5, of chroma C*."""
    power = chroma**7
    return 0.5 * (1 - np.sqrt(power / (power + 25.0**7)))


def lab_to_even(lab: np.ndarray) -> np.ndarray:
    """Return even coordinates, (..., 3) float64, of CIELAB D65 (..., 3)."""
    lab = np.asarray(lab, float)
    b = lab[..., 2]
    a = lab[..., 1] * (1 + _grey_stretch(np.hypot(lab[..., 1], b)))
    chroma = np.hypot(a, b)
    shrink = np.log1p(_S_C * chroma) / (_S_C * np.maximum(chroma, 1e-9))
    shrink = np.where(chroma > 1e-6, shrink, 1.0)
    return np.stack([np.interp(lab[..., 0], _KNOTS, _EVEN), a * shrink, b * shrink], axis=-1)


def even_to_lab(even: np.ndarray) -> np.ndarray:
    """Return CIELAB D65, (..., 3) float64, of even coordinates (..., 3): the way back."""
    even = np.asarray(even, float)
    chroma = np.hypot(even[..., 1], even[..., 2])
    grow = np.expm1(_S_C * chroma) / (_S_C * np.maximum(chroma, 1e-9))
    grow = np.where(chroma > 1e-6, grow, 1.0)
    stretched, b = even[..., 1] * grow, even[..., 2] * grow
    a = stretched
    for _ in range(
        40
    ):  # half a step at a time: G falls so fast near chroma 25 that whole ones swing
        a = (a + stretched / (1 + _grey_stretch(np.hypot(a, b)))) / 2
    return np.stack([np.interp(even[..., 0], _EVEN, _KNOTS), a, b], axis=-1)

"""Whether a colour lies at the edge of what a camera's file can hold."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from jartide.colour.spaces import lab_to_linear

# Below this share of the strongest channel the weakest is as good as nothing.
_NOTHING = 0.035
_LEAST_CHROMA = 16.0
_FULL = 0.98


def at_gamut_edge(lab: Sequence[float]) -> bool:
    """Return whether one Lab lies on or beyond the surface of sRGB, the files' colour space.

    A pigment beyond it (deep blue-greens above all) is stored as the nearest colour
    there is: a channel at nothing or full while the colour is clearly no grey.
    """
    linear = lab_to_linear(lab)
    if float(np.hypot(lab[1], lab[2])) < _LEAST_CHROMA:
        return False
    return bool(linear.min() < _NOTHING * linear.max() or linear.max() > _FULL)

"""What the colours of all layers moved by together: the light, or what two corrections are off by.

A grey in the photo leaves every colour of it off in much the same way. That is no paint: it is told
apart from a layer's own colour by what the other layers say, and told once for all of them.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.stats import chi

from jartide.boards.match import LayerMatch
from jartide.reading.result import Reading

# Three dimensions: a radius that holds 90 % is so many deviations of one.
RADIUS_SD = 2.5
# Two photos of one camera err alike in part; what they differ by is this share of what each errs
# by itself. A working value.
_NOT_ALIKE = 0.6
# A common shift less likely than this by the corrections alone is taken for paint.
_PAINT = 0.05
# Every layer's own shift is known no better than this, CIEDE2000.
_LEAST_SD = 0.25
# The least number of layers that tell what they have in common.
_LEAST_LAYERS = 2


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class CommonColour:
    """What all colours moved by from target to board.

    Attributes
    ----------
    shift : (3,) Lab, share-weighted median over the layers, none counting as one of them
    deviation : of the shift by chance, CIEDE2000, one standard deviation of one dimension
    is_light : whether chance and corrections explain it: then it is no layer's own
    """

    shift: np.ndarray
    deviation: float
    is_light: bool


def own_deviation(lab_de00: float, common_de00: float) -> float:
    """The deviation of a layer's colour by itself, the photo's correction aside, CIEDE2000."""
    return max(float(max(lab_de00**2 - common_de00**2, 0.0) ** 0.5) / RADIUS_SD, _LEAST_SD)


def common_colour(target: Reading, board: Reading, match: LayerMatch) -> CommonColour | None:
    """Return what the matched layers' colours moved by together; None where too few tell."""
    shifts, weights = [], []
    for i, j in match.pairs:
        a, b = target.layers[i], board.layers[j]
        if a.lab is not None and b.lab is not None:
            shifts.append(match.board_lab[j] - np.array(a.shown_lab))
            weights.append(np.sqrt((a.coverage.value or 0.0) * (b.coverage.value or 0.0)) ** 0.5)
    if len(shifts) < _LEAST_LAYERS:
        return None
    # That nothing moved is as likely as what one more layer would say.
    moved = np.array([*shifts, np.zeros(3)])
    weight = np.array([*weights, float(np.mean(weights))])
    shift = np.array([_weighted_median(moved[:, axis], weight) for axis in range(3)])
    both = _NOT_ALIKE * float(np.hypot(target.common_de00, board.common_de00)) / RADIUS_SD
    deviation = max(both, _LEAST_SD)
    chance = float(chi.sf(float(np.linalg.norm(shift)) / deviation, 3))
    return CommonColour(shift=shift, deviation=deviation, is_light=chance > _PAINT)


def _weighted_median(values: Sequence[float] | np.ndarray, weights: np.ndarray) -> float:
    order = np.argsort(values)
    running = np.cumsum(weights[order])
    return float(np.asarray(values)[order][np.searchsorted(running, running[-1] / 2)])

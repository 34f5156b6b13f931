"""Where on a board it differs, and how much: each spot's own look against the target's looks.

The target's spots of the same size show what a spot of the finish may look like. A spot of the
board differs by how far it lies outside of that, in colour or in how much pattern it has.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from jartide.boards.eye import as_seen
from jartide.boards.seen import View, in_light
from jartide.colour.spaces import linear_to_lab

SPOT_MM = 24.0
# Looks: mean L, a, b and the deviation of L* in a spot; how much of each is just visible.
_JND = np.array([1.6, 1.6, 1.6, 1.8])
# A spot whose pattern falls under this share of the target's least is a missed spot.
_MISSED_SHARE = 0.4
_QUIET_L = 1.0


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Differs:
    """A map of just visible differences, (H, W) float32, of the board's picture as reduced.

    `missed` : (H, W) bool, where hardly any of the pattern is to be found.
    """

    jnd: np.ndarray
    missed: np.ndarray
    mm_per_px: float

    @property
    def missed_share(self) -> float:
        """How much of the board is missed."""
        return float(self.missed.mean())


def where_differs(
    target: View,
    board: View,
    viewing_m: float,
    gains: np.ndarray | None = None,
    *,
    spot_mm: float = SPOT_MM,
) -> Differs:
    """Return where the board's spots lie outside of what the target's spots look like.

    `gains`, (3,), as in `seen_differences`; `viewing_m` in metres.

    A spot is `spot_mm` wide, or a sixth of the smaller piece.
    """
    lit = in_light(board, gains)
    shortest = min(min(view.rgb_linear.shape[:2]) * view.mm_per_px for view in (target, board))
    spot_mm = min(spot_mm, shortest / 6)
    known = _looks(target.rgb_linear, target.mm_per_px, viewing_m, spot_mm)
    own = _looks(lit, board.mm_per_px, viewing_m, spot_mm)
    # Taken every half spot, so that neighbours are not counted many times.
    step = max(1, round(spot_mm / target.mm_per_px / 2))
    samples = known[step // 2 :: step, step // 2 :: step].reshape(-1, 4)
    low, high = np.quantile(samples, (0.05, 0.95), axis=0)
    middle, half = (low + high) / 2, (high - low) / 2
    beyond = np.maximum(np.abs(own - middle) - half, 0) / _JND
    jnd = np.sqrt((beyond**2).sum(axis=-1)).astype(np.float32)
    least = np.quantile(samples[:, 3], 0.02)
    missed = own[..., 3] < _MISSED_SHARE * least
    if least < _QUIET_L:
        # A finish that has quiet spots of its own has none that are missed.
        missed = np.zeros_like(missed)
    return Differs(jnd=jnd, missed=missed, mm_per_px=board.mm_per_px)


def _looks(rgb: np.ndarray, mm_per_px: float, viewing_m: float, spot_mm: float) -> np.ndarray:
    """Mean colour and deviation of L* around each pixel, (H, W, 4)."""
    lab = linear_to_lab(as_seen(rgb, mm_per_px, viewing_m)).astype(np.float32)
    side = max(3, round(spot_mm / mm_per_px)) | 1
    mean = cv2.blur(lab, (side, side), borderType=cv2.BORDER_REFLECT)
    square = cv2.blur(lab[..., 0] ** 2, (side, side), borderType=cv2.BORDER_REFLECT)
    spread = np.sqrt(np.maximum(square - mean[..., 0] ** 2, 0))
    return np.dstack([mean, spread])

"""The picture every reading starts from."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Picture:
    """A flat, upright picture of a surface.

    Attributes
    ----------
    rgb_linear : (H, W, 3) float32
        Linear light, sRGB primaries, D65. White paper lies near 0.9 once
        neutral; nothing is clipped at 1.
    mm_per_px : float or None
        Size of one pixel on the surface; None when no scale is known.
    mask : (H, W) bool or None
        True where the surface is to be read; None for everywhere.
    balance_known, exposure_known : bool
        Whether a patch of grey set the tint, and one of known lightness the exposure.
    photo_size : (width, height) of the upright original, pixels
    reduced : float
        Original pixels per pixel of this picture along one side, at least
        about 1. Averaging over that square is part of the picture's blur.
    """

    rgb_linear: np.ndarray
    photo_size: tuple[int, int]
    mm_per_px: float | None = None
    mask: np.ndarray | None = None
    balance_known: bool = False
    exposure_known: bool = False
    reduced: float = 1.0

    @property
    def shape(self) -> tuple[int, int]:
        """(H, W) in pixels."""
        return self.rgb_linear.shape[0], self.rgb_linear.shape[1]

    def valid(self) -> np.ndarray:
        """Return the mask as an (H, W) bool array, all True when there is none."""
        return np.ones(self.shape, dtype=bool) if self.mask is None else self.mask

"""The picture every reading starts from."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.photo.correct import NO_CORRECTION, Correction
from jartide.photo.even_light import LightField
from jartide.photo.settings import Sheen
from jartide.wording import Message


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
    correction : how its colours were corrected, and how far they can be trusted
    light : the falloff that was taken out, or None
    scale_error : 90 % bound of the scale's relative error, from the card; 0 when typed in
    corner_error_mm : 90 % bound of the squaring's error at the worst corner; None without card
    warnings : (code, message) of what is wrong with the photo
    sheen, metal : as the painter said
    joints_as_lines : whether joints of boards, bricks or tiles are wanted among its lines
    whole_piece : whether its borders are the edges of the piece, as far as is known
    """

    rgb_linear: np.ndarray
    photo_size: tuple[int, int]
    mm_per_px: float | None = None
    mask: np.ndarray | None = None
    balance_known: bool = False
    exposure_known: bool = False
    reduced: float = 1.0
    correction: Correction = NO_CORRECTION
    light: LightField | None = None
    scale_error: float = 0.0
    corner_error_mm: float | None = None
    warnings: tuple[tuple[str, Message], ...] = ()
    sheen: Sheen | None = None
    metal: bool = False
    whole_piece: bool = False
    joints_as_lines: bool = False

    @property
    def shape(self) -> tuple[int, int]:
        """(H, W) in pixels."""
        return self.rgb_linear.shape[0], self.rgb_linear.shape[1]

    def valid(self) -> np.ndarray:
        """Return the mask as an (H, W) bool array, all True when there is none."""
        return np.ones(self.shape, dtype=bool) if self.mask is None else self.mask

    def colour_radius(self) -> float:
        """Return the 90 % radius of what the correction leaves unsure, CIEDE2000."""
        c = self.correction
        light = 0.0 if self.light is None else 100 / 3 * self.light.log_sd * 0.6
        if not self.balance_known:
            return light  # a common change of the light is taken out where photos are compared
        lightness = c.lightness_sd if self.exposure_known else 0.0
        return float(1.6 * np.sqrt(lightness**2 + 2 * c.chroma_sd**2 + light**2))

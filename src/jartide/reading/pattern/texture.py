"""Grain, relief and dirt within the layers: how strong, how large, which way, how much is light.

They are no layers: nobody mixes a colour for them. What is finer than the eye parts from where the
piece is judged, within places that one layer covers whole, is texture. One photo can't tell a dark
grain from a shadow; it can tell how much of the pattern follows one light (see relief).
"""

from __future__ import annotations

import cv2
import numpy as np

from jartide.reading.layers.judged import TONE_BLUR
from jartide.reading.layers.layer_map import LayerMap
from jartide.reading.pattern.correlation import correlation_length
from jartide.reading.pattern.direction import lay_of_picture
from jartide.reading.pattern.relief import follows_light
from jartide.reading.result import Texture
from jartide.reading.trust.measured import (
    jackknife_half_width,
    measured,
    unknown,
)
from jartide.reading.trust.tiles import TILES, tile_of

# Less than this share of the picture seen whole says nothing of its texture.
_LEAST_WHOLE = 0.1
# More pixels than this only cost time.
_MOST_PX = 450_000
# What a camera's noise and a file's blocks are taken for, L*.
_OWN_L = 0.3


def measure_texture(lab: np.ndarray, layers: LayerMap, mm_per_px: float | None) -> Texture | None:
    """Return the texture within the layers of a picture, (H, W, 3) Lab; None where too little is
    seen whole.

    contrast_L is the standard deviation of L* less its Gaussian mean (0.6 % of the side of what was
    read) over pixels of one whole layer; size and direction are those of that difference. mottle_L
    is the standard deviation of that Gaussian mean about the layer's own.
    """
    lightness = np.ascontiguousarray(lab[..., 0])
    inside = (layers.whole & layers.valid).astype(np.uint8)
    # One pixel in from every edge between layers.
    labels = layers.labels
    inside[1:][labels[1:] != labels[:-1]] = 0
    inside[:, 1:][labels[:, 1:] != labels[:, :-1]] = 0
    step = 2 if lightness.size > _MOST_PX else 1
    if step == 2:
        lightness = cv2.resize(lightness, None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA)
        rows, columns = lightness.shape
        inside = cv2.erode(inside, np.ones((2, 2), np.uint8))[::2, ::2][:rows, :columns]
    mask = inside > 0
    if mask.mean() < _LEAST_WHOLE:
        return None
    sigma = max(TONE_BLUR * float(np.sqrt(max(int(layers.valid.sum()), 1))) / step, 1.0)
    # Against the same layer nearby, so that no other tone leans in.
    fine, coarse = np.zeros_like(lightness), np.zeros_like(lightness)
    label = labels[::step, ::step][: mask.shape[0], : mask.shape[1]]
    for k in np.unique(label[mask]):
        own = ((label == k) & mask).astype(np.float32)
        near = cv2.GaussianBlur(own, (0, 0), sigma)
        mean = cv2.GaussianBlur(own * lightness, (0, 0), sigma) / np.maximum(near, 1e-3)
        np.copyto(fine, lightness - mean, where=own > 0)
        np.copyto(coarse, mean - float(mean[own > 0].mean()), where=own > 0)
    rows, columns = np.nonzero(mask)
    tiles = tile_of(rows, columns, mask)
    count = np.bincount(tiles, minlength=TILES)
    used = np.flatnonzero(count)

    def deviation(of: np.ndarray) -> tuple[float, float]:
        """The root mean square of a difference, and half of its sampling interval."""
        power = np.bincount(tiles, of[mask].astype(float) ** 2, TILES)

        def without(keep: np.ndarray) -> float:
            return float(np.sqrt(power[used[keep]].sum() / max(count[used[keep]].sum(), 1)))

        return without(np.ones(used.size, bool)), jackknife_half_width(used, without)

    contrast, contrast_half = deviation(fine)
    mottle, mottle_half = deviation(coarse)
    lay = lay_of_picture(fine, mask)
    share, fit, _ = follows_light(fine)
    light = min(max(share * fit, 0.0), 1.0)
    return Texture(
        contrast_L=measured(contrast, float(np.hypot(_OWN_L, 0.1 * contrast)), contrast_half),
        mottle_L=measured(mottle, float(np.hypot(_OWN_L, 0.1 * mottle)), mottle_half),
        size_mm=unknown("reason.no_scale")
        if mm_per_px is None
        else correlation_length(fine, mask, mm_per_px * step),
        direction_deg=unknown("reason.no_lay")
        if lay.direction_deg.value is None
        else lay.direction_deg,
        light_share=measured(light, 0.15, 0.1),
    )

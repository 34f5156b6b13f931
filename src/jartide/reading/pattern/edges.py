"""How busy a surface is: length of the edges between its layers in a unit of area.

The length is the total variation of the soft covers (coarea formula; Federer 1959), so a soft edge
counts as much as a hard one, after a blur of one size in millimetres: what is finer than that is
left to the texture. The density of edges is the surest of all measures of size (stereology;
Baddeley & Jensen 2005): every edge tells of it, and not only whole patches.
"""

from __future__ import annotations

import cv2
import numpy as np

from jartide.reading.layers.covers import Covers
from jartide.reading.trust.measured import Measured, jackknife_half_width, unknown
from jartide.reading.trust.own_error import judged
from jartide.reading.trust.tiles import TILES, tile_of

_BLUR_MM = 0.8
# Coarser than this, millimetres a pixel, edges that far apart run together.
_COARSEST_MM = 0.8
_MM_PER_CM = 10.0


def edge_density(
    covers: Covers, count: int, valid: np.ndarray, mm_per_px: float | None
) -> Measured:
    """Return the length of edges between layers, mm in a cm2, of `count` layers.

    `valid` : (H, W) bool, what was read
    """
    if mm_per_px is None:
        return unknown("reason.no_scale")
    if mm_per_px > _COARSEST_MM:
        return unknown("reason.too_fine", px_per_mm=round(2 / _COARSEST_MM, 1))
    steps = np.zeros(valid.shape, np.float32)
    for number in range(count):
        cover = cv2.GaussianBlur(covers.of(number), (0, 0), _BLUR_MM / mm_per_px)
        # Scharr's kernel, its weights adding up to one on either side.
        across, down = (cv2.Scharr(cover, cv2.CV_32F, dx, 1 - dx, scale=1 / 32) for dx in (1, 0))
        steps += cv2.magnitude(across, down)
    # Every edge lies between two layers, and was counted with both.
    per_cm2 = 0.5 * _MM_PER_CM**2 / mm_per_px
    rows, columns = np.nonzero(valid)
    tiles = tile_of(rows, columns, valid)
    length = np.bincount(tiles, steps[valid], TILES)
    area = np.bincount(tiles, minlength=TILES).astype(float)
    used = np.flatnonzero(area)

    def density(keep: np.ndarray) -> float:
        # The last digits hang on the order in which cores have summed up.
        found = per_cm2 * float(length[used][keep].sum() / max(area[used][keep].sum(), 1.0))
        return round(found, 6)

    half = jackknife_half_width(used, density)
    return judged("edges_mm_per_cm2", density(np.ones(used.size, bool)), half)

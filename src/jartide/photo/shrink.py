"""Encoded photos made small, for finding things rather than for measuring colours."""

from __future__ import annotations

import cv2
import numpy as np


def shrunk(code: np.ndarray, size: tuple[int, int]) -> np.ndarray:
    """Return `code`, (H, W) or (H, W, 3) integers, averaged down to (width, height).

    By halves first: averaging four pixels to one is many times faster than any other ratio.
    """
    width, height = size
    while code.shape[1] >= 2 * width and code.shape[0] >= 2 * height:
        half = ((code.shape[1] + 1) // 2, (code.shape[0] + 1) // 2)
        code = cv2.resize(code, half, interpolation=cv2.INTER_AREA)
    if (code.shape[1], code.shape[0]) == size:
        return code
    return cv2.resize(code, size, interpolation=cv2.INTER_AREA)

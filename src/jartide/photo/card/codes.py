"""The set of codes on the cards, and where they are in a picture.

The codes are square binary markers of few cells (Garrido-Jurado et al. 2014,
"Automatic generation and detection of highly reliable fiducial markers under
occlusion"), read by OpenCV.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np


@lru_cache(maxsize=1)
def dictionary():
    """Return the dictionary of 4 x 4 cells: few cells carry furthest."""
    return cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_4X4_50)


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class SeenCode:
    """A code in a picture: its number and corners, (4, 2) px, clockwise from its own top left."""

    number: int
    corners: np.ndarray


def seen_codes(grey: np.ndarray, windows: tuple[int, ...]) -> list[SeenCode]:
    """Return all codes of the dictionary in a picture, (H, W) uint8.

    `windows` are the sizes, px, of the neighbourhood that local thresholds are
    taken from: a few cells of the codes looked for.
    """
    settings = cv2.aruco.DetectorParameters()
    settings.adaptiveThreshWinSizeMin = windows[0]
    settings.adaptiveThreshWinSizeMax = windows[-1]
    settings.adaptiveThreshWinSizeStep = max(1, windows[1] - windows[0]) if windows[1:] else 1
    settings.minMarkerPerimeterRate = 4 * 15 / max(grey.shape)  # 2.5 px a cell
    settings.minMarkerDistanceRate = 0.02
    # A cell is judged by its middle alone: blur fills its rim with its neighbours.
    settings.perspectiveRemovePixelPerCell = 10
    settings.perspectiveRemoveIgnoredMarginPerCell = 0.4
    settings.cornerRefinementMethod = cv2.aruco.CORNER_REFINE_NONE
    detector = cv2.aruco.ArucoDetector(dictionary(), settings)
    corners, numbers, _ = detector.detectMarkers(grey)
    if numbers is None:
        return []
    # OpenCV puts (0, 0) at the middle of a pixel, we at its corner.
    return [
        SeenCode(number=int(n), corners=c.reshape(4, 2).astype(float) + 0.5)
        for n, c in zip(np.ravel(numbers), corners, strict=True)
    ]

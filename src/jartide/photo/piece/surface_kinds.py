"""Which kind of surface each pixel of a reduced photo shows: by its colour and its roughness."""

from __future__ import annotations

import cv2
import numpy as np

KINDS = 20
# What is left out of all counts, such as the photo card.
NO_KIND = 255
_SAMPLES = 6000
# Roughness weighs as much as a colour does, hue more than lightness: light falls unevenly.
_WEIGHTS = np.array([0.7, 1.2, 1.2, 5.0], np.float32)
_ROUGH_PX = 3.0


def surface_kinds(lab: np.ndarray) -> np.ndarray:
    """Return the kind of each pixel, (H, W) uint8 below `KINDS`, of a picture in Lab, (H, W, 3)."""
    smooth = cv2.GaussianBlur(lab, (0, 0), 1.2)
    lightness = np.ascontiguousarray(lab[..., 0])
    mean = cv2.GaussianBlur(lightness, (0, 0), _ROUGH_PX)
    spread = cv2.GaussianBlur(lightness**2, (0, 0), _ROUGH_PX) - mean**2
    rough = np.log1p(np.sqrt(np.maximum(spread, 0)))
    features = np.dstack([smooth, rough]).astype(np.float32) * _WEIGHTS
    flat = features.reshape(-1, 4)
    few: np.ndarray = np.ascontiguousarray(flat[:: max(1, len(flat) // _SAMPLES)])
    cv2.setRNGSeed(7)
    rule = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 12, 0.5)
    labels = np.zeros((len(few), 1), np.int32)
    _, _, centres = cv2.kmeans(few, KINDS, labels, rule, 1, cv2.KMEANS_PP_CENTERS)
    half = (centres**2).sum(axis=1) / 2
    return (half - flat @ centres.T).argmin(axis=1).astype(np.uint8).reshape(lab.shape[:2])

"""Find in a new photo what an earlier photo shows too, and carry its scale over.

Marks both photos share (SIFT; Lowe 2004) are matched and held to one plane
(a homography found by MAGSAC, Barath et al. 2019). A length known in the
earlier photo is then a length in the new one.
"""

from __future__ import annotations

import cv2
import numpy as np

from jartide.errors import PrepareError
from jartide.photo.layout import Layout
from jartide.photo.load import Photo
from jartide.photo.settings import KnownLength, Point
from jartide.photo.shrink import shrunk
from jartide.photo.square import transform

_LONG_PX = 1600
_RATIO = 0.75
_LEAST_MATCHES = 25
_AGREE_PX = 2.5
_LEAST_SPREAD = 0.15


def length_from(earlier: Photo, layout: Layout, photo: Photo, name: str) -> KnownLength:
    """Return a known length for a photo from an earlier one of the same flat thing.

    Parameters
    ----------
    layout : how the surface lies in the earlier photo; it must have a scale
    name : what the painter calls the earlier photo

    Raises
    ------
    PrepareError : when the earlier photo has no scale, or too little is seen in both.
    """
    if layout.mm_per_unit is None:
        raise PrepareError("error.same.scale", name=name)
    here, there = _shared_points(photo, earlier)
    if len(here) < _LEAST_MATCHES or _spread(here, photo) < _LEAST_SPREAD:
        raise PrepareError("error.same.few", name=name)
    start, end = _far_apart(here)
    pair = np.array([there[start], there[end]])
    on = pair if layout.surface is None else layout.surface.to_surface(pair)
    length = float(np.hypot(*(on[1] - on[0]))) * layout.mm_per_unit
    if not np.isfinite(length) or length <= 0:
        raise PrepareError("error.same.few", name=name)
    return KnownLength(
        start=_point(here[start]), end=_point(here[end]), length_mm=round(length, 3), name=name
    )


def _point(at: np.ndarray) -> Point:
    return round(float(at[0]), 2), round(float(at[1]), 2)


def _shared_points(photo: Photo, earlier: Photo) -> tuple[np.ndarray, np.ndarray]:
    """Points, (N, 2) each, px of the originals, that both photos show and one plane explains."""
    sets = [_features(p) for p in (photo, earlier)]
    nothing = np.zeros((0, 2))
    if min(len(points) for points, _ in sets) < _LEAST_MATCHES:
        return nothing, nothing
    matcher = cv2.BFMatcher(cv2.NORM_L2)
    pairs = matcher.knnMatch(sets[0][1], sets[1][1], k=2)
    good = [p[0] for p in pairs if len(p) == 2 and p[0].distance < _RATIO * p[1].distance]
    if len(good) < _LEAST_MATCHES:
        return nothing, nothing
    here = sets[0][0][[m.queryIdx for m in good]]
    there = sets[1][0][[m.trainIdx for m in good]]
    cv2.setRNGSeed(7)
    limit = _AGREE_PX * max(max(photo.size) / _LONG_PX, 1.0)
    matrix, agree = cv2.findHomography(there, here, cv2.USAC_MAGSAC, limit, maxIters=5000)
    if matrix is None:
        return nothing, nothing
    inside = agree.ravel().astype(bool)
    # Points on the plane itself: the earlier photo's, carried over by what all agree on.
    return transform(matrix, there[inside]), there[inside]


def _features(photo: Photo) -> tuple[np.ndarray, np.ndarray]:
    code = photo.code if photo.code.dtype == np.uint8 else (photo.code >> 8).astype(np.uint8)
    ratio = min(1.0, _LONG_PX / max(photo.size))
    size = (max(8, round(photo.size[0] * ratio)), max(8, round(photo.size[1] * ratio)))
    grey = cv2.cvtColor(shrunk(code, size), cv2.COLOR_RGB2GRAY)
    sift = cv2.SIFT.create(nfeatures=4000)
    found, descriptors = sift.detectAndCompute(grey, None)
    if descriptors is None:
        return np.zeros((0, 2)), np.zeros((0, 128), np.float32)
    points = np.array([key.pt for key in found]).reshape(-1, 2)
    return (points + 0.5) * np.array(photo.size) / np.array(size), descriptors


def _spread(points: np.ndarray, photo: Photo) -> float:
    """How much of the photo's diagonal the points span, 0..1."""
    return float(np.hypot(*np.ptp(points, axis=0)) / np.hypot(*photo.size))


def _far_apart(points: np.ndarray) -> tuple[int, int]:
    """The indices of two points that lie far apart."""
    start = int(np.argmax(np.linalg.norm(points - points.mean(axis=0), axis=1)))
    end = int(np.argmax(np.linalg.norm(points - points[start], axis=1)))
    return start, end

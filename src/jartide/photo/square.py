"""Square a tilted rectangle: homographies between the original and the flat surface."""

from __future__ import annotations

import numpy as np

from jartide.errors import PrepareError
from jartide.photo.settings import Point

UNIT_SQUARE = np.array([[0, 0], [1, 0], [1, 1], [0, 1]], dtype=float)


def homography(source: np.ndarray, target: np.ndarray) -> np.ndarray:
    """Return the (3, 3) matrix that carries four `source` points, (4, 2), to `target`.

    Hartley & Zisserman 2004, section 4.1, exact for four points.
    """
    rows = []
    for (x, y), (u, v) in zip(source, target, strict=True):
        rows.append([x, y, 1, 0, 0, 0, -u * x, -u * y])
        rows.append([0, 0, 0, x, y, 1, -v * x, -v * y])
    solution = np.linalg.solve(np.array(rows, dtype=float), np.asarray(target, float).ravel())
    return np.append(solution, 1.0).reshape(3, 3)


def transform(matrix: np.ndarray, points: np.ndarray) -> np.ndarray:
    """Carry points, (..., 2), through a homography."""
    points = np.asarray(points, dtype=float)
    carried = points @ matrix[:, :2].T + matrix[:, 2]
    return carried[..., :2] / carried[..., 2:]


def check_corners(corners: tuple[Point, ...], size: tuple[int, int]) -> np.ndarray:
    """Return the corners as (4, 2), or say what is wrong with them.

    `size` is the photo's (width, height); corners may lie up to half a photo
    outside, since a board's corner is often just out of the picture.

    Raises
    ------
    PrepareError : when they are not a convex quadrilateral, clockwise from the top left.
    """
    quad = np.asarray(corners, dtype=float)
    if quad.shape != (4, 2) or not np.all(np.isfinite(quad)):
        raise PrepareError("error.corners.count")
    reach = 0.5 * np.array(size)
    if np.any(quad < -reach) or np.any(quad > np.array(size) + reach):
        raise PrepareError("error.corners.far")
    sides = np.roll(quad, -1, axis=0) - quad
    following = np.roll(sides, -1, axis=0)
    turns = sides[:, 0] * following[:, 1] - sides[:, 1] * following[:, 0]
    if np.all(turns < 0):
        raise PrepareError("error.corners.turned")
    if not np.all(turns > 0):
        raise PrepareError("error.corners.crossed")
    if np.abs(sides).max(axis=1).min() < 8:
        raise PrepareError("error.corners.close")
    return quad


def aspect_ratio(corners: np.ndarray, size: tuple[int, int]) -> float:
    """Return width / height of the rectangle behind four image corners, (4, 2).

    Assumes square pixels and the lens axis at the photo's middle. Zhang & He
    2007, "Whiteboard scanning and image enhancement", section 3. Where the
    corners are nearly a parallelogram the focal length can't be told, and the
    mean side lengths are used.
    """
    centre = np.array(size) / 2
    # The paper numbers corners: 1 top left, 2 top right, 3 bottom left, 4 bottom right.
    m1, m2, m4, m3 = (np.append(p - centre, 1.0) for p in corners)
    k2 = np.dot(np.cross(m1, m4), m3) / np.dot(np.cross(m2, m4), m3)
    k3 = np.dot(np.cross(m1, m4), m2) / np.dot(np.cross(m3, m4), m2)
    n2, n3 = k2 * m2 - m1, k3 * m3 - m1
    sides = np.linalg.norm(np.roll(corners, -1, axis=0) - corners, axis=1)
    by_sides = (sides[0] + sides[2]) / (sides[1] + sides[3])
    vanishing = n2[2] * n3[2]
    if abs(k2 - 1) < 0.03 or abs(k3 - 1) < 0.03 or vanishing == 0:
        return float(by_sides)
    focal_2 = -(n2[0] * n3[0] + n2[1] * n3[1]) / vanishing
    if not 0.3 < np.sqrt(max(focal_2, 0)) / max(size) < 6:  # no camera's focal length
        return float(by_sides)
    weigh = np.array([1 / focal_2, 1 / focal_2, 1.0])
    return float(np.sqrt((n2**2 @ weigh) / (n3**2 @ weigh)))

"""Square a plane by two level and two upright lines on it, where no rectangle is known."""

from __future__ import annotations

import numpy as np

from jartide.errors import PrepareError
from jartide.photo.settings import Segment, VanishingLines


def _line(segment: Segment) -> np.ndarray:
    (x0, y0), (x1, y1) = segment
    if np.hypot(x1 - x0, y1 - y0) < 8:
        raise PrepareError("error.lines.close")
    return np.cross([x0, y0, 1.0], [x1, y1, 1.0])


def plane_from_lines(
    lines: VanishingLines, size: tuple[int, int], focal_px: float, focal_known: bool
) -> np.ndarray:
    """Return the homography, (3, 3), from pixels to the plane, up to scale.

    The two vanishing points give the plane's normal. Where the file tells no
    focal length they give that too, if both lie within reach (Hartley &
    Zisserman 2004, sections 8.6 and 8.8). The surface's unit is the pixel at
    the middle of the photo.

    Raises
    ------
    PrepareError : when the lines don't make sense together.
    """
    middle = np.array([size[0] / 2, size[1] / 2])
    to_middle = np.array([[1, 0, -middle[0]], [0, 1, -middle[1]], [0, 0, 1.0]])
    # Normalised, so that points at infinity and near ones are numbers alike.
    unit = np.diag([1 / max(size), 1 / max(size), 1.0]) @ to_middle
    lines_to = np.linalg.inv(unit).T
    level = np.cross(*(lines_to @ _line(s) for s in lines.level))
    upright = np.cross(*(lines_to @ _line(s) for s in lines.upright))
    focal = focal_px / max(size)
    if not focal_known and abs(level[2]) > 1e-9 and abs(upright[2]) > 1e-9:
        a, b = level[:2] / level[2], upright[:2] / upright[2]
        squared = -float(a @ b)
        if 0.3 < np.sqrt(max(squared, 0)) < 6:
            focal = np.sqrt(squared)
    across = np.array([*(level[:2] / focal), level[2]])
    down = np.array([*(upright[:2] / focal), upright[2]])
    across /= np.linalg.norm(across)
    down /= np.linalg.norm(down)
    angle = np.degrees(np.arccos(np.clip(abs(across @ down), 0, 1)))
    if angle < 30:
        raise PrepareError("error.lines.alike")
    if across[0] < 0:
        across = -across
    if down[1] < 0:
        down = -down
    normal = np.cross(across, down)
    normal /= np.linalg.norm(normal)
    # What is left of a right angle is the marks' error: shared between both.
    down = np.cross(normal, across)
    # The plane at distance 1 along the middle ray.
    if abs(normal[2]) < 0.15:
        raise PrepareError("error.lines.steep")
    origin = np.array([0, 0, 1.0])
    plane_to_unit = np.diag([focal, focal, 1.0]) @ np.column_stack([across, down, origin])
    scale = np.diag([focal * max(size), focal * max(size), 1.0])
    return scale @ np.linalg.inv(plane_to_unit) @ unit

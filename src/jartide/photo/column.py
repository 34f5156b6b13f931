"""Unroll a column or pot: a cylinder seen by its two edges, with its diameter or height."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.errors import PrepareError
from jartide.photo.flatten import Extent
from jartide.photo.settings import Column
from jartide.photo.square import homography, transform

# Beyond this angle from the middle a surface is seen too flatly to read.
USABLE_DEG = 55.0
_STRIP = np.array([[-1, 0], [1, 0], [1, 1], [-1, 1]], dtype=float)


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class ColumnMap:
    """A cylinder.

    The silhouette plane, through both edges, is squared first: across it runs
    from -1 to 1. Seen from D radii, a point at angle t from the middle is seen
    at sin t / (D - cos t), an edge at 1 / sqrt(D^2 - 1). Nearer than the edges
    by D - cos t against D - 1/D, it also stands off the camera's height by more.

    Attributes
    ----------
    to_strip : (3, 3) from pixels to the silhouette plane
    away : distance of the camera from the axis, in radii
    radius, length : of the cylinder, in the surface's unit
    eye : the camera's height along the strip, 0 at its top and 1 at its foot
    """

    to_strip: np.ndarray
    away: float
    radius: float
    length: float
    eye: float

    def to_surface(self, px: np.ndarray) -> np.ndarray:
        """Return arc length from the middle and along the axis, (N, 2); NaN off the column."""
        strip = transform(self.to_strip, np.asarray(px, float))
        edge = strip[..., 0]
        d = self.away
        # tan of the view angle, from its value at the edge, where sin = 1/d.
        tangent = edge / np.sqrt(d**2 - 1)
        view = np.arctan(tangent)
        with np.errstate(invalid="ignore"):
            angle = np.arcsin(d * np.sin(view)) - view
        nearer = (d - np.cos(angle)) / (d - 1 / d)
        along = self.eye + (strip[..., 1] - self.eye) * nearer
        return np.stack([self.radius * angle, along * self.length], axis=-1)

    def to_photo(self, points: np.ndarray) -> np.ndarray:
        """Return where surface points, (N, 2), lie in the photo, px; NaN round the back."""
        points = np.asarray(points, float)
        angle = points[..., 0] / self.radius
        d = self.away
        seen = np.cos(angle) > 1 / d
        tangent = np.sin(angle) / np.where(seen, d - np.cos(angle), 1.0)
        edge = np.where(seen, tangent * np.sqrt(d**2 - 1), np.nan)
        nearer = (d - np.cos(angle)) / (d - 1 / d)
        along = self.eye + (points[..., 1] / self.length - self.eye) / nearer
        strip = np.stack([edge, along], axis=-1)
        return transform(np.linalg.inv(self.to_strip), strip)

    def extent(self) -> Extent:
        """Return the part that is seen well enough to read."""
        half = self.radius * np.radians(USABLE_DEG)
        return Extent(left=-half, top=0.0, width=2 * half, height=self.length)


def column_map(column: Column, focal_px: float, size: tuple[int, int]) -> tuple[ColumnMap, bool]:
    """Return the map of a column, and whether its unit is the millimetre.

    Raises
    ------
    PrepareError : when the edges cross, touch or are too short.
    """
    quad = np.array([column.left[0], column.right[0], column.right[1], column.left[1]], float)
    sides = np.roll(quad, -1, axis=0) - quad
    following = np.roll(sides, -1, axis=0)
    turns = sides[:, 0] * following[:, 1] - sides[:, 1] * following[:, 0]
    if not np.all(turns > 0) or np.abs(sides).max(axis=1).min() < 16:
        raise PrepareError("error.column.edges")
    for value in (column.diameter_mm, column.height_mm):
        if value is not None and not 1 <= value < 1e5:
            raise PrepareError("error.column.size")
    across = (np.linalg.norm(sides[0]) + np.linalg.norm(sides[2])) / 2
    along = (np.linalg.norm(sides[1]) + np.linalg.norm(sides[3])) / 2
    # Half the width in the picture is the focal length times the tangent of the edge's
    # angle, whose sine is one radius over the distance.
    away = float(max(1.0 / np.sin(np.arctan(across / 2 / focal_px)), 1.5))
    # The edges are nearer than the axis: the strip between them is this wide, in radii.
    strip_width = 2 * np.sqrt(1 - 1 / away**2)
    radius, length = 1.0, strip_width * along / across
    known = False
    if column.diameter_mm is not None:
        radius = column.diameter_mm / 2
        length = column.height_mm or length * radius
        known = True
    elif column.height_mm is not None:
        radius = column.height_mm / length
        length = column.height_mm
        known = True
    to_strip = homography(quad, _STRIP)
    mapped = ColumnMap(
        to_strip=to_strip,
        away=away,
        radius=float(radius),
        length=float(length),
        eye=float(transform(to_strip, np.array(size) / 2)[1]),
    )
    return mapped, known

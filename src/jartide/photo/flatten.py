"""How a surface lies in the photo: maps between original pixels and the flat surface.

A map's surface unit is the millimetre when the scale is known; otherwise it is
any length, the same in both directions.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

import numpy as np

from jartide.photo.lens import Lens
from jartide.photo.square import transform


class SurfaceMap(Protocol):
    """Carries points, (..., 2), between the photo and the flat surface."""

    def to_surface(self, px: np.ndarray) -> np.ndarray:
        """Return where points of the photo, (N, 2) px, lie on the surface, in its own units."""
        ...

    def to_photo(self, points: np.ndarray) -> np.ndarray:
        """Return where points of the surface, (N, 2), lie in the photo; NaN where unseen."""
        ...


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class PlaneMap:
    """A flat surface.

    `matrix` (3, 3) leads from pixels to the surface; with a `lens`, from the
    tangents of its rays.
    """

    matrix: np.ndarray
    lens: Lens | None = None

    def to_surface(self, px: np.ndarray) -> np.ndarray:
        """Return where points of the photo, (N, 2) px, lie on the surface, in its own units."""
        rays = np.asarray(px, float) if self.lens is None else self.lens.undistort(px)
        return transform(self.matrix, rays)

    def to_photo(self, points: np.ndarray) -> np.ndarray:
        """Return where points of the surface, (N, 2), lie in the photo; NaN behind the camera."""
        points = np.asarray(points, float)
        back = np.linalg.inv(self.matrix)
        carried = points @ back[:, :2].T + back[:, 2]
        # Points on the camera's side of the horizon have the sign of the seen ones.
        depth = carried[..., 2:] * np.sign(np.linalg.det(back))
        with np.errstate(divide="ignore", invalid="ignore"):
            rays = np.where(depth > 1e-12, carried[..., :2] / carried[..., 2:], np.nan)
        return rays if self.lens is None else self.lens.distort(rays)


@dataclass(frozen=True, slots=True, kw_only=True)
class Extent:
    """The part of the surface a picture shows, in the surface's unit."""

    left: float
    top: float
    width: float
    height: float

    def corners(self) -> np.ndarray:
        """Return the corners, (4, 2), clockwise from the top left."""
        x, y, w, h = self.left, self.top, self.width, self.height
        return np.array([[x, y], [x + w, y], [x + w, y + h], [x, y + h]])


def px_per_unit(surface: SurfaceMap, points: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return (least, most) original pixels per surface unit at surface points, (N, 2)."""
    points = np.asarray(points, float)
    reach = 1e-3 * max(float(np.ptp(points, axis=0).max()), 1e-9)
    at = surface.to_photo(points)
    jacobian = np.stack(
        [(surface.to_photo(points + step) - at) / reach for step in (np.eye(2) * reach)], axis=-1
    )
    jacobian = np.nan_to_num(jacobian)
    values = np.linalg.svd(jacobian, compute_uv=False)
    return values[:, 1], values[:, 0]


def seen_extent(surface: SurfaceMap, size: tuple[int, int], steepest: float) -> Extent | None:
    """Return the part of a plane a photo shows well: where it is no coarser than
    1/`steepest` of its finest; None when there is no such part.
    """
    x = np.linspace(0.5, size[0] - 0.5, 41)
    y = np.linspace(0.5, size[1] - 0.5, 41)
    grid = np.stack(np.meshgrid(x, y), axis=-1).reshape(-1, 2)
    on = surface.to_surface(grid)
    # Behind the horizon the way there and back does not meet.
    back = surface.to_photo(on)
    seen = np.all(np.isfinite(back), axis=1) & (np.nan_to_num(np.abs(back - grid)).max(axis=1) < 1)
    if seen.sum() < 9:
        return None
    step = 1.0
    ahead = surface.to_surface(grid + [step, 0]) - on
    down = surface.to_surface(grid + [0, step]) - on
    cross = np.abs(ahead[:, 0] * down[:, 1] - ahead[:, 1] * down[:, 0])
    coarse = np.sqrt(cross)
    good = seen & (coarse > 0) & (coarse < steepest * np.quantile(coarse[seen], 0.02))
    if good.sum() < 9:
        return None
    low, high = on[good].min(axis=0), on[good].max(axis=0)
    return Extent(left=low[0], top=low[1], width=high[0] - low[0], height=high[1] - low[1])

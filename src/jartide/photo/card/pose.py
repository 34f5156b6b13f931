"""Where the camera stood: pose, focal length and distortion from the card's edges.

Least squares on the distances of seen edge points from their projected places,
with what is known beforehand of the lens as further residuals, so that a small
card, which can't tell the focal length, does not invent one. The covariance
says how far the plane may be off anywhere on it.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from scipy.optimize import least_squares

from jartide.photo.card.edges import EdgePoints
from jartide.photo.lens import DISTORTION_SPREAD, FocalGuess, Lens

# An edge point's own error, px, and what neighbours on one edge have in common:
# lens, print and interpolation leave up to this much that no averaging removes.
_POINT_PX = 0.07
_SHARED_PX = 0.016


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Pose:
    """The camera over the card.

    Attributes
    ----------
    rotation : (3,) rotation vector from card to camera
    shift : (3,) the card's origin in the camera's frame, mm
    lens : Lens
    covariance : (8, 8) of rotation, shift, log focal, k1
    residual_px : root mean square distance of edge points from their places
    spread_px : how far the black shapes reach beyond their drawn edges: ink, blur, tone curve
    """

    rotation: np.ndarray
    shift: np.ndarray
    lens: Lens
    covariance: np.ndarray
    residual_px: float
    spread_px: float = 0.0

    def turn(self) -> np.ndarray:
        """Return the rotation as a matrix, (3, 3)."""
        return cv2.Rodrigues(self.rotation)[0]

    def project(self, points_mm: np.ndarray, height_mm: float = 0.0) -> np.ndarray:
        """Return where points, (..., 2) mm, fall in the photo, px.

        `height_mm` is how far their plane lies below the card's face, away from the camera.
        """
        return _project(self._vector(), np.asarray(points_mm, float), self.lens.centre, height_mm)

    def _vector(self) -> np.ndarray:
        return np.concatenate(
            [self.rotation, self.shift, [np.log(self.lens.focal_px), self.lens.k1]]
        )

    def homography(self, height_mm: float = 0.0) -> np.ndarray:
        """Return the matrix, (3, 3), from plane mm to the rays' tangents (before the lens)."""
        turn = self.turn()
        return np.column_stack([turn[:, 0], turn[:, 1], turn[:, 2] * height_mm + self.shift])

    def tilt_deg(self) -> float:
        """Return the angle between the view and the plane's normal, at the card."""
        return float(np.degrees(np.arccos(np.clip(abs(self.turn()[2, 2]), 0, 1))))

    def error_px(self, points_mm: np.ndarray) -> np.ndarray:
        """Return the 90 % radius of the error with which `project` places points, (N,) px."""
        slopes = self._slopes(np.asarray(points_mm, float), 0.0)
        spread = slopes @ self.covariance @ slopes.transpose(0, 2, 1)
        return 2.0 * np.sqrt(np.linalg.eigvalsh(spread)[:, -1])

    def _slopes(self, points_mm: np.ndarray, height_mm: float) -> np.ndarray:
        """Change of the projected points with each of the eight numbers, (N, 2, 8)."""
        return _slopes(self._vector(), points_mm, self.lens.centre, height_mm)

    def error_mm(self, points_mm: np.ndarray, height_mm: float = 0.0) -> np.ndarray:
        """Return the 90 % radius of the plane's error at points, (N, 2) mm -> (N,) mm."""
        points_mm = np.asarray(points_mm, float)
        vector, centre = self._vector(), self.lens.centre
        base = _project(vector, points_mm, centre, height_mm)
        slopes = self._slopes(points_mm, height_mm)
        # From px in the photo to mm on the plane.
        jacobian = np.empty((len(points_mm), 2, 2))
        for axis in range(2):
            shift = np.zeros(2)
            shift[axis] = 0.01
            moved_px = _project(vector, points_mm + shift, centre, height_mm)
            jacobian[..., axis] = (moved_px - base) / 0.01
        on_plane = np.linalg.solve(jacobian, slopes)
        spread = on_plane @ self.covariance @ on_plane.transpose(0, 2, 1)
        # Of a two-dimensional error with these variances, 90 % lie within about 1.9 of the
        # longer axis when it is narrow and 2.15 when it is round.
        return 2.0 * np.sqrt(np.linalg.eigvalsh(spread)[:, -1])


def _project(
    vector: np.ndarray, points_mm: np.ndarray, centre: tuple[float, float], height_mm: float
) -> np.ndarray:
    turn = cv2.Rodrigues(vector[:3])[0]
    solid = points_mm @ turn[:, :2].T + turn[:, 2] * height_mm + vector[3:6]
    ray = solid[..., :2] / np.maximum(solid[..., 2:], 1e-6)
    return Lens(focal_px=float(np.exp(vector[6])), k1=float(vector[7]), centre=centre).distort(ray)


def _slopes(
    vector: np.ndarray, points_mm: np.ndarray, centre: tuple[float, float], height_mm: float
) -> np.ndarray:
    """Derivatives of `_project` by the eight numbers, (N, 2, 8)."""
    if len(points_mm) == 0:  # OpenCV knows no answer for none
        return np.zeros((0, 2, 8))
    focal = float(np.exp(vector[6]))
    camera = np.array([[focal, 0, centre[0]], [0, focal, centre[1]], [0, 0, 1]])
    solid = np.column_stack([points_mm, np.full(len(points_mm), height_mm)])
    distortion = np.array([vector[7], 0, 0, 0.0])
    _, jacobian = cv2.projectPoints(solid, vector[:3], vector[3:6], camera, distortion)
    # OpenCV's columns: turn, shift, both focal lengths, centre, k1 and further distortion.
    of_focal = (jacobian[:, 6:7] + jacobian[:, 7:8]) * focal
    return np.concatenate([jacobian[:, :6], of_focal, jacobian[:, 10:11]], axis=1).reshape(-1, 2, 8)


def first_pose(
    card_mm: np.ndarray, seen_px: np.ndarray, size: tuple[int, int], guess: FocalGuess
) -> list[Pose]:
    """Return the one or two poses that corners of codes, (N, 2) each, allow.

    A plane seen small and nearly square on can lean either way (Collins &
    Bartoli 2014, "Infinitesimal plane-based pose estimation").
    """
    centre = (size[0] / 2, size[1] / 2)
    camera = np.array([[guess.focal_px, 0, centre[0]], [0, guess.focal_px, centre[1]], [0, 0, 1]])
    solid = np.column_stack([card_mm, np.zeros(len(card_mm))])
    found, turns, shifts, _ = cv2.solvePnPGeneric(
        solid, seen_px.reshape(-1, 1, 2), camera, None, flags=cv2.SOLVEPNP_IPPE
    )
    lens = Lens(focal_px=guess.focal_px, k1=0.0, centre=centre)
    return [
        Pose(
            rotation=turns[n].ravel(),
            shift=shifts[n].ravel(),
            lens=lens,
            covariance=np.eye(8),
            residual_px=float("inf"),
        )
        for n in range(found)
        if shifts[n].ravel()[2] > 0
    ]


def refine_pose(start: Pose, edges: EdgePoints, guess: FocalGuess) -> Pose:
    """Return the pose that fits the edge points best, with its covariance."""
    centre = start.lens.centre
    # Points of one edge share errors: each edge counts for no more than it can tell.
    counts = np.bincount(edges.edge, minlength=1)[edges.edge]
    sigma = np.sqrt(_POINT_PX**2 + counts * _SHARED_PX**2)

    def residuals(vector: np.ndarray) -> np.ndarray:
        off = _project(vector, edges.card_mm, centre, 0.0) - edges.seen_px
        across = (np.sum(off * edges.normal, axis=1) + vector[8]) / sigma
        focal = (vector[6] - np.log(guess.focal_px)) / guess.spread
        return np.concatenate([across, [focal, vector[7] / DISTORTION_SPREAD]])

    def slopes(vector: np.ndarray) -> np.ndarray:
        of_points = _slopes(vector, edges.card_mm, centre, 0.0)
        across = np.einsum("nkj,nk->nj", of_points, edges.normal)
        rows = np.zeros((len(sigma) + 2, 9))
        rows[:-2, :8] = across / sigma[:, None]
        rows[:-2, 8] = 1 / sigma
        rows[-2, 6], rows[-1, 7] = 1 / guess.spread, 1 / DISTORTION_SPREAD
        return rows

    # Steps of one kind: angles in radians, distances relative to the camera's.
    scale = np.array([0.01] * 3 + [0.01 * abs(start.shift[2])] * 3 + [0.02, 0.005, 0.1])
    first = np.append(start._vector(), start.spread_px)
    found = least_squares(
        residuals, first, slopes, x_scale=scale, loss="soft_l1", f_scale=2.5, max_nfev=60, xtol=1e-7
    )
    across = found.fun[:-2] * sigma
    residual = float(np.sqrt(np.mean(np.minimum(np.abs(across), 1.0) ** 2)))
    information = found.jac.T @ found.jac
    worse = max(1.0, float(np.mean(np.minimum(found.fun[:-2] ** 2, 16))))
    covariance = np.linalg.inv(information + 1e-12 * np.diag(np.diag(information))) * worse
    return Pose(
        rotation=found.x[:3],
        shift=found.x[3:6],
        lens=Lens(focal_px=float(np.exp(found.x[6])), k1=float(found.x[7]), centre=centre),
        covariance=covariance[:8, :8],
        residual_px=residual,
        spread_px=float(found.x[8]),
    )

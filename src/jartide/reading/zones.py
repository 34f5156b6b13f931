"""Zones of a piece: field, ridges, hollows, edges, or a part of another family."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import cv2
import numpy as np

EDGE_SHARE = 0.08
_LEAST_SHARE = 0.01


class ZoneKind(StrEnum):
    """What part of a piece a zone is."""

    FIELD = "field"
    RIDGES = "ridges"
    HOLLOWS = "hollows"
    EDGES = "edges"
    OTHER = "other"


Point = tuple[float, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Zone:
    """One zone of the squared surface.

    Attributes
    ----------
    outlines : closed outlines in shares of its width and height, from the top left; a
        point is in the zone when it lies within an odd number of them
    family : of the finish there; None for the piece's own
    without : name of the pass that this field of a board was left without; "" for none
    """

    kind: ZoneKind
    name: str = ""
    outlines: tuple[tuple[Point, ...], ...]
    family: str | None = None
    without: str = ""

    def mask(self, shape: tuple[int, ...]) -> np.ndarray:
        """Return where the zone lies, (H, W) bool."""
        height, width = shape[:2]
        inside = np.zeros((height, width), np.uint8)
        rings = [
            np.rint(np.array(ring) * (width, height) * 16).astype(np.int32)
            for ring in self.outlines
            if len(ring) >= 3
        ]
        if rings:
            cv2.fillPoly(inside, rings, 1, 8, 4)
        return inside > 0


def edge_zone(share: float = EDGE_SHARE) -> Zone:
    """Return the band along all four edges, `share` of the smaller side wide."""
    outer: tuple[Point, ...] = ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0))
    inner = tuple((min(max(x, share), 1 - share), min(max(y, share), 1 - share)) for x, y in outer)
    return Zone(kind=ZoneKind.EDGES, outlines=(outer, inner))


def shares_in(
    labels: np.ndarray, valid: np.ndarray, inside: np.ndarray, count: int
) -> tuple[float, np.ndarray]:
    """Return how much of the piece a zone is, and the layers' shares in it, (K,)."""
    own = valid & inside
    share = float(own.sum() / max(int(valid.sum()), 1))
    counts = np.bincount(labels[own], minlength=count)[:count].astype(float)
    return share, counts / max(counts.sum(), 1)


def large_enough(share: float) -> bool:
    """Whether a zone is large enough, as a share of the piece, to be read."""
    return share >= _LEAST_SHARE

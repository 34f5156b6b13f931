"""Find the card's edges in a photo to a small fraction of a pixel.

Along every straight edge of the card's black shapes, short profiles are taken
across the expected place; the edge lies at the centroid of the profile's slope.
A blurred bar's two edges are pushed apart alike, and a code's four sides
outward alike, so that the plane they tell stays where it is.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np

from jartide.photo.card.design import Card

# Profiles per edge at most, and the spacing they have along it, px.
_MOST = 48
_SPACING_PX = 1.5
_STEP_PX = 0.25

Project = Callable[[np.ndarray], np.ndarray]


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class EdgePoints:
    """Places of edges: on the card, mm (N, 2); seen in the photo, px (N, 2); normals (N, 2)."""

    card_mm: np.ndarray
    seen_px: np.ndarray
    normal: np.ndarray
    edge: np.ndarray

    def kept(self, which: np.ndarray) -> EdgePoints:
        """Return the points that a boolean (N,) picks."""
        return EdgePoints(
            card_mm=self.card_mm[which],
            seen_px=self.seen_px[which],
            normal=self.normal[which],
            edge=self.edge[which],
        )


def find_edges(light: np.ndarray, card: Card, scale: float, project: Project) -> EdgePoints:
    """Measure where the card's edges are.

    Parameters
    ----------
    light : (H, W) float32 linear light of the photo
    card : its design; `scale` is printed over nominal size
    project : from card mm, (N, 2), to photo px, as well as it is known
    """
    points, outward, reach, edge = _edge_samples(card, scale, project)
    at = project(points)
    ahead = project(points + outward * 0.2 * card.cell_mm)
    normal = ahead - at
    cell_px = np.linalg.norm(normal, axis=1) / 0.2
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-9)
    # An edge lies square to its own direction in the picture, not to the card's.
    along = project(points + outward[:, ::-1] * np.array([-1, 1]) * 0.2 * card.cell_mm) - at
    along /= np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-9)
    square = np.stack([-along[:, 1], along[:, 0]], axis=1)
    normal = square * np.sign(np.sum(square * normal, axis=1, keepdims=True))

    half = np.clip(0.5 * reach * cell_px, 1.25, 4.0)
    t = np.arange(-4.5, 4.5 + 1e-9, _STEP_PX)
    lines = at[:, None, :] + t[None, :, None] * normal[:, None, :]
    height, width = light.shape
    inside = np.all((lines > 1) & (lines < np.array([width, height]) - 1), axis=(1, 2))
    profile = cv2.remap(
        light,
        (lines[..., 0] - 0.5).astype(np.float32),
        (lines[..., 1] - 0.5).astype(np.float32),
        cv2.INTER_CUBIC,
        borderMode=cv2.BORDER_REPLICATE,
    )
    slope = np.gradient(profile, _STEP_PX, axis=1)  # outward from black to white: positive
    offset = np.zeros(len(at))
    swing = np.zeros(len(at))
    for _ in range(3):
        near = np.abs(t[None, :] - offset[:, None]) <= half[:, None]
        weight = np.where(near, np.maximum(slope, 0), 0)
        swing = weight.sum(axis=1) * _STEP_PX
        offset = np.clip((weight * t).sum(axis=1) / np.maximum(weight.sum(axis=1), 1e-9), -3, 3)
    typical = np.median(swing[inside]) if inside.any() else 0.0
    bright = float(np.quantile(profile[inside], 0.9)) if inside.any() else 1.0
    good = inside & (swing > max(0.4 * typical, 0.15 * bright)) & (np.abs(offset) < 2.75)
    return EdgePoints(
        card_mm=points[good],
        seen_px=(at + offset[:, None] * normal)[good],
        normal=normal[good],
        edge=edge[good],
    )


def _edge_samples(
    card: Card, scale: float, project: Project
) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """Points along all edges, mm; outward normals; free reach in cells; edge numbers."""
    points, outward, reach, number = [], [], [], []
    boxes = card.solids()
    for n, box in enumerate(boxes):
        corners = box.corners() * scale
        thickness = min(box.w, box.h) / card.cell_mm
        for side in range(4):
            start, end = corners[side], corners[(side + 1) % 4]
            length = float(np.linalg.norm(end - start))
            if length < 1.5 * card.cell_mm * scale:
                continue  # the short ends of bars
            seen = np.linalg.norm(np.diff(project(np.array([start, end])), axis=0))
            count = int(np.clip(seen / _SPACING_PX, 4, _MOST))
            # Corners are rounded by the blur: keep off them.
            share = (
                np.linspace(0.12, 0.88, count) if thickness > 1 else np.linspace(0.03, 0.97, count)
            )
            points.append(start + share[:, None] * (end - start))
            direction = (end - start) / length
            outward.append(np.tile([direction[1], -direction[0]], (count, 1)))
            reach.append(np.full(count, 1.0))
            number.append(np.full(count, 4 * n + side))
    return (
        np.concatenate(points),
        np.concatenate(outward),
        np.concatenate(reach),
        np.concatenate(number),
    )

"""Drawn lines: veins as wandering strokes of varying width, and their truth.

A stroke is a chain of points with a width at each. Its cover is a function of
the distance to the nearest point, so widths and edges are exact by geometry.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.ndimage import gaussian_filter1d
from scipy.spatial import cKDTree

from jartide.studio.noise import smoothstep

STEP_MM = 0.25


@dataclass(frozen=True, slots=True, kw_only=True)
class Hand:
    """How a set of strokes is drawn. Lengths in mm, angles counter-clockwise degrees."""

    per_dm2: float
    width_mm: float
    width_spread: float = 0.28
    length_mm: float = 120.0
    direction_deg: float = 60.0
    spread_deg: float = 14.0
    wander_deg: float = 16.0
    softness_mm: float = 0.5
    forks: float = 0.6
    breaks: float = 0.15
    ragged_mm: float = 0.5


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Strokes:
    """Points of all strokes of one set: (N,) each, with x right and y down in mm.

    `chain` is the number of the stroke; one that begins on another is a fork of it.
    """

    x: np.ndarray
    y: np.ndarray
    width: np.ndarray
    heading_deg: np.ndarray
    strength: np.ndarray
    step_mm: np.ndarray
    chain: np.ndarray
    softness_mm: float

    def cover(self, shape: tuple[int, int], mm_per_px: float) -> np.ndarray:
        """Return the cover, (H, W) in 0..1; one half at half the width from the centre line."""
        tree = cKDTree(np.column_stack([self.x, self.y]))
        reach = self.width.max() / 2 + self.softness_mm + mm_per_px
        # Only pixels in blocks near a point are asked: most of the surface has no line.
        near = np.zeros(shape, bool)
        block = max(1, int(reach / mm_per_px))
        for bx, by in {
            (int(px), int(py))
            for px, py in zip(self.x / mm_per_px // block, self.y / mm_per_px // block, strict=True)
        }:
            band = slice(max(0, (by - 2) * block), max(0, (by + 3) * block))
            near[band, max(0, (bx - 2) * block) : max(0, (bx + 3) * block)] = True
        rows, columns = np.nonzero(near)
        places = np.column_stack([columns + 0.5, rows + 0.5]) * mm_per_px
        # Several neighbours, since the widest of two strokes that meet decides.
        distance, index = tree.query(places, k=min(6, self.x.size), distance_upper_bound=reach)
        distance = np.atleast_2d(distance.T).T
        index = np.atleast_2d(index.T).T
        found = np.isfinite(distance)
        index = np.where(found, index, 0)
        # A smoothstep rises from 10 to 90 % over 0.608 of its whole run.
        run = self.softness_mm / 0.608
        edge = np.where(found, self.width[index] / 2 - distance, -1e6)
        value = smoothstep(edge, -run / 2, run / 2) * self.strength[index]
        cover = np.zeros(shape, np.float32)
        cover[rows, columns] = value.max(axis=1)
        return cover

    def seen_width(self) -> np.ndarray:
        """Return the full width at half of what the centre covers, (N,) mm.

        Equal to `width` unless the soft edges meet in the middle of a fine line.
        """
        run = self.softness_mm / 0.608
        peak = smoothstep(self.width / 2, -run / 2, run / 2)
        # The smoothstep's half level, by its inverse 1/2 - sin(asin(1 - 2 y) / 3).
        inverse = 0.5 - np.sin(np.arcsin(1 - peak) / 3)
        return self.width - 2 * run * (inverse - 0.5)

    def inside(self, size_mm: tuple[float, float]) -> np.ndarray:
        """True for points, (N,), on the surface whose line is at least half there."""
        width, height = size_mm
        on = (self.x >= 0) & (self.x < width) & (self.y >= 0) & (self.y < height)
        return on & (self.strength >= 0.5)


def draw_strokes(size_mm: tuple[float, float], hand: Hand, rng: np.random.Generator) -> Strokes:
    """Draw a set of strokes over a surface (width, height) and a margin around it."""
    width, height = size_mm
    margin = hand.length_mm / 2
    area_dm2 = (width + 2 * margin) * (height + 2 * margin) / 1e4
    count = max(1, round(hand.per_dm2 * area_dm2))
    # Jittered starts: painters and stone both avoid piling lines on one spot, but not evenly.
    starts = rng.uniform((-margin, -margin), (width + margin, height + margin), (count, 2))
    chains = []
    for start in starts:
        heading = hand.direction_deg + rng.normal(0, hand.spread_deg)
        if rng.random() < 0.5:
            heading += 180
        length = hand.length_mm * rng.lognormal(0, 0.4)
        thick = hand.width_mm * rng.lognormal(0, hand.width_spread)
        chain = _walk(start, heading, length, thick, hand, rng)
        chains.append(chain)
        for _ in range(rng.poisson(hand.forks)):
            at = rng.integers(len(chain) // 5, max(len(chain) // 5 + 1, 4 * len(chain) // 5))
            x, y, fat, way = chain[at, :4]
            turn = rng.choice((-1, 1)) * rng.uniform(18, 42)
            length_2 = length * rng.uniform(0.25, 0.6)
            branch_width = fat * rng.uniform(0.55, 0.85)
            chains.append(_walk((x, y), way + turn, length_2, branch_width, hand, rng))
    points = np.concatenate(chains)
    return Strokes(
        x=points[:, 0],
        y=points[:, 1],
        width=points[:, 2],
        heading_deg=points[:, 3],
        strength=points[:, 4],
        step_mm=points[:, 5],
        chain=np.repeat(np.arange(len(chains)), [len(c) for c in chains]),
        softness_mm=hand.softness_mm,
    )


def _walk(start, heading, length_mm, width_mm, hand: Hand, rng) -> np.ndarray:
    """One chain of points (n, 6): x, y, width, heading, strength, step."""
    n = max(8, int(length_mm / STEP_MM))
    # Two wanders: a slow one that bends the stroke, a quick one that makes it broken and rigid.
    turn = hand.wander_deg * (0.8 * _drift(n, 60, rng) + 0.9 * _drift(n, 9, rng))
    way = heading + turn - turn[0] * 0.5
    x = start[0] + np.cumsum(np.cos(np.radians(way))) * STEP_MM
    y = start[1] - np.cumsum(np.sin(np.radians(way))) * STEP_MM
    # A fissure is ragged: small sideways jogs, which turn the line where they are.
    jog = hand.ragged_mm * (_drift(n, 5, rng) + 0.45 * _drift(n, 1.6, rng))
    x, y = x - jog * np.sin(np.radians(way)), y - jog * np.cos(np.radians(way))
    way = np.degrees(np.arctan2(-np.gradient(y), np.gradient(x)))
    step = np.hypot(np.gradient(x), np.gradient(y))
    along = np.linspace(0, 1, n)
    taper = np.clip(np.minimum(along, 1 - along) * 8, 0.35, 1)
    swell = 0.24 * _drift(n, 16, rng) + 0.18 * _drift(n, 3, rng)
    width = width_mm * np.exp(swell) * taper
    strength = np.ones(n)
    if hand.breaks > 0:
        fade = _drift(n, 16, rng)
        level = np.quantile(fade, hand.breaks)
        strength = smoothstep(fade, level - 0.25, level + 0.25)
    return np.column_stack([x, y, width, way, strength, step])


def _drift(n: int, length_mm: float, rng) -> np.ndarray:
    """A smooth random sequence of unit deviation with the given correlation length."""
    reach = length_mm / STEP_MM
    pad = int(3 * reach) + 1
    field = gaussian_filter1d(rng.standard_normal(n + 2 * pad), reach, mode="wrap")
    return field[pad : pad + n] / (field.std() + 1e-9)

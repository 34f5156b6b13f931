"""Say of every pixel which layers one sees there, and how much of each.

A pixel on an edge may look like a third tone that happens to lie between the
two. It is therefore judged by what its edge leads to: up and down the slope to
where the surface is whole on either side. As paints mix in linear light, the
share of either side is its place on the way between them.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from scipy.special import ndtr, ndtri

from jartide.colour.spaces import lab_to_linear
from jartide.reading.layers.tones import ColourCells

# A pixel flatter than this shows one tone whole.
WHOLE_FLATNESS = 0.35
# How far an edge is followed to either side, picture pixels.
_REACH_PX = 4
# A step that rises by less than this share of those before and behind it is a tread between two
# edges.
_TREAD = 0.4
# So little of what a sharp edge would rise by, and its own tone is seen.
_THIRD = 0.2
# A step is steep when it is this share of all that the edge rises by.
_STEEP = 0.2
# Blur of a sharp edge, standard deviation in pixels.
_BLUR_PX = 0.9


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Edges:
    """The mixed pixels of a picture and where their edges lead: flat indices, (N,) int32 each.

    `up_whole`, `down_whole`: whether the slope turned there, so that this is as
    whole as the surface gets; else it went on beyond reach. `tread` is how little the pixel rises
    above one neighbour or below the other, as a share of the edge's steepest step.
    """

    at: np.ndarray
    up: np.ndarray
    down: np.ndarray
    up_whole: np.ndarray
    down_whole: np.ndarray
    tread: np.ndarray


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Covers:
    """The soft covers of all layers: at each pixel two of them at most.

    Attributes
    ----------
    labels, beside : (H, W) uint8, the layer seen, and the one it mixes with
    share : (H, W) float32 in 0.5..1, how much of the pixel the seen one covers
    """

    labels: np.ndarray
    beside: np.ndarray
    share: np.ndarray

    def of(self, layer: int) -> np.ndarray:
        """Return the cover of one layer, (H, W) float32 in 0..1."""
        under = np.where(self.beside == layer, 1 - self.share, np.float32(0))
        return np.where(self.labels == layer, self.share, under)

    def renumbered(self, new: np.ndarray) -> Covers:
        """Return the same covers with layer k called `new[k]`, (K,); two may become one."""
        labels, beside = new[self.labels], new[self.beside]
        return Covers(
            labels=labels,
            beside=beside,
            share=np.where(labels == beside, np.float32(1), self.share),
        )


def find_edges(lab: np.ndarray, flatness: np.ndarray, *, treads: bool = False) -> Edges:
    """Follow the edge of every mixed pixel to both of its ends.

    `lab` is (H, W, 3), `flatness` by `tones.flatness_of`. Needs no tones,
    so it is done once however often these change. With `treads` an edge ends where a third tone
    lies between two, as between threads; clouds that pass into each other have none.
    """
    mixed = flatness < WHOLE_FLATNESS
    found = [
        _ends(lab[..., channel], (rows, columns), (gx, gy), treads=treads)
        for channel, rows, columns, gx, gy in _edge_pixels(lab, mixed)
    ]
    if not found:
        none, never = np.zeros(0, np.int32), np.zeros(0, bool)
        return Edges(
            at=none, up=none, down=none, up_whole=never, down_whole=never, tread=np.zeros(0, "f4")
        )
    at, up, down, up_whole, down_whole, tread = (
        np.concatenate(parts) for parts in zip(*found, strict=True)
    )
    return Edges(at=at, up=up, down=down, up_whole=up_whole, down_whole=down_whole, tread=tread)


def assign(cells: ColourCells, rgb_linear: np.ndarray, edges: Edges, tones: np.ndarray) -> Covers:
    """Return the covers of tones, (K, 3) Lab, over a picture given by its colour cells."""
    labels = cells.nearest(tones)
    beside = labels.copy()
    share = np.ones(labels.shape, np.float32)
    if len(tones) == 1 or edges.at.size == 0:
        return Covers(labels=labels, beside=beside, share=share)
    nearest = labels.ravel()
    up, down = nearest[edges.up], nearest[edges.down]
    same = up == down
    nearest[edges.at[same]] = beside.ravel()[edges.at[same]] = up[same]
    differ = np.flatnonzero(~same)
    at, up, down = edges.at[differ], up[differ], down[differ]
    linear = lab_to_linear(tones).astype(np.float32)
    # Per pair of tones the way from one to the other, such that rgb @ way + start is the
    # place on it, 0..1: a table instead of a row per pixel.
    way = linear[:, None] - linear[None]
    way = way / np.maximum(np.square(way).sum(axis=2, keepdims=True), 1e-9)
    start = -np.einsum("kjc,jc->kj", way, linear)
    pair = up.astype(np.int32) * len(tones) + down
    rgb = rgb_linear.reshape(-1, 3).take(at, axis=0)
    cover = start.ravel().take(pair)
    for channel in range(3):
        cover += rgb[:, channel] * way[..., channel].ravel().take(pair)
    cover = np.clip(cover, 0, 1)
    more = cover >= 0.5
    own = nearest[at]
    third = (own != up) & (own != down)
    third[third] = edges.tread[differ[third]] < _THIRD * _least_rise(cover[third])
    nearest[at] = np.where(third, own, np.where(more, up, down))
    beside.ravel()[at] = np.where(third, own, np.where(more, down, up))
    share.ravel()[at] = np.where(third, 1, np.where(more, cover, 1 - cover))
    return Covers(labels=labels, beside=beside, share=share)


def _least_rise(place: np.ndarray) -> np.ndarray:
    """Return how little a pixel of a sharp edge rises to either side, as shares of its steepest.

    `place`, (N,), is where on its way it is, 0..1; the edge is a step under a Gaussian blur.
    """
    away = np.abs(ndtri(np.clip(place, 0.01, 0.99)))
    rise = ndtr(-away) - ndtr(-away - 1 / _BLUR_PX)
    return rise / (ndtr(0.5 / _BLUR_PX) - ndtr(-0.5 / _BLUR_PX))


def _edge_pixels(lab: np.ndarray, mixed: np.ndarray):
    """Yield per Lab channel the mixed pixels it changes fastest at, with its unit gradient."""
    slopes = []
    for channel in range(3):
        plane = cv2.GaussianBlur(np.ascontiguousarray(lab[..., channel]), (0, 0), 0.8)
        slopes.append(
            (
                cv2.Sobel(plane, cv2.CV_32F, 1, 0, ksize=3)[mixed],
                cv2.Sobel(plane, cv2.CV_32F, 0, 1, ksize=3)[mixed],
            )
        )
    steepness = np.stack([np.hypot(gx, gy) for gx, gy in slopes])
    steepest = steepness.argmax(axis=0)
    rows, columns = np.nonzero(mixed)
    for channel, (gx, gy) in enumerate(slopes):
        at = steepest == channel
        if at.any():
            size = np.maximum(steepness[channel][at], 1e-6)
            yield channel, rows[at], columns[at], gx[at] / size, gy[at] / size


def _ends(plane, at_pixels, gradient, *, treads: bool):
    """Return the pixels, and the upper and lower ends of their edges, with what is known of them.

    The slope is followed pixel by pixel while it goes on; where it turns, the
    surface is as whole as it gets.
    """
    (rows, columns), (gx, gy) = at_pixels, gradient
    height, wide = plane.shape
    width = wide + 2 * _REACH_PX
    values = np.pad(plane, _REACH_PX, mode="edge").ravel()
    here = ((rows + _REACH_PX) * width + columns + _REACH_PX).astype(np.int32)
    paths, rises = [], []
    for way in (1, -1):
        path = [here]
        for step in range(1, _REACH_PX + 1):
            away = np.rint(way * step * gy).astype(np.int32) * width
            away += np.rint(way * step * gx).astype(np.int32)
            path.append(here + away)
        paths.append(np.stack(path))
        rise = np.diff(values.take(paths[-1]) * way, axis=0)
        # Only as far as the slope goes on.
        rises.append(np.where(np.cumprod(rise > 0, axis=0), rise, 0))
    total = np.maximum(rises[0].sum(axis=0) + rises[1].sum(axis=0), 1e-6)
    steep = np.maximum(rises[0].max(axis=0), rises[1].max(axis=0))
    ends = []
    for followed, rising in zip(paths, rises, strict=True):
        steps = _steps_up(rising, _STEEP * total) if treads else (rising > 0).sum(axis=0)
        end = followed[steps, np.arange(here.size)]
        row = np.clip(end // width - _REACH_PX, 0, height - 1)
        column = np.clip(end % width - _REACH_PX, 0, wide - 1)
        # What a tread shows is seldom wide enough to be a tone seen whole.
        turned = (steps < _REACH_PX) & (steps == (rising > 0).sum(axis=0))
        ends.append(((row * wide + column).astype(np.int32), turned))
    at = (rows * wide + columns).astype(np.int32)
    (up, up_whole), (down, down_whole) = ends
    tread = np.minimum(rises[0][0], rises[1][0]) / np.maximum(steep, 1e-6)
    # Where the whole way is a gentle one, grain makes treads that are none.
    tread[(steep < _STEEP * total) | (not treads)] = 1
    return at, up, down, up_whole, down_whole, tread.astype(np.float32)


def _steps_up(rising: np.ndarray, steep: np.ndarray) -> np.ndarray:
    """Return how many steps an edge is followed, (N,).

    `rising`, (REACH, N), is by how much each step rises, 0 from where the slope turns. An edge
    ends there, or on a tread: where it rises little between two steps of at least `steep`, (N,),
    a third tone lies between the two.
    """
    before = np.maximum.accumulate(rising, axis=0)
    after = np.maximum.accumulate(rising[::-1], axis=0)[::-1]
    tread = np.zeros(rising.shape, bool)
    beside = np.minimum(before[:-2], after[2:])
    tread[1:-1] = (rising[1:-1] < _TREAD * beside) & (beside >= steep)
    followed = (rising > 0) & (np.cumsum(tread, axis=0) == 0)
    return followed.sum(axis=0)

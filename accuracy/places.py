"""Where layers sit: surfaces of both generators, worn so that layers gather at edges or foot."""

from __future__ import annotations

from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from multiprocessing import get_context

import cv2
import numpy as np

from accuracy.layers import FAMILIES, MM_PER_PX, as_jpeg, drawn, flat_code, one_thread
from accuracy.rows import Row
from jartide.colour.difference import delta_e_2000
from jartide.photo.load import decode_photo
from jartide.photo.prepare import prepare
from jartide.photo.settings import PhotoSettings
from jartide.reading.read import read_picture

SEEDS = (31, 32, 33, 34, 35, 36)
# Layers of less than this share, and weaker strengths, are not asked for.
_LEAST, _STRONG = 0.03, 0.3
# A layer of another colour than this is another layer.
_SAME_DE00 = 8.0
# Worn away in grains of this size, mm; left in the favoured place, and elsewhere.
_GRAIN_MM, _LEFT, _LOST = 5.0, 0.95, 0.25


def strength(cover: np.ndarray, one: np.ndarray, other: np.ndarray) -> float:
    """How much more of a cover, (H, W), there is in one part than in the other."""
    a, b = float(cover[one].mean()), float(cover[other].mean())
    return (a - b) / max(a + b, 1e-9)


def errors(task: tuple[str, int, bool]) -> list[float]:
    """Wear one surface at its middle, then another at its top; relative errors, %."""
    family, seed, second = task
    truth = drawn(family, seed, second)
    rng = np.random.default_rng([seed, second, 5])
    height, width = truth.labels.shape
    y, x = np.mgrid[:height, :width] + 0.5
    inwards = np.minimum(np.minimum(x, width - x), np.minimum(y, height - y)) / min(height, width)
    parts = {
        "edges": (inwards < 0.14, inwards < 0.10, inwards > 0.22),
        "foot": (y > 0.6 * height, y > 2 / 3 * height, y < height / 3),
    }
    grains = cv2.GaussianBlur(
        rng.normal(size=truth.labels.shape).astype(np.float32), (0, 0), _GRAIN_MM / MM_PER_PX / 2
    )
    rank = np.argsort(np.argsort(grains.ravel())).reshape(grains.shape) / grains.size
    bare = np.median(truth.rgb_linear[truth.labels == 0], axis=0)
    found = []
    for name, (favoured, one, other) in parts.items():
        lost = (rank > np.where(favoured, _LEFT, _LOST)) & (truth.labels > 0)
        soft = cv2.GaussianBlur(lost.astype(np.float32), (0, 0), 1.0)[..., None]
        rgb = truth.rgb_linear * (1 - soft) + bare * soft
        labels = np.where(lost, 0, truth.labels)
        jpeg = as_jpeg(flat_code(rgb, seed), 92)
        picture = prepare(decode_photo(jpeg, "worn.jpg"), PhotoSettings(mm_per_px=MM_PER_PX))
        reading, _ = read_picture(replace(picture, whole_piece=True), family)
        shown = np.array([layer.shown_lab for layer in reading.layers])
        for k in range(1, len(truth.lab)):
            true = strength(labels == k, one, other)
            apart = delta_e_2000(shown, truth.lab[k][None])
            near = reading.layers[int(apart.argmin())]
            few = float((labels == k).mean()) < _LEAST
            if few or abs(true) < _STRONG or apart.min() > _SAME_DE00 or near.position is None:
                continue
            read = getattr(near.position, name).value
            found.append(100.0 if read is None else 100 * abs(read - true) / abs(true))
    return found


def place_rows(quick: bool) -> Iterator[Row]:
    """Yield how far the strengths of places are off."""
    if quick:
        return
    todo = [(f, seed, second) for second in (False, True) for f in FAMILIES for seed in SEEDS]
    with ProcessPoolExecutor(2, get_context("spawn"), initializer=one_thread) as pool:
        off = np.array([e for found in pool.map(errors, todo) for e in found])
    yield Row(
        name=f"place of layers, % off, median of {off.size}", error=float(np.median(off)), goal=15.0
    )
    yield Row(name="place of layers, % off, 90th", error=float(np.percentile(off, 90)), goal=15.0)

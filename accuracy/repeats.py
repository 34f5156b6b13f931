"""Repeats: found where a motif was stamped again, and nowhere else."""

from __future__ import annotations

from collections.abc import Iterator

import cv2
import numpy as np

from accuracy.layers import FAMILIES, MM_PER_PX, drawn
from accuracy.rows import Row
from jartide.colour.spaces import linear_to_lab
from jartide.reading.pattern.repeat import measure_repeat

SEEDS = (4, 5)


def stamped(light: np.ndarray, motif_px: tuple[int, int], rng: np.random.Generator) -> np.ndarray:
    """Return L* as a painter's stamp leaves it: turned little, set down unevenly, half covered."""
    height, width = light.shape
    motif = light[: motif_px[1], : motif_px[0]]
    sheet = light[::-1, ::-1].copy()
    for top in range(-motif_px[1], height, motif_px[1]):
        for left in range(-motif_px[0], width, motif_px[0]):
            away = rng.normal(0, 0.8, 2)
            turn = cv2.getRotationMatrix2D(
                (motif_px[0] / 2, motif_px[1] / 2), rng.normal(0, 0.6), 1.0
            )
            turn[:, 2] += (left + away[0], top + away[1])
            laid = cv2.warpAffine(motif, turn, (width, height))
            cover = cv2.warpAffine(np.full(motif.shape, 0.65, np.float32), turn, (width, height))
            sheet = sheet * (1 - cover) + laid * cover
    return (sheet + rng.normal(0, 1.5, sheet.shape)).astype(np.float32)


def repeat_rows(quick: bool) -> Iterator[Row]:
    """Yield how often a repeat is missed, its period wrong, and one found where there is none."""
    if quick:
        return
    missed, wrong, alarms = [], [], []
    for number, family in enumerate(FAMILIES):
        for seed in SEEDS:
            for second in (False, True):
                truth = drawn(family, seed, second)
                light = np.ascontiguousarray(
                    linear_to_lab(truth.rgb_linear.astype(np.float32))[..., 0]
                )
                valid = np.ones(light.shape, bool)
                found = measure_repeat(light, valid, MM_PER_PX)
                alarms.append(found is not None and found.period_mm is not None)
                rng = np.random.default_rng([seed, number, int(second)])
                size = (int(rng.integers(160, 380)), int(rng.integers(160, 380)))
                again = measure_repeat(stamped(light, size, rng), valid, MM_PER_PX)
                period = None if again is None else again.period_mm
                missed.append(period is None)
                if period is not None:
                    shifts = [(size[0] * i, size[1] * j) for i in (0, 1) for j in (-1, 0, 1)]
                    off = min(
                        np.hypot(period[0] / MM_PER_PX - x, period[1] / MM_PER_PX - y)
                        / np.hypot(x, y)
                        for x, y in shifts
                        if (x, y) != (0, 0)
                    )
                    wrong.append(off > 0.05)
    which = f"{len(missed)} surfaces"
    yield Row(
        name=f"stamped repeat missed, %, {which}", error=100 * float(np.mean(missed)), goal=5.0
    )
    yield Row(name=f"its period wrong, %, {which}", error=100 * float(np.mean(wrong)), goal=5.0)
    yield Row(
        name=f"repeat found on none, %, {which}", error=100 * float(np.mean(alarms)), goal=2.0
    )

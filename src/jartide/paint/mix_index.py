"""The colours of all mixes of a shelf, sorted into cells of Lab, for exact and instant answers.

Made once per change of the shelf and kept on disk; a few dozen megabytes for 60 paints.
"""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np

from jartide.errors import Cancelled
from jartide.paint.enumeration import HidingColours, Numbering, count_mixes, numbering
from jartide.paint.parameters import Parameters

# Beyond this many mixes a search by steps answers instead.
MOST_MIXES = 8_000_000
# Lab is kept in steps of this size as 16-bit numbers.
STEP = 1 / 128
CELL = 3.0
_LEAST_AB = -192.0
_SIDE = 128
# Sets of paints computed in one piece by each thread.
_RUN = 600


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class MixIndex:
    """All mixes of some paints, by cell.

    Attributes
    ----------
    paints : the paints' places on the shelf
    most_paints, most_parts : of each mix
    lab : (N, 3) int16, steps of Lab, cell by cell
    mix : (N,) int32, each one's number
    begin : (C + 1,) where each cell begins
    low, high : (C, 3) each cell's tightest box, Lab
    """

    paints: tuple[int, ...]
    most_paints: int
    most_parts: int
    lab: np.ndarray
    mix: np.ndarray
    begin: np.ndarray
    low: np.ndarray
    high: np.ndarray

    def numbering(self) -> Numbering:
        """Return the numbering that `mix` is in."""
        return numbering(self.paints, self.most_paints, self.most_parts)


def can_index(paints: int, most_paints: int, most_parts: int) -> bool:
    """Whether all mixes can be held."""
    return most_paints <= 3 and count_mixes(paints, most_paints, most_parts) <= MOST_MIXES


def build_index(
    parameters: Parameters,
    paints: list[int],
    most_paints: int,
    most_parts: int,
    progress: Callable[[float], None] | None = None,
) -> MixIndex:
    """Compute and sort the colours of all mixes; `progress` may raise `Cancelled`."""
    numbered = numbering(tuple(paints), most_paints, most_parts)
    colours = HidingColours.of(parameters)
    counts = numbered.counts()
    lab = np.empty((int(counts.sum()), 3), dtype=np.int16)
    key = np.empty(lab.shape[0], dtype=np.int32)
    runs = []
    place = 0
    for sets, ways in zip(numbered.sets, numbered.ways, strict=True):
        for begin in range(0, sets.shape[0], _RUN):
            run = sets[begin : begin + _RUN]
            runs.append((run, ways, place))
            place += run.shape[0] * ways.shape[0]

    def compute(task: tuple[np.ndarray, np.ndarray, int]) -> None:
        sets, ways, at = task
        for found in colours.labs(sets, ways):
            rows = found.reshape(-1, 3)
            lab[at : at + rows.shape[0]] = np.rint(rows / STEP)
            key[at : at + rows.shape[0]] = _cell(rows)
            at += rows.shape[0]

    with ThreadPoolExecutor(2) as pool:
        jobs = [pool.submit(compute, run) for run in runs]
        try:
            for number, job in enumerate(jobs):
                job.result()
                if progress is not None and number % 8 == 0:
                    progress(0.8 * number / len(jobs))
        except Cancelled:
            pool.shutdown(cancel_futures=True)
            raise
    order = np.argsort(key, kind="stable").astype(np.int32)
    first = np.flatnonzero(np.diff(key[order], prepend=-1))
    lab = lab[order]
    low = np.minimum.reduceat(lab, first, axis=0) * STEP - STEP
    high = np.maximum.reduceat(lab, first, axis=0) * STEP + STEP
    return MixIndex(
        paints=tuple(paints),
        most_paints=most_paints,
        most_parts=most_parts,
        lab=lab,
        mix=order,
        begin=np.append(first, lab.shape[0]),
        low=low,
        high=high,
    )


def _cell(lab: np.ndarray) -> np.ndarray:
    """Return the cell, (N,) int32, that each colour lies in."""
    steps = (lab - np.array([0.0, _LEAST_AB, _LEAST_AB], dtype=np.float32)) / np.float32(CELL)
    row = np.clip(steps.astype(np.int32), 0, _SIDE - 1)
    return (row[:, 0] * _SIDE + row[:, 1]) * _SIDE + row[:, 2]

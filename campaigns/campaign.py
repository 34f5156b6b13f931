"""What a campaign is: a promise, and attacks on it by chance, each from a seed of its own."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import numpy as np


@dataclass(frozen=True, slots=True, kw_only=True)
class Campaign:
    """One kind of attack.

    Attributes
    ----------
    name : one word
    promise : what holds whatever happens
    made : from an empty folder, what all attacks of one run share
    attack : from that, a folder of its own and chance: what broke the promise, None of nothing
    slice_count : how many attacks belong to the slice that runs with every change
    """

    name: str
    promise: str
    made: Callable[[Path], Any]
    attack: Callable[[Any, Path, np.random.Generator], str | None]
    slice_count: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Outcome:
    """What came of a run: the seed it began at, attacks made, and faults by their seed."""

    seed: int
    count: int
    seconds: float
    faults: tuple[tuple[int, str], ...]


def run(
    campaign: Campaign,
    seed: int,
    *,
    count: int | None = None,
    seconds: float | None = None,
    tell: Callable[[str], None] = lambda _: None,
) -> Outcome:
    """Attack `count` times, or for so many seconds; attack n has the seed `seed + n`."""
    began, done, faults = time.monotonic(), 0, []
    with TemporaryDirectory(prefix="jar-tide-campaign-") as place:
        shared = campaign.made(Path(place))
        while _goes_on(done, count, began, seconds):
            with TemporaryDirectory(dir=place) as own:
                fault = campaign.attack(shared, Path(own), np.random.default_rng([seed + done]))
            if fault is not None:
                faults.append((seed + done, fault))
                tell(f"{campaign.name}, seed {seed + done}: {fault.strip()[-1500:]}")
            done += 1
    return Outcome(seed=seed, count=done, seconds=time.monotonic() - began, faults=tuple(faults))


def _goes_on(done: int, count: int | None, began: float, seconds: float | None) -> bool:
    if count is not None:
        return done < count
    return seconds is not None and time.monotonic() - began < seconds

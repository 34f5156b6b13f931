"""A growing patina watched from photos: is the forecast made half way right, and honest?"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from accuracy.rows import Row
from jartide.boards.series import Ahead, Frame, forecast, frame_of, prior_from
from jartide.studio.camera import Camera, Light, expose
from jartide.studio.patina import Reaction, draw_patina
from jartide.studio.verdigris import Verdigris

_SIZE_MM, _MM_PER_PX = (100.0, 100.0), 0.6
_EARLIER, _SERIES, _FRAMES = 4, 40, 10


def _reaction(rng: np.random.Generator) -> Reaction:
    return Reaction(
        rate_per_min=float(rng.uniform(0.05, 0.14)),
        seeds=float(rng.uniform(0.015, 0.06)),
        most=float(rng.uniform(0.75, 0.92)),
        dries_min=float(rng.uniform(60, 160)),
    )


def _photographed(reaction: Reaction, times: np.ndarray, seed: int) -> list[Frame]:
    """Draw, photograph and judge each moment."""
    from jartide.colour.spaces import decoding_table

    look = Verdigris()
    rng = np.random.default_rng([seed, 5])
    frames = []
    for minutes in times:
        surface = draw_patina(reaction, float(minutes), _SIZE_MM, _MM_PER_PX, seed, look)
        light = Light(exposure=float(rng.uniform(0.97, 1.03)), falloff=float(rng.uniform(0, 0.04)))
        code = expose(surface.rgb_linear, light, Camera(blur_px=0.7, noise=2.5), rng)
        rgb = decoding_table(256)[code]
        frames.append(frame_of(rgb, float(minutes), look.metal, look.bloom))
    return frames


def watching_rows(quick: bool) -> Iterator[Row]:
    """Yield the forecast's error and how often its interval holds the truth."""
    if quick:
        return
    rng = np.random.default_rng(77)
    earlier = []
    for number in range(_EARLIER):
        reaction = _reaction(rng)
        end = 1.4 * (reaction.minutes_to(0.5) or 120.0)
        earlier.append(_photographed(reaction, np.linspace(0, end, 14), number))
    prior = prior_from(earlier)
    errors, held, early, count = [], [], 0, 0
    for number in range(_SERIES):
        reaction = _reaction(rng)
        wanted = float(rng.uniform(0.35, 0.6))
        # What is waited for is what the camera will count as that cover.
        end = reaction.minutes_to(wanted)
        if end is None:
            continue
        count += 1
        seed = 100 + number
        (last,) = _photographed(reaction, np.array([end]), seed)
        frames = _photographed(reaction, np.linspace(0, end / 2, _FRAMES), seed)
        told = forecast(frames, last.cover, prior)
        if told.ahead is not Ahead.FORECAST or told.at_min is None or told.interval_min is None:
            early += 1
            continue
        errors.append(100 * abs(told.at_min / end - 1))
        held.append(told.interval_min[0] <= end <= told.interval_min[1])
    yield Row(
        name=f"patina half way: forecast, % off, median of {len(errors)}",
        error=float(np.median(errors)),
        goal=15,
    )
    yield Row(
        name="patina half way: outside of its 90 % interval, %",
        error=100 * (1 - float(np.mean(held))),
        goal=10,
    )
    yield Row(name="patina half way: said to be too early, %", error=100 * early / count, goal=20)

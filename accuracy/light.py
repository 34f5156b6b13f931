"""Even light: how much of a falloff is taken out, and what happens where there is none."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np

from accuracy.rows import Row
from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import linear_to_lab
from jartide.photo.even_light import (
    LightField,
    light_from_blank,
    light_from_picture,
    log_light_over,
)
from jartide.studio.concrete import draw_concrete
from jartide.studio.marble import draw_marble
from jartide.studio.oak import draw_oak
from jartide.studio.truth import Surface
from jartide.studio.verdigris import draw_verdigris

_DRAWS: tuple[Callable[..., Surface], ...] = (draw_marble, draw_concrete, draw_verdigris, draw_oak)


def lamp(shape: tuple[int, int], strength: float, rng: np.random.Generator) -> np.ndarray:
    """A lamp beside a board, (H, W): inverse square, `strength` lost at the far side."""
    angle = rng.uniform(0, 2 * np.pi)
    y, x = np.mgrid[0 : shape[0], 0 : shape[1]].astype(np.float32)
    u = (x / shape[1] - 0.5) * np.cos(angle) + (y / shape[0] - 0.5) * np.sin(angle)
    v = (y / shape[0] - 0.5) * np.cos(angle) - (x / shape[1] - 0.5) * np.sin(angle)
    away = 2.2 + rng.uniform(0, 1)
    light = 1 / ((u + away) ** 2 + v**2 + 0.6)
    log = np.log(light)
    log *= -np.log(1 - strength) / np.ptp(log)
    return np.exp(log - log.mean())


def _removed(field: LightField, light: np.ndarray) -> float:
    true = np.log(light)
    left = true - log_light_over(field, light.shape)
    return 100 * (1 - float(np.std(left) / np.std(true)))


def light_rows(quick: bool) -> Iterator[Row]:
    seeds = (3,) if quick else (3, 11, 12, 13)
    blank, picture, change = [], [], []
    for draw in _DRAWS:
        for seed in seeds:
            rng = np.random.default_rng([21, seed, len(blank)])
            surface = draw((240, 240), 0.5, seed)
            rgb = surface.rgb_linear
            everywhere = np.ones(rgb.shape[:2], bool)
            light = lamp(rgb.shape[:2], 0.4, rng)
            noisy = rgb * light[..., None] * (1 + 0.02 * rng.standard_normal(rgb.shape))
            board = np.full_like(rgb, 0.7) * light[..., None]
            board = board * (1 + 0.03 * rng.standard_normal(rgb.shape))
            blank.append(_removed(light_from_blank(board, everywhere), light))
            picture.append(_removed(light_from_picture(noisy, everywhere), light))
            field = light_from_picture(rgb, everywhere)
            log = log_light_over(field, rgb.shape[:2])
            evened = rgb * np.exp(-(log - log.mean()))[..., None]
            small, other = rgb[::3, ::3], evened[::3, ::3]
            change.append(float(delta_e_2000(linear_to_lab(small), linear_to_lab(other)).mean()))
    few = ", one seed" if quick else ""
    yield Row(
        name=f"falloff of 40 % left, blank board, %, worst{few}", error=100 - min(blank), goal=5
    )
    yield Row(
        name=f"falloff of 40 % left, from picture, %, mean{few}",
        error=100 - float(np.mean(picture)),
        goal=20,
    )
    yield Row(
        name=f"no falloff: change, CIEDE2000, mean{few}", error=float(np.mean(change)), goal=0.5
    )
    yield Row(
        name=f"no falloff: change, CIEDE2000, worst surface{few}", error=max(change), goal=1.5
    )

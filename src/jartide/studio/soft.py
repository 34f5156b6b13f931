"""Surfaces as they are met: tones that pass into each other, with grain, relief and uneven light.

The other surfaces of the studio have flat tones and edges. Here every coat is laid thin to thick
by a smooth field, so that most of the surface is a blend; grain, the light and shade of relief
and the light's falloff lie over it. Truth is what was laid: the coats' own colours and their soft
shares.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.colour.spaces import lab_to_linear
from jartide.studio.noise import fractal, level_for_share, smoothstep
from jartide.studio.relief import shade
from jartide.studio.truth import LayerTruth, Surface, SurfaceTruth

Lab = tuple[float, float, float]
# A pixel shows a coat whole from this cover on, and a coat is seen whole where this share does.
_WHOLE_COVER = 0.95
_WHOLE_SHARE = 0.01


@dataclass(frozen=True, slots=True, kw_only=True)
class SoftLook:
    """How one family's soft surface is drawn.

    Attributes
    ----------
    tones : Lab of each coat, base first
    shares : of each coat over the base, laid
    blend : how wide the passage from nothing to whole is, standard deviations of the field
    size_mm : of the largest clouds
    stretch, direction_deg : how much longer they are one way, and which
    grain : standard deviation of ln light from pixel-sized grain
    relief_mm : standard deviation of the height of relief
    role : of the coats over the base
    """

    tones: tuple[Lab, ...]
    shares: tuple[float, ...]
    blend: float = 1.7
    size_mm: float = 30.0
    stretch: float = 1.0
    direction_deg: float = 0.0
    grain: float = 0.04
    relief_mm: float = 0.0
    role: str = "patch"


_RUST = ((27.0, 2.0, -3.0), (35.0, 14.0, 16.0), (48.0, 26.0, 38.0), (62.0, 20.0, 50.0))
_GREEN = ((30.0, 6.0, 14.0), (52.0, -18.0, 2.0), (70.0, -16.0, 4.0))
SOFT_LOOKS: dict[str, SoftLook] = {
    "marble": SoftLook(
        tones=((82.0, 0.0, 3.0), (68.0, -1.0, -1.0), (50.0, 0.0, -4.0)),
        shares=(0.42, 0.16),
        blend=2.0,
        size_mm=45.0,
        stretch=2.2,
        direction_deg=35.0,
        grain=0.015,
        role="cloud",
    ),
    "stone": SoftLook(
        tones=((66.0, 3.0, 16.0), (74.0, 2.0, 11.0), (56.0, 6.0, 19.0)),
        shares=(0.4, 0.25),
        grain=0.06,
        relief_mm=0.12,
    ),
    "concrete": SoftLook(
        tones=((58.0, 0.0, 4.0), (66.0, 0.0, 7.0), (48.0, 0.0, 2.0)),
        shares=(0.38, 0.24),
        size_mm=60.0,
        grain=0.03,
        relief_mm=0.05,
        role="cloud",
    ),
    "rust": SoftLook(
        tones=_RUST, shares=(0.6, 0.35, 0.14), stretch=1.8, direction_deg=90.0, relief_mm=0.1
    ),
    "verdigris": SoftLook(tones=_GREEN, shares=(0.55, 0.25), size_mm=26.0, grain=0.05),
    "bronze": SoftLook(
        tones=((30.0, 7.0, 16.0), (44.0, 11.0, 28.0)), shares=(0.4,), grain=0.03, relief_mm=0.15
    ),
    "plaster": SoftLook(
        tones=((80.0, 3.0, 14.0), (72.0, 5.0, 19.0), (86.0, 1.0, 8.0)),
        shares=(0.42, 0.25),
        blend=2.0,
        size_mm=55.0,
        grain=0.025,
        relief_mm=0.08,
    ),
    "crackle": SoftLook(
        tones=((74.0, 1.0, 12.0), (58.0, 6.0, 22.0)), shares=(0.45,), size_mm=20.0, relief_mm=0.1
    ),
    "wood": SoftLook(
        tones=((62.0, 9.0, 27.0), (48.0, 12.0, 26.0), (38.0, 10.0, 19.0)),
        shares=(0.42, 0.15),
        size_mm=14.0,
        stretch=9.0,
        direction_deg=88.0,
        grain=0.03,
        role="grain",
    ),
    "linen": SoftLook(
        tones=((80.0, 0.0, 10.0), (70.0, 2.0, 15.0)), shares=(0.42,), size_mm=40.0, grain=0.05
    ),
    "leather": SoftLook(
        tones=((40.0, 17.0, 22.0), (52.0, 20.0, 32.0), (28.0, 11.0, 12.0)),
        shares=(0.38, 0.2),
        size_mm=35.0,
        relief_mm=0.1,
    ),
    "brushed": SoftLook(
        tones=((36.0, -6.0, -10.0), (52.0, -9.0, -8.0), (68.0, -6.0, -2.0)),
        shares=(0.5, 0.2),
        size_mm=10.0,
        stretch=7.0,
        direction_deg=20.0,
        role="brush",
    ),
}


def draw_soft(
    family: str,
    size_mm: tuple[float, float],
    mm_per_px: float,
    seed: int,
    *,
    falloff: float = 0.06,
) -> Surface:
    """Draw a soft surface of a family, (width, height) mm; the seed moves colours and shares."""
    look = SOFT_LOOKS[family]
    rng = np.random.default_rng([seed, 71, list(SOFT_LOOKS).index(family)])
    shape = (round(size_mm[1] / mm_per_px), round(size_mm[0] / mm_per_px))
    tones = np.array(look.tones) + rng.normal(0, (2.0, 1.0, 1.5))
    light = np.ones((*shape, 1), np.float32) * lab_to_linear(tones[0]).astype(np.float32)
    covers = [np.ones(shape, np.float32)]
    height = np.zeros(shape, np.float32)
    under: np.ndarray | float = 0.0
    for tone, share in zip(tones[1:], look.shares, strict=True):
        field = fractal(
            shape,
            mm_per_px,
            rng,
            largest_mm=look.size_mm * rng.uniform(0.8, 1.25),
            smallest_mm=1.5,
            slope=1.8,
            direction_deg=look.direction_deg,
            stretch=look.stretch,
        )
        # A later coat gathers where the one before lies thick: rust goes through its colours.
        field = field + 0.5 * under
        field = field / field.std()
        level = level_for_share(field, share * rng.uniform(0.85, 1.15))
        cover = smoothstep(field, level - look.blend / 2, level + look.blend / 2)
        colour = lab_to_linear(tone).astype(np.float32)
        light += (colour - light) * cover[..., None]
        covers = [own * (1 - cover) for own in covers] + [cover]
        under = field
        height += 0.3 * look.relief_mm * cover
    fine = fractal(shape, mm_per_px, rng, largest_mm=1.2, smallest_mm=0.3, slope=0.8)
    # Grain that keeps the mean light, so that the coats' colours stay what they are.
    light *= np.exp(look.grain * fine - look.grain**2 / 2)[..., None]
    if look.relief_mm:
        bumps = fractal(shape, mm_per_px, rng, largest_mm=5, smallest_mm=0.8, slope=2.0)
        shading = shade(height + look.relief_mm * bumps, mm_per_px, 1.0)
        light *= (shading / shading.mean())[..., None]
    x = np.linspace(-0.5, 0.5, shape[1], dtype=np.float32)
    light *= (1 - falloff * x)[None, :, None]
    layers = tuple(
        LayerTruth(
            name=f"coat {number + 1}",
            role="ground" if number == 0 else look.role,
            lab=(float(tone[0]), float(tone[1]), float(tone[2])),
            coverage=float(cover.mean()),
            coverage_painted=1.0 if number == 0 else float(cover.mean()),
            whole=bool((cover >= _WHOLE_COVER).mean() >= _WHOLE_SHARE),
        )
        for number, (tone, cover) in enumerate(zip(tones, covers, strict=True))
    )
    return Surface(
        rgb_linear=np.clip(light, 0, 1).astype(np.float32),
        mm_per_px=mm_per_px,
        truth=SurfaceTruth(
            family=family,
            layers=layers,
            direction_deg=look.direction_deg if look.stretch > 1.3 else None,
        ),
        labels=np.argmax(covers, axis=0).astype(np.uint8),
    )

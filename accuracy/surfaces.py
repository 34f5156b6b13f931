"""Every simulated surface, photographed flat at a known scale."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np

from accuracy.rows import Row
from jartide.colour.difference import delta_e_2000
from jartide.photo.load import decode_photo
from jartide.photo.prepare import prepare
from jartide.photo.settings import PhotoSettings
from jartide.reading.read import read_picture
from jartide.reading.result import Reading
from jartide.studio.camera import photograph
from jartide.studio.concrete import draw_concrete
from jartide.studio.marble import draw_marble
from jartide.studio.oak import draw_oak
from jartide.studio.truth import Surface
from jartide.studio.verdigris import draw_verdigris

SIZE_MM = (240.0, 240.0)
MM_PER_PX = 0.2
SURFACES: dict[str, Callable[..., Surface]] = {
    "marble": draw_marble,
    "concrete": draw_concrete,
    "verdigris": draw_verdigris,
    "wood": draw_oak,
}
SEEDS = (3, 11, 12, 13)


def read_flat(surface: Surface, seed: int) -> Reading:
    """Photograph a surface square on and read it at its true scale."""
    photo = decode_photo(photograph(surface.rgb_linear, seed), "simulated.jpg")
    picture = prepare(photo, PhotoSettings(mm_per_px=surface.mm_per_px))
    return read_picture(picture, surface.truth.family)[0]


def coverage_error(reading: Reading, surface: Surface) -> float:
    """Return the largest error of any true layer's share, points, by the nearest colour."""
    worst = 0.0
    shares = np.zeros(len(surface.truth.layers))
    truth = np.array([layer.lab for layer in surface.truth.layers])
    for layer in reading.layers:
        nearest = delta_e_2000(np.array(layer.shown_lab), truth).argmin()
        shares[nearest] += layer.coverage.value or 0.0
    for layer, share in zip(surface.truth.layers, shares, strict=True):
        worst = max(worst, abs(share - layer.coverage))
    return 100 * worst


def surface_rows(quick: bool) -> Iterator[Row]:
    """Yield the errors of every surface; the worst of its seeds."""
    for family, draw in SURFACES.items():
        ground, coverage, direction, width, number = [], [], [], [], []
        for seed in SEEDS[:1] if quick else SEEDS:
            surface = draw(SIZE_MM, MM_PER_PX, seed)
            reading, truth = read_flat(surface, seed), surface.truth
            ground.append(
                float(
                    delta_e_2000(
                        np.array(reading.layers[0].shown_lab), np.array(truth.layers[0].lab)
                    )
                )
            )
            coverage.append(coverage_error(reading, surface))
            found = reading.pattern.direction_deg.value
            if truth.direction_deg is not None:
                off = 90.0 if found is None else found - truth.direction_deg
                direction.append(abs((off + 90) % 180 - 90))
            # Layers under 1 % of the surface are allowed to be missed.
            wanted = sum(layer.coverage >= 0.01 for layer in truth.layers)
            number.append(abs(len(reading.layers) - wanted))
            if truth.lines is not None:
                lines = reading.pattern.lines
                measured = 0.0 if lines is None else lines.width_mm.median.value or 0.0
                width.append(100 * abs(measured / truth.lines.width_mm - 1))
        seeds = "one seed" if quick else f"worst of {len(ground)}"
        yield Row(name=f"{family}, ground colour, CIEDE2000, {seeds}", error=max(ground), goal=2)
        yield Row(name=f"{family}, coverage, points, {seeds}", error=max(coverage), goal=5)
        yield Row(name=f"{family}, direction, degrees, {seeds}", error=max(direction), goal=4)
        yield Row(name=f"{family}, number of layers off by, {seeds}", error=max(number), goal=1)
        if width:
            yield Row(name=f"{family}, median line width, %, {seeds}", error=max(width), goal=20)

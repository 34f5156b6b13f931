"""The demo job: the (invented) Hotel Vessary, its four finishes, their targets and boards.

`draw_demo` gives the photos; `tools/make_demo_photos.py` writes them as files
beside `job.toml`, which the application's demo workspace is made from.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace

import cv2
import numpy as np

from jartide.studio.camera import COOL_LED, DAYLIGHT, WARM_LAMP, Camera, Light, expose, to_jpeg
from jartide.studio.likeness import (
    ConcreteLook,
    LimedOakLook,
    MarbleLook,
    PatinaLook,
    draw_green_marble,
    draw_limed_oak,
    draw_patina,
    draw_weathered_concrete,
)
from jartide.studio.scene import CHIP_L, View, set_scene
from jartide.studio.site import Site
from jartide.studio.truth import Surface, SurfaceTruth

SIZE_MM = (400.0, 400.0)
_MM_PER_PX = 0.2
_VIEW = View(size_px=(2000, 1500))
_CAMERA = Camera(blur_px=0.7, noise=2.0, quality=89)


@dataclass(frozen=True, slots=True, kw_only=True)
class DemoPhoto:
    """One photo of the demo job, with what the painter has set on it."""

    finish: str
    file: str
    board: int | None
    remark: str
    jpeg: bytes
    corners: tuple[tuple[float, float], ...]
    chip: tuple[float, float, float, float]
    chip_L: float
    leave_out: tuple[tuple[tuple[float, float], ...], ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class _Shot:
    finish: str
    file: str
    draw: Callable[[], np.ndarray]
    light: Light
    view: View
    board: int | None = None
    remark: str = ""
    site: Site = field(default_factory=Site)


def _shots() -> list[_Shot]:
    stone = MarbleLook()
    # Board 1 is what a first board is: veins fat, stark and too upright, clouds timid.
    first = replace(
        stone, vein=(86.0, -4.0, 5.0), bold=2.0, cloud_share=0.30, drift_share=0.07,
        direction_deg=84.0,
    )  # fmt: skip
    second = replace(
        stone, vein=(82.0, -5.0, 6.0), bold=1.4, cloud_share=0.38, drift_share=0.11,
        direction_deg=70.0,
    )  # fmt: skip
    third = replace(stone, ground=(14.0, -6.5, 1.5))
    metal, grown = PatinaLook(), PatinaLook(green_share=0.58, crust_share=0.28, runs=1.8)
    oak, bare = LimedOakLook(), LimedOakLook(late=(46.0, 10.0, 25.0), pores=0.13, film=0.14)
    wall = ConcreteLook()
    warm = ConcreteLook(
        body=(62.0, 2.4, 10.0), bleached=(73.0, 2.2, 11.5), damp=(49.0, 3.0, 9.5), streaks=0.3
    )
    window = replace(DAYLIGHT, falloff=0.06)
    lamp = replace(WARM_LAMP, exposure=0.95)
    led = replace(COOL_LED, exposure=1.0)
    left, right = _VIEW, replace(_VIEW, tilt_deg=8.0, turn_deg=11.0, roll_deg=-1.2)
    return [
        _Shot(
            finish="bar-front",
            file="bar-front-slab.jpg",
            draw=lambda: draw_green_marble(SIZE_MM, _MM_PER_PX, 63, stone),
            light=window,
            view=left,
        ),
        _Shot(
            finish="bar-front",
            file="bar-front-board-1.jpg",
            draw=lambda: draw_green_marble(SIZE_MM, _MM_PER_PX, 62, first),
            light=lamp,
            view=right,
            board=1,
            remark="First try, veins by feather on a wet ground.",
        ),
        _Shot(
            finish="bar-front",
            file="bar-front-board-2.jpg",
            draw=lambda: draw_green_marble(SIZE_MM, _MM_PER_PX, 65, second),
            light=lamp,
            view=left,
            board=2,
            remark="Finer brush, veins leant over, one veil.",
        ),
        _Shot(
            finish="bar-front",
            file="bar-front-board-3.jpg",
            draw=lambda: draw_green_marble(SIZE_MM, _MM_PER_PX, 66, third),
            light=window,
            view=right,
            board=3,
            remark="More cloud, second veil.",
        ),
        _Shot(
            finish="lift-lobby",
            file="lift-lobby-door.jpg",
            draw=lambda: draw_patina(SIZE_MM, _MM_PER_PX, 24, metal),
            light=led,
            view=right,
        ),
        _Shot(
            finish="lift-lobby",
            file="lift-lobby-board-1.jpg",
            draw=lambda: draw_patina(SIZE_MM, _MM_PER_PX, 34, grown),
            light=lamp,
            view=left,
            board=1,
            remark="Patina sponged on in two coats.",
            site=Site(hands=1),
        ),
        _Shot(
            finish="library",
            file="library-panel.jpg",
            draw=lambda: draw_limed_oak(SIZE_MM, _MM_PER_PX, 25, oak),
            light=window,
            view=left,
        ),
        _Shot(
            finish="library",
            file="library-board-1.jpg",
            draw=lambda: draw_limed_oak(SIZE_MM, _MM_PER_PX, 35, bare),
            light=window,
            view=right,
            board=1,
            remark="Lime wiped off early.",
        ),
        _Shot(
            finish="terrace",
            file="terrace-wall.jpg",
            draw=lambda: draw_weathered_concrete(SIZE_MM, _MM_PER_PX, 26, wall),
            light=DAYLIGHT,
            view=right,
        ),
        _Shot(
            finish="terrace",
            file="terrace-board-1.jpg",
            draw=lambda: draw_weathered_concrete(SIZE_MM, _MM_PER_PX, 36, warm),
            light=lamp,
            view=left,
            board=1,
            remark="Base from the tin, two sponged tones.",
            site=Site(tapes=2),
        ),
    ]


def draw_demo() -> Iterator[DemoPhoto]:
    """Draw and photograph every surface of the demo job."""
    none = SurfaceTruth(family="auto", layers=(), direction_deg=None)
    for seed, shot in enumerate(_shots()):
        surface = Surface(rgb_linear=shot.draw(), mm_per_px=_MM_PER_PX, truth=none)
        scene = set_scene(surface, shot.view, seed, shot.site)
        code = expose(scene.rgb_linear, shot.light, _CAMERA, np.random.default_rng(seed))
        chip = scene.chip
        yield DemoPhoto(
            finish=shot.finish,
            file=shot.file,
            board=shot.board,
            remark=shot.remark,
            jpeg=to_jpeg(code, _CAMERA.quality),
            corners=tuple((round(x, 1), round(y, 1)) for x, y in scene.corners),
            chip=(chip.x, chip.y, chip.w, chip.h),
            chip_L=CHIP_L,
            leave_out=_outlines(scene.over),
        )


def _outlines(over: np.ndarray | None) -> tuple[tuple[tuple[float, float], ...], ...]:
    """Outlines, px, of what a painter would leave out, with a little to spare."""
    if over is None:
        return ()
    wide = cv2.dilate(over.astype(np.uint8), np.ones((25, 25), np.uint8))
    found, _ = cv2.findContours(wide, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    simple = (cv2.approxPolyDP(ring, 6.0, True)[:, 0] for ring in found)
    return tuple(tuple((float(x), float(y)) for x, y in ring) for ring in simple)

"""The demo job: the (invented) Hotel Vessary, its four finishes, their targets and boards.

`draw_demo` gives the photos; `tools/make_demo_photos.py` writes them as files
beside `job.toml`, which the application's demo workspace is made from.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import numpy as np

from jartide.studio.camera import COOL_LED, DAYLIGHT, WARM_LAMP, Camera, Light, expose, to_jpeg
from jartide.studio.concrete import Concrete, draw_concrete
from jartide.studio.marble import Marble, draw_marble
from jartide.studio.oak import Oak, draw_oak
from jartide.studio.scene import CHIP_L, View, set_scene
from jartide.studio.truth import Surface, SurfaceTruth
from jartide.studio.verdigris import Verdigris, draw_verdigris

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
    truth: SurfaceTruth


@dataclass(frozen=True, slots=True, kw_only=True)
class _Shot:
    finish: str
    file: str
    draw: Callable[[], Surface]
    light: Light
    view: View
    board: int | None = None
    remark: str = ""


def _marble(seed: int, look: Marble) -> Callable[[], Surface]:
    return lambda: draw_marble(SIZE_MM, _MM_PER_PX, seed, look)


def _shots() -> list[_Shot]:
    stone = Marble()
    # Board 1 is what a first board is: veins fat, stark and too upright, clouds timid.
    first = replace(
        stone.wider(1.6),
        vein=(84.0, -6.0, 5.0),
        hair=(64.0, -12.0, 6.0),
        cloud_share=0.30,
        drift_share=0.10,
        veins=replace(stone.wider(1.6).veins, direction_deg=84.0),
        hairs=replace(stone.wider(1.6).hairs, direction_deg=84.0),
    )
    second = replace(
        stone.wider(1.25),
        vein=(80.0, -7.0, 6.0),
        cloud_share=0.37,
        drift_share=0.12,
        veins=replace(stone.wider(1.25).veins, direction_deg=70.0),
        hairs=replace(stone.wider(1.25).hairs, direction_deg=70.0),
    )
    third = replace(stone, ground=(14.8, -7.0, 1.0), drift_share=0.145)
    window = replace(DAYLIGHT, falloff=0.06)
    lamp = replace(WARM_LAMP, exposure=0.95)
    led = replace(COOL_LED, exposure=1.0)
    left, right = _VIEW, replace(_VIEW, tilt_deg=8.0, turn_deg=11.0, roll_deg=-1.2)
    return [
        _Shot(
            finish="bar-front",
            file="bar-front-slab.jpg",
            draw=_marble(63, stone),
            light=window,
            view=left,
        ),
        _Shot(
            finish="bar-front",
            file="bar-front-board-1.jpg",
            draw=_marble(62, first),
            light=lamp,
            view=right,
            board=1,
            remark="First try, veins by feather on a wet ground.",
        ),
        _Shot(
            finish="bar-front",
            file="bar-front-board-2.jpg",
            draw=_marble(65, second),
            light=lamp,
            view=left,
            board=2,
            remark="Finer brush, veins leant over, one veil.",
        ),
        _Shot(
            finish="bar-front",
            file="bar-front-board-3.jpg",
            draw=_marble(66, third),
            light=window,
            view=right,
            board=3,
            remark="More cloud, second veil.",
        ),
        _Shot(
            finish="lift-lobby",
            file="lift-lobby-door.jpg",
            draw=lambda: draw_verdigris(SIZE_MM, _MM_PER_PX, 24),
            light=led,
            view=right,
        ),
        _Shot(
            finish="lift-lobby",
            file="lift-lobby-board-1.jpg",
            draw=lambda: draw_verdigris(
                SIZE_MM, _MM_PER_PX, 34, Verdigris(fringe_share=0.74, bloom_share=0.54, runs=1.6)
            ),
            light=lamp,
            view=left,
            board=1,
            remark="Bloom sponged on in two coats.",
        ),
        _Shot(
            finish="library",
            file="library-panel.jpg",
            draw=lambda: draw_oak(SIZE_MM, _MM_PER_PX, 25),
            light=window,
            view=left,
        ),
        _Shot(
            finish="library",
            file="library-board-1.jpg",
            draw=lambda: draw_oak(
                SIZE_MM, _MM_PER_PX, 35, Oak(late=(49.0, 10.5, 25.0), pore_cover=0.09)
            ),
            light=window,
            view=right,
            board=1,
            remark="Lime wiped off early.",
        ),
        _Shot(
            finish="terrace",
            file="terrace-wall.jpg",
            draw=lambda: draw_concrete(SIZE_MM, _MM_PER_PX, 26),
            light=DAYLIGHT,
            view=right,
        ),
        _Shot(
            finish="terrace",
            file="terrace-board-1.jpg",
            draw=lambda: draw_concrete(
                SIZE_MM,
                _MM_PER_PX,
                36,
                Concrete(ground=(62.0, 2.6, 10.0), bloom=(69.5, 2.2, 11.5), damp=(54.0, 3.2, 9.5)),
            ),
            light=lamp,
            view=left,
            board=1,
            remark="Base from the tin, two sponged tones.",
        ),
    ]


def draw_demo() -> Iterator[DemoPhoto]:
    """Draw and photograph every surface of the demo job."""
    for seed, shot in enumerate(_shots()):
        surface = shot.draw()
        scene = set_scene(surface, shot.view, seed)
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
            truth=surface.truth,
        )

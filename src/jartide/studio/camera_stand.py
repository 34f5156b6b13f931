"""A simulated camera on a stand before a painted board: the stand-in for a real one."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from enum import StrEnum
from functools import lru_cache

import numpy as np

from jartide.errors import DeviceError
from jartide.photo.card.design import CardSize, card_of
from jartide.studio.concrete import draw_concrete
from jartide.studio.marble import draw_marble
from jartide.studio.oak import draw_oak
from jartide.studio.snapshot import PrintedCard, Shot, take_snapshot
from jartide.studio.spectral_camera import make_camera
from jartide.studio.truth import Surface, SurfaceTruth
from jartide.studio.verdigris import draw_verdigris

BOARD_MM = 240.0
_MM_PER_PX = 0.25
_FOCAL_35MM = 26.0
_FRAME_WIDTH_MM = 34.6
NEAREST_MM, FURTHEST_MM = 250.0, 2500.0
MOST_TILT_DEG = 50.0


class Board(StrEnum):
    """What stands before the camera."""

    MARBLE = "marble"
    CONCRETE = "concrete"
    VERDIGRIS = "verdigris"
    OAK = "oak"
    BLANK = "blank"


class Lamp(StrEnum):
    """What it is lit by."""

    BULB = "bulb"
    LED = "led"
    DAYLIGHT = "daylight"
    SHADE = "shade"


_KELVIN = {Lamp.BULB: 2700.0, Lamp.LED: 4000.0, Lamp.DAYLIGHT: 5500.0, Lamp.SHADE: 7500.0}
_DRAWS: dict[Board, Callable[..., Surface]] = {
    Board.MARBLE: draw_marble,
    Board.CONCRETE: draw_concrete,
    Board.VERDIGRIS: draw_verdigris,
    Board.OAK: draw_oak,
}


@dataclass(frozen=True, slots=True, kw_only=True)
class StandSettings:
    """How the stand is set up.

    Attributes
    ----------
    tilt_deg : the camera's lean from square on, 0 to 50
    distance_mm : from lens to board
    falloff : share of the light lost across the photo, 0 to 0.4
    with_card : whether a photo card lies on the board
    """

    board: Board = Board.MARBLE
    lamp: Lamp = Lamp.LED
    tilt_deg: float = 10.0
    distance_mm: float = 500.0
    falloff: float = 0.1
    with_card: bool = True
    size_px: tuple[int, int] = (2400, 1800)


@dataclass(slots=True)
class CameraStand:
    """Takes photos of the board; every photo has its own noise.

    Implements `devices.camera.CameraDevice`.
    """

    settings: StandSettings = field(default_factory=StandSettings)
    taken: int = 0
    name: str = "Camera stand"

    def take(self) -> bytes:
        """Return a JPEG of the board as the stand is set up.

        Raises
        ------
        DeviceError : when it is set up out of its reach.
        """
        s = self.settings
        if not NEAREST_MM <= s.distance_mm <= FURTHEST_MM:
            raise DeviceError(
                "error.stand.distance", least=round(NEAREST_MM), most=round(FURTHEST_MM)
            )
        if not 0 <= s.tilt_deg <= MOST_TILT_DEG:
            raise DeviceError("error.stand.tilt", most=round(MOST_TILT_DEG))
        self.taken += 1
        card = card_of(CardSize.A6)
        seen_mm = s.distance_mm * _FRAME_WIDTH_MM / _FOCAL_35MM
        shot = Shot(
            size_px=s.size_px,
            focal_35mm=_FOCAL_35MM,
            tilt_deg=s.tilt_deg,
            towards_deg=70.0,
            card_share=card.width_mm / seen_mm,
            card_at_mm=(8.0, BOARD_MM - card.height_mm - 8.0) if s.with_card else None,
            aim_mm=(BOARD_MM / 2, BOARD_MM / 2),
            falloff=s.falloff,
            falloff_deg=-20.0,
            print=PrintedCard(size=CardSize.A6),
        )
        # One lamp and camera of a kind for all photos; only the noise is new.
        camera = make_camera(_KELVIN[s.lamp], np.random.default_rng(list(Lamp).index(s.lamp)))
        return take_snapshot(board_surface(s.board), shot, self.taken, camera).jpeg


@lru_cache(maxsize=5)
def board_surface(board: Board) -> Surface:
    """Return the surface of a board of the stand, with its truth."""
    draw = _DRAWS.get(board)
    if draw is not None:
        return draw((BOARD_MM, BOARD_MM), _MM_PER_PX, 11)
    side = round(BOARD_MM / _MM_PER_PX)
    grain = np.random.default_rng(3).normal(1, 0.01, (side, side, 1))
    return Surface(
        rgb_linear=(0.55 * grain * np.ones(3)).astype(np.float32),
        mm_per_px=_MM_PER_PX,
        truth=SurfaceTruth(family="auto", layers=(), direction_deg=None),
    )

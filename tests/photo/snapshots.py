"""Photos of boards with the card on them, made once for all tests."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from jartide.photo.card.design import CardSize
from jartide.photo.card.find import find_card
from jartide.photo.load import decode_photo
from jartide.photo.square import transform
from jartide.studio.camera_stand import Board, board_surface
from jartide.studio.snapshot import PrintedCard, Shot, take_snapshot
from jartide.studio.spectral_camera import make_camera

BOARD_MM = 240.0
RING = np.array([[0, 0], [BOARD_MM, 0], [BOARD_MM, BOARD_MM], [0, BOARD_MM]])


@lru_cache(maxsize=1)
def camera():
    """One camera under one lamp; neither is known to what is tested."""
    return make_camera(3400, np.random.default_rng(4))


def shot_of(size=CardSize.A6, **changes):
    """A usual photo: 1600 x 1200 px, leaning a little."""
    usual = {
        "size_px": (1600, 1200),
        "card_share": 0.32,
        "card_at_mm": (20.0, 30.0),
        "tilt_deg": 20.0,
        "falloff": 0.15,
        "print": PrintedCard(size=size),
    }
    return Shot(**{**usual, **changes})


@lru_cache(maxsize=16)
def taken(shot, board=Board.MARBLE, seed=1):
    """The snapshot with its truth, and its photo decoded."""
    snapshot = take_snapshot(board_surface(board), shot, seed, camera())
    return snapshot, decode_photo(snapshot.jpeg, "simulated.jpg")


def corner_error_mm(shot, snapshot, card, height_mm=0.0):
    """The worst distance of the board's corners on the card's plane from where they are."""
    rays = card.pose.lens.undistort(snapshot.board_px)
    on_card = transform(np.linalg.inv(card.pose.homography(height_mm)), rays)
    turn = np.radians(shot.card_turn_deg)
    axes = np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]])
    truth = (RING - np.array(shot.card_at_mm)) @ axes
    return float(np.linalg.norm(on_card - truth, axis=1).max())


def found(shot, **options):
    """The snapshot, the photo and the card found in it."""
    snapshot, photo = taken(shot, **options)
    return (
        snapshot,
        photo,
        find_card(photo, shot.print.scale * 90 if shot.print.scale != 1 else None),
    )

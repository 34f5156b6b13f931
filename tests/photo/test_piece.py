"""The board around the card is found, its corners just inside its edges; a wall has none."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from jartide.photo.card.design import CardSize
from jartide.photo.layout import SquaredBy
from jartide.photo.piece.find_piece import find_piece
from jartide.photo.prepare import card_for, prepare_in_full
from jartide.photo.settings import CardUse, PhotoSettings, Rect
from jartide.studio.camera_stand import Board

from .snapshots import found, shot_of


@pytest.mark.parametrize(
    ("board", "changes"),
    [
        (Board.MARBLE, {"tilt_deg": 30.0}),
        (Board.CONCRETE, {}),
        (Board.OAK, {"roll_deg": 18.0}),
        (Board.MARBLE, {"card_turn_deg": 90.0, "card_at_mm": (150.0, 40.0)}),
    ],
)
def test_the_board_around_the_card_is_found(board, changes):
    snapshot, photo, card = found(shot_of(card_share=0.27, **changes), board=board)
    corners = np.array(find_piece(photo, card).piece.corners)
    # In the photo's own order, whatever way the card lies.
    off = np.linalg.norm(corners - snapshot.board_px, axis=1) / snapshot.px_per_mm
    assert off.max() < 2.5
    # Inside the edges, not beyond them.
    middle = snapshot.board_px.mean(axis=0)
    assert np.all(
        np.linalg.norm(corners - middle, axis=1)
        < np.linalg.norm(snapshot.board_px - middle, axis=1) + 1
    )


def test_where_the_board_fills_the_photo_there_is_none_to_find():
    _, photo, card = found(shot_of(card_share=0.75, aim_mm=(94.0, 82.0), tilt_deg=5.0))
    assert find_piece(photo, card).piece is None


def test_a_card_photo_reads_its_board_upright_and_true_to_size():
    _, photo, card = found(shot_of(card_turn_deg=90.0, card_at_mm=(150.0, 40.0), card_share=0.27))
    done = prepare_in_full(photo, PhotoSettings(), card=card)
    assert done.piece is not None
    assert done.layout.squared_by is SquaredBy.CARD
    size = np.array(done.picture.shape[::-1]) * done.picture.mm_per_px
    assert size == pytest.approx([240, 240], abs=3)
    assert done.picture.corner_error_mm < 1
    # The card itself is not read, and the room around the board neither.
    assert 0.6 < done.picture.valid().mean() < 0.8
    # A card turned on the board must not turn what is read.
    above = done.where[0].mean(axis=0)[1], done.where[-1].mean(axis=0)[1]
    assert above[0] < above[1]


def test_the_painter_can_have_the_whole_plane_or_a_part():
    _, photo, card = found(shot_of(card_share=0.27))
    board = prepare_in_full(photo, PhotoSettings(), card=card).picture
    whole = prepare_in_full(photo, PhotoSettings(whole_plane=True), card=card).picture
    assert whole.shape[1] * whole.mm_per_px > 1.5 * board.shape[1] * board.mm_per_px
    x, y = photo.size[0] / 2, photo.size[1] / 2
    part = PhotoSettings(region=Rect(x=x - 80, y=y - 60, w=160, h=120))
    small = prepare_in_full(photo, part, card=card).picture
    assert small.shape[1] * small.mm_per_px < 0.5 * board.shape[1] * board.mm_per_px


def test_a_rim_around_every_card_is_left_out():
    for size in (CardSize.A6, CardSize.STRIP):
        shot = shot_of(size, card_share=0.5, card_at_mm=(25.0, 25.0), tilt_deg=5.0)
        snapshot, photo, card = found(shot)
        done = prepare_in_full(photo, PhotoSettings(whole_plane=True), card=card)
        outline = np.float32(snapshot.card_px)
        where = done.where[done.picture.valid()][::97]
        near = [cv2.pointPolygonTest(outline, (float(x), float(y)), True) for x, y in where]
        assert max(near) < -1.0 * snapshot.px_per_mm  # px outside, a millimetre at least


def test_a_card_is_looked_for_only_where_it_would_tell_something():
    _, photo, _ = found(shot_of())
    assert card_for(photo, PhotoSettings()) is not None
    assert card_for(photo, PhotoSettings(card=CardUse(ignore=True))) is None
    # For its colours alone, with the shape set by hand.
    by_hand = PhotoSettings(mm_per_px=0.2)
    card = card_for(photo, by_hand)
    done = prepare_in_full(photo, by_hand, card=card)
    assert done.layout.squared_by is SquaredBy.NOTHING
    assert done.picture.balance_known

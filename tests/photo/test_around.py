"""What lies around a piece is told from it, on sites full of clutter; doubts are said."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest

from jartide.photo.layout import SquaredBy
from jartide.photo.leave_out import Fault
from jartide.photo.load import decode_photo
from jartide.photo.piece.around import suggestions
from jartide.photo.piece.find_piece import find_piece
from jartide.photo.prepare import card_for, prepare_in_full
from jartide.photo.settings import PhotoSettings, Polygon, Rect
from jartide.studio.camera_stand import Board, board_surface
from jartide.studio.site import Site
from jartide.studio.snapshot import Shot, take_snapshot

PLAIN = Shot(
    size_px=(1200, 900),
    tilt_deg=14.0,
    card_share=0.25,
    card_at_mm=None,
    aim_mm=(120.0, 120.0),
)


def taken(site: Site, board: Board = Board.MARBLE, seed: int = 3, **changes):
    snapshot = take_snapshot(board_surface(board), replace(PLAIN, site=site, **changes), seed)
    return snapshot, decode_photo(snapshot.jpeg, "site.jpg")


def overlap(one, other, size=(1200, 900)) -> float:
    masks = []
    for ring in (one, other):
        mask = np.zeros((size[1], size[0]), np.uint8)
        cv2.fillPoly(mask, [np.rint(np.array(ring) * 16).astype(np.int32)], 1, shift=4)
        masks.append(mask > 0)
    return float((masks[0] & masks[1]).sum() / (masks[0] | masks[1]).sum())


def codes(done) -> set[str]:
    return {code for code, _ in done.picture.warnings}


@pytest.mark.parametrize(
    ("site", "board"),
    [
        (Site(backdrop="wall"), Board.MARBLE),
        (Site(backdrop="floor"), Board.CONCRETE),
        (Site(backdrop="bench", tapes=2), Board.OAK),
        (Site(backdrop="shelves", hands=1), Board.MARBLE),
    ],
)
def test_the_piece_is_found_without_a_card(site, board):
    snapshot, photo = taken(site, board)
    done = prepare_in_full(photo, PhotoSettings())
    assert done.piece is not None
    assert overlap(done.piece.corners, snapshot.board_px) > 0.97
    # Squared as the rectangle it is: a square board comes out square.
    assert done.layout.squared_by is SquaredBy.CORNERS
    height, width = done.picture.shape
    assert height / width == pytest.approx(1.0, abs=0.04)


def test_a_typed_scale_is_that_of_the_photo_as_it_was_taken():
    snapshot, photo = taken(Site())
    done = prepare_in_full(photo, PhotoSettings(mm_per_px=0.3))
    assert done.layout.squared_by is SquaredBy.NOTHING
    board = cv2.contourArea(snapshot.board_px.astype(np.float32))
    read = done.picture.valid().sum() * done.picture.reduced**2
    assert read == pytest.approx(board, rel=0.03)


def test_a_board_at_an_angle_that_nothing_squares_is_warned_about():
    _, photo = taken(Site(), tilt_deg=25.0)
    assert "at_an_angle" in codes(prepare_in_full(photo, PhotoSettings(mm_per_px=0.3)))
    assert "at_an_angle" not in codes(prepare_in_full(photo, PhotoSettings()))
    _, photo = taken(Site(), tilt_deg=0.0)
    assert "at_an_angle" not in codes(prepare_in_full(photo, PhotoSettings(mm_per_px=0.3)))


def test_a_surface_that_fills_its_photo_is_left_whole():
    for board in (Board.MARBLE, Board.OAK, Board.CONCRETE):
        _, photo = taken(Site(), board, card_share=0.75, tilt_deg=3.0)
        done = prepare_in_full(photo, PhotoSettings())
        assert done.piece is None
        assert not codes(done) & {"border", "piece_unsure"}
        assert done.picture.valid().all()


def test_the_painters_word_goes_before_what_was_found():
    _, photo = taken(Site())
    whole = prepare_in_full(photo, PhotoSettings(whole_plane=True))
    assert whole.piece is None and whole.picture.valid().all()
    part = Rect(x=500, y=400, w=200, h=150)
    only = prepare_in_full(photo, PhotoSettings(region=part))
    assert only.piece is None
    assert only.picture.shape == (150, 200)


def test_corners_beyond_the_piece_are_said():
    snapshot, photo = taken(Site())
    middle = snapshot.board_px.mean(axis=0)
    for grown, said in ((1.12, True), (0.98, False)):
        ring = middle + grown * (snapshot.board_px - middle)
        a, b, c, d = (tuple(map(float, xy)) for xy in ring)
        done = prepare_in_full(photo, PhotoSettings(corners=(a, b, c, d)))
        assert ("border" in codes(done)) is said


def test_a_hand_over_the_edge_is_said_until_it_is_left_out():
    _, photo = taken(Site(hands=1), Board.CONCRETE)
    done = prepare_in_full(photo, PhotoSettings())
    assert "reaches_in" in codes(done)
    offered = suggestions(photo, PhotoSettings(), done.sought, None)
    hands = [s for s in offered if s.fault is Fault.REACHING_IN]
    assert len(hands) >= 1
    settings = PhotoSettings(leave_out=tuple(s.outline for s in hands))
    assert "reaches_in" not in codes(prepare_in_full(photo, settings))
    _, clean = taken(Site(), Board.CONCRETE)
    assert "reaches_in" not in codes(prepare_in_full(clean, PhotoSettings()))


def test_a_shadow_across_the_piece_is_said():
    _, photo = taken(Site(shadow=True), Board.CONCRETE, seed=4)
    done = prepare_in_full(photo, PhotoSettings())
    assert "cast_shadow" in codes(done)


def test_the_pieces_own_shadow_is_not_a_part_of_it():
    for seed in range(3):
        snapshot, photo = taken(Site(own_shadow=True), Board.CONCRETE, seed=seed)
        piece = find_piece(photo).piece
        assert overlap(piece.corners, snapshot.board_px) > 0.97


def test_where_the_border_differs_and_no_outline_is_found_it_is_said():
    # A round table: no four straight sides.
    y, x = np.mgrid[0:600, 0:800]
    rng = np.random.default_rng(1)
    code = np.full((600, 800, 3), (90, 110, 120), np.uint8)
    code[np.hypot(x - 400, y - 300) < 240] = (170, 120, 80)
    code = np.clip(code + rng.normal(0, 3, code.shape), 0, 255).astype(np.uint8)
    _, data = cv2.imencode(".png", code)
    photo = decode_photo(data.tobytes(), "round.png")
    done = prepare_in_full(photo, PhotoSettings())
    assert done.piece is None
    assert codes(done) & {"border", "piece_unsure"}


def test_the_card_is_never_read_whatever_was_set_by_hand():
    _, photo = taken(Site(), card_at_mm=(70.0, 80.0))
    card = card_for(photo, PhotoSettings(mm_per_px=0.3))
    assert card is not None
    done = prepare_in_full(photo, PhotoSettings(mm_per_px=0.3, whole_plane=True), card=card)
    ring = Polygon(points=tuple(map(tuple, card.outline_px())))
    x, y = np.array(ring.points).mean(axis=0) / done.picture.reduced
    assert not done.picture.valid()[int(y), int(x)]

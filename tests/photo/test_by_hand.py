"""Squaring without a card: vanishing lines, columns, carved pieces, an earlier photo."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from jartide.errors import PrepareError
from jartide.photo.column import column_map
from jartide.photo.layout import SquaredBy, has_scale, layout_of, wants_card
from jartide.photo.lens import Lens, focal_guess
from jartide.photo.load import Photo
from jartide.photo.prepare import prepare, prepare_in_full
from jartide.photo.same_thing import length_from
from jartide.photo.settings import (
    CardUse,
    Column,
    KnownLength,
    PhotoSettings,
    Polygon,
    Rect,
    VanishingLines,
)
from jartide.photo.square import transform
from jartide.photo.vanishing import plane_from_lines
from jartide.studio.camera_stand import Board

from .snapshots import found, shot_of, taken

SIZE = (1600, 1200)


def wall_photo(focal=1400.0):
    """Where a wall's points, mm, are seen: the camera turned two ways. (4, 2) corners too."""
    turn = cv2.Rodrigues(np.array([0.25, -0.35, 0.05]))[0]

    def see(points):
        solid = np.column_stack([points, np.zeros(len(points))]) @ turn.T + [0, 0, 1500.0]
        return solid[:, :2] / solid[:, 2:] * focal + np.array(SIZE) / 2

    return see


def lines_of(see):
    def seg(a, b):
        p, q = see(np.array([a, b], float))
        return tuple(p), tuple(q)

    return VanishingLines(
        level=(seg((-400, -300), (400, -300)), seg((-400, 250), (380, 250))),
        upright=(seg((-350, -280), (-350, 260)), seg((330, -280), (330, 300))),
    )


@pytest.mark.parametrize("known", [True, False])
def test_two_pairs_of_lines_square_a_wall(known):
    see = wall_photo()
    matrix = plane_from_lines(lines_of(see), SIZE, 1400.0, known)
    square = np.array([[-200, -100], [100, -100], [100, 200], [-200, 200.0]])
    flat = transform(matrix, see(square))
    sides = np.linalg.norm(np.roll(flat, -1, axis=0) - flat, axis=1)
    assert sides / sides.mean() == pytest.approx(np.ones(4), abs=0.01)
    assert np.dot(flat[1] - flat[0], flat[3] - flat[0]) == pytest.approx(
        0, abs=0.01 * sides.mean() ** 2
    )
    # Level stays level, and up stays up.
    assert abs(flat[1, 1] - flat[0, 1]) < 0.01 * sides[0]
    assert flat[3, 1] > flat[0, 1]


def test_lines_that_make_no_sense_are_refused():
    good = lines_of(wall_photo())
    short = VanishingLines(level=(((1, 1), (2, 1)), good.level[1]), upright=good.upright)
    with pytest.raises(PrepareError, match="well apart"):
        plane_from_lines(short, SIZE, 1400.0, True)
    alike = VanishingLines(level=good.level, upright=good.level)
    with pytest.raises(PrepareError):
        plane_from_lines(alike, SIZE, 1400.0, True)


def column_photo(radius=100.0, away=700.0, focal=1400.0):
    """A column seen square on: where points on it (angle, height) are, px."""

    def see(angle, height):
        x, z = radius * np.sin(angle), away - radius * np.cos(angle)
        return np.column_stack([x / z, height / z]) * focal + np.array(SIZE) / 2

    edge = np.arccos(radius / away)

    def side(sign):
        a, b = see(np.array([sign * edge] * 2), np.array([-200.0, 200.0]))
        return tuple(a), tuple(b)

    return see, Column(left=side(-1), right=side(1), diameter_mm=2 * radius)


def test_a_column_is_unrolled_to_its_true_size():
    see, column = column_photo()
    mapped, known = column_map(column, 1400.0, SIZE)
    assert known
    angle = np.radians([-50, -20, 0, 30, 55])
    on = mapped.to_surface(see(angle, np.full(5, 40.0)))
    along = np.diff(on[:, 0])
    assert along == pytest.approx(100 * np.diff(angle), rel=0.03)
    heights = mapped.to_surface(see(np.zeros(2), np.array([-150.0, 150.0])))
    assert heights[1, 1] - heights[0, 1] == pytest.approx(300, rel=0.05)
    back = mapped.to_photo(on)
    assert back == pytest.approx(see(angle, np.full(5, 40.0)), abs=0.5)


def test_a_column_is_read_in_its_middle_only_and_says_so():
    rng = np.random.default_rng(0)
    code = rng.integers(60, 200, (1200, 1600, 3)).astype(np.uint8)
    photo = Photo(code=code, name="a", sha256="", taken=None, focal_35mm=30.0)
    _, column = column_photo()
    picture = prepare(photo, PhotoSettings(column=column), 100_000)
    assert "column" in [code for code, _ in picture.warnings]
    assert picture.shape[1] * picture.mm_per_px < np.pi * 100
    by_height = PhotoSettings(column=Column(left=column.left, right=column.right, height_mm=400))
    assert has_scale(by_height)
    tall = prepare(photo, by_height, 100_000)
    assert tall.shape[0] * tall.mm_per_px == pytest.approx(400, rel=0.02)
    crossed = Column(left=column.right, right=column.left, diameter_mm=200)
    with pytest.raises(PrepareError, match="cross"):
        prepare(photo, PhotoSettings(column=crossed))
    tiny = Column(left=column.left, right=column.right, diameter_mm=-3)
    with pytest.raises(PrepareError, match="diameter"):
        prepare(photo, PhotoSettings(column=tiny))


def test_of_a_carved_piece_only_the_marked_patch_is_read():
    _, photo = taken(shot_of(card_at_mm=None), board=Board.OAK)
    with pytest.raises(PrepareError, match="flattest patch"):
        prepare(photo, PhotoSettings(carved=True))
    known = KnownLength(start=(700, 600), end=(900, 600), length_mm=60.0)
    settings = PhotoSettings(
        carved=True, region=Rect(x=650, y=500, w=300, h=240), known_length=known
    )
    picture = prepare(photo, settings)
    assert picture.shape[1] * picture.mm_per_px == pytest.approx(90, rel=0.02)
    assert "carved" in [code for code, _ in picture.warnings]


def test_scale_is_carried_over_from_an_earlier_photo_of_the_same_board():
    with_card = shot_of(tilt_deg=6.0)
    _, earlier, card = found(with_card)
    without = shot_of(tilt_deg=14.0, towards_deg=200.0, card_at_mm=None, card_share=0.45)
    _, photo = taken(without, seed=5)
    layout = layout_of(earlier, PhotoSettings(), card)
    known = length_from(earlier, layout, photo, "Target")
    assert known.name == "Target"
    # In the new photo the board's own size in the middle tells the truth.
    settings = PhotoSettings(known_length=known)
    _, new = taken(without, seed=5)
    snapshot, _ = taken(without, seed=5)
    across = np.linalg.norm(snapshot.board_px[1] - snapshot.board_px[0])
    down = np.linalg.norm(snapshot.board_px[3] - snapshot.board_px[0])
    measured = layout_of(new, settings, None).mm_per_unit * (across + down) / 2
    assert measured == pytest.approx(240, rel=0.08)  # a tilted photo, read as it is
    _, stranger = taken(shot_of(card_at_mm=None), board=Board.BLANK)
    with pytest.raises(PrepareError, match="Too little"):
        length_from(earlier, layout, stranger, "Target")
    unscaled = layout_of(photo, PhotoSettings(), None)
    with pytest.raises(PrepareError, match="no scale"):
        length_from(photo, unscaled, earlier, "Target")


def test_what_sets_the_scale():
    assert has_scale(PhotoSettings(), card=True)
    assert not has_scale(PhotoSettings(card=CardUse(ignore=True)), card=True)
    assert not has_scale(PhotoSettings())
    assert wants_card(PhotoSettings())
    assert not wants_card(PhotoSettings(mm_per_px=0.2))


def test_a_length_of_the_painters_goes_before_the_cards_print():
    shot = shot_of(tilt_deg=3.0)
    snapshot, photo, card = found(shot)
    by_card = prepare_in_full(photo, PhotoSettings(), card=card)
    assert by_card.layout.squared_by is SquaredBy.CARD
    top = snapshot.board_px[:2]
    doubled = KnownLength(start=tuple(top[0]), end=tuple(top[1]), length_mm=480.0)
    by_hand = prepare_in_full(photo, PhotoSettings(known_length=doubled), card=card)
    ratio = by_hand.layout.mm_per_unit / by_card.layout.mm_per_unit
    assert ratio == pytest.approx(2, rel=0.01)


def test_lenses_and_what_exif_says_of_them():
    lens = Lens(focal_px=1500.0, k1=0.02, centre=(800, 600))
    rays = np.array([[0.1, -0.2], [0.45, 0.3]])
    assert lens.undistort(lens.distort(rays)) == pytest.approx(rays, abs=1e-5)
    told, untold = focal_guess((4000, 3000), 26.0), focal_guess((4000, 3000), None)
    assert told.known and not untold.known
    assert told.focal_px == pytest.approx(26 / 43.267 * 5000, rel=1e-6)
    assert untold.spread > told.spread


def test_a_region_of_any_outline_is_read():
    _, photo = taken(shot_of(card_at_mm=None))
    outline = Polygon(points=((600, 400), (1000, 450), (800, 800)))
    picture = prepare(photo, PhotoSettings(mm_per_px=0.2, region=outline))
    share = picture.valid().mean()
    assert share == pytest.approx(0.5, abs=0.06)

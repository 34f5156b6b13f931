"""The photo card: how it is printed, and how surely it is found and measured."""

from __future__ import annotations

import io

import numpy as np
import pytest

from jartide.errors import CardError, PrepareError
from jartide.photo.card.codes import seen_codes
from jartide.photo.card.design import CardSize, PatchKind, card_of
from jartide.photo.card.files import card_file
from jartide.photo.card.find import find_card
from jartide.photo.card.patches import known_colours, light_slope, printed_lab, seen_patches
from jartide.photo.correct import STRAIGHT, Grade
from jartide.photo.load import Photo
from jartide.studio.camera_stand import Board
from jartide.studio.snapshot import PrintedCard

from .snapshots import corner_error_mm, found, shot_of, taken

# ---- the design and its files


@pytest.mark.parametrize("size", list(CardSize))
def test_a_card_has_what_it_promises_and_nothing_overlaps(size):
    card = card_of(size)
    kinds = [patch.kind for patch in card.patches]
    assert len(card.codes) == 4
    assert kinds.count(PatchKind.GREY) >= 4
    assert kinds.count(PatchKind.SPACE) == 6
    assert kinds.count(PatchKind.PAPER) >= 4
    boxes = [*(c.box for c in card.codes), *card.bars, *(p.box for p in card.patches)]
    for n, a in enumerate(boxes):
        assert a.x >= 0 and a.x + a.w <= card.width_mm
        assert a.y >= 0 and a.y + a.h <= card.height_mm
        for b in boxes[n + 1 :]:
            apart = a.x + a.w <= b.x or b.x + b.w <= a.x or a.y + a.h <= b.y or b.y + b.h <= a.y
            assert apart, (a, b)


def test_no_two_cards_share_a_code():
    numbers = [code.number for size in CardSize for code in card_of(size).codes]
    assert len(set(numbers)) == len(numbers)


@pytest.mark.parametrize("size", list(CardSize))
def test_pdf_prints_true_to_size_and_says_how_to_check(size):
    import pypdfium2

    document = pypdfium2.PdfDocument(card_file(size, ".pdf"))
    page = document[0]
    words = page.get_textpage().get_text_range().replace("\r\n", " ")
    assert "100%" in words
    assert "steel rule" in words
    assert f"must be {card_of(size).ruler.length_mm:g} mm" in words
    # The codes as printed: their corners span the card to a tenth of a millimetre.
    per_mm = 8
    grey = np.array(page.render(scale=per_mm * 25.4 / 72).to_pil().convert("L"))
    codes = {c.number: c.corners for c in seen_codes(np.ascontiguousarray(grey), (9, 81))}
    wanted = {c.number: c.box.corners() for c in card_of(size).codes}
    assert set(codes) == set(wanted)
    first, last = min(wanted), max(wanted)
    printed = np.linalg.norm(codes[first][0] - codes[last][0]) / per_mm
    assert printed == pytest.approx(np.linalg.norm(wanted[first][0] - wanted[last][0]), abs=0.3)
    document.close()


def test_svg_and_png_are_the_same_card():
    from PIL import Image

    card = card_of(CardSize.A6)
    svg = card_file(CardSize.A6, ".svg").decode()
    assert 'width="148mm"' in svg and 'height="105mm"' in svg
    image = Image.open(io.BytesIO(card_file(CardSize.A6, ".png", dpi=150)))
    assert image.size == (round(148 / 25.4 * 150), round(105 / 25.4 * 150))
    assert image.info["dpi"][0] == pytest.approx(150, abs=0.5)
    codes = seen_codes(np.array(image.convert("L")), (9, 41))
    assert {c.number for c in codes} == {c.number for c in card.codes}


@pytest.mark.parametrize(("kind", "dpi"), [(".doc", 300), (".png", 5), (".png", 9000)])
def test_impossible_prints_are_one_sentence(kind, dpi):
    with pytest.raises(CardError) as caught:
        card_file(CardSize.A6, kind, dpi=dpi)
    assert str(caught.value).endswith(".")


# ---- finding it


@pytest.mark.parametrize(
    ("size", "changes", "most_mm"),
    [
        (CardSize.A6, {}, 0.5),
        (CardSize.A6, {"tilt_deg": 50.0, "towards_deg": 10.0}, 0.7),
        (CardSize.A6, {"write_focal": False, "tilt_deg": 30.0}, 0.8),
        (CardSize.A6, {"k1": 0.006}, 0.8),
        (CardSize.WALLET, {"card_share": 0.2}, 1.2),
        (CardSize.STRIP, {"card_share": 0.5, "card_at_mm": (5.0, 5.0)}, 0.5),
        (CardSize.A6, {"card_turn_deg": 90.0, "card_at_mm": (150.0, 40.0)}, 0.5),
    ],
)
def test_corners_of_a_board_are_placed_and_their_error_stated(size, changes, most_mm):
    shot = shot_of(size, **changes)
    snapshot, _, card = found(shot)
    assert card is not None and card.size is size
    error = corner_error_mm(shot, snapshot, card)
    assert error < most_mm
    stated = card.pose.error_mm(np.array([[-20, -30], [220, -30], [220, 210], [-20, 210.0]]))
    assert 0 < stated.max() < 3
    assert card.pose.residual_px < 0.5
    assert card.pose.tilt_deg() == pytest.approx(shot.tilt_deg, abs=2)


def test_half_a_card_is_found_with_a_wider_error():
    whole = shot_of(card_at_mm=(60.0, 90.0), aim_mm=(130.0, 120.0), card_share=0.4, tilt_deg=8.0)
    # Moved so far that the right half is out of the frame.
    half = shot_of(card_at_mm=(120.0, 90.0), aim_mm=(10.0, 120.0), card_share=0.4, tilt_deg=8.0)
    _, _, all_seen = found(whole)
    _, _, partly = found(half)
    assert len(all_seen.codes) == 4
    assert len(partly.codes) == 2
    far = np.array([[300.0, 0.0]])
    assert partly.pose.error_mm(far)[0] > all_seen.pose.error_mm(far)[0]


def test_a_printer_that_scaled_is_put_right_by_the_ruler():
    shot = shot_of(print=PrintedCard(scale=0.95))
    snapshot, photo = taken(shot)
    length = card_of(CardSize.A6).ruler.length_mm * 0.95
    trusting, told = find_card(photo), find_card(photo, check_mm=length)
    assert corner_error_mm(shot, snapshot, told) < 0.5
    assert corner_error_mm(shot, snapshot, trusting) > 4
    with pytest.raises(PrepareError, match="can't be its print"):
        find_card(photo, check_mm=300.0)


def test_a_card_above_the_face_is_taken_into_account():
    shot = shot_of(card_lift_mm=6.0, tilt_deg=35.0)
    snapshot, _, card = found(shot)
    # The face lies 6 mm behind the card's plane.
    assert corner_error_mm(shot, snapshot, card, height_mm=6.0) < 0.8
    assert corner_error_mm(shot, snapshot, card) > 2


def test_the_smallest_codes_are_read_sharp_and_blurred():
    cell_mm, width_mm = card_of(CardSize.A6).cell_mm, card_of(CardSize.A6).width_mm
    for cell_px, blur in ((3.2, 0.45), (6.2, 2.0)):
        shot = shot_of(card_share=cell_px / cell_mm * width_mm / 1600, blur_px=blur, tilt_deg=5.0)
        assert found(shot)[2] is not None


def test_no_card_is_seen_where_there_is_none():
    rng = np.random.default_rng(0)
    tiles = np.kron(rng.random((60, 80)) < 0.5, np.ones((16, 16))).astype(np.uint8) * 255
    floor = Photo(code=np.dstack([tiles] * 3), name="a", sha256="", taken=None)
    assert find_card(floor) is None
    assert find_card(taken(shot_of(card_at_mm=None))[1]) is None


# ---- its colours


def test_patches_are_read_and_graded():
    shot = shot_of()
    _, photo, card = found(shot)
    patches = seen_patches(photo, card)
    assert len(patches) == len(card.card.patches)
    known, grade = known_colours(patches, {})
    assert grade is Grade.PRINTED
    inks = np.hypot(known.lab[:, 1], known.lab[:, 2]) > 6
    assert inks.sum() >= 10  # they count, but for less than any grey or paper of their lightness
    paper = known.lab[:, 0] > 94
    assert known.trust[inks].min() > 3 * known.trust[paper].max()
    read = {p.id: shot.print.patch_lab(p.srgb) for p in card.card.patches if p.srgb is not None}
    known, grade = known_colours(patches, {**read, "paper": shot.print.paper_lab})
    assert grade is Grade.MEASURED
    assert len(known.lab) >= 18
    assert known_colours([], {}) is None
    # Inks alone say nothing of the light.
    inks_alone = [p for p in patches if p.patch.kind is PatchKind.COLOUR]
    assert known_colours(inks_alone, {}) is None


def test_falloff_across_the_card_is_seen_on_its_paper():
    _, photo, card = found(shot_of(falloff=0.4, falloff_deg=0.0, tilt_deg=2.0))
    slope = light_slope(seen_patches(photo, card), STRAIGHT)
    assert slope[1] < 0  # less light to the right
    assert abs(slope[2]) < abs(slope[1]) / 2


def test_what_a_print_should_be_runs_from_black_to_paper():
    card = card_of(CardSize.A6)
    lightness = [printed_lab(p)[0] for p in card.patches if p.kind is PatchKind.GREY]
    assert lightness == sorted(lightness)
    paper = next(p for p in card.patches if p.id == "paper")
    assert printed_lab(paper)[0] == pytest.approx(95.5, abs=0.1)


def test_burnt_patches_are_not_used():
    _, photo, card = found(shot_of(exposure=1.6), board=Board.CONCRETE)
    burnt = [p for p in seen_patches(photo, card) if p.burnt > 0.5]
    assert burnt
    known, _ = known_colours(seen_patches(photo, card), {})
    assert len(known.lab) < len(seen_patches(photo, card)) - len(burnt)
    assert known.seen.max() < 0.99

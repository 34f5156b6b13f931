"""The painted elements draw what they are given: measured on the picture, not on the code."""

from __future__ import annotations

import itertools
import math

import pytest
from PySide6.QtGui import QColor, QImage, QPainter
from PySide6.QtWidgets import QLineEdit

from jartide.app.elements.core import LEAST_PX, Stratum, draw_core, stratum_heights
from jartide.app.elements.deviation import draw_colour_pair, draw_deviation
from jartide.app.elements.jar import draw_jar
from jartide.app.elements.lay_dial import draw_lay_dial
from jartide.app.elements.scale_strip import draw_scale_strip
from jartide.app.elements.size_stair import draw_size_stair
from jartide.app.elements.tide import Mark, draw_tide
from jartide.app.kit import Kit, elided, text_width
from jartide.app.theme import DAY, NIGHT, style_sheet
from jartide.app.widgets.painted import choose_theme, current_theme
from jartide.boards.result import State

RED = QColor(200, 30, 30)
BLUE = QColor(30, 30, 200)


@pytest.fixture
def canvas(qapp):
    """A white picture and a kit that draws on it."""
    image = QImage(400, 300, QImage.Format.Format_RGB32)
    image.fill(QColor(255, 255, 255))
    painter = QPainter(image)
    yield image, Kit(painter, DAY)
    if painter.isActive():
        painter.end()


def share(image, colour, box=None):
    """Share of the pixels of a box that have nearly this colour."""
    x0, y0, x1, y1 = box or (0, 0, image.width(), image.height())
    hits = 0
    for y in range(y0, y1):
        for x in range(x0, x1):
            c = image.pixelColor(x, y)
            hits += (
                max(
                    abs(c.red() - colour.red()),
                    abs(c.green() - colour.green()),
                    abs(c.blue() - colour.blue()),
                )
                < 30
            )
    return hits / ((x1 - x0) * (y1 - y0))


def test_a_fuller_jar_shows_more_paint(canvas):
    image, kit = canvas
    draw_jar(kit, 20, 20, 100, fill=RED, level=0.2)
    draw_jar(kit, 220, 20, 100, fill=RED, level=0.8)
    kit.painter.end()
    little, much = share(image, RED, (0, 0, 200, 150)), share(image, RED, (200, 0, 400, 150))
    assert much == pytest.approx(4 * little, rel=0.2)


def test_strata_have_heights_by_cover_and_none_vanishes():
    strata = [Stratum(colour=RED, coverage=c) for c in (0.9, 0.09, 0.01)]
    heights = stratum_heights(strata, 400)
    assert sum(heights) == pytest.approx(400)
    assert min(heights) >= LEAST_PX
    assert heights == sorted(heights, reverse=True)
    assert sum(stratum_heights(strata * 4, 100)) == pytest.approx(100)


def test_the_ground_lies_lowest_in_the_core(canvas):
    image, kit = canvas
    strata = [Stratum(colour=RED, coverage=0.5), Stratum(colour=BLUE, coverage=0.5)]
    middles = draw_core(kit, 50, 20, 80, 200, strata, picked=None)
    kit.painter.end()
    assert middles[0] > middles[1]
    assert share(image, RED, (55, 150, 125, 210)) > 0.8
    assert share(image, BLUE, (55, 30, 125, 90)) > 0.8


def test_a_picked_stratum_slides_towards_the_photo(canvas):
    image, kit = canvas
    draw_core(kit, 50, 20, 80, 200, [Stratum(colour=RED, coverage=1.0)], picked=0)
    kit.painter.end()
    assert share(image, RED, (37, 60, 49, 180)) > 0.8
    assert share(image, DAY.accent, (28, 60, 33, 180)) > 0.5


def test_water_fills_the_tide_to_the_chosen_board(canvas):
    image, kit = canvas
    marks = [Mark(number=1, closeness=0.2), Mark(number=2, closeness=0.7)]
    discs = draw_tide(kit, 0, 60, 400, marks, chosen=1, expected=None)
    kit.painter.end()
    assert share(image, DAY.water, (90, 65, 250, 90)) > 0.9
    assert share(image, DAY.water, (300, 65, 390, 90)) == 0
    assert [round(x) for x, _, _ in discs] == [77, 277]


def test_crowded_discs_do_not_cover_each_other(canvas):
    _, kit = canvas
    marks = [Mark(number=n, closeness=0.5 + 0.002 * n) for n in range(6)]
    discs = sorted(draw_tide(kit, 0, 60, 400, marks, chosen=5, expected=0.9))
    for (xa, _, ra), (xb, _, rb) in itertools.pairwise(discs):
        assert xb - xa >= ra + rb


def test_bristles_point_the_way_of_the_pattern(canvas):
    image, kit = canvas
    shares = [0.0] * 30
    shares[10] = 1.0  # 60 to 66 degrees
    draw_lay_dial(kit, 100, 50, 200, shares)
    kit.painter.end()
    angle, reach = math.radians(63), 70
    x, y = 200 + reach * math.cos(angle), 150 - reach * math.sin(angle)
    assert image.pixelColor(round(x), round(y)).red() == DAY.shade.red()
    mirrored = image.pixelColor(round(400 - x), round(y))
    assert mirrored.red() == 255


def test_the_biggest_step_is_the_highest(canvas):
    image, kit = canvas
    target = (0.1, 0.2, 0.4, 0.1, 0.05, None)
    labels = ["1", "2", "4", "8", "16", "32 mm"]
    draw_size_stair(kit, 50, 50, 300, 100, labels, target)
    kit.painter.end()
    by_step = [share(image, DAY.shade, (52 + 50 * n, 50, 98 + 50 * n, 150)) for n in range(6)]
    assert max(range(6), key=by_step.__getitem__) == 2
    assert by_step[5] < 0.02


@pytest.mark.parametrize(("jnd", "amount", "side"), [(5, "much", 1), (-5, "much", -1)])
def test_more_is_to_the_right(canvas, jnd, amount, side):
    image, kit = canvas
    draw_deviation(kit, 100, 100, 200, jnd, amount, State.DIFFERS, 0.5)
    kit.painter.end()
    left = share(image, DAY.ink, (100, 90, 190, 112))
    right = share(image, DAY.ink, (212, 90, 300, 112))
    assert (right > left) is (side > 0)


def test_what_is_not_sure_is_drawn_lighter_than_what_is(canvas):
    image, kit = canvas
    draw_deviation(kit, 100, 60, 200, 4, "much", State.DIFFERS, 0.5)
    draw_deviation(kit, 100, 120, 200, 4, "much", State.LOOKS_DIFFERENT, 2.0)
    draw_deviation(kit, 100, 180, 200, 0, "same", State.UNTOLD, 4.0)
    kit.painter.end()
    sure, seen = (share(image, DAY.ink, (212, y - 12, 300, y + 12)) for y in (60, 120))
    assert sure > 2 * seen
    # What can't be told may lie on either side.
    sides = [share(image, DAY.ink2, (x, 176, x + 60, 186)) for x in (125, 215)]
    assert min(sides) > 0.02


def test_target_is_the_left_half_of_a_pair(canvas):
    image, kit = canvas
    draw_colour_pair(kit, 0, 0, 100, 40, RED, BLUE)
    kit.painter.end()
    assert image.pixelColor(20, 20) == RED
    assert image.pixelColor(80, 20) == BLUE


@pytest.mark.parametrize("px_per_mm", [0.2, 1.0, 4.0, 20.0])
def test_rule_has_its_long_marks_where_they_belong(canvas, px_per_mm):
    image, kit = canvas
    draw_scale_strip(kit, 0, 100, 390, px_per_mm)
    kit.painter.end()
    every = next(n for n in (5, 10, 20, 50, 100, 200, 500) if n * px_per_mm >= 46)
    at = round(every * px_per_mm)
    assert image.pixelColor(at, 108).red() < 80
    assert image.pixelColor(at + 3, 108).red() > 200


def test_a_rule_without_a_scale_says_so(canvas):
    image, kit = canvas
    draw_scale_strip(kit, 0, 100, 300, None)
    kit.painter.end()
    assert share(image, DAY.ink2, (0, 100, 300, 126)) > 0.01


def test_long_words_are_cut_at_a_word(qapp):
    words = "deep green marble, 6 panels and a counter"
    cut = elided(words, 160, 15)
    assert text_width(cut, 15) <= 160
    assert cut.endswith("–")
    assert words.startswith(cut.removesuffix(" –"))
    assert elided("short", 160, 15) == "short"


@pytest.mark.parametrize("theme", [DAY, NIGHT])
def test_greys_are_true_and_text_can_be_read(theme):
    for name in (
        "bench",
        "sheet",
        "raised",
        "well",
        "line",
        "edge",
        "shade",
        "water",
        "ink",
        "ink2",
        "ink3",
    ):
        c = getattr(theme, name)
        assert c.red() == c.green() == c.blue(), name

    def luminance(c):
        v = c.redF()
        return v / 12.92 if v <= 0.04045 else ((v + 0.055) / 1.055) ** 2.4

    def contrast(a, b):
        """WCAG 2.2, relative luminances with 5 % of flare."""
        dark, light = sorted((luminance(a), luminance(b)))
        return (light + 0.05) / (dark + 0.05)

    for ground in (theme.bench, theme.sheet, theme.raised, theme.well):
        for ink in (theme.ink, theme.ink2, theme.ink3):
            assert contrast(ground, ink) >= 4.5
    for ground in (theme.bench, theme.sheet, theme.raised):
        assert contrast(ground, theme.edge) >= 3
        assert contrast(ground, theme.ink) >= 3
    for ground in (theme.bench, theme.sheet):
        assert contrast(ground, theme.accent) >= 3
        assert contrast(ground, theme.shade) >= 3
    # The tide against what is still to be reached, its edges against the tide, tails on lanes.
    for ground in (theme.land_far, theme.land_near, theme.bench):
        assert contrast(ground, theme.water) >= 3
    for ground in (theme.water, theme.land_far, theme.land_near, theme.shade):
        assert contrast(ground, theme.ink) >= 3


@pytest.mark.parametrize("name", ["day", "night"])
def test_placeholders_are_read_as_well_as_other_text(qapp, name):
    choose_theme(name)
    theme = current_theme()
    field = QLineEdit()
    field.setStyleSheet(style_sheet(theme))
    field.resize(300, 44)
    field.setPlaceholderText("M M M M M M M M")
    image = field.grab().toImage()
    choose_theme("day")
    inside = [image.pixelColor(x, y) for x in range(12, 200) for y in range(10, 34)]
    far = max(abs(c.lightness() - theme.raised.lightness()) for c in inside)
    assert far >= 0.95 * abs(theme.ink3.lightness() - theme.raised.lightness())

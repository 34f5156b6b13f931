"""Several photos of one finish read as one: medians, spread, and the odd one out."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jartide.boards.compare import compare
from jartide.boards.result import Verdict
from jartide.boards.together import MOST_PHOTOS, read_together
from jartide.errors import ReadingError
from jartide.studio.camera import COOL_LED
from jartide.studio.concrete import draw_concrete
from jartide.studio.marble import draw_marble
from tests.conftest import read_surface

SIZE = (200, 200)


@pytest.fixture(scope="module")
def readings(marble_reading):
    """Three patches of one marble, each photographed for itself."""
    others = [read_surface(draw_marble(SIZE, 0.25, seed), seed) for seed in (11, 12)]
    return [marble_reading, *others]


@pytest.fixture(scope="module")
def stranger():
    return read_surface(draw_concrete(SIZE, 0.25, 5), 5, COOL_LED)


def test_one_photo_is_itself(marble_reading):
    together = read_together([marble_reading])
    assert together.reading == marble_reading
    assert together.odd == ()
    assert all(layer.spread_de00 == 0 for layer in together.layers)


def test_the_common_value_lies_among_the_photos(readings):
    together = read_together(readings)
    common = together.reading
    assert common.photos == 3
    assert together.odd == ()
    widths = [r.pattern.lines.width_mm.median.value for r in readings]
    assert common.pattern.lines.width_mm.median.value == pytest.approx(sorted(widths)[1], rel=1e-6)
    grounds = [r.layers[0].shown_lab[0] for r in readings]
    assert min(grounds) - 1 <= common.layers[0].shown_lab[0] <= max(grounds) + 1
    assert sum(layer.coverage.value for layer in common.layers) == pytest.approx(1, abs=1e-6)
    assert sum(common.pattern.lay) == pytest.approx(1, abs=1e-6)


def test_more_photos_make_the_measurement_surer_and_show_their_spread(readings):
    one, three = readings[0], read_together(readings).reading

    def half(reading):
        low, high = reading.pattern.lines.width_mm.median.measurement
        return high - low

    assert half(three) < 1.1 * half(one)
    spread = read_together(readings).layers[0]
    assert len(spread.labs) == len(spread.coverages) == 3
    assert 0 <= spread.spread_de00 < 6


def test_every_photo_matches_what_they_say_together(readings):
    together = read_together(readings)
    for reading in readings:
        assert compare(together.reading, reading).verdict is not Verdict.OFF


def test_one_odd_photo_does_not_set_the_target(readings, stranger):
    clean = read_together(readings).reading
    together = read_together([*readings[:2], stranger, readings[2]])
    assert together.odd == (2,)
    assert together.distances[2] > 2 * max(d for n, d in enumerate(together.distances) if n != 2)
    assert together.lead != 2
    for a, b in zip(clean.layers, together.reading.layers, strict=True):
        assert a.shown_lab == pytest.approx(b.shown_lab, abs=0.01)
    codes = [code for code, _ in together.reading.warnings]
    assert "photo[2]" in codes


def test_of_two_photos_neither_is_the_odd_one(readings, stranger):
    assert read_together([readings[0], stranger]).odd == ()


def test_unknown_scales_leave_lengths_unknown(readings):
    without = [read_surface(draw_marble(SIZE, 0.25, seed), seed) for seed in (11,)]
    lines = without[0].pattern.lines
    from jartide.reading.trust.measured import unknown

    bare = replace(lines, width_mm=replace(lines.width_mm, median=unknown("reason.no_scale")))
    blind = replace(without[0], pattern=replace(without[0].pattern, lines=bare))
    common = read_together([blind, blind, readings[0]]).reading
    assert common.pattern.lines.width_mm.median.value is None
    assert common.pattern.lines.width_mm.median.reason is not None


def test_too_many_or_mixed_photos_are_refused(marble_reading):
    with pytest.raises(ReadingError, match="20 photos"):
        read_together([marble_reading] * (MOST_PHOTOS + 1))
    with pytest.raises(ReadingError):
        read_together([])
    old = replace(marble_reading, algorithm="old")
    with pytest.raises(ReadingError):
        read_together([marble_reading, old])

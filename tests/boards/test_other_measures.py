"""Every measure both readings made is compared, said in words and mended."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest

from jartide.boards.compare import compare
from jartide.boards.visibility import visible_share
from jartide.measures.entries import MEASURES
from jartide.measures.measure import Scale
from jartide.photo.load import decode_photo
from jartide.photo.prepare import prepare
from jartide.photo.settings import PhotoSettings
from jartide.reading.pattern.records import (
    Cells,
    Grain,
    Joints,
    Patches,
    Polarity,
    Specks,
    Spread,
    Weave,
)
from jartide.reading.read import read_picture
from jartide.reading.result import Position
from jartide.reading.trust.measured import Measured
from jartide.studio.camera import photograph
from jartide.studio.families import draw_family
from jartide.wording import known_ids


def sure(value):
    own = (value * 0.999, value * 1.001)
    return Measured(value=value, measurement=own, sampling=own)


@pytest.fixture(scope="module")
def cloth():
    surface = draw_family("linen", (160.0, 160.0), 0.25, 5)
    photo = decode_photo(photograph(surface.rgb_linear, 5), "linen.jpg")
    return read_picture(prepare(photo, PhotoSettings(mm_per_px=0.25)), "linen")[0]


def with_block(reading, path, value):
    """The reading with one measure of one block changed; the block is made if it is missing."""
    block, name = path.split(".")
    if block == "position":
        ground, first, *others = reading.layers
        placed = replace(PLACED, **{name: sure(value)})
        return replace(reading, layers=(ground, replace(first, position=placed), *others))
    pattern = reading.pattern
    there = getattr(pattern, block)
    if there is None:
        there = BLANK[block]
    own = getattr(there, name)
    new = sure(value) if isinstance(own, Measured) else replace(own, median=sure(value))
    changed = replace(there, **{name: new})
    parts = {block: changed}
    if block in ("patches", "clouds"):
        # Areas are judged layer by layer: one layer has all of them.
        if isinstance(new, Spread):
            changed = replace(changed, **{name: replace(new, geometric_mean=sure(value))})
        parts |= {f"{block}_by_layer": ((reading.layers[0].id, changed),)}
    return replace(reading, pattern=replace(pattern, **parts))


def _blank(kind):
    from dataclasses import fields
    from typing import get_args, get_type_hints

    from jartide.reading.pattern.records import Spread

    nothing = Measured(value=None)
    hints = get_type_hints(kind)
    values = {}
    for field in fields(kind):
        hint = hints[field.name]
        if Spread in (hint, *get_args(hint)):
            values[field.name] = Spread(**{f.name: nothing for f in fields(Spread)})
        elif hint is Measured:
            values[field.name] = nothing
        else:
            values[field.name] = ()
    return kind(**values)


BLANK = {
    "patches": _blank(Patches),
    "clouds": _blank(Patches),
    "cells": _blank(Cells),
    "weave": _blank(Weave),
    "grain": _blank(Grain),
    "specks": _blank(Specks),
    "joints": replace(
        _blank(Joints),
        polarity=Polarity.DARKER,
        across_direction_deg=None,
        bond="none",
        count=3,
        lab=None,
    ),
}
EVEN = Measured(value=0.0, measurement=(0.0, 0.0), sampling=(0.0, 0.0))
PLACED = Position(edges=EVEN, foot=EVEN, corners=EVEN, hollows=EVEN)


# What is judged sort by sort of line does not show in the lines all together.
JUDGED = [
    m
    for m in MEASURES
    if m.judged is not None
    and m.block not in ("", "common")
    and not (m.axial or m.judged.by_hand or (m.judged.by_layer and m.block == "lines"))
]


@pytest.mark.parametrize("quantity", JUDGED, ids=lambda q: q.path)
@pytest.mark.parametrize("more", [True, False])
def test_a_sure_difference_is_ranked_said_and_mended(cloth, quantity, more):
    low, high = (0.5, 1.4) if quantity.judged.scale is Scale.PLAIN else (2.0, 4.0)
    if quantity.judged.of_layer:
        low, high = 0.2, 0.9
    if quantity.path.endswith("contrast_L"):
        low, high = 10.0, 22.0
    if quantity.judged.scale is Scale.DEGREES:
        low, high = 10.0, 40.0
    if quantity.path == "lines.junctions_per_dm2":
        low, high = 20.0, 40.0  # fewer than a dozen on a piece are no question
    target = with_block(cloth, quantity.path, low if more else high)
    board = with_block(cloth, quantity.path, high if more else low)
    found = {d.quantity: d for d in compare(target, board, 0.5).differences}
    own = found[f"layers[1].{quantity.path}" if quantity.judged.of_layer else quantity.path]
    assert own.significant
    assert own.rank == 1
    assert own.target == (low if more else high)
    assert str(own.advice)
    assert str(own.words)[0].isupper()
    for ending in ("more", "less"):
        assert f"advice.{quantity.path}.{ending}" in known_ids()


def test_what_only_one_reading_made_is_not_compared(cloth):
    board = replace(cloth, pattern=replace(cloth.pattern, weave=None))
    assert cloth.pattern.weave is not None
    assert not any(d.quantity.startswith("weave") for d in compare(cloth, board).differences)


def test_cloth_of_another_count_is_told_by_its_threads(cloth):
    surface = draw_family("linen", (160.0, 160.0), 0.25, 5, warp_per_cm=4.4)
    photo = decode_photo(photograph(surface.rgb_linear, 6), "linen.jpg")
    board = read_picture(prepare(photo, PhotoSettings(mm_per_px=0.25)), "linen")[0]
    found = {d.quantity: d for d in compare(cloth, board).differences}
    warp = found["weave.warp_per_cm"]
    assert warp.significant
    assert warp.ratio == pytest.approx(4.4 / 3.6, rel=0.02)
    assert "coarser comb" in str(warp.advice)


def test_how_lines_run_is_seen_for_as_long_as_the_lines_are():
    assert visible_share(1.4, 5.0, 38.0) == pytest.approx(1.0)
    assert visible_share(1.4, 5.0, 3.0) < visible_share(1.4, 5.0)
    assert visible_share(1.4, 80.0, 38.0) < 0.15 < visible_share(1.4, 20.0, 38.0) < 0.5
    assert visible_share(None, 20.0, 3.0) == 1.0


def _turned_by(reading, degrees, spread):
    pattern = replace(
        reading.pattern, direction_deg=sure(90.0 + degrees), direction_spread_deg=sure(spread)
    )
    return replace(reading, pattern=pattern)


def test_a_turn_of_what_runs_all_ways_is_seen_less_well(cloth):
    seen = {}
    for spread in (4.0, 48.0):
        both = (_turned_by(cloth, degrees, spread) for degrees in (0.0, 12.0))
        found = {d.quantity: d for d in compare(*both).differences}
        seen[spread] = found["direction_deg"].jnd
        assert found["direction_deg"].delta == pytest.approx(12.0)
    assert seen[4.0] == pytest.approx(12 / (6**2 + (4 / 6) ** 2) ** 0.5, rel=0.01)
    assert seen[48.0] == pytest.approx(12 / (6**2 + 8**2) ** 0.5, rel=0.01)


def _clouds(size):
    value = sure(size)
    spread = Spread(p10=value, median=value, p90=value, geometric_mean=value)
    return replace(BLANK["clouds"], size_by_area_mm=spread)


def test_sizes_of_areas_are_judged_layer_by_layer(cloth):
    """What all together is like hangs on the one that runs together."""
    ids = [layer.id for layer in cloth.layers]

    def with_clouds(sizes, every):
        by_layer = tuple((id, _clouds(size)) for id, size in zip(ids, sizes, strict=False))
        pattern = replace(cloth.pattern, clouds=_clouds(every), clouds_by_layer=by_layer)
        return replace(cloth, pattern=pattern)

    target = with_clouds((20.0, 8.0), 15.0)
    merged = with_clouds((20.0, 8.0), 30.0)
    larger = with_clouds((30.0, 12.0), 15.0)
    key = "clouds.size_by_area_mm"
    merged_row, larger_row = (
        next(d for d in compare(target, board).differences if d.quantity == key)
        for board in (merged, larger)
    )
    assert merged_row.jnd == pytest.approx(0.0, abs=1e-9)
    assert larger_row.significant
    assert larger_row.jnd == pytest.approx(math.log(1.5) / 0.2, rel=0.05)


def test_a_handful_of_forks_is_no_question(cloth):
    few, more = (with_block(cloth, "lines.junctions_per_dm2", value) for value in (1.0, 3.0))
    assert not any("junctions" in d.quantity for d in compare(few, more).differences)

"""What a colleague would say of a dry board, in shares and passes."""

from __future__ import annotations

from dataclasses import replace

import pytest

from jartide.boards.compare import compare
from jartide.boards.strokes import DABBED, DRY_BRUSHED, to_add, to_take_back, veils
from jartide.reading.pattern.records import Brush, Peak
from jartide.reading.trust.measured import Measured
from jartide.wording import say


def known(reading):
    return replace(reading, balance_known=True, exposure_known=True)


def with_layers(reading, change):
    """The reading with its layers changed, by number; what the picture shows goes with them."""
    layers = tuple(change(n, layer) for n, layer in enumerate(reading.layers))
    return replace(known(reading), layers=layers, colours=None)


def cover(value):
    near = (value * 0.98, value * 1.02)
    return Measured(value=value, measurement=near, sampling=near)


def advice(target, board, quantity):
    found = {d.quantity: d for d in compare(target, board, same_spot=True).differences}
    assert found[quantity].significant, found[quantity].words
    return say(found[quantity].advice)


@pytest.mark.parametrize(
    ("target", "board", "passes"), [(0.23, 0.48, 3), (0.36, 0.48, 1), (0.1, 0.48, 5)]
)
def test_dry_brush_is_taken_back_in_light_passes(target, board, passes):
    assert to_take_back(target, board, DRY_BRUSHED).passes == passes
    # Done by the passes, it shows about what it should.
    assert board * (1 - DRY_BRUSHED.hides) ** passes == pytest.approx(target, rel=0.2)


def test_what_is_gone_over_shows_the_target_s_share_after():
    work = to_take_back(0.3, 0.45, DABBED)
    assert 0.45 * (1 - work.share * DABBED.hides) == pytest.approx(0.3)
    more = to_add(0.3, 0.1, DABBED)
    assert 0.1 + more.share * DABBED.leaves == pytest.approx(0.3)
    passes = to_add(0.5, 0.2, DRY_BRUSHED).passes
    assert 1 - (1 - 0.2) * (1 - DRY_BRUSHED.leaves) ** passes == pytest.approx(0.5, abs=0.1)
    # Nearly all of it would have to be hidden: once over is not enough.
    assert to_take_back(0.02, 0.5, DABBED).passes is not None


@pytest.mark.parametrize(("target", "board", "count"), [(20, 25, 1), (20, 31, 2), (20, 60, None)])
def test_up_to_three_veils_bring_lines_back(target, board, count):
    assert veils(target, board) == count


def test_too_much_of_a_tone_is_gone_over_and_never_taken_back_while_open(marble_reading):
    target = with_layers(marble_reading, lambda n, x: x)
    cloud = next(n for n, x in enumerate(target.layers) if n and x.role == "cloud")

    def more(n, layer):
        share = layer.coverage.value + {cloud: 0.2, 0: -0.2}.get(n, 0.0)
        return replace(layer, coverage=cover(share))

    said = advice(target, with_layers(marble_reading, more), f"layers[{cloud}].coverage")
    assert "go over about" in said and "open" not in said
    assert say(target.layers[0].name) in said
    back = advice(with_layers(marble_reading, more), target, f"layers[{cloud}].coverage")
    assert "into the gaps" in back


def lines_of(reading):
    return next(n for n, x in enumerate(reading.layers) if x.role == "vein")


def lighter(reading, number, by):
    def change(n, layer):
        if n != number:
            return layer
        L, a, b = layer.shown_lab
        return replace(layer, lab=(L + by, a, b), shown_lab=(L + by, a, b))

    return with_layers(reading, change)


def test_light_veins_too_pale_get_a_transparent_veil_on_a_dark_ground(marble_reading):
    target, vein = with_layers(marble_reading, lambda n, x: x), lines_of(marble_reading)
    said = advice(target, lighter(marble_reading, vein, 10), f"layers[{vein}].lab")
    assert "transparent veil" in said and "milky" in said


def test_lines_too_weak_are_made_stronger_in_parts_and_not_all_gone_over(marble_reading):
    target, vein = with_layers(marble_reading, lambda n, x: x), lines_of(marble_reading)
    said = advice(target, lighter(marble_reading, vein, -10), f"layers[{vein}].lab")
    assert "lighter where lines join" in said and "leave the others" in said


def test_dark_veins_that_are_too_dark_are_veiled(marble_reading):
    vein = lines_of(marble_reading)

    def pale_ground(n, layer):
        lab = (85.0, 1.0, 5.0) if n == 0 else (40.0, 0.0, 0.0) if n == vein else None
        return layer if lab is None else replace(layer, lab=lab, shown_lab=lab)

    target = with_layers(marble_reading, pale_ground)
    said = advice(target, lighter(target, vein, -8), f"layers[{vein}].lab")
    assert "thin veil" in said and "once more" not in said and "milky" not in said


def test_a_ground_too_pink_gets_a_veil_of_the_corrected_ground(marble_reading):
    target = with_layers(marble_reading, lambda n, x: x)

    def pinker(by):
        def change(n, layer):
            if n:
                return layer
            L, a, b = layer.shown_lab
            return replace(layer, lab=(L, a + by, b), shown_lab=(L, a + by, b))

        return with_layers(marble_reading, change)

    assert "corrected to be greener" in advice(target, pinker(3), "layers[0].lab")
    assert "fresh board" in advice(target, pinker(14), "layers[0].lab")


def test_many_small_clouds_are_a_matter_of_size(marble_reading):
    target = known(marble_reading)
    clouds = target.pattern.clouds

    def sure(value):
        return Measured(value=value, measurement=(value, value), sampling=(value, value))

    def smaller(one):
        half = sure(one.size_by_area_mm.geometric_mean.value / 2)
        size = replace(one.size_by_area_mm, median=half, geometric_mean=half)
        many = sure(one.count_per_dm2.value * 4)
        return replace(one, size_by_area_mm=size, count_per_dm2=many)

    by_layer = tuple((layer, smaller(one)) for layer, one in target.pattern.clouds_by_layer)
    pattern = replace(target.pattern, clouds=smaller(clouds), clouds_by_layer=by_layer)
    board = replace(target, pattern=pattern)
    for quantity in ("clouds.count_per_dm2", "clouds.size_by_area_mm"):
        assert "fewer and larger" in advice(target, board, quantity)


def test_a_missing_way_of_strokes_is_laid_and_never_a_mean(marble_reading):
    def brushed(*ways, direction):
        near = Measured(value=direction, measurement=(direction, direction), sampling=None)
        brush = Brush(
            directions=tuple(Peak(deg=way, share=1 / len(ways)) for way in ways),
            direction_error_deg=1.0,
            ridge_spacing_mm=Measured(value=None),
        )
        pattern = replace(
            marble_reading.pattern,
            brush=brush, lines=None, lines_by_layer=(), direction_deg=near,
        )  # fmt: skip
        return replace(known(marble_reading), pattern=pattern)

    target, board = brushed(80.0, 10.0, direction=45.0), brushed(80.0, direction=80.0)
    said = advice(target, board, "direction_deg")
    assert "10°" in said and "45" not in said and "restate" in said


def shown_as(reading, family, number, **changes):
    """The same surface read as another family, one of its layers otherwise."""
    layers = tuple(
        replace(x, **changes) if n == number else x for n, x in enumerate(known(reading).layers)
    )
    return replace(known(reading), family=family, layers=layers, colours=None)


def heavier(reading, number, points=0.25):
    def more(n, layer):
        share = layer.coverage.value + {number: points, 0: -points}.get(n, 0.0)
        return replace(layer, coverage=cover(share))

    return with_layers(reading, more)


@pytest.mark.parametrize(
    ("family", "role", "made", "too_much", "too_little"),
    [
        ("verdigris", "patch", "reaction", "fine paper", "one more round"),
        ("verdigris", "patch", "painted", "go over about", "into the gaps"),
        ("bronze", "patch", "painted", "out of the hollows", "over the ridges"),
        ("wood", "grain", None, "with a fine pad", "into the pores"),
        ("stone", "speck", None, "stipple", "spatter"),
    ],
)
def test_each_way_of_making_has_its_own_mend(
    marble_reading, family, role, made, too_much, too_little
):
    number = 2
    # Bright metal, for the ridges of a bronze; lighter than the ground, as lime is.
    metal = (58.0, 8.0, 34.0)
    target = shown_as(
        marble_reading,
        family,
        number,
        role=role,
        coverage=cover(0.15),
        lab=metal,
        shown_lab=metal,
    )
    board = heavier(target, number)
    key = f"layers[{number}].coverage"
    for first, second, wanted in ((target, board, too_much), (board, target, too_little)):
        found = {
            d.quantity: d for d in compare(first, second, same_spot=True, made=made).differences
        }
        assert wanted in say(found[key].advice), say(found[key].advice)
        assert "mask" not in say(found[key].advice) or made == "reaction"

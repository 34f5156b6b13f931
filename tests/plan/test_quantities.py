"""Amounts against hand calculation, units there and back, tins and ratios."""

from __future__ import annotations

import csv
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jartide.errors import PlanError
from jartide.job.words.jars import shares_words
from jartide.plan import units
from jartide.plan.areas import one_area_m2
from jartide.plan.quantities import (
    CARRIER,
    Shelved,
    measured_rate,
    piece_area_m2,
    shopping_list,
    step_amounts,
    tins_to_buy,
    ware_amounts,
)
from jartide.plan.ratios import (
    amounts_ml,
    by_weight,
    diluted,
    drops,
    from_levels,
    percents,
    scoops,
    shared_out,
    whole_parts,
)
from jartide.plan.site import Shape, Site
from jartide.plan.units import Units

from .conftest import piece, step

with open(Path(__file__).parent / "worked_cases.csv", encoding="utf-8") as file:
    WORKED = list(csv.DictReader(file))


@pytest.mark.parametrize("row", WORKED, ids=lambda row: row["case"])
def test_amounts_are_those_calculated_by_hand(row):
    """Metric cases by metres and litres, US ones by feet and gallons; 0.1 % is rounding."""
    own = Units(row["units"])
    number = {key: float(row[key]) for key in row if key not in ("case", "units", "shape")}
    site = Site(
        shape=Shape(row["shape"]), openings_m2=number["openings_m2"], relief_factor=number["relief"]
    )
    wall = piece(
        width=units.length_from(number["width"], own),
        height=units.length_from(number["height"], own),
        count=int(number["count"]),
        site=site,
    )
    coat = step(
        "base_roller",
        layer="L1",
        laid_share=number["laid"],
        coats=int(number["coats"]),
        spreading_m2_per_l=units.rate_from(number["rate"], own),
    )
    (amount,) = ware_amounts(
        (coat,),
        (wall,),
        waste=number["waste"],
        touch_up_share=0.0,
        touch_up_ml=number["touch_up_ml"],
    )
    assert amount.tools_ml == number["tools_ml"]  # a roller
    assert piece_area_m2(wall) == pytest.approx(number["area_m2"], rel=1e-3)
    assert amount.total_ml == pytest.approx(number["total_ml"], rel=1e-3)


PAIRS = (
    (units.area_in, units.area_from),
    (units.volume_in, units.volume_from),
    (units.length_in, units.length_from),
    (units.rate_in, units.rate_from),
    (units.warmth_in, units.warmth_from),
    (units.small_in, units.small_from),
)


@given(st.sampled_from(PAIRS), st.floats(1e-3, 1e7), st.sampled_from(list(Units)))
def test_units_go_there_and_back(pair, value, own):
    into, back = pair
    assert back(into(value, own), own) == pytest.approx(value, rel=1e-14)


def test_a_gallon_and_a_square_foot_are_what_they_are():
    assert units.volume_in(3785.411784, Units.US) == 1
    assert units.area_from(1, Units.US) == pytest.approx(0.09290304, rel=1e-12)
    # 400 square feet to the gallon, as US labels say it.
    assert units.rate_from(400, Units.US) == pytest.approx(9.8169, rel=1e-4)


def test_a_glaze_is_parted_into_mix_carrier_and_water():
    veil = step("veil", layer="L1", carrier=4.0, water=1.0, spreading_m2_per_l=15.0)
    (one,) = step_amounts((veil,), (piece(width=3000, height=1000),))
    assert one.wet_ml == pytest.approx(200)
    assert (one.mix_ml, one.carrier_ml, one.water_ml) == pytest.approx((200 / 6, 800 / 6, 200 / 6))


def test_a_mix_is_summed_over_its_passes_and_one_touch_up_jar():
    own = (
        step("base_roller", layer="L1"),
        step("veil", layer="L1", carrier=4.0),
        step("clear_gloss"),
    )
    found = {amount.ware: amount for amount in ware_amounts(own, (piece(),))}
    mix = next(amount for ware, amount in found.items() if ware.layer == "L1")
    assert len(mix.used_by) == 2
    assert mix.laid_ml == pytest.approx(1000 * 2 / 10 + 1000 / 16 / 5)
    assert mix.touch_up_ml == pytest.approx(0.1 * mix.laid_ml)
    assert found[CARRIER].laid_ml == pytest.approx(1000 / 16 * 4 / 5)
    assert all(not a.touch_up_ml for ware, a in found.items() if not ware.layer)


def test_only_pieces_that_get_a_step_take_of_it():
    a, b = piece(name="A"), piece(name="B", width=3000)
    primer = step("primer_acrylic", only=("B",))
    (one,) = step_amounts((primer,), (a, b))
    assert one.area_m2 == pytest.approx(3)


def test_medium_that_wets_the_ground_is_no_colour():
    (amount,) = ware_amounts((step("wet_ground"),), (piece(),))
    assert amount.ware == CARRIER


@pytest.mark.parametrize(
    ("missing", "tins"),
    [
        (0, ()),
        (200, ((250, 1),)),
        (251, ((500, 1),)),
        (700, ((500, 1), (250, 1))),
        (2600, ((2500, 1), (250, 1))),
        (10000, ((10000, 1),)),
        (23000, ((10000, 2), (2500, 1), (500, 1))),
    ],
)
def test_tins_hold_what_is_missing_and_little_more(missing, tins):
    bought = tins_to_buy(missing)
    assert sum(size * number for size, number in bought) >= missing
    assert sum(s * n for s, n in bought) <= sum(s * n for s, n in tins)


def test_the_painters_own_tin_is_the_one_that_is_bought():
    assert tins_to_buy(700, own_ml=400) == ((400, 2),)
    assert tins_to_buy(3000, Units.US)[0][0] == pytest.approx(3785.411784)


def test_the_shopping_list_looks_at_the_shelf():
    shelf = {
        "White": Shelved(left_ml=400, tin_ml=1000, tin_price=20.0),
        "Black": Shelved(),
    }
    white, black, primer = shopping_list({"White": 900, "Black": 50, "Primer": 600}, shelf)
    assert (white.missing_ml, white.tins, white.price) == (500, ((1000, 1),), 20.0)
    assert (black.missing_ml, black.tins, black.left_ml) == (0, (), None)
    assert primer.missing_ml == 600 and primer.price is None
    assert sum(size * number for size, number in primer.tins) >= 600


def test_a_logged_pass_moves_the_rate_half_the_way_and_many_move_it_whole():
    # 10 m2 a litre said, 8 seen: of the litres, half as far.
    once = measured_rate(10, [(4.0, 500.0)])
    assert once == pytest.approx(2 * 4 / (0.5 + 0.4))
    often = measured_rate(10, [(4.0, 500.0)] * 40)
    assert often == pytest.approx(8, rel=0.01)
    assert measured_rate(10, []) == 10


@pytest.mark.parametrize(
    ("site", "width", "height", "said"),
    [
        (Site(), 0, 100, "not above zero"),
        (Site(), 100, -5, "not above zero"),
        (Site(openings_m2=2.0), 1000, 1000, "openings are as large"),
        (Site(openings_m2=-1.0), 1000, 1000, "openings are as large"),
        (Site(relief_factor=0.5), 1000, 1000, "relief factor lies outside"),
        (Site(), float("inf"), 1000, "not above zero"),
    ],
)
def test_a_piece_without_an_area_is_refused(site, width, height, said):
    with pytest.raises(PlanError, match=said):
        one_area_m2(site, width, height)
    with pytest.raises(PlanError, match="no panel"):
        piece_area_m2(piece(count=0))


def test_ratios_in_parts_percent_drops_and_scoops():
    assert percents((5, 2, 1)) == pytest.approx((62.5, 25, 12.5))
    assert whole_parts((0.6, 0.4)) == (3, 2)
    assert whole_parts((62.4, 25.1, 12.5)) == (5, 2, 1)
    assert amounts_ml((3, 1), 200) == pytest.approx((150, 50))
    assert drops(1.0) == 20
    assert scoops(15, per_litre=60, total_ml=500) == pytest.approx(2)
    for wrong in ((), (0, 0), (-1, 2)):
        with pytest.raises(PlanError, match="A ratio needs parts"):
            percents(wrong)


@given(st.lists(st.integers(1, 12), min_size=1, max_size=4))
def test_whole_parts_say_the_same_mixture(parts):
    found = whole_parts(parts)
    assert max(found) <= 12
    off = max(abs(a - b) for a, b in zip(percents(found), percents(parts), strict=True))
    assert off <= 0.5


def test_every_figure_of_an_amount_is_shown_and_they_add_up():
    own = (
        step("base_roller", layer="L1"),
        step("vein_brush", layer="L2", laid_share=0.01, tool="long-haired fine brush"),
        step("clear_gloss", tool="soft brush"),
    )
    for area in (150.0, 700.0, 1234.0, 4000.0):
        for amount in ware_amounts(own, (piece(width=area),)):
            laid, lost, tools, kept = amount.shown_ml
            assert laid + lost + tools + kept == round(amount.mixed_ml)
            assert laid == pytest.approx(amount.laid_ml, abs=1)
            assert tools == pytest.approx(amount.tools_ml, abs=1)
            assert bool(kept) == bool(amount.ware.layer) or amount.laid_ml < 1
    veins = next(a for a in ware_amounts(own, (piece(),)) if a.ware.layer == "L2")
    # Not a jar of a hundred beside a thimble of paint.
    assert veins.touch_up_ml <= 0.5 * veins.laid_ml and veins.tools_ml <= veins.laid_ml


def test_ten_amounts_by_hand():
    """Area x relief x share x coats / rate x (1 + waste) + tools + put by, written out."""
    cases = (
        # area, relief, share, coats, rate, waste, tool, own share put by -> millilitres
        (10, 1.0, 1.0, 2, 10, 0.15, "foam roller", 0.10, 2000 * 1.15 + 40 + 200),
        (10, 1.3, 1.0, 1, 8, 0.15, "foam roller", 0.10, 1625 * 1.15 + 40 + 162.5),
        (4, 1.0, 0.30, 1, 15, 0.10, "torn sponge", 0.10, 80 * 1.10 + 5 + 20),
        (4, 1.0, 0.30, 1, 15, 0.10, "torn sponge", 0.50, 80 * 1.10 + 5 + 40),
        (0.5, 1.0, 0.02, 1, 16, 0.15, "fine brush", 0.10, 0.625 * 1.15 + 0.625 + 0.3125),
        (2, 1.0, 1.0, 3, 12, 0.0, "soft brush", 0.0, 500 + 5 + 20),
        (6, 1.1, 1.0, 1, 2, 0.2, "steel trowel", 0.05, 3300 * 1.2 + 20 + 165),
        (1, 1.0, 0.1, 1, 20, 0.15, "stiff brush", 0.10, 5 * 1.15 + 5 + 2.5),
        (25, 1.0, 0.5, 1, 14, 0.15, "spray gun", 0.10, 892.857 * 1.15 + 30 + 89.2857),
        (3, 2.0, 1.0, 1, 10, 0.15, "", 0.10, 600 * 1.15 + 0 + 60),
    )
    for area, relief, share, coats, rate, waste, tool, kept, wanted in cases:
        coat = step(
            "base_roller", layer="L1", laid_share=share, coats=coats, tool=tool,
            spreading_m2_per_l=rate,
        )  # fmt: skip
        wall = piece(width=1000 * area, height=1000, site=Site(relief_factor=relief))
        (amount,) = ware_amounts((coat,), (wall,), waste=waste, touch_up_share=kept)
        assert amount.total_ml == pytest.approx(wanted, rel=1e-4)


def test_shown_parts_of_a_ratio_add_up():
    assert shared_out((5, 2, 1), 500) == (313, 125, 62)
    for parts in ((1, 1, 1), (11, 1), (7, 3, 2, 1), (1, 0, 2)):
        for total in (1, 10, 99, 100, 1000):
            own = shared_out(parts, total)
            assert sum(own) == total
            assert all(abs(a - b) <= 1 for a, b in zip(own, amounts_ml(parts, total), strict=True))
    with pytest.raises(PlanError):
        shared_out((0, 0), 10)


def test_ratios_by_weight_by_steps_and_from_what_was_taken():
    assert by_weight((5, 2), (1.4, 1.0)) == pytest.approx((7.0, 2.0))
    assert diluted(((1, 1), (1, 1), (1, 1))) == pytest.approx(7)
    assert diluted(((1, 3),)) == pytest.approx(3) and diluted(()) == 0
    # Jars of one size stood at 90, 80 and 70 mm; 40, 60 and 60 are left.
    assert from_levels((90, 80, 70), (40, 60, 60)) == (5, 2, 1)
    for before, after in (((10, 10), (12, 5)), ((10, 10), (10, 10)), ((1,), (1, 2))):
        with pytest.raises(PlanError):
            from_levels(before, after)
    with pytest.raises(PlanError):
        by_weight((1, 2), (1.0,))
    with pytest.raises(PlanError):
        diluted(((0, 1),))


def test_what_nobody_knows_is_asked_and_not_called_there():
    lines = {
        line.name: line
        for line in shopping_list(
            {"Green": 100, "White": 100, "Oak": 100},
            {"Green": Shelved(left_ml=None), "White": Shelved(left_ml=500)},
        )
    }
    assert lines["Green"].unknown and not lines["White"].unknown and not lines["Oak"].unknown
    assert lines["Oak"].missing_ml == 100


def test_what_goes_into_a_jar_adds_up_to_what_is_stirred():
    assert shares_words(20, (5, 2, 2), "ml") == ["11 ml", "5 ml", "4 ml"]
    assert shares_words(500, (5, 2, 1), "ml") == ["313 ml", "125 ml", "62 ml"]
    assert len(shares_words(500, (5, 2, 1), "grams")) == 3


def test_a_stain_comes_out_of_its_layers_jar_like_a_paint():
    (amount,) = ware_amounts((step("wood_stain", layer="L1"),), (piece(),))
    assert amount.ware.layer == "L1" and amount.touch_up_ml > 0
    (named,) = ware_amounts((step("wood_stain", layer="L1", product_name="Oak"),), (piece(),))
    assert named.ware.name == "Oak" and not named.ware.layer

"""Glazes, veils, hiding, corrections, dry-down, amounts."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jartide.colour.difference import delta_e_2000
from jartide.errors import PaintError
from jartide.paint.batch import Held, Use, amounts, needed, shopping
from jartide.paint.closeness import Closeness, closeness
from jartide.paint.correct import corrections
from jartide.paint.dry_down import DryPair, Finish, shifted
from jartide.paint.fit import fit_shelf
from jartide.paint.glaze import GlazeWishes, find_glazes, predict_glaze
from jartide.paint.hiding import Hides, coats_to_hide, hides, one_coat_hides
from jartide.paint.judge import judge_tin
from jartide.paint.ladder import checks, known_to, lessons
from jartide.paint.recipe import Part, Wishes, as_lab
from jartide.paint.search import find_mixes
from jartide.paint.shelf import Opacity
from jartide.paint.stock import Kind, Stock, known_or_assumed
from jartide.paint.units import Measure, UnitSystem, grams, spooned
from jartide.paint.veil import find_veil
from jartide.studio.pigments import hiding, painted_shelf, read
from tests.paint.conftest import BENCH, SEED


def test_a_glaze_made_beforehand_is_found_again(fitted):
    base = (80.0, 1.0, 9.0)
    made = predict_glaze(fitted, (Part(paint=6, parts=1.0),), base, carrier=5, coats=1)
    target = as_lab(made.lab[0])
    best = find_glazes(fitted, base, target, GlazeWishes())[0]
    assert best.de00 < 0.3
    assert best.coats == 1, "one coat was enough"
    once = find_glazes(fitted, base, target, GlazeWishes(most_coats=1))
    assert once and {glaze.coats for glaze in once} == {1} and once[0].de00 < 0.3
    again = predict_glaze(
        fitted, best.parts, base, carrier=best.carrier, water=best.water, coats=best.coats
    )
    assert again.lab[0] == pytest.approx(best.lab, abs=1e-6)


def test_both_schools_of_water_and_all_limits_are_kept(fitted):
    wishes = GlazeWishes(water=(0,), most_parts=8, most_coats=2, least_carrier=1)
    dry = find_glazes(fitted, (80.0, 1.0, 9.0), (65.0, 6.0, 22.0), wishes)
    assert all(g.water == 0 and g.total <= 8 and g.coats <= 2 and g.carrier >= 1 for g in dry)
    wet = find_glazes(fitted, (80.0, 1.0, 9.0), (65.0, 6.0, 22.0), replace(wishes, water=(1, 2)))
    assert all(g.water >= 1 and g.water <= g.total / 3 for g in wet)
    kept = find_glazes(
        fitted, (80.0, 1.0, 9.0), (65.0, 6.0, 22.0), replace(wishes, keep=frozenset({8}))
    )
    assert all(8 in {part.paint for part in glaze.parts} for glaze in kept)
    with pytest.raises(PaintError, match="not among those allowed"):
        find_glazes(
            fitted, (80.0, 1.0, 9.0), (65.0, 6.0, 22.0), replace(wishes, keep=frozenset({1, 2, 3}))
        )
    with pytest.raises(PaintError, match="so few parts"):
        find_glazes(fitted, (80.0, 1.0, 9.0), (65.0, 6.0, 22.0), replace(wishes, most_parts=1))
    with pytest.raises(PaintError, match="beeswax"):
        find_glazes(fitted, (80.0, 1.0, 9.0), (65.0, 6.0, 22.0),
                    GlazeWishes(carrier_name="beeswax"))  # fmt: skip


def test_more_coats_hide_more_and_water_thins(fitted):
    parts, base = (Part(paint=5, parts=1.0),), (30.0, 0.0, 0.0)
    once, twice = (predict_glaze(fitted, parts, base, carrier=3, coats=n).lab[0, 0] for n in (1, 2))
    thin = predict_glaze(fitted, parts, base, carrier=3, water=2, coats=1).lab[0, 0]
    assert base[0] < thin < once < twice


def test_hiding_is_told_in_coats_and_words(fitted):
    white, sienna = (Part(paint=0, parts=1.0),), (Part(paint=7, parts=1.0),)
    assert one_coat_hides(fitted, white) > one_coat_hides(fitted, (Part(paint=1, parts=1.0),))
    over_black = coats_to_hide(fitted, white, (15.0, 0.0, 0.0))
    over_white = coats_to_hide(fitted, white, (92.0, 0.0, 3.0))
    assert over_white.coats < over_black.coats
    primed = coats_to_hide(fitted, white, (15.0, 0.0, 0.0), primer=(90.0, 0.0, 3.0))
    assert primed.coats < over_black.coats
    assert over_black.left_de00 < 1
    assert hides(0.97) is Hides.WELL
    assert hides(0.2) is Hides.HARDLY
    assert coats_to_hide(fitted, sienna, (92.0, 0.0, 0.0)).coats is not None


def test_a_veil_brings_contrast_down_to_what_is_wanted(fitted):
    ground, veins = (28.0, -6.0, 2.0), (76.0, -4.0, 6.0)
    parts = (Part(paint=3, parts=3.0), Part(paint=5, parts=1.0))
    best = find_veil(fitted, parts, veins, ground, 30.0)[0]
    assert best.contrast_L == pytest.approx(30, abs=1.5)
    assert best.carrier > 0
    assert abs(best.pattern[0] - best.ground[0]) == pytest.approx(best.contrast_L)
    with pytest.raises(PaintError, match="only lowers contrast"):
        find_veil(fitted, parts, veins, ground, 60.0)


def test_a_jar_that_missed_is_brought_back(paints, fitted, index):
    target = as_lab(hiding(paints, {0: 3, 5: 2, 8: 1}, BENCH))
    recipe = find_mixes(fitted, target, Wishes(), index)[0]
    used = {p.paint: p.parts for p in recipe.parts}
    first = recipe.parts[0].paint
    used[first] *= 1.3
    shown = read(hiding(paints, used, BENCH), 0.2, np.random.default_rng(3))
    before = float(delta_e_2000(shown, target))
    jar = tuple(Part(paint=n, parts=p) for n, p in used.items())
    best = corrections(fitted, jar, shown, target)[0]
    for part in best.add:
        used[part.paint] = used.get(part.paint, 0.0) + part.parts
    assert float(delta_e_2000(hiding(paints, used, BENCH), target)) < min(before, 0.8)


def test_what_the_jar_read_moves_the_next_mix(paints):
    rough = fit_shelf(painted_shelf(paints, BENCH, "masstone", SEED))
    target = as_lab(hiding(paints, {0: 3, 5: 2}, BENCH))
    from jartide.paint.correct import trial_of

    first = find_mixes(rough, target, Wishes(paints=frozenset({0, 5, 8})))[0]
    used = {p.paint: p.parts for p in first.parts}
    shown = as_lab(hiding(paints, used, BENCH))
    trials = trial_of(rough, ((first.parts, shown),))
    second = find_mixes(rough, target, Wishes(paints=frozenset({0, 5, 8})), None, trials)[0]
    true = hiding(paints, {p.paint: p.parts for p in second.parts}, BENCH)
    assert delta_e_2000(true, target) < delta_e_2000(shown, target)


def test_lessons_buy_sureness_and_pale_paints_are_let_down_with_black(paints):
    shelf = painted_shelf(paints, BENCH, "masstone", SEED)
    now = known_to(fit_shelf(shelf), "Yellow ochre")
    best = lessons(shelf, "Yellow ochre")[0]
    assert best.mix_de00 < 0.5 * now[0]
    pale = lessons(shelf, "Warm white")
    assert all(s.other != "Titanium white" for lesson in pale for s in lesson.swatches)


def test_a_doubtful_swatch_is_named_with_its_likely_cause(paints):
    shelf = painted_shelf(paints, BENCH, "glaze", SEED)
    ochre = shelf.paints[5]
    lab = ochre.swatches[1].lab
    wet = replace(ochre.swatches[1], lab=(lab[0] - 6, lab[1] + 1.5, lab[2] + 4))
    paint = replace(ochre, swatches=(ochre.swatches[0], wet, *ochre.swatches[2:]))
    fitted = fit_shelf(replace(shelf, paints=(*shelf.paints[:5], paint, *shelf.paints[6:])))
    found = checks(fitted, 5)
    assert [check.doubt is not None for check in found] == [False, True, False, False]
    assert found[1].doubt.value == "wet"


def test_a_tin_is_judged_before_it_is_bought(fitted, index):
    target = (52.0, 3.0, 9.0)
    verdict = judge_tin(fitted, "Shop", (53.0, 6.0, 9.0), Opacity.OPAQUE, target, Wishes(), index)
    assert verdict.de00 == pytest.approx(float(delta_e_2000((53.0, 6.0, 9.0), target)))
    assert verdict.without[0].de00 < verdict.de00
    assert verdict.corrected is not None
    assert verdict.corrected.de00 < verdict.de00


def test_wet_is_darker_and_fuller_and_own_records_go_first():
    dry = (55.0, 10.0, 18.0)
    wet = shifted(dry, Finish.MATT, Finish.WET)
    assert wet[0] < dry[0] - 2
    assert np.hypot(*wet[1:]) > np.hypot(*dry[1:])
    assert shifted(dry, Finish.SATIN, Finish.SATIN) == pytest.approx(dry)
    back = shifted(wet, Finish.WET, Finish.MATT)
    assert back == pytest.approx(dry, abs=0.2)
    record = DryPair(before=(55.0, 10.0, 18.0), after=(50.0, 11.0, 20.0))
    assert shifted(dry, Finish.MATT, Finish.WET, (record,)) == pytest.approx((50, 11, 20), abs=0.01)


def test_amounts_follow_the_laid_share_and_all_passes():
    base = Use(area_m2=10, spreading_m2_per_l=10)
    veil = Use(area_m2=10, coats=2, spreading_m2_per_l=16, share_of_wet=0.2)
    found = needed((base, veil), waste=0.1, touch_up_share=0, touch_up_ml=50)
    assert found.laid_ml == pytest.approx(1000 + 250)
    assert found.total_ml == pytest.approx(10 * np.ceil((1250 * 1.1 + 50) / 10))
    # A tenth of it is kept, and never a jar larger than half of what is painted.
    assert needed((base,)).touch_up_ml == pytest.approx(100)
    drop = Use(area_m2=0.015, spreading_m2_per_l=10)
    assert needed((drop,), tools_ml=40).touch_up_ml == pytest.approx(0.75)
    assert needed((drop,), tools_ml=40).tools_ml == pytest.approx(1.5)
    half = needed((replace(base, laid_share=0.5),), waste=0, touch_up_share=0, touch_up_ml=0)
    assert half.total_ml == 500
    with pytest.raises(PaintError, match="shares 0 to 1"):
        needed((replace(base, laid_share=1.5),))


def test_a_batch_says_what_is_missing_and_what_to_buy():
    held = {
        "White": Held(left_ml=100, tin_ml=250, tin_price=20.0),
        "Umber": Held(left_ml=500, tin_ml=250, tin_price=12.0),
    }
    batch = amounts((("White", 3), ("Umber", 1)), 800, held)
    assert [a.ml for a in batch] == [600, 200]
    assert batch[0].missing_ml == 500
    assert batch[0].tins == 2
    assert batch[0].price == pytest.approx(48)
    bought = shopping((batch, amounts((("White", 1),), 100, held)), held)
    assert [(a.name, a.missing_ml) for a in bought] == [("White", 600)]
    with pytest.raises(PaintError, match="at least one part"):
        amounts((), 100, held)


def test_spoons_cups_and_grams():
    spoon = spooned(37, UnitSystem.METRIC)
    assert (spoon.count, spoon.measure) == (2.5, Measure.TABLESPOON)
    assert abs(spoon.off_fraction) < 0.02
    assert spooned(473.2, UnitSystem.US).measure is Measure.CUP
    assert spooned(473.2, UnitSystem.US).count == 2
    assert spooned(1, UnitSystem.IMPERIAL).measure is Measure.TEASPOON
    assert grams(100, 1.3) == pytest.approx(130)


def test_what_a_label_does_not_say_is_assumed_and_said_so():
    own = Stock(kind=Kind.PAINT, recoat_h=6.0)
    assert known_or_assumed(own, "recoat_h") == (6.0, False)
    value, assumed = known_or_assumed(own, "open_min")
    assert assumed
    assert 5 <= value <= 30


@pytest.mark.parametrize(
    ("de00", "word"), [(0.4, "up_close"), (1.6, "arm"), (3, "room"), (9, "different")]
)
def test_closeness_words(de00, word):
    assert closeness(de00) is Closeness(word)

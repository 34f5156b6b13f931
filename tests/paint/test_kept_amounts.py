"""Every amount, spoonful, spread and let-down, as it was."""

from __future__ import annotations

from pathlib import Path

import pytest

from jartide.paint.batch import (
    Amount,
    Held,
    Use,
    amounts,
    least_batch_ml,
    measurable,
    needed,
    put_by_ml,
    shopping,
    up_to_ten,
)
from jartide.paint.let_down import counted, find_let_down
from jartide.paint.paste import (
    Spread,
    next_addition,
    slope_of,
    spread_mm,
    stiffness,
    yield_stress_pa,
)
from jartide.paint.recipe import Wishes
from jartide.paint.search import find_mixes
from jartide.paint.units import UnitSystem, grams, least_part_ml, spooned
from tests.kept_values import check

from .test_kept_values import TARGETS, fitted

FOLDER = Path(__file__).parent / "kept_amounts"
_NEAR_WHITE = (91.0, 0.5, 3.0)


def _batches():
    uses = (
        Use(area_m2=7.9, laid_share=0.35, coats=2, relief_factor=1.2),
        Use(area_m2=0.6, spreading_m2_per_l=14.0, share_of_wet=0.25),
    )
    wanted = [
        needed(uses[:n], waste=waste, touch_up_share=0.2, touch_up_ml=40.0, tools_ml=12.0)
        for n in (1, 2) for waste in (0.0, 0.15)
    ]  # fmt: skip
    held = {
        "White": Held(left_ml=300.0, tin_ml=750.0, tin_price=21.5),
        "Umber": Held(left_ml=10.0, tin_ml=100.0),
        "Blue": Held(),
    }
    told = [
        amounts((("White", 5.0), ("Umber", 2.0), ("Blue", 0.5)), total, held)
        for total in (240.0, 1600.0)
    ]
    return {
        "wanted": wanted,
        "whole": [one.total_ml for one in wanted],
        "tens": [up_to_ten(ml) for ml in (0.0, 3.0, 10.0, 10.1, 99.6)],
        "reserve": [put_by_ml(ml, share, 50.0) for ml in (20.0, 900.0) for share in (0.0, 0.1)],
        "least": [least_batch_ml(counts, 0.5) for counts in ((5, 2, 1), (11, 1), (0, 3))],
        "measurable": [measurable(one, ml) for one in wanted for ml in (0.0, 900.0, 4000.0)],
        "amounts": told,
        "shopping": shopping((*told, (Amount(name="Lime", ml=5.0),)), held),
    }


def _units():
    return {
        "spooned": [
            spooned(ml, system) for system in UnitSystem for ml in (0.3, 2.4, 7.5, 61.0, 410.0)
        ],
        "least": [least_part_ml(str(measure)) for measure in (*UnitSystem, "ml")],
        "grams": [grams(120.0, density) for density in (0.98, 1.4)],
    }


def _pastes():
    spreads = [
        Spread(spoon_ml=5.0, diameter_mm=mm, powder_ml=powder, paint_ml=100.0)
        for mm, powder in ((52.0, 0.0), (41.0, 40.0), (33.0, 85.0))
    ]
    return {
        "stress": [yield_stress_pa(spoon, mm) for spoon in (5.0, 15.0) for mm in (28.0, 60.0)],
        "spread": [spread_mm(spoon, pa) for spoon in (5.0, 15.0) for pa in (4.0, 90.0, 700.0)],
        "named": [stiffness(pa) for pa in (1.0, 12.0, 40.0, 120.0, 400.0, 2000.0)],
        "slope": [slope_of(spreads[:n]) for n in (1, 2, 3)],
        "next": [next_addition(spreads[:n], pa) for n in (1, 2, 3) for pa in (30.0, 250.0)],
    }


def _let_down():
    kept = []
    for target in (_NEAR_WHITE, (84.0, 2.0, 8.0), *TARGETS[:2]):
        best = find_mixes(fitted(), target, Wishes(top=3))
        found = find_let_down(fitted(), target, best, Wishes())
        kept.append((found, found and counted(found.parts, found.let_down)))
    return kept


CASES = {
    "batches": _batches,
    "units": _units,
    "pastes": _pastes,
    "let down": _let_down,
}


@pytest.mark.parametrize("case", CASES)
def test_no_amount_has_changed(case):
    check(FOLDER, case, CASES[case]())

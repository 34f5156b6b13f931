"""Every figure of mixes, glazes, veils, films, corrections and ladders, as it was."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

import numpy as np
import pytest

from jartide.paint.correct import corrections, trial_of
from jartide.paint.dry_down import DryPair, Finish, shifted
from jartide.paint.fit import fit_shelf
from jartide.paint.glaze import GlazeWishes, films, find_glazes, predict_glaze
from jartide.paint.hiding import coats_to_hide, hides, one_coat_hides, parts_row
from jartide.paint.judge import judge_tin
from jartide.paint.ladder import checks, expected_swatches, known_to, lessons
from jartide.paint.missing import missing_paint
from jartide.paint.predict import predict
from jartide.paint.recipe import Part, Wishes
from jartide.paint.rows import hiding_layers, rows_of
from jartide.paint.search import find_mixes
from jartide.paint.shelf import Opacity
from jartide.paint.veil import find_veil
from jartide.studio.pigments import painted_shelf, pigments
from tests.kept_values import check
from tests.paint.conftest import BENCH, SEED

FOLDER = Path(__file__).parent / "kept"
TARGETS = ((52.0, 3.0, 9.0), (30.0, 10.0, 20.0), (88.0, -3.0, 4.0), (24.0, -8.0, 2.0))


@lru_cache(maxsize=1)
def shelf():
    """Six of the pigments are enough, and quicker."""
    return painted_shelf(pigments(SEED)[:8], BENCH, "glaze", SEED)


@lru_cache(maxsize=1)
def fitted():
    return fit_shelf(shelf())


def parts(*pairs):
    return tuple(Part(paint=paint, parts=float(count)) for paint, count in pairs)


def _predicted():
    rows = np.random.default_rng(3).dirichlet(np.full(8, 0.4), 24)
    jars = ((parts((0, 5), (3, 1)), (61.0, 0.5, 1.5)), (parts((0, 2), (5, 3)), (70.0, 9.0, 24.0)))
    trials = trial_of(fitted(), jars)
    return {
        "hiding": predict(fitted(), hiding_layers(rows)),
        "taught": predict(fitted(), hiding_layers(rows), trials),
        "trials": trials,
    }


def _mixes():
    wide = Wishes(most_paints=4, most_parts=9, top=3)
    return {
        "three": [find_mixes(fitted(), one, Wishes(top=3)) for one in TARGETS],
        "four": find_mixes(fitted(), TARGETS[0], wide),
        "spoon": find_mixes(fitted(), TARGETS[1], Wishes(least_share=0.2, top=2)),
        "missing": [missing_paint(one, (50.0, 5.0, 5.0)) for one in TARGETS],
    }


def _glazes():
    ground = np.linspace(0.2, 0.6, 36)
    row = parts_row(fitted(), parts((5, 2), (3, 1)))
    coats = films(np.repeat(row, 4, axis=0), ground, carrier=3.0, water=1.0, coats=np.arange(1, 5))
    return {
        "found": [
            find_glazes(fitted(), (70.0, 2.0, 12.0), (58.0, 8.0, 22.0), GlazeWishes(top=3)),
            find_glazes(fitted(), (85.0, 0.0, 4.0), (72.0, -4.0, 8.0), GlazeWishes(top=2)),
        ],
        "predicted": [
            predict_glaze(
                fitted(), parts((4, 2), (6, 1)), (80.0, 0.0, 5.0), carrier=c, water=w, coats=n
            )
            for c, w, n in ((2.0, 0.0, 1), (5.0, 0.0, 2), (3.0, 1.0, 3))
        ],
        "films": coats,
        "veils": [
            find_veil(fitted(), parts((0, 4), (5, 1)), (40.0, 3.0, 8.0), (78.0, 2.0, 14.0), by)
            for by in (10.0, 30.0)  # between them two veils are as good as each other
        ],
    }


def _coats():
    jars = (parts((0, 1)), parts((3, 1), (0, 6)), parts((5, 3), (7, 1)))
    grounds = ((90.0, 0.0, 3.0), (25.0, 2.0, 2.0))
    return {
        "hides": [
            (one_coat_hides(fitted(), jar), hides(one_coat_hides(fitted(), jar))) for jar in jars
        ],
        "coats": [coats_to_hide(fitted(), jar, ground) for jar in jars for ground in grounds],
        "primed": coats_to_hide(fitted(), jars[2], grounds[1], primer=(60.0, 3.0, 12.0)),
        "corrected": corrections(fitted(), jars[1], (66.0, 1.0, 3.0), (60.0, 2.0, 6.0)),
        "tin": judge_tin(
            fitted(), "New", (55.0, 14.0, 30.0), Opacity.SEMI, (52.0, 10.0, 22.0), Wishes(top=2)
        ),
    }


def _dried():
    pair = (DryPair(before=(60.0, 2.0, 8.0), after=(52.0, 3.0, 11.0)),)
    colours = ((60.0, 2.0, 8.0), (35.0, -10.0, 6.0), (82.0, 4.0, 20.0))
    finishes = list(Finish)
    return [
        (shifted(lab, a, b), shifted(lab, a, b, pair))
        for lab in colours for a in finishes for b in finishes if a is not b
    ]  # fmt: skip


def _ladders():
    return {
        "rows": rows_of(shelf()),
        "checks": [checks(fitted(), n) for n in range(4)],
        "lessons": lessons(shelf(), shelf().paints[5].name),
        "known": known_to(fitted(), shelf().paints[5].name),
        "expected": expected_swatches(shelf(), fitted(), 5, shelf().paints[5].swatches),
        "parameters": fitted().parameters,
    }


CASES = {
    "predicted": _predicted,
    "mixes": _mixes,
    "glazes": _glazes,
    "coats": _coats,
    "dried": _dried,
    "ladders": _ladders,
}


@pytest.mark.parametrize("case", CASES)
def test_no_figure_of_a_paint_has_changed(case):
    check(FOLDER, case, CASES[case]())

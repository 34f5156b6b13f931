"""Fitted paints predict mixes and glazes they were never painted in."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jartide.colour.difference import delta_e_2000
from jartide.colour.observer import lab_of_reflectance, smoothest_reflectance
from jartide.errors import PaintError
from jartide.paint.fit import fit_shelf
from jartide.paint.glaze import films
from jartide.paint.predict import ROUGH_DE00, Trials, predict
from jartide.paint.rows import hiding_layers
from jartide.paint.shelf import Shelf, ShelfPaint, Swatch, SwatchKind
from jartide.studio.pigments import glazed, hiding, hiding_shown, painted_shelf, pigments
from tests.paint.conftest import BENCH, SEED


def mixed(paints, fitted, count=60, seed=1):
    """True colours and predictions of random mixes."""
    rng = np.random.default_rng(seed)
    rows, true = [], []
    for _ in range(count):
        chosen = rng.choice(len(paints), rng.integers(2, 5), replace=False)
        parts = {int(n): float(rng.integers(1, 6)) for n in chosen}
        row = np.zeros(len(paints))
        for n, p in parts.items():
            row[n] = p
        rows.append(row / row.sum())
        true.append(hiding(paints, parts, BENCH))
    return np.array(true), predict(fitted, hiding_layers(np.array(rows)))


def test_mixes_of_well_known_paints_come_out_as_predicted(paints, fitted):
    true, found = mixed(paints, fitted)
    apart = delta_e_2000(found.lab, true)
    assert np.median(apart) < 0.5
    assert 0.75 < np.mean(apart <= found.bound_de00) <= 1


def test_each_swatch_more_makes_mixes_surer(paints):
    medians, bounds = [], []
    for ladder in ("masstone", "white", "black"):
        fitted = fit_shelf(painted_shelf(paints, BENCH, ladder, SEED))
        true, found = mixed(paints, fitted, 40)
        medians.append(np.median(delta_e_2000(found.lab, true)))
        bounds.append(np.median(found.bound_de00))
    assert medians[0] > 2 * medians[1] > 1.5 * medians[2]
    assert bounds[0] > ROUGH_DE00 > bounds[1] > bounds[2]


def test_glazes_come_out_as_predicted(paints, fitted):
    rng = np.random.default_rng(4)
    apart = []
    for _ in range(25):
        paint = int(rng.integers(len(paints)))
        ground = hiding_shown(paints, {int(rng.integers(len(paints))): 1.0}, BENCH)
        carrier, water, coats = float(rng.integers(1, 12)), float(rng.integers(0, 3)), 2.0
        true = glazed(
            paints, {paint: 1.0}, BENCH, ground, carrier=carrier, water=water, coats=coats
        )
        row = np.eye(len(paints))[[paint]]
        base = smoothest_reflectance(lab_of_reflectance(ground))[0]
        painted = films(row, base, carrier=carrier, water=water, coats=coats)
        apart.append(float(delta_e_2000(predict(fitted, painted).lab[0], true)))
    assert np.median(apart) < 0.5


def test_a_paint_alone_and_mixed_with_itself_are_its_masstone(fitted):
    alone = predict(fitted, hiding_layers(np.eye(12)))
    read = [paint.masstone for paint in fitted.shelf.paints]
    assert delta_e_2000(alone.lab, np.array(read)).max() < 1.0


def test_the_order_of_tins_does_not_matter(paints):
    shelf = painted_shelf(paints, BENCH, "black", SEED)
    turned = replace(shelf, paints=shelf.paints[::-1])
    first, second = fit_shelf(shelf), fit_shelf(turned)
    row = np.zeros((1, 12))
    row[0, [0, 5]] = 0.5
    a = predict(first, hiding_layers(row)).lab
    b = predict(second, hiding_layers(row[:, ::-1])).lab
    assert a == pytest.approx(b, abs=0.05)


def test_a_swatch_read_wrong_stands_out(paints):
    shelf = painted_shelf(paints, BENCH, "glaze", SEED)
    ochre = shelf.paints[5]
    wrong = replace(
        ochre.swatches[1], lab=(ochre.swatches[1].lab[0] - 6, *ochre.swatches[1].lab[1:])
    )
    paint = replace(ochre, swatches=(ochre.swatches[0], wrong, *ochre.swatches[2:]))
    fitted = fit_shelf(replace(shelf, paints=(*shelf.paints[:5], paint, *shelf.paints[6:])))
    own = fitted.rows.paint == 5
    assert fitted.disagreement[own].argmax() == 1
    assert fitted.disagreement[own].max() > 2.5
    clean = fit_shelf(shelf)
    assert clean.disagreement[clean.rows.paint == 5].max() < 2.5


def test_a_trial_reading_corrects_its_own_recipe_and_leaves_others(paints):
    fitted = fit_shelf(painted_shelf(paints, BENCH, "masstone", SEED))
    rows = np.zeros((2, 12))
    rows[0, [0, 5]] = 0.5
    rows[1, [8, 10]] = 0.5
    painted = hiding_layers(rows)
    before = predict(fitted, painted)
    true = hiding(paints, {0: 1, 5: 1}, BENCH)
    taught = predict(fitted, painted, Trials(painted=hiding_layers(rows[:1]), lab=true[None]))
    assert delta_e_2000(taught.lab[0], true) < 0.4
    assert taught.bound_de00[0] < 0.3 * before.bound_de00[0]
    assert delta_e_2000(taught.lab[1], before.lab[1]) < 0.5 * before.bound_de00[1]


def test_a_shelf_of_one_and_a_transparent_paint_alone():
    rose = pigments(SEED)[13]
    lab = tuple(hiding((rose,), {0: 1}, BENCH))
    shelf = Shelf(
        paints=(
            ShelfPaint(
                name="Rose",
                opacity=rose.opacity,
                swatches=(Swatch(kind=SwatchKind.MASSTONE, lab=lab),),
            ),
        )
    )
    found = predict(fit_shelf(shelf), hiding_layers(np.ones((1, 1))))
    assert found.lab[0] == pytest.approx(lab, abs=0.1)


def test_a_swatch_of_a_paint_that_is_not_there_is_refused(paints):
    shelf = painted_shelf(paints, BENCH, "white", SEED)
    with pytest.raises(PaintError, match="Titanium white"):
        fit_shelf(replace(shelf, paints=shelf.paints[1:]))

"""What the painter decides of the layers holds, and the rest is fitted around it."""

from __future__ import annotations

import numpy as np
import pytest

from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import lab_to_linear
from jartide.photo.picture import Picture
from jartide.reading.decisions import (
    LayerChoices,
    changed,
    choices_of,
    merged,
    moved,
    parted,
    picked,
)
from jartide.reading.layers.layer_map import glance_chosen
from jartide.reading.layers.refit import two_tones
from jartide.reading.read import find_basis, read_basis
from jartide.reading.result import Role

GROUND, PATCH, SPOT = (40.0, 4.0, 8.0), (62.0, -10.0, 4.0), (82.0, 2.0, 20.0)


def picture_of(label, labs, grain=0.02, seed=0, mask=None):
    """Paint a label picture, (H, W), with one Lab a label and some grain."""
    rng = np.random.default_rng(seed)
    rgb = lab_to_linear(np.array(labs, float))[label]
    rgb = rgb * (1 + grain * rng.standard_normal((*label.shape, 1)))
    height, width = label.shape
    return Picture(
        rgb_linear=rgb.astype(np.float32), photo_size=(width, height), mm_per_px=0.25, mask=mask
    )


def blots():
    """Ground, patches over it, spots over both: (320, 320) labels."""
    y, x = np.mgrid[0:320, 0:320] + 0.5
    label = np.zeros((320, 320), int)
    rng = np.random.default_rng(4)
    for cx, cy in rng.uniform(20, 300, (9, 2)):
        label[np.hypot(x - cx, y - cy) < 34] = 1
    for cx, cy in rng.uniform(20, 300, (14, 2)):
        label[np.hypot(x - cx, y - cy) < 12] = 2
    return label


@pytest.fixture(scope="module")
def basis():
    return find_basis(picture_of(blots(), (GROUND, PATCH, SPOT)), "auto")


@pytest.fixture(scope="module")
def read(basis):
    return read_basis(basis)


def shares(layers):
    return [layer.coverage.value for layer in layers]


def test_leaving_all_as_read_changes_nothing(basis, read):
    reading, layers = read
    again, same = read_basis(basis, choices=choices_of(reading.layers))
    assert np.array_equal(layers.labels, same.labels)
    assert shares(again.layers) == pytest.approx(shares(reading.layers), abs=1e-6)
    assert [layer.role for layer in again.layers] == [layer.role for layer in reading.layers]


def test_joined_layers_are_one_with_both_shares(basis, read):
    reading, _ = read
    both = merged(choices_of(reading.layers), 0, 1)
    again, _ = read_basis(basis, choices=both)
    assert len(again.layers) == 2
    whole = sum(shares(reading.layers)[:2])
    assert again.layers[0].coverage.value == pytest.approx(whole, abs=0.005)


def test_a_joined_layer_parts_again_where_its_colours_differ(basis, read):
    reading, _ = read
    both = merged(choices_of(reading.layers), 0, 1)
    _, layers = read_basis(basis, choices=both)
    tones = two_tones(basis.evidence, layers.labels, 0)
    assert tones is not None
    again, _ = read_basis(basis, choices=parted(both, 0, tones))
    assert len(again.layers) == 3
    for layer in reading.layers:
        apart = [delta_e_2000(layer.shown_lab, other.shown_lab) for other in again.layers]
        assert min(apart) < 1


def test_one_flat_colour_can_not_be_parted():
    flat = find_basis(picture_of(np.zeros((200, 200), int), [GROUND], grain=0.0), "auto")
    _, layers = read_basis(flat)
    assert two_tones(flat.evidence, layers.labels, 0) is None


def test_a_picked_colour_is_a_locked_layer_on_top(basis, read):
    reading, _ = read
    colour = (50.0, -2.0, 6.0)
    again, _ = read_basis(basis, choices=picked(choices_of(reading.layers), colour))
    assert len(again.layers) == 4
    found = [layer for layer in again.layers if layer.locked]
    assert len(found) == 1


def test_a_locked_tone_stays_while_others_settle(basis, read):
    reading, _ = read
    off = tuple(v + 4 for v in reading.layers[0].shown_lab)
    choices = choices_of(reading.layers)
    loose = changed(choices, 0, tones=(off,))
    for locked, settles in ((False, True), (True, False)):
        from jartide.reading.layers.refit import settled_tones

        tones, _ = settled_tones(basis.evidence, changed(loose, 0, locked=locked))
        back = delta_e_2000(tones[0], reading.layers[0].shown_lab) < 1
        assert bool(back) is settles
        assert settles or tuple(tones[0]) == off


def test_what_is_left_out_counts_for_nothing(basis, read):
    reading, _ = read
    without, layers = read_basis(
        basis, choices=changed(choices_of(reading.layers), 2, left_out=True)
    )
    assert len(without.layers) == 2
    assert sum(shares(without.layers)) == pytest.approx(1, abs=1e-6)
    a, b, c = shares(reading.layers)
    assert shares(without.layers)[0] == pytest.approx(a / (a + b), abs=0.01)
    assert layers.valid.mean() == pytest.approx(1 - c, abs=0.02)


def test_order_name_role_and_reader_are_kept(basis, read):
    reading, _ = read
    choices = moved(choices_of(reading.layers), 2, 1)
    choices = changed(choices, 1, name="Splashes", role=Role.CLOUD, reader_lab=(80.0, 1.0, 18.0))
    again, _ = read_basis(basis, choices=choices)
    layer = again.layers[1]
    assert (str(layer.name), layer.role, layer.best_lab) == (
        "Splashes",
        Role.CLOUD,
        (80.0, 1.0, 18.0),
    )
    assert layer.lab is not None and layer.lab != layer.best_lab  # both are kept
    assert [reason.id for reason in again.layers[2].why].count("order.by_hand") == 1


def test_a_glance_shows_what_the_full_reading_will(basis, read):
    reading, _ = read
    choices = LayerChoices(layers=merged(choices_of(reading.layers), 1, 2).layers, ordered=True)
    quick, (full, _) = glance_chosen(basis.evidence, choices), read_basis(basis, choices=choices)
    assert shares(quick.layers) == pytest.approx(shares(full.layers), abs=1e-6)
    assert [x.role for x in quick.layers] == [x.role for x in full.layers]


def test_the_upper_lies_over_the_lower_and_says_why(read):
    reading, _ = read
    colours = [layer.shown_lab[0] for layer in reading.layers]
    assert colours == sorted(colours)  # ground 40, patches 62, spots 82
    assert all(layer.why for layer in reading.layers[1:])
    assert str(reading.layers[1].why[0]).startswith(f"Over {reading.layers[0].name}: ")


def test_a_new_name_changes_no_number(basis, read):
    reading, layers = read
    named = changed(choices_of(reading.layers), 1, name="Grandmother's green")
    again, same = read_basis(basis, choices=named)
    assert str(again.layers[1].name) == "Grandmother's green"
    assert np.array_equal(layers.labels, same.labels)
    assert again.pattern == reading.pattern
    for old, new in zip(reading.layers, again.layers, strict=True):
        assert (new.lab, new.coverage, new.role) == (old.lab, old.coverage, old.role)


def test_soft_covers_add_up_and_share_the_edges(read):
    _, layers = read
    covers = np.stack([layers.covers.of(k) for k in range(3)])
    assert covers.sum(axis=0) == pytest.approx(1, abs=1e-5)
    assert ((covers > 0.1) & (covers < 0.9)).any()

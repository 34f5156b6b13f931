"""Painters' words for colours: as a painter would say them, in every language."""

from __future__ import annotations

import itertools
from dataclasses import replace

import pytest

from jartide.colour.names import WORDS, colour_name
from jartide.reading.layers.describe import named
from jartide.reading.result import Layer, Role
from jartide.reading.trust.measured import measured
from jartide.wording import Message, choose_language, chosen_language, known_ids, say


@pytest.mark.parametrize(
    ("lab", "word"),
    [
        ((4, 0, 0), "black"),
        ((25, 0.5, 0.5), "charcoal"),
        ((45, -2, -6), "slate"),
        ((50, 0, 0), "grey"),
        ((62, 1, 7), "stone"),
        ((96, 0, 1), "white"),
        ((94, 0, 5), "off_white"),
        ((86, 2, 16), "cream"),
        ((42, 45, 26), "red"),
        ((22, 30, 18), "oxblood"),
        ((24, 10, 16), "umber"),
        ((40, 32, 40), "rust"),
        ((40, 14, 20), "brown"),
        ((62, 12, 52), "ochre"),
        ((80, 4, 60), "yellow"),
        ((22, -18, 6), "bottle_green"),
        ((45, -30, 20), "green"),
        ((62, -25, -4), "turquoise"),
        ((40, 0, -40), "blue"),
        ((30, 30, -25), "plum"),
        ((75, 20, 6), "pink"),
    ],
)
def test_a_colour_is_called_what_a_painter_calls_it(lab, word):
    assert colour_name(lab) == word


def test_every_colour_has_a_word_and_every_word_is_worded():
    for lab in itertools.product(range(0, 101, 4), range(-80, 81, 8), range(-80, 81, 8)):
        assert colour_name(lab) in WORDS
    ids = known_ids()
    assert {f"hue.{word}{end}" for word in WORDS for end in ("", ".ground")} <= ids


def layer(role, lab):
    share = measured(0.2, 0.01, 0.02)
    return Layer(
        id="L1",
        name=Message("layer.ground"),
        role=role,
        lab=lab,
        shown_lab=lab,
        lab_de00=1.0,
        coverage=share,
        coverage_painted=share,
    )


def names(layers, areas=""):
    return [say(one.name) for one in named(layers, areas)]


def test_hue_and_role_make_the_name():
    ground, veins = layer(Role.GROUND, (45, -2, -6)), layer(Role.VEIN, (42, 45, 26))
    patch = layer(Role.PATCH, (62, 12, 52))
    assert names([ground, veins, patch], "bloom") == ["Slate ground", "Red veins", "Ochre patina"]
    before = chosen_language()
    choose_language("de")
    try:
        assert names([ground, veins, patch], "bloom") == [
            "Schiefergrauer Grund",
            "Rote Adern",
            "Ockerfarbene Patina",
        ]
    finally:
        choose_language(before)


def test_names_are_unique():
    veins = [layer(Role.VEIN, (light, 45, 26)) for light in (42, 52)]
    assert names(veins) == ["Red veins, darker", "Red veins, lighter"]
    three = [*veins, layer(Role.VEIN, (47, 45, 26))]
    assert len(set(names(three))) == 3
    # The same colour in another role is another thing, and needs no more words.
    both = [layer(Role.PATCH, (42, 45, 26)), replace(veins[0])]
    assert names(both) == ["Red patches", "Red veins"]

"""Every family is drawn, with a truth that adds up, by both generators."""

from __future__ import annotations

import ast
from pathlib import Path

import numpy as np
import pytest

import accuracy.second
from accuracy.second.families import FAMILIES, draw_stack
from jartide.colour.spaces import linear_to_lab
from jartide.families import families
from jartide.studio.families import SURFACES, draw_family


@pytest.mark.parametrize("family", list(SURFACES))
def test_a_drawn_family_knows_its_layers(family):
    surface = draw_family(family, (60.0, 50.0), 0.5, 3, varied=True)
    layers = surface.truth.layers
    assert surface.truth.family == family
    assert surface.rgb_linear.shape == (100, 120, 3)
    assert sum(layer.coverage for layer in layers) == pytest.approx(1, abs=0.01)
    assert layers[0].coverage_painted == 1
    for number, layer in enumerate(layers):
        seen = surface.labels == number
        assert seen.mean() == pytest.approx(layer.coverage, abs=1e-9)
    again = draw_family(family, (60.0, 50.0), 0.5, 3, varied=True)
    assert np.array_equal(surface.rgb_linear, again.rgb_linear)
    other = draw_family(family, (60.0, 50.0), 0.5, 4, varied=True)
    assert other.truth.layers[0].lab != layers[0].lab


def test_all_families_of_the_program_are_drawn():
    known = set(families()) - {"auto"}
    assert set(SURFACES) == known
    assert set(FAMILIES) == known


@pytest.mark.parametrize("family", ["marble", "crackle", "linen"])
def test_the_second_generator_tells_what_it_drew(family):
    stack = draw_stack(family, 2, size_mm=80.0)
    assert sum(coat.coverage for coat in stack.coats) == pytest.approx(1, abs=0.02)
    lab = linear_to_lab(stack.rgb_linear.astype(float))
    for number, coat in enumerate(stack.coats):
        if coat.lab is not None:
            middle = np.median(lab[stack.labels == number], axis=0)
            assert middle == pytest.approx(coat.lab, abs=4)


def test_the_second_generator_shares_no_code():
    for path in Path(accuracy.second.__file__).parent.glob("*.py"):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            names = [node.module or ""] if isinstance(node, ast.ImportFrom) else []
            names += [a.name for a in node.names] if isinstance(node, ast.Import) else []
            assert not any(name.startswith("jartide") for name in names), path

"""Dry against sealed: asked about, or foretold where both are known."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jartide.boards.compare import compare
from jartide.boards.log import State as SurfaceState
from jartide.boards.mends import mending
from jartide.boards.result import Verdict
from jartide.boards.surface_state import as_if, seal_explains
from jartide.paint.dry_down import DryPair, Finish, shifted
from jartide.wording import say


def coloured(reading, change):
    """A reading whose every colour is changed, grey known."""
    layers = tuple(
        replace(x, lab=change(x.lab), shown_lab=change(x.shown_lab)) for x in reading.layers
    )
    labs = tuple(change(lab) for lab in reading.colours.labs)
    return replace(
        reading,
        layers=layers,
        colours=replace(reading.colours, labs=labs),
        balance_known=True,
        exposure_known=True,
    )


def sealed(reading, finish=Finish.SATIN):
    return coloured(reading, lambda lab: shifted(lab, Finish.MATT, finish))


def warmer(reading):
    return coloured(reading, lambda lab: (lab[0], lab[1], lab[2] + 12.0))


@pytest.fixture
def plain(marble_reading):
    layers = tuple(replace(x, lab_de00=1.2) for x in marble_reading.layers)
    grey_known = replace(marble_reading, layers=layers, common_de00=1.0)
    return coloured(grey_known, lambda lab: lab)


def test_unsealed_against_sealed_is_asked_about_before_a_colour_is_changed(plain):
    found = compare(sealed(plain), plain)
    assert found.verdict is Verdict.OFF
    advice = [say(d.advice) for d in found.differences if d.advice is not None]
    assert len([a for a in advice if a.startswith("First ask whether the board is sealed")]) == 1
    assert not [a for a in advice if "glaze" in a or "veil" in a or "one step darker" in a]
    # Nothing of it is a step of the plan.
    assert not [m for m in mending(found, plain).mends if m.quantity.path.endswith("lab")]


def test_a_wet_board_is_asked_about(plain):
    found = compare(plain, sealed(plain, Finish.GLOSS))
    assert "still wet" in say(next(d.advice for d in found.differences if d.advice is not None))


def test_another_colour_is_not_taken_for_a_clear_coat(plain):
    assert seal_explains(plain, warmer(plain)) is None
    assert seal_explains(plain, plain) is None
    assert seal_explains(sealed(plain), plain) is SurfaceState.SEALED
    assert seal_explains(plain, sealed(plain)) is SurfaceState.DRY


def test_who_says_both_states_is_not_asked(plain):
    target = replace(sealed(plain), surface_state="sealed")
    found = compare(target, replace(plain, surface_state="sealed"))
    assert not [d for d in found.differences if d.advice and "First ask" in say(d.advice)]


def test_a_dry_board_is_compared_as_it_will_look(plain):
    target = replace(sealed(plain), surface_state="sealed")
    found = compare(target, as_if(plain, SurfaceState.DRY, SurfaceState.SEALED))
    assert found.verdict is not Verdict.OFF
    assert found.distance == 0.0


def test_what_is_foretold_is_less_sure_and_surer_by_the_painters_own_records(plain):
    by_model = as_if(plain, SurfaceState.DRY, SurfaceState.SEALED)
    before = plain.layers[0].lab
    own = DryPair(before=before, after=(before[0] - 9.0, before[1], before[2]))
    by_records = as_if(plain, SurfaceState.DRY, SurfaceState.SEALED, records=(own,))
    assert plain.layers[0].lab_de00 < by_records.layers[0].lab_de00 < by_model.layers[0].lab_de00
    assert by_records.layers[0].lab == pytest.approx(own.after, abs=1e-6)
    assert by_records.foretold_de00 > 0


def test_a_foretold_colour_that_looks_different_is_settled_by_a_sealed_corner(plain):
    board = as_if(plain, SurfaceState.DRY, SurfaceState.SEALED)
    target = coloured(board, lambda lab: (lab[0] + 3.5, lab[1], lab[2]))
    found = compare(replace(target, foretold_de00=0.0), board)
    words = [say(d.words) for d in found.differences if d.quantity.path == "lab"]
    assert any("Seal a corner of the board" in w for w in words)


def test_one_state_changes_nothing(plain):
    same = as_if(plain, SurfaceState.DRY, SurfaceState.DRY)
    assert same.layers == plain.layers
    assert same.foretold_de00 == 0.0
    assert np.allclose(compare(plain, same).distance, 0.0)

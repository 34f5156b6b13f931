"""Setting out: panels from the left, the axis on each, veins over joints, motifs in a row."""

from __future__ import annotations

import math

import numpy as np
import pytest

from jartide.errors import PlanError
from jartide.plan.setting_out import Axis, motif_spacing, set_out


def test_panels_and_joints_lie_where_a_rule_would_put_them():
    found = set_out(3, 900, 1050, joint_mm=4, axis_deg=56)
    assert [panel.left_mm for panel in found.panels] == [0, 904, 1808]
    assert [joint.at_mm for joint in found.joints] == [902, 1806]
    assert found.whole_mm == 2708
    assert {panel.axis_deg for panel in found.panels} == {56}


@pytest.mark.parametrize("axis_deg", [0.0, 30.0, 90.0, 180.0])
def test_a_mirrored_axis_stays_a_direction(axis_deg):
    """Directions go round in half a turn: level is level in its mirror."""
    found = set_out(2, 900, 1050, axis_deg=axis_deg, axis=Axis.MIRRORED)
    assert found.panels[1].axis_deg == (180 - axis_deg) % 180


def test_a_mirrored_axis_turns_on_every_second_panel():
    found = set_out(4, 900, 1050, axis_deg=118, axis=Axis.MIRRORED)
    assert [panel.axis_deg for panel in found.panels] == [118, 62, 118, 62]


@pytest.mark.parametrize("degrees", [0, 30, 56, 118])
def test_veins_cross_a_joint_as_often_as_their_spacing_and_lay_say(degrees):
    spacing = 60.0
    found = set_out(400, 500, 2500, axis_deg=degrees, spacing_mm=spacing, evenness=1.4, seed=2)
    gaps = np.concatenate([np.diff(joint.crossings_mm) for joint in found.joints])
    assert gaps.mean() == pytest.approx(spacing / abs(math.cos(math.radians(degrees))), rel=0.05)


def test_even_veins_are_set_out_evenly_and_wild_ones_wildly():
    def spread(evenness):
        found = set_out(300, 500, 2500, axis_deg=20, spacing_mm=80, evenness=evenness, seed=5)
        gaps = np.concatenate([np.diff(joint.crossings_mm) for joint in found.joints])
        return gaps.std() / gaps.mean()

    assert spread(1.8) < 0.4 < 0.8 < spread(1.0)


def test_upright_veins_cross_no_joint_and_no_axis_has_no_crossings():
    assert not any(j.crossings_mm for j in set_out(3, 900, 2000, axis_deg=90, spacing_mm=50).joints)
    assert not any(j.crossings_mm for j in set_out(3, 900, 2000).joints)


def test_motifs_have_equal_gaps_and_half_a_gap_at_the_ends():
    found = motif_spacing(1000, 200, 80)
    assert found.number == 3
    assert found.number * 200 + found.number * found.gap_mm == pytest.approx(1000)
    assert found.first_mm == pytest.approx(found.gap_mm / 2)
    with pytest.raises(PlanError, match="Not even one motif fits"):
        motif_spacing(150, 200, 10)
    with pytest.raises(PlanError, match="not above zero"):
        set_out(2, 0, 100)

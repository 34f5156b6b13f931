"""Watching a reaction: frames, forecasts, and when it is too early to say."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from jartide.boards.log import State
from jartide.boards.series import (
    Ahead,
    Frame,
    cover_of,
    dried_pairs,
    forecast,
    frame_of,
    prior_from,
    target_cover,
)
from jartide.colour.spaces import linear_to_lab
from jartide.errors import ReadingError
from jartide.reading.layers.colours import colour_shares
from jartide.studio.patina import Reaction, draw_patina
from jartide.studio.verdigris import Verdigris

GREY = (50.0, 0.0, 0.0)


def frames_of(reaction, times, noise=0.006, seed=0, state=State.WET):
    rng = np.random.default_rng(seed)
    covers = np.clip(reaction.covers(list(times)) + noise * rng.standard_normal(len(times)), 0, 1)
    return [
        Frame(minutes=float(t), cover=float(c), lab=GREY, state=state)
        for t, c in zip(times, covers, strict=True)
    ]


def earlier_series():
    return [
        frames_of(Reaction(rate_per_min=rate, dries_min=90), np.linspace(0, 120, 14), seed=n)
        for n, rate in enumerate((0.07, 0.09, 0.11))
    ]


def test_half_way_the_end_is_foreseen_within_its_interval():
    reaction = Reaction(rate_per_min=0.085, dries_min=100)
    truth = reaction.minutes_to(0.45)
    told = forecast(
        frames_of(reaction, np.linspace(0, truth / 2, 10), seed=9),
        0.45,
        prior_from(earlier_series()),
    )
    assert told.ahead is Ahead.FORECAST and not told.alarm
    assert told.at_min == pytest.approx(truth, rel=0.2)
    assert told.interval_min[0] <= truth <= told.interval_min[1]
    assert told.rate_per_min > 0


def test_two_frames_are_too_early_and_a_reached_target_alarms():
    reaction = Reaction()
    assert forecast(frames_of(reaction, (0, 4)), 0.5).ahead is Ahead.TOO_EARLY
    grown = frames_of(reaction, np.linspace(0, 200, 12))
    told = forecast(grown, grown[-1].cover - 0.05)
    assert told.ahead is Ahead.REACHED and told.alarm


def test_shortly_before_the_target_the_alarm_goes():
    reaction = Reaction(rate_per_min=0.1)
    truth = reaction.minutes_to(0.45)
    near = frames_of(reaction, np.linspace(0, truth - 1.5, 14))
    assert forecast(near, 0.45, prior_from(earlier_series())).alarm


def test_what_dries_before_the_target_is_said_to_stop():
    stalled = Reaction(rate_per_min=0.1, dries_min=14, most=0.8)
    told = forecast(frames_of(stalled, np.linspace(0, 120, 20), noise=0.002), 0.7)
    assert told.ahead in (Ahead.NEVER, Ahead.TOO_EARLY) and told.chance_never > 0.5


def test_dry_frames_are_not_mixed_with_wet_ones():
    reaction = Reaction()
    wet = frames_of(reaction, (0, 10, 20, 30, 40))
    odd = Frame(minutes=25.0, cover=0.9, lab=GREY, state=State.DRY)
    mixed = sorted([*wet, odd], key=lambda f: f.minutes)
    assert forecast(mixed, 0.6, seed=1) == forecast(wet, 0.6, seed=1)


@pytest.mark.parametrize(
    ("frames", "target", "words"),
    [
        ([], 0.5, "no frames"),
        (frames_of(Reaction(), (0, 5, 5)), 0.5, "same minute"),
        (frames_of(Reaction(), (0, 5)), 1.4, "can't be waited for"),
    ],
)
def test_what_can_not_be_foreseen_is_one_sentence(frames, target, words):
    with pytest.raises(ReadingError, match=words):
        forecast(frames, target)


def test_a_series_that_began_later_is_foreseen_as_much_later():
    reaction = Reaction(rate_per_min=0.09, dries_min=100)
    early = frames_of(reaction, np.linspace(0, 25, 10), seed=4)
    late = [replace(frame, minutes=frame.minutes + 30) for frame in early]
    prior = prior_from(earlier_series())
    first, second = (forecast(frames, 0.5, prior) for frames in (early, late))
    assert second.at_min == pytest.approx(first.at_min + 30, rel=0.01)


def test_a_target_is_counted_as_the_frames_are():
    look = Verdigris()
    surface = draw_patina(Reaction(), 70, (120.0, 120.0), 0.5, 4, look)
    lab = linear_to_lab(surface.rgb_linear)
    colours = colour_shares(lab, np.ones(lab.shape[:2], bool))
    frame = cover_of(surface.rgb_linear, look.metal, look.bloom)
    assert target_cover(colours, look.metal, look.bloom) == pytest.approx(frame, abs=0.02)


def test_cover_is_counted_on_the_drawn_surface():
    # The fringe round the bloom is drawn an eighth wider; half of the way through it is turned.
    look = Verdigris()
    reaction = Reaction()
    for minutes in (20, 60, 120):
        surface = draw_patina(reaction, minutes, (120.0, 120.0), 0.5, 4, look)
        truth = float(reaction.covers([minutes])[0])
        assert cover_of(surface.rgb_linear, look.metal, look.bloom) == pytest.approx(
            truth * 1.06, abs=0.07
        )
    with pytest.raises(ReadingError, match="too alike"):
        frame_of(surface.rgb_linear, 0.0, look.bloom, look.bloom)


def test_the_last_wet_and_the_first_dry_frame_tell_how_it_dried():
    states = (State.WET, State.WET, State.DRY, State.DRY, State.SEALED)
    frames = [Frame(minutes=float(n), cover=0.5, lab=GREY, state=s) for n, s in enumerate(states)]
    assert [(a.minutes, b.minutes) for a, b in dried_pairs(frames)] == [(1, 2), (3, 4)]

"""Watch a reaction or a drying coat: cover over time, its rate, and when it reaches the target.

Growth by nuclei that spread until they meet follows 1 - exp(-(t / tau)^n) (Avrami 1939,
"Kinetics of phase change"); drying follows it with n near 1. The curve's four numbers are
weighed by what earlier series of the same kind showed, and by the frames so far: a Bayesian
fit by importance sampling, so that the forecast's interval is as wide as what is not known.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise

import cv2
import numpy as np

from jartide.boards.log import State
from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import linear_to_lab
from jartide.errors import ReadingError
from jartide.reading.layers.colours import ColourShares

_SAMPLES = 12_000
_ROUNDS = 3
# Farther ahead than this many times what has been watched nothing is foreseen.
_MOST_AHEAD = 8.0
# An interval this many times wider than the time itself says nothing yet.
_TOO_WIDE = 2.0
_LEAST_FRAMES = 4
_LEAST_NOISE = 0.008
# No growth follows the curve to the letter: of the time still to go this much more or less
# is the curve's own error (a deviation, measured on simulated reactions that dry and are wetted).
_CURVE_ERROR = 0.16
_LEAST_DE00 = 3.0
# Frames are counted on so many pixels a side.
_WORK_PX = 480


@dataclass(frozen=True, slots=True, kw_only=True)
class Frame:
    """One photo of a series.

    Attributes
    ----------
    minutes : since it began
    cover : share of the surface that has turned, 0..1
    lab : mean colour of the whole
    state : as the painter marked it; only frames of one state are compared
    """

    minutes: float
    cover: float
    lab: tuple[float, float, float]
    state: State | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Prior:
    """What earlier series of the kind showed.

    `middle` and `spread` are of (logit most, ln tau, ln n); `spread` their deviations.
    """

    middle: tuple[float, float, float] = (0.4, np.log(60.0), np.log(1.4))
    spread: tuple[float, float, float] = (1.2, 1.1, 0.35)


class Ahead(StrEnum):
    """What the series says of the target."""

    TOO_EARLY = "too_early"
    FORECAST = "forecast"
    REACHED = "reached"
    NEVER = "never"


@dataclass(frozen=True, slots=True, kw_only=True)
class Forecast:
    """When the cover reaches the target.

    Attributes
    ----------
    at_min, interval_min : since the beginning, middle and 90 % interval; None unless FORECAST
    rate_per_min : of cover now, a share of the surface
    chance_never : that it stops before the target
    alarm : rinse or stop now: the target is reached or will be within `alarm_min`
    """

    ahead: Ahead
    rate_per_min: float
    at_min: float | None = None
    interval_min: tuple[float, float] | None = None
    chance_never: float = 0.0
    alarm: bool = False


def cover_of(rgb_linear: np.ndarray, before: Sequence[float], after: Sequence[float]) -> float:
    """Return how much of a picture, (H, W, 3) linear light, has turned from one colour to another.

    A pixel has turned when its Lab lies past the middle of the way between both colours.

    Raises
    ------
    ReadingError : when both colours are too alike to tell them apart.
    """
    height, width = rgb_linear.shape[:2]
    factor = min(1.0, _WORK_PX / max(height, width))
    small: np.ndarray = np.asarray(rgb_linear, np.float32)
    if factor < 1:
        size = max(1, round(width * factor)), max(1, round(height * factor))
        small = cv2.resize(small, size, interpolation=cv2.INTER_AREA)
    return float(_has_turned(linear_to_lab(small).reshape(-1, 3), before, after).mean())


def target_cover(colours: ColourShares, before: Sequence[float], after: Sequence[float]) -> float:
    """Return how much of a target has turned, counted as `cover_of` counts a frame.

    Raises
    ------
    ReadingError : when both colours are too alike to tell them apart.
    """
    turned = _has_turned(np.array(colours.labs, float), before, after)
    return float(np.array(colours.shares) @ turned)


def _has_turned(lab: np.ndarray, before: Sequence[float], after: Sequence[float]) -> np.ndarray:
    """Which colours, (N, 3) Lab, lie past the middle of the way from one to the other, (N,)."""
    if float(delta_e_2000(before, after)) < _LEAST_DE00:
        raise ReadingError("error.watch.colours")
    way = np.asarray(after, float) - np.asarray(before, float)
    return (lab - np.asarray(before, float)) @ way / (way @ way) >= 0.5


def frame_of(
    rgb_linear: np.ndarray,
    minutes: float,
    before: Sequence[float],
    after: Sequence[float],
    state: State | None = None,
) -> Frame:
    """Return one frame of a series, (H, W, 3) linear light; `minutes` from its start.

    `before` and `after` are the Lab of what has not and what has turned.

    Raises
    ------
    ReadingError : when both colours are too alike to tell them apart.
    """
    lab = linear_to_lab(np.asarray(rgb_linear, np.float32)[::4, ::4]).reshape(-1, 3).mean(axis=0)
    return Frame(
        minutes=minutes,
        cover=cover_of(rgb_linear, before, after),
        lab=(float(lab[0]), float(lab[1]), float(lab[2])),
        state=state,
    )


def prior_from(series: Sequence[Sequence[Frame]]) -> Prior:
    """Return what earlier series of one kind say of the next: middle and spread of their curves.

    The fewer there are, the more of the general prior is left in it.
    """
    general = Prior()
    fits = [
        fitted
        for frames in series
        if len(frames) >= _LEAST_FRAMES and (fitted := _best(frames, general)) is not None
    ]
    if not fits:
        return general
    own = np.array(fits)
    middle, spread = np.array(general.middle), np.array(general.spread)
    count = len(own)
    # One series weighs as much as the general prior's own narrowness allows.
    weight = count / (count + 0.3)
    blended = weight * own.mean(axis=0) + (1 - weight) * middle
    around = ((own - blended) ** 2).sum(axis=0)
    # Scaled inverse chi-square with four pseudo series of a third of the general spread.
    deviation = np.sqrt((around + 4 * (spread / 3) ** 2) / (count + 3))
    return Prior(
        middle=(float(blended[0]), float(blended[1]), float(blended[2])),
        spread=(float(deviation[0]), float(deviation[1]), float(deviation[2])),
    )


def forecast(
    frames: Sequence[Frame],
    wanted: float,
    prior: Prior | None = None,
    *,
    alarm_min: float = 3.0,
    seed: int = 0,
) -> Forecast:
    """Forecast when a series reaches the target's cover, `wanted`.

    Frames of another state than the last one's are left out: wet and dry are not comparable.

    Raises
    ------
    ReadingError : for no frames, times that don't rise, or a target outside 0..1.
    """
    if not 0 < wanted < 1:
        raise ReadingError("error.watch.target", given=round(100 * wanted))
    frames = _comparable(frames)
    times = np.array([f.minutes for f in frames])
    if np.any(np.diff(times) <= 0):
        raise ReadingError("error.watch.times")
    now, last = float(times[-1]), frames[-1].cover
    rate = _rate(frames)
    if last >= wanted:
        return Forecast(ahead=Ahead.REACHED, rate_per_min=rate, alarm=True)
    if len(frames) < _LEAST_FRAMES:
        return Forecast(ahead=Ahead.TOO_EARLY, rate_per_min=rate)
    theta, weight, start = _posterior(frames, prior or Prior(), seed)
    most = _expit(theta[:, 0])
    reaches = most > wanted
    never = float(1 - weight[reaches].sum())
    share = np.clip((wanted - start) / np.maximum(most - start, 1e-9), 1e-9, 1 - 1e-9)
    # The curve's own time begins with the first frame.
    grown = np.exp(theta[:, 1]) * (-np.log1p(-share)) ** (1 / np.exp(theta[:, 2]))
    when = np.where(reaches, np.maximum(times[0] + grown, now), np.inf)
    bent = np.random.default_rng([seed, 11]).standard_normal(when.size)
    when = now + (when - now) * np.exp(_CURVE_ERROR * bent)
    low, middle, high = _weighted_quantiles(when, weight, (0.05, 0.5, 0.95))
    if never > 0.5:
        kind = Ahead.NEVER if never > 0.9 else Ahead.TOO_EARLY
        return Forecast(ahead=kind, rate_per_min=rate, chance_never=never)
    wide = not np.isfinite(high) or high - low > _TOO_WIDE * middle
    if wide or middle > times[0] + _MOST_AHEAD * (now - times[0]):
        # Even so, what may be due within minutes is not kept quiet.
        soon = low <= now + alarm_min and last > 0.8 * wanted
        return Forecast(ahead=Ahead.TOO_EARLY, rate_per_min=rate, chance_never=never, alarm=soon)
    return Forecast(
        ahead=Ahead.FORECAST,
        at_min=middle,
        interval_min=(low, high),
        rate_per_min=rate,
        chance_never=never,
        alarm=low <= now + alarm_min,
    )


def _comparable(frames: Sequence[Frame]) -> list[Frame]:
    if not frames:
        raise ReadingError("error.watch.none")
    state = frames[-1].state
    return [f for f in frames if f.state in (state, None) or state is None]


def _rate(frames: Sequence[Frame]) -> float:
    """The slope of the last few frames' covers, by least squares."""
    last = frames[-4:]
    if len(last) < 2:
        return 0.0
    t = np.array([f.minutes for f in last])
    return float(np.polyfit(t, [f.cover for f in last], 1)[0])


def _expit(x: np.ndarray) -> np.ndarray:
    return 1 / (1 + np.exp(-x))


def _model(theta: np.ndarray, start: np.ndarray, times: np.ndarray) -> np.ndarray:
    """Covers, (S, T), of curves, (S, 3) of (logit most, ln tau, ln n)."""
    most = np.maximum(_expit(theta[:, 0]), start)
    power = np.minimum(np.exp(theta[:, 2]), 20.0)
    scaled = times[None] / np.exp(theta[:, 1])[:, None]
    # Beyond this the curve has long been at its end.
    grown = -np.expm1(-np.minimum(np.clip(scaled, 1e-12, 1e3) ** power[:, None], 50.0))
    return start[:, None] + (most - start)[:, None] * grown


def _posterior(
    frames: Sequence[Frame], prior: Prior, seed: int
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Samples, (S, 3), their weights, and the cover each starts from."""
    rng = np.random.default_rng([seed, 3])
    times = np.array([f.minutes for f in frames])
    cover = np.array([f.cover for f in frames])
    middle, spread = np.array(prior.middle), np.array(prior.spread)
    first = float(cover[0])
    noise = _noise(frames)
    at, wide = middle, 1.3 * spread
    for _ in range(_ROUNDS):
        # Student's t, so that the tails of the posterior are reached.
        theta = at + wide * rng.standard_t(4, (_SAMPLES, 3))
        start = np.clip(first + noise * rng.standard_normal(_SAMPLES), 0, 0.98)
        logp = -0.5 * (((theta - middle) / spread) ** 2).sum(axis=1)
        off = (_model(theta, start, times - times[0]) - cover) / noise
        # Robust: a frame with a reflection in it must not decide.
        logp += -2.5 * np.log1p(off**2 / 4).sum(axis=1)
        logq = -2.5 * np.log1p(((theta - at) / wide) ** 2 / 4).sum(axis=1)
        logw = logp - logq
        weight = np.exp(logw - logw.max())
        weight /= weight.sum()
        at = weight @ theta
        wide = np.maximum(1.4 * np.sqrt(weight @ (theta - at) ** 2), 0.02)
    return theta, weight, start


def _noise(frames: Sequence[Frame]) -> float:
    """How much covers of successive frames jump about a smooth course."""
    cover = np.array([f.cover for f in frames])
    if cover.size < 5:
        return 2 * _LEAST_NOISE
    second = np.diff(cover, 2)
    robust = 1.4826 * float(np.median(np.abs(second - np.median(second)))) / np.sqrt(6)
    return float(min(max(robust, _LEAST_NOISE), 0.06))


def _best(frames: Sequence[Frame], prior: Prior) -> tuple[float, float, float] | None:
    theta, weight, _ = _posterior(frames, prior, 0)
    middle = weight @ theta
    return float(middle[0]), float(middle[1]), float(middle[2])


def _weighted_quantiles(
    values: np.ndarray, weight: np.ndarray, shares: tuple[float, ...]
) -> list[float]:
    order = np.argsort(values)
    summed = np.cumsum(weight[order])
    places = np.searchsorted(summed, shares).clip(0, values.size - 1)
    return [float(values[order][place]) for place in places]


def dried_pairs(frames: Sequence[Frame]) -> tuple[tuple[Frame, Frame], ...]:
    """Return the last frame of each state with the first of the next: wet to dry, dry to sealed."""
    order = (State.WET, State.DRY, State.SEALED)
    found = []
    for before, after in pairwise(order):
        last = next((f for f in reversed(frames) if f.state is before), None)
        first = None
        if last is not None:
            later = (f for f in frames if f.state is after and f.minutes > last.minutes)
            first = next(later, None)
        if last is not None and first is not None:
            found.append((last, first))
    return tuple(found)

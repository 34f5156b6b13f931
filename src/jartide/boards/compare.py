"""Compare two readings taken at the same real scale.

Every quantity gets its difference, the chance in it (both photos' measurement
and sampling intervals), and its size in just visible differences (JND) at the
viewing distance. docs/measures.md holds the formulas.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from scipy.stats import chi

from jartide.boards.advice import advice_for
from jartide.boards.match import LayerMatch, match_layers
from jartide.boards.other_measures import QUANTITIES, Scale, other_rows
from jartide.boards.result import Amount, Comparison, Difference, Value, Verdict
from jartide.boards.visibility import visible_share
from jartide.boards.words import difference_words
from jartide.colour.difference import delta_e_2000
from jartide.errors import ReadingError
from jartide.families import family_named
from jartide.reading.measured import Measured
from jartide.reading.pattern import Lines
from jartide.reading.result import LINE_ROLES, Layer, Reading
from jartide.wording import Message

VIEWING_M = (0.3, 0.5, 0.7, 1.0, 1.4, 2.0, 2.8, 4.0, 5.6, 8.0)
# Distances below this many just visible differences pass as close, at the viewing distance.
TOLERANCE = 4.0
FALSE_ALARM = 0.05
_Z90 = 1.645
# Pooling exponent over differences (probability summation; Quick 1974).
_POOL = 3.0

# One just visible difference, by quantity. Ratios are natural logarithms of about
# 15 % for sizes and numbers, which painters tell apart side by side.
_JND_LOG = {
    "lines.width_mm": 0.14,
    "lines.length_mm_per_cm2": 0.18,
    "lines.softness_mm": 0.28,
    "correlation_mm": 0.20,
}
_JND_ABSOLUTE = {"lines.contrast_L": 3.0, "directionality": 0.10}
_JND_DEGREES = {
    "lines.direction_deg": 6.0,
    "direction_deg": 6.0,
    "lines.direction_spread_deg": 5.0,
    "direction_spread_deg": 5.0,
}
_JND_DE00 = 1.0
# From here on a difference that is not sure is said to be open, and not to be none.
_OPEN_JND = 2.0
for _other in QUANTITIES:
    {Scale.RATIO: _JND_LOG, Scale.PLAIN: _JND_ABSOLUTE, Scale.DEGREES: _JND_DEGREES}[_other.scale][
        _other.path
    ] = _other.jnd


@dataclass(frozen=True, slots=True, kw_only=True)
class _Raw:
    """A difference before significance and rank."""

    quantity: str
    name: Message
    target: Value
    board: Value
    ratio: float | None
    delta: float | None
    interval: tuple[float, float] | None
    difference_jnd: float  # signed, up close
    noise_jnd: float
    size_mm: float | None
    strength_L: float | None = None
    dimensions: int = 1
    can_be_significant: bool = True


def compare(
    target: Reading, board: Reading, viewing_m: float = 2.0, tolerance: float = TOLERANCE
) -> Comparison:
    """Return the comparison of a board with its target.

    Raises
    ------
    ReadingError : when the readings are of different algorithms, or the distance is impossible.
    """
    if target.algorithm != board.algorithm:
        raise ReadingError("error.compare.algorithm")
    if not 0.1 <= viewing_m <= 100:
        raise ReadingError("error.compare.viewing")
    match = match_layers(target, board)
    raw = [*_layer_differences(target, board, match), *_pattern_differences(target, board, match)]
    alarms = _significant(raw)
    by_m = tuple((m, _pooled(raw, m)) for m in VIEWING_M)
    differences = _ranked(raw, alarms, viewing_m, target, board)
    distance = _pooled(raw, viewing_m)
    seen = [d for d in differences if d.significant]
    if not seen:
        verdict = Verdict.MATCH
    else:
        verdict = Verdict.CLOSE if distance < tolerance else Verdict.OFF
    first = seen[0].quantity if seen else None
    left = [r for r in raw if r.quantity != first]
    light = None
    if not (target.exposure_known and board.exposure_known):
        light = match.light_change_L
    return Comparison(
        viewing_m=viewing_m,
        verdict=verdict,
        distance=distance,
        distance_by_m=by_m,
        same_from_m=_same_from(by_m),
        expected_distance=_pooled(left, viewing_m),
        expected_by_m=tuple((m, _pooled(left, m)) for m in VIEWING_M),
        tolerance=tolerance,
        light_change_L=light,
        differences=differences,
    )


def _same_from(by_m: tuple[tuple[float, float], ...]) -> float | None:
    """The nearest distance from which on nothing visible is left."""
    found = None
    for metres, distance in reversed(by_m):
        if distance >= 1:
            break
        found = metres
    return found


def _pooled(raw: list[_Raw], viewing_m: float) -> float:
    """All differences together, in JND: what chance explains is taken off, then pooled."""
    parts = []
    for r in raw:
        if r.can_be_significant:
            sure = max(r.difference_jnd**2 - r.noise_jnd**2, 0.0) ** 0.5
            parts.append(sure * visible_share(r.size_mm, viewing_m, r.strength_L))
    return float(np.sum(np.array(parts) ** _POOL) ** (1 / _POOL)) if parts else 0.0


def _significant(raw: list[_Raw]) -> list[bool]:
    """Hold the chance of one false alarm in the whole comparison at 5 % (Holm 1979)."""
    tested = [i for i, r in enumerate(raw) if r.can_be_significant and np.isfinite(r.noise_jnd)]
    chance = {i: _chance(raw[i]) for i in tested}
    alarms = [False] * len(raw)
    for place, i in enumerate(sorted(tested, key=chance.__getitem__)):
        if chance[i] > FALSE_ALARM / (len(tested) - place):
            break
        alarms[i] = True
    return alarms


def _chance(raw: _Raw) -> float:
    """The chance of a difference this large when there is none: chi in its dimensions."""
    return float(chi.sf(abs(raw.difference_jnd) / max(raw.noise_jnd, 1e-6), raw.dimensions))


def _ranked(
    raw: list[_Raw], alarms: list[bool], viewing_m: float, target: Reading, board: Reading
) -> tuple[Difference, ...]:
    found = []
    for r, alarm in zip(raw, alarms, strict=True):
        seen = r.difference_jnd * visible_share(r.size_mm, viewing_m, r.strength_L)
        significant = alarm and abs(seen) >= 1
        amount = _amount(seen, significant)
        short, words = difference_words(r.quantity, r, amount, target, board)
        if not significant and abs(seen) >= _OPEN_JND:
            # It would be seen, but these photos leave open whether it is there.
            short, words = Message("amount.unsure"), Message("difference.unsure", name=r.name)
        difference = Difference(
            quantity=r.quantity,
            name=r.name,
            target=r.target,
            board=r.board,
            ratio=r.ratio,
            delta=r.delta,
            interval=r.interval,
            jnd=seen,
            noise_jnd=r.noise_jnd,
            significant=significant,
            rank=0,
            amount=amount,
            short=short,
            words=words,
            advice=None,
        )
        if significant:
            difference = replace(difference, advice=advice_for(difference, target))
        found.append(difference)
    # What is significant comes first; then by what is left when chance is taken off.
    found.sort(key=lambda d: (not d.significant, -_sure_size(d)))
    return tuple(replace(d, rank=place + 1) for place, d in enumerate(found))


def _sure_size(difference: Difference) -> float:
    return max(abs(difference.jnd) - 0.5 * difference.noise_jnd, 0.0) + 1e-3 * abs(difference.jnd)


def _amount(jnd: float, significant: bool) -> Amount:
    if not significant:
        return Amount.SAME
    size = abs(jnd)
    return Amount.HAIR if size < 1.5 else Amount.LITTLE if size < 3 else Amount.MUCH


# ---- layers


def _layer_differences(target: Reading, board: Reading, match: LayerMatch) -> Iterator[_Raw]:
    light_known = target.exposure_known and board.exposure_known
    for i, j in match.pairs:
        a, b = target.layers[i], board.layers[j]
        size = _layer_size_mm(target, a)
        if a.lab is not None and b.lab is not None:
            yield _colour(i, a, b, match.board_lab[j], size, light_known)
        yield _coverage(f"layers[{i}].coverage", a, a.coverage, b.coverage, size)
    nothing = Measured(value=0.0, measurement=(0.0, 0.0), sampling=(0.0, 0.0))
    for i in match.missing:
        a = target.layers[i]
        size = _layer_size_mm(target, a)
        yield _coverage(f"layers[{i}].coverage", a, a.coverage, nothing, size)
    for j in match.extra:
        b = board.layers[j]
        size = _layer_size_mm(board, b)
        yield _coverage(f"extra_layers[{j}].coverage", b, nothing, b.coverage, size)


def _layer_size_mm(reading: Reading, layer: Layer) -> float | None:
    """The size of a layer's features: lines by their width; areas lose nothing."""
    if layer.role not in LINE_ROLES:
        return None
    lines = dict(reading.pattern.lines_by_layer).get(layer.id) or reading.pattern.lines
    return None if lines is None else lines.width_mm.median.value


def _colour(
    i: int, a: Layer, b: Layer, board_lab: np.ndarray, size: float | None, light_known: bool
) -> _Raw:
    apart = float(delta_e_2000(np.array(a.shown_lab), board_lab))
    radius = float(np.hypot(a.lab_de00, b.lab_de00))
    # The 90 % radius in three dimensions is 2.5 deviations of one. A light guessed from
    # the layers themselves is a little wrong for each of them.
    deviation = float(np.hypot(radius / 2.5, 0.0 if light_known else 0.3))
    L, A, B = (float(v) for v in board_lab)
    return _Raw(
        quantity=f"layers[{i}].lab",
        name=Message("quantity.colour", layer=a.name),
        target=a.shown_lab,
        board=(L, A, B),
        ratio=None,
        delta=apart,
        interval=(max(apart - radius, 0.0), apart + radius),
        difference_jnd=apart / _JND_DE00,
        noise_jnd=max(deviation, 0.25) / _JND_DE00,
        size_mm=size,
        dimensions=3,
    )


def _coverage(quantity: str, layer: Layer, a: Measured, b: Measured, size: float | None) -> _Raw:
    share_a, share_b = a.value or 0.0, b.value or 0.0
    # 4 points in the middle; a rare layer is seen to be a third rarer.
    middle = (share_a + share_b) / 2
    unit = min(0.04, 0.004 + 0.25 * middle)
    deviation = _deviation(a, b)
    delta = share_b - share_a
    return _Raw(
        quantity=quantity,
        name=Message("quantity.coverage", layer=layer.name),
        target=share_a,
        board=share_b,
        ratio=share_b / share_a if share_a > 0 else None,
        delta=delta,
        interval=_ratio_interval(share_a, share_b, deviation),
        difference_jnd=delta / unit,
        noise_jnd=deviation / unit,
        size_mm=size,
    )


# ---- pattern


def _pattern_differences(target: Reading, board: Reading, match: LayerMatch) -> Iterator[_Raw]:
    a, b = target.pattern, board.pattern
    yield from _lines_differences(target, board, match)
    rows: list[tuple[str, Measured, Measured, float | None]] = []
    # Where grain or cells are the pattern, what is left between them is no mottle to judge by.
    if (a.grain is None or b.grain is None) and (a.cells is None or b.cells is None):
        rows.append(("correlation_mm", a.correlation_mm, b.correlation_mm, None))
    if a.lines is None or b.lines is None or not _led_by_lines(target, board):
        rows += [
            ("direction_deg", a.direction_deg, b.direction_deg, None),
            ("direction_spread_deg", a.direction_spread_deg, b.direction_spread_deg, None),
        ]
        if a.direction_deg.value is None or b.direction_deg.value is None:
            rows.append(("directionality", a.directionality, b.directionality, None))
    for quantity, x, y, size in rows:
        raw = _measure(quantity, Message(f"quantity.{quantity}"), x, y, size)
        if raw is not None:
            yield raw
    for other, x, y, size in other_rows(target, board):
        parameters: dict[str, Any] = {}
        if other.path.startswith("lines."):
            parameters["line"] = Message(f"line.{family_named(target.family).lines_role}")
        raw = _measure(other.path, Message(f"quantity.{other.path}", **parameters), x, y, size)
        if raw is not None:
            yield raw


def _led_by_lines(target: Reading, board: Reading) -> bool:
    """Whether both whole directions are those of the lines, and would be said twice."""
    return all(
        r.pattern.lines is not None
        and r.pattern.direction_deg.value == r.pattern.lines.direction_deg.value
        for r in (target, board)
    )


def _lines_differences(target: Reading, board: Reading, match: LayerMatch) -> Iterator[_Raw]:
    a, b = target.pattern.lines, board.pattern.lines
    if a is None and b is None:
        return
    role = Message(f"line.{family_named(target.family).lines_role}")
    if a is None or b is None:
        some = a or b
        assert some is not None
        none = Measured(value=0.0, measurement=(0.0, 0.0), sampling=(0.0, 0.0))
        density = some.length_mm_per_cm2
        pair = (density, none) if b is None else (none, density)
        name = Message("quantity.lines.length_mm_per_cm2", line=role)
        raw = _measure("lines.length_mm_per_cm2", name, *pair, some.width_mm.median.value)
        if raw is not None:
            yield raw
        return
    size = a.width_mm.median.value
    for quantity, x, y in _line_rows(a, b):
        name = Message(f"quantity.{quantity}", line=role)
        raw = _measure(quantity, name, x, y, size)
        if raw is None:
            continue
        if quantity in _JUDGED_BY_LAYER:
            raw = _judged_by_layer(raw, target, board, match)
        strength = a.contrast_L.value
        if quantity in _SEEN_WITH_THE_LINES and strength is not None:
            raw = replace(raw, strength_L=strength)
        yield raw


# How lines run and lie is seen for as long as the lines are.
_SEEN_WITH_THE_LINES = {
    "lines.direction_deg",
    "lines.direction_spread_deg",
    "lines.length_mm_per_cm2",
}
# Veins of two sorts differ more among themselves than from board to board, so
# these are judged sort by sort; what is shown stays the measure of all lines.
_JUDGED_BY_LAYER = {
    "lines.width_mm": lambda lines: lines.width_mm.geometric_mean,
    "lines.softness_mm": lambda lines: lines.softness_mm,
    "lines.contrast_L": lambda lines: lines.contrast_L,
}


def _judged_by_layer(raw: _Raw, target: Reading, board: Reading, match: LayerMatch) -> _Raw:
    """Judge a difference by its precision-weighted mean over the matched layers of lines."""
    of_target, of_board = dict(target.pattern.lines_by_layer), dict(board.pattern.lines_by_layer)
    pick = _JUDGED_BY_LAYER[raw.quantity]
    pairs = [
        (of_target[target.layers[i].id], of_board[board.layers[j].id])
        for i, j in match.pairs
        if target.layers[i].id in of_target and board.layers[j].id in of_board
    ]
    rows = [_measure(raw.quantity, raw.name, pick(x), pick(y), raw.size_mm) for x, y in pairs]
    known = [row for row in rows if row is not None and np.isfinite(row.noise_jnd)]
    if not known:
        return raw
    weight = np.array([1 / max(row.noise_jnd, 0.05) ** 2 for row in known])
    difference = float(weight @ [row.difference_jnd for row in known] / weight.sum())
    return replace(raw, difference_jnd=difference, noise_jnd=float(weight.sum() ** -0.5))


def _line_rows(a: Lines, b: Lines) -> Iterator[tuple[str, Measured, Measured]]:
    yield "lines.width_mm", a.width_mm.median, b.width_mm.median
    yield "lines.length_mm_per_cm2", a.length_mm_per_cm2, b.length_mm_per_cm2
    yield "lines.softness_mm", a.softness_mm, b.softness_mm
    yield "lines.contrast_L", a.contrast_L, b.contrast_L
    yield "lines.direction_deg", a.direction_deg, b.direction_deg
    yield "lines.direction_spread_deg", a.direction_spread_deg, b.direction_spread_deg


def _measure(
    quantity: str, name: Message, a: Measured, b: Measured, size: float | None
) -> _Raw | None:
    """Return one quantity's difference; None where either side is unknown."""
    if a.value is None or b.value is None:
        return None
    deviation = _deviation(a, b)
    ratio = delta = interval = None
    if quantity in _JND_DEGREES:
        turned = b.value - a.value
        if quantity.endswith("direction_deg"):
            turned = (turned + 90) % 180 - 90
        delta = turned
        interval = (turned - _Z90 * deviation, turned + _Z90 * deviation)
        difference, noise = (v / _JND_DEGREES[quantity] for v in (turned, deviation))
    elif quantity in _JND_ABSOLUTE:
        delta = b.value - a.value
        ratio = b.value / a.value if a.value > 0 else None
        interval = _ratio_interval(a.value, b.value, deviation)
        difference, noise = (v / _JND_ABSOLUTE[quantity] for v in (delta, deviation))
    else:
        delta = b.value - a.value
        ratio = b.value / a.value if a.value > 0 else None
        interval = _ratio_interval(a.value, b.value, deviation)
        # Sizes are compared by ratio; the floor keeps a line that is missing finite.
        floor = 0.05 * max(a.value, b.value, 1e-6)
        low, high = max(a.value, floor), max(b.value, floor)
        unit = _JND_LOG[quantity]
        difference = float(np.log(high / low)) / unit
        noise = float(np.hypot(_half(a) / low, _half(b) / high)) / _Z90 / unit
    return _Raw(
        quantity=quantity,
        name=name,
        target=a.value,
        board=b.value,
        ratio=ratio,
        delta=delta,
        interval=interval,
        difference_jnd=float(difference),
        noise_jnd=float(noise),
        size_mm=size,
    )


def _half(value: Measured) -> float:
    """Half of the 90 % interval, measurement and sampling together."""
    halves = [(high - low) / 2 for low, high in filter(None, (value.measurement, value.sampling))]
    # An interval cut off at zero is one-sided: take the longer side.
    if value.sampling is not None and value.value is not None:
        # It holds another patch, so it has both patches' straying in it: one of two is mine.
        other = max(halves[-1], value.sampling[1] - value.value)
        own = halves[0] if value.measurement is not None else 0.0
        halves[-1] = float(np.sqrt(max(other**2 - own**2, 0.0) / 2))
    return float(np.sqrt(sum(half**2 for half in halves)))


def _deviation(a: Measured, b: Measured) -> float:
    return float(np.hypot(_half(a), _half(b))) / _Z90


def _ratio_interval(a: float, b: float, deviation: float) -> tuple[float, float] | None:
    if a <= 0:
        return None
    half = _Z90 * deviation / a
    return (max(b / a - half, 0.0), b / a + half)

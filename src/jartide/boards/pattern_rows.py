"""The pattern: lines, mottle, direction and every other measure that both readings made."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Any

import numpy as np

from jartide.boards.crossed import is_crossed, turned
from jartide.boards.match import LayerMatch
from jartide.boards.row import Z90, Raw, measured_row
from jartide.families import family_named
from jartide.measures.entries import MEASURES
from jartide.measures.key import Key
from jartide.measures.measure import Judged, Measure
from jartide.photo.settings import SheenWord
from jartide.reading.pattern.records import Lines, Patches, Spread
from jartide.reading.result import LINE_ROLES, Reading
from jartide.reading.trust.measured import Measured
from jartide.reading.trust.paths import value_at
from jartide.wording import Message


def pattern_rows(target: Reading, board: Reading, match: LayerMatch) -> Iterator[Raw]:
    """Yield the differences of the pattern, and of the sheen where both are known."""
    yield from _missing_lines(target, board, match)
    for measure in MEASURES:
        judged = measure.judged
        if judged is None or judged.jnd is None or judged.by_hand or judged.of_layer:
            continue
        if not _counts(measure, target, board):
            continue
        raw = _row(measure, judged, target, board, match)
        if raw is not None:
            yield raw
    if target.sheen is not None and board.sheen is not None:
        yield _sheen(target.sheen, board.sheen)


def _row(
    measure: Measure, judged: Judged, target: Reading, board: Reading, match: LayerMatch
) -> Raw | None:
    """One measure's difference, where both readings made it."""
    a, b = value_at(target.pattern, measure.path), value_at(board.pattern, measure.path)
    if a is None or b is None:
        return None
    size = value_at(target.pattern, judged.seen_by) if judged.seen_by else None
    parameters: dict[str, Any] = {}
    if measure.block == "lines":
        parameters["line"] = _line_role(target)
    name = Message(f"quantity.{measure.path}", **parameters)
    raw = measured_row(Key(measure.path), name, a, b, None if size is None else size.value)
    if raw is None:
        return None
    if measure.path == "direction_deg" and (ways := turned(target, board)) is not None:
        # Of crossed strokes the mean moves when one way gains; each way is set against its own.
        unit = judged.jnd or 1.0
        here, there, turn = ways
        half = (raw.noise_jnd * unit) * Z90
        raw = replace(
            raw,
            target=here,
            board=there,
            delta=turn,
            interval=(turn - half, turn + half),
            difference_jnd=turn / unit,
        )
    if measure.path in _SPREAD_OF:
        raw = _blunted(raw, value_at(target.pattern, _SPREAD_OF[measure.path]), judged)
    if judged.by_layer:
        raw = _judged_by_layer(raw, target, board, match)
    lines = target.pattern.lines
    if judged.with_lines and lines is not None and lines.contrast_L.value is not None:
        raw = replace(raw, strength_L=lines.contrast_L.value)
    return raw


# The mean way of what runs all ways is told less well: the least turn that is visible is that of
# the eye and that of the spread together, as if it averaged some thirty-six elements (Dakin 2001).
_SPREAD_OF = {
    "direction_deg": "direction_spread_deg",
    "lines.direction_deg": "lines.direction_spread_deg",
}
_AVERAGED = 36


def _blunted(raw: Raw, spread: Measured | None, judged: Judged) -> Raw:
    if spread is None or spread.value is None or judged.jnd is None:
        return raw
    share = judged.jnd / float(np.hypot(judged.jnd, spread.value / _AVERAGED**0.5))
    return replace(raw, difference_jnd=raw.difference_jnd * share, noise_jnd=raw.noise_jnd * share)


def _line_role(target: Reading) -> Message:
    return Message(f"line.{family_named(target.family).lines_role}")


def _counts(measure: Measure, target: Reading, board: Reading) -> bool:
    """Whether a measure says something that no other says as well."""
    a, b = target.pattern, board.pattern
    match measure.path:
        case "correlation_mm":
            # Where grain, cells or strokes are the pattern, what is left between them is no mottle.
            stroked = family_named(target.family).lines_role == "brush"
            both = (a.grain is None or b.grain is None) and (a.cells is None or b.cells is None)
            return both and not stroked
        case "direction_deg":
            return not _led_by_lines(target, board)
        case "direction_spread_deg" if is_crossed(target) and is_crossed(board):
            return False
        case "direction_spread_deg":
            return not _led_by_lines(target, board)
        case "directionality":
            known = a.direction_deg.value is not None and b.direction_deg.value is not None
            return not known and not _led_by_lines(target, board)
        case "edges_mm_per_cm2":
            # Threads, grain, cells and strokes are finer than it is measured at, and tell of
            # themselves.
            return family_named(target.family).lines_role in ("vein", "crack")
        case "lines.junctions_per_dm2":
            return max(_forks(target), _forks(board)) >= _LEAST_FORKS
        case "lines.direction_deg" | "lines.direction_spread_deg":
            # Of strokes that cross each other a mean says nothing: their ways are told.
            return not (is_crossed(target) or is_crossed(board))
    return True


# So few forks come and go from piece to piece, and nobody misses one.
_LEAST_FORKS = 12


def _forks(reading: Reading) -> float:
    """How many forks the piece shows in all."""
    lines, size = reading.pattern.lines, reading.size_mm
    if lines is None or size is None:
        return 0.0
    return (lines.junctions_per_dm2.value or 0.0) * size[0] * size[1] / 1e4


# The seven words in their order; one of them apart is seen in any light.
_SHEENS = [word.value for word in SheenWord]
_JND_PER_SHEEN = 1.5


def _sheen(target: str, board: str) -> Raw:
    steps = _SHEENS.index(board) - _SHEENS.index(target)
    return Raw(
        quantity=Key("sheen"),
        name=Message("quantity.sheen"),
        target=target,
        board=board,
        ratio=None,
        delta=float(steps),
        interval=(steps - 0.5, steps + 0.5),
        difference_jnd=_JND_PER_SHEEN * steps,
        # The words are steps: each may be off by up to half of one.
        noise_jnd=_JND_PER_SHEEN * 0.5 / 12**0.5 * 2**0.5,
        size_mm=None,
    )


def _led_by_lines(target: Reading, board: Reading) -> bool:
    """Whether both whole directions are those of the lines, and would be said twice."""
    return all(
        r.pattern.lines is not None
        and r.pattern.direction_deg.value == r.pattern.lines.direction_deg.value
        for r in (target, board)
    )


def _missing_lines(target: Reading, board: Reading, match: LayerMatch) -> Iterator[Raw]:
    """Yield how much of the lines there is, where only one of both has any."""
    a, b = target.pattern.lines, board.pattern.lines
    some = a or b
    if some is None or (a is not None and b is not None):
        return
    if _are_no_lines_there(target, board, match):
        return
    none = Measured(value=0.0, measurement=(0.0, 0.0), sampling=(0.0, 0.0))
    density = some.length_mm_per_cm2
    pair = (density, none) if b is None else (none, density)
    name = Message("quantity.lines.length_mm_per_cm2", line=_line_role(target))
    key = Key("lines.length_mm_per_cm2")
    raw = measured_row(key, name, *pair, some.width_mm.median.value)
    if raw is not None:
        yield raw


def _are_no_lines_there(target: Reading, board: Reading, match: LayerMatch) -> bool:
    """Whether one reading has for patches what the other has for lines: no lines are missing."""
    lined = {i for i, layer in enumerate(target.layers) if layer.role in LINE_ROLES}
    lined_board = {j for j, layer in enumerate(board.layers) if layer.role in LINE_ROLES}
    pairs = dict(match.pairs)
    if target.pattern.lines is not None:
        return bool(lined) and all(pairs.get(i) is not None for i in lined)
    back = {j: i for i, j in match.pairs}
    return bool(lined_board) and all(back.get(j) is not None for j in lined_board)


# Layers differ more among themselves than from board to board: one patch of the layer that runs
# together decides what all are like, so some measures are judged layer by layer; of widths and
# sizes by what their middle is, as their logarithms are spread.
def _of_layer(block: Lines | Patches, measure: Measure) -> Measured:
    value = getattr(block, measure.field)
    return value.geometric_mean if isinstance(value, Spread) else value


def _judged_by_layer(raw: Raw, target: Reading, board: Reading, match: LayerMatch) -> Raw:
    """Judge a difference by its precision-weighted mean over the matched layers."""
    measure = raw.quantity.measure
    of_target, of_board = (
        dict(getattr(r.pattern, f"{measure.block}_by_layer")) for r in (target, board)
    )
    pairs = [
        (of_target[target.layers[i].id], of_board[board.layers[j].id])
        for i, j in match.pairs
        if target.layers[i].id in of_target and board.layers[j].id in of_board
    ]
    rows = [
        measured_row(
            raw.quantity, raw.name, _of_layer(x, measure), _of_layer(y, measure), raw.size_mm
        )
        for x, y in pairs
        if getattr(x, measure.field) is not None and getattr(y, measure.field) is not None
    ]
    known = [row for row in rows if row is not None and np.isfinite(row.noise_jnd)]
    if not known:
        return raw
    weight = np.array([1 / max(row.noise_jnd, 0.05) ** 2 for row in known])
    difference = float(weight @ [row.difference_jnd for row in known] / weight.sum())
    return replace(raw, difference_jnd=difference, noise_jnd=float(weight.sum() ** -0.5))

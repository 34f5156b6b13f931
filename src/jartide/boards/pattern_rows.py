"""The pattern: lines, mottle, direction and every other measure that both readings made."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Any

import numpy as np

from jartide.boards.match import LayerMatch
from jartide.boards.other_measures import other_rows
from jartide.boards.row import Raw, measured_row
from jartide.families import family_named
from jartide.photo.settings import SheenWord
from jartide.reading.pattern.records import Lines
from jartide.reading.result import LINE_ROLES, Reading
from jartide.reading.trust.measured import Measured
from jartide.wording import Message


def pattern_rows(target: Reading, board: Reading, match: LayerMatch) -> Iterator[Raw]:
    """Yield the differences of the pattern, and of the sheen where both are known."""
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
        raw = measured_row(quantity, Message(f"quantity.{quantity}"), x, y, size)
        if raw is not None:
            yield raw
    for other, x, y, size in other_rows(target, board):
        parameters: dict[str, Any] = {}
        if other.path.startswith("lines."):
            parameters["line"] = Message(f"line.{family_named(target.family).lines_role}")
        raw = measured_row(other.path, Message(f"quantity.{other.path}", **parameters), x, y, size)
        if raw is not None:
            yield raw

    if target.sheen is not None and board.sheen is not None:
        yield _sheen(target.sheen, board.sheen)


# The seven words in their order; one of them apart is seen in any light.
_SHEENS = [word.value for word in SheenWord]
_JND_PER_SHEEN = 1.5


def _sheen(target: str, board: str) -> Raw:
    steps = _SHEENS.index(board) - _SHEENS.index(target)
    return Raw(
        quantity="sheen",
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


def _lines_differences(target: Reading, board: Reading, match: LayerMatch) -> Iterator[Raw]:
    a, b = target.pattern.lines, board.pattern.lines
    if a is None and b is None:
        return
    role = Message(f"line.{family_named(target.family).lines_role}")
    if a is None or b is None:
        if _are_no_lines_there(target, board, match):
            return
        some = a or b
        assert some is not None
        none = Measured(value=0.0, measurement=(0.0, 0.0), sampling=(0.0, 0.0))
        density = some.length_mm_per_cm2
        pair = (density, none) if b is None else (none, density)
        name = Message("quantity.lines.length_mm_per_cm2", line=role)
        raw = measured_row("lines.length_mm_per_cm2", name, *pair, some.width_mm.median.value)
        if raw is not None:
            yield raw
        return
    size = a.width_mm.median.value
    for quantity, x, y in _line_rows(a, b):
        name = Message(f"quantity.{quantity}", line=role)
        raw = measured_row(quantity, name, x, y, size)
        if raw is None:
            continue
        if quantity in _JUDGED_BY_LAYER:
            raw = _judged_by_layer(raw, target, board, match)
        strength = a.contrast_L.value
        if quantity in _SEEN_WITH_THE_LINES and strength is not None:
            raw = replace(raw, strength_L=strength)
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


def _judged_by_layer(raw: Raw, target: Reading, board: Reading, match: LayerMatch) -> Raw:
    """Judge a difference by its precision-weighted mean over the matched layers of lines."""
    of_target, of_board = dict(target.pattern.lines_by_layer), dict(board.pattern.lines_by_layer)
    pick = _JUDGED_BY_LAYER[raw.quantity]
    pairs = [
        (of_target[target.layers[i].id], of_board[board.layers[j].id])
        for i, j in match.pairs
        if target.layers[i].id in of_target and board.layers[j].id in of_board
    ]
    rows = [measured_row(raw.quantity, raw.name, pick(x), pick(y), raw.size_mm) for x, y in pairs]
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

"""A dry board mended as it is told: paint laid over what is there, and nothing taken back.

Works on a drawn board's own pixels: shares of a tone are gone over patch by patch, gaps are
filled, passes laid at random, lines veiled, cut in or painted out. What is hidden where a tool
touches and what a pass leaves are the craft's figures. Patterns of the wrong size are left aside.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import cv2
import numpy as np

from jartide.boards.mends import Action, Means, Mend
from jartide.boards.result import Comparison
from jartide.boards.strokes import VEIL_LEAVES, to_add, to_take_back, touch_of, veils
from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import lab_to_linear, linear_to_lab
from jartide.reading.result import LINE_ROLES, Reading
from jartide.studio.truth import Surface

# A veil of the corrected colour brings a ground this much of the way.
_VEIL_REACHES = 0.85
# Strokes that fill a gap or go over one are so wide, mm.
_DAB_MM = 6.0


@dataclass(eq=False)
class Board:
    """A drawn board under the hand: its light, its labels, and the reading's layers by label."""

    rgb: np.ndarray
    labels: np.ndarray
    mm_per_px: float
    label_of: dict[int, int]
    rng: np.random.Generator

    def is_layer(self, layer: int) -> np.ndarray:
        return self.labels == self.label_of[layer]

    def paint(self, where: np.ndarray, layer: int, look: Board) -> None:
        """Lay a layer's paint where `where` says: pixels as that layer looks on this board."""
        label = self.label_of[layer]
        source = np.flatnonzero(look.labels == label)
        if source.size == 0 or not where.any():
            return
        chosen = self.rng.choice(source, int(where.sum()))
        self.rgb[where] = look.rgb.reshape(-1, 3)[chosen]
        self.labels[where] = label


def labels_of(target: Reading, surface: Surface) -> dict[int, int]:
    """Return which drawn layer each layer of a reading is, by colour, none twice."""
    assert surface.labels is not None
    present = [n for n in range(len(surface.truth.layers)) if (surface.labels == n).any()]
    labs = np.array([surface.truth.layers[n].lab for n in present])
    found: dict[int, int] = {}
    order = sorted(
        range(len(target.layers)), key=lambda n: -(target.layers[n].coverage.value or 0.0)
    )
    for number in order:
        apart = delta_e_2000(np.array(target.layers[number].shown_lab), labs)
        free = [k for k in np.argsort(apart) if present[k] not in found.values()]
        if free:
            found[number] = present[free[0]]
    return found


def mended(
    surface: Surface, clean: Surface, target: Reading, comparison: Comparison,
    mends: Sequence[Mend], seed: int,
) -> Surface | None:  # fmt: skip
    """Return a board with all mends done that can be done on it; None where none can.

    `clean` is a board drawn by the target's own recipe: what paint from its jars looks like.
    """
    assert surface.labels is not None and clean.labels is not None
    board = Board(
        rgb=surface.rgb_linear.copy(),
        labels=surface.labels.copy(),
        mm_per_px=surface.mm_per_px,
        label_of=labels_of(target, clean),
        rng=np.random.default_rng([seed, 99]),
    )
    look = replace_board(board, clean)
    done = False
    for mend in mends:
        if mend.means is Means.REPAIR and not mend.quantity.is_extra:
            done |= _carried_out(board, look, target, comparison, mend)
    if not done:
        return None
    return replace(surface, rgb_linear=board.rgb, labels=board.labels)


def replace_board(board: Board, clean: Surface) -> Board:
    """Return the same board with another surface's pixels."""
    assert clean.labels is not None
    return Board(
        rgb=clean.rgb_linear, labels=clean.labels, mm_per_px=clean.mm_per_px,
        label_of=board.label_of, rng=board.rng,
    )  # fmt: skip


def _carried_out(
    board: Board, look: Board, target: Reading, comparison: Comparison, mend: Mend
) -> bool:
    row = next(d for d in comparison.differences if d.quantity == mend.quantity)
    layer = mend.layer
    if layer is not None and layer not in board.label_of:
        return False
    match mend.action:
        case Action.COVER if layer is not None:
            assert isinstance(row.target, float) and isinstance(row.board, float)
            if layer == 0:
                return _ground(board, look, target, row.target, row.board)
            return _cover(board, look, target, comparison, layer, row.target, row.board)
        case Action.TONE if layer is not None and mend.lab_change is not None:
            return _toned(board, layer, np.array(mend.lab_change))
        case Action.VEIL | Action.STRENGTHEN:
            return _lines_contrast(board, target, mend.amount)
        case Action.TOOL if mend.quantity == "lines.width_mm":
            assert isinstance(row.target, float) and isinstance(row.board, float)
            return _width(board, look, target, row.board - row.target)
        case Action.TAKE if mend.quantity == "lines.length_mm_per_cm2":
            lines = _line_layers(board, target)
            done = [_fewer(board, look, n, 0, mend.amount) for n in lines]
            return any(done)
    return False


def _line_layers(board: Board, target: Reading) -> list[int]:
    return [n for n, x in enumerate(target.layers) if x.role in LINE_ROLES and n in board.label_of]


def _noise(board: Board, size_mm: float) -> np.ndarray:
    """A field of uniform ranks, 0..1, with features of a size."""
    sigma = max(size_mm / board.mm_per_px / 2, 0.6)
    field = cv2.GaussianBlur(
        board.rng.standard_normal(board.labels.shape).astype(np.float32), (0, 0), sigma
    )
    ranks = np.empty(field.size, np.float32)
    ranks[np.argsort(field, axis=None)] = np.linspace(0, 1, field.size, dtype=np.float32)
    return ranks.reshape(field.shape)


def _pieces(mask: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Connected pieces, their label image and area in pixels."""
    count, label, stats, _ = cv2.connectedComponentsWithStats(mask.astype(np.uint8), connectivity=8)
    return label, stats[:count, cv2.CC_STAT_AREA]


def _some_of(board: Board, mask: np.ndarray, share: float) -> np.ndarray:
    """About a share of a mask: whole pieces while they are small, dabs in what is large."""
    label, area = _pieces(mask)
    total = float(mask.sum())
    chosen = np.zeros(len(area), bool)
    got = 0.0
    for n in board.rng.permutation(np.arange(1, len(area))):
        if got + area[n] <= share * total:
            chosen[n] = True
            got += float(area[n])
    found = chosen[label] & mask
    rest = mask & ~found
    left = share * total - got
    if left > 0.02 * total and rest.any():
        ranks = _noise(board, _DAB_MM)
        found |= rest & (ranks <= np.quantile(ranks[rest], min(left / rest.sum(), 1.0)))
    return found


def _short_layers(board: Board, comparison: Comparison, but: int) -> list[tuple[int, float]]:
    short = []
    for d in comparison.differences:
        n = d.quantity.layer
        if d.quantity.path != "coverage" or d.quantity.is_extra or n is None or n == but:
            continue
        if n in board.label_of and (d.delta or 0.0) < -0.01:
            short.append((n, -float(d.delta or 0.0)))
    return short or [(0, 1.0)]


def _cover(
    board: Board, look: Board, target: Reading, comparison: Comparison,
    layer: int, wanted: float, shown: float,
) -> bool:  # fmt: skip
    touch = touch_of(target)
    if shown > wanted:
        work = to_take_back(wanted, shown, touch)
        short = _short_layers(board, comparison, layer)
        passes = work.passes or 1
        for _ in range(passes):
            own = board.is_layer(layer)
            over = own if work.share is None else _some_of(board, own, work.share)
            over &= _noise(board, 1.2) < touch.hides
            _with_tones(board, look, over, short)
        return True
    work = to_add(wanted, shown, touch)
    for _ in range(work.passes or 1):
        gaps = ~board.is_layer(layer)
        for n in _line_layers(board, target):
            gaps &= ~board.is_layer(n) | (n == layer)
        share = touch.leaves if work.share is None else work.share * touch.leaves
        size = _DAB_MM if layer in _line_layers(board, target) else _size_mm(target)
        ranks = _noise(board, size if work.share is not None else 1.5)
        if gaps.any():
            amount = min(share * board.labels.size / gaps.sum(), 1.0)
            board.paint(gaps & (ranks <= np.quantile(ranks[gaps], amount)), layer, look)
    return True


def _size_mm(target: Reading) -> float:
    """How large the target's patches or clouds are: gaps are filled with such."""
    for block in (target.pattern.patches, target.pattern.clouds):
        if block is not None and block.spacing_mm.value is not None:
            return float(block.spacing_mm.value)
    return 2 * _DAB_MM


def _with_tones(
    board: Board, look: Board, over: np.ndarray, tones: Sequence[tuple[int, float]]
) -> None:
    """Go over with several tones in proportion."""
    ranks, low = _noise(board, _DAB_MM), 0.0
    total = sum(weight for _, weight in tones)
    for layer, weight in tones:
        high = low + weight / total
        board.paint(over & (ranks >= low) & (ranks <= high), layer, look)
        low = high


def _ground(board: Board, look: Board, target: Reading, wanted: float, shown: float) -> bool:
    touch = touch_of(target)
    above = [n for n in board.label_of if n and n not in _line_layers(board, target)]
    if not above:
        return False
    if shown < wanted:
        work = to_take_back(1 - wanted, 1 - shown, touch)
        over = np.isin(board.labels, [board.label_of[n] for n in above])
        for _ in range(work.passes or 1):
            chosen = over if work.share is None else _some_of(board, over, work.share)
            board.paint(chosen & (_noise(board, 1.2) < touch.hides), 0, look)
        return True
    work = to_add(1 - wanted, 1 - shown, touch)
    share = (work.share or touch.leaves) * touch.leaves
    bare = board.is_layer(0)
    ranks = _noise(board, _size_mm(target))
    if bare.any():
        amount = min(share * board.labels.size / bare.sum(), 1.0)
        weights = [(n, target.layers[n].coverage.value or 0.0) for n in above]
        _with_tones(board, look, bare & (ranks <= np.quantile(ranks[bare], amount)), weights)
    return True


def _toned(board: Board, layer: int, change: np.ndarray) -> bool:
    own = board.is_layer(layer)
    if not own.any():
        return False
    lab = linear_to_lab(board.rgb[own]) + _VEIL_REACHES * change
    board.rgb[own] = np.clip(lab_to_linear(lab), 0, None).astype(np.float32)
    return True


def _lines_contrast(board: Board, target: Reading, amount: float) -> bool:
    lines = _line_layers(board, target)
    ground = board.is_layer(0)
    if not lines or not ground.any():
        return False
    middle = linear_to_lab(board.rgb[ground]).mean(axis=0)
    count = veils(amount, 1.0) if amount < 1 else None
    for n in lines:
        own = board.is_layer(n)
        if amount < 1:
            factor = amount if count is None else VEIL_LEAVES**count
        else:
            # Parts are made stronger, others left.
            label, area = _pieces(own)
            own = own & (board.rng.random(len(area)) < 0.6)[label]
            factor = 1 + (amount - 1) / 0.6
        if own.any():
            lab = middle + factor * (linear_to_lab(board.rgb[own]) - middle)
            board.rgb[own] = np.clip(lab_to_linear(lab), 0, None).astype(np.float32)
    return True


def _width(board: Board, look: Board, target: Reading, too_wide_mm: float) -> bool:
    """Cut in one side of lines, or widen them on one side."""
    by = round(abs(too_wide_mm) / board.mm_per_px)
    lines = _line_layers(board, target)
    if by < 1 or not lines:
        return False
    every = np.isin(board.labels, [board.label_of[n] for n in lines])
    for n in lines:
        own = board.is_layer(n)
        # What is nearer the one side than so much: the side to which a line leans.
        moved = np.zeros_like(own)
        step = (by + 1) // 2, by // 2
        moved[step[0] :, step[1] :] = every[: own.shape[0] - step[0], : own.shape[1] - step[1]]
        if too_wide_mm > 0:
            board.paint(own & ~moved, 0, look)
        else:
            board.paint(moved & ~every & board.is_layer(0), n, look)
    return True


def _fewer(board: Board, look: Board, layer: int, with_layer: int, left: float) -> bool:
    own = board.is_layer(layer)
    board.paint(_some_of(board, own, 1 - left), with_layer, look)
    return bool(own.any())

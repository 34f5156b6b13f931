"""Layer by layer: colours and covers of a board against its target's, missing and extra ones."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from jartide.boards.match import LayerMatch
from jartide.boards.row import JND_DE00, Raw, deviation_of, ratio_interval
from jartide.colour.difference import delta_e_2000
from jartide.reading.measured import Measured
from jartide.reading.result import LINE_ROLES, Layer, Reading
from jartide.wording import Message


def layer_rows(target: Reading, board: Reading, match: LayerMatch) -> Iterator[Raw]:
    """Yield the differences of colour and cover."""
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
) -> Raw:
    apart = float(delta_e_2000(np.array(a.shown_lab), board_lab))
    radius = float(np.hypot(a.lab_de00, b.lab_de00))
    # The 90 % radius in three dimensions is 2.5 deviations of one. A light guessed from
    # the layers themselves is a little wrong for each of them.
    deviation = float(np.hypot(radius / 2.5, 0.0 if light_known else 0.3))
    L, A, B = (float(v) for v in board_lab)
    return Raw(
        quantity=f"layers[{i}].lab",
        name=Message("quantity.colour", layer=a.name),
        target=a.shown_lab,
        board=(L, A, B),
        ratio=None,
        delta=apart,
        interval=(max(apart - radius, 0.0), apart + radius),
        difference_jnd=apart / JND_DE00,
        noise_jnd=max(deviation, 0.25) / JND_DE00,
        size_mm=size,
        dimensions=3,
    )


def _coverage(quantity: str, layer: Layer, a: Measured, b: Measured, size: float | None) -> Raw:
    share_a, share_b = a.value or 0.0, b.value or 0.0
    # 4 points in the middle; a rare layer is seen to be a third rarer.
    middle = (share_a + share_b) / 2
    unit = min(0.04, 0.004 + 0.25 * middle)
    deviation = deviation_of(a, b)
    delta = share_b - share_a
    return Raw(
        quantity=quantity,
        name=Message("quantity.coverage", layer=layer.name),
        target=share_a,
        board=share_b,
        ratio=share_b / share_a if share_a > 0 else None,
        delta=delta,
        interval=ratio_interval(share_a, share_b, deviation),
        difference_jnd=delta / unit,
        noise_jnd=deviation / unit,
        size_mm=size,
    )

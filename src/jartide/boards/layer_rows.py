"""Layer by layer: colours and covers of a board against its target's, missing and extra ones."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

import numpy as np

from jartide.boards.common_colour import (
    RADIUS_SD,
    CommonColour,
    common_colour,
    own_deviation,
)
from jartide.boards.match import LayerMatch
from jartide.boards.recount import Recount, recount
from jartide.boards.row import (
    JND_DE00,
    Z90,
    Raw,
    deviation_of,
    measured_row,
    on_another_spot,
    ratio_interval,
)
from jartide.colour.difference import delta_e_2000
from jartide.measures.key import Key
from jartide.measures.surface import PLACES
from jartide.reading.layers.position import is_plain
from jartide.reading.result import LINE_ROLES, Layer, Reading
from jartide.reading.trust.measured import Measured
from jartide.wording import Message


def layer_rows(target: Reading, board: Reading, match: LayerMatch) -> Iterator[Raw]:
    """Yield the differences of colour and cover.

    What the readings say and what a recount of both pictures by one palette says should be the
    same; what they are apart by is how surely the layers were parted, and counts as chance.
    """
    light_known = target.exposure_known and board.exposure_known
    common = common_colour(target, board, match) if light_known else None
    counted = recount(target, board, match)
    if common is not None:
        yield _all_colours(common, target, match)
    for i, j in match.pairs:
        a, b = target.layers[i], board.layers[j]
        size = _layer_size_mm(target, a)
        place = None if counted is None else counted.place_of_target[i]
        if a.lab is not None and b.lab is not None:
            own = [own_deviation(x.lab_de00, r.common_de00) for x, r in ((a, target), (b, board))]
            row = _colour(i, a, match.board_lab[j], size, float(np.hypot(own[0], own[1])), common)
            yield _colour_recounted(row, counted, place)
        row = _coverage(Key("coverage", i), a, a.coverage, b.coverage, size)
        yield _coverage_recounted(row, counted, place)
        if i:  # the ground shows where nothing lies over it
            yield from _places(i, a, b, size)
    for i in match.missing:
        a = target.layers[i]
        size = _layer_size_mm(target, a)
        row = _coverage(Key("coverage", i), a, a.coverage, _none(target, a), size)
        place = None if counted is None else counted.place_of_target[i]
        row = _coverage_recounted(row, counted, place)
        # It may well be there, in another's colour: mend that one first.
        unsure = 0.6 if _is_drowned(target, match, i) else _parted_otherwise(i, target.layers)
        yield _less_sure(row, unsure)
    for j in match.extra:
        b = board.layers[j]
        size = _layer_size_mm(board, b)
        key = Key("coverage", j, is_extra=True)
        row = _coverage(key, b, _none(board, b), b.coverage, size)
        row = _coverage_recounted(
            row, counted, None if counted is None else counted.place_of_board[j]
        )
        yield _less_sure(row, _parted_otherwise(j, board.layers))


def _all_colours(common: CommonColour, target: Reading, match: LayerMatch) -> Raw:
    """What all colours moved by together, at the mean of the target's."""
    share = np.array([target.layers[i].coverage.value or 0.0 for i, _ in match.pairs])
    labs = np.array([target.layers[i].shown_lab for i, _ in match.pairs])
    mean = share @ labs / max(float(share.sum()), 1e-9)
    apart = float(delta_e_2000(mean, mean + common.shift))
    radius = RADIUS_SD * common.deviation
    here, there = (tuple(float(v) for v in lab) for lab in (mean, mean + common.shift))
    return Raw(
        quantity=Key("common.lab"),
        name=Message("quantity.common.lab"),
        target=(here[0], here[1], here[2]),
        board=(there[0], there[1], there[2]),
        ratio=None,
        delta=apart,
        interval=(max(apart - radius, 0.0), apart + radius),
        difference_jnd=apart / JND_DE00,
        noise_jnd=common.deviation / JND_DE00,
        size_mm=None,
        dimensions=3,
    )


# Chance beyond this, just visible differences: these photos say nothing of where a layer sits.
_ASKED_JND = 2.5
# Of less than this share of the surface it is chance where it sits.
_LEAST_SHARE = 0.01


def _places(i: int, a: Layer, b: Layer, size: float | None) -> Iterator[Raw]:
    """Where a layer sits on either piece, as far as the edges and heights of both are known.

    What lies evenly on both is no question: asked all the same it would make the others unsurer.
    """
    if a.position is None or b.position is None:
        return
    if min(a.coverage.value or 0.0, b.coverage.value or 0.0) < _LEAST_SHARE:
        return
    for measure in PLACES:
        name = Message(f"quantity.{measure.path}", layer=a.name)
        here, there = (getattr(p, measure.field) for p in (a.position, b.position))
        row = measured_row(Key(measure.path, i), name, here, there, size)
        if row is None or not (is_plain(here) or is_plain(there)):
            continue
        noise = on_another_spot(row).noise_jnd
        if noise <= _ASKED_JND or abs(row.difference_jnd) >= 2 * noise:
            # How many times as much there is in one part says more than a ratio of strengths.
            yield replace(row, ratio=None, interval=None)


# Another layer has come so much of the way to a missing one that both look alike.
_DROWNED = 0.6
_MOVED_DE00 = 3.0


def _is_drowned(target: Reading, match: LayerMatch, missing: int) -> bool:
    """Whether another layer's colour has moved to where the missing one's is."""
    own = np.array(target.layers[missing].shown_lab)
    for i, j in match.pairs:
        was, now = np.array(target.layers[i].shown_lab), match.board_lab[j]
        way = float(delta_e_2000(was, own))
        left = float(delta_e_2000(now, own))
        if left < _DROWNED * way and float(delta_e_2000(was, now)) > _MOVED_DE00:
            return True
    return False


# Tones so far apart, CIEDE2000, are hardly parted in one photo and joined in another; what share of
# a missing or extra layer may be such a parting.
_PARTED_DE00 = 12.0
_LEAST_PARTED, _MOST_PARTED = 0.25, 0.6


def _parted_otherwise(number: int, layers: Sequence[Layer]) -> float:
    """How much of a layer without a partner may be a tone parted otherwise, as a share of it."""
    own = np.array(layers[number].shown_lab)
    others = [layer.shown_lab for n, layer in enumerate(layers) if n != number]
    if not others:
        return _LEAST_PARTED
    nearest = float(np.min(delta_e_2000(np.array(others), own)))
    return float(np.clip(1.2 - nearest / _PARTED_DE00, _LEAST_PARTED, _MOST_PARTED))


def _less_sure(row: Raw, share: float) -> Raw:
    return replace(row, noise_jnd=float(np.hypot(row.noise_jnd, share * row.difference_jnd)))


# What the two ways of counting may differ by, of the difference itself, before it counts: a
# palette between two colours takes a little of each from the other.
_SHRINKS = 0.3
# A stroke's usual length: so few strokes come and go from patch to patch.
_STROKE_MM = 120.0


def _none(reading: Reading, layer: Layer) -> Measured:
    """No cover at all, which by chance may be found where there are only few lines."""
    half = 0.0
    lines = dict(reading.pattern.lines_by_layer).get(layer.id)
    size, cover = reading.size_mm, layer.coverage.value or 0.0
    if lines is not None and lines.length_mm_per_cm2.value and size is not None:
        length = lines.length_mm_per_cm2.value * size[0] * size[1] / 100
        half = Z90 * cover * min(float(max(length / _STROKE_MM, 0.25) ** -0.5), 1.5)
    return Measured(value=0.0, measurement=(0.0, 0.0), sampling=(0.0, half))


def _beyond(apart: float, difference: float) -> float:
    return max(abs(apart) - _SHRINKS * abs(difference), 0.0)


def _colour_recounted(row: Raw, counted: Recount | None, place: int | None) -> Raw:
    if counted is None or place is None:
        return row
    moved = counted.labs[1, place] - counted.labs[0, place]
    if not np.isfinite(moved).all() or counted.shares[:, place].min() <= 0:
        return row
    assert isinstance(row.target, tuple) and isinstance(row.board, tuple)
    expected = np.array(row.target) + moved
    apart = float(delta_e_2000(expected, np.array(row.board)))
    unsure = _beyond(apart, row.difference_jnd) / JND_DE00
    return replace(row, noise_jnd=float(np.hypot(row.noise_jnd, unsure)))


def _coverage_recounted(row: Raw, counted: Recount | None, place: int | None) -> Raw:
    if counted is None or place is None or not row.delta:
        return row
    moved = float(counted.shares[1, place] - counted.shares[0, place])
    unit = abs(row.delta / row.difference_jnd) if row.difference_jnd else 1.0
    unsure = _beyond(moved - row.delta, row.delta) / unit
    return replace(row, noise_jnd=float(np.hypot(row.noise_jnd, unsure)))


def _layer_size_mm(reading: Reading, layer: Layer) -> float | None:
    """The size of a layer's features: lines by their width; areas lose nothing."""
    if layer.role not in LINE_ROLES:
        return None
    lines = dict(reading.pattern.lines_by_layer).get(layer.id) or reading.pattern.lines
    return None if lines is None else lines.width_mm.median.value


def _colour(
    i: int,
    a: Layer,
    board_lab: np.ndarray,
    size: float | None,
    deviation: float,
    common: CommonColour | None,
) -> Raw:
    """`deviation` : of both layers' colours by themselves, CIEDE2000."""
    if common is None:
        # A light guessed from the layers themselves is a little wrong for each of them.
        deviation = float(np.hypot(deviation, 0.3))
    elif common.is_light:
        board_lab = board_lab - common.shift
        deviation = float(np.hypot(deviation, 0.3))
    else:
        deviation = float(np.hypot(deviation, common.deviation))
    apart = float(delta_e_2000(np.array(a.shown_lab), board_lab))
    radius = RADIUS_SD * deviation
    L, A, B = (float(v) for v in board_lab)
    return Raw(
        quantity=Key("lab", i),
        name=Message("quantity.colour", layer=a.name),
        target=a.shown_lab,
        board=(L, A, B),
        ratio=None,
        delta=apart,
        interval=(max(apart - radius, 0.0), apart + radius),
        difference_jnd=apart / JND_DE00,
        noise_jnd=deviation / JND_DE00,
        size_mm=size,
        dimensions=3,
    )


def _coverage(quantity: Key, layer: Layer, a: Measured, b: Measured, size: float | None) -> Raw:
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

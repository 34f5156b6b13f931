"""Several photos of one stone read as one target, so that no odd photo sets it.

Every value is the weighted median over the photos, by the area each shows. The
photo that lies nearest to all others lends its layers' names and order. What
the photos differ by is shown beside every value, and widens its intervals:
between photos of one finish it *is* the sampling interval.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, fields, is_dataclass, replace
from functools import cache
from typing import Any

import numpy as np
from scipy.stats import t as student

from jartide.boards.compare import compare
from jartide.boards.match import LayerMatch, match_layers
from jartide.boards.result import TOLERANCE
from jartide.colour.difference import delta_e_2000
from jartide.errors import ReadingError
from jartide.reading.pattern.records import Lines
from jartide.reading.result import Layer, Reading
from jartide.reading.trust.measured import LEVEL, Measured, unknown, weighted_percentile
from jartide.wording import Message

MOST_PHOTOS = 20
# The median of normal values varies this much more than their mean.
_MEDIAN_COST = 1.2533
_MAD_TO_SD = 1.4826
# A photo is odd when it lies this many robust deviations further off than the others do.
_ODD = 3.0
_ODD_LEAST = TOLERANCE
_UP_CLOSE_M = 0.5


@dataclass(frozen=True, slots=True, kw_only=True)
class LayerSpread:
    """What one layer is in each photo, None where it was not found.

    `spread_de00` is the largest CIEDE2000 of a photo's colour from the middle one.
    """

    layer: str
    labs: tuple[tuple[float, float, float] | None, ...]
    coverages: tuple[float | None, ...]
    spread_de00: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Together:
    """One reading of several photos.

    Attributes
    ----------
    reading : the common reading
    layers : the spread of each of its layers, in their order
    distances : of each photo from the common reading, just visible differences up close
    odd : indices of photos that do not belong with the others
    lead : index of the photo nearest to all others, whose layer ids the common reading has
    """

    reading: Reading
    layers: tuple[LayerSpread, ...]
    distances: tuple[float, ...]
    odd: tuple[int, ...]
    lead: int = 0


def read_together(readings: Sequence[Reading]) -> Together:
    """Return the common reading of 1 to 20 photos of the same finish.

    Raises
    ------
    ReadingError : for none or too many photos, or readings of different algorithms.
    """
    if not 1 <= len(readings) <= MOST_PHOTOS:
        raise ReadingError("error.together.count", most=MOST_PHOTOS, given=len(readings))
    if len({reading.algorithm for reading in readings}) > 1:
        raise ReadingError("error.compare.algorithm")
    if len(readings) == 1:
        one = readings[0]
        return Together(
            reading=one, layers=_spreads(one, [one], [_same(one)]), distances=(0.0,), odd=()
        )
    common, spreads, lead = _common(readings)
    distances = [compare(common, r, _UP_CLOSE_M).likely_distance for r in readings]
    odd = _odd(distances)
    if odd and len(readings) - len(odd) >= 2:
        # Without the odd ones, so that they do not even widen the intervals.
        rest = [n for n in range(len(readings)) if n not in odd]
        common, _, lead = _common([readings[n] for n in rest])
        lead = rest[lead]
        spreads = _spreads(common, readings, [match_layers(common, r) for r in readings])
        distances = [compare(common, r, _UP_CLOSE_M).likely_distance for r in readings]
    return Together(
        reading=replace(common, photos=len(readings), warnings=_warnings(readings, odd)),
        layers=spreads,
        distances=tuple(distances),
        odd=odd,
        lead=lead,
    )


def _odd(distances: Sequence[float]) -> tuple[int, ...]:
    """Which photos lie far from the rest; of two photos neither is the odd one."""
    if len(distances) < 3:
        return ()
    far = np.array(distances)
    middle = float(np.median(far))
    spread = _MAD_TO_SD * float(np.median(np.abs(far - middle)))
    limit = max(middle + _ODD * spread, middle + _ODD_LEAST / 2, _ODD_LEAST)
    return tuple(int(n) for n in np.flatnonzero(far > limit))


def _warnings(readings: Sequence[Reading], odd: tuple[int, ...]) -> tuple[tuple[str, Message], ...]:
    """What at least half of the photos warn of, and the odd photos."""
    count = Counter(code for reading in readings for code, _ in reading.warnings)
    words = {code: message for reading in readings for code, message in reading.warnings}
    found = [(code, words[code]) for code, n in count.items() if 2 * n >= len(readings)]
    for number in odd:
        found.append((f"photo[{number}]", Message("warning.odd_photo", number=number + 1)))
    return tuple(found)


def _common(readings: Sequence[Reading]) -> tuple[Reading, tuple[LayerSpread, ...], int]:
    lead, matches = _lead(readings)
    first = readings[lead]
    weights = _weights(readings)
    kept = [
        place
        for place in range(len(first.layers))
        if 2 * sum(_partner(match, place) is not None for match in matches) >= len(readings)
    ]
    layers = [_layer(first, place, readings, matches, weights) for place in kept]
    total = sum(layer.coverage.value or 0.0 for layer in layers)
    if total > 0:
        layers = [replace(layer, coverage=_scaled(layer.coverage, 1 / total)) for layer in layers]
    patterns = [_renamed(r, m, first) for r, m in zip(readings, matches, strict=True)]
    pattern = _combined([p.pattern for p in patterns], first.pattern, weights, "")
    common = replace(
        first,
        layers=tuple(layers),
        pattern=pattern,
        balance_known=all(r.balance_known for r in readings),
        exposure_known=all(r.exposure_known for r in readings),
        sheen=Counter(r.sheen for r in readings).most_common(1)[0][0],
        metal=any(r.metal for r in readings),
        samples=None,
    )
    chosen = [_only(match, kept) for match in matches]
    return common, _spreads(common, readings, chosen), lead


def _lead(readings: Sequence[Reading]) -> tuple[int, list[LayerMatch]]:
    """The photo nearest to all others, and every photo's match with it."""
    best, found, least = 0, [], np.inf
    for number, first in enumerate(readings):
        matches = [match_layers(first, r) if r is not first else _same(first) for r in readings]
        cost = 0.0
        for match, other in zip(matches, readings, strict=True):
            shown = np.array([layer.shown_lab for layer in first.layers])
            apart = [delta_e_2000(shown[i], match.board_lab[j]) for i, j in match.pairs]
            lost = (len(match.missing) + len(match.extra)) / (len(first.layers) + len(other.layers))
            cost += float(np.mean(apart)) if apart else 30.0
            cost += 30.0 * lost
        if cost < least:
            best, found, least = number, matches, cost
    return best, found


def _same(reading: Reading) -> LayerMatch:
    return LayerMatch(
        pairs=tuple((n, n) for n in range(len(reading.layers))),
        missing=(),
        extra=(),
        gains=np.ones(3),
        board_lab=np.array([layer.shown_lab for layer in reading.layers]),
    )


def _only(match: LayerMatch, kept: list[int]) -> LayerMatch:
    """The match for the layers that were kept, by their new places."""
    places = {old: new for new, old in enumerate(kept)}
    return replace(match, pairs=tuple((places[i], j) for i, j in match.pairs if i in places))


def _weights(readings: Sequence[Reading]) -> np.ndarray:
    """Each photo's weight, (N,): the area it shows, but none more than thrice the median's."""
    sizes = [reading.size_mm for reading in readings]
    if any(size is None for size in sizes):
        return np.ones(len(readings))
    areas = np.array([size[0] * size[1] for size in sizes if size is not None])
    return np.clip(areas / np.median(areas), 1 / 3, 3.0)


def _partner(match: LayerMatch, place: int) -> int | None:
    return next((j for i, j in match.pairs if i == place), None)


# ---- layers


def _layer(
    lead: Reading,
    place: int,
    readings: Sequence[Reading],
    matches: Sequence[LayerMatch],
    weights: np.ndarray,
) -> Layer:
    own: list[tuple[Layer, np.ndarray, float]] = []
    for reading, match, weight in zip(readings, matches, weights, strict=True):
        partner = _partner(match, place)
        if partner is not None:
            own.append((reading.layers[partner], match.board_lab[partner], weight))
    heap = np.array([weight for *_, weight in own])
    labs = np.array([lab for _, lab, _ in own])
    L, a, b = (weighted_percentile(labs[:, n], heap, 0.5) for n in range(3))
    whole = sum(layer.lab is not None for layer, *_ in own)
    apart = np.asarray(delta_e_2000(labs, np.array([L, a, b])))
    between = _half(apart, len(own)) / np.sqrt(len(own))
    within = float(np.median([layer.lab_de00 for layer, *_ in own]))
    return replace(
        lead.layers[place],
        lab=(L, a, b) if 2 * whole >= len(own) else None,
        shown_lab=(L, a, b),
        # What the photos share, the print of the card, does not average out: half of it stays.
        lab_de00=float(np.hypot(between, max(within / 2, within / np.sqrt(len(own))))),
        coverage=_median([layer.coverage for layer, *_ in own], heap),
        coverage_painted=_median([layer.coverage_painted for layer, *_ in own], heap),
    )


def _scaled(value: Measured, factor: float) -> Measured:
    if value.value is None:
        return value

    def times(pair: tuple[float, float] | None) -> tuple[float, float] | None:
        return None if pair is None else (pair[0] * factor, pair[1] * factor)

    return replace(
        value,
        value=value.value * factor,
        measurement=times(value.measurement),
        sampling=times(value.sampling),
    )


def _spreads(
    common: Reading, readings: Sequence[Reading], matches: Sequence[LayerMatch]
) -> tuple[LayerSpread, ...]:
    found = []
    for place, layer in enumerate(common.layers):
        labs: list[tuple[float, float, float] | None] = []
        covers: list[float | None] = []
        for reading, match in zip(readings, matches, strict=True):
            partner = _partner(match, place)
            if partner is None:
                labs.append(None)
                covers.append(None)
            else:
                L, a, b = match.board_lab[partner]
                labs.append((float(L), float(a), float(b)))
                covers.append(reading.layers[partner].coverage.value)
        there = [lab for lab in labs if lab is not None]
        apart = [float(delta_e_2000(np.array(lab), np.array(layer.shown_lab))) for lab in there]
        found.append(
            LayerSpread(
                layer=layer.id,
                labs=tuple(labs),
                coverages=tuple(covers),
                spread_de00=max(apart, default=0.0),
            )
        )
    return tuple(found)


# ---- pattern


def _renamed(reading: Reading, match: LayerMatch, lead: Reading) -> Reading:
    """The reading with its lines listed under the lead's layer ids."""
    names = {reading.layers[j].id: lead.layers[i].id for i, j in match.pairs}
    lines = tuple((names[i], part) for i, part in reading.pattern.lines_by_layer if i in names)
    patches = tuple((names[i], part) for i, part in reading.pattern.patches_by_layer if i in names)
    pattern = replace(reading.pattern, lines_by_layer=lines, patches_by_layer=patches)
    return replace(reading, pattern=pattern)


def _combined(records: list[Any], model: Any, weights: np.ndarray, name: str) -> Any:
    """Combine one field of all patterns; `model` is the lead photo's."""
    if isinstance(model, Measured):
        return _median(records, weights, period=180.0 if name.endswith("direction_deg") else None)
    if name.endswith("_by_layer"):
        return _by_layer(records, model, weights)
    if name in ("directions", "period_mm"):
        # One photo may tell a way that another does not: the lead photo's own stand.
        return model
    if name == "lay":
        lay = np.average(np.array(records), axis=0, weights=weights)
        return tuple(float(v) for v in lay / max(lay.sum(), 1e-12))
    if isinstance(model, tuple):
        return tuple(
            _combined([r[n] for r in records], item, weights, name) for n, item in enumerate(model)
        )
    if is_dataclass(model) and not isinstance(model, type):
        changed: dict[str, Any] = {}
        for f in fields(model):
            own = getattr(model, f.name)
            parts = [getattr(r, f.name) for r in records]
            there = [n for n, part in enumerate(parts) if part is not None]
            if own is None or 2 * len(there) < len(parts):
                changed[f.name] = None
            else:
                changed[f.name] = _combined([parts[n] for n in there], own, weights[there], f.name)
        return replace(model, **changed)
    return model


def _by_layer(
    records: list[tuple[tuple[str, Lines], ...]],
    model: tuple[tuple[str, Lines], ...],
    weights: np.ndarray,
) -> tuple[tuple[str, Any], ...]:
    found = []
    for layer, block in model:
        parts = [dict(record).get(layer) for record in records]
        there = [n for n, part in enumerate(parts) if part is not None]
        if 2 * len(there) >= len(parts):
            own = [parts[n] for n in there]
            found.append((layer, _combined(own, block, weights[there], "")))
    return tuple(found)


def _median(
    values: Sequence[Measured], weights: np.ndarray, period: float | None = None
) -> Measured:
    """The weighted median of values with both intervals; unknown when half of them are."""
    known = [n for n, v in enumerate(values) if v.value is not None]
    if 2 * len(known) < len(values) or not known:
        reason = next((v.reason for v in values if v.reason is not None), None)
        return unknown("reason.together") if reason is None else Measured(value=None, reason=reason)
    own = [values[n] for n in known]
    x = np.array([v.value for v in own], float)
    if period is not None:
        x = x[0] + (x - x[0] + period / 2) % period - period / 2
    middle = weighted_percentile(x, weights[known], 0.5)
    if len(x) == 2:
        middle = float(x.mean())
    between = _half(x - middle, len(x))
    count = len(x)
    measured = float(np.median([_half_of(v.measurement) for v in own]))
    sampled = float(np.median([_half_of(v.sampling) for v in own]))
    measurement = _MEDIAN_COST * measured / float(np.sqrt(count))
    sampling = between * np.sqrt(1 + 1 / count) if count > 2 else max(between, sampled)
    if period is not None:
        middle %= period
    floor = 0.0 if min(v.value or 0.0 for v in own) >= 0 and period is None else None
    return Measured(
        value=float(middle),
        measurement=_around(middle, measurement, floor),
        # Never below what one photo says of itself, shared by all.
        sampling=_around(middle, max(float(sampling), sampled / np.sqrt(count)), floor),
    )


def _around(value: float, half: float, floor: float | None) -> tuple[float, float]:
    low = value - half
    return (low if floor is None else max(floor, low), value + half)


def _half_of(interval: tuple[float, float] | None) -> float:
    return 0.0 if interval is None else (interval[1] - interval[0]) / 2


def _half(off: np.ndarray, count: int) -> float:
    """Half of the 90 % interval of values by their robust spread about their median."""
    if count < 2:
        return 0.0
    if count == 2:
        return float(np.abs(off).max())
    spread = _MAD_TO_SD * float(np.median(np.abs(off)))
    return _student(count) * spread


@cache
def _student(count: int) -> float:
    """The factor of a 90 % interval from so many values."""
    return float(student.ppf(0.5 + LEVEL / 2, count - 1))

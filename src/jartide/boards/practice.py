"""Practice strokes scored against the target's own measures, and which strokes spoil the score."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from jartide.boards.row import Raw, measured_row
from jartide.families import family_named
from jartide.measures.entries import BY_PATH
from jartide.measures.key import Key
from jartide.reading.layers.layer_map import LayerMap
from jartide.reading.lines.line_pieces import line_pieces
from jartide.reading.pattern.records import Lines
from jartide.reading.read import Basis
from jartide.reading.result import Reading
from jartide.reading.trust.measured import Measured
from jartide.reading.trust.paths import value_at
from jartide.wording import Message

# What a hand is practised for. Colour, contrast and cover are the mix's and the recipe's.
HAND_MEASURES = (
    "lines.width_variation",
    "lines.tortuosity",
    "lines.junctions_per_dm2",
    "lines.spacing_evenness",
    "lines.direction_spread_deg",
    "lines.softness_mm",
    "grain.spacing_mm",
    "grain.straightness",
    "patches.size_by_area_mm",
    "patches.clustering",
    "clouds.size_by_area_mm",
    "clouds.clustering",
    "specks.diameter_mm",
    "repeat.strength",
)
# At so many just visible differences the score of one measure has fallen to a third.
_THIRD_JND = 4.0
_LEAST_STROKE_MM = 15.0
# So many of a target's own strokes lie outside of its spread by the bounds below (measured on
# drawn marbles, 2 to 4 in ten): only more than that is the hand's.
_USUAL_SPOILT = 0.3
# Strokes all over the place have no direction to spread about: as far as axes can, degrees.
_NO_WAY_DEG = 52.0


class Spoils(StrEnum):
    """What is wrong with one stroke."""

    TOO_STRAIGHT = "too_straight"
    TOO_WILD = "too_wild"
    TOO_EVEN = "too_even"
    TOO_UNEVEN = "too_uneven"
    TOO_WIDE = "too_wide"
    TOO_NARROW = "too_narrow"
    ASTRAY = "astray"


@dataclass(frozen=True, slots=True, kw_only=True)
class HandScore:
    """One measure of the hand: 100 is the target's own, less the farther off.

    `jnd` is signed: + for more of it than the target has.
    """

    quantity: str
    name: Message
    target: float
    sheet: float
    jnd: float
    score: float


@dataclass(frozen=True, slots=True, kw_only=True)
class StrokeFault:
    """A stroke that spoils the sheet, where it lies, and how far off it is.

    `ring` is its bounding box in shares of the picture: left, top, right, bottom.
    """

    ring: tuple[float, float, float, float]
    spoils: Spoils
    times: float


@dataclass(frozen=True, slots=True, kw_only=True)
class PracticeSheet:
    """A sheet's scores, worst first, the whole score, and the strokes that spoil it."""

    score: float
    measures: tuple[HandScore, ...]
    strokes: int
    faults: tuple[StrokeFault, ...]


def score_sheet(
    target: Reading, sheet: Reading, basis: Basis | None = None, layers: LayerMap | None = None
) -> PracticeSheet:
    """Score a sheet of practice strokes.

    With `basis` and `layers` of the sheet the strokes that spoil it are found as well, and make
    half of the score. What a sheet this size differs by from another by chance is taken off.
    """
    line = Message(f"line.{family_named(target.family).lines_role}")
    rows = []
    for path in HAND_MEASURES:
        a, b = value_at(target.pattern, path), value_at(sheet.pattern, path)
        if a is None or b is None:
            continue
        if path == "lines.direction_spread_deg" and b.value is None:
            b = Measured(value=_NO_WAY_DEG, measurement=(_NO_WAY_DEG, _NO_WAY_DEG))
        named = BY_PATH[path].block == "lines"
        name = Message(f"quantity.{path}", line=line) if named else Message(f"quantity.{path}")
        raw = measured_row(Key(path), name, a, b, None)
        if raw is not None:
            rows.append(_score(raw))
    rows.sort(key=lambda row: row.score)
    whole = float(np.mean([row.score for row in rows])) if rows else 0.0
    strokes = 0
    faults: tuple[StrokeFault, ...] = ()
    if basis is not None and layers is not None:
        strokes, faults = _strokes(target, sheet, basis, layers)
    if strokes:
        good = 1 - len(faults) / strokes
        whole = (whole + 100 * min(good / (1 - _USUAL_SPOILT), 1.0)) / 2
    return PracticeSheet(score=whole, measures=tuple(rows), strokes=strokes, faults=faults)


def _score(raw: Raw) -> HandScore:
    sure = max(raw.difference_jnd**2 - raw.noise_jnd**2, 0.0) ** 0.5
    assert isinstance(raw.target, float) and isinstance(raw.board, float)
    return HandScore(
        quantity=raw.quantity,
        name=raw.name,
        target=raw.target,
        sheet=raw.board,
        jnd=float(np.copysign(sure, raw.difference_jnd)),
        score=float(100 * np.exp(-np.log(3) * sure / _THIRD_JND)),
    )


def _strokes(
    target: Reading, sheet: Reading, basis: Basis, layers: LayerMap
) -> tuple[int, tuple[StrokeFault, ...]]:
    """Measure each stroke by itself, and name those that lie outside of the target's spread."""
    of_target, scale = target.pattern.lines, sheet.mm_per_px
    if of_target is None or scale is None or sheet.pattern.lines is None:
        return 0, ()
    evidence = basis.evidence
    pieces = line_pieces(
        evidence.rgb_linear,
        basis.centre_lines,
        evidence.profiles,
        layers.layers,
        layers.masks(),
        np.random.default_rng([basis.seed, 1]),
    )
    lines, profiles = pieces.lines, pieces.profiles
    height, width = basis.picture.shape
    faults: list[StrokeFault] = []
    count = 0
    for piece in np.unique(lines.piece):
        own = lines.piece == piece
        length = float(lines.step_px[own].sum()) * scale
        if length < _LEAST_STROKE_MM:
            continue
        count += 1
        rows, columns = lines.row[own].astype(float), lines.column[own].astype(float)
        measured = profiles.lines.piece == piece
        widths = profiles.width_px[measured] * scale
        fault = _fault(of_target, rows, columns, length / scale, widths)
        if fault is not None:
            ring = (
                float(columns.min()) / width,
                float(rows.min()) / height,
                float(columns.max() + 1) / width,
                float(rows.max() + 1) / height,
            )
            faults.append(StrokeFault(ring=ring, spoils=fault[0], times=fault[1]))
    faults.sort(key=lambda fault: -fault.times)
    return count, tuple(faults)


def _fault(
    of_target: Lines,
    rows: np.ndarray,
    columns: np.ndarray,
    length_px: float,
    widths: np.ndarray,
) -> tuple[Spoils, float] | None:
    """The worst thing about a stroke, and how many times too far it goes; None for a good one.

    `rows`, `columns` : (N,) its centre line, pixels; `widths` : (M,) along it, mm.
    """
    found: list[tuple[Spoils, float]] = []
    points = np.column_stack([columns, -rows])
    points = points - points.mean(axis=0)
    _, size, way = np.linalg.svd(points, full_matrices=False)
    reach = float(np.ptp(points @ way[0]))
    deg = float(np.degrees(np.arctan2(way[0, 1], way[0, 0]))) % 180
    lay, spread = of_target.direction_deg.value, of_target.direction_spread_deg.value
    if lay is not None and spread is not None and size[0] > 3 * size[1]:
        turned = abs((deg - lay + 90) % 180 - 90)
        ways = [peak.deg for peak in of_target.directions]
        turned = min([turned, *(abs((deg - w + 90) % 180 - 90) for w in ways)])
        found.append((Spoils.ASTRAY, turned / max(2.0 * spread, 8.0)))
    bend = of_target.tortuosity.value
    if bend is not None and reach > 0:
        own = max(length_px / reach, 1.0)
        found.append((Spoils.TOO_WILD, (own - 1) / max(4 * (bend - 1), 0.12)))
        found.append((Spoils.TOO_STRAIGHT, 0.2 * max(bend - 1, 0.0) / max(own - 1, 0.004)))
    wanted = of_target.width_mm
    if widths.size >= 5 and wanted.p10.value and wanted.p90.value:
        middle = float(np.median(widths))
        found.append((Spoils.TOO_WIDE, middle / (1.3 * wanted.p90.value)))
        found.append((Spoils.TOO_NARROW, wanted.p10.value / (1.3 * max(middle, 1e-3))))
        varies = of_target.width_variation.value
        if varies is not None and varies > 0.05:
            own = float(np.std(np.log(np.maximum(widths, 1e-3))))
            found.append((Spoils.TOO_UNEVEN, own / (2.2 * varies)))
            found.append((Spoils.TOO_EVEN, varies / (3.0 * max(own, 0.02))))
    worst = max(found, key=lambda pair: pair[1], default=None)
    return worst if worst is not None and worst[1] > 1 else None

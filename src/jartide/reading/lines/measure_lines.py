"""The measures of lines, from profiles across them and their centre lines."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from jartide.reading.lines.blur import bar_of, peak_cover, picture_blur_px, without_blur
from jartide.reading.lines.crossings import evenness, spacing_px, walk_across
from jartide.reading.lines.line_pieces import LinePieces
from jartide.reading.lines.ridges import CentreLines
from jartide.reading.lines.wander import tortuosity
from jartide.reading.pattern.direction import lay_of_samples
from jartide.reading.pattern.peaks import direction_peaks
from jartide.reading.pattern.records import Lines, Polarity, Spread
from jartide.reading.trust.measured import (
    Measured,
    jackknife_half_width,
    measured,
    unknown,
    weighted_percentile,
)
from jartide.reading.trust.own_error import judged
from jartide.reading.trust.tiles import TILES, density_half_width, tile_of

# Fewer measured points than this, and nothing is said of lines.
LEAST_POINTS = 40
# Profiles are sampled between pixels: linear interpolation blurs by this standard deviation.
_SAMPLING_BLUR_PX = 0.41
# A line narrower than this many pixels has a width that is mostly blur.
LEAST_WIDTH_PX = 1.6
# Edges sharper than this are the camera's more than the surface's.
LEAST_SOFTNESS_PX = 1.0


def measure_lines(
    pieces: LinePieces,
    layer: int | None,
    valid: np.ndarray,
    mm_per_px: float | None,
    reduced: float,
) -> Lines | None:
    """Return the measures of all lines, or of those of one layer; None when there are none.

    Only lines of the commoner polarity, by length, are measured. `valid`, (H, W), is
    what was read.
    """
    shape = valid.shape
    lines, profiles = pieces.lines, pieces.profiles
    if layer is not None:
        lines = lines.kept(pieces.layer == layer)
    lighter = lines.step_px[lines.sign > 0].sum() >= lines.step_px[lines.sign < 0].sum()
    sign = 1 if lighter else -1
    lines = lines.kept(lines.sign == sign)
    use = profiles.lines.sign == sign
    if layer is not None:
        use &= pieces.profile_layer == layer
    if use.sum() < LEAST_POINTS:
        return None
    weight = profiles.weight_px[use]
    tiles = tile_of(profiles.lines.row[use], profiles.lines.column[use], valid)
    line_tiles = tile_of(lines.row, lines.column, valid)
    shown_width, shown_soft = profiles.width_px[use], profiles.softness_px[use]
    shown_u, edges = bar_of(shown_width, shown_soft)
    blurs = picture_blur_px(reduced, float(np.percentile(edges, 5)))
    least, likely, most = (float(np.hypot(blur, _SAMPLING_BLUR_PX)) for blur in blurs)
    width, softness = without_blur(shown_width, shown_soft, likely)
    width_low, soft_low = without_blur(shown_width, shown_soft, most)
    width_high, soft_high = without_blur(shown_width, shown_soft, least)

    inner = lines.is_inner(shape)
    lay = lay_of_samples(
        lines.normal_deg[inner] + 90, lines.step_px[inner], line_tiles[inner], own_half_deg=2.3
    )
    # The blur took some of a fine line's contrast with it.
    own_u, _ = bar_of(width, softness)
    lost = peak_cover(own_u) / np.maximum(peak_cover(shown_u), 0.3)
    contrast = profiles.contrast_L[use] * np.clip(lost, 1.0, 1.4)
    usual_px = weighted_percentile(shown_width, weight, 0.5)
    spacing, even = _across(lines, lay.direction_deg.value, valid, mm_per_px)
    return Lines(
        width_mm=_width_spread((width_low, width, width_high), weight, tiles, mm_per_px),
        length_mm_per_cm2=_density(lines, valid, mm_per_px),
        width_variation=_along(width, profiles.lines.piece[use], tiles),
        halo_mm=_halo(profiles.halo_px[use], weight, tiles, mm_per_px),
        softness_mm=_length_measure(
            [weighted_percentile(s, weight, 0.5) for s in (soft_low, softness, soft_high)],
            0.32,
            jackknife_half_width(
                tiles, lambda keep: weighted_percentile(softness[keep], weight[keep], 0.5)
            ),
            mm_per_px,
            LEAST_SOFTNESS_PX,
        ),
        contrast_L=judged(
            "lines.contrast_L",
            float(np.average(contrast, weights=weight)),
            jackknife_half_width(
                tiles, lambda keep: float(np.average(contrast[keep], weights=weight[keep]))
            ),
        ),
        contrast_spread_L=judged(
            "lines.contrast_spread_L",
            _deviation(contrast, weight),
            jackknife_half_width(tiles, lambda keep: _deviation(contrast[keep], weight[keep])),
        ),
        polarity=Polarity.LIGHTER if lighter else Polarity.DARKER,
        direction_deg=lay.direction_deg,
        direction_spread_deg=lay.spread_deg,
        directions=direction_peaks(lines.normal_deg[inner] + 90, lines.step_px[inner]),
        spacing_mm=spacing,
        spacing_evenness=even,
        junctions_per_dm2=_junctions(pieces, layer, sign, valid, mm_per_px),
        tortuosity=_tortuosity(lines, valid, usual_px),
    )


def _deviation(values: np.ndarray, weight: np.ndarray) -> float:
    """Weighted standard deviation."""
    mean = np.average(values, weights=weight)
    return float(np.sqrt(np.average((values - mean) ** 2, weights=weight)))


# Stretches with fewer profiles than this say nothing of how width varies along them.
_LEAST_IN_PIECE = 4


def _along(width: np.ndarray, piece: np.ndarray, tiles: np.ndarray) -> Measured:
    """Return the standard deviation of ln width along one line, pooled over all."""
    value = np.log(np.maximum(width, 0.1))
    count = np.bincount(piece)
    mean = np.bincount(piece, value) / np.maximum(count, 1)
    use = count[piece] >= _LEAST_IN_PIECE
    if use.sum() < LEAST_POINTS:
        return unknown("reason.few_lines")
    # Each stretch gives one of its freedoms to its own mean.
    square = ((value - mean[piece]) ** 2 * count[piece] / np.maximum(count[piece] - 1, 1))[use]
    own = tiles[use]
    return judged(
        "lines.width_variation",
        float(np.sqrt(square.mean())),
        jackknife_half_width(own, lambda keep: float(np.sqrt(square[keep].mean()))),
    )


def _halo(
    halo_px: np.ndarray, weight: np.ndarray, tiles: np.ndarray, mm_per_px: float | None
) -> Measured:
    if mm_per_px is None:
        return unknown("reason.no_scale")
    scaled = halo_px * mm_per_px
    return judged(
        "lines.halo_mm",
        weighted_percentile(scaled, weight, 0.5),
        jackknife_half_width(
            tiles, lambda keep: weighted_percentile(scaled[keep], weight[keep], 0.5)
        ),
    )


def _across(
    lines: CentreLines, direction_deg: float | None, valid: np.ndarray, mm_per_px: float | None
) -> tuple[Measured, Measured]:
    """Return the mean distance between lines across their direction, and its evenness."""
    if mm_per_px is None:
        return unknown("reason.no_scale"), unknown("reason.no_scale")
    # A net without a direction is crossed level and upright.
    ways = (0.0, 90.0) if direction_deg is None else (direction_deg,)
    walks = [walk_across(lines.row, lines.column, way, valid) for way in ways]
    crossed = np.zeros(TILES)
    walked = np.zeros(TILES)
    nearest, at = [], []
    for walk in walks:
        tiles = tile_of(walk.row, walk.column, valid)
        crossed += np.bincount(tiles, minlength=TILES)
        walked += np.bincount(tile_of(walk.walk_row, walk.walk_column, valid), minlength=TILES)
        nearest.append(walk.nearest_px)
        at.append(tiles)
    if crossed.sum() < LEAST_POINTS / 2:
        return unknown("reason.few_lines"), unknown("reason.few_lines")
    mean = spacing_px(crossed, walked)
    used = np.flatnonzero(walked > 0)
    half = jackknife_half_width(
        used, lambda keep: spacing_px(crossed[used[keep]], walked[used[keep]])
    )
    spacing = judged("lines.spacing_mm", mean * mm_per_px, half * mm_per_px)
    near, tiles = np.concatenate(nearest), np.concatenate(at)
    even = evenness(near, mean)
    if not np.isfinite(even):
        return spacing, unknown("reason.few_lines")
    half = jackknife_half_width(tiles, lambda keep: _or(evenness(near[keep], mean), even))
    return spacing, judged("lines.spacing_evenness", even, half)


def _or(value: float, other: float) -> float:
    return value if np.isfinite(value) else other


def _junctions(
    pieces: LinePieces,
    layer: int | None,
    sign: int,
    valid: np.ndarray,
    mm_per_px: float | None,
) -> Measured:
    if mm_per_px is None:
        return unknown("reason.no_scale")
    use = (pieces.fork_sign == sign) & (pieces.fork_layer == (-1 if layer is None else layer))
    rows, columns = pieces.fork_row[use], pieces.fork_column[use]
    per_dm2 = 1e4 / mm_per_px**2
    half = density_half_width(rows, columns, valid)
    return judged(
        "lines.junctions_per_dm2", len(rows) / float(valid.sum()) * per_dm2, half * per_dm2
    )


def _tortuosity(lines: CentreLines, valid: np.ndarray, width_px: float) -> Measured:
    ratio, rows, columns = tortuosity(lines, width_px)
    if ratio.size < 12:
        return unknown("reason.few_lines")
    tiles = tile_of(rows, columns, valid)
    half = jackknife_half_width(tiles, lambda keep: float(ratio[keep].mean()))
    return judged("lines.tortuosity", float(ratio.mean()), half, least=1.0)


def _width_spread(
    low_likely_high: tuple[np.ndarray, np.ndarray, np.ndarray],
    weight: np.ndarray,
    tiles: np.ndarray,
    mm_per_px: float | None,
) -> Spread:
    """Return the distribution of widths, (N,) px each for the most, likely and least blur."""

    def measure(statistic: Callable[[np.ndarray, np.ndarray], float]) -> Measured:
        width = low_likely_high[1]
        return _length_measure(
            [statistic(w, weight) for w in low_likely_high],
            0.07,
            jackknife_half_width(tiles, lambda keep: statistic(width[keep], weight[keep])),
            mm_per_px,
            LEAST_WIDTH_PX,
        )

    return Spread(
        p10=measure(lambda w, by: weighted_percentile(w, by, 0.1)),
        median=measure(lambda w, by: weighted_percentile(w, by, 0.5)),
        p90=measure(lambda w, by: weighted_percentile(w, by, 0.9)),
        geometric_mean=measure(lambda w, by: float(np.exp(np.average(np.log(w), weights=by)))),
    )


def _length_measure(
    low_likely_high: list[float],
    relative: float,
    sampling_half_px: float,
    mm_per_px: float | None,
    least_px: float,
) -> Measured:
    """Make a length in mm; what the blur leaves open widens its measurement interval."""
    if mm_per_px is None:
        return unknown("reason.no_scale")
    low, value, high = low_likely_high
    if value < least_px:
        return unknown("reason.too_fine", px_per_mm=round(3 / (max(value, 0.3) * mm_per_px)))
    blur_half = max(value - low, high - value, 0.0)
    own = np.hypot(blur_half, relative * value) + 0.05
    return measured(value * mm_per_px, float(own * mm_per_px), sampling_half_px * mm_per_px)


def _density(lines: CentreLines, valid: np.ndarray, mm_per_px: float | None) -> Measured:
    if mm_per_px is None:
        return unknown("reason.no_scale")
    # px of line a px of area, mm a cm2
    per_cm2 = 100 / mm_per_px
    half = density_half_width(lines.row, lines.column, valid, lines.step_px)
    total = float(lines.step_px.sum()) / float(valid.sum())
    return judged("lines.length_mm_per_cm2", total * per_cm2, half * per_cm2)

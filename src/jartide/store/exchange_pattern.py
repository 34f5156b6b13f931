"""The pattern's part of `jar-tide/reading/1`, and how single values are printed."""

from __future__ import annotations

from typing import Any

from jartide.reading.measured import Measured
from jartide.reading.pattern import (
    SIZES_MM,
    Brush,
    Cells,
    Grain,
    Lines,
    Patches,
    Pattern,
    Peak,
    Repeat,
    Specks,
    Spread,
    Weave,
)


def pattern_to_json(pattern: Pattern, sheen: str | None) -> dict[str, Any]:
    """Return a pattern; a block that does not apply is null."""
    lines = None
    if pattern.lines is not None:
        lines = _lines(pattern.lines)
        lines["by_layer"] = {name: _lines(own) for name, own in pattern.lines_by_layer}
    patches = None
    if pattern.patches is not None:
        patches = _patches(pattern.patches)
        patches["by_layer"] = {name: _patches(own) for name, own in pattern.patches_by_layer}
    return {
        "direction_deg": value(pattern.direction_deg),
        "direction_spread_deg": value(pattern.direction_spread_deg),
        "directionality": value(pattern.directionality),
        "correlation_mm": value(pattern.correlation_mm),
        "lines": lines,
        "patches": patches,
        "weave": None if pattern.weave is None else _weave(pattern.weave),
        "cells": None if pattern.cells is None else _cells(pattern.cells),
        "grain": None if pattern.grain is None else _grain(pattern.grain),
        "specks": None if pattern.specks is None else _specks(pattern.specks),
        "brush": None if pattern.brush is None else _brush(pattern.brush),
        "repeat": None if pattern.repeat is None else _repeat(pattern.repeat),
        "sheen": sheen,
        "spectrum": [
            {"size_mm": float(size), "share": value(share)}
            for size, share in zip(SIZES_MM, pattern.spectrum, strict=True)
        ],
        "lay": [rounded(share) for share in pattern.lay],
    }


def _lines(lines: Lines) -> dict[str, Any]:
    return {
        "width_mm": _spread(lines.width_mm),
        "length_mm_per_cm2": value(lines.length_mm_per_cm2),
        "softness_mm": value(lines.softness_mm),
        "halo_mm": value(lines.halo_mm),
        "contrast_L": value(lines.contrast_L),
        "contrast_spread_L": value(lines.contrast_spread_L),
        "polarity": lines.polarity.value,
        "spacing_mm": value(lines.spacing_mm),
        "spacing_evenness": value(lines.spacing_evenness),
        "direction_deg": value(lines.direction_deg),
        "direction_spread_deg": value(lines.direction_spread_deg),
        "directions": [_peak(peak) for peak in lines.directions],
        "junctions_per_dm2": value(lines.junctions_per_dm2),
        "width_variation": value(lines.width_variation),
        "tortuosity": value(lines.tortuosity),
    }


def _patches(patches: Patches) -> dict[str, Any]:
    return {
        "count_per_dm2": value(patches.count_per_dm2),
        "area_mm2": _spread(patches.area_mm2),
        "spacing_mm": value(patches.spacing_mm),
        "coverage": value(patches.coverage),
        "softness_mm": value(patches.softness_mm),
        "clustering": value(patches.clustering),
        "elongation": value(patches.elongation),
        "runs_down": value(patches.runs_down),
        "raggedness": value(patches.raggedness),
    }


def _weave(weave: Weave) -> dict[str, Any]:
    return {
        "warp_per_cm": value(weave.warp_per_cm),
        "weft_per_cm": value(weave.weft_per_cm),
        "warp_direction_deg": value(weave.warp_direction_deg),
        "weft_direction_deg": value(weave.weft_direction_deg),
        "evenness": value(weave.evenness),
        "slubs_per_dm2": value(weave.slubs_per_dm2),
    }


def _cells(cells: Cells) -> dict[str, Any]:
    return {
        "size_mm": _spread(cells.size_mm),
        "count_per_dm2": value(cells.count_per_dm2),
        "groove_width_mm": value(cells.groove_width_mm),
        "elongation": value(cells.elongation),
    }


def _grain(grain: Grain) -> dict[str, Any]:
    return {
        "spacing_mm": value(grain.spacing_mm),
        "length_mm": value(grain.length_mm),
        "direction_deg": value(grain.direction_deg),
        "straightness": value(grain.straightness),
        "contrast_L": value(grain.contrast_L),
        "knots": value(grain.knots),
        "pores_per_cm2": value(grain.pores_per_cm2),
    }


def _specks(specks: Specks) -> dict[str, Any]:
    return {
        "count_per_dm2": value(specks.count_per_dm2),
        "diameter_mm": _spread(specks.diameter_mm),
    }


def _brush(brush: Brush) -> dict[str, Any]:
    return {
        "directions_deg": [rounded(peak.deg) for peak in brush.directions],
        "shares": [rounded(peak.share) for peak in brush.directions],
        "ridge_spacing_mm": value(brush.ridge_spacing_mm),
    }


def _repeat(repeat: Repeat) -> dict[str, Any]:
    period = repeat.period_mm
    return {
        "strength": value(repeat.strength),
        "period_mm": None if period is None else [rounded(v) for v in period],
    }


def _peak(peak: Peak) -> dict[str, Any]:
    return {"deg": rounded(peak.deg), "share": rounded(peak.share)}


def _spread(spread: Spread) -> dict[str, Any]:
    return {
        "p10": value(spread.p10),
        "median": value(spread.median),
        "p90": value(spread.p90),
        "geometric_mean": value(spread.geometric_mean),
    }


def value(measured: Measured) -> float | None:
    """Return a measured value, or null where it can't be trusted."""
    return rounded(measured.value)


def rounded(given: float | None, digits: int = 4) -> float | None:
    """Return a number rounded for printing."""
    return None if given is None else round(float(given), digits)


def interval(pair: tuple[float, float]) -> list[float | None]:
    """Return an interval; an end that is not finite is null, since JSON knows no infinity."""
    return [rounded(v) if abs(v) < 1e12 else None for v in pair]

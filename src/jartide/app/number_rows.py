"""The numbers of a pattern as rows: name, value, words; the family's own first."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING

from jartide.app.number_words import step_word
from jartide.app.words import degrees_words, mm_words, percent_words
from jartide.families import family_named
from jartide.wording import say, tr

if TYPE_CHECKING:
    from jartide.reading.measured import Measured
    from jartide.reading.pattern import Lines, Pattern, Peak, Spread
    from jartide.reading.result import Reading, Texture

MISSING = "–"


@dataclass(frozen=True, slots=True, kw_only=True)
class NumberRow:
    """One number: `path` says where it was measured, `detail` how far it can be trusted."""

    path: str
    name: str
    value: str
    words: str
    detail: str


@dataclass(frozen=True, slots=True, kw_only=True)
class NumberGroup:
    """Rows of one kind of thing: veins, patches, cells."""

    title: str
    rows: tuple[NumberRow, ...]


def number_groups(reading: Reading) -> tuple[NumberGroup, ...]:
    """Return all numbers of a reading; what its family is judged by comes first."""
    pattern = reading.pattern
    found = {name: rows for name, make in _BLOCKS.items() if (rows := tuple(make(pattern)))}
    lines = tr(f"lines.{family_named(reading.family).lines_role}")
    if rows := tuple(_texture(reading.texture)):
        found["texture"] = rows
    first = [name for name in family_named(reading.family).shows if name in found]
    order = [*first, *(name for name in found if name not in first)]
    return tuple(
        NumberGroup(title=lines if name == "lines" else tr(f"block.{name}"), rows=found[name])
        for name in order
    )


def _row(
    path: str, value: Measured, shown: Callable[[float], str], scale: str | None = None
) -> NumberRow:
    name = tr(f"measure.{path.replace('.median', '')}")
    if value.value is None:
        words = "" if value.reason is None else say(value.reason)
        return NumberRow(path=path, name=name, value=MISSING, words=words, detail=words)
    words = "" if scale is None else tr(step_word(scale, value.value))
    return NumberRow(
        path=path,
        name=name,
        value=shown(value.value),
        words=words,
        detail=_detail(value, shown),
    )


def _detail(value: Measured, shown: Callable[[float], str]) -> str:
    """How sure a number is here, and the least change between boards that can be told."""
    from jartide.reading.trust import least_change

    if value.measurement is None:
        return ""
    low, high = value.measurement
    words = tr("measure.between", low=shown(low), high=shown(high))
    change = least_change(value)
    if change is not None:
        words += " " + tr("measure.least", change=shown(change))
    return words


def _range(path: str, spread: Spread, shown: Callable[[float], str], scale: str) -> NumberRow:
    """A distribution: its middle, and in words what most of it lies between."""
    row = _row(path, spread.median, shown, scale)
    if spread.p10.value is None or spread.p90.value is None:
        return row
    words = tr(
        "measure.most", word=row.words, low=shown(spread.p10.value), high=shown(spread.p90.value)
    )
    return NumberRow(path=row.path, name=row.name, value=row.value, words=words, detail=row.detail)


def _block(name: str) -> Callable[[Pattern], Iterator[NumberRow]]:
    """Return what makes the rows of a block of the pattern, by its table."""

    def rows(pattern: Pattern) -> Iterator[NumberRow]:
        from jartide.reading.pattern import Spread

        block = getattr(pattern, name)
        for field, shown, scale in _TABLES[name] if block is not None else ():
            value = getattr(block, field)
            if isinstance(value, Spread):
                yield _range(f"{name}.{field}.median", value, shown, scale or "")
            else:
                yield _row(f"{name}.{field}", value, shown, scale)
        if name == "lines" and block is not None:
            yield _directions(block)

    return rows


def _directions(lines: Lines) -> NumberRow:
    row = _row("lines.direction_deg", lines.direction_deg, degrees_words)
    words = "" if len(lines.directions) < 2 else _ways(lines.directions)
    return NumberRow(
        path=row.path, name=row.name, value=row.value, words=words or row.words, detail=row.detail
    )


def _ways(peaks: tuple[Peak, ...]) -> str:
    parts = [
        tr("measure.way", degrees=degrees_words(p.deg), share=percent_words(p.share)) for p in peaks
    ]
    return ", ".join(parts)


def _mottle(pattern: Pattern) -> Iterator[NumberRow]:
    yield _row("correlation_mm", pattern.correlation_mm, mm_words, "mottle")
    yield _row("directionality", pattern.directionality, percent_words)
    yield _row("direction_spread_deg", pattern.direction_spread_deg, degrees_words)


def _brush(pattern: Pattern) -> Iterator[NumberRow]:
    brush = pattern.brush
    if brush is None:
        return
    yield NumberRow(
        path="brush.directions",
        name=tr("measure.brush.directions"),
        value=", ".join(degrees_words(p.deg) for p in brush.directions),
        words=_ways(brush.directions),
        detail=tr("measure.brush.error", degrees=degrees_words(brush.direction_error_deg)),
    )
    yield _row("brush.ridge_spacing_mm", brush.ridge_spacing_mm, mm_words, "ridge")


def _texture(texture: Texture | None) -> Iterator[NumberRow]:
    if texture is None:
        return
    yield _row("texture.contrast_L", texture.contrast_L, _one)
    yield _row("texture.size_mm", texture.size_mm, mm_words)
    yield _row("texture.direction_deg", texture.direction_deg, degrees_words)
    yield _row("texture.light_share", texture.light_share, percent_words, "light_share")
    if texture.mottle_L is not None:
        yield _row("texture.mottle_L", texture.mottle_L, _one)


def _repeat(pattern: Pattern) -> Iterator[NumberRow]:
    repeat = pattern.repeat
    if repeat is None:
        return
    name = tr("measure.repeat.period_mm")
    if repeat.period_mm is None:
        yield NumberRow(
            path="repeat.period_mm", name=name, value=tr("measure.none"), words="", detail=""
        )
        return
    right, down = repeat.period_mm
    yield NumberRow(
        path="repeat.period_mm",
        name=name,
        value=mm_words(float((right**2 + down**2) ** 0.5)),
        words=tr("measure.repeat.words", right=mm_words(abs(right)), down=mm_words(abs(down))),
        detail="",
    )


def _whole(value: float) -> str:
    return f"{value:.0f}"


def _one(value: float) -> str:
    return f"{value:.1f}"


def _two(value: float) -> str:
    return f"{value:.2f}"


def _density(value: float) -> str:
    return tr("unit.density", value=f"{value:.1f}")


def _square(value: float) -> str:
    return tr("unit.mm2", value=f"{value:.0f}" if value >= 9.95 else f"{value:.1f}")


# Field, how it is shown, and the scale its word is on.
_TABLES: dict[str, tuple[tuple[str, Callable[[float], str], str | None], ...]] = {
    "lines": (
        ("width_mm", mm_words, "width"),
        ("contrast_L", _whole, "contrast"),
        ("contrast_spread_L", _whole, "contrast_spread"),
        ("length_mm_per_cm2", _density, "length"),
        ("spacing_mm", mm_words, None),
        ("spacing_evenness", _two, "evenness"),
        ("softness_mm", mm_words, "softness"),
        ("halo_mm", mm_words, "halo"),
        ("junctions_per_dm2", _one, "forks"),
        ("tortuosity", _two, "wander"),
        ("width_variation", percent_words, "variation"),
    ),
    "patches": (
        ("coverage", percent_words, None),
        ("count_per_dm2", _whole, "count"),
        ("area_mm2", _square, "area"),
        ("spacing_mm", mm_words, None),
        ("clustering", _two, "evenness"),
        ("softness_mm", mm_words, "softness"),
        ("raggedness", percent_words, "ragged"),
        ("elongation", _one, "elongation"),
        ("runs_down", _two, "runs"),
    ),
    "cells": (
        ("size_mm", mm_words, "cell"),
        ("groove_width_mm", mm_words, "groove"),
        ("count_per_dm2", _whole, None),
        ("elongation", _one, "elongation"),
    ),
    "weave": (
        ("warp_per_cm", _one, "threads"),
        ("weft_per_cm", _one, "threads"),
        ("warp_direction_deg", degrees_words, None),
        ("weft_direction_deg", degrees_words, None),
        ("evenness", percent_words, "weave_even"),
        ("slubs_per_dm2", _one, None),
    ),
    "grain": (
        ("spacing_mm", mm_words, "grain"),
        ("contrast_L", _whole, "contrast"),
        ("straightness", percent_words, "straightness"),
        ("length_mm", mm_words, None),
        ("knots", _whole, None),
        ("pores_per_cm2", _one, None),
    ),
    "specks": (
        ("count_per_dm2", _whole, "count"),
        ("diameter_mm", mm_words, "diameter"),
    ),
}
_BLOCKS: dict[str, Callable[[Pattern], Iterator[NumberRow]]] = {
    **{name: _block(name) for name in _TABLES},
    "brush": _brush,
    "mottle": _mottle,
    "repeat": _repeat,
}

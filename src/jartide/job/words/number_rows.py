"""The numbers of a pattern as rows: name, value, words; the family's own first."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from jartide.families import family_named
from jartide.job.words.numbers import degrees_words, mm_words, percent_words
from jartide.job.words.scales import step_word
from jartide.measures.entries import BY_PATH, block_of
from jartide.measures.measure import Measure
from jartide.measures.shown import words as shown
from jartide.reading.pattern.records import Lines, Pattern, Peak, Spread
from jartide.reading.result import Reading, Texture
from jartide.reading.trust.measured import Measured
from jartide.reading.trust.own_error import least_change
from jartide.wording import say, tr

MISSING = "–"


@dataclass(frozen=True, slots=True, kw_only=True)
class NumberRow:
    """One number: `path` is its measure's, `detail` says how far it can be trusted."""

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


def _row(path: str, value: Measured) -> NumberRow:
    measure = BY_PATH[path]
    name = tr(f"measure.{path}")
    if value.value is None:
        words = "" if value.reason is None else say(value.reason)
        return NumberRow(path=path, name=name, value=MISSING, words=words, detail=words)
    words = "" if measure.words is None else tr(step_word(measure.words, value.value))
    return NumberRow(
        path=path,
        name=name,
        value=shown(measure, value.value),
        words=words,
        detail=_detail(value, measure),
    )


def _detail(value: Measured, measure: Measure) -> str:
    """How sure a number is here, and the least change between boards that can be told."""
    if value.measurement is None:
        return ""
    low, high = value.measurement
    words = tr("measure.between", low=shown(measure, low), high=shown(measure, high))
    change = least_change(value)
    if change is not None:
        words += " " + tr("measure.least", change=shown(measure, change))
    return words


def _range(path: str, spread: Spread) -> NumberRow:
    """A distribution: its middle, and in words what most of it lies between."""
    row = _row(path, spread.median)
    measure = BY_PATH[path]
    if spread.p10.value is None or spread.p90.value is None:
        return row
    low, high = shown(measure, spread.p10.value), shown(measure, spread.p90.value)
    words = tr("measure.most", word=row.words, low=low, high=high)
    return NumberRow(path=row.path, name=row.name, value=row.value, words=words, detail=row.detail)


def _block(name: str) -> Callable[[Pattern], Iterator[NumberRow]]:
    """Return what makes the rows of a block of the pattern, by its table."""

    def rows(pattern: Pattern) -> Iterator[NumberRow]:
        block = getattr(pattern, name)
        for measure in block_of(name) if block is not None else ():
            value = getattr(block, measure.field)
            if measure.path == "lines.direction_deg" or value is None:
                continue  # with all its ways, below; or not measured when this was read
            if isinstance(value, Spread):
                yield _range(measure.path, value)
            else:
                yield _row(measure.path, value)
        if name == "lines" and block is not None:
            yield _directions(block)

    return rows


def _directions(lines: Lines) -> NumberRow:
    row = _row("lines.direction_deg", lines.direction_deg)
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
    yield _row("correlation_mm", pattern.correlation_mm)
    if pattern.edges_mm_per_cm2 is not None:
        yield _row("edges_mm_per_cm2", pattern.edges_mm_per_cm2)
    yield _row("directionality", pattern.directionality)
    yield _row("direction_spread_deg", pattern.direction_spread_deg)


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
    yield _row("brush.ridge_spacing_mm", brush.ridge_spacing_mm)


def _joints(pattern: Pattern) -> Iterator[NumberRow]:
    if pattern.joints is None:
        return
    yield from _block("joints")(pattern)
    yield NumberRow(
        path="joints.bond",
        name=tr("measure.joints.bond"),
        value=tr(f"word.bond.{pattern.joints.bond}"),
        words="",
        detail="",
    )


def _texture(texture: Texture | None) -> Iterator[NumberRow]:
    if texture is None:
        return
    yield _row("texture.contrast_L", texture.contrast_L)
    yield _row("texture.size_mm", texture.size_mm)
    yield _row("texture.direction_deg", texture.direction_deg)
    yield _row("texture.light_share", texture.light_share)
    if texture.mottle_L is not None:
        yield _row("texture.mottle_L", texture.mottle_L)


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


# The blocks whose rows are their measures, one by one.
_PLAIN_BLOCKS = ("lines", "patches", "clouds", "cells", "weave", "grain", "specks")
_BLOCKS: dict[str, Callable[[Pattern], Iterator[NumberRow]]] = {
    **{name: _block(name) for name in _PLAIN_BLOCKS},
    "joints": _joints,
    "brush": _brush,
    "mottle": _mottle,
    "repeat": _repeat,
}

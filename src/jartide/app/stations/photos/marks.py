"""Which marks a step shows on the photo, and what moving or drawing one changes in the settings."""

from __future__ import annotations

from dataclasses import replace

from jartide.app.elements.photo_marks import Mark, MarkKind, Point, box_moved
from jartide.job.flat import Flat
from jartide.job.words.numbers import plain_words
from jartide.photo.settings import PhotoSettings, Polygon, Rect, Segment, Shape, Stroke
from jartide.wording import tr

STEPS = ("card", "shape", "scale", "colour", "light", "left_out", "sheen", "check", "board")


def marks_of(
    settings: PhotoSettings, step: str | None, flat: Flat | None, reader: Point | None
) -> tuple[Mark, ...]:
    """Return all marks on a photo; those of the opened step can be moved."""
    marks: list[Mark] = []
    for number, shape in enumerate(settings.leave_out):
        marks.append(_left_out(f"left_out {number}", shape))
    if step == "left_out" and flat is not None:
        for number, suggestion in enumerate(flat.suggestions):
            points = suggestion.outline.points
            marks.append(
                Mark(key=f"suggested {number}", kind=MarkKind.OUTLINE, points=tuple(points))
            )
    piece = None if flat is None else flat.prepared.sought.piece
    if settings.corners is None and settings.region is None and piece is not None:
        marks.append(Mark(key="found", kind=MarkKind.OUTLINE, points=piece.corners))
    if step == "card" and flat is not None and flat.prepared.card is not None:
        ring = tuple((float(x), float(y)) for x, y in flat.prepared.card.outline_px())
        marks.append(Mark(key="card", kind=MarkKind.OUTLINE, points=ring))
    if settings.region is not None:
        marks.append(_region(settings, step == "left_out" or (settings.carved and step == "shape")))
    if settings.corners is not None:
        marks.append(
            Mark(
                key="corners",
                kind=MarkKind.OUTLINE,
                points=settings.corners,
                movable=step == "shape",
            )
        )
    marks += _segments(settings, step)
    if settings.known_length is not None:
        known = settings.known_length
        marks.append(
            Mark(
                key="length",
                kind=MarkKind.SEGMENT,
                points=(known.start, known.end),
                label=f"{plain_words(known.length_mm) if known.length_mm else '?'} mm",
                movable=step == "scale",
            )
        )
    for number, patch in enumerate(settings.neutrals):
        if step in ("colour", None):
            r = patch.rect
            marks.append(
                Mark(
                    key=f"patch {number}",
                    kind=MarkKind.BOX,
                    points=((r.x, r.y), (r.x + r.w, r.y + r.h)),
                    movable=step == "colour",
                )
            )
    if settings.chart is not None and step == "colour":
        marks.append(
            Mark(key="chart", kind=MarkKind.OUTLINE, points=settings.chart.corners, movable=True)
        )
    if step == "reader" and reader is not None:
        marks.append(Mark(key="reader", kind=MarkKind.SPOT, points=(reader,), movable=True))
    return tuple(marks)


def _left_out(key: str, shape: Shape) -> Mark:
    if isinstance(shape, Stroke):
        return Mark(key=key, kind=MarkKind.STROKE, points=shape.points, radius_px=shape.radius_px)
    points = _ring(shape) if isinstance(shape, Rect) else shape.points
    return Mark(key=key, kind=MarkKind.LEFT_OUT, points=points)


def _ring(r: Rect) -> tuple[Point, ...]:
    return ((r.x, r.y), (r.x + r.w, r.y), (r.x + r.w, r.y + r.h), (r.x, r.y + r.h))


def _region(settings: PhotoSettings, movable: bool) -> Mark:
    region = settings.region
    if isinstance(region, Rect):
        points: tuple[Point, ...] = (
            (region.x, region.y),
            (region.x + region.w, region.y + region.h),
        )
        return Mark(key="region", kind=MarkKind.BOX, points=points, movable=movable)
    assert region is not None
    return Mark(key="region", kind=MarkKind.OUTLINE, points=region.points, movable=movable)


def _segments(settings: PhotoSettings, step: str | None) -> list[Mark]:
    """The lines that square a photo, and the edges of a column."""
    found: list[tuple[str, Segment, str]] = []
    if settings.lines is not None:
        names = ("level", "level", "upright", "upright")
        lines = (*settings.lines.level, *settings.lines.upright)
        found += [
            (f"line {n}", line, tr(f"mark.{name}"))
            for n, (line, name) in enumerate(zip(lines, names, strict=True))
        ]
    if settings.column is not None:
        found.append(("edge 0", settings.column.left, tr("mark.left")))
        found.append(("edge 1", settings.column.right, tr("mark.right")))
    return [
        Mark(
            key=key,
            kind=MarkKind.SEGMENT,
            points=segment,
            label=label if step == "shape" else "",
            movable=step == "shape",
        )
        for key, segment, label in found
    ]


def moved(settings: PhotoSettings, key: str, number: int, to: Point) -> PhotoSettings:
    """Return the settings with one point of a mark moved."""
    to = (round(to[0], 1), round(to[1], 1))
    name, _, place = key.partition(" ")
    if name == "corners" and settings.corners is not None:
        return replace(settings, corners=_put(settings.corners, number, to))
    if name == "chart" and settings.chart is not None:
        corners = _put(settings.chart.corners, number, to)
        return replace(settings, chart=replace(settings.chart, corners=corners))
    if name == "length" and settings.known_length is not None:
        known = settings.known_length
        known = replace(known, start=to) if number == 0 else replace(known, end=to)
        return replace(settings, known_length=known)
    if name == "patch":
        patches = list(settings.neutrals)
        patch = patches[int(place)]
        patches[int(place)] = replace(patch, rect=_stretched(patch.rect, number, to))
        return replace(settings, neutrals=tuple(patches))
    if name == "line" and settings.lines is not None:
        lines = [*settings.lines.level, *settings.lines.upright]
        lines[int(place)] = _put(lines[int(place)], number, to)
        new = replace(settings.lines, level=(lines[0], lines[1]), upright=(lines[2], lines[3]))
        return replace(settings, lines=new)
    if name == "edge" and settings.column is not None:
        side = "left" if place == "0" else "right"
        segment = _put(getattr(settings.column, side), number, to)
        return replace(settings, column=replace(settings.column, **{side: segment}))
    if name == "region" and settings.region is not None:
        return replace(settings, region=_region_moved(settings.region, number, to))
    return settings


def _region_moved(region, number: int, to: Point):
    if isinstance(region, Rect):
        return _stretched(region, number, to)
    return replace(region, points=_put(region.points, number, to))


def _put(points, number: int, to: Point):
    """The points with one of them replaced."""
    return tuple(to if n == number else point for n, point in enumerate(points))


def _stretched(rect: Rect, number: int, to: Point) -> Rect:
    """The rectangle with one of its corners moved, or all of it."""
    box = ((rect.x, rect.y), (rect.x + rect.w, rect.y + rect.h))
    (x0, y0), (x1, y1) = box_moved(box, number, to)
    return Rect(x=round(x0, 1), y=round(y0, 1), w=round(x1 - x0, 1), h=round(y1 - y0, 1))


def shape_of(mark: Mark) -> Shape:
    """Return what the pen drew as a shape to leave out or to read."""
    points = tuple((round(x, 1), round(y, 1)) for x, y in mark.points)
    if mark.kind is MarkKind.BOX:
        (x0, y0), (x1, y1) = points
        return Rect(x=x0, y=y0, w=x1 - x0, h=y1 - y0)
    if mark.kind is MarkKind.STROKE:
        return Stroke(points=_thinned(points, mark.radius_px / 2), radius_px=mark.radius_px)
    return Polygon(points=points)


def _thinned(points: tuple[Point, ...], least: float) -> tuple[Point, ...]:
    """The points of a stroke no closer than `least`: a hand reports hundreds."""
    kept = [points[0]]
    for x, y in points[1:]:
        if abs(x - kept[-1][0]) + abs(y - kept[-1][1]) >= least:
            kept.append((x, y))
    return tuple(kept)

"""Readings in painters' words and units, for the screens."""

from __future__ import annotations

from collections.abc import Sequence

from jartide.figures import figure, in_figures, plain_figure
from jartide.measures.key import Key
from jartide.measures.shown import mm_shown, share_shown, words
from jartide.reading.pattern.records import SIZES_MM, Pattern
from jartide.reading.result import Layer, Reading
from jartide.wording import chosen_language, say, tr


def mm_words(value: float) -> str:
    """Return millimetres: to 0.1 below 10, whole above."""
    return say(mm_shown(value))


def percent_words(share: float) -> str:
    """Return a share in percent; under half a percent it is still something."""
    return say(share_shown(share))


def figure_words(value: float, digits: int = 0) -> str:
    """Return a number with so many digits, as the language writes it."""
    return in_figures(figure(value, digits), chosen_language())


def layer_words(layer: Layer, reading: Reading) -> tuple[str, ...]:
    """Return how much of a layer is seen and, where it is lines, how wide they are."""
    words = [tr("reading.covers", share=percent_words(layer.coverage.value or 0.0))]
    lines = dict(reading.pattern.lines_by_layer).get(layer.id)
    if lines is not None and lines.width_mm.median.value is not None:
        words.append(tr("reading.wide", width=mm_words(lines.width_mm.median.value)))
    return tuple(words)


def lay_words(pattern: Pattern) -> str:
    """Return the direction in words: degrees from level and which way it leans."""
    degrees = pattern.direction_deg.value
    if degrees is None:
        return tr("lay.none")
    rounded = round(degrees) % 180
    if rounded <= 6 or rounded >= 174:
        return tr("lay.level", degrees=rounded)
    if 84 <= rounded <= 96:
        return tr("lay.upright", degrees=rounded)
    return tr("lay.right" if rounded < 90 else "lay.left", degrees=rounded)


def size_words(pattern: Pattern) -> str:
    """Return which neighbouring sizes hold most of the pattern."""
    shares = [m.value or 0.0 for m in pattern.spectrum]
    if max(shares) <= 0:
        return tr("size.none")
    best = max(range(len(shares) - 1), key=lambda i: shares[i] + shares[i + 1])
    return tr("size.most", low=SIZES_MM[best], high=SIZES_MM[best + 1])


def quantity_words(quantity: Key, value: object) -> str:
    """Return a compared value with its unit."""
    if isinstance(value, str):
        return value
    if not isinstance(value, int | float):
        return ""
    return words(quantity.measure, float(value))


def plain_words(value: float) -> str:
    """Return a number that was typed, as the language writes it."""
    return in_figures(plain_figure(value), chosen_language())


def lab_text(lab: Sequence[float]) -> str:
    """Return L, a and b of a colour, to 0.1."""
    L, a, b = (figure_words(value, 1) for value in lab)
    return f"L {L}   a {a}   b {b}"


def degrees_words(value: float) -> str:
    """Return whole degrees."""
    return tr("unit.degrees", value=figure(value))

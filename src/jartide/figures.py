"""Numbers as people read them: rounded once, with the decimal mark of the language."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from functools import lru_cache

_FIGURE = re.compile(r"^-?\d+(\.\d+)?$")


class Figure(str):
    """A rounded number as text, with a point; `in_figures` and messages give it its own marks."""

    __slots__ = ()


def figure(value: float, digits: int = 0) -> Figure:
    """Return a number rounded to so many digits after the mark; never a negative nought."""
    return Figure(f"{round(value, digits) + 0.0:.{digits}f}")


def short_figure(value: float) -> Figure:
    """Return a number as painters read sizes: to 0.1 below 10, whole above."""
    return figure(value, 1 if abs(value) < 9.95 else 0)


def plain_figure(value: float, digits: int = 6) -> Figure:
    """Return a number that was typed, with no more digits than it has, nor than `digits`."""
    return Figure(f"{value:.{digits}g}")


def as_figure(text: str) -> str:
    """Return a kept text as a figure where it is a number, else as it is."""
    return Figure(text) if _FIGURE.match(text) else text


def largest_remainder(shares: Sequence[float], total: int) -> tuple[int, ...]:
    """Return whole numbers that add up to a total, each within one of its share (Hamilton 1792).

    `shares` add up to the total themselves; what is left goes where the largest rests are.
    """
    found = [math.floor(share + 1e-9) for share in shares]
    by_rest = sorted(range(len(found)), key=lambda n: found[n] - shares[n])
    for number in by_rest[: max(total - sum(found), 0)]:
        found[number] += 1
    return tuple(found)


@lru_cache(maxsize=8)
def _marks(language: str) -> str:
    """The decimal mark of a language."""
    if language == "en":
        return "."
    # Only other languages need its tables, and the window stands before they are read.
    from babel.numbers import get_decimal_symbol

    return get_decimal_symbol(language)


def in_figures(number: Figure, language: str) -> str:
    """Return a figure as the language writes it."""
    return str(number).replace("-", "−").replace(".", _marks(language))

"""Differences in painters' words."""

from __future__ import annotations

from typing import Protocol

from jartide.boards.other_measures import BY_PATH
from jartide.boards.result import Amount, Value
from jartide.colour.words import shift
from jartide.figures import figure
from jartide.reading.result import Reading
from jartide.wording import Message


class _Raw(Protocol):
    @property
    def target(self) -> Value: ...
    @property
    def board(self) -> Value: ...
    @property
    def ratio(self) -> float | None: ...
    @property
    def delta(self) -> float | None: ...
    @property
    def name(self) -> Message: ...


# What a quantity is when there is more of it, and when there is less.
_ADJECTIVES = {
    "lines.width_mm": ("wide", "narrow"),
    "lines.length_mm_per_cm2": ("crowded", "sparse"),
    "lines.softness_mm": ("soft", "hard"),
    "lines.contrast_L": ("strong", "weak"),
    "lines.direction_spread_deg": ("wild", "straight"),
    "direction_spread_deg": ("wild", "straight"),
    "correlation_mm": ("big", "small"),
    "directionality": ("streaky", "even"),
    "coverage": ("much", "little"),
}
# Only these grow by a factor a painter would say: "1.6 times too wide".
_SAID_AS_RATIO = {
    "lines.width_mm",
    "lines.length_mm_per_cm2",
    "correlation_mm",
    "cells.size_mm",
    "cells.groove_width_mm",
    "grain.spacing_mm",
    "specks.diameter_mm",
}


def difference_words(
    quantity: str, raw: _Raw, amount: Amount, target: Reading, board: Reading
) -> tuple[Message, Message]:
    """Return the short word for a row ("too wide") and the whole ("Vein width: 1.6 times ...")."""
    if amount is Amount.SAME:
        same = Message("amount.same")
        return same, Message("difference.same", name=raw.name)
    if quantity.endswith(".lab"):
        assert isinstance(raw.target, tuple) and isinstance(raw.board, tuple)
        how = Message(f"shift.{shift(raw.target, raw.board)}")
        short = Message(f"amount.{amount}", how=how)
        return short, Message("difference.colour", name=raw.name, how=short)
    if quantity.endswith(".direction_deg") or quantity == "direction_deg":
        assert raw.delta is not None
        assert isinstance(raw.target, float) and isinstance(raw.board, float)
        way = _turn(raw.target, raw.board)
        short = Message(f"amount.{amount}", how=Message(f"adjective.{way}"))
        side = "left" if raw.delta > 0 else "right"
        return short, Message(
            "difference.turned",
            name=raw.name,
            degrees=round(abs(raw.delta)),
            side=Message(f"word.{side}"),
        )
    if quantity == "sheen":
        assert raw.delta is not None
        how = Message(f"adjective.{'shiny' if raw.delta > 0 else 'dull'}")
        short = Message(f"amount.{amount}", how=how)
        return short, Message("difference.plain", name=raw.name, how=short)
    if quantity.endswith(".coverage"):
        return _coverage_words(quantity, raw, amount)
    more, less = _ADJECTIVES.get(quantity) or (BY_PATH[quantity].more, BY_PATH[quantity].less)
    grows = (raw.delta or 0) > 0
    how = Message(f"adjective.{more if grows else less}")
    short = Message(f"amount.{amount}", how=how)
    if quantity == "lines.length_mm_per_cm2" and not raw.board:
        return Message("amount.missing"), Message("difference.missing", name=raw.name)
    if quantity in _SAID_AS_RATIO and raw.ratio:
        times = raw.ratio if grows else 1 / raw.ratio
        if times >= 1.05:
            return short, Message(
                "difference.times", name=raw.name, times=figure(times, 1), how=how
            )
    return short, Message("difference.plain", name=raw.name, how=short)


def _coverage_words(quantity: str, raw: _Raw, amount: Amount) -> tuple[Message, Message]:
    if quantity.startswith("extra_layers"):
        return Message("amount.extra"), Message("difference.extra", name=raw.name)
    if not raw.board:
        return Message("amount.missing"), Message("difference.missing", name=raw.name)
    assert isinstance(raw.delta, float)
    how = Message("adjective.much" if raw.delta > 0 else "adjective.little")
    short = Message(f"amount.{amount}", how=how)
    points = max(round(abs(raw.delta) * 100), 1)
    return short, Message(
        "difference.points" if raw.delta > 0 else "difference.points_less",
        name=raw.name,
        count=points,
    )


def _turn(target: float, board: float) -> str:
    """Whether the board's lay is steeper or flatter than the target's."""

    def steep(angle: float) -> float:
        return 90 - abs(angle - 90)

    return "upright" if steep(board) > steep(target) else "level"

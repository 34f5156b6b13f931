"""Differences in painters' words."""

from __future__ import annotations

from typing import Protocol

from jartide.boards.result import Amount, Difference, State, Value
from jartide.colour.words import shift
from jartide.figures import figure
from jartide.measures.key import Key
from jartide.measures.measure import Unit
from jartide.reading.result import Reading
from jartide.wording import Message

# So many times as much is a second photo of each; up to so many a larger one; more is no answer.
_SECOND_PHOTO, _LARGER_PHOTO = 2.2, 16.0


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


def difference_words(quantity: Key, raw: _Raw, amount: Amount) -> tuple[Message, Message]:
    """Return the short word for a row ("too wide") and the whole ("Vein width: 1.6 times ...")."""
    if amount is Amount.SAME:
        return Message("amount.same"), Message("difference.same", name=raw.name)
    measure = quantity.measure
    match measure.unit:
        case Unit.COLOUR:
            assert isinstance(raw.target, tuple) and isinstance(raw.board, tuple)
            how = Message(f"shift.{shift(raw.target, raw.board)}")
            short = Message(f"amount.{amount}", how=how)
            return short, Message("difference.colour", name=raw.name, how=short)
        case Unit.DEGREES if measure.axial:
            return _turned_words(raw, amount)
    if measure.path == "coverage":
        return _coverage_words(quantity, raw, amount)
    judged = measure.judged
    assert judged is not None
    grows = (raw.delta or 0) > 0
    how = Message(f"adjective.{judged.more if grows else judged.less}")
    short = Message(f"amount.{amount}", how=how)
    if measure.path == "lines.length_mm_per_cm2" and not raw.board:
        return Message("amount.missing"), Message("difference.missing", name=raw.name)
    if judged.as_ratio and raw.ratio:
        times = raw.ratio if grows else 1 / raw.ratio
        if times >= 1.05:
            return short, Message(
                "difference.times", name=raw.name, times=figure(times, 1), how=how
            )
    return short, Message("difference.plain", name=raw.name, how=short)


def unsure_words(
    difference: Difference, target: Reading, board: Reading
) -> tuple[Message, Message]:
    """Return the short word and the sentence of a row that these photos don't settle.

    What is seen is said with its number, and both with what would settle it.
    """
    settle = _settled_words(difference, target, board)
    if difference.state is State.UNTOLD:
        return Message("untold.short"), Message("untold.words", name=difference.name, settle=settle)
    short = Message("looks.short", how=difference.short)
    return short, Message("looks.words", words=difference.words, settle=settle)


def _settled_words(difference: Difference, target: Reading, board: Reading) -> Message:
    is_colour = difference.quantity.measure.unit is Unit.COLOUR
    if is_colour and not (target.exposure_known and board.exposure_known):
        return Message("settle.grey")
    if is_colour and max(target.foretold_de00, board.foretold_de00) > 0:
        return Message("settle.sealed")
    times = difference.settled_by
    if times is None or times > _LARGER_PHOTO:
        return Message("settle.not")
    if times <= _SECOND_PHOTO:
        return Message("settle.second_photo")
    sides = [min(r.size_mm) for r in (target, board) if r.size_mm is not None]
    if not sides:
        return Message("settle.second_photo")
    wanted = times**0.5 * min(sides) / 10
    return Message("settle.larger", cm=str(int(-(-wanted // 5) * 5)))


def _turned_words(raw: _Raw, amount: Amount) -> tuple[Message, Message]:
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


def _coverage_words(quantity: Key, raw: _Raw, amount: Amount) -> tuple[Message, Message]:
    if quantity.is_extra:
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

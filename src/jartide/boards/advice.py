"""What mends a difference: the craft's own answers, with the amounts the reading gives."""

from __future__ import annotations

from typing import Any

from jartide.boards.result import Difference
from jartide.colour.words import Shift, shift
from jartide.figures import short_figure
from jartide.measures.measure import Way
from jartide.measures.shown import rounded
from jartide.reading.result import LINE_ROLES, Reading
from jartide.wording import Message

_OPPOSITE = {
    Shift.LIGHTER: "darker",
    Shift.DARKER: "lighter",
    Shift.WARMER: "cooler",
    Shift.COOLER: "warmer",
    Shift.GREENER: "pinker",
    Shift.PINKER: "greener",
    Shift.STRONGER: "greyer",
    Shift.GREYER: "stronger",
}


def advice_for(difference: Difference, target: Reading) -> Message | None:
    """Return the mend for one significant difference, or None where none is known."""
    measure = difference.quantity.measure
    if measure.mended is None:
        return None
    match measure.mended.way:
        case Way.TONE:
            return _colour_advice(difference, target)
        case Way.COVER:
            return _coverage_advice(difference, target)
        case Way.TURN:
            assert isinstance(difference.target, float)
            return Message("advice.direction", degrees=round(difference.target) % 180)
        case Way.SHEEN:
            assert isinstance(difference.target, str)
            return Message("advice.sheen", sheen=difference.target)
    wants_less = (difference.delta or 0) > 0
    ending = "less" if wants_less else "more"
    said: dict[str, Any] = dict(_amounts(difference))
    if difference.quantity.layer is not None:
        said["layer"] = target.layers[difference.quantity.layer].name
    return Message(f"advice.{measure.path}.{ending}", count=None, **said)


def _amounts(difference: Difference) -> dict[str, str]:
    """The numbers an advice may name: now, wanted, and how many times."""
    target, board = difference.target, difference.board
    if not isinstance(target, float) or not isinstance(board, float):
        return {}
    low, high = sorted((max(target, 1e-6), max(board, 1e-6)))
    return {
        # Millimetres in a square centimetre are tens of metres in a square metre.
        "metres": short_figure(10 * abs(target - board)),
        "now": rounded(difference.quantity.measure, board),
        "wanted": rounded(difference.quantity.measure, target),
        "percent": str(round(100 * (1 - low / high))),
        "more_percent": str(round(100 * (high / low - 1))),
    }


def _colour_advice(difference: Difference, target: Reading) -> Message:
    assert isinstance(difference.target, tuple) and isinstance(difference.board, tuple)
    layer = target.layers[difference.quantity.layer or 0]
    wanted = _OPPOSITE[shift(difference.target, difference.board)]
    place = "lines" if layer.role in LINE_ROLES else "area"
    return Message(f"advice.colour.{place}.{wanted}", layer=layer.name)


def _coverage_advice(difference: Difference, target: Reading) -> Message:
    if difference.quantity.is_extra:
        return Message("advice.extra", name=difference.name)
    layer = target.layers[difference.quantity.layer or 0]
    if not difference.board:
        return Message("advice.missing", layer=layer.name)
    assert difference.delta is not None
    points = max(round(abs(difference.delta) * 100), 1)
    ending = "less" if difference.delta > 0 else "more"
    kind = "ground" if layer.id == "L1" else "lines" if layer.role in LINE_ROLES else "area"
    return Message(f"advice.coverage.{kind}.{ending}", layer=layer.name, count=points)

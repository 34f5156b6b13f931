"""The one way in which values of measures are shown: number, rounding, unit."""

from __future__ import annotations

from jartide.figures import Figure, figure, short_figure
from jartide.measures.measure import Measure, Unit
from jartide.wording import Message, say


def rounded(measure: Measure, value: float) -> Figure:
    """Return a value rounded as its measure is; shares in percent."""
    if measure.unit is Unit.SHARE:
        return figure(100 * value)
    return short_figure(value) if measure.digits is None else figure(value, measure.digits)


def shown(measure: Measure, value: float) -> Message:
    """Return a value with its unit, for a screen, a sheet or a sentence."""
    if measure.unit is Unit.SHARE:
        return share_shown(value)
    return Message(f"unit.{measure.unit.value}", value=rounded(measure, value))


def share_shown(share: float) -> Message:
    """Return a share in percent; under half a percent it is still something."""
    percent = figure(100 * share)
    if share > 0 and percent == "0":
        return Message("unit.percent_under")
    return Message("unit.percent", value=percent)


def mm_shown(value: float) -> Message:
    """Return millimetres: to 0.1 below 10, whole above."""
    return Message("unit.mm", value=short_figure(value))


def words(measure: Measure, value: float) -> str:
    """Return `shown` in the language chosen."""
    return say(shown(measure, value))

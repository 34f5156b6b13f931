"""What the painter says of the work itself: who, when, in what air, with what weather."""

from __future__ import annotations

from dataclasses import dataclass, field

from jartide.paint.batch import TOUCH_UP_ML, TOUCH_UP_SHARE, WASTE
from jartide.plan.drying import Air
from jartide.plan.sun import USUAL_LATITUDE_DEG
from jartide.plan.timeline import Hours
from jartide.plan.units import Units
from jartide.plan.weather import Daylight, WeatherHour


@dataclass(frozen=True, slots=True, kw_only=True)
class Work:
    """The frame of a plan.

    Attributes
    ----------
    begins : first day, ISO date; "" for today
    workers : names, in the order in which lanes are handed out
    air_source : the device's name, or "" for values typed in
    weather : for what is outside, hour by hour
    use_in_days : the client uses it so long after the last coat; None if nobody said
    panels_a_lane : how many panels of a surface are worked together
    joint_mm : between panels; axis how it goes from panel to panel: "same" or "mirrored"
    currency : as the painter writes it
    touch_up_share, touch_up_ml : of every mix put by for touch-ups, and no less than so much
    latitude_deg : north positive: with the season it says when the sun stands on a face
    """

    begins: str = ""
    hours: Hours = field(default_factory=Hours)
    workers: tuple[str, ...] = ("",)
    air: Air = field(default_factory=Air)
    air_source: str = ""
    weather: tuple[WeatherHour, ...] = ()
    daylight: Daylight = field(default_factory=Daylight)
    use_in_days: float | None = None
    panels_a_lane: int = 3
    joint_mm: float = 0.0
    axis: str = "same"
    units: Units = Units.METRIC
    currency: str = "€"
    latitude_deg: float = USUAL_LATITUDE_DEG
    waste: float = WASTE
    touch_up_share: float = TOUCH_UP_SHARE
    touch_up_ml: float = TOUCH_UP_ML


@dataclass(frozen=True, slots=True, kw_only=True)
class Moved:
    """A block the painter wants no sooner than a time, local wall time, ISO 8601."""

    task_id: str
    at: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Answer:
    """What was answered to a question of the cautions: "yes" or "no"."""

    question: str
    answer: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PlannedBoard:
    """A test board that is painted by the plan, with its size."""

    board_id: str
    width_mm: float = 600.0
    height_mm: float = 400.0

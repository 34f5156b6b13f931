"""Working time on a line of slots from a midnight on: hours, breaks, free days."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, timedelta

import numpy as np

from jartide.errors import PlanError

SLOT_MIN = 5
DAY_SLOTS = 24 * 60 // SLOT_MIN


_YEARS = (2000, 2199)


@dataclass(frozen=True, slots=True, kw_only=True)
class Hours:
    """When is worked, local time.

    Attributes
    ----------
    from_min, to_min : of a working day, minutes after midnight
    pause_from_min, pause_to_min : the midday break; equal for none
    weekdays : 0 Monday to 6 Sunday
    free : days off, ISO dates
    """

    from_min: int = 8 * 60
    to_min: int = 17 * 60
    pause_from_min: int = 12 * 60
    pause_to_min: int = 12 * 60 + 30
    weekdays: tuple[int, ...] = (0, 1, 2, 3, 4)
    free: tuple[str, ...] = ()


class Timeline:
    """Slots of five minutes over some days, and which of them are worked.

    Attributes
    ----------
    midnight : where slot 0 lies, local time
    works : (S,) bool
    window_end : (S,) end of the working window a slot lies in; the slot itself outside of one
    """

    def __init__(self, hours: Hours, midnight: datetime, days: int) -> None:
        """Lay out the days.

        Raises
        ------
        PlanError : when no hour is worked at all, or in a year that nobody plans for.
        """
        if not _YEARS[0] <= midnight.year <= _YEARS[1]:
            raise PlanError("error.plan.year", year=midnight.year)
        self.midnight, self.days = midnight, days
        size = days * DAY_SLOTS
        day = np.zeros(DAY_SLOTS, bool)
        day[_slot(hours.from_min) : _slot(hours.to_min)] = True
        day[_slot(hours.pause_from_min) : _slot(hours.pause_to_min)] = False
        if hours.to_min <= hours.from_min or not day.any() or not hours.weekdays:
            raise PlanError("error.plan.no_hours")
        free = {_date(text) for text in hours.free}
        self.works = np.zeros(size, bool)
        for number in range(days):
            today = (midnight + timedelta(days=number)).date()
            if today.weekday() in hours.weekdays and today not in free:
                self.works[number * DAY_SLOTS : (number + 1) * DAY_SLOTS] = day
        if not self.works.any():
            raise PlanError("error.plan.no_hours")
        index = np.arange(size)
        ends = np.where(self.works, size, index)
        # The first slot after each that is not worked.
        self.window_end = np.minimum.accumulate(ends[::-1])[::-1]
        self.before = np.concatenate([[0], np.cumsum(self.works)])
        self.longest = int((self.window_end - index).max())

    @property
    def size(self) -> int:
        """How many slots there are."""
        return len(self.works)

    def at(self, slot: int) -> datetime:
        """Return the time a slot begins."""
        return self.midnight + timedelta(minutes=int(slot) * SLOT_MIN)

    def slot(self, at: datetime) -> int:
        """Return the slot a time lies in; outside the days it is below 0 or beyond the size."""
        return int((at - self.midnight) // timedelta(minutes=SLOT_MIN))

    def slot_after(self, at: datetime) -> int:
        """Return the first slot that begins no sooner than a time."""
        return -int((self.midnight - at) // timedelta(minutes=SLOT_MIN))


def slots_of(minutes: float) -> int:
    """Return how many slots hold so many minutes; at least one."""
    return max(-int(-minutes // SLOT_MIN), 1)


def _slot(minutes: int) -> int:
    return min(max(int(minutes), 0), 24 * 60) // SLOT_MIN


def _date(text: str) -> date:
    try:
        return date.fromisoformat(text)
    except ValueError as error:
        raise PlanError("error.plan.free_day", name=text) from error

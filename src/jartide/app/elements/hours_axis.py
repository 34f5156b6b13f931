"""Hours laid out on a line: worked hours at full width, nights and free days folded together."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

HOUR_PX = 64.0
_FOLD_PX, _NARROW_FOLD_PX = 56.0, 8.0
# Narrower than this an hour would not be seen.
_LEAST_HOUR_PX = 3.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Stretch:
    """A stretch of time at one scale; `folded` holds a night or free days."""

    begins: datetime
    ends: datetime
    left: float
    right: float
    folded: bool


class HoursAxis:
    """Turns wall times into places on the line and back.

    Every day shows from half an hour before work to two hours after it, so that the tails of
    the last coats are seen; the rest is folded to a narrow band.
    """

    def __init__(
        self,
        first: datetime,
        last: datetime,
        from_min: int,
        to_min: int,
        free: frozenset[datetime] = frozenset(),
        room: float | None = None,
    ) -> None:
        """Lay out the days from the first time to the last; `free` holds midnights of days off.

        All of them share `room` where one is given, units; else hours are as wide as they need be.
        """
        self.hour_px, self._fold_px = HOUR_PX, _FOLD_PX
        if room is not None:
            self._fold_px = _NARROW_FOLD_PX
            self._lay_out(first, last, from_min, to_min, free)
            folds = sum(one.right - one.left for one in self.stretches if one.folded)
            hours = (self.width - folds) / HOUR_PX
            self.hour_px = max((room - folds) / hours, _LEAST_HOUR_PX)
        self._lay_out(first, last, from_min, to_min, free)

    def _lay_out(
        self,
        first: datetime,
        last: datetime,
        from_min: int,
        to_min: int,
        free: frozenset[datetime],
    ) -> None:
        opens = max((from_min // 60) * 60, 0)
        closes = min(-(-to_min // 60) * 60 + 60, 24 * 60)
        midnight = datetime.combine(first.date(), datetime.min.time())
        final = datetime.combine(last.date(), datetime.min.time())
        self.stretches: list[Stretch] = []
        left = 0.0
        at = midnight + timedelta(minutes=opens)
        day = midnight
        while day <= final or not self.stretches:
            if day not in free:
                begins = day + timedelta(minutes=opens)
                ends = day + timedelta(minutes=closes)
                if self.stretches:
                    left = self._add(at, begins, left, self._fold_px, True)
                width = (ends - begins) / timedelta(hours=1) * self.hour_px
                left = self._add(begins, ends, left, width, False)
                at = ends
            day += timedelta(days=1)
        self._add(at, at + timedelta(hours=12), left, self._fold_px, True)

    def _add(
        self, begins: datetime, ends: datetime, left: float, width: float, folded: bool
    ) -> float:
        self.stretches.append(
            Stretch(begins=begins, ends=ends, left=left, right=left + width, folded=folded)
        )
        return left + width

    @property
    def width(self) -> float:
        """How long the whole line is, pixels."""
        return self.stretches[-1].right

    def x(self, at: datetime) -> float:
        """Return where a time lies; what is beyond either end lies at that end."""
        for one in self.stretches:
            if at < one.ends:
                share = max((at - one.begins) / (one.ends - one.begins), 0.0)
                return one.left + share * (one.right - one.left)
        return self.width

    def at(self, x: float) -> datetime:
        """Return the time at a place, to five minutes; in a fold the end of it."""
        for one in self.stretches:
            if x < one.right:
                if one.folded:
                    return one.ends
                share = max((x - one.left) / (one.right - one.left), 0.0)
                at = one.begins + share * (one.ends - one.begins)
                minutes = 5 * round((at - one.begins) / timedelta(minutes=5))
                return one.begins + timedelta(minutes=minutes)
        return self.stretches[-1].ends

    def hours(self) -> list[tuple[datetime, float]]:
        """Return every whole hour that is shown, with its place."""
        found = []
        for one in self.stretches:
            if one.folded:
                continue
            at = one.begins
            while at <= one.ends:
                found.append((at, self.x(at) if at < one.ends else one.right))
                at += timedelta(hours=1)
        return found

"""The schedule as an iCalendar file (RFC 5545), and moved events read back from one."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, date, datetime

from icalendar import Calendar, Event

from jartide.errors import PlanError

_DOMAIN = "jar-tide"
_MOST_BYTES = 4_000_000


@dataclass(frozen=True, slots=True, kw_only=True)
class PlannedEvent:
    """One block of work: local wall times; `task_id` says which when it comes back."""

    task_id: str
    title: str
    note: str
    place: str
    begins: datetime
    ends: datetime


def write_calendar(events: list[PlannedEvent], name: str) -> bytes:
    """Return an .ics file; times are floating, as the plan's own are."""
    calendar = Calendar()
    calendar.add("prodid", "-//Jar Tide//Steps//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    for one in events:
        event = Event()
        event.add("uid", f"{one.task_id}@{_DOMAIN}")
        event.add("dtstamp", datetime.now(UTC))
        event.add("dtstart", one.begins)
        event.add("dtend", one.ends)
        event.add("summary", one.title)
        if one.note:
            event.add("description", one.note)
        if one.place:
            event.add("location", one.place)
        calendar.add_component(event)
    return calendar.to_ical()


def read_calendar(data: bytes, name: str) -> dict[str, datetime]:
    """Return when each of our blocks begins, by task id, local wall time.

    Events of other programs are passed over; of one block the last event counts.

    Raises
    ------
    PlanError : when it is no calendar, or none of its events is ours.
    """
    if len(data) > _MOST_BYTES:
        raise PlanError("error.calendar.file", name=name)
    try:
        calendar = Calendar.from_ical(data)
        found = {}
        for event in calendar.walk("VEVENT"):
            uid, start = str(event.get("uid", "")), event.get("dtstart")
            if uid.endswith(f"@{_DOMAIN}") and start is not None:
                found[uid.removesuffix(f"@{_DOMAIN}")] = _local(start.dt)
    except (ValueError, KeyError, IndexError, TypeError, AttributeError) as error:
        raise PlanError("error.calendar.file", name=name) from error
    if not found:
        raise PlanError("error.calendar.none", name=name)
    return found


def _local(at: datetime | date) -> datetime:
    if not isinstance(at, datetime):
        return datetime(at.year, at.month, at.day)
    return at if at.tzinfo is None else at.astimezone().replace(tzinfo=None)

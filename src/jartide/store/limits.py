"""How much of anything a job holds: what comes from elsewhere is looked at before any work is done.

No painter's job comes near these; beyond them a file is damaged, or is meant to make somebody wait.
"""

from __future__ import annotations

from collections.abc import Sized
from datetime import date
from typing import Any

from jartide.plan.areas import MOST_PANELS
from jartide.plan.schedule import MOST_WORKERS
from jartide.store.jar_records import Mix, Tin
from jartide.store.records import Board, Entry, Finish, Photo, Plan, Surface

# By kind of record: a field's path, and its least and most; of a list its length.
_LIMITS: dict[type, tuple[tuple[str, float, float], ...]] = {
    Finish: (("viewing_m", 0.1, 100), ("tolerance", 0.01, 100), ("room", 0, 200)),
    Surface: (
        ("count", 1, MOST_PANELS),
        ("width_mm", 0, 1e6),
        ("height_mm", 0, 1e6),
        ("site.conditions", 0, 100),
    ),
    Board: (("number", 0, 100_000), ("checks", 0, 100)),
    Photo: (
        ("zones", 0, 200),
        ("faults", 0, 1000),
        ("settings.leave_out", 0, 1000),
        ("settings.neutrals", 0, 200),
    ),
    Tin: (("swatches", 0, 1000),),
    Mix: (
        ("parts", 0, 100),
        ("uses", 0, 200),
        ("coats", 0, 100),
        ("readings", 0, 2000),
        ("dried", 0, 2000),
        ("spreads", 0, 2000),
    ),
    Plan: (
        ("steps", 0, 300),
        ("schools", 0, 100),
        ("boards", 0, 60),
        ("done", 0, 20_000),
        ("moved", 0, 5000),
        ("answers", 0, 2000),
        ("acknowledged", 0, 2000),
        ("work.workers", 0, MOST_WORKERS),
        ("work.weather", 0, 20_000),
        ("work.hours.free", 0, 5000),
        ("work.hours.weekdays", 0, 7),
        ("work.panels_a_lane", 1, MOST_PANELS),
    ),
    Entry: (),
}


def beyond(record: Any) -> str | None:
    """Return the path of the first field that holds what no job does; None of none."""
    for path, least, most in _LIMITS.get(type(record), ()):
        value = record
        for name in path.split("."):
            value = getattr(value, name)
        size = len(value) if isinstance(value, Sized) else value
        if size is not None and not least <= size <= most:
            return path
    if isinstance(record, Plan) and record.work.begins:
        try:
            date.fromisoformat(record.work.begins)
        except ValueError:
            return "work.begins"
    return None

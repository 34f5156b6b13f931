"""One line of the table."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    """An error and the goal it must not exceed, in the unit its name says."""

    name: str
    error: float
    goal: float

    @staticmethod
    def summary(rows: list[Row]) -> str:
        """Return how many goals are met."""
        met = sum(row.error <= row.goal for row in rows)
        return f"{met} of {len(rows)} goals met"

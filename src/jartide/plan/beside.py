"""What stays beside the finish as it is (floor, shutters, stone), and how the colours get on."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

# The gravest first; what stands off or sits well asks for nothing.
GRAVE = ("clashes", "melts")
UNREAD, FITS = "unread", "fits"


@dataclass(frozen=True, slots=True, kw_only=True)
class Beside:
    """One thing that stays, and how it stands to the finish: "clashes", "melts" or else."""

    name: str
    relation: str


def worst(beside: Sequence[Beside], *, expected: bool) -> str:
    """Return the gravest relation: "clashes", "melts", "fits", "unread", or "" for none there.

    `expected` is whether something stays beside the piece, read or not.
    """
    if not beside:
        return UNREAD if expected else ""
    known = {one.relation for one in beside}
    return next((one for one in GRAVE if one in known), FITS)


def named(beside: Sequence[Beside], relation: str) -> str:
    """Return the names of what stands so to the finish, as one list."""
    return ", ".join(one.name for one in beside if one.relation == relation)

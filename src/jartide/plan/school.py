"""What painters disagree on: the choices a lay-up offers, with one line on when each serves."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from jartide.errors import PlanError
from jartide.plan.tables import keys_known, parsed, rows, shipped


@dataclass(frozen=True, slots=True, kw_only=True)
class Choice:
    """One school's way, and when it serves; `families` it is for, all where none is named."""

    id: str
    name: str
    serves: str
    families: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class School:
    """One thing painters disagree on; its first choice is the usual one."""

    group: str
    name: str
    choices: tuple[Choice, ...]


# The group whose choices are lay-ups of their own.
WAY, USUAL = "way", "usual"


def ways_of(family: str) -> tuple[Choice, ...]:
    """Return the lay-ups a family can be laid by, the usual one first."""
    choices = schools()[WAY].choices
    return tuple(one for one in choices if not one.families or family in one.families)


@lru_cache(maxsize=1)
def schools() -> dict[str, School]:
    """Return all of them by group."""
    data = parsed(shipped("schools.toml"), "schools.toml")
    keys_known(data, {"school"}, "schools.toml")
    return {one.group: one for one in rows(data, "school", School, "schools.toml")}


def chosen(wanted: dict[str, str]) -> dict[str, str]:
    """Return a choice for every group: the wanted one, or the usual one.

    Raises
    ------
    PlanError : when a group or choice is not known; the known ones are named.
    """
    known = schools()
    for group, choice in wanted.items():
        if group not in known:
            raise PlanError("error.plan.school", name=group, known=", ".join(known))
        names = [c.id for c in known[group].choices]
        if choice not in names:
            raise PlanError("error.plan.school", name=f"{group}={choice}", known=", ".join(names))
    return {group: wanted.get(group, one.choices[0].id) for group, one in known.items()}

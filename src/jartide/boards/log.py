"""The log of a board: what was done to it, in what weather, and how two boards differ.

Entries are only ever added. Correcting one adds another that names it, so that what was
first written can still be read.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from jartide.figures import plain_figure
from jartide.wording import Message


class EntryKind(StrEnum):
    """What an entry of the log tells."""

    PASS = "pass"
    CLIMATE = "climate"
    REMARK = "remark"


class State(StrEnum):
    """How a surface was when it was photographed."""

    WET = "wet"
    DRY = "dry"
    SEALED = "sealed"


@dataclass(frozen=True, slots=True, kw_only=True)
class PassDone:
    """One pass as it was really done.

    Attributes
    ----------
    name : what it is called: "Veins", "Second veil"
    layer : id of the target's layer it was for; "" for a pass that makes none of its own
    mix : id of the jar, "" where none was used
    tool : as the painter calls it
    carrier_parts, water_parts : to one part of the mix
    laid_share : how much of the board it went onto, 0..1
    minutes : of work, without the drying
    used_ml : of everything laid on, as it was measured; 0 where nobody measured
    """

    name: str
    layer: str = ""
    mix: str = ""
    tool: str = ""
    carrier_parts: float = 0.0
    water_parts: float = 0.0
    coats: int = 1
    laid_share: float = 1.0
    minutes: float = 0.0
    used_ml: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Climate:
    """The air where the work is done.

    `source` is the device's name, or "" for values typed in.
    """

    temperature_c: float
    humidity_percent: float
    source: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Logged:
    """What one entry tells; `who` and `where` as they were said last."""

    kind: EntryKind
    who: str = ""
    where: str = ""
    done: PassDone | None = None
    climate: Climate | None = None
    text: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class RecipeChange:
    """One way in which a board's recipe differs from another's.

    `kind` is "added", "left_out", "changed" or "moved"; `field` what of the pass is changed.
    """

    kind: str
    name: str
    field: str = ""
    before: str = ""
    after: str = ""

    def words(self) -> Message:
        """Say it in one sentence."""
        if self.kind != "changed":
            return Message(f"recipe.{self.kind}", name=self.name)
        return Message(
            f"recipe.changed.{self.field}", name=self.name, before=self.before, after=self.after
        )


# In the order in which a painter would name them.
_FIELDS = (
    "mix",
    "tool",
    "carrier_parts",
    "water_parts",
    "coats",
    "laid_share",
    "minutes",
)
# Minutes are an account, not a way of working: only a pass half as long again is one.
_OTHER_MINUTES = 1.5


def recipe_changes(
    before: Sequence[PassDone], after: Sequence[PassDone], jars: Mapping[str, str]
) -> tuple[RecipeChange, ...]:
    """Return what was done otherwise on a board than on the one before.

    Passes are matched by their name and layer, the first with the first, in order; `jars` are
    the names of jars by their id.
    """
    left = list(enumerate(before))
    changes: list[RecipeChange] = []
    places: list[tuple[int, str]] = []
    for done in after:
        found = next(
            (pair for pair in left if (pair[1].name, pair[1].layer) == (done.name, done.layer)),
            None,
        ) or next((pair for pair in left if _alike(pair[1], done)), None)
        if found is None:
            changes.append(RecipeChange(kind="added", name=done.name))
            continue
        left.remove(found)
        places.append((found[0], done.name))
        changes += _field_changes(found[1], done, jars)
    changes += [RecipeChange(kind="left_out", name=gone.name) for _, gone in left]
    reached = -1
    for place, name in places:
        if place < reached:
            changes.append(RecipeChange(kind="moved", name=name))
        reached = max(reached, place)
    return tuple(changes)


def _alike(a: PassDone, b: PassDone) -> bool:
    """Renamed, but of the same layer out of the same jar."""
    return bool(a.layer) and a.layer == b.layer and a.mix == b.mix


def _field_changes(a: PassDone, b: PassDone, jars: Mapping[str, str]) -> Iterable[RecipeChange]:
    for field in _FIELDS:
        was, now = getattr(a, field), getattr(b, field)
        if was == now:
            continue
        if field == "minutes":
            low, high = sorted((was, now))
            if low <= 0 or high / low < _OTHER_MINUTES:
                continue
        yield RecipeChange(
            kind="changed",
            name=b.name,
            field=field,
            before=_said(field, was, jars),
            after=_said(field, now, jars),
        )


def _said(field: str, value: object, jars: Mapping[str, str]) -> str:
    if field == "mix":
        return jars.get(str(value), "") or "-"
    if field == "laid_share":
        assert isinstance(value, float | int)
        return f"{value:.0%}"
    if isinstance(value, float):
        return plain_figure(value)
    return str(value) or "-"

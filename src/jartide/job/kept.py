"""Values derived of a job: each keyed by what it is made from, and made once.

A value holds for the very objects it was made from (readings and pictures, too large to compare)
and for a key that is compared. When either changes it is stale and is made anew where it is next
asked for. All of it is a cache: what falls out is made again.
"""

from __future__ import annotations

from collections import Counter, OrderedDict
from collections.abc import Callable, Hashable
from enum import StrEnum
from typing import Any

from jartide.job.events import Events
from jartide.job.runner import Runner

# As many values of one kind are kept.
_KEPT = 60


class Freshness(StrEnum):
    """How a derived value stands: as it is now, of something earlier, being made, or not there."""

    FRESH = "fresh"
    STALE = "stale"
    WORKING = "working"
    MISSING = "missing"


class Table:
    """Values of one kind, the last few kept."""

    def __init__(self, name: str, size: int, computed: Counter[str]) -> None:
        self.name = name
        self._size, self._computed = size, computed
        self._values: OrderedDict[Hashable, tuple[tuple[Any, ...], Any]] = OrderedDict()
        self.asked: dict[Hashable, tuple[Any, ...]] = {}

    def __contains__(self, key: Hashable) -> bool:
        return key in self._values

    def get(self, key: Hashable, *inputs: Any) -> Any:
        """Return the value that was made of these inputs, or None."""
        found = self._values.get(key)
        if found is None or not _are_same(found[0], inputs):
            return None
        self._values.move_to_end(key)
        return found[1]

    def put(self, key: Hashable, value: Any, *inputs: Any) -> None:
        """Keep a value that was made of these inputs."""
        self._computed[self.name] += 1
        self._values[key] = (inputs, value)
        self._values.move_to_end(key)
        while len(self._values) > self._size:
            self._values.popitem(last=False)

    def made(self, key: Hashable, make: Callable[[], Any], *inputs: Any) -> Any:
        """Return the value of these inputs, made now if it is not there."""
        found = self._values.get(key)
        if found is None or not _are_same(found[0], inputs):
            self.put(key, make(), *inputs)
        return self._values[key][1]

    def freshness(self, key: Hashable, *inputs: Any) -> Freshness:
        """Return how the value of a key stands."""
        asked, found = self.asked.get(key), self._values.get(key)
        if found is not None and _are_same(found[0], inputs):
            return Freshness.FRESH
        if asked is not None and _are_same(asked, inputs):
            return Freshness.WORKING
        return Freshness.MISSING if found is None else Freshness.STALE

    def clear(self) -> None:
        """Let go of everything."""
        self._values.clear()
        self.asked.clear()


class Kept:
    """All tables of one job, and what is worked out for them in the background.

    Attributes
    ----------
    computed : how often a value of each table was made
    """

    def __init__(self, runner: Runner, events: Events, say: Callable[[Exception], None]) -> None:
        self._runner, self._events, self._say = runner, events, say
        self._tables: dict[str, Table] = {}
        self.computed: Counter[str] = Counter()

    def table(self, name: str, size: int = _KEPT) -> Table:
        """Return the table of a name; its size is told once."""
        if name not in self._tables:
            self._tables[name] = Table(name, size, self.computed)
        return self._tables[name]

    def worked_out(
        self,
        name: str,
        key: Hashable,
        work: Callable[[], Any],
        *inputs: Any,
        failed: Callable[[Exception], None] | None = None,
        otherwise: Any = None,
    ) -> Any:
        """Return what `work` makes, or None until `worked_out` tells that it is there.

        `failed` is told what went wrong; the value is `otherwise` then, until an input changes.
        """
        table = self.table(name)
        state = table.freshness(key, *inputs)
        if state not in (Freshness.FRESH, Freshness.WORKING):
            table.asked[key] = inputs

            def returned(value: Any) -> None:
                table.asked.pop(key, None)
                table.put(key, value, *inputs)
                self._events.worked_out.emit()

            def refused(error: Exception) -> None:
                returned(otherwise)
                (failed or self._say)(error)

            self._runner.start(
                f"{name} {key!r}", lambda _: work(), returned=returned, failed=refused, first=True
            )
        return table.get(key, *inputs)

    def clear(self) -> None:
        """Let go of everything: another workspace is open."""
        for table in self._tables.values():
            table.clear()


def _are_same(kept: tuple[Any, ...], given: tuple[Any, ...]) -> bool:
    return len(kept) == len(given) and all(a is b for a, b in zip(kept, given, strict=True))

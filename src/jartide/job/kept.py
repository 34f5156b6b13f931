"""Values derived of a job: each keyed by what it is made from, and made once.

A value holds for the very objects it was made from (readings and pictures, too large to compare)
and for a key that is compared. When either changes it is stale and is made anew where it is next
asked for. All of it is a cache: what falls out is made again.
"""

from __future__ import annotations

import time
from collections import Counter, OrderedDict
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from jartide.job.events import Events
from jartide.job.runner import Runner

# As many values of one kind are kept.
_KEPT = 60
# Of many small pieces so much is worked out before what is there is told: each telling shows again.
_TOLD_EVERY_S = 0.3


@dataclass(frozen=True, slots=True, kw_only=True)
class _Piece:
    """A small piece of work, and where its value belongs."""

    table: Table
    key: Hashable
    inputs: tuple[Any, ...]
    work: Callable[[], Any]


class Key:
    """Several things as one key, whose hash is worked out once: records are deep."""

    __slots__ = ("_hash", "_of")

    def __init__(self, *of: Hashable) -> None:
        self._of, self._hash = of, hash(of)

    def __hash__(self) -> int:
        return self._hash

    def __eq__(self, other: object) -> bool:
        if other is self or not isinstance(other, Key):
            return other is self
        return self._hash == other._hash and self._of == other._of


class Freshness(StrEnum):
    """How a derived value stands: as it is now, of something earlier, being made, or not there."""

    FRESH = "fresh"
    STALE = "stale"
    WORKING = "working"
    MISSING = "missing"


class Table:
    """Values of one kind, the last few kept."""

    def __init__(
        self, name: str, size: int, computed: Counter[str], changed: Callable[[], None]
    ) -> None:
        self.name, self._changed = name, changed
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
        """Keep a value that was made of these inputs: what is derived of it is derived anew."""
        self._keep(key, value, inputs)
        self._changed()

    def _keep(self, key: Hashable, value: Any, inputs: tuple[Any, ...]) -> None:
        self._computed[self.name] += 1
        self._values[key] = (inputs, value)
        self._values.move_to_end(key)
        while len(self._values) > self._size:
            self._values.popitem(last=False)

    def made(self, key: Hashable, make: Callable[[], Any], *inputs: Any) -> Any:
        """Return the value of these inputs, made now if it is not there."""
        found = self._values.get(key)
        if found is None or not _are_same(found[0], inputs):
            self._keep(key, make(), inputs)
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
    state : another object whenever a value came in from outside or from the background
    """

    def __init__(self, runner: Runner, events: Events, say: Callable[[Exception], None]) -> None:
        self._runner, self._events, self._say = runner, events, say
        self._tables: dict[str, Table] = {}
        self._waiting: list[_Piece] = []
        self._is_working = False
        self.computed: Counter[str] = Counter()
        self.state = object()

    def _changed(self) -> None:
        self.state = object()

    def table(self, name: str, size: int = _KEPT) -> Table:
        """Return the table of a name; its size is told once."""
        if name not in self._tables:
            self._tables[name] = Table(name, size, self.computed, self._changed)
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

    def worked_out_among_many(
        self, name: str, key: Hashable, work: Callable[[], Any], *inputs: Any
    ) -> Any:
        """Return what `work` makes, as `worked_out` does; many small pieces are told in batches."""
        table = self.table(name)
        if table.freshness(key, *inputs) not in (Freshness.FRESH, Freshness.WORKING):
            table.asked[key] = inputs
            self._waiting.append(_Piece(table=table, key=key, inputs=inputs, work=work))
            self._work_on()
        return table.get(key, *inputs)

    def _work_on(self) -> None:
        """Work out what waits, the next few at a time."""
        if self._is_working or not self._waiting:
            return
        self._is_working = True

        def work(_: Any) -> list[tuple[_Piece, Any]]:
            ends = time.monotonic() + _TOLD_EVERY_S
            done: list[tuple[_Piece, Any]] = []
            # All that is asked for by now, not only what was when this began.
            for piece in tuple(self._waiting):
                done.append((piece, piece.work()))
                if time.monotonic() > ends:
                    break
            return done

        def returned(done: list[tuple[_Piece, Any]]) -> None:
            self._is_working = False
            # What was asked meanwhile stands behind.
            self._waiting = self._waiting[len(done) :]
            for piece, value in done:
                if piece.table.asked.get(piece.key) is piece.inputs:
                    del piece.table.asked[piece.key]
                    piece.table.put(piece.key, value, *piece.inputs)
            self._work_on()
            self._events.worked_out.emit()

        def refused(error: Exception) -> None:
            # Whichever it was: all are asked for again when they are next looked at.
            self._is_working = False
            for piece in self._waiting:
                piece.table.asked.pop(piece.key, None)
            self._waiting = []
            self._say(error)

        self._runner.start("many", work, returned=returned, failed=refused, first=True)

    def clear(self) -> None:
        """Let go of everything: another workspace is open."""
        self._waiting, self._is_working = [], False
        self._runner.stop("many")
        for table in self._tables.values():
            table.clear()
        self._changed()


class Lately:
    """Answers that hold until anything changes: header, foot and page ask for the same ones.

    `state` returns objects, one of which is another one after any change.
    """

    def __init__(self, state: Callable[[], tuple[Any, ...]]) -> None:
        self._state = state
        self._of: tuple[Any, ...] = ()
        self._answers: dict[Hashable, Any] = {}

    def once(self, key: Hashable, make: Callable[[], Any]) -> Any:
        """Return what `make` returns, called once until something changes."""
        state = self._state()
        if not _are_same(self._of, state):
            self._of, self._answers = state, {}
        if key not in self._answers:
            self._answers[key] = make()
        return self._answers[key]


def _are_same(kept: tuple[Any, ...], given: tuple[Any, ...]) -> bool:
    return len(kept) == len(given) and all(a is b for a, b in zip(kept, given, strict=True))

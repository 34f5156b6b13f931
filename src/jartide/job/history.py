"""Undo as data: what was changed, from which records to which, in the order it was done."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from jartide.store.records import Record

# Nudges of one drag further apart than this are separate steps, seconds.
_ONE_DRAG_S = 1.5


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """One thing the painter did.

    Attributes
    ----------
    words : what it was, for the painter
    before, after : the records as they were and as they became, in the same order
    drag : changes of one name that follow each other at once are one; "" never
    at_s : when it was done, on a clock that only goes on
    """

    words: str
    before: tuple[Record, ...]
    after: tuple[Record, ...]
    drag: str = ""
    at_s: float = 0.0


class History:
    """What was done and can be undone, and what was undone and can be done again.

    Parameters
    ----------
    write : saves records in one transaction; False when that can't be done
    """

    def __init__(self, write: Callable[[tuple[Record, ...]], bool]) -> None:
        self._write = write
        self.done: tuple[Change, ...] = ()
        self.undone: tuple[Change, ...] = ()

    @property
    def can_undo(self) -> bool:
        """Whether there is anything to undo."""
        return bool(self.done)

    @property
    def can_redo(self) -> bool:
        """Whether there is anything to do again."""
        return bool(self.undone)

    def do(self, change: Change) -> bool:
        """Carry a change out; what can't be saved is no step of the history."""
        if not self._write(change.after):
            return False
        self.undone = ()
        last = self.done[-1] if self.done else None
        if last is not None and _is_one_drag(last, change):
            joined = replace(last, after=change.after, at_s=change.at_s)
            self.done = (*self.done[:-1], joined)
        else:
            self.done = (*self.done, change)
        return True

    def undo(self) -> None:
        """Put the records of the last change back as they were."""
        if self.done and self._write(self.done[-1].before):
            self.undone = (*self.undone, self.done[-1])
            self.done = self.done[:-1]

    def redo(self) -> None:
        """Carry out again what was undone last."""
        if self.undone and self._write(self.undone[-1].after):
            self.done = (*self.done, self.undone[-1])
            self.undone = self.undone[:-1]

    def clear(self) -> None:
        """Forget everything: another workspace is open, or was written behind its back."""
        self.done = self.undone = ()


def _is_one_drag(last: Change, change: Change) -> bool:
    return bool(change.drag) and last.drag == change.drag and (
        change.at_s - last.at_s <= _ONE_DRAG_S
    )  # fmt: skip

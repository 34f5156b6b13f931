"""Who wants to know of a change: plain calls, one after the other, in the thread that tells."""

from __future__ import annotations

import weakref
from collections.abc import Callable
from types import MethodType
from typing import Any

Listener = Callable[..., Any]


class Event:
    """Calls its listeners in the order in which they came.

    A method is held weakly, so that a page that was let go is not kept for its events.
    """

    def __init__(self) -> None:
        self._listeners: list[Callable[[], Listener | None]] = []

    def connect(self, listener: Listener) -> None:
        """Call `listener` from now on."""
        self._listeners.append(_reference(listener))

    def disconnect(self, listener: Listener) -> None:
        """Call `listener` no longer."""
        self._listeners = [held for held in self._listeners if held() not in (None, listener)]

    def emit(self, *told: Any) -> None:
        """Call every listener with what is told."""
        for held in tuple(self._listeners):
            listener = held()
            if listener is not None:
                listener(*told)


def _reference(listener: Listener) -> Callable[[], Listener | None]:
    if isinstance(listener, MethodType):
        return weakref.WeakMethod(listener)
    return lambda: listener


class Events:
    """All that a job tells of itself.

    Attributes
    ----------
    opened : a workspace was opened
    writing, written : records are about to be written, and were
    changed : show again: records, what is chosen, or a setting
    picture_ready, reading_ready : photo id; it can be shown
    reading_progressed : photo id, fraction done
    worked_out : something else that was worked out in the background is there
    arrived : photo id of a new photo, whether out of the watched folder
    failed, told : one sentence for the painter, and one that asks for nothing
    removed : what was just removed and can be had back by undo
    """

    def __init__(self) -> None:
        self.opened = Event()
        self.writing = Event()
        self.written = Event()
        self.changed = Event()
        self.picture_ready = Event()
        self.reading_ready = Event()
        self.reading_progressed = Event()
        self.worked_out = Event()
        self.arrived = Event()
        self.failed = Event()
        self.told = Event()
        self.removed = Event()

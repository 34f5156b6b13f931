"""Work off the interface thread: progress, stop, and answers that are still wanted.

A stage knows only a callable `progress(fraction)` that may raise `Cancelled`.
Answers come back on the interface thread; one that a newer request of the same
topic has overtaken is dropped.

A piece of work is a plain object: the runner alone belongs to Qt. A Qt object of each piece would
be let go of in whichever thread is last, which ends in a crash, or be held for ever by what is
connected to it.
"""

from __future__ import annotations

import contextlib
import threading
import time
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject, QRunnable, QThreadPool, Signal, Slot

from jartide.app.memory import give_back
from jartide.errors import Cancelled
from jartide.job.runner import Progress, Work

# Work that took so long has used much memory.
_LONG_S = 0.5
# Nobody sees progress move more often.
_TOLD_EVERY_S = 0.05


class _Task:
    """One piece of work, who is told of it, and whether it is to stop."""

    def __init__(
        self,
        topic: str,
        work: Work,
        returned: Callable[[Any], None],
        failed: Callable[[Exception], None],
        progressed: Progress | None,
    ) -> None:
        self.topic, self.work = topic, work
        self.returned, self.failed, self.progressed = returned, failed, progressed
        self.stop = threading.Event()
        self.told_at_s = -_TOLD_EVERY_S


class _Runnable(QRunnable):
    """Does one task in the pool's thread; `tell` carries (task, what, value) to the other one."""

    def __init__(self, task: _Task, tell: Callable[[object], None]) -> None:
        super().__init__()
        self._task, self._tell_of = task, tell

    def run(self) -> None:
        began = time.monotonic()
        what, value = self._done()
        self._tell(what, value)
        if time.monotonic() - began > _LONG_S:
            give_back()

    def _done(self) -> tuple[str, Any]:
        try:
            self._tick(0.0)
            value = self._task.work(self._tick)
        except Cancelled:
            return "cancelled", None
        except Exception as error:
            return "failed", error
        return "returned", value

    def _tick(self, fraction: float) -> None:
        if self._task.stop.is_set():
            raise Cancelled
        now = time.monotonic()
        if self._task.progressed is not None and now - self._task.told_at_s >= _TOLD_EVERY_S:
            self._task.told_at_s = now
            self._tell("progressed", fraction)

    def _tell(self, what: str, value: Any) -> None:
        # The window may be closed for good by now: then nobody waits.
        with contextlib.suppress(RuntimeError):
            self._tell_of((self._task, what, value))


class QtRunner(QObject):
    """The model's runner in the window: one thread; answers come back on the interface thread."""

    busy_changed = Signal(bool)  # whether anything is under way
    _told = Signal(object)  # (task, what, value)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        # One worker: the stages use both cores themselves.
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._tasks: dict[str, _Task] = {}
        self._told.connect(self._hear)

    @property
    def busy(self) -> bool:
        """Whether anything is under way."""
        return bool(self._tasks)

    def start(
        self,
        topic: str,
        work: Work,
        *,
        returned: Callable[[Any], None],
        failed: Callable[[Exception], None],
        progressed: Progress | None = None,
        first: bool = False,
    ) -> None:
        """Start work; a task of the same topic still under way is stopped and dropped.

        `first` puts it before what is waiting.
        """
        self.stop(topic)
        task = _Task(topic, work, returned, failed, progressed)
        self._tasks[topic] = task
        self.busy_changed.emit(True)
        self._pool.start(_Runnable(task, self._told.emit), 1 if first else 0)

    def stop(self, topic: str) -> None:
        """Stop one topic's work."""
        task = self._tasks.pop(topic, None)
        if task is not None:
            task.stop.set()
            self.busy_changed.emit(self.busy)

    @Slot()
    def stop_all(self) -> None:
        """Stop all work and wait for the thread to come to rest."""
        for topic in list(self._tasks):
            self.stop(topic)
        self._pool.waitForDone(10_000)

    @Slot(object)
    def _hear(self, told: tuple[_Task, str, Any]) -> None:
        """Tell whoever asked, in the interface thread, unless it was stopped or overtaken."""
        task, what, value = told
        if self._tasks.get(task.topic) is not task:
            return
        try:
            if what == "progressed":
                if task.progressed is not None:
                    task.progressed(value)
            elif what == "returned":
                task.returned(value)
            elif what == "failed":
                task.failed(value)
        finally:
            # The answer may have asked for the same topic again: that one is under way.
            if what != "progressed" and self._tasks.get(task.topic) is task:
                del self._tasks[task.topic]
                self.busy_changed.emit(self.busy)

"""Work off the interface thread: progress, stop, and answers that are still wanted.

A stage knows only a callable `progress(fraction)` that may raise `Cancelled`.
Answers come back on the interface thread; one that a newer request of the same
topic has overtaken is dropped.
"""

from __future__ import annotations

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


class Task(QObject):
    """One piece of work. Exactly one of returned, failed, cancelled comes, then finished."""

    progressed = Signal(float)  # fraction done, 0 to 1
    returned = Signal(object)  # what the work returned
    failed = Signal(object)  # the exception
    cancelled = Signal()
    finished = Signal()

    def __init__(self, work: Work) -> None:
        super().__init__()
        self._work = work
        self._stop = threading.Event()

    def cancel(self) -> None:
        """Ask the work to stop; it does at its next report of progress."""
        self._stop.set()

    def _tick(self, fraction: float) -> None:
        if self._stop.is_set():
            raise Cancelled
        self.progressed.emit(fraction)

    def run(self) -> None:
        """Do the work, in whatever thread this is called."""
        try:
            self._tick(0.0)
            result = self._work(self._tick)
            if self._stop.is_set():
                raise Cancelled
        except Cancelled:
            self.cancelled.emit()
        except Exception as error:
            self.failed.emit(error)
        else:
            self.returned.emit(result)
        self.finished.emit()


class _Runnable(QRunnable):
    def __init__(self, task: Task) -> None:
        super().__init__()
        self._task = task

    def run(self) -> None:
        began = time.monotonic()
        self._task.run()
        if time.monotonic() - began > _LONG_S:
            give_back()


class QtRunner(QObject):
    """The model's runner in the window: one thread; answers come back on the interface thread."""

    busy_changed = Signal(bool)  # whether anything is under way

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        # One worker: the stages use both cores themselves.
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._tasks: dict[str, Task] = {}

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
        task = Task(work)
        self._tasks[topic] = task

        def if_wanted(answer: Callable[[Any], None]) -> Callable[[Any], None]:
            def deliver(value: Any) -> None:
                if self._tasks.get(topic) is task:
                    answer(value)

            return deliver

        task.returned.connect(if_wanted(returned))
        task.failed.connect(if_wanted(failed))
        if progressed is not None:
            task.progressed.connect(if_wanted(progressed))
        task.finished.connect(lambda: self._done(topic, task))
        self.busy_changed.emit(True)
        self._pool.start(_Runnable(task), 1 if first else 0)

    def stop(self, topic: str) -> None:
        """Stop one topic's work."""
        task = self._tasks.pop(topic, None)
        if task is not None:
            task.cancel()
            self.busy_changed.emit(self.busy)

    @Slot()
    def stop_all(self) -> None:
        """Stop all work and wait for the thread to come to rest."""
        for topic in list(self._tasks):
            self.stop(topic)
        self._pool.waitForDone(10_000)

    def _done(self, topic: str, task: Task) -> None:
        if self._tasks.get(topic) is task:
            del self._tasks[topic]
            self.busy_changed.emit(self.busy)

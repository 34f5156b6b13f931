"""Who does the work that takes long: the window in a thread of its own, others where they stand."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Protocol

from jartide.errors import Cancelled

Progress = Callable[[float], None]
Work = Callable[[Progress], Any]


class Runner(Protocol):
    """Runs one piece of work after the other, the newest of each topic only."""

    @property
    def busy(self) -> bool:
        """Whether anything is under way."""

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
        """Do work of a topic; what it returns or raises is told in the asking thread.

        An answer that a newer request of the same topic has overtaken is dropped. `first` puts
        it before what is waiting.
        """

    def stop(self, topic: str) -> None:
        """Stop one topic's work."""

    def stop_all(self) -> None:
        """Stop all work and wait until it rests."""


class AtOnce:
    """Does all work where it is asked for: for the command line, and wherever nobody waits."""

    busy = False

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
        """Do work now."""
        try:
            result = work(progressed or _nobody)
        except Cancelled:
            return
        except Exception as error:
            failed(error)
        else:
            returned(result)

    def stop(self, topic: str) -> None:
        """Nothing is ever under way."""

    def stop_all(self) -> None:
        """Nothing is ever under way."""


def _nobody(fraction: float) -> None:
    pass

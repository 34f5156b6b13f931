"""A failure nobody foresaw is written down beside the work, and goes nowhere by itself."""

from __future__ import annotations

import platform
import sys
import threading
import traceback
from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from types import TracebackType

from jartide import __version__
from jartide.log_file import log_failure, log_path

_KEPT = 20


def write_report(folder: Path, error: BaseException) -> Path | None:
    """Write one failure to `folder`/reports; None when not even that can be done.

    It holds the version, the platform and where in the program it failed; no photo, no name
    of a job, and nothing that was typed.
    """
    place = folder / "reports"
    lines = [
        f"Jar Tide {__version__}, Python {platform.python_version()}, {platform.platform()}",
        f"{datetime.now():%Y-%m-%d %H:%M:%S}",
        "",
        *(
            f"{f.filename}:{f.lineno} in {f.name}"
            for f in traceback.extract_tb(error.__traceback__)
        ),
        type(error).__name__,
        "",
        f"Log: {log_path()}",
    ]
    log_failure(error, "window")
    try:
        place.mkdir(parents=True, exist_ok=True)
        file = place / f"failure-{datetime.now():%Y-%m-%d-%H-%M-%S-%f}.txt"
        file.write_text("\n".join(lines) + "\n", encoding="utf-8")
        for old in sorted(place.glob("failure-*.txt"))[:-_KEPT]:
            old.unlink()
    except OSError:
        return None
    return file


def watch_for_failures(folder: Callable[[], Path], tell: Callable[[Path | None], None]) -> None:
    """Report every failure that nothing caught; the window stays open, the work is saved already.

    `folder` tells where the open workspace lies; `tell` is called on whatever thread failed.
    """
    usual = sys.excepthook

    def failed(
        kind: type[BaseException], error: BaseException, where: TracebackType | None
    ) -> None:
        usual(kind, error, where)
        if not issubclass(kind, KeyboardInterrupt):
            tell(write_report(folder(), error))

    def thread_failed(arguments: threading.ExceptHookArgs) -> None:
        if arguments.exc_value is not None:
            failed(arguments.exc_type, arguments.exc_value, arguments.exc_traceback)

    sys.excepthook = failed
    threading.excepthook = thread_failed

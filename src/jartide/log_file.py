"""A running log in the state directory: what was done when, and what nobody foresaw.

It holds times, versions, names of files and where in the program something failed; nothing that was
typed, measured or photographed.
"""

from __future__ import annotations

import contextlib
import logging
import os
import sys
from logging.handlers import RotatingFileHandler
from pathlib import Path

from platformdirs import user_state_path

from jartide import __version__

_MOST_BYTES = 500_000
_KEPT = 3
_LOGGER = logging.getLogger("jartide")


def log_path() -> Path:
    """Return where the log is written."""
    return user_state_path("jar-tide") / "jar-tide.log"


def shown_path(path: Path) -> str:
    """Return a path as it is shown: the home folder as ~, and places where a line may break."""
    told = str(path)
    with contextlib.suppress(ValueError):
        told = f"~/{path.relative_to(Path.home())}"
    return told.replace("/", "/\u200b")


def begin_log(what: str) -> Path | None:
    """Log from now on, warnings of libraries too; None where that can't be written."""
    logging.captureWarnings(True)
    root = logging.getLogger()
    path = log_path()
    if any(isinstance(handler, RotatingFileHandler) for handler in root.handlers):
        return path
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        handler: logging.Handler = RotatingFileHandler(
            path, maxBytes=_MOST_BYTES, backupCount=_KEPT, encoding="utf-8", errors="replace"
        )
    except OSError:
        # Without one the libraries' words would go to standard error.
        root.addHandler(logging.NullHandler())
        return None
    handler.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(name)s: %(message)s"))
    root.addHandler(handler)
    root.setLevel(logging.WARNING)
    _LOGGER.setLevel(logging.INFO)
    _LOGGER.info("Jar Tide %s, %s, process %d", __version__, what, os.getpid())
    return path


def log_failure(error: BaseException, where: str) -> None:
    """Note what nobody foresaw: its kind and the way through the program, without its words."""
    found, way = error.__traceback__, []
    while found is not None:
        code = found.tb_frame.f_code
        way.append(f"{Path(code.co_filename).name}:{found.tb_lineno} {code.co_name}")
        found = found.tb_next
    _LOGGER.error("%s: %s at %s", where, type(error).__name__, " < ".join(reversed(way)))


def quiet_libraries() -> None:
    """Keep what decoders print by themselves off standard error; ours still gets there."""
    with contextlib.suppress(OSError, ValueError):
        ours = os.dup(2)
        sys.stderr = os.fdopen(ours, "w", buffering=1, errors="backslashreplace")
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, 2)
        os.close(nowhere)

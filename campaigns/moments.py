"""End work by force at one of its moments: before a statement of SQL or a change of a file.

Work is done in a forked process that counts every statement and every file that is moved, removed,
made or written to the disk, and kills itself before the one asked for: nothing is tidied up, as
when the power goes.
"""

from __future__ import annotations

import contextlib
import os
import signal
import sqlite3
from collections.abc import Callable, Iterator
from typing import Any

_FILE_CHANGES = ("rename", "replace", "fsync", "unlink", "remove", "mkdir", "rmdir", "truncate")


def ended_before(moment: int, work: Callable[[], Any]) -> bool:
    """Do work in a process of its own that dies before its nth moment (from 0).

    Returns whether it did; False when the work was done before it came to that.

    Raises
    ------
    RuntimeError : when the work failed by itself.
    """
    child = os.fork()
    if child == 0:
        try:
            with _counted(moment):
                work()
        except BaseException:
            os._exit(3)
        os._exit(0)
    _, status = os.waitpid(child, 0)
    if os.WIFSIGNALED(status) and os.WTERMSIG(status) == signal.SIGKILL:
        return True
    if os.waitstatus_to_exitcode(status) != 0:
        raise RuntimeError(f"the work itself failed before moment {moment}")
    return False


@contextlib.contextmanager
def _counted(moment: int) -> Iterator[None]:
    left = moment

    def count(*_: Any) -> None:
        nonlocal left
        left -= 1
        if left < 0:
            os.kill(os.getpid(), signal.SIGKILL)

    def counting(own: Callable[..., Any]) -> Callable[..., Any]:
        def wrapped(*given: Any, **named: Any) -> Any:
            count()
            return own(*given, **named)

        return wrapped

    for name in _FILE_CHANGES:
        setattr(os, name, counting(getattr(os, name)))
    connect = sqlite3.connect

    def traced(*given: Any, **named: Any) -> sqlite3.Connection:
        connection = connect(*given, **named)
        connection.set_trace_callback(count)
        return connection

    sqlite3.connect = traced
    sqlite3.dbapi2.connect = traced
    # Never undone: the process ends with the work.
    yield

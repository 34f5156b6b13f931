"""Try one thing in a process of its own: did it hold, hang, eat memory, or fall over?"""

from __future__ import annotations

import contextlib
import os
import resource
import select
import signal
import time
import traceback
from collections.abc import Callable
from typing import Any

from jartide.errors import JarTideError

MOST_S = 10.0
MOST_BYTES = 2_000_000_000
_MOST_WORDS = 4000


def fault_of(work: Callable[[], Any], *, most_s: float = MOST_S) -> str | None:
    """Do work in a forked process; return what is wrong with how it went, None of nothing.

    Done, or refused by one sentence worded for a person, is well. A traceback, more than `most_s`
    seconds or more than 2 GB is not, nor are two sentences, or none.
    """
    came, told = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(came)
        _do(work, told)
    os.close(told)
    words, ends = b"", time.monotonic() + most_s
    while time.monotonic() < ends:
        ready, _, _ = select.select([came], [], [], max(ends - time.monotonic(), 0.0))
        if not ready:
            break
        some = os.read(came, 65536)
        if not some:
            break
        words += some
    else:
        ready = []
    os.close(came)
    pid, status, used = os.wait4(child, os.WNOHANG)
    if pid == 0 and time.monotonic() >= ends:
        os.kill(child, signal.SIGKILL)
        os.wait4(child, 0)
        return f"still at it after {most_s:.0f} s"
    if pid == 0:
        _, status, used = os.wait4(child, 0)
    if used.ru_maxrss * 1024 > MOST_BYTES + _before():
        return f"took {used.ru_maxrss / 1e6:.1f} GB"
    if os.WIFSIGNALED(status):
        return f"ended by signal {os.WTERMSIG(status)}"
    return words.decode("utf-8", "replace")[:_MOST_WORDS] or None


def _before() -> int:
    """What this process takes itself: a fork begins with it."""
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024


def _do(work: Callable[[], Any], told: int) -> None:
    """The child: what is to be said goes into the pipe; nothing is tidied up."""
    fault = ""
    try:
        with contextlib.suppress(ValueError, OSError):
            limit = MOST_BYTES + _before() + (2 << 30)
            resource.setrlimit(resource.RLIMIT_AS, (limit, limit))
        work()
    except JarTideError as error:
        fault = _not_one_sentence(str(error))
    except MemoryError:
        fault = "ran out of memory"
    except SystemExit as error:
        fault = "" if error.code in (0, 1, 2, None) else f"exit {error.code}"
    except BaseException:
        fault = traceback.format_exc()
    with contextlib.suppress(OSError):
        os.write(told, fault.encode("utf-8", "replace")[-_MOST_WORDS:])
    os._exit(0)


def _not_one_sentence(words: str) -> str:
    if not words.strip() or "\n" in words.strip() or not words.rstrip().endswith((".", "!", "?")):
        return f"no sentence: {words[:200]!r}"
    return "traceback in a sentence" if "Traceback" in words else ""

"""Decode a very large picture in a process of its own, which can be ended when it takes too long.

What comes back goes through a pipe in strips, straight into one array: neither the disk nor the
shared memory of a container has to hold it.
"""

from __future__ import annotations

import contextlib
import resource
import time
from collections.abc import Callable
from multiprocessing import get_context
from multiprocessing.connection import Connection
from typing import Any

import numpy as np

from jartide.errors import JarTideError, PhotoError

MOST_S = 10.0
# What a process of its own may take beside the file and the picture.
_MOST_BYTES = 4_000_000_000
_STRIP_BYTES = 64 << 20

# (data, name) -> (code, notes)
Decode = Callable[[bytes, str], tuple[np.ndarray, Any]]


def decoded_apart(
    decode: Decode, data: bytes, name: str, most_s: float = MOST_S
) -> tuple[np.ndarray, Any]:
    """Return what `decode` returns, which has to be a function of a module.

    Raises
    ------
    PhotoError : what `decode` raised; or that it took longer than `most_s`, or too much memory.
    """
    here, there = get_context("spawn").Pipe()
    process = get_context("spawn").Process(
        target=_decode_there, args=(there, decode), daemon=True, name="decoding"
    )
    process.start()
    there.close()
    ends = time.monotonic() + most_s
    try:
        here.send_bytes(data)
        here.send(name)
        found = _received(here, ends, name)
        if isinstance(found, JarTideError):
            raise found
        if isinstance(found, MemoryError):
            raise PhotoError("error.photo.memory", name=name) from None
        if isinstance(found, Exception):
            raise PhotoError("error.photo.broken", name=name) from found
        shape, kind, notes = found
        code = np.empty(shape, kind)
        flat = code.reshape(-1).view(np.uint8)
        at = 0
        while at < flat.size:
            _wait(here, ends, name)
            at += here.recv_bytes_into(flat[at:])
        return code, notes
    except (EOFError, OSError) as error:
        # It was ended from outside, most likely for its memory.
        raise PhotoError("error.photo.memory", name=name) from error
    finally:
        here.close()
        process.kill()
        process.join()


def _received(here: Connection, ends: float, name: str) -> Any:
    _wait(here, ends, name)
    return here.recv()


def _wait(here: Connection, ends: float, name: str) -> None:
    left = ends - time.monotonic()
    if left <= 0 or not here.poll(left):
        raise PhotoError("error.photo.slow", name=name, seconds=round(MOST_S))


def _decode_there(there: Connection, decode: Decode) -> None:
    """The other process."""
    with contextlib.suppress(ValueError, OSError):
        resource.setrlimit(resource.RLIMIT_AS, (_MOST_BYTES, _MOST_BYTES))
    try:
        data, name = there.recv_bytes(), there.recv()
        code, notes = decode(data, name)
    except Exception as error:
        there.send(
            error if isinstance(error, JarTideError | MemoryError) else ValueError(str(error))
        )
        return
    code = np.ascontiguousarray(code)
    there.send((code.shape, code.dtype.str, notes))
    flat = code.reshape(-1).view(np.uint8)
    for at in range(0, flat.size, _STRIP_BYTES):
        there.send_bytes(flat[at : at + _STRIP_BYTES].data)

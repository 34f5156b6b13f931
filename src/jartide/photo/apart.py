"""Decode a very large picture in a process of its own, which can be ended when it takes too long.

File and picture are handed over in memory without a name, which both processes map: a gigabyte sent
through a pipe takes longer than many a picture does to decode, and neither the disk nor the small
shared folder of a container has to hold it.
"""

from __future__ import annotations

import contextlib
import mmap
import os
import resource
import time
from collections.abc import Callable, Iterator
from multiprocessing import get_context
from multiprocessing.connection import Connection
from multiprocessing.reduction import recv_handle, send_handle
from typing import Any

import numpy as np

from jartide.errors import JarTideError, PhotoError

MOST_S = 10.0
# What a process of its own may take beside the file and the picture.
_MOST_BYTES = 4_000_000_000

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
        with _shared(data) as file:
            send_handle(here, file, process.pid)
        here.send((len(data), name))
        if not here.poll(max(ends - time.monotonic(), 0)):
            raise PhotoError("error.photo.slow", name=name, seconds=round(most_s))
        found = here.recv()
        if isinstance(found, JarTideError):
            raise found
        if isinstance(found, MemoryError):
            raise PhotoError("error.photo.memory", name=name) from None
        if isinstance(found, Exception):
            raise PhotoError("error.photo.broken", name=name) from found
        shape, kind, notes = found
        return _mapped(recv_handle(here), shape, np.dtype(kind)), notes
    except (EOFError, OSError) as error:
        # It was ended from outside, most likely for its memory.
        raise PhotoError("error.photo.memory", name=name) from error
    finally:
        here.close()
        process.kill()
        process.join()


@contextlib.contextmanager
def _shared(data: bytes | memoryview) -> Iterator[int]:
    """A file in memory that holds `data`; it lives as long as anybody has it open."""
    file = os.memfd_create("picture")
    try:
        at, whole = 0, memoryview(data)
        while at < len(whole):  # one call writes two gigabytes at most
            at += os.write(file, whole[at:])
        yield file
    finally:
        os.close(file)


def _mapped(file: int, shape: tuple[int, ...], kind: np.dtype) -> np.ndarray:
    """The array that a file in memory holds: no copy, and given back with the array."""
    count = int(np.prod(shape))
    try:
        return np.frombuffer(mmap.mmap(file, count * kind.itemsize), kind, count).reshape(shape)
    finally:
        os.close(file)


def _decode_there(there: Connection, decode: Decode) -> None:
    """The other process."""
    with contextlib.suppress(ValueError, OSError):
        resource.setrlimit(resource.RLIMIT_AS, (_MOST_BYTES, _MOST_BYTES))
    try:
        file = recv_handle(there)
        size, name = there.recv()
        with os.fdopen(file, "rb") as whole:
            whole.seek(0)
            data = whole.read(size)
        code, notes = decode(data, name)
        code = np.ascontiguousarray(code)
        with _shared(code.reshape(-1).view(np.uint8).data) as made:
            there.send((code.shape, code.dtype.str, notes))
            send_handle(there, made, os.getppid())
    except Exception as error:
        there.send(
            error if isinstance(error, JarTideError | MemoryError) else ValueError(str(error))
        )

"""What the window's background works out, remembered over one run of the tests.

The same demo photos are made flat, read and compared in dozens of windows; what the core makes of
them is tested elsewhere. Each result is keyed by all that it is made from, and is never changed by
those who use it (`test_remembered.py` works some out again). Workers, and windows of their own
process, share a folder that lasts as long as the run.
"""

from __future__ import annotations

import hashlib
import os
import pickle
import threading
from collections import OrderedDict
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from types import ModuleType

import pytest

from jartide.job import analysis, comparisons, decoded, flat
from jartide.photo import prepare
from jartide.photo.load import Photo

from .conftest import REMEMBERED as FOLDER

# An analysis holds the picture in a dozen forms: some 60 MB.
MOST = 40


class Remembered:
    """A function whose results are kept: the latest `MOST` at hand, all of them in the folder."""

    def __init__(self, work: Callable) -> None:
        self.work = work
        self.worked_out = 0
        self._kept: OrderedDict[bytes, object] = OrderedDict()
        self._lock = threading.Lock()

    def __call__(self, *given: object, **named: object) -> object:
        told = (
            prepare.READING_PIXELS,
            [key_of(one) for one in given],
            sorted((name, key_of(one)) for name, one in named.items()),
        )
        key = hashlib.blake2b(pickle.dumps(told)).digest()
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key]
        name = f"{self.work.__name__}-{key.hex()[:40]}.pickle"
        result = read_kept(name)
        if result is None:
            result = self.work(*given, **named)
            self.worked_out += 1
            keep(name, result)
        with self._lock:
            self._kept[key] = result
            while len(self._kept) > MOST:
                self._kept.popitem(last=False)
        return result


# What the model of a job works out of photos.
WORK = (
    (flat, "make_flat"),
    (analysis, "analyse"),
    (decoded, "card_for"),
    (comparisons, "seen_of"),
)


@contextmanager
def remember(*work: tuple[ModuleType, str]) -> Iterator[dict[str, Remembered]]:
    """Put functions that remember in place of those of their modules."""
    with pytest.MonkeyPatch.context() as patch:
        kept = {}
        for where, name in work:
            # One worker may have both, models and windows: what remembers already goes on.
            now = getattr(where, name)
            kept[name] = now if isinstance(now, Remembered) else Remembered(now)
            patch.setattr(where, name, kept[name])
        yield kept


def read_kept(name: str) -> object | None:
    """What another process of this run has worked out, or None."""
    folder = os.environ.get(FOLDER)
    path = None if folder is None else Path(folder) / name
    if path is None or not path.exists():
        return None
    return pickle.loads(path.read_bytes())


def keep(name: str, result: object) -> None:
    """Write a result for the other processes of this run; whole, or not at all."""
    folder = os.environ.get(FOLDER)
    if folder is not None:
        new = Path(folder) / f"{name}.{os.getpid()}.{threading.get_ident()}"
        new.write_bytes(pickle.dumps(result, protocol=pickle.HIGHEST_PROTOCOL))
        new.replace(Path(folder) / name)


def key_of(given: object) -> object:
    """What tells one argument from another: of a photo its file, of a progress nothing."""
    if isinstance(given, Photo):
        return given.sha256
    return None if callable(given) else given

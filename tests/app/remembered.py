"""What the window's background works out, remembered over the tests of one worker.

The same demo photos are made flat, read and compared in dozens of windows; what the core makes of
them is tested elsewhere. Each result is keyed by all that it is made from, and is never changed by
those who use it (`test_remembered.py` works some out again).
"""

from __future__ import annotations

import hashlib
import pickle
import threading
from collections import OrderedDict
from collections.abc import Callable

from jartide.photo import prepare
from jartide.photo.load import Photo

# An analysis holds the picture in a dozen forms: some 60 MB.
MOST = 40


class Remembered:
    """A function whose results are kept, the latest `MOST` of them."""

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
        result = self.work(*given, **named)
        with self._lock:
            self.worked_out += 1
            self._kept[key] = result
            while len(self._kept) > MOST:
                self._kept.popitem(last=False)
        return result


def key_of(given: object) -> object:
    """What tells one argument from another: of a photo its file, of a progress nothing."""
    if isinstance(given, Photo):
        return given.sha256
    return None if callable(given) else given

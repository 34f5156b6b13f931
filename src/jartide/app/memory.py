"""Give memory back that nothing needs any longer."""

from __future__ import annotations

import ctypes
import ctypes.util
from functools import cache
from typing import Any


@cache
def _library() -> Any:
    """The C library where it can give memory back (glibc), else None."""
    name = ctypes.util.find_library("c")
    library = None if name is None else ctypes.CDLL(name)
    return library if hasattr(library, "malloc_trim") else None


def give_back() -> None:
    """Return free pages to the system.

    Pictures are worked on in many large arrays of several threads; what they leave between what
    is kept stays with the process otherwise, and a long day would end with twice the memory.
    """
    library = _library()
    if library is not None:
        library.malloc_trim(0)

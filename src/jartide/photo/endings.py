"""Whether a picture file shows by its beginning and end that it was written whole.

JPEG ends with its end-of-image mark (ISO/IEC 10918-1, B.1.1.3), PNG with its IEND chunk (ISO/IEC
15948); BMP and RIFF say their size. Of other kinds nothing is said. Behind a JPEG's end some
cameras put more than zeros: such a file shows as not whole, and whoever waits for it has to give up
some time.
"""

from __future__ import annotations

import os
from pathlib import Path

_TAIL = 64


def ends_whole(path: Path) -> bool | None:
    """Return whether a file is whole; None where it does not show, or can't be read."""
    try:
        size = path.stat().st_size
        with path.open("rb") as file:
            head = file.read(16)
            file.seek(-min(_TAIL, size), os.SEEK_END)
            tail = file.read()
    except OSError:
        return None
    if head.startswith(b"\xff\xd8\xff"):
        # Some cameras pad behind the mark.
        return tail.rstrip(b"\0").endswith(b"\xff\xd9")
    if head.startswith(b"\x89PNG"):
        return b"IEND" in tail
    if head.startswith(b"RIFF"):
        return size >= int.from_bytes(head[4:8], "little") + 8
    if head.startswith(b"BM"):
        said = int.from_bytes(head[2:6], "little")
        return None if said == 0 else size >= said
    return None

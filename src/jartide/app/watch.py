"""A watched folder: new photos in it are brought in as soon as they are whole.

The folder is looked at a few times a second rather than left to the system's own notices, which
network and phone folders do not give.
"""

from __future__ import annotations

import time
from collections.abc import Iterator
from pathlib import Path

from PySide6.QtCore import QObject, QTimer, Signal

from jartide.photo.endings import ends_whole
from jartide.photo.kinds import PHOTO_SUFFIXES

INTERVAL_MS = 400
# A file that does not show by itself whether it is whole has rested for so long.
_RESTED_S = 2.0
# One that shows that it is not is still brought in after this: it will be told what it lacks.
_GIVEN_UP_S = 30.0
# What is brought in at one look: the rest waits for the next one, so that nothing stalls.
_AT_A_LOOK_S = 0.015


class FolderWatch(QObject):
    """Tells of photos that came into a folder after the watch began."""

    arrived = Signal(str)  # path of a photo that is no longer growing
    lost = Signal(str)  # the folder is gone
    back = Signal(str)  # and is there again

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._folder: Path | None = None
        self._is_lost = False
        self._known: set[str] = set()
        # Of each file that is looked at: its size and time, and since when it has them.
        self._growing: dict[str, tuple[tuple[int, int], float]] = {}
        self._timer = QTimer(self)
        self._timer.setInterval(INTERVAL_MS)
        self._timer.timeout.connect(self.look)

    @property
    def folder(self) -> Path | None:
        """The watched folder, or None."""
        return self._folder

    def watch(self, folder: Path | None) -> None:
        """Watch a folder from now on; photos already in it are not brought in."""
        self._folder, self._growing, self._is_lost = folder, {}, False
        self._known = set() if folder is None else set(self._photos() or {})
        if folder is None:
            self._timer.stop()
        else:
            self._timer.start()

    def look(self) -> None:
        """Look once: a new file is brought in when it is whole and no longer changes."""
        if self._folder is None:
            return
        found = self._photos()
        if (found is None) != self._is_lost:
            self._is_lost = found is None
            (self.lost if self._is_lost else self.back).emit(self._folder.name)
        if found is None:
            return
        ends = time.perf_counter() + _AT_A_LOOK_S
        for name in self._whole(found):
            self._known.add(name)
            self._growing.pop(name)
            self.arrived.emit(str(self._folder / name))
            if self._folder is None or time.perf_counter() > ends:
                return

    def _whole(self, found: dict[str, tuple[int, int]]) -> Iterator[str]:
        """Names of new files that are whole; of the others it is noted how they stand."""
        assert self._folder is not None
        now = time.monotonic()
        whole = []
        for name in found.keys() - self._known:
            state = found[name]
            before, since = self._growing.get(name, (None, now))
            if before != state:
                self._growing[name] = (state, now)
            elif state[0] > 0:
                rested = now - since
                shows = ends_whole(self._folder / name)
                if shows or rested > (_RESTED_S if shows is None else _GIVEN_UP_S):
                    whole.append(name)
        yield from sorted(whole, key=lambda name: (found[name][1], name))

    def _photos(self) -> dict[str, tuple[int, int]] | None:
        """Size and time of every photo in the folder; None when it can't be read."""
        assert self._folder is not None
        found = {}
        try:
            for path in self._folder.iterdir():
                if path.suffix.lower() in PHOTO_SUFFIXES and not path.name.startswith("."):
                    try:
                        state = path.stat()
                    except OSError:
                        continue  # it vanished between listing and looking
                    found[path.name] = (state.st_size, state.st_mtime_ns)
        except OSError:
            return None
        return found

"""A watched folder: new photos in it are brought in as soon as they are whole.

The folder is looked at a few times a second rather than left to the system's own notices, which
network and phone folders do not give.
"""

from __future__ import annotations

import os
import time
from pathlib import Path

from PySide6.QtCore import QObject, QTimer, Signal

from jartide.photo.endings import ends_whole
from jartide.photo.kinds import PHOTO_SUFFIXES

INTERVAL_MS = 400
# A file that does not show by itself whether it is whole has rested for so long.
_RESTED_S = 2.0
# One that shows that it is not is still brought in after this: it will be told what it lacks.
_GIVEN_UP_S = 30.0
# What is brought in at one look: the rest waits for the next one, so that nothing stalls. So many
# and no more, since each is decoded, kept and shown before the painter's hand has its turn again.
_AT_A_LOOK_S = 0.015
_AT_A_LOOK = 2


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
        self._unfinished: set[str] = set()
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
        self._unfinished = set()
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
        brought = 0
        for name in self._at_rest(found):
            if self._is_whole(name):
                brought += 1
                self._known.add(name)
                self._growing.pop(name)
                self.arrived.emit(str(self._folder / name))
            if self._folder is None or brought == _AT_A_LOOK or time.perf_counter() > ends:
                return

    def _at_rest(self, found: dict[str, tuple[int, int]]) -> list[str]:
        """New files that are as they were at the last look, the oldest first."""
        now = time.monotonic()
        rested = []
        for name in found.keys() - self._known:
            state = found[name]
            if self._growing.get(name, (None, now))[0] != state:
                self._growing[name] = (state, now)
            elif state[0] > 0:
                rested.append(name)
        # What was looked at and was not whole has its next turn after those that were not.
        return sorted(rested, key=lambda name: (name in self._unfinished, found[name][1], name))

    def _is_whole(self, name: str) -> bool:
        """Whether a file that no longer changes is to be brought in."""
        assert self._folder is not None
        rested = time.monotonic() - self._growing[name][1]
        shows = ends_whole(self._folder / name)
        whole = bool(shows) or rested > (_RESTED_S if shows is None else _GIVEN_UP_S)
        (self._unfinished.discard if whole else self._unfinished.add)(name)
        return whole

    def _photos(self) -> dict[str, tuple[int, int]] | None:
        """Size and time of every photo in the folder; None when it can't be read."""
        assert self._folder is not None
        found = {}
        try:
            with os.scandir(self._folder) as entries:
                for entry in entries:
                    suffix = os.path.splitext(entry.name)[1].lower()
                    if suffix in PHOTO_SUFFIXES and not entry.name.startswith("."):
                        try:
                            state = entry.stat()
                        except OSError:
                            continue  # it vanished between listing and looking
                        found[entry.name] = (state.st_size, state.st_mtime_ns)
        except OSError:
            return None
        return found

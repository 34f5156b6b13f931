"""A watched folder: new photos in it are brought in as soon as they are whole.

The folder is looked at twice a second rather than left to the system's own
notices, which network and phone folders do not give.
"""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QObject, QTimer, Signal

from jartide.photo.kinds import PHOTO_SUFFIXES

INTERVAL_MS = 400


class FolderWatch(QObject):
    """Tells of photos that came into a folder after the watch began."""

    arrived = Signal(str)  # path of a photo that is no longer growing
    lost = Signal(str)  # the folder is gone

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._folder: Path | None = None
        self._known: set[str] = set()
        self._growing: dict[str, tuple[int, int]] = {}
        self._timer = QTimer(self)
        self._timer.setInterval(INTERVAL_MS)
        self._timer.timeout.connect(self.look)

    @property
    def folder(self) -> Path | None:
        """The watched folder, or None."""
        return self._folder

    def watch(self, folder: Path | None) -> None:
        """Watch a folder from now on; photos already in it are not brought in."""
        self._folder, self._growing = folder, {}
        self._known = set() if folder is None else set(self._photos() or {})
        if folder is None:
            self._timer.stop()
        else:
            self._timer.start()

    def look(self) -> None:
        """Look once: a new file is brought in when its size stayed the same since last time."""
        found = self._photos()
        if found is None:
            gone, self._folder = self._folder, None
            self._timer.stop()
            self.lost.emit("" if gone is None else gone.name)
            return
        for name, state in found.items():
            if name in self._known:
                continue
            if self._growing.get(name) == state and state[0] > 0:
                self._known.add(name)
                self._growing.pop(name)
                assert self._folder is not None
                self.arrived.emit(str(self._folder / name))
            else:
                self._growing[name] = state

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

"""Undo steps: records as they were and as they became, saved in one transaction each way."""

from __future__ import annotations

import time
import zlib
from typing import TYPE_CHECKING

from PySide6.QtGui import QUndoCommand

if TYPE_CHECKING:
    from jartide.app.document import Document
    from jartide.store.records import Record

# Nudges further apart than this are separate steps, seconds.
_ONE_DRAG_S = 1.5


class PutRecords(QUndoCommand):
    """Replaces records by others of the same ids."""

    def __init__(
        self,
        document: Document,
        text: str,
        old: tuple[Record, ...],
        new: tuple[Record, ...],
        drag: str,
    ) -> None:
        super().__init__(text)
        self._document, self._old, self._new = document, old, new
        # Qt merges neighbours of one id; -1 never merges.
        self._drag_id = zlib.crc32(drag.encode()) & 0x7FFFFFFF if drag else -1
        self._at = time.monotonic()

    def redo(self) -> None:
        """Save the changed records; what can't be saved is no step."""
        if not self._document.write(self._new):
            self.setObsolete(True)

    def undo(self) -> None:
        """Save the records as they were."""
        self._document.write(self._old)

    def id(self) -> int:
        """Return what Qt merges by."""
        return self._drag_id

    def mergeWith(self, other: QUndoCommand) -> bool:
        """Make one step of the nudges of one drag."""
        if not isinstance(other, PutRecords) or other._at - self._at > _ONE_DRAG_S:
            return False
        self._new, self._at = other._new, other._at
        return True

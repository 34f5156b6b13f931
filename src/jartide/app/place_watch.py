"""Whether the workspace's folder is still where it was opened: looked at once a second."""

from __future__ import annotations

from PySide6.QtCore import QObject, QTimer, Signal

from jartide.job.open_job import OpenJob

_TICK_MS = 1000


class PlaceWatch(QObject):
    """Tells when the folder is moved, removed or unmounted, and when it is back."""

    gone = Signal(str)  # the folder, at every look
    back = Signal()

    def __init__(self, job: OpenJob, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._job = job
        self._is_gone = False
        self._timer = QTimer(self)
        self._timer.setInterval(_TICK_MS)
        self._timer.timeout.connect(self.look)
        self._timer.start()

    def look(self) -> None:
        """Look once."""
        workspace = self._job.workspace
        was_gone = self._is_gone
        self._is_gone = workspace is not None and not workspace.is_there()
        if workspace is not None and self._is_gone:
            # Said again and again: a sentence in the foot passes.
            self.gone.emit(str(workspace.folder))
        elif was_gone:
            self.back.emit()

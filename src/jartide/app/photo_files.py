"""Ask for photo files and read them; what can't be read is said in one sentence."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QFileDialog, QWidget

from jartide.app.words import PHOTO_FILES
from jartide.wording import tr

if TYPE_CHECKING:
    from jartide.app.document import Document

Take = Callable[[bytes, str], None]


def ask_photos(parent: QWidget, document: Document, take: Take) -> None:
    """Ask for photo files and hand the bytes and name of each one on."""
    files, _ = QFileDialog.getOpenFileNames(
        parent, tr("dialog.add_photos"), "", f"{tr('dialog.photos')} ({PHOTO_FILES})"
    )
    for file in files:
        take_file(Path(file), document, take)


def take_file(path: Path, document: Document, take: Take) -> None:
    """Read one photo file and hand its bytes and name on."""
    try:
        data = path.read_bytes()
    except OSError as error:
        why = error.strerror or type(error).__name__
        document.failed.emit(tr("error.photo.unreadable", name=path.name, why=why))
        return
    take(data, path.name)

"""Photos from files and from the clipboard; what can't be read is said in one sentence."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QBuffer, QIODevice, QMimeData
from PySide6.QtGui import QImage, QImageWriter
from PySide6.QtWidgets import QFileDialog, QWidget

from jartide.errors import PhotoError
from jartide.photo.kinds import PHOTO_FILES
from jartide.wording import tr

Take = Callable[[Callable[[], bytes], str], None]


def ask_photos(parent: QWidget, take: Take) -> None:
    """Ask for photo files and hand the bytes and name of each one on."""
    files, _ = QFileDialog.getOpenFileNames(
        parent, tr("dialog.add_photos"), "", f"{tr('dialog.photos')} ({PHOTO_FILES})"
    )
    for file in files:
        take_file(Path(file), take)


def take_file(path: Path, take: Take) -> None:
    """Hand on what reads one photo file, to be done where nothing waits for it, and its name."""

    def read() -> bytes:
        try:
            return path.read_bytes()
        except OSError as error:
            why = error.strerror or type(error).__name__
            raise PhotoError("error.photo.unreadable", name=path.name, why=why) from error

    take(read, path.name)


def pasted_photo(mime: QMimeData) -> bytes | Callable[[], bytes]:
    """Return the picture on the clipboard as a file, or what makes one off the interface thread.

    A picture that lies there as a file already is neither decoded nor encoded here.
    """
    for kind in ("image/png", "image/jpeg"):
        if kind in mime.formats():
            return bytes(mime.data(kind).data())
    image = QImage(mime.imageData())

    def encode() -> bytes:
        buffer = QBuffer()
        buffer.open(QIODevice.OpenModeFlag.WriteOnly)
        QImageWriter(buffer, b"png").write(image)
        return bytes(buffer.data().data())

    return encode

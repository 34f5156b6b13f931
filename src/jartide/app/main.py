"""Start the window: shown first, then the workspace opened behind it."""

from __future__ import annotations

import hashlib
import os
import sys
import tempfile
from pathlib import Path

from PySide6.QtCore import QTimer
from PySide6.QtGui import QIcon, QPixmap
from PySide6.QtWidgets import QApplication

from jartide.app.document import Document
from jartide.app.theme import font, load_fonts
from jartide.app.window import MainWindow
from jartide.wording import tr


def run_app(workspace: Path | None, *, demo: bool = False) -> int:
    """Open the window on a workspace and stay until it is closed; return the exit status.

    `demo` opens the demo job, in `workspace` or in a fresh place.
    """
    application = make_application()
    folder = _folder(workspace, demo)
    if _handed_over(folder):
        print(tr("cli.handed_over"), file=sys.stderr)
        return 0
    document = Document()
    window = MainWindow(document)
    server = _listen(folder, window)
    window.show()
    # After the first painting: the window stands before anything heavy is imported.
    QTimer.singleShot(0, lambda: document.open(folder, demo=demo))
    seconds = os.environ.get("JARTIDE_CLOSE_AFTER_S")
    if seconds:  # for starting without a person: show, open, wait, close
        pause = round(float(seconds) * 1000)
        document.opened.connect(lambda: print(tr("cli.shown"), file=sys.stderr))
        document.opened.connect(lambda: QTimer.singleShot(pause, window.close))
    status = application.exec()
    server.close()
    return status


def make_application() -> QApplication:
    """Return the application with its fonts and icon, made once."""
    application = QApplication.instance()
    if not isinstance(application, QApplication):
        application = QApplication(sys.argv[:1])
    application.setApplicationName("Jar Tide")
    application.setDesktopFileName("jar-tide")
    application.setStyle("Fusion")
    load_fonts()
    application.setFont(font(16))
    application.setWindowIcon(_icon())
    return application


def _icon() -> QIcon:
    """The application's own drawing: a jar with a tide line."""
    from PySide6.QtCore import Qt
    from PySide6.QtGui import QColor, QPainter

    from jartide.app.elements.jar import draw_jar
    from jartide.app.kit import Kit
    from jartide.app.theme import DAY

    pixmap = QPixmap(128, 128)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    draw_jar(Kit(painter, DAY), 16, 22, 96, fill=QColor("#3c5b4d"), level=0.55, tide=0.7)
    painter.end()
    return QIcon(pixmap)


def _folder(workspace: Path | None, demo: bool) -> Path:
    if workspace is not None:
        return workspace.expanduser().resolve()
    if demo:
        return Path(tempfile.mkdtemp(prefix="jar-tide-demo-"))
    from platformdirs import user_data_path

    return user_data_path("jar-tide", appauthor=False)


def _server_name(folder: Path) -> str:
    return "jar-tide-" + hashlib.sha256(os.fsencode(folder)).hexdigest()[:16]


def _handed_over(folder: Path) -> bool:
    """Ask the window that owns this workspace to come to the front; False when there is none."""
    from PySide6.QtNetwork import QLocalSocket

    socket = QLocalSocket()
    socket.connectToServer(_server_name(folder))
    if not socket.waitForConnected(200):
        return False
    socket.write(b"raise")
    socket.waitForBytesWritten(200)
    socket.disconnectFromServer()
    return True


def _listen(folder: Path, window: MainWindow):
    from PySide6.QtNetwork import QLocalServer

    server = QLocalServer(window)
    QLocalServer.removeServer(_server_name(folder))  # left over from a crash
    server.listen(_server_name(folder))

    def asked() -> None:
        server.nextPendingConnection()
        window.raise_up()

    server.newConnection.connect(asked)
    return server

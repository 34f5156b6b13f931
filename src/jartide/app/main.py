"""Start the window: shown first, then the workspace opened behind it."""

from __future__ import annotations

import hashlib
import linecache
import os
import sys
import tempfile
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, replace
from importlib import import_module
from pathlib import Path
from typing import TYPE_CHECKING

from platformdirs import user_data_path
from PySide6.QtCore import QObject, QProcess, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QColor, QIcon, QPainter, QPixmap
from PySide6.QtNetwork import QLocalServer, QLocalSocket
from PySide6.QtWidgets import QApplication

from jartide.app.crash_report import watch_for_failures
from jartide.app.elements.jar import draw_jar
from jartide.app.kit import Kit
from jartide.app.measure import choose_text_size, px
from jartide.app.roles import tell_roles
from jartide.app.runner import QtRunner
from jartide.app.stations.registry import BY_NAME, STATIONS
from jartide.app.theme import DAY, font, load_fonts
from jartide.app.widgets.painted import keep_still
from jartide.app.window import MainWindow
from jartide.errors import JarTideError
from jartide.job.runner import Progress, Runner
from jartide.store.app_settings import AppSettings, read_settings, write_settings
from jartide.store.menu_entry import command_line
from jartide.wording import choose_language, tr

if TYPE_CHECKING:
    from jartide.job.open_job import OpenJob

# The interface has its turn so soon, however busy the thread in the background is.
_TURN_S = 0.001


def run_app(workspace: Path | None, *, demo: bool = False) -> int:
    """Open the window on a workspace and stay until it is closed; return the exit status.

    `demo` opens the demo job, in `workspace` or in a fresh place.
    """
    settings = read_settings()
    choose_text_size(settings.text_scale)
    choose_language(settings.language)
    application = make_application()
    keep_still(settings.reduced_motion)
    folder = _folder(workspace, demo, settings.workspace)
    if _handed_over(folder):
        print(tr("cli.handed_over"), file=sys.stderr)
        return 0
    window = MainWindow()
    server = _listen(folder, window)
    own = folder if workspace is not None or demo else None

    def restart() -> None:
        server.close()  # else the new window would only bring this one to the front
        _restart(window, own)

    window.restart_wanted.connect(restart)
    failures = _Failures()
    failures.happened.connect(lambda place: window.foot.show_error(_failure_words(place)))
    opened = Opened()
    watch_for_failures(
        lambda: opened.folder or folder,
        failures.happened.emit,
    )
    _as_it_was(window, settings)
    runner = QtRunner(window)

    def loaded(make_job: Callable[[Runner], OpenJob]) -> None:
        job = make_job(runner)
        opened.job = job
        window.bind(job)
        if os.environ.get("JARTIDE_CLOSE_AFTER_S"):
            _close_by_itself(application, window, job)
        if demo:
            opens_on: str = import_module("jartide.store.demo").demo_opens_on()
            job.events.opened.connect(lambda: window.open_finish_named(opens_on))
        job.open(folder, demo=demo)
        runner.start("warm", warm_up, returned=lambda _: None, failed=raise_again)

    # After the first painting: the window stands before anything heavy is imported.
    QTimer.singleShot(
        0, lambda: runner.start("load", load_model, returned=loaded, failed=raise_again)
    )
    window.closing.connect(lambda: _remember(window))
    status = application.exec()
    server.close()
    return status


def _as_it_was(window: MainWindow, settings: AppSettings) -> None:
    """Show the window as large as it was last closed, as far as the screen has room."""
    if settings.window is not None:
        window.resize(QSize(*settings.window).boundedTo(window.screen().availableSize()))
    if settings.full_screen:
        window.showFullScreen()
    else:
        window.show()


def _remember(window: MainWindow) -> None:
    """Keep the window's size for the next start; a place that can't be written keeps nobody."""
    size = window.normalGeometry() if window.isFullScreen() else window.geometry()
    kept = replace(
        read_settings(),
        window=(size.width(), size.height()),
        full_screen=window.isFullScreen(),
    )
    with suppress(JarTideError):
        write_settings(kept)


@dataclass
class Opened:
    """The model, once it is there."""

    job: OpenJob | None = None

    @property
    def folder(self) -> Path | None:
        """Where the open workspace lies."""
        workspace = None if self.job is None else self.job.workspace
        return None if workspace is None else workspace.folder


def load_model(progress: Progress) -> Callable[[Runner], OpenJob]:
    """Import the model and all that it needs, in the worker thread; return what makes it."""
    module = import_module("jartide.job.open_job")
    for name in ("jartide.job.standing", "jartide.app.guide", BY_NAME["jobs"].place):
        import_module(name)
    return module.OpenJob


def warm_up(progress: Progress) -> None:
    """Import the stations and read the tables before they are asked for, in the worker thread."""
    for entry in STATIONS:
        import_module(entry.place)
        progress(0.5)
    import_module("jartide.job.tables").read_all()
    records = import_module("jartide.store.workspace").KINDS
    import_module("jartide.store.serialise").get_ready(*records)
    # Whoever looks at a source text on the way keeps it: tens of megabytes nobody reads.
    linecache.clearcache()


def make_window() -> MainWindow:
    """Return a window with a model of its own: for pictures, timings and tests."""
    runner = QtRunner()
    window = MainWindow(load_model(lambda _: None)(runner))
    runner.setParent(window)
    return window


def raise_again(error: Exception) -> None:
    """A program that can't be loaded is broken: the failure is reported as one nobody foresaw."""
    raise error


def _close_by_itself(application: QApplication, window: MainWindow, job: OpenJob) -> None:
    """For starting without a person: show, open, wait, close."""
    pause = round(float(os.environ["JARTIDE_CLOSE_AFTER_S"]) * 1000)
    job.events.opened.connect(lambda: print(tr("cli.shown"), file=sys.stderr))
    job.events.opened.connect(lambda: QTimer.singleShot(pause, window.close))
    job.events.failed.connect(lambda words: (print(words, file=sys.stderr), application.exit(1)))


class _Failures(QObject):
    """Carries a failure to the interface thread, whatever thread it happened on."""

    happened = Signal(object)  # path of the report, or None


def _failure_words(place: Path | None) -> str:
    return tr("error.failure.unwritten" if place is None else "error.failure", place=str(place))


def _restart(window: MainWindow, folder: Path | None) -> None:
    """Start again on the same workspace, so that text size and language take effect."""
    arguments = command_line()[1:]
    if folder is not None:
        arguments += ["--workspace", str(folder)]
    window.close()
    process = QProcess()
    process.setProgram(command_line()[0])
    process.setArguments(arguments)
    process.startDetached()


def make_application() -> QApplication:
    """Return the application with its fonts and icon, made once."""
    application = QApplication.instance()
    if not isinstance(application, QApplication):
        application = QApplication(sys.argv[:1])
    sys.setswitchinterval(_TURN_S)
    application.setApplicationName("Jar Tide")
    application.setDesktopFileName("jar-tide")
    application.setStyle("Fusion")
    load_fonts()
    tell_roles()
    application.setFont(font(px(16)))
    application.setWindowIcon(_icon())
    return application


def _icon() -> QIcon:
    """The application's own drawing: a jar with a tide line."""
    pixmap = QPixmap(128, 128)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    draw_jar(Kit(painter, DAY), 16, 22, 96, fill=QColor("#3c5b4d"), level=0.55, tide=0.7)
    painter.end()
    return QIcon(pixmap)


def _folder(workspace: Path | None, demo: bool, usual: str) -> Path:
    if workspace is not None:
        return workspace.expanduser().resolve()
    if demo:
        return Path(tempfile.mkdtemp(prefix="jar-tide-demo-"))
    if usual:
        return Path(usual)
    return user_data_path("jar-tide", appauthor=False)


def _server_name(folder: Path) -> str:
    return "jar-tide-" + hashlib.sha256(os.fsencode(folder)).hexdigest()[:16]


def _handed_over(folder: Path) -> bool:
    """Ask the window that owns this workspace to come to the front; False when there is none."""
    socket = QLocalSocket()
    socket.connectToServer(_server_name(folder))
    if not socket.waitForConnected(200):
        return False
    socket.write(b"raise")
    socket.waitForBytesWritten(200)
    socket.disconnectFromServer()
    return True


def _listen(folder: Path, window: MainWindow) -> QLocalServer:
    server = QLocalServer(window)
    QLocalServer.removeServer(_server_name(folder))  # left over from a crash
    server.listen(_server_name(folder))

    def asked() -> None:
        server.nextPendingConnection()
        window.raise_up()

    server.newConnection.connect(asked)
    return server

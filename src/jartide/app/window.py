"""The main window: header, the station that is open, foot; and what the keyboard reaches."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QBuffer, QIODevice, QMimeData, QSize, Qt
from PySide6.QtGui import (
    QAction,
    QCloseEvent,
    QDragEnterEvent,
    QDropEvent,
    QImage,
    QImageWriter,
    QKeySequence,
)
from PySide6.QtWidgets import (
    QApplication,
    QMainWindow,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from jartide.app.document import Document
from jartide.app.guide import Guide
from jartide.app.notices import Notices
from jartide.app.photo_files import ask_photos, take_file
from jartide.app.stations.base import Station
from jartide.app.stations.boards.station import BoardsStation
from jartide.app.stations.help_station import HelpStation
from jartide.app.stations.jars.station import JarsStation
from jartide.app.stations.jobs.station import JobsStation
from jartide.app.stations.photos.station import PhotosStation
from jartide.app.stations.reading.station import ReadingStation
from jartide.app.stations.settings_station import SettingsStation
from jartide.app.stations.sheet.station import SheetStation
from jartide.app.stations.steps.station import StepsStation
from jartide.app.theme import palette, style_sheet
from jartide.app.widgets.foot import Foot
from jartide.app.widgets.header import Header
from jartide.app.widgets.painted import choose_theme, current_theme
from jartide.errors import JarTideError
from jartide.wording import tr

if TYPE_CHECKING:
    from jartide.store.bundle import Bundle


class MainWindow(QMainWindow):
    """Shows one finish's stations, or all jobs."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.setWindowTitle("Jar Tide")
        self.resize(1280, 800)
        self.setAcceptDrops(True)
        self.jobs = JobsStation(document)
        self.photos = PhotosStation(document)
        self.reading = ReadingStation(document)
        self.jars = JarsStation(document)
        self.steps = StepsStation(document)
        self.steps.desk.jar_desk = self.jars.desk
        self.jars.desk.plan_desk = self.steps.desk
        self.steps.came_due.connect(self._came_due)
        self.steps.told.connect(self._told)
        self.boards = BoardsStation(document)
        self.boards.records.jar_desk = self.jars.desk
        self.boards.records.plan_desk = self.steps.desk
        self.jars.desk.ready.connect(self.boards.update)
        self.sheet = SheetStation(document, self.jars.desk, self.steps.desk)
        self.sheet.desk.ready.connect(lambda: self._update_header())
        self._stations: list[Station] = [
            self.photos,
            self.reading,
            self.jars,
            self.steps,
            self.boards,
            self.sheet,
        ]
        self.help = HelpStation(document)
        self.settings = SettingsStation(document)
        self.guide = Guide(document)
        # Where help and settings lead back to.
        self._came_from: Station = self.jobs
        self._arrivals: set[str] = set()
        self._notices = Notices(self)

        self.header = Header(len(self._stations))
        self.foot = Foot()
        self._stack = QStackedWidget()
        for page in (self.jobs, *self._stations, self.help, self.settings):
            self._stack.addWidget(page)
            page.foot_changed.connect(self._foot_changed)
            page.station_wanted.connect(self.go_to)
            page.help_wanted.connect(self.show_help)
        frame = QWidget()
        column = QVBoxLayout(frame)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.header)
        column.addWidget(self.guide)
        column.addWidget(self._stack, 1)
        column.addWidget(self.foot)
        self._set_frame(frame)

        self.header.station_chosen.connect(lambda n: self.go_to(self._stations[n].name))
        self.header.jobs_wanted.connect(self.show_jobs)
        self.header.bench_switched.connect(self.switch_bench)
        self.header.help_wanted.connect(lambda: self.show_help())
        self.header.settings_wanted.connect(self.show_settings)
        self.help.left.connect(self.go_back)
        self.help.settings_wanted.connect(self.show_settings)
        self.help.guide_wanted.connect(self.guide.start)
        self.settings.left.connect(self.go_back)
        self.settings.bench_switched.connect(self.switch_bench)
        self.settings.place_wanted.connect(self.open_place)
        self.jobs.guide_wanted.connect(self.guide.start)
        self.jars.paints.jobs_wanted.connect(self._show_jobs_of_paint)
        self.guide.finish_wanted.connect(self.open_finish)
        self.guide.station_wanted.connect(self.go_to)
        self.jobs.finish_opened.connect(self.open_finish)
        self.jobs.bundles.told.connect(self._told)
        self.jobs.bundles.known.connect(self._known_bundle)
        self.jobs.restore_wanted.connect(self._restore_wanted)
        document.told.connect(self._told)
        self.photos.add_wanted.connect(self.ask_for_photos)
        self.boards.add_wanted.connect(self.ask_for_photos)
        self.boards.photo_wanted.connect(self._open_photo)
        document.changed.connect(self._document_changed)
        document.opened.connect(self._opened)
        document.failed.connect(self.foot.show_error)
        document.removed.connect(lambda text: self.foot.offer_undo(text, document.undo_stack.undo))
        document.reading_ready.connect(lambda _: self._update_header())
        document.arrived.connect(self._arrived)
        document.picture_ready.connect(self._picture_ready)
        self.photos.watch.arrived.connect(self._watched_file)
        self._add_actions()
        self.apply_theme()
        self.show_jobs()

    # ---- going places

    def page(self) -> Station:
        """Return the page that is shown."""
        page = self._stack.currentWidget()
        assert isinstance(page, Station)
        return page

    def show_jobs(self) -> None:
        """Show all jobs."""
        self.document.finish = None
        self._show(self.jobs)

    def open_finish(self, finish_id: str) -> None:
        """Open a finish at the station its work has come to."""
        for _, finishes in self.document.jobs():
            for finish in finishes:
                if finish.id == finish_id:
                    self.document.open_finish(finish)
        if self.document.finish is None:
            return
        if self.document.target_reading() is None:
            self.go_to("photos")
        else:
            self.go_to("boards" if self.document.boards() else "reading")

    def go_to(self, name: str) -> None:
        """Go to a station of the open finish."""
        if self.document.finish is None:
            return
        self._show(next(s for s in self._stations if s.name == name))

    def _show(self, page: Station) -> None:
        self._stack.setCurrentWidget(page)
        page.enter()
        page.setFocus()
        self._update_header()
        self._foot_changed()

    def show_help(self, key: str = "") -> None:
        """Show the help for what is on the screen, or for a number."""
        page = self.page()
        if page is not self.help and page is not self.settings:
            self._came_from = page
        self.help.open_at(key or self._came_from.help_key())
        self._show(self.help)

    def show_settings(self) -> None:
        """Show the settings."""
        page = self.page()
        if page is not self.help and page is not self.settings:
            self._came_from = page
        self._show(self.settings)

    def go_back(self) -> None:
        """Go back from help or settings to where they were asked for."""
        if self._came_from is self.jobs or self.document.finish is None:
            self.show_jobs()
        else:
            self._show(self._came_from)

    def open_place(self, folder: str) -> None:
        """Work in another folder from now on; "" for the usual one."""
        from dataclasses import replace

        from platformdirs import user_data_path

        from jartide.store.app_settings import read_settings, write_settings

        workspace = self.document.workspace
        before = None if workspace is None else workspace.folder
        place = Path(folder) if folder else user_data_path("jar-tide", appauthor=False)

        def opened() -> None:
            self.document.opened.disconnect(opened)
            now = self.document.workspace
            if now is None or now.folder != place:
                return  # it could not be opened: the one before is open again
            try:
                write_settings(replace(read_settings(), workspace=folder))
            except JarTideError as error:
                self.foot.show_error(str(error))

        self.document.close()
        self.document.undo_stack.clear()
        self.show_jobs()
        self.document.opened.connect(opened)
        self.document.open(place, demo=False, instead=before)

    def _show_jobs_of_paint(self, tin_id: str) -> None:
        self.show_jobs()
        self.jobs.search.look_for_paint(tin_id)

    def _set_frame(self, frame: QWidget) -> None:
        """Take the whole window; where the screen is smaller than it needs, scroll."""
        least = QSize(1180, 720)
        screen = self.screen().availableSize()
        shown = QApplication.platformName() not in ("offscreen", "minimal")
        if not shown or (screen.width() >= least.width() and screen.height() >= least.height()):
            self.setMinimumSize(least)
            self.setCentralWidget(frame)
            return
        frame.setMinimumSize(least)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        scroll.setWidget(frame)
        self.setCentralWidget(scroll)
        self.resize(screen.boundedTo(QSize(1280, 800)))

    def _open_photo(self, photo_id: str) -> None:
        self.photos.choose(photo_id)
        self.go_to("photos")

    # ---- following the document

    def _opened(self) -> None:
        workspace = self.document.workspace
        if workspace is not None and workspace.preference("bench") == "night":
            choose_theme("night")
            self.apply_theme()

    def _document_changed(self) -> None:
        aside = (self.jobs, self.help, self.settings)
        if self.document.finish is None and self.page() not in aside:
            self.show_jobs()
            return
        self._update_header()
        self._foot_changed()

    def _arrived(self, photo_id: str, watched: bool) -> None:
        """A new board, or a photo of the watched folder: prepare it, then go where it leads."""
        photo = next((p for p in self.document.photos() if p.id == photo_id), None)
        if photo is not None and photo.use in ("surroundings", "watched"):
            # Looked at on its own page; it needs no scale.
            self.document.want_picture(photo)
        elif photo is not None and self.page() is self.photos and not watched:
            self.photos.choose(photo_id)
        elif photo is not None and (watched or self.page() is self.boards):
            self._arrivals.add(photo_id)
            self.document.want_picture(photo)
            self._picture_ready(photo_id)

    def _picture_ready(self, photo_id: str) -> None:
        """Where the card tells all, go straight to the reading; else to what is missing."""
        photo = next((p for p in self.document.photos() if p.id == photo_id), None)
        if photo_id not in self._arrivals or photo is None:
            return
        flat, refused = self.document.flat(photo), self.document.refusal(photo)
        if flat is None and refused is None:
            return
        self._arrivals.discard(photo_id)
        if flat is None or flat.mm_per_px is None:
            self._open_photo(photo_id)
        elif self.page() is self.boards and self.boards.page is not None:
            self.boards.refresh()  # it came into the page that is open there
        elif photo.board_id is not None:
            self.boards.show_board(photo.board_id)
            self.go_to("boards")
        else:
            self.go_to("reading")

    def _update_header(self) -> None:
        finish = self.document.finish
        if finish is None:
            self.header.show_title("Jar Tide", tr("header.jobs_note"), leads_back=False)
            self.header.show_stations([], None)
            return
        job = self.document.job()
        note = job.name if job is not None else ""
        self.header.show_title(finish.name, note, leads_back=True)
        states = [station.header_state() for station in self._stations]
        page = self.page()
        current = self._stations.index(page) if page in self._stations else None
        self.header.show_stations(states, current)
        self.setWindowTitle(f"{finish.name} – Jar Tide")

    def _foot_changed(self) -> None:
        self.foot.show_state(self.page().foot_state())

    # ---- bringing photos in

    def ask_for_photos(self, board: bool) -> None:
        """Ask for photo files; `board` when they are of a new board."""
        ask_photos(
            self,
            self.document,
            lambda data, name: self.document.add_photo(data, name, board=board),
        )

    def _watched_file(self, name: str) -> None:
        """A photo came into the watched folder."""
        path = Path(name)
        if self.document.finish is None:
            self.foot.show_error(tr("error.watch.no_finish", name=path.name))
        elif self.page() is not self.boards or not self.boards.take_watched(path):
            self.add_file(path, board=False, watched=True)

    def add_file(self, path: Path, *, board: bool, watched: bool = False) -> None:
        """Bring one photo file into the open finish."""
        take_file(
            path,
            self.document,
            lambda data, name: self.document.add_photo(data, name, board=board, watched=watched),
        )

    def _bring(self, mime: QMimeData) -> bool:
        """Bring in what was dropped or pasted; on the Boards station it is a new board."""
        board = self.page() is self.boards
        if self.document.finish is None:
            self.foot.show_error(tr("error.drop.no_finish"))
            return False
        files = [Path(url.toLocalFile()) for url in mime.urls() if url.isLocalFile()]
        for file in files:
            self.add_file(file, board=board)
        if not files and mime.hasImage():
            image = QImage(mime.imageData())
            buffer = QBuffer()
            buffer.open(QIODevice.OpenModeFlag.WriteOnly)
            QImageWriter(buffer, b"png").write(image)
            self.document.add_photo(bytes(buffer.data().data()), tr("photo.pasted"), board=board)
            return True
        return bool(files)

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if event.mimeData().hasUrls() or event.mimeData().hasImage():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        if self._bring(event.mimeData()):
            event.acceptProposedAction()

    def paste(self) -> None:
        """Bring in the picture or files on the clipboard."""
        mime = QApplication.clipboard().mimeData()
        if not (mime.hasUrls() or mime.hasImage()) or not self._bring(mime):
            self.foot.show_error(tr("error.paste.nothing"))

    # ---- actions

    def _add_actions(self) -> None:
        """Everything the keyboard does that is not a button of its own."""
        for keys, run in (
            (QKeySequence("Ctrl+O"), self._open_action),
            (QKeySequence(QKeySequence.StandardKey.Paste), self.paste),
            (QKeySequence(QKeySequence.StandardKey.Undo), self.document.undo_stack.undo),
            (QKeySequence("Ctrl+Shift+Z"), self.document.undo_stack.redo),
            (QKeySequence("Ctrl+Return"), self.foot.press_primary),
            (QKeySequence("F11"), self._switch_full_screen),
            (QKeySequence("F1"), self.show_help),
            (QKeySequence("Ctrl+,"), self.show_settings),
            (QKeySequence("Esc"), self._escape),
            (QKeySequence("Ctrl+Q"), self.close),
        ):
            action = QAction(self)
            action.setShortcut(keys)
            action.triggered.connect(lambda _=False, do=run: do())
            self.addAction(action)

    def _known_bundle(self, bundle: Bundle, name: str) -> None:
        """The job of a bundle is here already: the painter says what becomes of it."""
        put = self.jobs.bundles.put
        self.foot.show_choice(
            tr("bundle.known", name=name),
            [
                (tr("bundle.copy"), lambda: put(bundle, copy=True)),
                (tr("bundle.merge"), lambda: put(bundle)),
            ],
        )

    def _restore_wanted(self, path: Path) -> None:
        """Ask before a backup takes the place of everything."""
        self.foot.show_choice(
            tr("backup.sure", file=path.name),
            [(tr("backup.put"), lambda: self.document.restore(path))],
        )

    def _told(self, words: str) -> None:
        self.foot.show_word(words)

    def _came_due(self, words: str) -> None:
        """Something is dry: say so in the foot wherever the painter is, and on the desktop."""
        self.foot.show_news(words, tr("steps.go"), lambda: self.go_to("steps"))
        self._notices.tell(tr("steps.due_title"), words)

    def _open_action(self) -> None:
        if self.document.finish is not None:
            self.ask_for_photos(self.page() is self.boards)

    def _escape(self) -> None:
        if not self.page().escape():
            self.foot.clear_over()

    def _switch_full_screen(self) -> None:
        self.showNormal() if self.isFullScreen() else self.showFullScreen()

    def switch_bench(self) -> None:
        """Change between the day and the night bench."""
        name = "night" if current_theme().name == "day" else "day"
        choose_theme(name)
        self.apply_theme()
        workspace = self.document.workspace
        if workspace is not None and not workspace.read_only:
            workspace.set_preference("bench", name)

    def apply_theme(self) -> None:
        """Paint everything for the bench that is chosen."""
        theme = current_theme()
        application = QApplication.instance()
        assert isinstance(application, QApplication)
        application.setPalette(palette(theme))
        application.setStyleSheet(style_sheet(theme))
        for widget in self.findChildren(QWidget):
            widget.update()

    def closeEvent(self, event: QCloseEvent) -> None:
        focus = QApplication.focusWidget()
        if focus is not None:
            focus.clearFocus()  # a field being typed in is saved as it is left
        self.document.close()
        event.accept()

    def raise_up(self) -> None:
        """Come to the front: a second start asked for this window."""
        self.setWindowState(self.windowState() & ~Qt.WindowState.WindowMinimized)
        self.raise_()
        self.activateWindow()

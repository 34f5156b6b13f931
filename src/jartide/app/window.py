"""The main window: header, the station that is open, foot; and what the keyboard reaches."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from platformdirs import user_data_path
from PySide6.QtCore import QMimeData, QSize, Qt, Signal
from PySide6.QtGui import (
    QAction,
    QCloseEvent,
    QDragEnterEvent,
    QDropEvent,
    QKeySequence,
)
from PySide6.QtWidgets import (
    QApplication,
    QMainWindow,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from jartide.app.keys import KEYS
from jartide.app.notices import Notices
from jartide.app.photo_files import ask_photos, pasted_photo, take_file
from jartide.app.stations.base import Station
from jartide.app.stations.registry import BY_NAME, STATIONS
from jartide.app.theme import palette, style_sheet
from jartide.app.widgets.foot import Foot, FootState
from jartide.app.widgets.header import Header, StationState
from jartide.app.widgets.painted import choose_theme, current_theme
from jartide.app.widgets.room_area import RoomArea
from jartide.errors import JarTideError
from jartide.store.app_settings import read_settings, write_settings
from jartide.wording import tr

if TYPE_CHECKING:
    from jartide.app.glance_view import GlanceView
    from jartide.app.guide import Guide
    from jartide.app.incoming import Data
    from jartide.app.stations.boards.row_page import RowOverAll
    from jartide.job.open_job import OpenJob
    from jartide.store.bundle import Bundle


_LAST = "last_open"
LEAST, _USUAL = QSize(1180, 720), QSize(1280, 800)


class MainWindow(QMainWindow):
    """Shows one finish's stations, or all jobs. It stands before the model is there."""

    restart_wanted = Signal()
    closing = Signal()  # everything can still be read

    def __init__(self, job: OpenJob | None = None) -> None:
        super().__init__()
        self._job: OpenJob | None = None
        self.setWindowTitle("Jar Tide")
        self.setAcceptDrops(True)
        self._made: dict[str, Station] = {}
        self._areas: dict[str, RoomArea] = {}  # that they lie in, by name
        self.guide: Guide | None = None
        # Where help and settings lead back to.
        self._came_from = "jobs"
        self._notices = Notices(self)
        self._glance: GlanceView | None = None
        self._row: RowOverAll | None = None

        self.header = Header(len(STATIONS))
        self.foot = Foot()
        self._stack = QStackedWidget()
        frame = QWidget()
        self._column = QVBoxLayout(frame)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(0)
        self._column.addWidget(self.header)
        self._column.addWidget(self._stack, 1)
        self._column.addWidget(self.foot)
        self._set_frame(frame)

        self.header.station_chosen.connect(lambda n: self.go_to(STATIONS[n].name))
        self.header.jobs_wanted.connect(self.show_jobs)
        self.header.bench_switched.connect(self.switch_bench)
        self.header.help_wanted.connect(lambda: self.show_help())
        self.header.settings_wanted.connect(self.show_settings)
        self._add_actions()
        self.apply_theme()
        self._update_header()
        self.foot.show_state(FootState(text=tr("jobs.opening")))
        if job is not None:
            self.bind(job)

    @property
    def job(self) -> OpenJob:
        """The model that is shown; there is one as soon as anything can be pressed."""
        assert self._job is not None
        return self._job

    def bind(self, job: OpenJob) -> None:
        """Show a model from now on."""
        # These need all of the model's modules, which the window stands without.
        from jartide.app.arrivals import Arrivals
        from jartide.app.due_watch import DueWatch
        from jartide.app.guide import Guide
        from jartide.app.incoming import Incoming
        from jartide.app.place_watch import PlaceWatch

        self._job = job
        self.guide = Guide(job)
        self._column.insertWidget(1, self.guide)
        self.guide.finish_wanted.connect(self.open_finish)
        self.guide.station_wanted.connect(self.go_to)
        self.due_watch = DueWatch(job, self)
        self.due_watch.came_due.connect(self._came_due)
        self.place_watch = PlaceWatch(job, self)
        self.place_watch.gone.connect(self._place_gone)
        self.place_watch.back.connect(self._place_back)
        events = job.events
        events.told.connect(self._told)
        events.changed.connect(self._changed)
        events.opened.connect(self._opened)
        events.failed.connect(self.foot.show_error)
        events.removed.connect(self._removed)
        events.reading_ready.connect(self._came)
        events.worked_out.connect(self._update_header)
        self._arrivals = Arrivals(self)
        self._incoming = Incoming(job, self.foot)
        self.show_jobs()

    # ---- stations

    def station(self, name: str) -> Station:
        """Return a station, made when it is first asked for."""
        if name not in self._made:
            made = BY_NAME[name].make(self.job)
            self._made[name] = made
            self._areas[name] = RoomArea(made)
            self._stack.addWidget(self._areas[name])
            made.foot_changed.connect(partial(self._foot_changed_of, made))
            made.station_wanted.connect(self.go_to)
            made.help_wanted.connect(self.show_help)
            wire: Callable[[Station], None] | None = getattr(self, f"_wire_{name}", None)
            if wire is not None:
                wire(made)
        return self._made[name]

    def _wire_jobs(self, jobs) -> None:
        jobs.guide_wanted.connect(self.start_guide)
        jobs.finish_opened.connect(self.open_finish)
        jobs.bundles.known.connect(self._known_bundle)
        jobs.restore_wanted.connect(self._restore_wanted)

    def _wire_photos(self, photos) -> None:
        photos.add_wanted.connect(self.ask_for_photos)
        photos.watch.arrived.connect(self._watched_file)

    def _wire_jars(self, jars) -> None:
        jars.paints.jobs_wanted.connect(self._show_jobs_of_paint)

    def _wire_boards(self, boards) -> None:
        boards.add_wanted.connect(self.ask_for_photos)
        boards.photo_wanted.connect(self.open_photo)

    def _wire_sheet(self, sheet) -> None:
        sheet.save_job_wanted.connect(self.save_job)

    def _wire_help(self, pages) -> None:
        pages.left.connect(self.go_back)
        pages.settings_wanted.connect(self.show_settings)
        pages.guide_wanted.connect(self.start_guide)

    def _wire_settings(self, settings) -> None:
        settings.left.connect(self.go_back)
        settings.bench_switched.connect(self.switch_bench)
        settings.place_wanted.connect(self.open_place)
        settings.restart_wanted.connect(self.restart_wanted)

    def start_guide(self) -> None:
        """Begin the guide, or go on with it."""
        if self.guide is not None:
            self.guide.start()

    # ---- going places

    def page(self) -> Station:
        """Return the page that is shown."""
        page = self._shown()
        assert page is not None
        return page

    def _shown(self) -> Station | None:
        area = self._stack.currentWidget()
        page = area.widget() if isinstance(area, RoomArea) else None
        return page if isinstance(page, Station) else None

    def is_at(self, *names: str) -> bool:
        """Whether one of these stations is shown."""
        page = self._shown()
        return page is not None and page.name in names

    def show_jobs(self) -> None:
        """Show all jobs."""
        self.job.records.finish = None
        self._show(self.station("jobs"))

    def open_finish(self, finish_id: str) -> None:
        """Open a finish at the station its work has come to."""
        for _, finishes in self.job.records.jobs():
            for finish in finishes:
                if finish.id == finish_id:
                    self.job.records.open_finish(finish)
        if self.job.finish is None:
            return
        if self.job.readings.of_target() is None:
            self.go_to("photos")
        else:
            self.go_to("boards" if self.job.records.boards() else "reading")

    def open_finish_named(self, name: str) -> None:
        """Open the finish of a name, unless the painter came back to one already."""
        for _, finishes in self.job.records.jobs():
            for finish in finishes:
                if finish.name == name and self.job.finish is None:
                    self.open_finish(finish.id)

    def go_to(self, name: str) -> None:
        """Go to a station of the open finish, or to one of its pages: "boards/stages"."""
        if self.job.finish is None:
            return
        name, _, page = name.partition("/")
        station = self.station(name)
        self._show(station)
        if page:
            station.open_named(page)

    def _dress(self, page: Station) -> None:
        """Give a page the fields of the bench that is chosen; those not shown wait for theirs."""
        area, sheet = self._areas[page.name], style_sheet(current_theme())
        if area.styleSheet() != sheet:
            area.setStyleSheet(sheet)

    def _show(self, page: Station) -> None:
        self._dress(page)
        if page is not self._shown():
            self.foot.clear_over()  # what was said belongs to the page it was said on
        self._stack.setCurrentWidget(self._areas[page.name])
        page.enter()
        page.setFocus()
        self._areas[page.name].verticalScrollBar().setValue(0)
        self._update_header()
        self._foot_changed()

    def show_help(self, key: str = "") -> None:
        """Show the help for what is on the screen, or for a number."""
        self._remember_page()
        pages: Any = self.station("help")
        pages.open_at(key or self.station(self._came_from).help_key())
        self._show(pages)

    def show_settings(self) -> None:
        """Show the settings."""
        self._remember_page()
        self._show(self.station("settings"))

    def _remember_page(self) -> None:
        if not self.is_at("help", "settings"):
            self._came_from = self.page().name

    def go_back(self) -> None:
        """Go back from help or settings to where they were asked for."""
        if self._came_from == "jobs" or self.job.finish is None:
            self.show_jobs()
        else:
            self._show(self.station(self._came_from))

    def open_place(self, folder: str) -> None:
        """Work in another folder from now on; "" for the usual one."""
        workspace = self.job.workspace
        before = None if workspace is None else workspace.folder
        place = Path(folder) if folder else user_data_path("jar-tide", appauthor=False)

        def opened() -> None:
            self.job.events.opened.disconnect(opened)
            now = self.job.workspace
            if now is None or now.folder != place:
                return  # it could not be opened: the one before is open again
            try:
                write_settings(replace(read_settings(), workspace=folder))
            except JarTideError as error:
                self.foot.show_error(str(error))

        self.job.close()
        self.show_jobs()
        self.job.events.opened.connect(opened)
        self.job.open(place, demo=False, instead=before)

    def _show_jobs_of_paint(self, tin_id: str) -> None:
        self.show_jobs()
        jobs: Any = self.station("jobs")
        jobs.search.look_for_paint(tin_id)

    def _set_frame(self, frame: QWidget) -> None:
        """Be no smaller than the stations are drawn for; on a smaller screen they scroll."""
        self.setCentralWidget(frame)
        room = self.screen().availableSize()
        if QApplication.platformName() in ("offscreen", "minimal"):
            room = _USUAL  # there is no screen
        self.setMinimumSize(LEAST.boundedTo(room))
        self.resize(_USUAL.boundedTo(room))

    def open_photo(self, photo_id: str) -> None:
        """Open a photo on its station."""
        photos: Any = self.station("photos")
        photos.choose(photo_id)
        self.go_to("photos")

    # ---- following the model

    def _opened(self) -> None:
        workspace = self.job.workspace
        if workspace is not None and workspace.preference("bench") == "night":
            choose_theme("night")
            self.apply_theme()
        self._take_place()

    def _keep_place(self) -> None:
        """Keep where the painter is: the next start opens there."""
        workspace = self.job.workspace
        if workspace is None or workspace.read_only:
            return
        at = self._came_from if self.is_at("help", "settings") else self.page().name
        finish = None if at == "jobs" or self.job.finish is None else self.job.finish.id
        # A disk that is full keeps nobody from leaving.
        with suppress(JarTideError):
            workspace.set_preference(_LAST, {"finish": finish, "station": at})

    def _take_place(self) -> None:
        """Open the finish and station that were open when the work was last left."""
        workspace = self.job.workspace
        kept = None if workspace is None else workspace.preference(_LAST)
        if not isinstance(kept, dict) or self.job.finish is not None:
            return
        station, finish_id = kept.get("station"), kept.get("finish")
        if station not in {entry.name for entry in STATIONS}:
            return
        finishes = [f for _, own in self.job.records.jobs() for f in own if f.id == finish_id]
        if finishes:
            self.job.records.open_finish(finishes[0])
            self.go_to(station)

    def _changed(self) -> None:
        if self.job.finish is None and not self.is_at("jobs", "help", "settings"):
            self.show_jobs()
            return
        self._update_header()
        self._foot_changed()

    def _came(self, photo_id: str) -> None:
        self._update_header()

    def _removed(self, words: str) -> None:
        self.foot.offer_undo(words, self.job.history.undo)

    def _update_header(self) -> None:
        finish = None if self._job is None else self._job.finish
        if finish is None:
            self.header.show_title("Jar Tide", tr("header.jobs_note"), leads_back=False)
            self.header.show_stations([], None)
            return
        job = self.job.records.job()
        note = job.name if job is not None else ""
        self.header.show_title(finish.name, note, leads_back=True)
        states = []
        for entry in STATIONS:
            stands = entry.stands(self.job)
            name = tr(f"station.{entry.name}")
            states.append(StationState(name=name, note=stands.note, level=stands.level))
        here = [n for n, entry in enumerate(STATIONS) if self.is_at(entry.name)]
        current = here[0] if here else None
        self.header.show_stations(states, current)
        self.setWindowTitle(f"{finish.name} – Jar Tide")

    def _foot_changed_of(self, page: Station) -> None:
        if page is self.page():
            self._foot_changed()

    def _foot_changed(self) -> None:
        self.foot.show_state(self.page().foot_state())

    # ---- bringing photos in

    def ask_for_photos(self, board: bool) -> None:
        """Ask for photo files; `board` when they are of a new board."""
        if board:
            ask_photos(
                self,
                lambda data, name: self.job.pictures.add_photo(data, name, board=True),
            )
            return
        found: list[tuple[Data, str]] = []
        ask_photos(self, lambda data, name: found.append((data, name)))
        self._incoming.ask(found)

    def _place_gone(self, folder: str) -> None:
        """The workspace is not where it was: nothing can be changed until it is back."""
        self._stack.setEnabled(False)
        self.foot.show_error(tr("error.workspace.gone", name=folder))

    def _place_back(self) -> None:
        self._stack.setEnabled(True)
        self.foot.show_word(tr("workspace.back"))

    def _watched_file(self, name: str) -> None:
        """A photo came into the watched folder."""
        path = Path(name)
        if self.job.finish is None:
            self.foot.show_error(tr("error.watch.no_finish", name=path.name))
            return
        boards: Any = self.station("boards")
        if not self.is_at("boards") or not boards.take_watched(path):
            self.add_file(path, board=False, watched=True)

    def add_file(self, path: Path, *, board: bool, watched: bool = False) -> None:
        """Bring one photo file into the open finish."""
        take_file(
            path,
            lambda data, name: self.job.pictures.add_photo(
                data, name, board=board, watched=watched
            ),
        )

    def _bring(self, mime: QMimeData) -> bool:
        """Bring in what was dropped or pasted: as a new board on Boards, else it is asked."""
        board = self.is_at("boards")
        if self.job.finish is None:
            self.foot.show_error(tr("error.drop.no_finish"))
            return False
        files = [Path(url.toLocalFile()) for url in mime.urls() if url.isLocalFile()]
        came: list[tuple[Data, str]] = []
        for file in files:
            take_file(file, lambda data, name: came.append((data, name)))
        if not files and mime.hasImage():
            came.append((pasted_photo(mime), tr("photo.pasted")))
        if board:
            self._incoming.bring_boards(came)
        else:
            self._incoming.ask(came)
        return bool(came)

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
        for key in KEYS:
            action = QAction(self)
            action.setShortcut(QKeySequence(key.keys))
            run = getattr(self, key.does)
            if key.by is not None:
                run = partial(run, key.by)
            action.triggered.connect(lambda _=False, do=run: self._do(do))
            self.addAction(action)

    def _do(self, run: Callable[[], object]) -> None:
        """Keys say nothing until there is a model, but the window can be closed."""
        if self._job is not None or run == self.close:
            run()

    def _known_bundle(self, bundle: Bundle, name: str) -> None:
        """The job of a bundle is here already: the painter says what becomes of it."""
        jobs: Any = self.station("jobs")
        put = jobs.bundles.put
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
            [(tr("backup.put"), lambda: self.job.restore(path))],
        )

    def _told(self, words: str) -> None:
        self.foot.show_word(words)

    def _came_due(self, words: str) -> None:
        """Something is dry: say so in the foot wherever the painter is, and on the desktop."""
        self.foot.show_news(words, tr("steps.go"), lambda: self.go_to("steps"))
        self._notices.tell(tr("steps.due_title"), words)

    def open_photos(self) -> None:
        """Ask for photo files: of a new board where boards are shown."""
        if self.job.finish is not None:
            self.ask_for_photos(self.is_at("boards"))

    def new_job(self) -> None:
        """Begin a job, from wherever the painter is."""
        jobs: Any = self.station("jobs")
        self.show_jobs()
        jobs.new_job()

    def save_job(self) -> None:
        """Save the job that is open, or chosen in the list, as one file."""
        jobs: Any = self.station("jobs")
        job = self.job.records.job()
        jobs.save_job(job if job is not None else jobs.chosen_job())

    def print_shown(self) -> None:
        """Print what the station is about: its label, its card, or the sheet."""
        if not self.page().print_now() and self.job.finish is not None:
            self.go_to("sheet")

    def undo(self) -> None:
        """Take the last change back."""
        self.job.history.undo()

    def redo(self) -> None:
        """Make it again."""
        self.job.history.redo()

    def press_primary(self) -> None:
        """Do what the dark button does."""
        self.foot.press_primary()

    def step_on(self, by: int) -> None:
        """Go to the next layer, jar, photo, step or board of the station, or the one before."""
        self.page().step_on(by)

    def page_on(self, by: int) -> None:
        """Go to the next page of the station, or the one before."""
        self.page().page_on(by)

    def toggle_glance(self) -> None:
        """Show the step in hand over the whole screen, or go back."""
        if self.job.finish is None:
            self.foot.show_word(tr("glance.no_finish"))
            return
        if self._glance is None:
            from jartide.app.glance_view import GlanceView

            steps: Any = self.station("steps")
            self._glance = GlanceView(steps.at_a_glance, self)
        self._glance.toggle()

    def toggle_row(self) -> None:
        """Show the target and all boards in a row over the whole screen, or go back."""
        if self.job.finish is None:
            self.foot.show_word(tr("glance.no_finish"))
            return
        if self._row is None:
            from jartide.app.stations.boards.row_page import RowOverAll

            self._row = RowOverAll(self.job, self)
        self._row.toggle()

    def escape(self) -> None:
        """Stop, close, or leave what was said."""
        over = [one for one in (self._glance, self._row) if one is not None and one.isVisible()]
        if over:
            over[0].close_again()
        elif not self.page().escape():
            self.foot.clear_over()

    def switch_full_screen(self) -> None:
        """Fill the screen, or no longer."""
        self.showNormal() if self.isFullScreen() else self.showFullScreen()

    def switch_bench(self) -> None:
        """Change between the day and the night bench."""
        name = "night" if current_theme().name == "day" else "day"
        choose_theme(name)
        self.apply_theme()
        workspace = None if self._job is None else self._job.workspace
        if workspace is not None and not workspace.read_only:
            # A disk that is full keeps nobody from seeing.
            try:
                workspace.set_preference("bench", name)
            except JarTideError as error:
                self.foot.show_error(str(error))

    def apply_theme(self) -> None:
        """Paint everything for the bench that is chosen."""
        theme = current_theme()
        application = QApplication.instance()
        assert isinstance(application, QApplication)
        application.setPalette(palette(theme))
        page = self._shown()
        if page is not None:
            self._dress(page)
        for widget in self.findChildren(QWidget):
            widget.update()

    def closeEvent(self, event: QCloseEvent) -> None:
        focus = QApplication.focusWidget()
        if focus is not None:
            focus.clearFocus()  # a field being typed in is saved as it is left
        self.closing.emit()
        if self._job is not None:
            self._keep_place()
            self._job.close()
        event.accept()

    def raise_up(self) -> None:
        """Come to the front: a second start asked for this window."""
        self.setWindowState(self.windowState() & ~Qt.WindowState.WindowMinimized)
        self.raise_()
        self.activateWindow()

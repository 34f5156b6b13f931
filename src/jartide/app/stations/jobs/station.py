"""The job list: a logbook that searches on the left, the chosen job's finishes, its particulars."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import cache
from pathlib import Path

from PySide6.QtCore import QSize, Qt, QTimer, Signal
from PySide6.QtGui import QImage, QResizeEvent
from PySide6.QtWidgets import QFileDialog, QScrollArea, QWidget

from jartide.app.kit import Kit
from jartide.app.measure import px, text_scale
from jartide.app.stations.base import Station
from jartide.app.stations.jobs.first_start import FirstStart
from jartide.app.stations.jobs.learning_page import LearningPage
from jartide.app.stations.jobs.particulars import SIDE, Particulars
from jartide.app.stations.jobs.search_column import SearchColumn
from jartide.app.theme import font
from jartide.app.widgets.content import put_content
from jartide.app.widgets.foot import Action, FootState
from jartide.app.widgets.ground import Ground, column, row, show_only
from jartide.app.widgets.label import Label
from jartide.app.widgets.ledger import Ledger, LedgerRow
from jartide.app.widgets.menu_button import MenuButton
from jartide.app.widgets.painted import to_image
from jartide.app.widgets.print_shelf import Print, PrintShelf
from jartide.job.bundles import Bundles
from jartide.job.defaults import read_defaults
from jartide.job.open_job import OpenJob
from jartide.paint.closeness import Closeness, closeness
from jartide.store.demo import fill_with_demo
from jartide.store.duplicate import duplicate
from jartide.store.logbook import Hit, Logbook, Wanted, find, read_logbook, with_colours
from jartide.store.records import Finish, Job
from jartide.store.workspace import now
from jartide.wording import tr

_LIST, _LEAST_LIST, _LEAST_SIDE = 336, 240, 270
_PRINT, _PITCH = (150, 104), 440
_MENU = ("start", "away", "save", "bring", "back_up", "restore", "learning")


class JobsStation(Station):
    """Shows all jobs; one finish is chosen, and its particulars can be changed on the right."""

    finish_opened = Signal(str)  # id of the finish
    guide_wanted = Signal()
    restore_wanted = Signal(object)  # path of a backup

    name = "jobs"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self._job_id: str | None = None
        self._chosen: str | None = None
        self._images: dict[str, QImage] = {}
        self._logbook: Logbook | None = None
        self._stale = True
        self._hits: tuple[Hit, ...] = ()
        self._listed: list[LedgerRow] = []
        # The shelves of finishes, and which finish stands where on them.
        self._shelves: list[PrintShelf] = []
        self._stands: tuple[int, list[list[str]]] | None = None
        self._found_for: tuple[Logbook, Wanted] | None = None
        self.search = SearchColumn(self)
        self.search.changed.connect(self._look)
        self.list = Ledger(tr("logbook.jobs"), self)
        self.list.chosen.connect(self._job_chosen)
        self._title = Label(parent=self)
        self._title.setFont(font(px(20), 700))
        self._note = Label(parent=self)
        self._note.setFont(font(px(15)))
        self._scroll = QScrollArea(self)
        self._scroll.setWidgetResizable(True)
        self._scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        self._scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._side = Particulars(job, self)
        self.bundles = Bundles(job)
        entries = [(name, tr(f"jobs.more.{name}")) for name in _MENU]
        self._more = MenuButton(tr("jobs.more"), entries, self)
        self._more.picked.connect(self.pick)
        self.first = FirstStart(self)
        self.first.picked.connect(self._begin)
        self.page = LearningPage(job, self)
        self.page.hide()
        self._lay_out()
        # Typing is answered when it pauses, not at every letter's drawing of all pictures.
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(120)
        self._pause.timeout.connect(self.refresh)
        job.events.changed.connect(self._changed)
        job.events.picture_ready.connect(lambda _: self._picture_came())
        job.events.opened.connect(self._changed)

    # ---- what there is

    def chosen_finish(self) -> Finish | None:
        """Return the finish that is chosen, or None."""
        for _, finishes in self.job.records.jobs():
            for finish in finishes:
                if finish.id == self._chosen:
                    return finish
        return None

    def chosen_job(self) -> Job | None:
        """Return the job that is chosen, or None."""
        return next((job for job, _ in self.job.records.jobs() if job.id == self._job_id), None)

    @property
    def hits(self) -> tuple[Hit, ...]:
        """The jobs that are listed."""
        return self._hits

    def _changed(self) -> None:
        self._stale = True
        self.refresh()

    def refresh(self) -> None:
        if not self.isVisible():
            return
        jobs = self.job.records.jobs()
        if self._stale and self.job.workspace is not None:
            self._want_logbook()
        self._show_list()
        known = {job.id: finishes for job, finishes in jobs}
        if self._job_id not in known:
            listed = [hit.job.job.id for hit in self._hits if hit.job.job.id in known]
            self._job_id = listed[0] if listed else next(iter(known), None)
        finishes = known.get(self._job_id or "", [])
        if self._chosen not in {f.id for f in finishes}:
            self._chosen = finishes[0].id if finishes else None
        self._show_finishes(finishes)
        self._side.show_finish(self.chosen_finish())
        empty = not jobs
        over = not self.page.isHidden()
        self._listing.setVisible(not empty and not over)
        self.first.setVisible(empty and not over and self.job.workspace is not None)
        self.foot_changed.emit()
        self.update()

    def _want_logbook(self) -> None:
        """Read what is searched, off the interface thread; the list follows when it is there."""
        workspace = self.job.workspace
        assert workspace is not None
        self._stale = False
        jobs = self.job.records.jobs()

        def work(_: Callable[[float], None]) -> tuple[Logbook, list[tuple[str, object]]]:
            return read_logbook(workspace, jobs), [(tin.name, tin.id) for tin in workspace.tins()]

        def returned(found: tuple[Logbook, list[tuple[str, object]]]) -> None:
            self._logbook, paints = found
            self.search.show_paints(paints)
            self.refresh()
            self._want_colours(self._logbook)

        self.job.in_background("logbook", work, returned)

    def _want_colours(self, logbook: Logbook) -> None:
        """Gather what is searched by colour once the list stands."""
        workspace = self.job.workspace
        if workspace is None:
            return

        def work(_: Callable[[float], None]) -> Logbook:
            return with_colours(workspace, logbook)

        def returned(found: Logbook) -> None:
            if self._logbook is logbook:  # else a newer one is on its way
                self._logbook = found
                if self.search.wanted().near is not None:
                    self.refresh()
                else:
                    # The same jobs are found with and without the colours.
                    self._found_for = (found, self.search.wanted())

        self.job.in_background("logbook colours", work, returned)

    # ---- the list

    def _look(self) -> None:
        self._pause.start()

    def _show_list(self) -> None:
        if self._logbook is None:
            self.list.show_rows([], -1, tr("jobs.opening"))
            return
        wanted = self.search.wanted()
        if self._found_for != (self._logbook, wanted):
            self._hits = find(self._logbook, wanted)
            self._listed = _rows_of(self._hits)
            self._found_for = (self._logbook, wanted)
        at = next((n for n, hit in enumerate(self._hits) if hit.job.job.id == self._job_id), -1)
        nothing = tr("logbook.nothing")
        if self.search.wanted().near is not None and self._logbook.labs is None:
            nothing = tr("logbook.gathering")
        self.list.show_rows(self._listed, at, self.search.refused() or nothing)

    def _job_chosen(self, index: int) -> None:
        self._job_id = self._hits[index].job.job.id
        self._chosen = None
        self.refresh()

    # ---- the chosen job's finishes

    def _show_finishes(self, finishes: list[Finish]) -> None:
        job = self.chosen_job()
        if job is not None:
            self._title.setText(job.name)
            client = job.client if job.client != job.name else ""
            words = [client, job.place, tr("jobs.finishes", count=len(finishes))]
            if job.archived_at is not None:
                words.append(tr("jobs.is_away"))
            self._note.setText(", ".join(filter(None, words)))
        room = math.floor(self._scroll.width() / text_scale()) - 56
        columns = max(1, room // _PITCH)
        rows = [finishes[start : start + columns] for start in range(0, len(finishes), columns)]
        pitch = room // columns
        stands = (pitch, [[finish.id for finish in own] for own in rows])
        if stands != self._stands:
            # Shelves that can stay do: a print of theirs may be under the pointer just now.
            self._stands = stands
            at = self._scroll.verticalScrollBar().value()
            inner = QWidget()
            standing = column(inner, (24, 0, 24, 14), 4)
            self._shelves = [self._shelf(pitch) for _ in rows]
            for shelf in self._shelves:
                standing.addWidget(shelf)
            standing.addStretch(1)
            put_content(self._scroll, inner)
            self._scroll.verticalScrollBar().setValue(at)
        for shelf, own in zip(self._shelves, rows, strict=True):
            shelf.show_prints([self._print(finish) for finish in own], self._chosen)

    def _shelf(self, pitch: int) -> PrintShelf:
        shelf = PrintShelf(_PRINT, pitch)
        shelf.chosen.connect(self._choose)
        shelf.opened.connect(self.finish_opened)
        return shelf

    def _print(self, finish: Finish) -> Print:
        target = self.job.readings.target(finish)
        image = None
        asks = ""
        if target is None:
            asks = tr("jobs.needs_photo")
        else:
            image = self._image_of(target)
            if image is None:
                self.job.pictures.want(target)
        boards = len(self.job.records.boards(finish))
        note = finish.note
        state = tr("jobs.boards", count=boards) if boards else tr("jobs.no_boards")
        return Print(key=finish.id, image=image, title=finish.name, lines=(note, state), asks=asks)

    def _image_of(self, photo) -> QImage | None:
        key = f"{photo.sha256} {photo.settings}"
        if key not in self._images:
            pictures = self.job.pictures
            flat, preview = pictures.flat(photo), pictures.preview(photo)
            code = flat.code if flat is not None else None
            if (
                code is None
                and self.job.pictures.refusal(photo) is not None
                and preview is not None
            ):
                code = preview.code
            if code is None:
                return None
            self._images[key] = to_image(code).scaled(
                QSize(416, 416),
                Qt.AspectRatioMode.KeepAspectRatioByExpanding,
                Qt.TransformationMode.SmoothTransformation,
            )
        return self._images[key]

    def _picture_came(self) -> None:
        if self.isVisible():
            self.refresh()

    def _choose(self, key: str) -> None:
        self._chosen = key
        for shelf in self._shelves:
            shelf.show_current(key)
        self._side.show_finish(self.chosen_finish())
        self.foot_changed.emit()

    def _open(self) -> None:
        if self._chosen is not None:
            self.finish_opened.emit(self._chosen)

    # ---- new ones

    def _begin(self, way: str) -> None:
        """One of the ways an empty workspace offers."""
        if way == "bring":
            self.pick("bring")
        elif way == "guide":
            self.guide_wanted.emit()
        else:
            self.bring_demo()

    def bring_demo(self) -> None:
        """Copy the demo job into this workspace."""
        workspace = self.job.workspace
        if workspace is None:
            return

        def work(_: Callable[[float], None]) -> None:
            fill_with_demo(workspace)

        self.job.in_background("demo", work, lambda _: self.job.reload())

    def _usual(self, finish: Finish) -> Finish:
        """A new finish is judged as the painter usually does."""
        usual = read_defaults(self.job.workspace)
        return replace(finish, viewing_m=usual.viewing_m, tolerance=usual.tolerance)

    def new_job(self) -> None:
        """Begin a job with its first finish."""
        jobs = self.job.records.jobs()
        job = Job(
            name=tr("jobs.new_job_name"),
            position=max((j.position for j, _ in jobs), default=-1) + 1,
            created_at=now(),
        )
        finish = self._usual(Finish(job_id=job.id, name=tr("jobs.new_finish_name")))
        self._job_id, self._chosen = job.id, finish.id
        self.search.clear()
        self.job.records.add(tr("undo.new_job"), job, finish)
        self._side.edit_job_name()

    def _new_finish(self) -> None:
        chosen = self.chosen_finish()
        job = self.chosen_job()
        if job is None:
            return
        position = 0 if chosen is None else chosen.position + 1
        new = Finish(job_id=job.id, name=tr("jobs.new_finish_name"), position=position)
        finish = self._usual(new)
        self._chosen = finish.id
        self.job.records.add(tr("undo.new_finish"), finish)
        self._side.edit_finish_name()

    # ---- the menu

    def pick(self, what: str) -> None:
        """Do what an entry of the menu says."""
        if what == "learning":
            self.open_learning()
        elif what == "bring":
            name, _ = QFileDialog.getOpenFileName(self, tr("jobs.more.bring"), "", "*.zip")
            if name:
                self.bundles.bring(Path(name))
        elif what == "restore":
            name, _ = QFileDialog.getOpenFileName(self, tr("jobs.more.restore"), "", "*.zip")
            if name:
                self.restore_wanted.emit(Path(name))
        elif what == "back_up":
            suggested = tr("backup.file")
            name, _ = QFileDialog.getSaveFileName(self, tr("jobs.more.back_up"), suggested, "*.zip")
            if name:
                self.bundles.back_up(Path(name))
        else:
            self._pick_of_job(what)

    def save_job(self, job: Job | None) -> None:
        """Ask where a job goes as one file, and write it there."""
        if job is None:
            return
        suggested = f"{job.name}.zip".replace("/", "-")
        name, _ = QFileDialog.getSaveFileName(self, tr("jobs.more.save"), suggested, "*.zip")
        if name:
            self.bundles.save(job, Path(name))

    def _pick_of_job(self, what: str) -> None:
        job = self.chosen_job()
        if job is None:
            return
        if what == "save":
            self.save_job(job)
        elif what == "start":
            self.start_from(job)
        else:
            self.put_away(job)

    def start_from(self, job: Job) -> None:
        """Begin a new job where another one began."""
        workspace = self.job.workspace
        if workspace is None:
            return
        records = duplicate(workspace, job, tr("jobs.again", name=job.name))
        self._job_id, self._chosen = records[0].id, None
        self.search.clear()
        self.job.records.add(tr("undo.start_from"), *records)
        self._side.edit_job_name()

    def put_away(self, job: Job) -> None:
        """Put a job away, so that only a search with the tick lists it; or take it out again."""
        away = job.archived_at is None
        changed = replace(job, archived_at=now() if away else None)
        self.job.records.change(tr("undo.put_away"), [job], [changed])
        if away:
            self.job.events.removed.emit(tr("jobs.put_away", name=job.name))
            if not self.search.archived.isChecked():
                self._job_id = None
        self.refresh()

    def open_learning(self) -> None:
        """Show what the boards of all jobs say."""
        show_only(self.page, self._listing, self.first)
        self.page.show_now()
        self.foot_changed.emit()

    def _close_page(self) -> None:
        self.page.hide()
        self.refresh()

    def escape(self) -> bool:
        if self.page.isVisible():
            self._close_page()
            return True
        return False

    # ---- header and foot

    def help_key(self) -> str:
        return "learning" if self.page.isVisible() else self.name

    def foot_state(self) -> FootState:
        if self.job.workspace is None:
            return FootState(text=tr("jobs.opening"))
        if self.page.isVisible():
            back = Action(text=tr("learning.back"), run=self._close_page, primary=True)
            return FootState(
                text=tr("learning.foot"), note=tr("learning.foot_note"), actions=(back,)
            )
        writable = not self.job.workspace.read_only
        new_job = Action(text=tr("jobs.new_job"), run=self.new_job, enabled=writable)
        if not self.job.records.jobs():
            first = replace(new_job, primary=True)
            return FootState(text=tr("jobs.empty"), note=tr("jobs.empty_note"), actions=(first,))
        chosen = self.chosen_finish()
        new_finish = Action(text=tr("jobs.new_finish"), run=self._new_finish, enabled=writable)
        if chosen is None:
            return FootState(text=tr("jobs.no_finish"), actions=(new_job, new_finish))
        note = tr("jobs.note") if writable else tr("error.workspace.read_only")
        return FootState(
            text=tr("jobs.chosen", name=chosen.name),
            note=note,
            actions=(
                new_job,
                new_finish,
                Action(text=tr("jobs.open"), run=self._open, primary=True),
            ),
        )

    # ---- layout

    def _lay_out(self) -> None:
        listed = Ground("sheet", "right")
        listed.setMinimumWidth(px(_LEAST_LIST))
        listed.setMaximumWidth(px(_LIST))
        jobs = column(listed, (20, 12, 20, 8))
        jobs.addWidget(self.search)
        jobs.addWidget(self.list, 1)
        shelves = column(margins=(0, 14, 0, 0), gap=4)
        for words in (self._title, self._note):
            indented = row(margins=(24, 0, 24, 0))
            indented.addWidget(words)
            shelves.addLayout(indented)
        shelves.addWidget(self._scroll, 1)
        side = Ground("sheet", "left")
        side.setMinimumWidth(px(_LEAST_SIDE))
        side.setMaximumWidth(px(SIDE))
        particulars = column(side, (24, 18, 24, 12), 8)
        particulars.addWidget(self._side)
        particulars.addStretch(1)
        # Still there when there is no job to show any particulars of.
        particulars.addWidget(self._more, 0, Qt.AlignmentFlag.AlignRight)
        self._listing = QWidget()
        three = row(self._listing)
        three.addWidget(listed, 3)
        three.addLayout(shelves, 5)
        three.addWidget(side, 3)
        whole = column(self)
        for page in (self._listing, self.first, self.page):
            whole.addWidget(page, 1)

    def resizeEvent(self, event: QResizeEvent) -> None:
        layout = self.layout()
        if layout is not None:
            layout.activate()
        self.refresh()

    def paint(self, kit: Kit) -> None:
        kit.fill(0, 0, self.wide, self.high, "bench")


def _rows_of(hits: Sequence[Hit]) -> list[LedgerRow]:
    """The lines of the list: of thousands of jobs, each wording is made once."""
    worded = cache(tr)
    return [_row_of(hit, worded) for hit in hits]


def _row_of(hit: Hit, worded: Callable[..., str]) -> LedgerRow:
    job = hit.job.job
    finishes = worded("jobs.finishes", count=len(hit.job.finishes))
    note = ", ".join(filter(None, (job.place, finishes)))
    last = hit.job.last
    right = f"{worded(f'month.{last.month}')[:3]} {last.year}"
    if job.archived_at is not None:
        right = worded("jobs.is_away")
    near = ""
    if hit.de00 is not None:
        word = closeness(hit.de00)
        near = worded("logbook.akin" if word is Closeness.DIFFERENT else f"close.short.{word}")
    return LedgerRow(title=job.name, note=note, right=right, right_note=near)

"""The job list: every job on a line of its own, its finishes standing on it as prints."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QRect, Qt, Signal
from PySide6.QtGui import QImage, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import (
    QFileDialog,
    QLabel,
    QLineEdit,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from jartide.app.bundles import Bundles
from jartide.app.document import Document
from jartide.app.kit import Kit
from jartide.app.stations.base import Station
from jartide.app.theme import font
from jartide.app.widgets.buttons import INSET, Button
from jartide.app.widgets.drop_down import DropDown
from jartide.app.widgets.foot import Action, FootState
from jartide.app.widgets.header import StationState
from jartide.app.widgets.menu_button import MenuButton
from jartide.app.widgets.painted import current_theme, to_image
from jartide.app.widgets.print_shelf import Print, PrintShelf
from jartide.families import families
from jartide.wording import tr

if TYPE_CHECKING:
    from jartide.store.records import Finish, Job, Record

SIDE = 348
_PRINT, _PITCH = (208, 208), 436


class JobsStation(Station):
    """Shows all jobs; one finish is chosen, and its particulars can be changed on the right."""

    finish_opened = Signal(str)  # id of the finish

    name = "jobs"

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(document, parent)
        self._chosen: str | None = None
        self._images: dict[str, QImage] = {}
        self._scroll = QScrollArea(self)
        self._scroll.setWidgetResizable(True)
        self._scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        self._scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._side = _Particulars(document, self)
        self.bundles = Bundles(document, self)
        entries = [(name, tr(f"bundle.{name}")) for name in ("save", "bring")]
        self._more = MenuButton(tr("bundle.more"), entries, self)
        self._more.picked.connect(self._picked)
        document.changed.connect(self.refresh)
        document.picture_ready.connect(lambda _: self._picture_came())
        document.opened.connect(self.refresh)

    def chosen_finish(self):
        """Return the finish that is chosen, or None."""
        for _, finishes in self.document.jobs():
            for finish in finishes:
                if finish.id == self._chosen:
                    return finish
        return None

    def refresh(self) -> None:
        if not self.isVisible():
            return
        jobs = self.document.jobs()
        everything = [finish for _, finishes in jobs for finish in finishes]
        if self._chosen not in {f.id for f in everything}:
            self._chosen = everything[0].id if everything else None
        at = self._scroll.verticalScrollBar().value()
        inner = QWidget()
        column = QVBoxLayout(inner)
        column.setContentsMargins(24, 14, 24, 14)
        column.setSpacing(4)
        for job, finishes in jobs:
            title = QLabel(job.name)
            title.setFont(font(20, 700))
            column.addWidget(title)
            words = ", ".join(filter(None, (job.place, tr("jobs.finishes", count=len(finishes)))))
            note = QLabel(words)
            note.setFont(font(15))
            column.addWidget(note)
            for start in range(0, len(finishes), self._columns()):
                column.addWidget(self._shelf(finishes[start : start + self._columns()]))
            column.addSpacing(12)
        column.addStretch(1)
        self._scroll.setWidget(inner)
        self._scroll.verticalScrollBar().setValue(at)
        self._side.show_finish(self.chosen_finish())
        self._side.setVisible(bool(everything))
        self._scroll.setVisible(bool(jobs))
        self.foot_changed.emit()
        self.update()

    def _columns(self) -> int:
        return max(1, (self._scroll.width() - 48) // _PITCH)

    def _shelf(self, finishes) -> PrintShelf:
        shelf = PrintShelf(_PRINT, _PITCH)
        shelf.show_prints([self._print(finish) for finish in finishes], self._chosen)
        shelf.chosen.connect(self._choose)
        shelf.opened.connect(self.finish_opened)
        return shelf

    def _print(self, finish) -> Print:
        target = self.document.target(finish)
        image = None
        asks = ""
        if target is None:
            asks = tr("jobs.needs_photo")
        else:
            self.document.want_picture(target)
            image = self._image_of(target)
        boards = len(self.document.boards(finish))
        note = finish.note
        state = tr("jobs.boards", count=boards) if boards else tr("jobs.no_boards")
        return Print(key=finish.id, image=image, title=finish.name, lines=(note, state), asks=asks)

    def _image_of(self, photo) -> QImage | None:
        key = f"{photo.sha256} {photo.settings}"
        if key not in self._images:
            flat, preview = self.document.flat(photo), self.document.preview(photo)
            code = flat.code if flat is not None else None
            if code is None and self.document.refusal(photo) is not None and preview is not None:
                code = preview.code
            if code is None:
                return None
            self._images[key] = to_image(code).scaled(
                416,
                416,
                Qt.AspectRatioMode.KeepAspectRatioByExpanding,
                Qt.TransformationMode.SmoothTransformation,
            )
        return self._images[key]

    def _picture_came(self) -> None:
        if self.isVisible():
            self.refresh()

    def _choose(self, key: str) -> None:
        self._chosen = key
        for shelf in self._scroll.findChildren(PrintShelf):
            shelf.show_current(key)
        self._side.show_finish(self.chosen_finish())
        self.foot_changed.emit()

    def _open(self) -> None:
        if self._chosen is not None:
            self.finish_opened.emit(self._chosen)

    def _new_job(self) -> None:
        from jartide.store.records import Finish, Job
        from jartide.store.workspace import now

        jobs = self.document.jobs()
        job = Job(
            name=tr("jobs.new_job_name"),
            position=max((j.position for j, _ in jobs), default=-1) + 1,
            created_at=now(),
        )
        finish = Finish(job_id=job.id, name=tr("jobs.new_finish_name"))
        self._chosen = finish.id
        self.document.add(tr("undo.new_job"), job, finish)
        self._side.edit_job_name()

    def _new_finish(self) -> None:
        from jartide.store.records import Finish

        chosen = self.chosen_finish()
        if chosen is None:
            return
        finish = Finish(
            job_id=chosen.job_id, name=tr("jobs.new_finish_name"), position=chosen.position + 1
        )
        self._chosen = finish.id
        self.document.add(tr("undo.new_finish"), finish)
        self._side.edit_finish_name()

    def _picked(self, what: str) -> None:
        """Save the chosen finish's job as a file, or bring one in."""
        if what == "bring":
            name, _ = QFileDialog.getOpenFileName(self, tr("bundle.bring"), "", "*.zip")
            if name:
                self.bundles.bring(Path(name))
            return
        chosen = self.chosen_finish()
        job = next((j for j, fs in self.document.jobs() if chosen in fs), None)
        if job is not None:
            suggested = f"{job.name}.zip".replace("/", "-")
            name, _ = QFileDialog.getSaveFileName(self, tr("bundle.save"), suggested, "*.zip")
            if name:
                self.bundles.save(job, Path(name))

    def header_state(self) -> StationState:
        return StationState(name="", note="", level=0)

    def foot_state(self) -> FootState:
        if self.document.workspace is None:
            return FootState(text=tr("jobs.opening"))
        writable = not self.document.workspace.read_only
        new_job = Action(text=tr("jobs.new_job"), run=self._new_job, enabled=writable)
        chosen = self.chosen_finish()
        if chosen is None:
            first = replace(new_job, primary=True)
            return FootState(text=tr("jobs.empty"), note=tr("jobs.empty_note"), actions=(first,))
        note = tr("jobs.note") if writable else tr("error.workspace.read_only")
        return FootState(
            text=tr("jobs.chosen", name=chosen.name),
            note=note,
            actions=(
                new_job,
                Action(text=tr("jobs.new_finish"), run=self._new_finish, enabled=writable),
                Action(text=tr("jobs.open"), run=self._open, primary=True),
            ),
        )

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._scroll.setGeometry(0, 0, self.width() - SIDE, self.height())
        # Below the particulars, and still there when there is no job to show any of.
        self._more.move(self.width() - 24 - self._more.width(), self.height() - 56)
        self._more.raise_()
        self._side.setGeometry(self.width() - SIDE, 0, SIDE, self.height())
        self.refresh()

    def paint(self, kit: Kit) -> None:
        kit.fill(0, 0, self.width(), self.height(), "bench")
        if not self.document.jobs():
            if self.document.workspace is None:
                return
            y = self.height() / 2 - 90
            kit.text(0, y, tr("jobs.first_title"), 24, 600, "ink", self.width(), "centre")
            for number in (1, 2, 3):
                y += 34 if number > 1 else 48
                words = tr(f"jobs.first_{number}")
                kit.text(0, y, words, 16, 400, "ink2", self.width(), "centre")


class _Particulars(QWidget):
    """Name, place and family of the chosen finish and its job; saved when left."""

    def __init__(self, document: Document, parent: QWidget) -> None:
        super().__init__(parent)
        self._document = document
        self._finish: Finish | None = None
        self._job: Job | None = None
        self.setAutoFillBackground(False)
        self._fields: dict[str, QLineEdit] = {}
        self._labels: list[tuple[QLabel, QWidget]] = []
        for key in ("job_name", "place", "finish_name", "note"):
            field = QLineEdit(self)
            field.setAccessibleName(tr(f"jobs.field.{key}"))
            field.editingFinished.connect(lambda k=key: self._save(k))
            self._fields[key] = field
            self._label(tr(f"jobs.field.{key}"), field)
        self._family = DropDown(self)
        self._family.setAccessibleName(tr("jobs.field.family"))
        for name in families():
            self._family.addItem(tr(f"family.{name}"), name)
        self._family.activated.connect(lambda _: self._save("family"))
        self._label(tr("jobs.field.family"), self._family)
        self._remove = Button(tr("jobs.remove"), self)
        self._remove.clicked.connect(self._remove_finish)

    def _label(self, words: str, field: QWidget) -> None:
        label = QLabel(words, self)
        label.setFont(font(14))
        label.setBuddy(field)
        self._labels.append((label, field))

    def show_finish(self, finish: Finish | None) -> None:
        """Show a finish and its job."""
        self._finish = finish
        self._job = next(
            (j for j, _ in self._document.jobs() if finish is not None and j.id == finish.job_id),
            None,
        )
        if finish is None or self._job is None:
            return
        workspace = self._document.workspace
        writable = workspace is not None and not workspace.read_only
        values = {
            "job_name": self._job.name,
            "place": self._job.place,
            "finish_name": finish.name,
            "note": finish.note,
        }
        for key, value in values.items():
            if self._fields[key].text() != value:
                self._fields[key].setText(value)
                self._fields[key].setCursorPosition(0)
            self._fields[key].setReadOnly(not writable)
        self._family.setCurrentIndex(self._family.findData(finish.family))
        self._family.setEnabled(writable)
        self._remove.setEnabled(writable)

    def edit_job_name(self) -> None:
        self._fields["job_name"].setFocus()
        self._fields["job_name"].selectAll()

    def edit_finish_name(self) -> None:
        self._fields["finish_name"].setFocus()
        self._fields["finish_name"].selectAll()

    def _save(self, key: str) -> None:
        if self._finish is None or self._job is None:
            return
        before, changed = self._changed(key, self._job, self._finish)
        if not changed.name:
            self.show_finish(self._finish)  # a name can't be empty: show the old one again
        elif changed != before:
            self._document.change(tr("undo.particulars"), [before], [changed])

    def _changed(self, key: str, job: Job, finish: Finish) -> tuple[Record, Job | Finish]:
        """Return the record a field belongs to, as it was and with the field's value."""
        if key == "family":
            return finish, replace(finish, family=self._family.currentData())
        text = self._fields[key].text().strip()
        if key == "job_name":
            return job, replace(job, name=text)
        if key == "place":
            return job, replace(job, place=text)
        if key == "finish_name":
            return finish, replace(finish, name=text)
        return finish, replace(finish, note=text)

    def _remove_finish(self) -> None:
        workspace = self._document.workspace
        if self._finish is None or self._job is None or workspace is None:
            return
        others = [f for f in workspace.finishes(self._job.id) if f.id != self._finish.id]
        records = [self._finish] if others else [self._finish, self._job]
        self._document.remove(tr("undo.removed", name=self._finish.name), *records)

    def resizeEvent(self, event: QResizeEvent) -> None:
        y = 24
        for label, field in self._labels:
            label.setGeometry(QRect(24, y, SIDE - 48, 20))
            field.setGeometry(QRect(24, y + 22, SIDE - 48, 42))
            y += 78
        self._remove.setFixedWidth(SIDE - 48 + 2 * INSET)
        self._remove.move(24 - INSET, y + 8)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), current_theme().sheet)
        painter.end()

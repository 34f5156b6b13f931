"""Name, place and family of the chosen finish and its job, beside the list."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtWidgets import QLineEdit, QSizePolicy, QWidget

from jartide.app.measure import px
from jartide.app.theme import font
from jartide.app.widgets.buttons import Button
from jartide.app.widgets.drop_down import DropDown
from jartide.app.widgets.ground import column
from jartide.app.widgets.label import Label
from jartide.families import families
from jartide.job.open_job import OpenJob
from jartide.store.records import Finish, Job, Record
from jartide.wording import tr

SIDE = 348  # as wide as the column may be, units


class Particulars(QWidget):
    """Name, place and family of the chosen finish and its job; saved when left."""

    def __init__(self, job: OpenJob, parent: QWidget) -> None:
        super().__init__(parent)
        self._job = job
        self._finish: Finish | None = None
        self._shown_job: Job | None = None
        self._fields: dict[str, QLineEdit] = {}
        self._column = column(self, gap=2)
        for key in ("job_name", "client", "place", "finish_name", "note"):
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
        self._remove.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self._remove.clicked.connect(self._remove_finish)
        self._column.addSpacing(px(4))
        self._column.addWidget(self._remove)

    def _label(self, words: str, field: QWidget) -> None:
        label = Label(words, self)
        label.setFont(font(px(14)))
        label.setBuddy(field)
        self._column.addWidget(label)
        self._column.addWidget(field)
        self._column.addSpacing(px(6))

    def show_finish(self, finish: Finish | None) -> None:
        """Show a finish and its job."""
        self._finish = finish
        self._shown_job = next(
            (
                j
                for j, _ in self._job.records.jobs()
                if finish is not None and j.id == finish.job_id
            ),
            None,
        )
        if finish is None or self._shown_job is None:
            return
        workspace = self._job.workspace
        writable = workspace is not None and not workspace.read_only
        values = {
            "job_name": self._shown_job.name,
            "client": self._shown_job.client,
            "place": self._shown_job.place,
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
        if self._finish is None or self._shown_job is None:
            return
        before, changed = self._changed(key, self._shown_job, self._finish)
        if not changed.name:
            self.show_finish(self._finish)  # a name can't be empty: show the old one again
        elif changed != before:
            self._job.records.change(tr("undo.particulars"), [before], [changed])

    def _changed(self, key: str, job: Job, finish: Finish) -> tuple[Record, Job | Finish]:
        """Return the record a field belongs to, as it was and with the field's value."""
        if key == "family":
            return finish, replace(finish, family=self._family.currentData())
        text = self._fields[key].text().strip()
        if key == "job_name":
            return job, replace(job, name=text)
        if key == "client":
            return job, replace(job, client=text)
        if key == "place":
            return job, replace(job, place=text)
        if key == "finish_name":
            return finish, replace(finish, name=text)
        return finish, replace(finish, note=text)

    def _remove_finish(self) -> None:
        workspace = self._job.workspace
        if self._finish is None or self._shown_job is None or workspace is None:
            return
        others = [f for f in workspace.finishes(self._shown_job.id) if f.id != self._finish.id]
        records = [self._finish] if others else [self._finish, self._shown_job]
        self._job.records.remove(tr("undo.removed", name=self._finish.name), *records)

"""Practice: a sheet of strokes scored against the target, and which strokes spoil it."""

from __future__ import annotations

from PySide6.QtWidgets import QWidget

from jartide.app.stations.boards.page import Side
from jartide.app.stations.boards.pane_page import PanePage
from jartide.app.widgets.control_column import fill_list
from jartide.app.widgets.ledger import LedgerRow
from jartide.boards.practice import PracticeSheet, score_sheet
from jartide.job.open_job import OpenJob
from jartide.job.pictures import Data
from jartide.store.records import Photo, Stage
from jartide.wording import say, tr

# The worst strokes; more rings than this hide the sheet.
_MOST_SHOWN = 12


class PracticePage(PanePage):
    """Shows a practice sheet with the strokes that spoil it, and its scores."""

    name = "practice"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        self._sheet: PracticeSheet | None = None
        self._first_fault = 0
        super().__init__(job, parent)
        self._ledger.chosen.connect(self._row_chosen)

    def build_side(self, side: Side) -> None:
        self._score = side.words(size=20, weight=600)
        self._which = side.list(tr("practice.sheet"), self.show_board)
        self._person = side.fields(tr("practice.person"))[0]
        side.button(tr("practice.add"), lambda: self.ask_photos(self.take_sheet))
        self._history = side.words(size=15)

    def sheets(self) -> list[Photo]:
        """Return the practice sheets, oldest first."""
        return sorted(self.job.boards.photos_of("practice"), key=lambda p: p.position)

    def current(self) -> Photo | None:
        """Return the sheet that is shown: the one chosen, or the latest."""
        sheets = self.sheets()
        chosen = self._which.currentData()
        return next((p for p in sheets if p.id == chosen), sheets[-1] if sheets else None)

    def show_board(self) -> None:
        sheets, shown = self.sheets(), self.current()
        items: list[tuple[str, object]] = [
            (tr("practice.named", number=n + 1, who=p.stage.person), p.id)
            for n, p in enumerate(sheets)
        ]
        fill_list(self._which, items, None if shown is None else shown.id)
        self._which.setVisible(bool(items))
        self._sheet = None
        if shown is None:
            self.show_code(None, None, tr("practice.empty"))
            self._ledger.show_rows([], -1, tr("practice.empty_note"))
            self._score.setText("")
            self._history.setText("")
            return
        self.job.pictures.want(shown)
        self.job.readings.want(shown, with_map=True)
        flat = self.job.pictures.flat(shown)
        if flat is None:
            self.show_code(None, None, self.job.pictures.refusal(shown) or tr("photos.opening"))
        else:
            self.show_code(flat.code, flat.mm_per_px, "")
        self._sheet = self._scored(shown)
        self._show_scores()
        self._show_history(sheets)

    def _scored(self, photo: Photo) -> PracticeSheet | None:
        target, reading = self.job.readings.of_target(), self.job.readings.of(photo)
        if target is None or reading is None:
            return None
        analysis, basis = self.job.readings.analysis(photo), self.job.readings.basis(photo)
        layers = None if analysis is None else analysis.layers
        return self.job.kept.worked_out(
            "practice",
            (photo.id, basis is not None and layers is not None),
            lambda: score_sheet(target, reading, basis, layers),
            target,
            reading,
        )

    def _show_scores(self) -> None:
        sheet = self._sheet
        if sheet is None:
            self._ledger.show_rows([], -1, tr("practice.reading"))
            self._score.setText("")
            self._pane.show_outlines([])
            return
        self._score.setText(tr("practice.score", value=round(sheet.score)))
        rows = []
        for row in sheet.measures:
            off = "" if row.score > 80 else tr(f"practice.{'more' if row.jnd > 0 else 'less'}")
            sign = "ready" if row.score > 80 else "todo" if row.score > 50 else "stop"
            rows.append(
                LedgerRow(title=say(row.name), note=off, right=str(round(row.score)), sign=sign)
            )
        self._first_fault = len(rows) + 1
        if sheet.strokes:
            rows.append(
                LedgerRow(
                    title=tr("practice.spoil", count=len(sheet.faults), strokes=sheet.strokes),
                    head=True,
                )
            )
            rows += [
                LedgerRow(title=tr(f"stroke.{fault.spoils.value}"), sign="check")
                for fault in sheet.faults[:_MOST_SHOWN]
            ]
        self._ledger.show_rows(rows)
        self._outline(-1)

    def _outline(self, marked: int) -> None:
        sheet = self._sheet
        if sheet is None:
            return
        rings = []
        for fault in sheet.faults[:_MOST_SHOWN]:
            left, top, right, bottom = fault.ring
            rings.append([(left, top), (right, top), (right, bottom), (left, bottom)])
        self._pane.show_outlines(rings, marked)

    def _row_chosen(self, index: int) -> None:
        self._outline(index - self._first_fault if index >= self._first_fault else -1)

    def _show_history(self, sheets: list[Photo]) -> None:
        """The scores of each person's sheets, in their order."""
        by_person: dict[str, list[str]] = {}
        for photo in sheets:
            if self.job.readings.of(photo) is None:
                continue
            scored = self._scored(photo)
            if scored is not None:
                person = photo.stage.person or tr("practice.nobody")
                by_person.setdefault(person, []).append(str(round(scored.score)))
        lines = [f"{person}: {', '.join(scores)}" for person, scores in by_person.items()]
        self._history.setText(tr("practice.history") + "\n" + "\n".join(lines) if lines else "")

    def take_sheet(self, data: Data, name: str) -> None:
        """Bring in the photo of a practice sheet."""
        stage = Stage(person=self._person.text().strip())
        self._which.clear()
        self.job.pictures.add_particular(data, name, "practice", stage)

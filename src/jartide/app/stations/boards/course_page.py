"""Board by board: how far each quantity was off on every board, and overall."""

from __future__ import annotations

from PySide6.QtWidgets import QWidget

from jartide.app.stations.boards.page import BoardPage, Side
from jartide.app.widgets.ledger import Ledger, LedgerRow
from jartide.boards.result import Comparison
from jartide.job.open_job import OpenJob
from jartide.job.words.numbers import figure_words
from jartide.wording import say, tr

# Just visible: what lies below is no difference to work on.
_SEEN = 1.0
_MOST_BOARDS = 9


class CoursePage(BoardPage):
    """Lists every quantity with its distance on each board."""

    name = "course"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self._ledger = Ledger(tr("page.course"), self)
        self.lay_out(self._ledger)

    def build_side(self, side: Side) -> None:
        side.words(tr("course.how"))

    def show_board(self) -> None:
        found: list[tuple[int, Comparison]] = []
        for board, photo in self.job.records.boards():
            comparison = None if photo is None else self.job.comparisons.of(photo)
            if comparison is not None:
                found.append((board.number, comparison))
        if not found:
            self._ledger.show_rows([], -1, tr("boards.reading"))
            return
        # So many boards have room beside the names: the latest of them.
        found = found[-_MOST_BOARDS:]
        numbers = tuple(str(number) for number, _ in found)
        rows = [LedgerRow(title=tr("course.boards"), columns=numbers, head=True)]
        overall = [comparison.likely_distance for _, comparison in found]
        rows.append(_row(tr("course.overall"), overall))
        tables = [{d.quantity: d for d in comparison.differences} for _, comparison in found]
        # What is still farthest off comes first.
        latest = sorted(tables[-1].values(), key=lambda d: -abs(d.jnd))
        for difference in latest:
            values = [
                abs(table[difference.quantity].jnd) if difference.quantity in table else None
                for table in tables
            ]
            rows.append(_row(say(difference.name), values))
        self._ledger.show_rows(rows)


def _row(name: str, values: list[float] | list[float | None]) -> LedgerRow:
    told = [value for value in values if value is not None]
    words = tuple("–" if value is None else figure_words(value, 1) for value in values)
    last = told[-1] if told else 0.0
    note = ""
    if len(told) > 1:
        change = told[-1] - told[-2]
        if abs(change) >= _SEEN:
            note = tr("course.nearer" if change < 0 else "course.further")
    return LedgerRow(title=name, note=note, columns=words, sign="ready" if last < _SEEN else "todo")

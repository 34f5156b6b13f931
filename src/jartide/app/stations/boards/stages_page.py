"""Layer by layer: what each pass was worth, and whether a stage is on course."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtWidgets import QWidget

from jartide.app.stations.boards.page import BoardPage, Side
from jartide.app.widgets.control_column import fill_list
from jartide.app.widgets.ledger import Ledger, LedgerRow
from jartide.boards.headline import worst_row
from jartide.figures import figure
from jartide.job.open_job import OpenJob
from jartide.wording import say, tr


class StagesPage(BoardPage):
    """Shows the worth of passes and the verdicts of stages."""

    name = "stages"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self._ledger = Ledger(tr("page.stages"), self)
        self.lay_out(self._ledger)

    def build_side(self, side: Side) -> None:
        side.words(tr("stages.how"))
        side.words(tr("stages.without_note"))
        self._without = side.list(tr("stages.without"), self._without_chosen)

    def show_board(self) -> None:
        board = self.board
        if board is None:
            return
        passes = [
            done.name for b, _ in self.job.records.boards() for done in self.job.boards.passes(b)
        ]
        items: list[tuple[str, object]] = [(tr("stages.with_all"), "")]
        items += [(tr("stages.left_out", name=name), name) for name in dict.fromkeys(passes)]
        fill_list(self._without, items, board.without)
        for photo in self.job.boards.stage_photos(board):
            self.job.readings.want(photo)
        rows: list[LedgerRow] = []
        verdicts = []
        for photo in self.job.boards.stage_photos(board):
            found = self.job.boards.stage_verdict(board, photo)
            if found is not None:
                verdicts.append((photo, *found))
        if verdicts:
            rows.append(LedgerRow(title=tr("stages.course"), head=True))
        standing = self.job.boards.standing(board)
        names = {e.id: e.logged.done.name for e in standing if e.logged.done is not None}
        for photo, other, verdict in verdicts:
            worst = worst_row(verdict.comparison)
            if verdict.course == "on_course":
                note = tr("stages.like", number=other.number)
            else:
                left = verdict.take_back_min
                back = tr("stages.back", count=round(left)) if left >= 1 else tr("stages.too_late")
                what = say(worst.words) if worst is not None else ""
                note = f"{what} {back}".strip()
            rows.append(
                LedgerRow(
                    title=names.get(photo.stage.after, ""),
                    note=note,
                    right=tr(f"stages.{verdict.course}"),
                    sign="ready" if verdict.course == "on_course" else "stop",
                )
            )
        worth = self.job.boards.worth(board)
        if worth:
            rows.append(LedgerRow(title=tr("stages.worth"), head=True))
        for layer in worth:
            per = (
                ""
                if layer.per_minute is None
                else tr("stages.per_minute", value=figure(60 * layer.per_minute, 1))
            )
            key = "stages.nearer" if layer.gain >= 0 else "stages.further"
            rows.append(
                LedgerRow(
                    title=layer.name,
                    note=tr("stages.could_skip") if layer.could_skip else "",
                    right=tr(key, value=figure(abs(layer.gain), 1)),
                    right_note=per,
                    sign="todo" if layer.could_skip else "ready",
                )
            )
        self._ledger.show_rows(rows, -1, tr("stages.empty"))

    def _without_chosen(self) -> None:
        if self.board is not None:
            new = replace(self.board, without=str(self._without.currentData() or ""))
            if new != self.board:
                self.job.records.change(tr("undo.without"), [self.board], [new])

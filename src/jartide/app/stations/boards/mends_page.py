"""What mends the board: every mend with its amount, its recipe and what else it moves."""

from __future__ import annotations

from typing import TYPE_CHECKING

from jartide.app.stations.boards.page import BoardPage, Side
from jartide.app.widgets.control_column import number, put_text, was_edited
from jartide.app.widgets.ledger import Ledger, LedgerRow
from jartide.wording import tr

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

    from jartide.app.board_desk import BoardDesk


class MendsPage(BoardPage):
    """Lists the mends, the first difference's first."""

    name = "mends"

    def __init__(self, desk: BoardDesk, parent: QWidget | None = None) -> None:
        super().__init__(desk, parent)
        self._ledger = Ledger(tr("page.mends"), self)
        self._body = [self._ledger]

    def build_side(self, side: Side) -> None:
        self._fresh = side.words(size=18, weight=600)
        side.words(tr("mends.how"))
        side.words(tr("mends.limits"))
        self._tolerance = side.fields(tr("mends.tolerance"), edited=self._tolerance_edited)[0]

    def show_board(self) -> None:
        comparison = None if self.photo is None else self.document.comparison(self.photo)
        found = None if self.photo is None else self.desk.mends(self.photo)
        if comparison is None or found is None:
            self._ledger.show_rows([], -1, tr("boards.reading"))
            return
        put_text(self._tolerance, f"{comparison.tolerance:g}")
        mends, fresh = found
        self._fresh.setText(fresh or (tr("mends.repair") if mends else ""))
        rows: list[LedgerRow] = []
        for mend in mends:
            rows.append(LedgerRow(title=mend.what, head=True))
            sign = {"open": "ready", "repair": "todo", "fresh": "check"}[mend.means]
            note = " ".join((tr(f"mends.on.{mend.means}"), *mend.effects))
            rows.append(LedgerRow(title=mend.how, note=note, sign=sign))
            for place, recipe in enumerate(mend.recipes):
                note = tr("mends.with_paints") if place == 0 else tr("mends.or")
                rows.append(LedgerRow(title=recipe, note=note))
        self._ledger.show_rows(rows, -1, tr("mends.none"))

    def _tolerance_edited(self) -> None:
        """The painter's own tolerance of this finish."""
        from dataclasses import replace

        finish = self.document.finish
        if finish is None or not was_edited(self._tolerance):
            return
        wanted = number(self._tolerance.text())
        if wanted is None or not 0.5 <= wanted <= 50:
            self.document.failed.emit(tr("error.tolerance"))
        elif wanted != finish.tolerance:
            new = replace(finish, tolerance=wanted)
            self.document.change(tr("undo.tolerance"), [finish], [new])

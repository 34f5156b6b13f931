"""The list of what makes a photo ready: each row says how it stands, the open one is edited."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QAbstractButton, QWidget

from jartide.app.kit import Kit
from jartide.app.widgets.painted import current_theme

ROW_HEIGHT = 66


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One row: its sign (ready, todo, check, stop), name, state and a note."""

    sign: str
    name: str
    state: str
    note: str


class StepRow(QAbstractButton):
    """One row of the list; the chosen one carries a length of accent at its foot."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFixedHeight(ROW_HEIGHT)
        self._step = Step(sign="todo", name="", state="", note="")

    def show_step(self, step: Step) -> None:
        """Show how one step stands."""
        self._step = step
        self.setAccessibleName(f"{step.name}: {step.state}. {step.note}")
        self.update()

    def paintEvent(self, event: QEvent) -> None:
        painter = QPainter(self)
        kit = Kit(painter, current_theme())
        step, w = self._step, self.width()
        kit.sign(9, 20, step.sign)
        kit.text(30, 8, step.name, 17, 600 if self.isChecked() else 500)
        kit.text(30, 9, step.state, 16, 400, "ink", w - 30, "right")
        kit.text(30, 34, step.note, 15, 400, "ink2", w - 30)
        kit.across(0, ROW_HEIGHT - 1, w)
        if self.isChecked():
            kit.across(0, ROW_HEIGHT - 4, 120, "accent", 4)
        if self.hasFocus():
            kit.box(0, 1, w, ROW_HEIGHT - 4, "accent", 2, 6)
        painter.end()

"""The list of what makes a photo ready: each row says how it stands and opens its panel."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QEvent, Qt
from PySide6.QtWidgets import QWidget

from jartide.app.measure import px
from jartide.app.widgets.pressed_by_enter import PressedByEnter

ROW_HEIGHT = 50


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """One row: its sign (ready, todo, check, stop), name, state and a note."""

    sign: str
    name: str
    state: str
    note: str


class StepRow(PressedByEnter):
    """One row of the list; a press opens what it stands for."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFixedHeight(px(ROW_HEIGHT))
        self._step = Step(sign="todo", name="", state="", note="")

    def show_step(self, step: Step) -> None:
        """Show how one step stands."""
        self._step = step
        self.setAccessibleName(f"{step.name}: {step.state}. {step.note}")
        self.update()

    def paintEvent(self, event: QEvent) -> None:
        with self.drawing() as kit:
            step, w = self._step, self.wide
            kit.sign(9, 15, step.sign)
            advance = kit.text(28, 3, step.name, 17, 600 if self.underMouse() else 500)
            room = w - 28 - advance - 12
            kit.text(w - room, 4, step.state, 16, 400, "ink", room, "right")
            kit.text(28, 25, step.note, 14, 400, "ink2", w - 44)
            kit.arrow(w - 6, 35, 1, 6, shade="ink2")
            kit.across(0, ROW_HEIGHT - 1, w)
            if self.hasFocus():
                kit.box(0, 1, w, ROW_HEIGHT - 4, "accent", 2, 6)

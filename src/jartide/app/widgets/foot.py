"""The foot: what is so, what comes next, and the buttons for it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtCore import QTimer
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QWidget

from jartide.app.keys import with_key
from jartide.app.kit import Kit
from jartide.app.widgets.buttons import Button
from jartide.app.widgets.label import tip
from jartide.app.widgets.painted import Painted
from jartide.wording import tr

HEIGHT = 64


@dataclass(frozen=True, slots=True, kw_only=True)
class Action:
    """A button of the foot."""

    text: str
    run: Callable[[], None]
    primary: bool = False
    enabled: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class FootState:
    """What the foot says. `sign` is ready, todo, check or stop; `progress` 0..1 while busy."""

    text: str
    note: str = ""
    sign: str = ""
    progress: float | None = None
    actions: tuple[Action, ...] = ()


class Foot(Painted):
    """Shows a `FootState`, an error until the next one, or an undo offer for ten seconds."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedHeight(HEIGHT)
        self._state = FootState(text="")
        self._over: FootState | None = None
        self._buttons: list[Button] = []
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.clear_over)

    @property
    def shown(self) -> FootState:
        """Return what stands in the foot now."""
        return self._over or self._state

    def show_state(self, state: FootState) -> None:
        """Show what the station says."""
        same = [a.text for a in state.actions] == [a.text for a in self._state.actions]
        self._state = state
        if self._over is None:
            self._rebuild(keep=same)

    def show_error(self, sentence: str) -> None:
        """Show a sentence with a square until the painter goes on."""
        close = Action(text=tr("foot.understood"), run=self.clear_over)
        self._show_over(FootState(text=sentence, sign="stop", actions=(close,)), 0)

    def show_choice(
        self, sentence: str, choices: list[tuple[str, Callable[[], None]]], primary: str = ""
    ) -> None:
        """Ask, and go back to what the station says once one is chosen.

        `primary` names the choice that most painters make; it waits for Enter.
        """

        def chosen(run: Callable[[], None]) -> Callable[[], None]:
            def go() -> None:
                self.clear_over()
                run()

            return go

        actions = [Action(text=tr("foot.leave"), run=self.clear_over)]
        actions += [
            Action(text=text, run=chosen(run), primary=text == primary) for text, run in choices
        ]
        self._show_over(FootState(text=sentence, sign="check", actions=tuple(actions)), 0)
        for button in self._buttons:
            if button.primary:
                button.setFocus()

    def show_word(self, sentence: str) -> None:
        """Show a sentence that asks for nothing until the painter goes on."""
        close = Action(text=tr("foot.understood"), run=self.clear_over)
        self._show_over(FootState(text=sentence, actions=(close,)), 0)

    def show_news(self, sentence: str, go: str, run: Callable[[], None]) -> None:
        """Show what has come due, and the way there, until the painter goes on."""

        def follow() -> None:
            self.clear_over()
            run()

        leave = Action(text=tr("foot.understood"), run=self.clear_over)
        actions = (leave, Action(text=go, run=follow, primary=True))
        self._show_over(FootState(text=sentence, sign="check", actions=actions), 0)

    def offer_undo(self, text: str, undo: Callable[[], None]) -> None:
        """Offer to take a removal back, for ten seconds."""

        def run() -> None:
            self.clear_over()
            undo()

        action = Action(text=tr("foot.undo"), run=run)
        self._show_over(FootState(text=text, actions=(action,)), 10_000)

    def clear_over(self) -> None:
        """Go back to what the station says."""
        self._timer.stop()
        self._over = None
        self._rebuild()

    def _show_over(self, state: FootState, milliseconds: int) -> None:
        self._over = state
        self._timer.stop()
        if milliseconds:
            self._timer.start(milliseconds)
        self._rebuild()

    def _rebuild(self, keep: bool = False) -> None:
        if not keep:
            for button in self._buttons:
                button.hide()
                button.deleteLater()
            self._buttons = []
            for number, action in enumerate(self.shown.actions):
                button = Button(action.text, self, primary=action.primary)
                button.clicked.connect(lambda _=False, n=number: self.shown.actions[n].run())
                if action.primary:
                    button.setToolTip(tip(with_key(action.text, "Ctrl+Return")))
                button.show()
                self._buttons.append(button)
        for button, action in zip(self._buttons, self.shown.actions, strict=True):
            button.setEnabled(action.enabled)
        self.setAccessibleName(f"{self.shown.text} {self.shown.note}".strip())
        self._place()
        self.update()

    def press_primary(self) -> None:
        """Do what the primary button does."""
        for action in self.shown.actions:
            if action.primary and action.enabled:
                action.run()
                return

    def _place(self) -> None:
        x = self.width() - 24
        for button in reversed(self._buttons):
            x -= button.width()
            button.move(x, 10)
            x -= 12

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._place()

    def paint(self, kit: Kit) -> None:
        state = self.shown
        kit.fill(0, 0, self.width(), self.height(), "sheet")
        kit.across(0, 0, self.width())
        if state.progress is not None:
            kit.across(0, 0, self.width() * state.progress, "ink", 4)
        room = (self._buttons[0].x() if self._buttons else self.width()) - 24
        left = 24
        if state.sign:
            kit.sign(32, 25 if state.note else 33, state.sign)
            left = 50
        if state.note:
            kit.text(left, 12, state.text, 16, 500, "ink", room - left)
            kit.text(left, 36, state.note, 14, 400, "ink3", room - left)
        elif len(state.text) > 90:
            kit.paragraph(left, 10, room - left, state.text, 16, 500, "ink", lines=2)
        else:
            kit.text(left, 22, state.text, 16, 500, "ink", room - left)

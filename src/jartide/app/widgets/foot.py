"""The foot: what is so, what comes next, and the buttons for it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtCore import QSize, Qt, QTimer
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QBoxLayout, QSizePolicy, QWidget

from jartide.app.keys import with_key
from jartide.app.kit import Kit, broken, text_width
from jartide.app.measure import px, text_scale
from jartide.app.widgets.buttons import HEIGHT as BUTTON
from jartide.app.widgets.buttons import Button
from jartide.app.widgets.ground import column, row
from jartide.app.widgets.label import tip
from jartide.app.widgets.painted import Painted
from jartide.wording import tr

HEIGHT = 64
_MARGIN, _GAP, _SIGN = 24, 12, 26
_LINE = 22


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


class _Words(Painted):
    """The words of the foot: a sentence, and a quieter one below it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._state = FootState(text="")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)

    def say(self, state: FootState) -> None:
        self._state = state
        self.updateGeometry()
        self.update()

    def _left(self) -> int:
        return _SIGN if self._state.sign else 0

    def fit(self, wide: float) -> bool:
        """Whether they are read whole where they are `wide`, units: two lines at most."""
        state, room = self._state, wide - self._left()
        if state.note:
            return max(text_width(state.text, 16, 500), text_width(state.note, 14)) <= room
        return room > 0 and len(broken(state.text, room, 16, 500)) <= 2

    def tall(self, wide: float) -> float:
        """How high they are where they are `wide`, units: broken, they take more lines."""
        state, room = self._state, wide - self._left()
        lines = len(broken(state.text, room, 16, 500))
        notes = len(broken(state.note, room, 14)) if state.note else 0
        return _LINE * (lines + notes) + 8

    def minimumSizeHint(self) -> QSize:
        return QSize(px(120), px(BUTTON))

    def paint(self, kit: Kit) -> None:
        state, left, h = self._state, self._left(), self.high
        room = self.wide - left
        if not self.fit(self.wide):
            end = kit.paragraph(left, 4, room, state.text, 16, 500, "ink")
            kit.paragraph(left, end, room, state.note, 14, 400, "ink3")
            if state.sign:
                kit.sign(8, 17, state.sign)
            return
        middle = h / 2
        if state.sign:
            kit.sign(8, middle - 7 if state.note else middle + 1, state.sign)
        if state.note:
            kit.text(left, middle - 20, state.text, 16, 500, "ink")
            kit.text(left, middle + 4, state.note, 14, 400, "ink3")
        else:
            lines = len(broken(state.text, room, 16, 500))
            kit.paragraph(left, middle + 1 - 11 * lines, room, state.text, 16, 500, "ink")


class Foot(Painted):
    """Shows a `FootState`, an error until the next one, or an undo offer for ten seconds."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._words = _Words(self)
        self._whole = column(self, (_MARGIN, 0, _MARGIN, 0))
        self._whole.addWidget(self._words, 1)
        self._whole.setDirection(QBoxLayout.Direction.LeftToRight)
        self._row = row(gap=_GAP)
        self._whole.addLayout(self._row)
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
        self._state = state
        if self._over is None:
            self._rebuild()

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

    def _rebuild(self) -> None:
        """Show the buttons that are wanted; the very same ones where nothing else is said."""
        wanted = [(action.text, action.primary) for action in self.shown.actions]
        if wanted != [(button.text(), button.primary) for button in self._buttons]:
            gone, self._buttons = self._buttons, []
            for number, action in enumerate(self.shown.actions):
                button = Button(action.text, self, primary=action.primary)
                button.clicked.connect(lambda _=False, n=number: self.shown.actions[n].run())
                if action.primary:
                    button.setToolTip(tip(with_key(action.text, "Ctrl+Return")))
                self._buttons.append(button)
            stood_here = any(button.hasFocus() for button in gone)
            # Last: what loses the focus may be kept, and the foot be shown anew meanwhile.
            for button in gone:
                self._row.removeWidget(button)
                button.hide()
                button.deleteLater()
            for button in self._buttons:
                self._row.addWidget(button)
                button.show()
            if stood_here:
                self._take_focus()
        for button, action in zip(self._buttons, self.shown.actions, strict=True):
            button.setEnabled(action.enabled)
        self.setAccessibleName(f"{self.shown.text} {self.shown.note}".strip())
        self._words.say(self.shown)
        self._place()
        self.update()

    def _take_focus(self) -> None:
        """Whoever stood on a button that is gone stands on what takes its place."""
        can = [button for button in self._buttons if button.isEnabled()]
        first = [button for button in can if button.primary]
        for button in (first or can)[:1]:
            button.setFocus()

    def press_primary(self) -> None:
        """Do what the primary button does."""
        for action in self.shown.actions:
            if action.primary and action.enabled:
                action.run()
                return

    def _place(self) -> None:
        """Words and buttons share a line; where that is too short, the words stand above."""
        buttons = sum(button.sizeHint().width() + px(_GAP) for button in self._buttons)
        room = self.wide - 2 * _MARGIN
        beside = self._words.fit(room - buttons / text_scale())
        ways = QBoxLayout.Direction
        self._whole.setDirection(ways.LeftToRight if beside else ways.TopToBottom)
        self._row.setAlignment(
            Qt.AlignmentFlag.AlignVCenter if beside else Qt.AlignmentFlag.AlignRight
        )
        self._whole.setContentsMargins(px(_MARGIN), 0, px(_MARGIN), 0 if beside else px(_GAP))
        row_of_buttons = BUTTON + _GAP if self._buttons else 0
        tall = HEIGHT if beside else self._words.tall(room) + row_of_buttons + 6
        self.setFixedHeight(px(tall))

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._place()

    def paint(self, kit: Kit) -> None:
        kit.fill(0, 0, self.wide, self.high, "sheet")
        kit.across(0, 0, self.wide)
        if self.shown.progress is not None:
            kit.across(0, 0, self.wide * self.shown.progress, "ink", 4)

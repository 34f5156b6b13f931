"""Glance: the step in hand over the whole screen, read from the ladder and moved on by an elbow."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QRectF, Qt, QTimer
from PySide6.QtGui import QColor, QHideEvent, QKeyEvent, QMouseEvent, QShowEvent
from PySide6.QtWidgets import QWidget

from jartide.app.elements.jar import draw_jar
from jartide.app.kit import Kit, broken, text_width
from jartide.app.over_all import OverAll
from jartide.app.widgets.foot import Action
from jartide.job.glance import Glance
from jartide.wording import tr

# Signs are lettered 4 mm high for each metre they are read from: 14 minutes of arc, nearly three
# times what a sound eye needs. At 96 px to the inch and 3 m that is 46 px of a capital letter.
LEAST_PX = 70
# What explains is read from half as far.
_PARAGRAPHS = (44, 38, 32)
_PRESS_SHARE = 0.26
_MARGIN = 40


class GlanceView(OverAll):
    """Shows one step; `told` says which, and what a touch or the space bar does."""

    def __init__(
        self, told: Callable[[], tuple[Glance | None, Action | None]], window: QWidget
    ) -> None:
        super().__init__(window)
        self._told = told
        self._glance: Glance | None = None
        self._action: Action | None = None
        self._ticker = QTimer(self)
        self._ticker.setInterval(1000)
        self._ticker.timeout.connect(self.show_now)

    def showEvent(self, event: QShowEvent) -> None:
        self._ticker.start()

    def hideEvent(self, event: QHideEvent) -> None:
        self._ticker.stop()

    def show_now(self) -> None:
        self._glance, self._action = self._told()
        g = self._glance
        words = tr("glance.done")
        if g is not None:
            words = ". ".join(
                filter(None, (g.what, g.where, g.jar, g.parts, f"{g.of_what} {g.time}", g.then))
            )
        self.setAccessibleName(f"{tr('glance.name')}: {words}")
        self.update()

    # ---- moving on

    def press_rect(self) -> QRectF:
        """Return where a touch moves on: the whole foot of the screen."""
        height = self.high * _PRESS_SHARE
        return QRectF(0, self.high - height, self.wide, height)

    def back_rect(self) -> QRectF:
        """Return where a touch leads back."""
        side = max(96.0, self.high * 0.13)
        return QRectF(self.wide - 2.2 * side, 0, 2.2 * side, side)

    def move_on(self) -> None:
        """Do what comes next: begin, end, or say that it is ready."""
        if self._action is not None and self._action.enabled:
            self._action.run()
        self.show_now()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self.back_rect().contains(self.at(event)):
            self.close_again()
        elif self.press_rect().contains(self.at(event)):
            self.move_on()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            if not event.isAutoRepeat():
                self.move_on()
        else:
            super().keyPressEvent(event)

    # ---- drawing

    def paint(self, kit: Kit) -> None:
        w, h = self.wide, self.high
        kit.fill(0, 0, w, h, "bench")
        self._paint_back(kit)
        g = self._glance
        if g is None:
            kit.text(0, h * 0.36, tr("glance.done"), LEAST_PX, 700, "ink", w, "centre")
        else:
            self._paint_step(kit, g)
        self._paint_press(kit)

    def _paint_back(self, kit: Kit) -> None:
        back = self.back_rect()
        kit.text(back.x(), back.center().y() - 21, tr("glance.back"), 32, 600, "ink2",
                 back.width() - _MARGIN, "right")  # fmt: skip

    def _paint_step(self, kit: Kit, g: Glance) -> None:
        w = self.wide
        foot = self.press_rect().y()
        chip = round(min(foot * 0.5, w * 0.3))
        left = _MARGIN
        if g.shade is not None:
            kit.fill(left, _MARGIN, chip, chip, QColor(g.shade))
            kit.box(left, _MARGIN, chip, chip, "edge", 2)
            left += chip + _MARGIN
        room = w - left - _MARGIN
        top_room = room - (self.back_rect().width() if left + room > self.back_rect().x() else 0)
        y = float(_MARGIN) - 8
        size = _fitting(g.what, top_room, 96)
        kit.text(left, y, g.what, size, 700, "ink", top_room)
        y += size * 1.3
        kit.text(left, y, g.where, LEAST_PX, 400, "ink2", room)
        y += LEAST_PX * 1.35
        jar_room = room
        if g.parts:
            size = _fitting(g.parts, room * 0.6, 96)
            draw_jar(kit, left, y + 6, size, fill=QColor(g.shade) if g.shade else "ink2",
                     level=0.6, height=size * 0.9)  # fmt: skip
            x = float(left + size + 24)
            x += kit.text(x, y, g.parts, size, 700, "ink", room - size - 24) + 32
            kit.text(x, y + size * 0.3, g.jar, _PARAGRAPHS[0], 600, "ink2", left + room - x)
            y += size * 1.3
        elif g.jar:
            kit.text(left, y, g.jar, _fitting(g.jar, jar_room, LEAST_PX), 600, "ink", jar_room)
        y = max(_MARGIN + chip + 24.0, foot * 0.58)
        third = (w - 4 * _MARGIN) / 3
        kit.across(_MARGIN, y - 12, w - 2 * _MARGIN, "line")
        size = _fitting(g.time, third, 110)
        kit.text(_MARGIN, y, g.time, size, 700, "ink", third)
        kit.text(_MARGIN, y + size * 1.25, g.of_what, 36, 400, "ink2", third)
        for number, (head, words) in enumerate(
            ((tr("glance.ready_when"), g.ready), (tr("glance.then"), g.then)), start=1
        ):
            x = _MARGIN + number * (third + _MARGIN)
            kit.text(x, y, head, 32, 600, "ink2", third)
            _paragraph(kit, QRectF(x, y + 44, third, foot - y - 56), words)

    def _paint_press(self, kit: Kit) -> None:
        press = self.press_rect()
        if self._action is None:
            kit.fill(press.x(), press.y(), press.width(), press.height(), "sheet")
            waits = "" if self._glance is None else self._glance.waits
            room = QRectF(_MARGIN, press.y() + 24, press.width() - 2 * _MARGIN, press.height() - 32)
            _paragraph(kit, room, waits)
            return
        kit.fill(press.x(), press.y(), press.width(), press.height(), "ink")
        kit.fill(press.x(), press.bottom() - 12, press.width(), 12, "accent")
        size = _fitting(self._action.text, press.width() - 2 * _MARGIN, 80)
        middle = press.center().y() - size * 0.65 - 18
        kit.text(0, middle, self._action.text, size, 700, "sheet", press.width(), "centre")
        kit.text(0, middle + size * 1.3, tr("glance.space"), 28, 400, "sheet", press.width(),
                 "centre")  # fmt: skip


def _fitting(text: str, room: float, most: int) -> int:
    """The largest size a line has room for, between what is read at 3 m and `most`."""
    wide = text_width(text, most, 700)
    return most if wide <= room else max(LEAST_PX, int(most * room / wide))


def _paragraph(kit: Kit, room: QRectF, words: str) -> None:
    """Write words as large as the room allows, the least where they don't fit."""
    for size in _PARAGRAPHS:
        rows = broken(words, room.width(), size, 600)
        if len(rows) * size * 1.38 <= room.height():
            break
    most = max(1, int(room.height() / (size * 1.38)))
    kit.paragraph(room.x(), room.y(), room.width(), words, size, 600, "ink", lines=most)

"""The clock: what runs and dries, in figures that are read from two metres."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QTimer
from PySide6.QtGui import QHideEvent, QShowEvent
from PySide6.QtWidgets import QWidget

from jartide.app.elements.drying_tail import draw_tail
from jartide.app.kit import Kit, text_width
from jartide.app.stations.steps.page import StepsPage
from jartide.job.described import Timer
from jartide.job.open_job import OpenJob
from jartide.job.words.steps import span_words
from jartide.wording import tr

# Capital letters of 4 mm for each metre of distance are read at ease; two metres, 96 px to
# the inch, and the figures are to be seen across a room.
_FIGURES = 132
_MOST = 4


class ClockPage(StepsPage):
    """Draws up to four timers as large as the window allows."""

    name = "clock"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        # Set by the station, which knows what runs.
        self.timers: Callable[[], list[Timer]] = list
        self._ticker = QTimer()
        super().__init__(job, parent)
        self._scroll.hide()
        self._ticker.setParent(self)
        self._ticker.setInterval(1000)
        self._ticker.timeout.connect(self.show_now)

    def showEvent(self, event: QShowEvent) -> None:
        self._ticker.start()

    def hideEvent(self, event: QHideEvent) -> None:
        self._ticker.stop()

    def show_now(self) -> None:
        words = [f"{span_words(t.left)} {t.title}" for t in self.timers()]
        self.setAccessibleName("; ".join(words) or tr("steps.nothing_dries"))
        self.update()

    def paint(self, kit: Kit) -> None:
        w, h = self.wide, self.high
        kit.fill(0, 0, w, h, "bench")
        timers = self.timers()[:_MOST]
        clock = f"{self.plan.now():%H:%M}"
        kit.text(24, 18, clock, 42, 700, "ink")
        kit.text(170, 34, tr("page.clock.note"), 18, 400, "ink2", w - 200)
        if not timers:
            kit.text(0, h / 2 - 40, tr("steps.nothing_dries"), 32, 600, "ink", w, "centre")
            return
        columns = 1 if len(timers) == 1 else 2
        rows = -(-len(timers) // columns)
        wide, high = w / columns, (h - 90) / rows
        for number, timer in enumerate(timers):
            x = wide * (number % columns) + 24
            y = 90 + high * (number // columns)
            kit.across(x, y, wide - 48)
            words = tr("steps.look_word") if timer.kind == "look" else span_words(timer.left)
            size = _FIGURES if columns == 1 else 96
            while text_width(words, size, 700) > wide - 60:
                size -= 8
            kit.text(x, y + 16, words, size, 700, "ink")
            foot = y + 24 + 1.3 * size
            kit.text(x, foot, timer.title, 26, 600, "ink", wide - 60)
            kit.text(x, foot + 40, timer.note, 20, 400, "ink2", wide - 60)
            if timer.kind != "running":
                draw_tail(kit, x, foot + 74, wide - 60, 34, timer.passed, timer.kind == "look")

"""The column at the right of the hours: what dries now, and what comes next."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtGui import QColor
from PySide6.QtWidgets import QWidget

from jartide.app.elements.drying_tail import draw_tail
from jartide.app.elements.jar import draw_jar
from jartide.app.kit import Kit, broken
from jartide.app.widgets.painted import Painted
from jartide.job.described import Next, Timer
from jartide.job.words.steps import span_words
from jartide.wording import tr

# Where words stand beside the next mix's jar, and how many lines one thing said may take.
_BESIDE_JAR = 72
_MOST_LINES = 3


class StepsSide(Painted):
    """Draws the timers that end first, and the next block."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._timers: list[Timer] = []
        self._next: Next | None = None
        self.most = 2

    @property
    def timers(self) -> list[Timer]:
        """What runs, the one that ends first first."""
        return self._timers

    def show_now(self, timers: Sequence[Timer], coming: Next | None) -> None:
        """Show timers and what comes next."""
        self._timers, self._next = list(timers), coming
        words = [f"{span_words(t.left)} {t.title}" for t in self._timers]
        if coming is not None:
            words.append(f"{coming.title}: {coming.name}")
        self.setAccessibleName("; ".join(words) or tr("steps.nothing_dries"))
        self.update()

    def ends_at(self, width: int) -> int:
        """Return how high it is where it is `width` wide: long days and names take two lines."""
        timers = min(len(self._timers), self.most)
        height = 48 + (118 * timers if timers else 34)
        if self._next is None:
            return height
        more = len(broken(self._next.title, width, 20, 700)) - 1
        for line in self._next.lines:
            more += min(len(broken(line, width - _BESIDE_JAR, 15)), _MOST_LINES) - 1
        return height + 78 + 26 * len(self._next.lines) + 30 + 26 * more

    def paint(self, kit: Kit) -> None:
        w = self.wide
        look = [t for t in self._timers if t.kind == "look"]
        title = tr("steps.look_now") if look else tr("steps.drying_now")
        if self._timers and not look and self._timers[0].kind == "running":
            title = tr("steps.on_it_now")
        kit.text(0, 14, title, 20, 700, "ink", w)
        y = 48.0
        if not self._timers:
            kit.text(0, y, tr("steps.nothing_dries"), 15, 400, "ink2", w)
            y += 34
        for timer in self._timers[: self.most]:
            words = tr("steps.look_word") if timer.kind == "look" else span_words(timer.left)
            size = 42 if len(words) < 8 else 32
            kit.text(0, y, words, size, 700, "ink", w - 132)
            if timer.kind != "running":
                draw_tail(kit, w - 128, y + 14, 124, 26, timer.passed, timer.kind == "look")
            kit.text(0, y + 60, timer.title, 15, 700, "ink", w)
            kit.text(0, y + 82, timer.note, 15, 400, "ink2", w)
            kit.across(0, y + 110, w)
            y += 118
        if self._next is not None:
            self._paint_next(kit, self._next, y, w)

    def _paint_next(self, kit: Kit, coming: Next, y: float, w: float) -> None:
        at = kit.paragraph(0, y + 8, w, coming.title, 20, 700, "ink", lines=2) + 3
        at = kit.paragraph(0, at, w, coming.name, 16, 600, "ink", lines=2) + 6
        left = 0.0
        if coming.shade is not None:
            draw_jar(kit, 2, at, 54, fill=QColor(coming.shade), level=coming.level)
            left = _BESIDE_JAR
        for line in coming.lines:
            at = kit.paragraph(left, at, w - left, line, 15, 400, "ink", lines=_MOST_LINES) + 5

"""What one, two and three coats look like over what lies below."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtGui import QColor
from PySide6.QtWidgets import QWidget

from jartide.app.kit import Kit, text_width
from jartide.app.measure import px
from jartide.app.widgets.painted import Painted
from jartide.wording import tr

HEIGHT, _LEAST = 150, 132
_Y = 34
# What stands below the coats.
_BELOW = 64
# The rows of a ladder: half of the jar's glaze medium, the jar's own, twice as much.
_LADDER = ("ladder.stronger", "ladder.own", "ladder.weaker")


@dataclass(frozen=True, slots=True, kw_only=True)
class FilmShown:
    """Title, the colours from bare on, the wanted colour below them, and what it means.

    `ladder` holds rows of the same coats, stronger first; then the wanted colour stands on the
    right of them.
    """

    title: str
    films: tuple[QColor, ...]
    target: QColor | None
    best: int
    words: str
    empty: str = ""
    ladder: tuple[tuple[QColor, ...], ...] = ()


class FilmView(Painted):
    """Draws the strip."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setMinimumHeight(px(_LEAST))
        self._shown: FilmShown | None = None

    def show_films(self, shown: FilmShown) -> None:
        """Show a strip, or why there is none."""
        self._shown = shown
        self.setAccessibleName(". ".join(filter(None, (shown.title, shown.words, shown.empty))))
        self.update()

    def _high(self) -> int:
        """How high the coats are drawn: what the widget has room for."""
        return self.high - _Y - _BELOW

    def paint(self, kit: Kit) -> None:
        shown, w = self._shown, self.wide
        if shown is None:
            return
        kit.text(0, 2, shown.title, 18, 600, "ink", w)
        if not shown.films:
            kit.paragraph(0, _Y + 4, w, shown.empty, 16, 400, "ink2")
            return
        if shown.ladder:
            self._paint_ladder(kit, shown)
            return
        each, high = w / len(shown.films), self._high()
        under = max(22, round(0.3 * high)) if shown.target is not None else 0
        for number, colour in enumerate(shown.films):
            kit.fill(number * each, _Y, each + 0.5, high - under, colour)
        if shown.target is not None:
            kit.fill(0, _Y + high - under, w, under, shown.target)
            light = shown.target.lightnessF() > 0.45
            ink = QColor("#151515" if light else "#f4f4f4")
            kit.text(8, _Y + high - under + 2, tr("jars.target_as_seen"), 14, 500, ink, w - 16)
        for number, words in enumerate(_coats(len(shown.films), each - 4)):
            on = number == shown.best
            if on:
                kit.across(number * each, _Y + high + 4, each - 6, "ink", 3)
            kit.text(number * each, _Y + high + 9, words, 15, 600 if on else 400, "ink", each - 4)
        kit.paragraph(0, _Y + high + 36, w, shown.words, 15, 400, "ink", lines=1)

    def _paint_ladder(self, kit: Kit, shown: FilmShown) -> None:
        """Draw three strengths, one below the other, beside what is wanted."""
        w = self.wide
        left = max(text_width(tr(words), 14, 600) for words in _LADDER) + 12
        each = (w - 84 - left) / len(shown.films)
        full = self._high()
        high = (full + 8) / len(shown.ladder)
        for row, colours in enumerate(shown.ladder):
            y = _Y + row * high
            if row < len(_LADDER):
                kit.text(
                    0, y + high / 2 - 10, tr(_LADDER[row]), 14, 600 if row == 1 else 400, "ink2"
                )
            for number, colour in enumerate(colours):
                kit.fill(left + number * each, y, each + 0.5, high - 2, colour)
        if shown.target is not None:
            kit.fill(w - 76, _Y, 76, full + 6, shown.target)
            kit.text(w - 76, _Y + full + 9, tr("jars.target"), 15, 400, "ink", 76)
        # The jar's own strength is the middle row.
        kit.upright(left - 5, _Y + high, high - 2, "ink", 3)
        for number, words in enumerate(_coats(len(shown.films), each - 4)):
            on = number == shown.best
            kit.text(
                left + number * each, _Y + full + 9, words, 15, 600 if on else 400, "ink", each - 4
            )
        kit.text(0, _Y + full + 34, shown.words, 14, 400, "ink2", w)


def _coats(count: int, room: float) -> list[str]:
    """How many coats each colour is: in words, or as figures where those have no room."""
    words = [tr("jars.bare"), *(tr("jars.coats", count=number) for number in range(1, count))]
    if all(text_width(word, 15, 600) <= room for word in words):
        return words
    return [str(number) for number in range(count)]

"""The pages of a station as words on one thin line: all are seen, each is one press away."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QWidget

from jartide.app.kit import Kit, text_width
from jartide.app.measure import px
from jartide.app.widgets.painted import Painted, reachable
from jartide.wording import tr

HEIGHT = 44
_MARGIN, _MOST_GAP, _LEAST_GAP = 24.0, 26.0, 8.0
_SIZES = (16, 15, 14)


class PageLine(Painted):
    """Shows which page is open and tells which is wanted; "" is the station itself."""

    picked = Signal(str)

    def __init__(
        self, pages: Sequence[tuple[str, str]], name: str, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self._pages, self._name = list(pages), name
        self._index = 0
        self.setFixedHeight(px(HEIGHT))
        reachable(self, name)
        self._describe()

    @property
    def pages(self) -> list[str]:
        """The pages it leads to, by name."""
        return [page for page, _ in self._pages]

    @property
    def words(self) -> list[str]:
        """What they are called."""
        return [words for _, words in self._pages]

    def show_page(self, page: str) -> None:
        """Show which page is open; this is no picking."""
        self._index = self.pages.index(page) if page in self.pages else 0
        self._describe()
        self.update()

    def _describe(self) -> None:
        words = tr("pages.at", page=self.words[self._index], number=self._index + 1,
                   of=len(self._pages))  # fmt: skip
        self.setAccessibleName(f"{self._name}: {words}")

    def _set_in(self) -> tuple[int, list[tuple[float, float]]]:
        """Size of the words, as large as there is room for, and where each stands."""
        room = self.wide - 2 * _MARGIN
        for size in _SIZES:
            widths = [text_width(word, size, 600) for word in self.words]
            gap = (room - sum(widths)) / max(len(widths) - 1, 1)
            if gap >= _LEAST_GAP or size == _SIZES[-1]:
                break
        gap = min(gap, _MOST_GAP)
        spans, x = [], _MARGIN
        for width in widths:
            spans.append((x, x + width))
            x += width + gap
        return size, spans

    def place_of(self, page: str) -> float:
        """Return the middle of a page's word, px from the left."""
        left, right = self._set_in()[1][self.pages.index(page)]
        return (left + right) / 2

    def ends_at(self) -> float:
        """Return where the last word ends, px from the left."""
        return self._set_in()[1][-1][1]

    def paint(self, kit: Kit) -> None:
        kit.fill(0, 0, self.wide, HEIGHT, "sheet")
        kit.across(0, HEIGHT - 1, self.wide)
        size, spans = self._set_in()
        for number, (word, (left, right)) in enumerate(zip(self.words, spans, strict=True)):
            on = number == self._index
            kit.text(left, 11, word, size, 600 if on else 400, "ink" if on else "ink2")
            if on:
                kit.across(left, HEIGHT - 4, right - left, "accent", 4)

    def _pick(self, index: int) -> None:
        if 0 <= index < len(self._pages) and index != self._index:
            self.picked.emit(self.pages[index])

    def turn(self, by: int) -> None:
        """Go on by so many pages, round and round."""
        if self.isVisible():
            self._pick((self._index + by) % len(self._pages))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        spans = self._set_in()[1]
        x = self.at(event).x()
        nearest = min(range(len(spans)), key=lambda n: max(spans[n][0] - x, x - spans[n][1]))
        if max(spans[nearest][0] - x, x - spans[nearest][1]) <= _MOST_GAP / 2:
            self._pick(nearest)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
        else:
            self._pick(self._index + step)
            self.setFocus()  # opening a page takes the focus: the next arrow goes on from here

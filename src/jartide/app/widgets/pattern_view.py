"""The pattern column: lay dial, size stair, and every number with its words.

A number is chosen by a press, or by the arrow keys; then its places are shown on the photo.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QResizeEvent
from PySide6.QtWidgets import QWidget

from jartide.app.elements.lay_dial import draw_lay_dial
from jartide.app.elements.size_stair import draw_size_stair
from jartide.app.kit import Kit, text_width
from jartide.app.measure import px
from jartide.app.widgets.painted import Painted, reachable
from jartide.job.words.number_rows import NumberGroup, NumberRow
from jartide.wording import tr

_STAIR_TOP = 50
_STAIR = 68
_HEADING = 44
_ROW = 52


@dataclass(frozen=True, slots=True, kw_only=True)
class PatternRows:
    """What the column shows of one reading."""

    lay: tuple[float, ...]
    lay_words: str
    spectrum: tuple[float | None, ...]
    size_words: str
    groups: tuple[NumberGroup, ...]


class PatternView(Painted):
    """Shows the target's pattern, and another's over and beside it."""

    number_chosen = Signal(str)  # path of the number whose places are wanted; empty for none

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        reachable(self, tr("reading.pattern"))
        self._target: PatternRows | None = None
        self._other: PatternRows | None = None
        self._chosen = ""

    def show_pattern(self, target: PatternRows | None, other: PatternRows | None) -> None:
        """Show a pattern; `other` is laid over it and stands beside its numbers."""
        self._target, self._other = target, other
        if self._chosen and self._chosen not in [row.path for row in self._rows()]:
            self._chosen = ""
        if target is not None:
            numbers = "; ".join(f"{row.name}: {row.value}" for row in self._rows())
            self.setAccessibleName(
                f"{tr('pattern.lay')}: {target.lay_words}. {tr('pattern.size')}: "
                f"{target.size_words}. {numbers}"
            )
        self.setMinimumHeight(px(self._height()))
        self.updateGeometry()
        self.update()

    @property
    def chosen(self) -> str:
        """The path of the chosen number; empty for none."""
        return self._chosen

    def choose(self, path: str) -> None:
        """Choose a number by its path, or none."""
        if path != self._chosen:
            self._chosen = path
            self.update()
            self.number_chosen.emit(path)

    def row_of(self, path: str) -> NumberRow | None:
        """Return a number's row."""
        return next((row for row in self._rows() if row.path == path), None)

    def row_top(self, path: str) -> float:
        """Return where a number's row begins, widget px."""
        return next((y for y, row in self._placed() if row is not None and row.path == path), 0.0)

    def _rows(self) -> list[NumberRow]:
        groups = () if self._target is None else self._target.groups
        return [row for group in groups for row in group.rows]

    def _dial(self) -> float:
        return min(self.wide - 24.0, 252.0)

    def _numbers_top(self) -> float:
        return 52 + self._dial() / 2 + 38 + 12 + _STAIR_TOP + _STAIR + 34

    def _placed(self) -> list[tuple[float, NumberRow | None]]:
        """Return the top of every heading (None) and row."""
        y = self._numbers_top()
        found: list[tuple[float, NumberRow | None]] = []
        for group in () if self._target is None else self._target.groups:
            found.append((y, None))
            y += _HEADING
            for row in group.rows:
                found.append((y, row))
                y += self._row_height(row)
        return found

    def _row_height(self, row: NumberRow) -> int:
        """A row whose words need a second line is higher by it."""
        return _ROW if text_width(row.words, 14) <= self.wide - 8 else _ROW + 20

    def _height(self) -> int:
        placed = self._placed()
        last = placed[-1] if placed else None
        if last is None or last[1] is None:
            return round(self._numbers_top())
        return round(last[0] + self._row_height(last[1]) + 8)

    def sizeHint(self) -> QSize:
        return QSize(px(300), px(self._height()))

    def resizeEvent(self, event: QResizeEvent) -> None:
        # Narrower, a row's words may need a second line.
        if self.minimumHeight() != px(self._height()):
            self.setMinimumHeight(px(self._height()))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        y = self.at(event).y()
        for top, row in self._placed():
            if row is not None and top <= y < top + self._row_height(row):
                self.choose("" if row.path == self._chosen else row.path)
                return

    def keyPressEvent(self, event: QKeyEvent) -> None:
        paths = [row.path for row in self._rows()]
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
        if step is None or not paths:
            super().keyPressEvent(event)
            return
        at = paths.index(self._chosen) + step if self._chosen in paths else 0
        self.choose(paths[min(max(at, 0), len(paths) - 1)])

    def paint(self, kit: Kit) -> None:
        w, target, other = self.wide, self._target, self._other
        kit.text(0, 0, tr("pattern.lay"), 16, 700)
        words = target.lay_words if target else ""
        kit.text(60, 1, words, 15, 400, "ink", w - 60, "right")
        dial = self._dial()
        empty: Sequence[float] = (0.0,) * 30
        draw_lay_dial(
            kit,
            (w - dial) / 2,
            52,
            dial,
            target.lay if target else empty,
            other.lay if other else (),
        )
        y = 52 + dial / 2 + 38
        kit.across(0, y, w)
        y += 12
        kit.text(0, y, tr("pattern.size"), 16, 700)
        kit.text(60, y + 1, target.size_words if target else "", 15, 400, "ink", w - 60, "right")
        labels = [
            tr("pattern.size_label", size=s) if s == 32 else str(s) for s in (1, 2, 4, 8, 16, 32)
        ]
        draw_size_stair(
            kit,
            0,
            y + _STAIR_TOP,
            w,
            _STAIR,
            labels,
            target.spectrum if target else (None,) * 6,
            other.spectrum if other else (),
        )
        self._paint_numbers(kit)

    def _paint_numbers(self, kit: Kit) -> None:
        w = self.wide
        titles = iter(() if self._target is None else [g.title for g in self._target.groups])
        groups = () if self._other is None else self._other.groups
        beside = {row.path: row for group in groups for row in group.rows}
        for y, row in self._placed():
            if row is None:
                kit.across(0, y + 6, w)
                kit.text(0, y + 16, next(titles), 16, 700)
                continue
            if row.path == self._chosen:
                kit.fill(-2, y, 4, self._row_height(row) - 4, "accent")
            other = beside.get(row.path)
            value = row.value if other is None else f"{row.value}  |  {other.value}"
            advance = kit.text(0, y + 3, value, 16, 600, "ink", w, "right")
            kit.text(8, y + 4, row.name, 15, 400, "ink", w - advance - 16)
            words = row.words
            if other is not None and other.words and other.words != row.words:
                both = f"{row.words}  |  {other.words}"
                words = both if text_width(both, 14) <= w - 8 else row.words
            kit.paragraph(8, y + 24, w - 8, words, 14, 400, "ink2", lines=2)

"""The opened jar's recipe: a row for each paint, one small jar for one part."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtGui import QColor
from PySide6.QtWidgets import QWidget

from jartide.app.elements.jar import draw_jar
from jartide.app.kit import Kit, text_width
from jartide.app.measure import px
from jartide.app.widgets.painted import Painted

_ROW, _USUAL_H = 52, 300
_NAME_X = 44
# A long name is written smaller.
_TITLES = (24, 20, 17)
_LEAST_HIGH = 220


@dataclass(frozen=True, slots=True, kw_only=True)
class RecipeRow:
    """One paint, carrier or water of a recipe."""

    count: str
    parts: int
    name: str
    colour: QColor | None
    note: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class RecipeShown:
    """What the column shows; `lines` stand below the rows, the first one bold."""

    title: str
    note: str
    rows: tuple[RecipeRow, ...]
    lines: tuple[str, ...]
    empty: str = ""


class RecipeView(Painted):
    """Draws a recipe."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._shown = RecipeShown(title="", note="", rows=(), lines=())
        self.setMinimumSize(px(200), px(_LEAST_HIGH))

    def show_recipe(self, shown: RecipeShown) -> None:
        """Show a recipe, or why there is none."""
        self._shown = shown
        rows = [" ".join(filter(None, (r.count, r.name, r.note))) for r in shown.rows]
        words = (shown.title, shown.note, *rows, *shown.lines, shown.empty)
        self.setAccessibleName(". ".join(filter(None, words)))
        self.update()

    def paint(self, kit: Kit) -> None:
        shown, w = self._shown, self.wide
        size = next((s for s in _TITLES if text_width(shown.title, s, 600) <= w), _TITLES[-1])
        title = kit.text(0, 0, shown.title, size, 600, "ink", w)
        y = 46.0
        if title + 18 + text_width(shown.note, 15) <= w:
            kit.text(title + 18, 6, shown.note, 15, 400, "ink2", w - title - 18)
        else:
            # Beside a long name there is no room for it.
            kit.text(0, 32, shown.note, 15, 400, "ink2", w)
            y = 58.0
        if not shown.rows:
            kit.paragraph(0, y, w - 10, shown.empty, 16, 400, "ink2")
            return
        # A tall window draws rows and jars larger.
        larger = min(max(self.high / _USUAL_H, 1.0), 1.7)
        row_h = min(_ROW * larger, (self.high - y - 60) / len(shown.rows))
        longest = max(text_width(row.name, 18) for row in shown.rows)
        jars_x = max(min(_NAME_X + longest + 18, w * 0.56), 150)
        for number, row in enumerate(shown.rows):
            middle = y + row_h / 2
            kit.text(0, middle - 19, row.count, 28, 600, "ink")
            name_room = jars_x - _NAME_X - 8
            if row.note:
                kit.text(_NAME_X, middle - 20, row.name, 17, 400, "ink", name_room)
                kit.text(_NAME_X, middle + 2, row.note, 14, 400, "ink3", name_room)
            else:
                kit.text(_NAME_X, middle - 11, row.name, 17, 400, "ink", name_room)
            pitch = min(46.0 * larger, (w - jars_x) / max(row.parts, 1))
            jar = min(38.0 * larger, pitch - 5, row_h - 10)
            for n in range(row.parts):
                draw_jar(
                    kit, jars_x + n * pitch, middle - 0.43 * jar, jar, fill=row.colour, level=0.78
                )
            y += row_h
            if number < len(shown.rows) - 1:
                kit.across(0, y - 0.5, w)
        y += 10
        for number, line in enumerate(shown.lines):
            weight, shade = (600, "ink") if number == 0 else (400, "ink2")
            y = kit.paragraph(0, y, w, line, 16 if number == 0 else 15, weight, shade, lines=2)
            y += 2

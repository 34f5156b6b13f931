"""The search over all jobs: words, and on request a colour, a paint, days, what was put away."""

from __future__ import annotations

import re
from datetime import date

import numpy as np
from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QLineEdit, QWidget

from jartide.app.widgets.control_column import ControlColumn, fill_list
from jartide.colour.spaces import decode_srgb, linear_to_lab
from jartide.colour.words import Lab
from jartide.store.logbook import Wanted
from jartide.wording import tr


class SearchColumn(ControlColumn):
    """Fields that say what is looked for; tells at every change."""

    changed = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        # What all of them are listed by, until something is typed.
        self._paints: list[tuple[str, object]] = []
        self.show_paints([])

    def build(self) -> None:
        self.words_field = QLineEdit(self)
        self.words_field.setAccessibleName(tr("logbook.search"))
        self.words_field.setPlaceholderText(tr("logbook.search_hint"))
        self.words_field.textChanged.connect(lambda _: self.changed.emit())
        self.column.addWidget(self.words_field)
        self.narrow = self.tick(tr("logbook.narrow"), self._narrowed)
        with self.group() as self._more:
            self.colour_field = self.fields(tr("logbook.colour"))[0]
            self.colour_field.setPlaceholderText(tr("logbook.colour_hint"))
            self.colour_field.textChanged.connect(lambda _: self.changed.emit())
            self.since_field, self.until_field = self.fields(
                tr("logbook.since"), tr("logbook.until")
            )
            for field in (self.since_field, self.until_field):
                field.setPlaceholderText(tr("logbook.day_hint"))
                field.textChanged.connect(lambda _: self.changed.emit())
            self.paint_list = self.list(tr("logbook.paint"), self.changed.emit)
            self.archived = self.tick(tr("logbook.archived"), lambda _: self.changed.emit())
        self._more.hide()

    def show_paints(self, paints: list[tuple[str, object]]) -> None:
        """Offer the shelf's tins: (name, id)."""
        entries = [(tr("logbook.any_paint"), ""), *paints]
        if entries != self._paints:
            self._paints = entries
            fill_list(self.paint_list, entries, self.paint_list.currentData() or "")

    def _narrowed(self, on: bool) -> None:
        self._more.setVisible(on)
        if not on:
            for field in (self.colour_field, self.since_field, self.until_field):
                field.clear()
            self.paint_list.setCurrentIndex(0)
            self.archived.setChecked(False)
        self.changed.emit()

    def look_for_paint(self, tin_id: str) -> None:
        """Show the jobs that used a paint."""
        self.narrow.setChecked(True)
        self._more.show()
        self.words_field.clear()
        self.paint_list.setCurrentIndex(max(self.paint_list.findData(tin_id), 0))
        self.changed.emit()

    def clear(self) -> None:
        """Look for nothing: all jobs are listed."""
        self.words_field.clear()
        if self.narrow.isChecked():
            self.narrow.setChecked(False)
            self._narrowed(False)

    def refused(self) -> str:
        """Return what can't be understood, as one sentence; "" when all can."""
        text = self.colour_field.text().strip()
        if text and typed_colour(text) is None:
            return tr("logbook.no_colour")
        for field in (self.since_field, self.until_field):
            typed = field.text().strip()
            if typed and typed_day(typed, last=False) is None:
                return tr("logbook.no_day")
        return ""

    def wanted(self) -> Wanted:
        """Return what is looked for; what can't be understood is left out."""
        return Wanted(
            words=self.words_field.text(),
            near=typed_colour(self.colour_field.text()),
            paint=self.paint_list.currentData() or "",
            since=typed_day(self.since_field.text(), last=False),
            until=typed_day(self.until_field.text(), last=True),
            archived=self.archived.isChecked(),
        )

    def keyPressEvent(self, event) -> None:
        if event.key() == Qt.Key.Key_Escape and self.words_field.text():
            self.words_field.clear()
            return
        super().keyPressEvent(event)


def typed_colour(text: str) -> Lab | None:
    """Return a colour typed as "L a b" or "#rrggbb", Lab D65; None when it is neither."""
    text = text.strip()
    if re.fullmatch(r"#?[0-9a-fA-F]{6}", text):
        code = np.array([list(bytes.fromhex(text.lstrip("#")))]) / 255.0
        lightness, a, b = (float(v) for v in linear_to_lab(decode_srgb(code))[0])
        return lightness, a, b
    numbers = re.findall(r"[-−]?\d+(?:\.\d+)?", text)
    if len(numbers) != 3 or re.sub(r"[-−\d.,;\s]", "", text):
        return None
    lightness, a, b = (float(n.replace("−", "-")) for n in numbers)
    return (lightness, a, b) if 0 <= lightness <= 100 and max(abs(a), abs(b)) < 150 else None


def typed_day(text: str, *, last: bool) -> date | None:
    """Return a day typed as 2025, 2025-03, 3.2025, 2025-03-14 or 14.3.2025; None of anything else.

    Of a month or a year its first day, or its last.
    """
    numbers = re.fullmatch(
        r"(?:(?:(\d{1,2})\.)?(\d{1,2})\.)?(\d{4})|(\d{4})-(\d{1,2})(?:-(\d{1,2}))?", text.strip()
    )
    if numbers is None:
        return None
    day, month, year = numbers[1], numbers[2], numbers[3]
    if year is None:
        year, month, day = numbers[4], numbers[5], numbers[6]
    try:
        if day is not None:
            return date(int(year), int(month), int(day))
        if month is not None:
            first = date(int(year), int(month), 1)
            following = date(first.year + first.month // 12, first.month % 12 + 1, 1)
            return date.fromordinal(following.toordinal() - 1) if last else first
        return date(int(year), 12, 31) if last else date(int(year), 1, 1)
    except ValueError:
        return None

"""A column of controls, and small helpers for the fields in it."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QHBoxLayout,
    QLineEdit,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from jartide.app.measure import px
from jartide.app.theme import font
from jartide.app.widgets.buttons import Button
from jartide.app.widgets.drop_down import DropDown
from jartide.app.widgets.label import Label, tip
from jartide.app.widgets.tick import Tick
from jartide.figures import Figure, in_figures
from jartide.wording import chosen_language, tr


def number(text: str) -> float | None:
    """Return a number as people type it: with a comma or a point, perhaps with its unit."""
    try:
        typed = float(text.strip().removesuffix("mm").strip().replace(",", ".").replace("−", "-"))
    except ValueError:
        return None
    return typed if math.isfinite(typed) else None


class ControlColumn(QWidget):
    """Controls one below the other; subclasses make them once in `build`."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(px(2), 0, px(2), px(8))
        self.column.setSpacing(px(10))
        self.build()
        self.column.addStretch(1)

    def build(self) -> None:
        """Make the controls; called once."""

    @contextmanager
    def group(self) -> Iterator[QWidget]:
        """Put what is made inside into a part of its own, to be shown and hidden together."""
        whole = self.column
        part = QWidget(self)
        self.column = QVBoxLayout(part)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(px(10))
        yield part
        self.column = whole
        self.column.addWidget(part)

    # ---- making controls

    def words(self, text: str = "", size: int = 15, weight: int = 400) -> Label:
        """Add a paragraph."""
        label = Label(text, self)
        label.setFont(font(px(size), weight))
        label.setWordWrap(True)
        label.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.column.addWidget(label)
        return label

    def button(self, text: str, run: Callable[[], None]) -> Button:
        """Add a button as wide as the panel."""
        made = Button(text, self)
        made.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        made.clicked.connect(lambda _=False: run())
        self.column.addWidget(made)
        return made

    def fields(
        self, *names: str, unit: str = "", edited: Callable[[], None] | None = None
    ) -> list[QLineEdit]:
        """Add a row of short fields, each under its name."""
        row = QHBoxLayout()
        row.setSpacing(px(8))
        made = []
        for name in names:
            cell = QVBoxLayout()
            cell.setSpacing(px(2))
            label = Label(name, self)
            label.setFont(font(px(14)))
            field = QLineEdit(self)
            field.setAccessibleName(name)
            label.setBuddy(field)
            for widget in (label, field):
                widget.setToolTip(_explained(name))
            if edited is not None:
                field.editingFinished.connect(edited)
            cell.addWidget(label)
            cell.addWidget(field)
            row.addLayout(cell, 1)
            made.append(field)
        if unit:
            label = Label(unit, self)
            label.setFont(font(px(16)))
            label.setFixedHeight(px(42))
            row.addWidget(label, 0, Qt.AlignmentFlag.AlignBottom)
        self.column.addLayout(row)
        return made

    def list(self, name: str, chosen: Callable[[], None] | None = None) -> DropDown:
        """Add a list to choose from."""
        made = DropDown(self)
        made.setFont(font(px(16)))
        made.setAccessibleName(name)
        made.setFixedHeight(px(42))
        if chosen is not None:
            made.activated.connect(lambda _: chosen())
        self.column.addWidget(made)
        return made

    def tick(self, text: str, run: Callable[[bool], None]) -> Tick:
        """Add a tick."""
        made = Tick(text, self)
        made.clicked.connect(run)
        self.column.addWidget(made)
        return made


def _explained(name: str) -> str:
    """A tip for the figures of a colour, which few painters know by their letters."""
    for figure in ("L", "a", "b"):
        if name == tr(f"colour.{figure}"):
            return tip(tr(f"colour.{figure}.means"))
    return ""


def put_text(field: QLineEdit, text: str) -> None:
    """Show a value in a field unless the painter is typing there; a figure as it is written.

    A code or a name that looks like a number is no figure, and stays as it was typed.
    """
    text = in_figures(text, chosen_language()) if isinstance(text, Figure) else text
    if field.text() != text and not (field.hasFocus() and field.isModified()):
        field.setText(text)
        # A long one is read from its beginning.
        field.setCursorPosition(0)


def rename_field(field: QLineEdit, name: str) -> None:
    """Give a field another name: the same thing in another unit."""
    field.setAccessibleName(name)
    parent = field.parentWidget()
    assert parent is not None
    for label in parent.findChildren(Label):
        if label.buddy() is field:
            label.setText(name)


def was_edited(*fields: QLineEdit) -> bool:
    """Tell whether any field was typed in since it was last asked."""
    edited = any(field.isModified() for field in fields)
    for field in fields:
        field.setModified(False)
    return edited


def fill_list(made: DropDown, items: list[tuple[str, object]], current: object = None) -> None:
    """Fill a list with (words, value) and show the current one."""
    made.blockSignals(True)
    made.clear()
    for words, value in items:
        made.addItem(words, value)
    place = next((n for n, (_, value) in enumerate(items) if value == current), 0)
    made.setCurrentIndex(place)
    made.blockSignals(False)

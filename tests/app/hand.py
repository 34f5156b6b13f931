"""A painter's hand on the window: finds things by their kind, name or words, presses and types.

Tests reach for what can be seen, named or pressed, and not for what a widget keeps to itself.
"""

from __future__ import annotations

from typing import Any, TypeVar

from PySide6.QtCore import QObject, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QComboBox, QLabel, QLineEdit, QWidget

from jartide.app.stations.registry import STATIONS
from jartide.app.widgets.buttons import ChoiceRow

_W = TypeVar("_W", bound=QObject)


def the(where: QWidget, kind: type[_W], name: str = "") -> _W:
    """Return the one child of a kind, and of an accessible name where several are there."""
    found = [w for w in where.findChildren(kind) if not name or w.accessibleName() == name]
    # A row of words says its name first, then which of them is chosen.
    found = found or [w for w in where.findChildren(kind) if w.accessibleName().startswith(name)]
    if len(found) > 1 and issubclass(kind, QWidget):
        found = [w for w in found if w.isVisibleTo(where)] or found
    assert len(found) == 1, f"{len(found)} × {kind.__name__} {name!r}"
    return found[0]


def all_of(where: QWidget, kind: type[_W]) -> list[_W]:
    """Return all children of a kind, in the order in which they were made."""
    return where.findChildren(kind)


def field(where: QWidget, name: str, number: int = 0) -> QLineEdit:
    """Return a field by its name; the first of those that can be seen, or the one of a number."""
    found = [w for w in where.findChildren(QLineEdit) if w.accessibleName() == name]
    seen = [w for w in found if w.isVisibleTo(where)] or found
    assert len(seen) > number, f"no field {name!r}"
    return seen[number]


def typed(where: QWidget, name: str, text: str, number: int = 0) -> None:
    """Type into a field in place of what stands there, and leave it."""
    own = field(where, name, number)
    own.selectAll()
    QTest.keyClick(own, Qt.Key.Key_Delete)
    own.insert(text)
    own.setModified(True)
    QTest.keyClick(own, Qt.Key.Key_Return)


def items(where: QWidget, name: str) -> list[str]:
    """Return the words of a list that is opened by its name."""
    box = the(where, QComboBox, name)
    return [box.itemText(n) for n in range(box.count())]


def picked(where: QWidget, name: str, what: Any) -> None:
    """Pick from a list by the words, or by the value they stand for."""
    box = the(where, QComboBox, name)
    place = box.findText(what) if isinstance(what, str) else -1
    if place < 0:
        values = [box.itemData(n) for n in range(box.count())]
        place = values.index(what)
    box.setCurrentIndex(place)
    box.activated.emit(place)


def button(where: QWidget, words: str) -> QAbstractButton:
    """Return a button by its words or how they begin, or by its name where it has none."""
    found = [
        w
        for w in where.findChildren(QAbstractButton)
        if words in (w.text(), w.accessibleName(), w.accessibleName().partition(",")[0])
    ]
    found = found or [w for w in where.findChildren(QAbstractButton) if w.text().startswith(words)]
    seen = [w for w in found if w.isVisibleTo(where)] or found
    assert seen, f"no button {words!r}"
    return seen[0]


def pressed(where: QWidget, words: str) -> None:
    """Press a button by its words."""
    own = button(where, words)
    assert own.isEnabled()
    own.click()


def foot_pressed(window: Any, words: str) -> None:
    """Press a button of the foot by its words."""
    action = next(a for a in window.foot.shown.actions if a.text == words)
    assert action.enabled
    action.run()


def words_of(where: QWidget) -> str:
    """Return all words that labels show, one below the other."""
    return "\n".join(w.text() for w in where.findChildren(QLabel) if w.isVisibleTo(where))


def foot_action(page: Any, words: str) -> Any:
    """Return what a page offers in the foot, by its words."""
    return next(a for a in page.foot_actions() if a.text == words)


def turned_to(row: ChoiceRow, index: int) -> None:
    """Turn a row of words to one of them by the arrows."""
    while row.index != index:
        QTest.keyClick(row, Qt.Key.Key_Right if row.index < index else Qt.Key.Key_Left)


def notes_of(window: Any) -> list[str]:
    """Return what the header says of each station."""
    return [entry.stands(window.job).note for entry in STATIONS]

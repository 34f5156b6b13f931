"""What drawn widgets are to whoever does not see them: Qt knows it of its own widgets only."""

from __future__ import annotations

from PySide6.QtCore import QObject
from PySide6.QtGui import QAccessible, QAccessibleInterface
from PySide6.QtWidgets import QAccessibleWidget, QWidget

_Role = QAccessible.Role
# By the class of the widget. What it shows is its accessible name; this says what it is. Buttons
# are left to Qt, whose own interface can also be pressed.
ROLES: dict[str, QAccessible.Role] = {
    "CareList": _Role.List,
    "ChoiceRow": _Role.List,
    "CoreList": _Role.List,
    "Differences": _Role.List,
    "DistanceRail": _Role.Slider,
    "FilmView": _Role.Graphic,
    "FirstWords": _Role.StaticText,
    "Foot": _Role.StatusBar,
    "GlanceView": _Role.Dialog,
    "Guide": _Role.Pane,
    "Header": _Role.ToolBar,
    "Heading": _Role.Heading,
    "Headline": _Role.Heading,
    "LaidOver": _Role.Graphic,
    "LanesView": _Role.Chart,
    "Ledger": _Role.List,
    "MatchView": _Role.List,
    "PageLine": _Role.PageTabList,
    "PagesView": _Role.Document,
    "PatternView": _Role.List,
    "PhotoView": _Role.Graphic,
    "RecipeView": _Role.StaticText,
    "RowView": _Role.List,
    "SeriesChart": _Role.Chart,
    "StepDetail": _Role.StaticText,
    "StepsSide": _Role.StaticText,
    "SurfacePane": _Role.Graphic,
    "TideView": _Role.Chart,
    "TinGrid": _Role.List,
}


def _interface(kind: str, thing: QObject) -> QAccessibleInterface | None:
    role = ROLES.get(kind)
    if role is None or not isinstance(thing, QWidget):
        return None
    return QAccessibleWidget(thing, role, thing.accessibleName())


def tell_roles() -> None:
    """Let Qt tell what the drawn widgets are; once for the application."""
    QAccessible.installFactory(_interface)

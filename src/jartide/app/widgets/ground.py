"""Areas that stations and pages are laid out on: a grey of the bench, with hairlines at edges."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from jartide.app.kit import Kit
from jartide.app.measure import px
from jartide.app.widgets.painted import Painted

Margins = tuple[int, int, int, int]


class Ground(Painted):
    """A plain area; `edges` names where a hairline bounds it: left, right, top, bottom."""

    def __init__(self, shade: str, *edges: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._ringed = False
        self._shade, self._edges = shade, edges

    def paint(self, kit: Kit) -> None:
        w, h = self.wide, self.high
        kit.fill(0, 0, w, h, self._shade)
        for edge in self._edges:
            if edge in ("left", "right"):
                kit.upright(0 if edge == "left" else w - 1, 0, h)
            else:
                kit.across(0, 0 if edge == "top" else h - 1, w)


class Hairline(Painted):
    """A thin line between two areas, upright or level."""

    def __init__(self, *, upright: bool = False, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._upright = upright
        if upright:
            self.setFixedWidth(max(px(1), 1))
            self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Expanding)
        else:
            self.setFixedHeight(max(px(1), 1))
            self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def paint(self, kit: Kit) -> None:
        kit.fill(0, 0, self.wide, self.high, "line")


def column(on: QWidget | None = None, margins: Margins = (0, 0, 0, 0), gap: int = 0) -> QVBoxLayout:
    """Return a layout from top to bottom; margins (left, top, right, bottom) and gap in units."""
    made = QVBoxLayout() if on is None else QVBoxLayout(on)
    made.setContentsMargins(*(px(side) for side in margins))
    made.setSpacing(px(gap))
    return made


def row(on: QWidget | None = None, margins: Margins = (0, 0, 0, 0), gap: int = 0) -> QHBoxLayout:
    """Return a layout from left to right; margins (left, top, right, bottom) and gap in units."""
    made = QHBoxLayout() if on is None else QHBoxLayout(on)
    made.setContentsMargins(*(px(side) for side in margins))
    made.setSpacing(px(gap))
    return made


def show_only(shown: QWidget, *others: QWidget) -> None:
    """Show one of the pages that take each other's place."""
    for other in others:
        other.hide()
    shown.show()

"""Every screen at its least size and with its longest words: nothing is cut, nothing sticks out."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QRectF
from PySide6.QtGui import QFontMetricsF
from PySide6.QtWidgets import QComboBox, QLabel, QPushButton, QWidget

from jartide.app import kit as drawing
from jartide.app.theme import font

from .conftest import settle

# What the painter typed or a file is called may be cut: it has no longest form.
STATIONS = ("photos", "reading", "jars", "steps", "boards", "sheet")
FINISHES = ("Bar front", "Lift lobby", "Library", "Terrace")


class Watched:
    """Notes every text that was cut or drawn outside its widget."""

    def __init__(self, monkeypatch):
        self.cut = []
        elided, text = drawing.elided, drawing.Kit.text

        def shortened(words, width, size, weight=400):
            shown = elided(words, width, size, weight)
            if shown != words:
                self.cut.append(words)
            return shown

        def written(kit, x, y, words, size=16, weight=400, shade="ink", width=None, align="left"):
            advance = text(kit, x, y, words, size, weight, shade, width, align)
            device = kit.painter.device()
            room = (
                kit.painter.transform()
                .inverted()[0]
                .mapRect(QRectF(0, 0, device.width(), device.height()))
            )
            left = x if align == "left" or width is None else x + width - advance
            if align == "centre" and width is not None:
                left = x + (width - advance) / 2
            # What scrolls is clipped to its room on purpose, and comes into it by scrolling.
            scrolls = kit.painter.hasClipping()
            if (
                words
                and not scrolls
                and (left < room.left() - 1 or left + advance > room.right() + 1)
            ):
                self.cut.append(f"beyond the edge: {words}")
            return advance

        monkeypatch.setattr(drawing, "elided", shortened)
        monkeypatch.setattr(drawing.Kit, "text", written)


def widgets_too_small(window):
    """Labels, buttons and lists whose words need more room than they have."""
    found = []
    for widget in window.findChildren(QWidget):
        if not widget.isVisible() or widget.visibleRegion().isEmpty():
            continue
        if isinstance(widget, QLabel) and widget.text():
            need = widget.heightForWidth(widget.width())
            if not widget.wordWrap():
                need = 0
                wide = QFontMetricsF(widget.font()).horizontalAdvance(widget.text())
                if wide > widget.width() + 1:
                    found.append(widget.text())
            if need > widget.height() + 1:
                found.append(widget.text())
        elif isinstance(widget, QPushButton) and widget.text():
            wide = QFontMetricsF(font(16, 600)).horizontalAdvance(widget.text())
            if wide > widget.width() - 8:
                found.append(widget.text())
        elif isinstance(widget, QComboBox):
            wide = QFontMetricsF(widget.font()).horizontalAdvance(widget.currentText())
            if wide > widget.width() - 34:
                found.append(widget.currentText())
    return found


def looked_at(window, watched):
    """Paint everything and return what is cut."""
    watched.cut.clear()
    window.grab()
    return [*watched.cut, *widgets_too_small(window)]


@pytest.fixture
def watched(monkeypatch):
    return Watched(monkeypatch)


@pytest.mark.parametrize("size", [(1180, 720), (1280, 800)])
@pytest.mark.parametrize("finish", FINISHES)
def test_stations(qtbot, demo, watched, finish, size):
    demo.resize(*size)
    for _, finishes in demo.document.jobs():
        demo.open_finish(next(f.id for f in finishes if f.name == finish))
    wrong = {}
    for station in STATIONS:
        demo.go_to(station)
        settle(qtbot, demo)
        cut = looked_at(demo, watched)
        if cut:
            wrong[station] = cut
    assert not wrong


@pytest.mark.parametrize("size", [(1180, 720), (1280, 800)])
def test_pages(qtbot, demo, watched, size):
    demo.resize(*size)
    wrong = {}
    for name, show in (
        ("jobs", demo.show_jobs),
        ("learning", demo.jobs.open_learning),
        ("help", demo.show_help),
        ("settings", demo.show_settings),
    ):
        show()
        settle(qtbot, demo)
        cut = looked_at(demo, watched)
        if cut:
            wrong[name] = cut
        demo.jobs.escape()
    demo.show_jobs()
    assert not wrong


def test_the_watch_sees_what_is_cut(demo, watched):
    from jartide.app.widgets.foot import FootState

    demo.foot.show_state(FootState(text="A short sentence.", note="word " * 200))
    assert any(words.startswith("word word") for words in looked_at(demo, watched))
    demo._foot_changed()

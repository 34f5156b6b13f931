"""Ledger, distance rail, chart and list button by themselves, by pointer and by keyboard."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QColor, QImage, QWheelEvent
from PySide6.QtTest import QTest

from jartide.app import kit as drawing
from jartide.app.widgets.differences import DifferenceRow, Differences
from jartide.app.widgets.distance_rail import DistanceRail, distance_words
from jartide.app.widgets.laid_over import LaidOver
from jartide.app.widgets.ledger import ROW, Ledger, LedgerRow
from jartide.app.widgets.menu_button import MenuButton
from jartide.app.widgets.series_chart import SeriesChart
from jartide.boards.result import State


def show(qtbot, widget, width=500, height=300):
    qtbot.addWidget(widget)
    if widget.minimumWidth() != widget.maximumWidth():
        widget.resize(width, height)
    widget.show()
    qtbot.waitExposed(widget)
    return widget


def rows(count):
    return [LedgerRow(title=f"Row {n}", note="note", right=str(n)) for n in range(count)]


def test_rows_are_walked_and_headings_are_stepped_over(qtbot):
    ledger = show(qtbot, Ledger("List"))
    ledger.show_rows([rows(1)[0], LedgerRow(title="Head", head=True), rows(3)[2]], 0)
    chosen = []
    ledger.chosen.connect(chosen.append)
    QTest.keyClick(ledger, Qt.Key.Key_Down)
    assert chosen == [2]
    assert ledger.accessibleName() == "List: Row 2, note, 2"
    QTest.keyClick(ledger, Qt.Key.Key_Down)
    QTest.keyClick(ledger, Qt.Key.Key_Up)
    assert chosen == [2, 0]
    # A press on the heading chooses nothing; one on the row below it does.
    QTest.mouseClick(ledger, Qt.MouseButton.LeftButton, pos=QPoint(20, ROW + 10))
    QTest.mouseClick(ledger, Qt.MouseButton.LeftButton, pos=QPoint(20, ROW + 60))
    assert chosen == [2, 0, 2]


def test_what_does_not_fit_is_scrolled_to(qtbot):
    ledger = show(qtbot, Ledger("List"), height=3 * ROW + 5)
    ledger.show_rows(rows(10), 0)
    for _ in range(9):
        QTest.keyClick(ledger, Qt.Key.Key_Down)
    assert ledger._first == 7
    wheel = QWheelEvent(
        QPointF(20, 20), QPointF(20, 20), QPoint(), QPoint(0, 120),
        Qt.MouseButton.NoButton, Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase, False,
    )  # fmt: skip
    ledger.wheelEvent(wheel)
    assert ledger._first == 6
    ledger.resize(500, 12 * ROW)
    assert ledger._first == 0  # no room is left empty below


def test_an_empty_list_says_what_to_do_and_chips_are_drawn(qtbot):
    ledger = show(qtbot, Ledger("List"))
    ledger.show_rows([], -1, "Nothing yet.")
    blank = ledger.grab().toImage()
    red = QColor("#c01010")
    ledger.show_rows([LedgerRow(title="Red", chips=(red,), columns=("1", "2"))])
    drawn = ledger.grab().toImage()
    assert drawn != blank
    assert drawn.pixelColor(10, 20).name() == red.name()


@pytest.mark.parametrize(
    ("metres", "words"), [(0.3, "up close"), (0.7, "arm's length"), (2.0, "2 m"), (0.45, "0.45 m")]
)
def test_a_distance_is_said_as_painters_say_it(metres, words):
    assert distance_words(metres) == words


def test_the_rail_snaps_to_its_marks_and_keeps_to_its_ends(qtbot):
    rail = show(qtbot, DistanceRail())
    settled = []
    rail.settled.connect(settled.append)
    rail.show_distance(1.0)
    QTest.mouseClick(rail, Qt.MouseButton.LeftButton, pos=QPointF(rail._x(2.0) + 3, 16).toPoint())
    assert settled == [2.0]
    for _ in range(30):
        QTest.keyClick(rail, Qt.Key.Key_Right)
    assert rail.metres == 8.0
    for _ in range(60):
        QTest.keyClick(rail, Qt.Key.Key_Left)
    assert rail.metres == 0.3
    assert "up close" in rail.accessibleName()
    # What the document says does not move a slide that is held.
    QTest.mousePress(rail, Qt.MouseButton.LeftButton, pos=QPoint(150, 16))
    held = rail.metres
    rail.show_distance(5.0)
    assert rail.metres == held


def test_the_chart_shows_points_target_and_what_is_expected(qtbot):
    chart = show(qtbot, SeriesChart())
    chart.show_series([(0, 0.1), (10, 0.3)], 0.6, None, "Two frames")
    plain = chart.grab().toImage()
    chart.show_series([(0, 0.1), (10, 0.3)], 0.6, (18.0, 22.0, 30.0), "Two frames")
    assert chart.grab().toImage() != plain
    assert chart.accessibleName() == "Two frames"
    chart.show_series([], 0.0, None, "None")
    assert not chart.grab().isNull()


def test_the_list_button_tells_which_entry_was_picked(qtbot):
    button = show(qtbot, MenuButton("More", [("log", "Log"), ("wall", "The wall")]))
    picked = []
    button.picked.connect(picked.append)
    assert button.entries == ["Log", "The wall"]
    button._list.actions()[1].trigger()
    assert picked == ["wall"]


def image(colour, size=100):
    made = QImage(size, size, QImage.Format.Format_RGB32)
    made.fill(QColor(colour))
    return made


def test_left_of_the_edge_the_other_surface_is_seen_at_the_same_scale(qtbot):
    pane = show(qtbot, LaidOver(), 400, 426)
    pane.show_surface(image("#101010"), 1.0)
    pane.show_under(image("#f0f0f0", 50), 1.0)  # half as large a piece
    pane.move_edge(0.9)
    drawn = pane.grab().toImage()
    assert drawn.pixelColor(100, 100).lightness() > 200  # the other, 50 mm of it
    assert drawn.pixelColor(390, 100).lightness() < 40  # the board itself
    assert 60 < drawn.pixelColor(300, 100).lightness() < 240  # beyond the other: the well
    assert drawn.pixelColor(300, 100) != drawn.pixelColor(100, 100)
    pane.move_edge(7.0)
    assert pane.edge == 1.0
    pane.show_under(None, None)
    assert pane.grab().toImage().pixelColor(100, 100).lightness() < 40


def test_a_long_name_is_shown_whole_on_a_line_of_its_own(qtbot, monkeypatch):
    cut, elided = [], drawing.elided

    def shortened(words, width, size, weight=400):
        shown = elided(words, width, size, weight)
        cut.extend([words] if shown != words else [])
        return shown

    monkeypatch.setattr(drawing, "elided", shortened)

    def row(number, name):
        return DifferenceRow(
            quantity=str(number),
            name=name,
            target="1 mm",
            board="2 mm",
            words="a little too uneven",
            jnd=1.0,
            amount="a_little",
            state=State.DIFFERS,
            chance=0.5,
        )

    listed = show(qtbot, Differences(), 404, 420)
    chosen = []
    listed.chosen.connect(chosen.append)
    heights = {}
    for name in ("Width", "Grain width, how much it varies"):
        listed.show_rows([row(number, name) for number in range(3)], 0)
        listed.grab()
        chosen.clear()
        for y in range(0, 420, 2):
            QTest.mouseClick(listed, Qt.MouseButton.LeftButton, pos=QPoint(20, y))
        heights[name] = chosen.count("1")
    assert cut == []
    assert heights["Grain width, how much it varies"] > heights["Width"]

"""The size of text: what is drawn grows with it, and what has no room goes on below."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QWidget

from jartide.app.kit import text_width
from jartide.app.measure import px, text_scale
from jartide.app.theme import DAY, font, style_sheet
from jartide.app.widgets.buttons import Button, ChoiceRow
from jartide.app.widgets.flow import Flow
from jartide.app.widgets.foot import Action, Foot, FootState
from jartide.app.widgets.heading import Heading
from jartide.app.widgets.headline import Headline
from jartide.app.widgets.ledger import Ledger, LedgerRow
from jartide.app.widgets.photo_view import Pen, PhotoView

from .conftest import text_size

LONG = "A sentence that is far too long to stand in one line beside anything else at all."


def shown(qtbot, widget, wide, high):
    qtbot.addWidget(widget)
    widget.resize(wide, high)
    widget.show()
    return widget


@pytest.mark.parametrize("percent", [100, 115, 130])
def test_lengths_and_controls_grow(qapp, percent):
    usual = Button("Take this mix").sizeHint()
    with text_size(percent):
        assert (px(100), text_scale()) == (percent, percent / 100)
        grown = Button("Take this mix").sizeHint()
        assert f"font-size: {px(16)}px" in style_sheet(DAY)
        assert font(px(16)).pixelSize() == px(16)
    assert grown.width() == pytest.approx(usual.width() * percent / 100, abs=1)
    assert grown.height() == pytest.approx(usual.height() * percent / 100, abs=1)
    assert px(100) == 100


@pytest.mark.parametrize("percent", [100, 130])
def test_a_press_means_the_same_word(qtbot, percent):
    with text_size(percent):
        row = shown(qtbot, ChoiceRow(["beside", "laid over", "where"], "View"), px(400), px(44))
        row.setFixedWidth(px(400))
        middle = 2 + text_width("beside", 16, 600) + 24 + 10
        QTest.mouseClick(row, Qt.MouseButton.LeftButton, pos=QPoint(px(middle), px(20)))
        assert row.index == 1


@pytest.mark.parametrize("percent", [100, 130])
def test_a_press_on_a_photo_is_the_same_spot(qtbot, percent):
    with text_size(percent):
        view = shown(qtbot, PhotoView(), 600, 400)
        view.show_photo(QImage(600, 400, QImage.Format.Format_RGB888), 1.0, (1200.0, 800.0))
        view.choose_pen(Pen.SPOT, 10.0)
        with qtbot.waitSignal(view.drawn) as drawn:
            QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=QPoint(150, 100))
        (x0, y0), (x1, y1) = drawn.args[0].points
        assert ((x0 + x1) / 2, (y0 + y1) / 2) == pytest.approx((300, 200), abs=4)


def test_what_has_no_room_goes_on_in_the_next_row(qtbot):
    holder = QWidget()
    flow = Flow(holder, gap=10)
    buttons = [Button(f"Button number {n}", holder) for n in range(4)]
    for button in buttons:
        flow.addWidget(button)
    shown(qtbot, holder, 2000, 200)
    assert len({button.y() for button in buttons}) == 1
    assert flow.heightForWidth(2000) == 44
    holder.resize(2 * buttons[0].width() + 30, 200)
    assert [button.y() for button in buttons] == [0, 0, 54, 54]
    assert flow.heightForWidth(holder.width()) == 98
    assert flow.minimumSize().width() == max(button.width() for button in buttons)
    buttons[1].hide()
    flow.activate()
    assert buttons[2].y() == 0


def test_a_note_without_room_stands_below(qtbot):
    heading = shown(qtbot, Heading("Core", 20, 700, LONG), 1200, 40)
    one_line = heading.height()
    heading.resize(300, 40)
    assert heading.height() >= one_line + 2 * 21
    assert heading.minimumSizeHint().width() < 100
    typed = shown(qtbot, Heading("Board 3", note=LONG, one_line=True), 1200, 40)
    typed.resize(300, 40)
    assert typed.height() == round(18 * 1.3)


def test_the_foot_stacks_words_over_buttons(qtbot):
    foot = shown(qtbot, Foot(), 1200, 64)
    done = []
    actions = tuple(
        Action(text=f"Do the thing {n}", run=lambda n=n: done.append(n)) for n in range(3)
    )
    foot.show_state(FootState(text="Short.", actions=actions))
    assert foot.height() == 64
    foot.show_state(FootState(text="Short.", note=LONG * 2, actions=actions))
    assert foot.height() > 100
    tops = {button.y() for button in foot.findChildren(Button) if button.isVisible()}
    assert len(tops) == 1 and tops.pop() > 40
    foot.findChildren(Button)[0].click()
    foot.show_state(FootState(text="Short.", actions=actions))
    assert foot.height() == 64 and len(done) == 1


def test_the_foot_is_shown_anew_while_its_button_loses_the_focus(qtbot):
    """What loses the focus may be kept at once, and say something else in the foot."""
    foot = shown(qtbot, Foot(), 1200, 64)
    again = FootState(text="Again.", actions=(Action(text="Only one", run=lambda: None),))
    first = FootState(
        text="First.", actions=tuple(Action(text=f"One of {n}", run=lambda: None) for n in range(3))
    )
    foot.show_state(first)
    gone = next(button for button in foot.findChildren(Button) if button.isVisible())
    gone.hideEvent = lambda event: foot.show_state(again)
    foot.show_state(FootState(text="Second.", actions=first.actions[:2]))
    visible = [button.text() for button in foot.findChildren(Button) if button.isVisible()]
    assert visible == ["Only one"] and foot.shown is again


def test_a_headline_is_never_cut(qtbot):
    line = shown(qtbot, Headline(), 1200, 64)
    line.say("Vein contrast: too strong", LONG)
    assert line.height() == 64
    line.resize(340, 64)
    assert line.height() > 70
    line.resize(170, 64)
    assert line.height() > 100
    assert line.words == ("Vein contrast: too strong", LONG)


def test_rows_take_the_lines_they_need(qtbot):
    ledger = shown(qtbot, Ledger("Steps"), 1000, 600)
    chosen = []
    ledger.chosen.connect(chosen.append)
    rows = [
        LedgerRow(title=f"Step {n}", note=LONG, right="40%", right_note="at eight")
        for n in range(3)
    ]
    ledger.show_rows(rows)
    at = QPoint(50, 58 + 20)
    QTest.mouseClick(ledger, Qt.MouseButton.LeftButton, pos=at)
    assert chosen == [1]
    # Narrow, the first row reaches down to where the second was.
    ledger.resize(260, 600)
    QTest.mouseClick(ledger, Qt.MouseButton.LeftButton, pos=at)
    assert chosen == [1, 0]

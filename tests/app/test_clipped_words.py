"""Every screen at its least size and with its longest words: nothing is cut, nothing sticks out."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta

import pytest
from PySide6.QtCore import QRectF
from PySide6.QtGui import QFontMetricsF
from PySide6.QtWidgets import (
    QApplication,
    QComboBox,
    QLabel,
    QPushButton,
    QStyle,
    QStyleOptionComboBox,
    QWidget,
)

from jartide.app import kit as drawing
from jartide.app.measure import px
from jartide.app.stations.boards.station import _PAGES as BOARDS_PAGES
from jartide.app.stations.photos.station import _PANELS as PHOTO_STEPS
from jartide.app.stations.steps.station import _PAGES as STEPS_PAGES
from jartide.app.theme import font
from jartide.job.words.steps import day_words
from jartide.store.app_settings import TEXT_SCALES
from jartide.wording import choose_language, languages

from .conftest import settle, text_size

# What the painter typed or a file is called may be cut: it has no longest form.
STATIONS = ("photos", "reading", "jars", "steps", "boards", "sheet")
SIZES = pytest.mark.parametrize("size", [(1180, 720), (1280, 800)], ids=["least", "usual"])
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
            wide = QFontMetricsF(font(px(16), 600)).horizontalAdvance(widget.text())
            if wide > widget.width() - px(8):
                found.append(widget.text())
        elif isinstance(widget, QComboBox):
            found += words_too_long(widget)
    return found


def words_too_long(chosen):
    """The words of a list that would be cut once they are chosen."""
    option = QStyleOptionComboBox()
    chosen.initStyleOption(option)
    room = (
        chosen.style()
        .subControlRect(
            QStyle.ComplexControl.CC_ComboBox,
            option,
            QStyle.SubControl.SC_ComboBoxEditField,
            chosen,
        )
        .width()
    )
    metrics = QFontMetricsF(chosen.font())
    # What has a paint's name in it has no longest form; it is shown whole as one rests on it.
    named = ("with ", "without ", "chosen")
    words = (
        chosen.itemText(number)
        for number in range(chosen.count())
        if not str(chosen.itemData(number)).startswith(named)
    )
    return [one for one in words if metrics.horizontalAdvance(one) > room + 1]


def looked_at(window, watched):
    """Paint everything and return what is cut, or has not the room it needs at least."""
    for _ in range(3):
        QApplication.processEvents()  # until all is laid out
    watched.cut.clear()
    window.grab()
    typed = typed_words(window)
    cut = [words for words in watched.cut if not any(own in words for own in typed)]
    return [*cut, *widgets_too_small(window), *without_room(window)]


def typed_words(window):
    """What the painter wrote of a board, in the demo: it has no longest form."""
    records = window.job.records
    finishes = [finish for _, own in records.jobs() for finish in own]
    remarks = {board.remark for finish in finishes for board, _ in records.boards(finish)}
    return remarks - {""}


def without_room(window):
    """What needs more width than there is, lies under the foot, or over something else.

    Where a station needs more height, it scrolls; sideways nothing has to.
    """
    wrong = []
    page, area = window.page(), window.page().parentWidget()
    if page.minimumSizeHint().width() > area.width():
        wrong.append(f"{page.name} needs {page.minimumSizeHint().width()} of {area.width()} px")
    if window.header.minimumSizeHint().width() > window.width():
        wrong.append("the header is wider than the window")
    parts = [w for w in (window.header, window.guide, window.foot) if w.isVisible()]
    for part in parts:
        if not window.rect().contains(part.geometry()) or part.visibleRegion().isEmpty():
            wrong.append(f"{part.objectName() or type(part).__name__} is not whole")
    for widget in page.findChildren(QWidget):
        wrong += [f"{widget} lies over {other}" for other in over_each_other(widget)]
    return wrong


def over_each_other(widget):
    """The widgets of one layout that lie over each other in it."""
    found, layout = [], widget.layout()
    if layout is None or not widget.isVisible():
        return found
    laid = [layout.itemAt(n).geometry() for n in range(layout.count())
            if not layout.itemAt(n).isEmpty()]  # fmt: skip
    for number, one in enumerate(laid):
        found += [other for other in laid[number + 1 :]
                  if one.adjusted(1, 1, -1, -1).intersects(other)]  # fmt: skip
    return found


@pytest.fixture
def watched(monkeypatch):
    return Watched(monkeypatch)


def stations_that_cut(qtbot, window, watched, finish):
    for _, finishes in window.job.records.jobs():
        window.open_finish(next(f.id for f in finishes if f.name == finish))
    wrong = {}
    for station in STATIONS:
        window.go_to(station)
        settle(qtbot, window)
        cut = looked_at(window, watched)
        if cut:
            wrong[station] = cut
    return wrong


def subpages(window):
    """Every page and panel that a station opens over itself: its name, and how to open it."""
    for name in PHOTO_STEPS:
        yield "photos", name, lambda name=name: window.station("photos").open_step(name)
    yield "reading", "layer", lambda: window.station("reading")._layer_picked(1)
    yield "reading", "zones", window.station("reading")._zones.click
    yield "jars", "paints", window.station("jars")._open_paints
    yield "jars", "colours", window.station("jars").open_colours
    yield "jars", "trial", window.station("jars")._open_trial
    yield "jars", "veil", window.station("jars")._veil_link.click
    for name in STEPS_PAGES:
        yield "steps", name, lambda name=name: window.station("steps").open_page(name)
    for name in BOARDS_PAGES:
        yield "boards", name, lambda name=name: window.station("boards").open_page(name)


def subpages_that_cut(qtbot, window, watched, finish):
    for _, finishes in window.job.records.jobs():
        window.open_finish(next(f.id for f in finishes if f.name == finish))
    wrong = {}
    for station, name, show in subpages(window):
        window.go_to(station)
        settle(qtbot, window)
        show()
        settle(qtbot, window)
        cut = looked_at(window, watched)
        if cut:
            wrong[f"{station} {name}"] = cut
        while window.page().escape():
            pass
    return wrong


def pages_that_cut(qtbot, window, watched):
    wrong = {}
    for name, show in (
        ("jobs", window.show_jobs),
        ("learning", window.station("jobs").open_learning),
        ("help", window.show_help),
        ("settings", window.show_settings),
    ):
        show()
        settle(qtbot, window)
        cut = looked_at(window, watched)
        if cut:
            wrong[name] = cut
        window.station("jobs").escape()
    window.show_jobs()
    return wrong


@SIZES
@pytest.mark.parametrize("finish", FINISHES)
def test_stations(qtbot, demo, watched, finish, size):
    demo.resize(*size)
    assert not stations_that_cut(qtbot, demo, watched, finish)


@SIZES
def test_pages(qtbot, demo, watched, size):
    demo.resize(*size)
    assert not pages_that_cut(qtbot, demo, watched)


@SIZES
@pytest.mark.parametrize("finish", ["Bar front", "Library"])
def test_subpages(qtbot, demo, watched, finish, size):
    demo.resize(*size)
    assert not subpages_that_cut(qtbot, demo, watched, finish)


@pytest.mark.parametrize("language", languages()[1:])
def test_in_other_languages(qtbot, open_window, watched, language):
    choose_language(language)
    try:
        window = open_window(demo=True)
        window.resize(1180, 720)
        wrong = pages_that_cut(qtbot, window, watched)
        wrong |= stations_that_cut(qtbot, window, watched, "Library")
        wrong |= subpages_that_cut(qtbot, window, watched, "Bar front")
    finally:
        choose_language("en")
    assert not wrong


def longest_day():
    """The day whose words take the most room in the language chosen."""
    days = [datetime(2026, 1, 1, 6) + timedelta(days=n) for n in range(365)]
    return max(days, key=lambda day: drawing.text_width(day_words(day), 20, 700))


@pytest.mark.parametrize("language", languages())
def test_steps_on_the_longest_day(qtbot, open_window, watched, language):
    """What is said of a day has room for the longest weekday and month."""
    choose_language(language)
    try:
        window = open_window(demo=True)
        window.resize(1180, 720)
        day = longest_day()
        # Two days before, so that the day itself is named.
        window.job.plan.clock = lambda: day - timedelta(days=2)
        wrong = {}
        # The one with the longest coats, and the one with the longest waits.
        for finish in ("Bar front", "Terrace"):
            for _, finishes in window.job.records.jobs():
                window.open_finish(next(f.id for f in finishes if f.name == finish))
            window.go_to("steps")
            desk = window.job.plan
            # Whatever weekday it is, there is work on it.
            hours = replace(desk.work().hours, weekdays=tuple(range(7)))
            desk.put(
                "begin",
                work=replace(desk.work(), begins=day.date().isoformat(), hours=hours),
            )
            window.due_watch.look()
            settle(qtbot, window)
            said = window.station("steps")._side.accessibleName()
            assert day_words(day) in said, said
            cut = looked_at(window, watched)
            if cut:
                wrong[finish] = cut
    finally:
        choose_language("en")
    assert not wrong


def test_the_watch_sees_what_is_cut(demo, watched):
    from jartide.app.widgets.heading import Heading

    label = Heading("A short title", note="word " * 200, one_line=True, parent=demo)
    label.setGeometry(0, 100, 600, 30)
    label.show()
    assert any(words.startswith("word word") for words in looked_at(demo, watched))
    label.deleteLater()


@pytest.mark.parametrize("percent", [TEXT_SCALES[0], TEXT_SCALES[-1]])
@pytest.mark.parametrize("language", languages())
def test_first_start_and_guide(qtbot, open_window, watched, language, percent):
    choose_language(language)
    with text_size(percent):
        try:
            window = open_window()
            window.resize(1180, 720)
            settle(qtbot, window)
            wrong = {"first": looked_at(window, watched)}
            window.station("jobs").first.buttons["guide"].click()
            settle(qtbot, window)
            while window.guide.step:
                wrong[window.guide.step] = looked_at(window, watched)
                # Looked at only: what each step waits for is not done here.
                window.guide._next()
                settle(qtbot, window)
                window.foot.clear_over()
        finally:
            choose_language("en")
    assert len(wrong) == 10
    assert not {step: cut for step, cut in wrong.items() if cut}


@pytest.mark.parametrize("percent", TEXT_SCALES[1:])
@pytest.mark.parametrize("language", languages())
def test_larger_text(qtbot, open_window, watched, language, percent):
    """The same walk at each size of text, on the smallest screen, in each language."""
    choose_language(language)
    with text_size(percent):
        try:
            window = open_window(demo=True)
            window.resize(1180, 720)
            wrong = pages_that_cut(qtbot, window, watched)
            wrong |= stations_that_cut(qtbot, window, watched, "Bar front")
            wrong |= subpages_that_cut(qtbot, window, watched, "Bar front")
        finally:
            choose_language("en")
    assert not wrong

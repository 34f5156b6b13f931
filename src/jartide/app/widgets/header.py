"""The header: the job on the left, the stations as jars on a line, the bench switch."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil

from PySide6.QtCore import QEvent, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from jartide.app.elements.jar import draw_jar
from jartide.app.keys import with_key
from jartide.app.kit import Kit, text_width
from jartide.app.measure import px
from jartide.app.widgets.ground import row
from jartide.app.widgets.label import tip
from jartide.app.widgets.painted import Painted
from jartide.app.widgets.pressed_by_enter import PressedByEnter
from jartide.wording import tr

HEIGHT = 76
_TITLE, _LEAST_TITLE, _PITCH = 224, 110, 152
# A tab's name stands beside its jar, or in this size below it.
_BESIDE_JAR, _CLOSE = 42, 16
# Settings, help and the bench switch stand at the right, none narrower than a finger.
_WORD = 46
_MARGIN = 16
# Narrower than this a station's note would be cut at the first word.
_NOTE_PITCH = 138


@dataclass(frozen=True, slots=True, kw_only=True)
class StationState:
    """What the header says of one station: its name, a note, and how far it has come, 0..1."""

    name: str
    note: str
    level: float


class _Tab(PressedByEnter):
    """One station's jar and name."""

    def __init__(self, number: int, parent: QWidget) -> None:
        super().__init__(parent)
        self.setCheckable(True)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setShortcut(f"Alt+{number}")
        self.state = StationState(name="", note="", level=0)
        self.setMaximumWidth(px(_PITCH))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def sizeHint(self) -> QSize:
        return self.minimumSizeHint()

    def minimumSizeHint(self) -> QSize:
        return QSize(px(max(text_width(self.state.name, _CLOSE, 700), 32) + 18), px(HEIGHT))

    def show_state(self, state: StationState) -> None:
        if state.name != self.state.name:
            self.updateGeometry()
        self.state = state
        self.setAccessibleName(f"{state.name}, {state.note}")
        self.setToolTip(tip(with_key(state.name, self.shortcut().toString())))
        self.update()

    def paintEvent(self, event: QEvent) -> None:
        with self.drawing() as kit:
            on = self.isChecked()
            shade = "ink" if on else "ink2"
            if on:
                kit.across(0, HEIGHT - 6, self.wide - 14, "accent", 6)
            # Where they stand close, the name is below its jar.
            close = self.wide < _BESIDE_JAR + text_width(self.state.name, 18, 700) + 4
            draw_jar(
                kit,
                2,
                12 if close else HEIGHT - 33,
                30,
                fill=shade,
                level=self.state.level,
                height=26,
                empty="sheet",
                line=shade,
            )
            weight = 700 if on else 500
            if close:
                kit.text(2, 43, self.state.name, _CLOSE, weight, shade)
            else:
                kit.text(_BESIDE_JAR, 14, self.state.name, 18, weight, shade)
            if not close and self.wide >= _NOTE_PITCH:
                kit.text(_BESIDE_JAR, 40, self.state.note, 14, 400, "ink2", self.wide - 46)
            if self.hasFocus():
                kit.box(0, 6, self.wide - 8, HEIGHT - 14, "accent", 2, 9)


class _BenchSwitch(PressedByEnter):
    """A disc half in shade: day or night bench."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        wide = max(text_width(tr(f"bench.{name}"), 14, 400) for name in ("day", "night"))
        self.setFixedSize(px(max(_WORD, ceil(wide) + 8)), px(HEIGHT - 8))

    def paintEvent(self, event: QEvent) -> None:
        with self.drawing() as kit:
            theme = kit.theme
            kit.painter.setPen(QPen(kit.colour("ink2"), 1.5))
            kit.painter.setBrush(kit.colour("raised"))
            disc = QRectF(self.wide / 2 - 9, 15, 18, 18)
            kit.painter.drawEllipse(disc)
            kit.painter.setBrush(kit.colour("ink2"))
            kit.painter.drawPie(disc, 90 * 16, 180 * 16)
            words = tr("bench.night" if theme.name == "day" else "bench.day")
            self.setAccessibleName(tr("bench.switch", to=words))
            kit.text(0, 42, words, 14, 400, "ink2", self.wide, "centre")
            if self.hasFocus():
                kit.box(2, 6, self.wide - 4, HEIGHT - 14, "accent", 2, 9)


class _Word(PressedByEnter):
    """A sign and a word: leads to help or settings."""

    def __init__(self, name: str, sign: str, parent: QWidget) -> None:
        super().__init__(parent)
        self._sign = sign
        self.setText(tr(name))
        self.setAccessibleName(self.text())
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        wide = text_width(self.text(), 14)
        self.setFixedSize(px(max(_WORD, ceil(wide) + 8)), px(HEIGHT - 8))

    def paintEvent(self, event: QEvent) -> None:
        with self.drawing() as kit:
            middle = self.wide / 2
            kit.painter.setPen(QPen(kit.colour("ink2"), 1.5))
            kit.painter.setBrush(kit.colour("raised"))
            if self._sign == "lines":
                for row, knob in ((18, -4), (24, 5), (30, -1)):
                    kit.fill(middle - 11, row - 0.75, 22, 1.5, "ink2")
                    kit.fill(middle + knob - 2, row - 4, 4, 8, "ink2")
            else:
                # A page with its text.
                kit.box(middle - 8, 14, 16, 20, "ink2", 1.5, 2)
                for row in (20, 24, 28):
                    kit.fill(middle - 4, row, 8, 1.5, "ink2")
            kit.text(0, 42, self.text(), 14, 400, "ink2", self.wide, "centre")
            if self.hasFocus():
                kit.box(2, 6, self.wide - 4, HEIGHT - 14, "accent", 2, 9)


class _JobTitle(PressedByEnter):
    """The job and finish that are open; leads back to all jobs."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.title, self.note, self.leads_back = "", "", False
        self.setMaximumWidth(px(_TITLE))
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Expanding)

    def sizeHint(self) -> QSize:
        return QSize(px(_TITLE), px(HEIGHT))

    def minimumSizeHint(self) -> QSize:
        return QSize(px(_LEAST_TITLE), px(HEIGHT))
        self.setShortcut("Alt+0")

    def paintEvent(self, event: QEvent) -> None:
        with self.drawing() as kit:
            left = 0
            if self.leads_back:
                kit.arrow(6, 27, -1, 10)
                left = 20
            kit.text(left, 14, self.title, 20, 700, "ink", self.wide - left - 4)
            kit.text(left, 42, self.note, 15, 400, "ink2", self.wide - left - 4)
            if self.hasFocus():
                kit.box(0, 6, self.wide, HEIGHT - 14, "accent", 2, 9)


class Header(Painted):
    """Shows the job and its stations."""

    station_chosen = Signal(int)  # index of the station
    jobs_wanted = Signal()
    bench_switched = Signal()
    help_wanted = Signal()
    settings_wanted = Signal()

    def __init__(self, count: int, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedHeight(px(HEIGHT))
        self._title = _JobTitle(self)
        self._title.clicked.connect(self.jobs_wanted)
        self._tabs = [_Tab(number + 1, self) for number in range(count)]
        for number, tab in enumerate(self._tabs):
            tab.clicked.connect(lambda _=False, n=number: self.station_chosen.emit(n))
        self._settings = _Word("settings.open", "lines", self)
        self._settings.clicked.connect(self.settings_wanted)
        self._settings.setToolTip(tip(with_key(tr("settings.open"), "Ctrl+,")))
        self._help = _Word("help.open", "page", self)
        self._help.clicked.connect(self.help_wanted)
        self._help.setToolTip(tip(with_key(tr("help.open"), "F1")))
        self._switch = _BenchSwitch(self)
        self._switch.setShortcut("F9")
        self._switch.clicked.connect(self.bench_switched)
        self._lay_out()

    def show_title(self, title: str, note: str, leads_back: bool) -> None:
        """Show the job and finish; on the job list itself there is nowhere to lead back to."""
        self._title.title, self._title.note, self._title.leads_back = title, note, leads_back
        self._title.setEnabled(leads_back)
        self._title.setCursor(
            Qt.CursorShape.PointingHandCursor if leads_back else Qt.CursorShape.ArrowCursor
        )
        tips = tip(with_key(tr("header.all_jobs"), "Alt+0"))
        self._title.setToolTip(tips if leads_back else "")
        self._title.setAccessibleName(
            f"{tr('header.all_jobs')}. {title}, {note}" if leads_back else title
        )
        self._title.update()

    def show_stations(self, states: list[StationState], current: int | None) -> None:
        """Show the stations; none when there is no finish open."""
        for number, tab in enumerate(self._tabs):
            tab.setVisible(bool(states))
            if states:
                tab.show_state(states[number])
                tab.setChecked(number == current)
        self.update()

    def _lay_out(self) -> None:
        # In a narrow window the stations move together, and the title is cut before them.
        line = row(self, (24, 0, _MARGIN, 0))
        line.addWidget(self._title)
        line.addSpacing(px(14))
        for tab in self._tabs:
            line.addWidget(tab, 20)
        line.addStretch(1)
        for word in (self._settings, self._help, self._switch):
            line.addSpacing(px(4))
            line.addWidget(word, 0, Qt.AlignmentFlag.AlignTop)

    def paint(self, kit: Kit) -> None:
        kit.fill(0, 0, self.wide, HEIGHT, "sheet")
        kit.across(0, HEIGHT - 2, self.wide, "edge")

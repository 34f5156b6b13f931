"""The hours with a lane for each board and surface: blocks of work and their drying tails."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QResizeEvent, QWheelEvent
from PySide6.QtWidgets import QGridLayout, QScrollBar, QWidget

from jartide.app.elements.drying_tail import draw_block, draw_tail
from jartide.app.elements.hours_axis import HoursAxis
from jartide.app.kit import Kit, text_width
from jartide.app.measure import px
from jartide.app.widgets.painted import Painted, reachable
from jartide.job.described import LaneName
from jartide.wording import tr

NAMES = 152
HEAD = 76
LANE, LANE_LOW, _LANE_HIGH = 112, 92, 260
_BLOCK, _BLOCK_HIGH = 38, 96
_AT_EASE = 140
# Where an hour is narrower than its figures, only days are named.
_LEAST_HOUR = 26.0
# A block shorter than this is drawn so wide, to be seen and hit.
_LEAST = 9.0
# A block is drawn along only from so many pixels on; Ctrl and an arrow nudge it by so much.
_DRAG = 8.0
_NUDGE = timedelta(minutes=15)


@dataclass(frozen=True, slots=True, kw_only=True)
class LaneBlock:
    """One block as it is drawn.

    Attributes
    ----------
    key : of its task
    state : "planned", "running", "drying", "look" or "done"
    shade : colour of the layer it lays; None for work that lays none
    when : what is said below it
    late : its recoat window is missed
    """

    key: str
    lane: int
    name: str
    begins: datetime
    ends: datetime
    ready: datetime
    state: str
    shade: QColor | None
    when: str
    late: bool = False


class LanesView(Painted):
    """Draws lanes; a block is chosen with the pointer or the arrows."""

    chosen = Signal(str)
    room_changed = Signal()  # there is more or less room for hours
    moved = Signal(str, object)  # a planned block was drawn to another time: key, datetime

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._axis: HoursAxis | None = None
        self._names: list[LaneName] = []
        self._blocks: list[LaneBlock] = []
        self._key = ""
        self._now: datetime | None = None
        self._was_shown = False
        self._follow = False
        # Where a block was taken hold of, and how far it has been drawn.
        self._held: tuple[float, LaneBlock] | None = None
        self._drawn = 0.0
        self._across = QScrollBar(Qt.Orientation.Horizontal, self)
        self._down = QScrollBar(Qt.Orientation.Vertical, self)
        for bar in (self._across, self._down):
            bar.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            bar.valueChanged.connect(self.update)
        around = QGridLayout(self)
        around.setContentsMargins(px(NAMES + 24), px(HEAD), px(2), px(2))
        around.setSpacing(0)
        around.setColumnStretch(0, 1)
        around.setRowStretch(0, 1)
        around.addWidget(self._down, 0, 1)
        around.addWidget(self._across, 1, 0)
        reachable(self, tr("steps.lanes"))

    @property
    def axis(self) -> HoursAxis | None:
        """Where every hour stands; None before lanes are shown."""
        return self._axis

    @property
    def blocks(self) -> list[LaneBlock]:
        """What is shown."""
        return self._blocks

    def show_lanes(
        self,
        axis: HoursAxis | None,
        names: Sequence[LaneName],
        blocks: Sequence[LaneBlock],
        now: datetime,
        key: str,
        *,
        follow: bool = False,
    ) -> None:
        """Show lanes and blocks, one of them chosen; `follow` keeps the present in view."""
        moved = key != self._key or (follow and now != self._now)
        self._follow = follow
        self._axis, self._names, self._blocks = axis, list(names), list(blocks)
        self._now, self._key = now, key
        self._range()
        if moved or not self._was_shown:
            self._reveal()
        self._was_shown = bool(blocks)
        self._describe()
        self.update()

    def _describe(self) -> None:
        block = self._current()
        if block is None:
            self.setAccessibleName(tr("steps.lanes"))
            return
        self.setAccessibleName(
            tr(
                "steps.block_words",
                lane=self._names[block.lane].name,
                name=block.name,
                begins=f"{block.begins:%H:%M}",
                ready=f"{block.ready:%H:%M}",
                state=tr(f"steps.state.{block.state}"),
            )
        )

    def _current(self) -> LaneBlock | None:
        return next((block for block in self._blocks if block.key == self._key), None)

    # ---- places

    @property
    def hours_room(self) -> int:
        """How much room there is for hours, units."""
        return max(self.wide - NAMES - 48, 1)

    def wanted_height(self) -> int:
        """Return the height at which all lanes are seen and none is stretched."""
        return HEAD + 12 + _AT_EASE * len(self._names)

    def most_height(self) -> int:
        """Return the height beyond which more would stay empty."""
        return HEAD + 12 + _LANE_HIGH * len(self._names)

    def _lane_height(self) -> int:
        """A few lanes share the height between them; many scroll."""
        least = LANE_LOW if self.high < 560 else LANE
        share = (self.high - HEAD - 12) // max(len(self._names), 1)
        return min(max(share, least), _LANE_HIGH)

    def _range(self) -> None:
        width = 0.0 if self._axis is None else self._axis.width
        room = max(self.wide - NAMES - 24, 1)
        self._across.setRange(0, max(round(width - room), 0))
        self._across.setPageStep(room)
        self._across.setSingleStep(64)
        height = len(self._names) * self._lane_height()
        self._down.setRange(0, max(height - (self.high - HEAD - 12), 0))
        self._down.setPageStep(max(self.high - HEAD, 1))
        self._down.setSingleStep(self._lane_height())
        self._across.setVisible(self._across.maximum() > 0)
        self._down.setVisible(self._down.maximum() > 0)

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._range()
        if event.oldSize().width() != event.size().width():
            self.room_changed.emit()

    def _reveal(self) -> None:
        """Bring the chosen block into view, or the present where none is chosen."""
        if self._axis is None:
            return
        block = self._current()
        # What the painter picked is brought into view; else the present is, with what is due.
        at = block.begins if block is not None and not self._follow else self._now
        if at is None:
            return
        x, room = self._axis.x(at), max(self.wide - NAMES - 24, 1)
        shown = self._across.value()
        if not shown + 40 <= x <= shown + room - 240:
            self._across.setValue(round(x - 0.25 * room))
        if block is not None:
            top = block.lane * self._lane_height()
            if not self._down.value() <= top <= self._down.value() + self.high - HEAD - LANE:
                self._down.setValue(top)

    def place_of(self, block: LaneBlock) -> QRectF:
        """Return where a block is drawn."""
        assert self._axis is not None
        left = self._axis.x(block.begins) - self._across.value() + NAMES + 24
        width = max(self._axis.x(block.ends) - self._axis.x(block.begins), _LEAST)
        top = HEAD + block.lane * self._lane_height() - self._down.value()
        lane = self._lane_height()
        high = min(max(round(0.34 * lane), _BLOCK), _BLOCK_HIGH)
        return QRectF(left, top + (lane - high) / 2, width, high)

    # ---- choosing

    def _choose(self, key: str) -> None:
        self._key = key
        self._follow = False
        self._reveal()
        self._describe()
        self.update()
        self.chosen.emit(key)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self._axis is None:
            return
        at = self.at(event)
        near: tuple[float, str] | None = None
        for block in self._blocks:
            rect = self.place_of(block)
            # No hit area is under 44 pixels high, nor a sliver's under 24 wide.
            grown = rect.adjusted(min(rect.width() - 24, 0) / 2, -16, 0, 24)
            grown.setWidth(max(rect.width(), 24))
            if grown.contains(at):
                off = abs(rect.center().x() - at.x())
                if near is None or off < near[0]:
                    near = (off, block.key)
        if near is not None:
            self._choose(near[1])
            picked = self._current()
            if picked is not None and picked.state == "planned":
                self._held, self._drawn = (at.x(), picked), 0.0

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held is not None:
            self._drawn = self.at(event).x() - self._held[0]
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        held, drawn = self._held, self._drawn
        self._held, self._drawn = None, 0.0
        if held is not None and abs(drawn) >= _DRAG and self._axis is not None:
            begins = self._axis.x(held[1].begins) + drawn
            self.moved.emit(held[1].key, self._axis.at(begins))
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        held = event.modifiers() & Qt.KeyboardModifier.ControlModifier
        now = self._current()
        if held and now is not None and key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            if now.state == "planned":
                way = 1 if key == Qt.Key.Key_Right else -1
                self.moved.emit(now.key, now.begins + way * _NUDGE)
            return
        along = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(key)
        across = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(key)
        block = self._current()
        if block is None and (along or across) and self._blocks:
            self._choose(self._blocks[0].key)
        elif along is not None and block is not None:
            own = [b for b in self._blocks if b.lane == block.lane]
            place = own.index(block) + along
            if 0 <= place < len(own):
                self._choose(own[place].key)
        elif across is not None and block is not None:
            lanes = sorted({b.lane for b in self._blocks})
            place = lanes.index(block.lane) + across
            if 0 <= place < len(lanes):
                beside = [b for b in self._blocks if b.lane == lanes[place]]
                self._choose(min(beside, key=lambda b: abs(b.begins - block.begins)).key)
        else:
            super().keyPressEvent(event)

    def wheelEvent(self, event: QWheelEvent) -> None:
        steps = event.angleDelta()
        sideways = event.modifiers() & Qt.KeyboardModifier.ShiftModifier or not self._down.maximum()
        bar = self._across if sideways or abs(steps.x()) > abs(steps.y()) else self._down
        way = steps.x() or steps.y()
        bar.setValue(bar.value() - round(way / 120 * bar.singleStep()))

    # ---- painting

    def paint(self, kit: Kit) -> None:
        w, h = self.wide, self.high
        kit.fill(0, 0, w, h, "bench")
        if self._axis is None:
            return
        with kit.saved():
            kit.painter.setClipRect(NAMES, 0, w - NAMES, h)
            self._paint_hours(kit)
        lane = self._lane_height()
        with kit.saved():
            kit.painter.setClipRect(0, HEAD, w, h - HEAD - 12)
            for number, name in enumerate(self._names):
                y = HEAD + number * lane - self._down.value()
                kit.across(0, y, w)
                kit.text(24, y + lane / 2 - 26, name.name, 18, 600, "ink", NAMES - 12)
                kit.text(24, y + lane / 2 + 2, name.note, 15, 400, "ink2", NAMES - 12)
            kit.across(0, HEAD + len(self._names) * lane - self._down.value(), w)
        with kit.saved():
            kit.painter.setClipRect(NAMES + 24, HEAD, w - NAMES - 24, h - HEAD - 12)
            for number in range(len(self._names)):
                self._paint_lane(kit, [b for b in self._blocks if b.lane == number])
            self._paint_now(kit)
        self._paint_now_head(kit)
        self._paint_drawn(kit)

    def _paint_drawn(self, kit: Kit) -> None:
        """The block in hand, and the time it would begin."""
        if self._held is None or abs(self._drawn) < _DRAG or self._axis is None:
            return
        block = self._held[1]
        rect = self.place_of(block).translated(self._drawn, 0)
        kit.box(rect.x(), rect.y(), rect.width(), rect.height(), "ink", 2, dash=[3, 3])
        begins = self._axis.at(self._axis.x(block.begins) + self._drawn)
        kit.text(rect.x(), rect.y() - 25, f"{begins:%H:%M}", 15, 700, "ink")

    def _paint_hours(self, kit: Kit) -> None:
        assert self._axis is not None
        w, h = self.wide, self.high
        shift = NAMES + 24 - self._across.value()
        foot = min(HEAD + len(self._names) * self._lane_height(), h - 12)
        with kit.saved():
            kit.painter.setClipRect(NAMES + 8, 0, w, h)
            for one in self._axis.stretches:
                if one.folded:
                    kit.fill(one.left + shift, HEAD, one.right - one.left, foot - HEAD, "well")
                    continue
                title = tr(f"weekday.{one.begins.weekday()}", day=f"{one.begins.day}")
                short = f"{tr(f'weekday.name.{one.begins.weekday()}')[:2]} {one.begins.day}"
                title = f"{title} {tr(f'month.{one.begins.month}')}"
                # The day's name stays in sight while any of the day is.
                left = max(one.left + shift, NAMES + 24)
                for words in (title, short):
                    if one.right + shift - left > text_width(words, 15, 600) + 8:
                        kit.text(left, 12, words, 15, 600, "ink")
                        break
                if self._axis.hour_px < _LEAST_HOUR:
                    kit.upright(one.left + shift, HEAD - 30, foot - HEAD + 30, "line", 1)
            for at, x in self._axis.hours() if self._axis.hour_px >= _LEAST_HOUR else ():
                strong = at.hour % 3 == 1
                kit.upright(x + shift, HEAD - 8, foot - HEAD + 8, "line", 1)
                label = str(at.hour)
                kit.text(
                    x + shift - 20, 46, label, 15, 700 if strong else 400, "ink2", 40, "centre"
                )

    def _paint_lane(self, kit: Kit, blocks: list[LaneBlock]) -> None:
        assert self._axis is not None
        taken = -1e9
        taken_below = -1e9
        for number, block in enumerate(blocks):
            rect = self.place_of(block)
            end = rect.right()
            ready = self._axis.x(block.ready) - self._across.value() + NAMES + 24
            due = block.state == "look"
            if block.ready > block.ends:
                passed = 0.0
                if block.state == "done":
                    passed = 1.0
                elif self._now is not None and block.state != "planned" and ready > end:
                    now = self._axis.x(self._now) - self._across.value() + NAMES + 24
                    passed = min(max((now - end) / (ready - end), 0.0), 1.0)
                draw_tail(kit, end, rect.top(), max(ready - end, 0), rect.height(), passed, due)
            begun = block.state != "planned"
            shade = block.shade if block.shade is not None else kit.colour("raised")
            draw_block(
                kit, rect.x(), rect.y(), rect.width(), rect.height(), shade, begun,
                block.key == self._key,
            )  # fmt: skip
            after = blocks[number + 1 :]
            # Where nothing more is reached by scrolling, words end with the view.
            end_of_all = self.wide + 6.0 if not self._across.maximum() else 1e9
            until = self.place_of(after[0]).left() if after else end_of_all
            strong = 700 if block.state in ("running", "drying", "look") else 400
            room = until - rect.left() - 10
            left = rect.left() + self._beside_now(rect.left())
            # A name that has no room is left to the column at the side.
            fits = text_width(block.name, 15, strong) <= room
            if rect.left() > taken and fits:
                width = kit.text(left, rect.top() - 25, block.name, 15, strong, "ink", room)
                taken = rect.left() + width + 6
            if rect.left() > taken_below and text_width(block.when, 15, strong) <= room:
                words = kit.text(left, rect.bottom() + 6, block.when, 15, strong, "ink2", room)
                taken_below = rect.left() + words + 6
            if block.late:
                kit.sign(rect.left() + 9, rect.center().y(), "check", 5)

    def _beside_now(self, x: float) -> float:
        """How far a word moves right so that the line of the present does not cross it."""
        if self._axis is None or self._now is None:
            return 0.0
        now = self._axis.x(self._now) - self._across.value() + NAMES + 24
        return 6.0 if abs(now - x) < 4 else 0.0

    def _paint_now(self, kit: Kit) -> None:
        if self._axis is None or self._now is None:
            return
        x = self._axis.x(self._now) - self._across.value() + NAMES + 24
        foot = min(HEAD + len(self._names) * self._lane_height(), self.high - 12)
        kit.upright(x - 1.5, HEAD, foot - HEAD, "ink", 3)

    def _paint_now_head(self, kit: Kit) -> None:
        if self._axis is None or self._now is None:
            return
        x = self._axis.x(self._now) - self._across.value() + NAMES + 24
        if NAMES + 24 <= x <= self.wide:
            kit.fill(x - 33, 40, 66, 28, "ink", 6)
            kit.text(x - 33, 44, f"{self._now:%H:%M}", 17, 700, "raised", 66, "centre")
            kit.upright(x - 1.5, 66, HEAD - 66, "ink", 3)

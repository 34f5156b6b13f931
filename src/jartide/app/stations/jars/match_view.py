"""Target beside mix, and the other mixes on a strip: simplest at left, closest at right."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QWidget

from jartide.app.kit import Kit, broken, text_width
from jartide.app.measure import px
from jartide.app.widgets.painted import Painted, reachable
from jartide.wording import tr

_CHIP_Y, _CHIP_H, _LEAST_CHIP = 44, 78, 34
# What stands below the chips.
_BELOW = 210
# The boxes of the other mixes: in a low window, and where there is room for chips of 48 px.
_BOX, _TALL_BOX, _ROOMY = 42.0, 86.0, 330
_STRIP_H, _ZONE_LINE = 22, 17
_LEAST_HIGH = 254
# Right ends of the strip's zones, and where a distance of so much lies on it.
_ZONES = (("close.short.different", 0.22), ("close.short.room", 0.5),
          ("close.short.arm", 0.76), ("close.short.up_close", 1.0))  # fmt: skip
_LIMITS = (8.0, 4.0, 2.0, 1.0, 0.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Candidate:
    """One mix on the strip: its parts in words, how far it is off, what it is made of."""

    parts: str
    de00: float
    words: str
    paints: tuple[QColor, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class MatchShown:
    """What the column shows."""

    target: QColor | None
    mix: QColor | None
    words: str
    note: str
    candidates: tuple[Candidate, ...]
    chosen: int
    busy: str = ""


def along(de00: float) -> float:
    """Return where a distance lies on the strip, 0..1; 1 is the target itself."""
    ends = (0.0, *(end for _, end in _ZONES))
    for n in range(4):
        far, near = _LIMITS[n], _LIMITS[n + 1]
        if de00 >= near:
            share = (far - min(de00, far)) / (far - near)
            return ends[n] + share * (ends[n + 1] - ends[n])
    return 1.0


class MatchView(Painted):
    """Draws the two colours and the candidates; one is picked by pointer or arrow keys."""

    picked = Signal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._shown: MatchShown | None = None
        self._boxes: list[tuple[float, float, float, float]] = []
        self.setMinimumSize(px(200), px(_LEAST_HIGH))
        reachable(self, tr("jars.other_mixes"))
        self._ringed = False

    def show_match(self, shown: MatchShown) -> None:
        """Show target, mix and candidates."""
        self._shown = shown
        if shown.candidates:
            own = shown.candidates[max(shown.chosen, 0)]
            self.setAccessibleName(f"{tr('jars.other_mixes')}: {own.words}, {own.parts}")
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = self.at(event)
        for number, (x, y, w, h) in enumerate(self._boxes):
            if x <= at.x() <= x + w and y <= at.y() <= y + h:
                self.picked.emit(number)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if step is None or self._shown is None or not self._shown.candidates:
            super().keyPressEvent(event)
            return
        last = len(self._shown.candidates) - 1
        self.picked.emit(min(max(self._shown.chosen + step, 0), last))

    def paint(self, kit: Kit) -> None:
        shown, w = self._shown, self.wide
        self._boxes = []
        if shown is None:
            return
        kit.text(0, 10, tr("jars.target"), 18, 600, "ink")
        half = w / 2
        # Colours take what room there is: the larger, the better they are judged.
        high = max(_LEAST_CHIP, min(max(_CHIP_H, w / 2), self.high - _CHIP_Y - self._below()))
        for x, colour in ((0.0, shown.target), (half, shown.mix)):
            if colour is None:
                kit.fill(x, _CHIP_Y, half, high, "well")
                kit.box(x, _CHIP_Y, half, high, "line")
            else:
                kit.fill(x, _CHIP_Y, half, high, colour)
        y = float(_CHIP_Y + high + 8)
        for place, line in enumerate(self._words()):
            kit.text(0, y + 22 * place, line, 17, 600, "ink")
        y += 22 * (len(self._words()) - 1)
        for place, line in enumerate(broken(shown.note, w, 14)):
            kit.text(0, y + 24 + 18 * place, line, 14, 400, "ink2", w)
        y += 44 + 18 * (len(broken(shown.note, w, 14)) - 1)
        if shown.busy or not shown.candidates:
            kit.paragraph(0, y + 6, w, shown.busy, 16, 400, "ink2")
            return
        title = kit.text(0, y, tr("jars.other_mixes"), 16, 600, "ink")
        order = tr("jars.mixes_order")
        if text_width(order, 14) <= w - title - 12:
            kit.text(title + 12, y + 2, order, 14, 400, "ink3")
        self._paint_strip(kit, shown, y + 28)

    def _tall(self) -> float:
        """How tall the boxes of the other mixes are: with chips to judge where there is room."""
        return _TALL_BOX if self.high >= _ROOMY else _BOX

    def _words(self) -> list[str]:
        """How near it comes, in as many lines as there is room for."""
        return [] if self._shown is None else broken(self._shown.words, self.wide, 17, 600)

    def _below(self) -> float:
        """What stands below the two colours."""
        more = 22 * max(len(self._words()) - 1, 0) + (0 if self._zones_fit() else _ZONE_LINE)
        return _BELOW + self._tall() - _BOX + more

    def _zones_fit(self) -> bool:
        """Whether the names of how near a mix comes have room beside each other."""
        starts = (0.0, *(end for _, end in _ZONES))
        return all(
            text_width(tr(zone), 14) + 6 <= (end - start) * self.wide
            for (zone, end), start in zip(_ZONES, starts, strict=False)
        )

    def _paint_strip(self, kit: Kit, shown: MatchShown, y: float) -> None:
        w, tall = self.wide, self._tall()
        count = len(shown.candidates)
        gap = 8.0
        room = (w - gap * (count - 1)) / count
        strip = y + tall + 12
        kit.fill(0, strip, w, _STRIP_H, "well")
        start, level = 0.0, self._zones_fit()
        for number, (zone, end) in enumerate(_ZONES):
            left, right = start * w, end * w
            if number % 2:
                kit.fill(left, strip, right - left, _STRIP_H, "raised")
            # Where they stand too close, every other one is a line lower.
            below = 0 if level or number % 2 == 0 else _ZONE_LINE
            kit.text(left + 4, strip + _STRIP_H + 3 + below, tr(zone), 14, 400, "ink3")
            start = end
        kit.box(0, strip, w, _STRIP_H, "line")
        for number, candidate in enumerate(shown.candidates):
            on = number == shown.chosen
            x = number * (room + gap)
            kit.fill(x, y, room, tall, "raised", 6)
            kit.box(x, y, room, tall, "ink" if on else "edge", 2 if on else 1, 6)
            size = 16 if text_width(candidate.parts, 16, 600) < room - 8 else 14
            kit.text(x, y + 4, candidate.parts, size, 600 if on else 500, "ink", room, "centre")
            # What it is made of: two mixes of the same parts may hold other paints.
            chip = tall - 34
            most = (room - 12) / max(len(candidate.paints), 1)
            wide = min(14.0 if tall == _BOX else chip + 6, most)
            left = x + (room - wide * len(candidate.paints)) / 2
            for place, colour in enumerate(candidate.paints):
                kit.fill(left + place * wide, y + 26, wide - 3, chip, colour)
            if on:
                kit.fill(x + 8, y + tall - 4, room - 16, 4, "accent")
            at = along(candidate.de00) * (w - 4) + 2
            kit.upright(at - 1, strip - (8 if on else 4), _STRIP_H + (8 if on else 4), "ink",
                        4 if on else 2)  # fmt: skip
            self._boxes.append((x, y - 2, room, tall + 4))
        if self.hasFocus():
            kit.box(-1, y - 4, w + 2, tall + 8, "accent", 2, 8)

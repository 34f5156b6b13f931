"""The target and all boards in a row at one scale, with the tide below."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QImage, QKeyEvent, QMouseEvent, QPixmap
from PySide6.QtWidgets import QWidget

from jartide.app.elements.tide import Mark, draw_tide
from jartide.app.kit import Kit
from jartide.app.measure import text_scale
from jartide.app.widgets.painted import Painted, reachable
from jartide.wording import tr

_MARGIN, _GAP, _TITLE, _TIDE = 24, 20, 32, 108
_MUCH_LARGER = 1.25


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class InRow:
    """One picture of the row: whose it is ("" for the target), its title, and its scale."""

    board_id: str
    title: str
    image: QImage | None
    mm_per_px: float | None

    def size_mm(self) -> tuple[float, float] | None:
        """Return its width and height, mm; None without a picture or a scale."""
        if self.image is None or self.mm_per_px is None:
            return None
        return self.image.width() * self.mm_per_px, self.image.height() * self.mm_per_px


class RowView(Painted):
    """Draws the row; a press, or the arrows, chooses a board."""

    chosen = Signal(str)  # id of the board

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._pictures: list[InRow] = []
        self._board_id = ""
        self._tide: tuple[list[Mark], int, float | None] = ([], 0, None)
        self._kept: dict[tuple[int, int, int], QPixmap] = {}
        reachable(self, tr("row.name"))

    def show_row(
        self,
        pictures: list[InRow],
        board_id: str,
        tide: tuple[list[Mark], int, float | None],
    ) -> None:
        """Show the target first, then the boards in their order; one of them is chosen."""
        if [id(p.image) for p in pictures] != [id(p.image) for p in self._pictures]:
            self._kept.clear()
        self._pictures, self._board_id, self._tide = pictures, board_id, tide
        titles = [p.title for p in pictures]
        on = next((p.title for p in pictures if p.board_id == board_id), "")
        self.setAccessibleName(f"{tr('row.name')}: {', '.join(titles)}. {on}")
        self.update()

    def places(self) -> list[QRectF]:
        """Return where each picture lies, all at as many px per mm as the room allows."""
        sizes = [p.size_mm() for p in self._pictures]
        known = [s for s in sizes if s is not None]
        mean = (
            (sum(s[0] for s in known) / len(known), sum(s[1] for s in known) / len(known))
            if known
            else (1.0, 1.0)
        )
        whole = [s or mean for s in sizes]
        if not whole:
            return []
        rows, scale = 1, self._scale(whole, 1)
        for number in range(2, len(whole) + 1):
            # One row is what the eye compares best: more only where they make all much larger.
            if self._scale(whole, number) > _MUCH_LARGER * scale:
                rows, scale = number, self._scale(whole, number)
        divided = _divided(whole, rows)
        high = sum(max(h for _, h in row) * scale + _TITLE + 12 for row in divided)
        found, y = [], max(8.0, (self.high - _TIDE - high) / 2)
        for row in divided:
            wide = sum(w for w, _ in row) * scale + _GAP * (len(row) - 1)
            x = max(float(_MARGIN), (self.wide - wide) / 2)
            for width, height in row:
                found.append(QRectF(x, y + _TITLE, width * scale, height * scale))
                x += width * scale + _GAP
            y += max(height for _, height in row) * scale + _TITLE + 12
        return found

    def _scale(self, sizes: list[tuple[float, float]], rows: int) -> float:
        """The px per mm at which so many rows have room."""
        divided = _divided(sizes, rows)
        across = min(
            (self.wide - 2 * _MARGIN - _GAP * (len(row) - 1)) / sum(w for w, _ in row)
            for row in divided
        )
        room = self.high - _TIDE - len(divided) * (_TITLE + 12) - 16
        return min(across, room / sum(max(h for _, h in row) for row in divided))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        for picture, place in zip(self._pictures, self.places(), strict=True):
            if picture.board_id and place.contains(self.at(event)):
                self.chosen.emit(picture.board_id)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        ids = [p.board_id for p in self._pictures if p.board_id]
        if step is None or self._board_id not in ids:
            super().keyPressEvent(event)
            return
        place = min(max(ids.index(self._board_id) + step, 0), len(ids) - 1)
        self.chosen.emit(ids[place])

    def paint(self, kit: Kit) -> None:
        w, h = self.wide, self.high
        kit.fill(0, 0, w, h, "bench")
        for picture, place in zip(self._pictures, self.places(), strict=True):
            on = picture.board_id == self._board_id and bool(self._board_id)
            x, y = place.x(), place.y()
            kit.text(x, y - 28, picture.title, 18, 700 if on else 500, "ink", place.width())
            if picture.image is None:
                kit.fill(x, y, place.width(), place.height(), "well")
                kit.text(x, place.center().y() - 10, tr("row.no_photo"), 16, 400, "ink2",
                         place.width(), "centre")  # fmt: skip
            else:
                kit.painter.drawPixmap(place.topLeft(), self._scaled(picture.image, place))
            if on:
                kit.across(x, place.bottom() + 2, place.width(), "accent", 4)
        top = h - _TIDE
        kit.fill(0, top, w, _TIDE, "sheet")
        kit.across(0, top, w)
        marks, chosen, expected = self._tide
        draw_tide(kit, 26, top + 40, w - 52, marks, chosen=chosen, expected=expected)

    def _scaled(self, image: QImage, place: QRectF) -> QPixmap:
        """The picture at the screen's own size: smooth scaling is slow, and is kept."""
        ratio = self.devicePixelRatioF() * text_scale()
        wide, high = round(place.width() * ratio), round(place.height() * ratio)
        key = (image.cacheKey(), wide, high)
        if key not in self._kept:
            made = QPixmap.fromImage(
                image.scaled(
                    QSize(max(wide, 1), max(high, 1)),
                    Qt.AspectRatioMode.IgnoreAspectRatio,
                    Qt.TransformationMode.SmoothTransformation,
                )
            )
            made.setDevicePixelRatio(ratio)
            self._kept[key] = made
        return self._kept[key]


def _divided(sizes: list[tuple[float, float]], rows: int) -> list[list[tuple[float, float]]]:
    """Sizes in so many rows, each as long as the others or shorter by one."""
    long = -(-len(sizes) // rows)
    return [sizes[n : n + long] for n in range(0, len(sizes), long)]

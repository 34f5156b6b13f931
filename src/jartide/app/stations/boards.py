"""Boards: a board beside the target at the same scale, what differs most, and the tide."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QColor, QImage, QKeyEvent, QResizeEvent
from PySide6.QtWidgets import QWidget

from jartide.app.document import Document
from jartide.app.elements.scale_strip import HEIGHT as STRIP
from jartide.app.elements.tide import ZONE_ENDS, Mark, zone_of
from jartide.app.jar_desk import JarDesk
from jartide.app.kit import Kit, text_width
from jartide.app.mend import mend_words
from jartide.app.stations.base import Station
from jartide.app.widgets.buttons import Button, ChoiceRow
from jartide.app.widgets.differences import DifferenceRow, Differences
from jartide.app.widgets.foot import Action, FootState
from jartide.app.widgets.header import StationState
from jartide.app.widgets.painted import to_image
from jartide.app.widgets.surface_pane import SurfacePane
from jartide.app.widgets.tick import Tick
from jartide.app.widgets.tide_view import HEIGHT as TIDE_HEIGHT
from jartide.app.widgets.tide_view import TideView
from jartide.app.words import quantity_words
from jartide.app.work import seen_from
from jartide.wording import say, tr

if TYPE_CHECKING:
    from jartide.boards.result import Comparison, Difference
    from jartide.store.records import Board, Photo

_ADVICE_H, _COLUMN = 80, 360
# Where the eye is, metres: as the choice offers them.
DISTANCES_M = (0.3, 0.7, 2.0, 5.0)


class BoardsStation(Station):
    """Shows the chosen board against the target."""

    add_wanted = Signal(bool)  # True: of a new board
    photo_wanted = Signal(str)  # id of the photo to open in Photos

    name = "boards"

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(document, parent)
        self._board_id: str | None = None
        self._row = 0
        self._images: dict[object, tuple[QImage, float | None]] = {}
        self._held = False
        self._progress: dict[str, float] = {}
        self._comparison: Comparison | None = None
        self.desk: JarDesk | None = None
        self._mended: tuple[object, str] | None = None
        self._left, self._right = SurfacePane(self), SurfacePane(self)
        self._left.setAccessibleName(tr("reading.target"))
        self._rows = Differences(self)
        self._rows.chosen.connect(self._row_chosen)
        self._tide = TideView(self)
        self._tide.chosen.connect(self._board_chosen)
        self._distance = ChoiceRow(
            [tr("distance.close"), tr("distance.arm"), tr("distance.two"), tr("distance.far")],
            tr("boards.judged"),
            self,
            gap=20,
        )
        self._distance.chosen.connect(self._distance_chosen)
        self._from_afar = Tick(tr("boards.from_afar"), self)
        self._from_afar.clicked.connect(lambda _: self.refresh())
        self._open_photo = Button(tr("boards.photo"), self)
        self._open_photo.clicked.connect(self._photo_opened)
        document.changed.connect(self.refresh)
        document.reading_ready.connect(self._came)
        document.reading_progressed.connect(self._progressed)
        document.picture_ready.connect(lambda _: self.refresh())

    # ---- which board

    def boards(self) -> list[tuple[Board, Photo | None]]:
        return self.document.boards()

    def chosen(self) -> tuple[Board, Photo | None] | None:
        """Return the board on the bench: the one chosen, or the latest."""
        boards = self.boards()
        found = next((pair for pair in boards if pair[0].id == self._board_id), None)
        return found or (boards[-1] if boards else None)

    def _board_chosen(self, number: int) -> None:
        for board, _ in self.boards():
            if board.number == number:
                self._board_id = board.id
        self._row = 0
        self.refresh()

    def show_board(self, board_id: str) -> None:
        """Put a board on the bench."""
        self._board_id = board_id
        self._row = 0
        self.refresh()

    def enter(self) -> None:
        target, chosen = self.document.target(), self.chosen()
        if target is not None:
            self.document.want_target()
            # The one on the bench first, then the rest for the tide.
            photos = [p for _, p in reversed(self.boards()) if p is not None]
            if chosen is not None and chosen[1] is not None:
                photos.insert(0, chosen[1])
            for photo in dict.fromkeys(photos):
                self.document.want_reading(photo)
        self.refresh()

    def _came(self, photo_id: str) -> None:
        self._progress.pop(photo_id, None)
        self.refresh()

    def _progressed(self, photo_id: str, fraction: float) -> None:
        self._progress[photo_id] = fraction
        self.foot_changed.emit()

    # ---- showing

    def refresh(self) -> None:
        if not self.isVisible() or self.document.finish is None:
            return
        target, chosen = self.document.target(), self.chosen()
        photo = None if chosen is None else chosen[1]
        for shown in (target, photo):
            if shown is not None:
                self.document.want_picture(shown)
        there = chosen is not None and target is not None
        for widget in (
            self._left,
            self._right,
            self._rows,
            self._tide,
            self._distance,
            self._open_photo,
            self._from_afar,
        ):
            widget.setVisible(there)
        self._comparison = None
        if there:
            assert target is not None
            self._show_pane(self._left, target)
            self._show_pane(self._right, photo)
            self._place()
            self._comparison = None if photo is None else self.document.comparison(photo)
            self._show_rows(photo)
            self._show_tide()
            wanted = self.document.finish.viewing_m
            apart = [abs(metres - wanted) for metres in DISTANCES_M]
            self._distance.show_index(apart.index(min(apart)))
        self.foot_changed.emit()
        self.update()

    def _show_pane(self, pane: SurfacePane, photo: Photo | None) -> None:
        flat = None if photo is None else self.document.flat(photo)
        if photo is None or flat is None:
            refusal = None if photo is None else self.document.refusal(photo)
            pane.show_surface(None, None, refusal or tr("photos.opening"))
            return
        finish = self.document.finish
        metres = finish.viewing_m if finish is not None and self._from_afar.isChecked() else None
        key = (photo.sha256, photo.settings, metres)
        if key not in self._images:
            if len(self._images) > 16:
                self._images.clear()
            code, mm_per_px = flat.code, flat.mm_per_px
            if metres is not None and mm_per_px is not None:
                code, mm_per_px = seen_from(code, mm_per_px, metres)
            self._images[key] = (to_image(code), mm_per_px)
        pane.show_surface(*self._images[key])

    def _same_scale(self) -> None:
        """Show both at as many px per mm as the larger of them allows."""
        scales = [s for s in (self._left.whole_scale(), self._right.whole_scale()) if s]
        common = min(scales) if len(scales) == 2 else None
        self._left.set_scale(common)
        self._right.set_scale(common)

    def _show_rows(self, photo: Photo | None) -> None:
        if self._comparison is None:
            words = tr("boards.reading") if photo is not None else tr("boards.no_photo")
            self._rows.show_rows([], 0, words)
            return
        rows = [_row(d) for d in self._comparison.differences]
        self._row = min(self._row, max(len(rows) - 1, 0))
        self._rows.show_rows(rows, self._row)

    def _show_tide(self) -> None:
        marks: list[Mark] = []
        place, expected = 0, None
        chosen = self.chosen()
        for board, photo in self.boards():
            comparison = None if photo is None else self.document.comparison(photo)
            if comparison is None:
                continue
            if chosen is not None and board.id == chosen[0].id:
                place = len(marks)
                if any(d.significant for d in comparison.differences):
                    expected = closeness(comparison, expected=True)
            marks.append(Mark(number=board.number, closeness=closeness(comparison)))
        if marks and expected is not None and expected <= marks[place].closeness + 0.01:
            expected = None
        self._tide.show_marks(marks, place if marks else 0, expected)

    def _row_chosen(self, quantity: str) -> None:
        if self._comparison is not None:
            paths = [d.quantity for d in self._comparison.differences]
            self._row = paths.index(quantity)
            self._show_rows(None)
            self.update()

    def _difference(self) -> Difference | None:
        if self._comparison is None or not self._comparison.differences:
            return None
        return self._comparison.differences[self._row]

    def _distance_chosen(self, index: int) -> None:
        finish = self.document.finish
        assert finish is not None
        self._row = 0
        self.document.change(
            tr("undo.distance"), [finish], [replace(finish, viewing_m=DISTANCES_M[index])]
        )

    def _photo_opened(self) -> None:
        chosen = self.chosen()
        if chosen is not None and chosen[1] is not None:
            self.photo_wanted.emit(chosen[1].id)

    def _stop(self) -> None:
        """Stop all reading; what is read stays, the rest can be asked for again."""
        for photo in self.document.photos():
            self.document.runner.stop(f"reading {photo.id}")
        self._progress.clear()
        self.refresh()

    def escape(self) -> bool:
        if self._progress:
            self._stop()
            return True
        return False

    def keyPressEvent(self, event: QKeyEvent) -> None:
        # Space, held: the board lies over the target.
        if event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            self._held = True
            chosen = self.chosen()
            if chosen is not None and chosen[1] is not None:
                self._show_pane(self._left, chosen[1])
                self.update()
        else:
            super().keyPressEvent(event)

    def keyReleaseEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Space and not event.isAutoRepeat() and self._held:
            self._held = False
            self.refresh()
        else:
            super().keyReleaseEvent(event)

    # ---- header and foot

    def header_state(self) -> StationState:
        boards = self.boards()
        if not boards:
            return StationState(name=tr("station.boards"), note=tr("boards.none"), level=0)
        board, photo = boards[-1]
        comparison = None if photo is None else self.document.comparison(photo)
        level = 0.1 if comparison is None else closeness(comparison)
        return StationState(
            name=tr("station.boards"),
            note=tr("boards.count", count=len(boards), number=board.number),
            level=level,
        )

    def foot_state(self) -> FootState:
        target, boards = self.document.target(), self.boards()
        if target is None:
            go = Action(
                text=tr("reading.to_photos"),
                run=lambda: self.station_wanted.emit("photos"),
                primary=True,
            )
            return FootState(
                text=tr("reading.no_target"), note=tr("reading.no_target_note"), actions=(go,)
            )
        number = max((board.number for board, _ in boards), default=0) + 1
        add = Action(
            text=tr("boards.add", number=number),
            run=lambda: self.add_wanted.emit(True),
            primary=True,
        )
        if not boards:
            return FootState(text=tr("boards.empty"), note=tr("boards.empty_note"), actions=(add,))
        chosen = self.chosen()
        assert chosen is not None
        board, photo = chosen
        if self._comparison is None:
            fraction = self._progress.get(photo.id) if photo is not None else None
            if fraction is None:
                fraction = self._progress.get(target.id)
            if self.document.runner.busy:
                stop = Action(text=tr("foot.stop"), run=self._stop, primary=True)
                return FootState(
                    text=tr("boards.busy", number=board.number),
                    progress=fraction or 0.0,
                    actions=(stop,),
                )
            fix = Action(text=tr("boards.photo"), run=self._photo_opened)
            return FootState(
                text=tr("boards.unread", number=board.number), sign="todo", actions=(fix, add)
            )
        text, note = self._verdict(board)
        return FootState(text=text, note=note, actions=(add,))

    def _verdict(self, board: Board) -> tuple[str, str]:
        comparison = self._comparison
        assert comparison is not None
        zone = zone_of(closeness(comparison))
        text = tr(f"verdict.{zone.removeprefix('zone.')}", number=board.number)
        if comparison.light_change_L is not None and abs(comparison.light_change_L) >= 1:
            return text, tr("boards.light_unknown")
        boards = self.boards()
        earlier = [
            (b, c)
            for b, p in boards
            if b.number < board.number and p is not None and (c := self.document.comparison(p))
        ]
        if earlier:
            before, its = earlier[-1]
            closer = closeness(comparison) >= closeness(its)
            key = "boards.closer" if closer else "boards.further"
            return text, tr(key, number=before.number)
        return text, board.remark

    # ---- layout

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._place()

    def _place(self) -> None:
        w, h = self.width(), self.height()
        tide_top = h - TIDE_HEIGHT - 8
        self._tide.setGeometry(24, tide_top, w - 48, TIDE_HEIGHT)
        top = _ADVICE_H + 40
        room = tide_top - top - 12
        # Photos take everything; what a square one leaves over goes to the column, then the gaps.
        pane = min((w - 48 - _COLUMN - 40) // 2, round((room - STRIP) * self._left.aspect()))
        column = min(420, w - 48 - 40 - 2 * pane)
        self._left.setGeometry(24, top, pane, room)
        self._rows.setGeometry((w - column) // 2, top, column, room)
        self._right.setGeometry(w - 24 - pane, top, pane, room)
        size = self._from_afar.sizeHint()
        self._from_afar.setGeometry(24 + pane - size.width(), _ADVICE_H - 4, size.width(), 44)
        self._open_photo.move(w - 24 - self._open_photo.width(), 18)
        self._distance.move(self._open_photo.x() - 28 - self._distance.width(), 30)
        if self.isVisible():
            self._same_scale()

    def paint(self, kit: Kit) -> None:
        w, h = self.width(), self.height()
        kit.fill(0, 0, w, h, "bench")
        chosen = self.chosen()
        if chosen is None or self.document.target() is None:
            y = h / 2 - 90
            kit.text(0, y, tr("boards.first_title"), 24, 600, "ink", w, "centre")
            for number in (1, 2, 3):
                y += 48 if number == 1 else 34
                kit.text(0, y, tr(f"boards.first_{number}"), 16, 400, "ink2", w, "centre")
            return
        board, _ = chosen
        kit.fill(0, 0, w, _ADVICE_H, "sheet")
        kit.across(0, _ADVICE_H, w)
        room = self._distance.x() - 24 - 28
        self._paint_advice(kit, room)
        kit.text(self._distance.x() + 2, 10, tr("boards.judged"), 14, 400, "ink2")
        y = _ADVICE_H + 8
        title = tr("board.numbered", number=board.number)
        left = title if self._held else tr("reading.target")
        kit.text(24, y, left, 18, 700)
        x, column = self._rows.x(), self._rows.width()
        kit.text(x, y + 3, tr("boards.col_target"), 15, 400, "ink2")
        kit.text(
            x, y + 3, tr("boards.col_board", number=board.number), 15, 400, "ink2", column, "right"
        )
        kit.text(x + 70, y + 1, tr("boards.differs"), 17, 700, "ink", column - 140, "centre")
        right = self._right.x()
        advance = kit.text(right, y, title, 18, 700)
        kit.text(
            right + advance + 12,
            y + 3,
            board.remark,
            15,
            400,
            "ink2",
            self._right.width() - advance - 12,
        )
        tide_top = self._tide.y() - 6
        kit.fill(0, tide_top, w, h - tide_top, "sheet")
        kit.across(0, tide_top, w)

    def _mend(self, difference: Difference) -> str:
        """Return the mend computed with the painter's own paints, if there is one."""
        chosen = self.chosen()
        photo = None if chosen is None else chosen[1]
        reading = None if photo is None else self.document.reading(photo)
        if reading is None or self.desk is None:
            return ""
        key = (id(reading), difference.quantity, self.desk.shelf_key())
        if self._mended is None or self._mended[0] != key or not self._mended[1]:
            self._mended = (key, mend_words(difference, reading, self.desk))
        return self._mended[1]

    def _paint_advice(self, kit: Kit, room: float) -> None:
        difference = self._difference()
        if difference is None:
            kit.text(24, 14, tr("boards.title"), 24, 600, "ink", room)
            kit.text(24, 48, tr("boards.reading"), 16, 400, "ink2", room)
            return
        if difference.significant:
            title = say(difference.words)
            words = "" if difference.advice is None else say(difference.advice)
            words = f"{words} {self._mend(difference)}".strip()
        elif (
            self._row == 0
            and self._comparison is not None
            and (self._comparison.distance >= self._comparison.tolerance)
        ):
            # Together they add up, but none stands out from what these photos leave open.
            title, words = tr("boards.unsure"), tr("boards.unsure_note")
        elif self._row == 0:
            title, words = tr("boards.nothing"), tr("boards.nothing_note")
        else:
            title, words = say(difference.words), tr("boards.leave")
        size = 24 if text_width(title, 24, 600) <= room else 20
        kit.text(24, 10, title, size, 600, "ink", room)
        if text_width(words, 16) <= room:
            kit.text(24, 44, words, 16, 400, "ink2")
        else:
            kit.paragraph(24, 38, room, words, 14, 400, "ink2", lines=2)


def closeness(comparison: Comparison, *, expected: bool = False) -> float:
    """Return where a board stands on the tide, 0..1, the target being 1.

    A zone is reached when the distance as seen from there is within tolerance:
    all of it at 2 m, half at arm's length, a quarter up close. Inside a zone
    the place is linear in the distance, down to the next zone's bound.
    """
    at = comparison.expected_at if expected else comparison.distance_at
    tolerance = comparison.tolerance
    stages = ((2.0, tolerance), (0.7, tolerance / 2), (0.3, tolerance / 4))
    start = 0.0
    for (metres, bound), end in zip(stages, ZONE_ENDS, strict=False):
        distance = at(metres)
        if distance > bound:
            # The farther off, the further back: at four times the bound, the zone's start.
            share = 1 - min((distance / bound - 1) / 3, 1.0)
            return start + (end - start) * max(share, 0.08 if start == 0 else 0.02) * 0.98
        start = end
    bound = tolerance / 4
    return start + (1 - start) * (1 - at(0.3) / bound) * 0.98


def _row(difference: Difference) -> DifferenceRow:
    from jartide.colour.spaces import srgb_hex

    pair = None
    if isinstance(difference.target, tuple) and isinstance(difference.board, tuple):
        pair = (
            QColor(srgb_hex(difference.target)),
            QColor(srgb_hex(difference.board)),
        )
    return DifferenceRow(
        quantity=difference.quantity,
        name=say(difference.name),
        target=quantity_words(difference.quantity, difference.target),
        board=quantity_words(difference.quantity, difference.board),
        words=say(difference.short),
        jnd=difference.jnd,
        amount=difference.amount.value,
        pair=pair,
    )

"""The room: colours picked from its photo, beside target and board."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtGui import QColor, QImage

from jartide.app.stations.boards.page import BoardPage, Side
from jartide.app.widgets.ledger import Ledger, LedgerRow
from jartide.app.widgets.painted import to_image
from jartide.app.widgets.surface_pane import PaneMode, SurfacePane
from jartide.app.work import colour_at
from jartide.wording import say, tr

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

    from jartide.app.board_desk import BoardDesk
    from jartide.store.records import Photo


class RoomPage(BoardPage):
    """Picks colours of the room and shows how the finish stands to them."""

    name = "room"

    def __init__(self, desk: BoardDesk, parent: QWidget | None = None) -> None:
        self._images: dict[object, QImage] = {}
        super().__init__(desk, parent)
        self._pane = SurfacePane(self)
        self._pane.look_closer()
        self._pane.choose_mode(PaneMode.PICK)
        self._pane.picked.connect(self._picked)
        self._ledger = Ledger(tr("page.room"), self)
        self._ledger.chosen.connect(self._chosen)
        self._body = [self._pane, self._ledger]
        self._row = -1

    def build_side(self, side: Side) -> None:
        side.words(tr("room.how"))
        self._name = side.fields(tr("room.name"))[0]
        side.button(tr("room.add"), lambda: self.ask_photos(self.take_room))
        self._remove = side.button(tr("room.remove"), self._remove_pressed)

    def room(self) -> Photo | None:
        """Return the room's latest photo."""
        photos = self.desk.photos_of("surroundings")
        return photos[-1] if photos else None

    def show_board(self) -> None:
        photo = self.room()
        if photo is None:
            self._pane.show_surface(None, None, tr("room.empty"))
        else:
            self.document.want_picture(photo)
            flat, preview = self.document.flat(photo), self.document.preview(photo)
            code = flat.code if flat is not None else None if preview is None else preview.code
            if code is None:
                self._pane.show_surface(None, None, tr("photos.opening"))
            else:
                key = (photo.sha256, photo.settings, flat is None)
                if key not in self._images:
                    self._images = {key: to_image(code)}
                self._pane.show_surface(self._images[key], None)
        self._ledger.show_rows(self._rows(), self._row, tr("room.none"))
        self._remove.setEnabled(self._row >= 0)

    def _rows(self) -> list[LedgerRow]:
        from jartide.boards.surroundings import mean_colour, neighbours
        from jartide.colour.spaces import srgb_hex

        finish, target = self.document.finish, self.document.target_reading()
        if finish is None or target is None:
            return []
        own = None if self.photo is None else self.document.reading(self.photo)
        wanted = mean_colour(target)
        board = None if own is None else mean_colour(own)
        rows = []
        for found in neighbours([(c.name, c.lab) for c in finish.room], wanted, board):
            chips = [found.lab, wanted] + ([board] if board is not None else [])
            note = tr(f"room.{found.to_target.value}")
            if found.moves_board and found.to_board is not None:
                note = tr("room.board_differs", board=tr(f"room.{found.to_board.value}"))
            pushed = "" if found.shift is None else tr("room.pushed", how=say(found.shift))
            fine = found.to_target.value in ("sits_well", "stands_off")
            rows.append(
                LedgerRow(
                    title=found.name,
                    note=note,
                    right=pushed,
                    sign="check" if found.moves_board or not fine else "ready",
                    chips=tuple(QColor(srgb_hex(lab)) for lab in chips),
                )
            )
        return rows

    def _picked(self, x: float, y: float) -> None:
        from jartide.store.records import RoomColour

        finish, photo = self.document.finish, self.room()
        if finish is None or photo is None:
            return
        flat, preview = self.document.flat(photo), self.document.preview(photo)
        code = flat.code if flat is not None else None if preview is None else preview.code
        if code is None:
            return
        name = self._name.text().strip() or tr("room.colour", number=len(finish.room) + 1)
        self._name.clear()
        colour = RoomColour(name=name, lab=colour_at(code, (x, y)), photo_id=photo.id)
        new = replace(finish, room=(*finish.room, colour))
        self.document.change(tr("undo.room", name=name), [finish], [new])

    def _chosen(self, index: int) -> None:
        self._row = index
        self._remove.setEnabled(True)

    def _remove_pressed(self) -> None:
        finish = self.document.finish
        if finish is not None and 0 <= self._row < len(finish.room):
            kept = tuple(c for n, c in enumerate(finish.room) if n != self._row)
            name = finish.room[self._row].name
            self._row = -1
            words = tr("undo.room_less", name=name)
            self.document.change(words, [finish], [replace(finish, room=kept)])

    def take_room(self, data: bytes, name: str) -> None:
        """Bring in a photo of the room."""
        from jartide.store.records import Stage

        self.desk.add_photo(data, name, "surroundings", Stage())

    def place(self) -> None:
        x, y, w, h = self.body_rect()
        pane = round(0.44 * w)
        self._pane.setGeometry(x, y, pane, h)
        self._ledger.setGeometry(x + pane + 24, y, w - pane - 24, h)

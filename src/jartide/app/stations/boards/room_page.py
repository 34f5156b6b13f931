"""The room: colours picked from its photo, beside target and board."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from PySide6.QtGui import QColor
from PySide6.QtWidgets import QWidget

from jartide.app.stations.boards.page import Side
from jartide.app.stations.boards.pane_page import PanePage
from jartide.app.widgets.ledger import LedgerRow
from jartide.app.widgets.surface_pane import PaneMode
from jartide.boards.surroundings import mean_colour, neighbours
from jartide.colour.spaces import srgb_hex
from jartide.job.eye_pictures import colour_at
from jartide.job.open_job import OpenJob
from jartide.job.pictures import Data
from jartide.store.records import Photo, RoomColour, Stage
from jartide.wording import say, tr


class RoomPage(PanePage):
    """Picks colours of the room and shows how the finish stands to them."""

    name = "room"

    mode = PaneMode.PICK
    share = 0.44

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self._pane.picked.connect(self._picked)
        self._ledger.chosen.connect(self._chosen)

    def build_side(self, side: Side) -> None:
        side.words(tr("room.how"))
        self._name = side.fields(tr("room.name"))[0]
        side.button(tr("room.add"), lambda: self.ask_photos(self.take_room))
        self._remove = side.button(tr("room.remove"), self._remove_pressed)

    def room(self) -> Photo | None:
        """Return the room's latest photo."""
        photos = self.job.boards.photos_of("surroundings")
        return photos[-1] if photos else None

    def show_board(self) -> None:
        photo = self.room()
        if photo is not None:
            self.job.pictures.want(photo)
        empty = tr("room.empty") if photo is None else tr("photos.opening")
        self.show_code(self._code(photo), None, empty)
        self._ledger.show_rows(self._rows(), self._row, tr("room.none"))
        self._remove.setEnabled(self._row >= 0)

    def _code(self, photo: Photo | None) -> np.ndarray | None:
        """The room's photo as it is shown: in neutral light, or as taken until that is made."""
        if photo is None:
            return None
        flat, preview = self.job.pictures.flat(photo), self.job.pictures.preview(photo)
        return flat.code if flat is not None else None if preview is None else preview.code

    def _rows(self) -> list[LedgerRow]:
        finish, target = self.job.finish, self.job.readings.of_target()
        if finish is None or target is None:
            return []
        own = None if self.photo is None else self.job.readings.of_board(self.photo)
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
        finish, photo = self.job.finish, self.room()
        code = self._code(photo)
        if finish is None or photo is None or code is None:
            return
        name = self._name.text().strip() or tr("room.colour", number=len(finish.room) + 1)
        self._name.clear()
        colour = RoomColour(name=name, lab=colour_at(code, (x, y)), photo_id=photo.id)
        new = replace(finish, room=(*finish.room, colour))
        self.job.records.change(tr("undo.room", name=name), [finish], [new])

    def _chosen(self, index: int) -> None:
        self._row = index
        self._remove.setEnabled(True)

    def _remove_pressed(self) -> None:
        finish = self.job.finish
        if finish is not None and 0 <= self._row < len(finish.room):
            kept = tuple(c for n, c in enumerate(finish.room) if n != self._row)
            name = finish.room[self._row].name
            self._row = -1
            words = tr("undo.room_less", name=name)
            self.job.records.change(words, [finish], [replace(finish, room=kept)])

    def take_room(self, data: Data, name: str) -> None:
        """Bring in a photo of the room."""
        self.job.pictures.add_particular(data, name, "surroundings", Stage())

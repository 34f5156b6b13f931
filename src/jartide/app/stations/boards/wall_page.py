"""The wall and the parts of a set: against each other, and against the board signed off."""

from __future__ import annotations

from datetime import datetime

from PySide6.QtWidgets import QWidget

from jartide.app.stations.boards.page import BoardPage, Side
from jartide.app.widgets.ledger import Ledger, LedgerRow
from jartide.boards.headline import worst_row
from jartide.boards.result import Difference, State
from jartide.boards.set_of_parts import Weight
from jartide.figures import figure
from jartide.job.boards import panel_name, part_name
from jartide.job.eye_pictures import missed_share
from jartide.job.open_job import OpenJob
from jartide.job.pictures import Data
from jartide.job.words.numbers import percent_words
from jartide.store.records import Board, BoardKind, Photo, Stage
from jartide.store.workspace import now
from jartide.wording import say, tr

_SIGNS = {"match": "ready", "close": "todo", "off": "stop", "open": "check"}


def _worst_words(worst: Difference) -> str:
    """What an eye notices first, in short; what would settle it is said on the bench."""
    return f"{say(worst.name)}: {say(worst.short)}."


def _weight_words(weight: Weight | None) -> str:
    """How much heavier or lighter a part is; nothing where that is nothing, or not told."""
    if weight is None or weight.state not in (State.DIFFERS, State.LOOKS_DIFFERENT):
        return ""
    points = max(round(abs(weight.points) * 100), 1)
    way = "heavier" if weight.points > 0 else "lighter"
    words = tr(f"wall.{way}", count=points)
    return words if weight.state is State.DIFFERS else tr("wall.seems", words=words)


class WallPage(BoardPage):
    """Shows panels, their drift and missed spots."""

    name = "wall"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self._ledger = Ledger(tr("page.wall"), self)
        self.lay_out(self._ledger)

    def build_side(self, side: Side) -> None:
        self._approved = side.words(size=16, weight=600)
        self._name = side.fields(tr("wall.who"))[0]
        self._sign = side.button(tr("wall.sign"), lambda: self.try_to(self._sign_pressed))
        side.words(tr("wall.panel_note"))
        self._section, self._person = side.fields(tr("wall.section"), tr("wall.person"))
        self._jar = side.fields(tr("wall.jar"))[0]
        self._add = side.button(tr("wall.add"), lambda: self.ask_photos(self.take_panel))

    def show_board(self) -> None:
        finish, board = self.job.finish, self.board
        if finish is None or board is None:
            return
        self._sign.setText(tr("wall.sign_board", number=board.number))
        approval = finish.approval
        boards = {b.id: b.number for b, _ in self.job.records.boards()}
        if approval is None:
            self._approved.setText(tr("wall.not_signed"))
        else:
            day = datetime.fromisoformat(approval.at).astimezone().strftime("%d.%m.%Y")
            number = boards.get(approval.board_id, 0)
            words = tr("wall.signed", number=number, who=approval.who, day=day)
            self._approved.setText(words)
        panels = self.job.records.panels()
        for _, photo in panels or self.job.records.boards():
            if photo is not None:
                self.job.readings.want_board(photo)
        self._ledger.show_rows(self._rows(), -1, tr("wall.empty"))

    def _part_rows(self) -> list[LedgerRow]:
        """The parts against each other: boards or panels, heaviest first."""
        told = self.job.boards.parts()
        if told is None:
            return []
        pieces, parts = told
        names = [part_name(piece) for piece in pieces]
        rows = [LedgerRow(title=tr("wall.parts"), note=tr("wall.parts_note"), head=True)]
        weights = [0.0 if w is None else w.points for w in parts.weights]
        for n in sorted(range(len(pieces)), key=lambda n: -weights[n]):
            comparison = parts.comparisons[n]
            words = []
            if comparison is None:
                words.append(tr("wall.nearest"))
            elif (worst := worst_row(comparison)) is not None:
                words.append(_worst_words(worst))
            if n == parts.heaviest:
                words.insert(0, tr("wall.heaviest"))
            verdict = "match" if comparison is None else comparison.verdict.value
            right = "" if comparison is None else tr(f"wall.{verdict}")
            rows.append(
                LedgerRow(
                    title=names[n],
                    note=" ".join(words),
                    right=right,
                    right_note=_weight_words(parts.weights[n]),
                    sign="" if comparison is None else _SIGNS[verdict],
                )
            )
        return rows

    def _rows(self) -> list[LedgerRow]:
        wall = self.job.boards.wall()
        if wall is None and self.job.boards.approved_reading() is None:
            return self._part_rows()
        rows: list[LedgerRow] = []
        if wall is not None and wall.drifts:
            rows.append(LedgerRow(title=tr("wall.drifts"), head=True))
            for drift in wall.drifts[:4]:
                rows.append(
                    LedgerRow(
                        title=tr(f"wall.by.{drift.by.value}", name=say(drift.name)),
                        note=tr("wall.groups", low=drift.low, high=drift.high),
                        right=tr("wall.steps", value=figure(drift.size_jnd, 1)),
                        sign="check",
                    )
                )
        panels = self.job.records.panels()
        if panels and rows:
            rows.append(LedgerRow(title=tr("wall.panels"), head=True))
        shown = [panel for panel, photo in panels if self._is_read(photo)]
        place = 0
        for panel, photo in panels:
            reading = None if photo is None else self.job.readings.of_board(photo)
            note = ", ".join(filter(None, (panel.who, panel.jar)))
            if wall is None or reading is None or place >= len(wall.comparisons):
                rows.append(LedgerRow(title=panel_name(panel), note=note, right=tr("wall.reading")))
                continue
            comparison = wall.comparisons[place]
            worst = worst_row(comparison)
            missed = self._missed(photo)
            words = [note] if note else []
            if worst is not None:
                words.append(_worst_words(worst))
            if wall.odd == place:
                words.insert(0, tr("wall.odd"))
            farthest = max(range(len(wall.apart)), key=wall.apart[place].__getitem__)
            if wall.apart[place][farthest] >= comparison.tolerance:
                words.append(tr("wall.farthest", number=shown[farthest].number))
            verdict = comparison.verdict.value
            rows.append(
                LedgerRow(
                    title=panel_name(panel),
                    note=" ".join(words),
                    right=tr(f"wall.{verdict}"),
                    right_note="" if not missed else tr("wall.missed", share=percent_words(missed)),
                    sign=_SIGNS[verdict],
                )
            )
            place += 1
        return [*rows, *(self._part_rows() if panels else [])]

    def _is_read(self, photo: Photo | None) -> bool:
        return photo is not None and self.job.readings.of_board(photo) is not None

    def _missed(self, photo: Photo | None) -> float:
        """How much of a panel hardly shows the pattern; 0 until it is worked out."""
        finish = self.job.finish
        approved = None
        if finish is not None and finish.approval is not None:
            for board, own in self.job.records.boards():
                if board.id == finish.approval.board_id:
                    approved = own
        if photo is None or approved is None or finish is None:
            return 0.0
        for wanted in (photo, approved):
            self.job.pictures.want(wanted)
        a, b = self.job.pictures.flat(approved), self.job.pictures.flat(photo)
        if a is None or b is None or a.mm_per_px is None or b.mm_per_px is None:
            return 0.0
        metres = finish.viewing_m
        found = self.job.kept.worked_out(
            "missed", (photo.id, metres), lambda: missed_share(a, b, metres), a, b
        )
        return found or 0.0

    def _sign_pressed(self) -> None:
        if self.board is not None:
            self.job.boards.sign_off(self.board, self._name.text())
            self._name.clear()

    def take_panel(self, data: Data, name: str) -> None:
        """Bring in the photo of a new panel."""
        finish = self.job.finish
        if finish is None:
            return
        panel = Board(
            finish_id=finish.id,
            number=self.job.records.next_number("panel", finish),
            kind=BoardKind.PANEL,
            section=self._section.text().strip(),
            who=self._person.text().strip(),
            jar=self._jar.text().strip(),
            made_at=now(),
        )
        self.job.pictures.add_particular(data, name, "board", Stage(), panel, with_board=True)

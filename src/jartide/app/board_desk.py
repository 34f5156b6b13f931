"""Everything kept about boards beside their first photo: log, stages, wall, series, practice, room.

Changes are undo steps of the document; what is worked out is worked out here, off the
interface thread where it takes long.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, Signal

from jartide.errors import JarTideError
from jartide.wording import say, tr

if TYPE_CHECKING:
    from jartide.app.document import Document
    from jartide.app.jar_desk import JarDesk
    from jartide.boards.log import Logged, PassDone, RecipeChange
    from jartide.boards.sign_off import Wall
    from jartide.boards.stages import LayerWorth, StageVerdict
    from jartide.boards.stop import StopAdvice
    from jartide.photo.load import Photo as LoadedPhoto
    from jartide.reading.result import Reading
    from jartide.store.records import Board, Entry, Photo, Stage


class BoardDesk(QObject):
    """The boards' particulars of the open finish."""

    ready = Signal()  # something that was being worked out is there

    def __init__(self, document: Document, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.document = document
        self.jar_desk: JarDesk | None = None
        self._entries: dict[str, list[Entry]] = {}
        self._kept: dict[Any, Any] = {}
        self._asked: set[Any] = set()
        document.changed.connect(self._forget)

    def _forget(self) -> None:
        self._entries = {}

    def worked_out(self, key: Any, work: Callable[[], Any]) -> Any:
        """Return what `work` makes, or None until it is made in the background."""
        if key in self._kept:
            return self._kept[key]
        if key not in self._asked:
            self._asked.add(key)

            def returned(value: Any) -> None:
                self._asked.discard(key)
                if len(self._kept) > 60:
                    self._kept.clear()
                self._kept[key] = value
                self.ready.emit()

            self.document.in_background(f"boards {key!r}", lambda _: work(), returned)
        return None

    # ---- the log

    def entries(self, board: Board) -> list[Entry]:
        """Return all entries of a board's log, oldest first."""
        if self.document.workspace is None:
            return []
        if board.id not in self._entries:
            self._entries[board.id] = self.document.workspace.entries([board.id])
        return self._entries[board.id]

    def standing(self, board: Board) -> list[Entry]:
        """Return the entries that hold: a corrected one gives its place to its correction."""
        found: list[Entry] = []
        for entry in self.entries(board):
            place = next((n for n, old in enumerate(found) if old.id == entry.corrects), None)
            if place is None:
                found.append(entry)
            else:
                found[place] = replace(entry, at=found[place].at)
        return found

    def passes(self, board: Board) -> list[PassDone]:
        """Return a board's recipe: its passes in the order they were done."""
        return [e.logged.done for e in self.standing(board) if e.logged.done is not None]

    def add_entry(self, board: Board, logged: Logged, corrects: str = "") -> Entry:
        """Write an entry; nothing that stands is changed by it."""
        from jartide.store.records import Entry
        from jartide.store.workspace import now

        entry = Entry(board_id=board.id, at=now(), logged=logged, corrects=corrects)
        self.document.add(tr("undo.log"), entry)
        return entry

    def changes(self, board: Board) -> tuple[Board | None, tuple[RecipeChange, ...]]:
        """Return the board before this one, and what was done otherwise since."""
        from jartide.boards.log import recipe_changes

        earlier = [b for b, _ in self.document.boards() if b.number < board.number]
        logged = [b for b in earlier if self.passes(b)]
        if not logged:
            return None, ()
        workspace, finish = self.document.workspace, self.document.finish
        assert workspace is not None and finish is not None
        layers = self.layer_names()
        jars = {mix.id: mix.name or layers.get(mix.layer, "") for mix in workspace.mixes(finish.id)}
        before = logged[-1]
        return before, recipe_changes(self.passes(before), self.passes(board), jars)

    def layer_names(self) -> dict[str, str]:
        """Return the names of the target's layers by their id."""
        reading = self.document.target_reading()
        return {} if reading is None else {ly.id: say(ly.name) for ly in reading.layers}

    def new_board(self) -> Board | None:
        """Begin a board before there is a photo of it."""
        from jartide.store.records import Board
        from jartide.store.workspace import now

        finish = self.document.finish
        if finish is None:
            return None
        number = self.document.next_number("board", finish)
        board = Board(finish_id=finish.id, number=number, made_at=now())
        self.document.add(tr("undo.new_board", number=number), board)
        return board

    # ---- photos of stages, panels, series, practice, the room

    def stage_photos(self, board: Board) -> list[Photo]:
        """Return the photos taken while a board was made, in the order of its passes."""
        order = {entry.id: n for n, entry in enumerate(self.standing(board))}
        order |= {e.corrects: order[e.id] for e in self.standing(board) if e.corrects}
        photos = [
            p
            for p in self.document.photos()
            if p.board_id == board.id and p.stage.after and not p.stage.series
        ]
        return sorted(photos, key=lambda p: (order.get(p.stage.after, 999), p.position))

    def photos_of(self, use: str, series: str | None = None) -> list[Photo]:
        """Return photos of one use, and of one series where it is named, in order of time."""
        found = [
            p
            for p in self.document.photos()
            if p.use == use and (series is None or p.stage.series == series)
        ]
        return sorted(found, key=lambda p: (p.stage.minutes, p.position))

    def add_photo(
        self,
        data: bytes,
        name: str,
        use: str,
        stage: Stage,
        board: Board | None = None,
        like: Photo | None = None,
        *,
        with_board: bool = False,
    ) -> None:
        """Bring in a photo of anything but a new board.

        `like` is a photo taken from the same place: this one is squared and scaled as that is.
        `with_board` saves `board` together with it.
        """
        from jartide.photo.settings import PhotoSettings

        finish = self.document.finish
        if finish is None:
            return

        def decoded(loaded: LoadedPhoto, sha256: str) -> None:
            from jartide.store.records import Photo, PhotoUse
            from jartide.store.workspace import now

            positions = [p.position for p in self.document.photos(finish)]
            photo = Photo(
                finish_id=finish.id,
                board_id=None if board is None else board.id,
                use=PhotoUse(use),
                sha256=sha256,
                file_name=name,
                taken=loaded.taken,
                added_at=now(),
                position=max(positions, default=-1) + 1,
                settings=PhotoSettings() if like is None else like.settings,
                stage=stage,
            )
            records = (photo,) if not with_board or board is None else (board, photo)
            self.document.add(tr("undo.add_photo", name=name), *records)
            self.document.arrived.emit(photo.id, False)

        self.document.take_in(data, name, decoded)

    # ---- what is worked out

    def worth(self, board: Board) -> tuple[LayerWorth, ...]:
        """Return what each pass was worth, from the stage photos that are read."""
        from jartide.boards.stages import layer_worth, worth_by_leaving_out

        document = self.document
        target, finish = document.target_reading(), document.finish
        if target is None or finish is None:
            return ()
        done = {e.id: e.logged.done for e in self.standing(board)}
        done |= {e.corrects: e.logged.done for e in self.standing(board) if e.corrects}
        stages: list[tuple[PassDone, Reading]] = []
        for photo in self.stage_photos(board):
            reading, one = document.reading(photo), done.get(photo.stage.after)
            if reading is not None and one is not None:
                stages.append((one, reading))
        found = list(layer_worth(target, stages, None, finish.viewing_m))
        # A board that was left without a pass says what that pass is worth.
        whole = next((p for b, p in document.boards() if b.id == board.id), None)
        own = None if whole is None else document.reading(whole)
        for other, left in document.boards():
            without = None if left is None else document.reading(left)
            if not other.without or own is None or without is None or other.id == board.id:
                continue
            minutes = sum(p.minutes for p in self.passes(board) if p.name == other.without)
            found.append(
                worth_by_leaving_out(target, own, without, other.without, minutes, finish.viewing_m)
            )
        return tuple(found)

    def stage_verdict(self, board: Board, photo: Photo) -> tuple[Board, StageVerdict] | None:
        """Return how a stage compares with the same stage of the best earlier board."""
        from jartide.boards.stages import judge_stage

        document, finish = self.document, self.document.finish
        now_read = document.reading(photo)
        done = {e.id: e for e in self.standing(board)}
        own = done.get(photo.stage.after)
        if finish is None or now_read is None or own is None or own.logged.done is None:
            return None
        best = None
        for other, whole in document.boards():
            if other.number >= board.number:
                continue
            same = self._same_stage(other, own.logged.done.name)
            reading = None if same is None else document.reading(same)
            if reading is None:
                continue
            judged = None if whole is None else document.comparison(whole)
            rank = judged.distance if judged is not None else 1e9
            if best is None or rank < best[0]:
                best = (rank, other, reading)
        if best is None:
            return None
        minutes = _minutes_between(own.at, photo.added_at)
        verdict = judge_stage(
            best[2], now_read, finish.viewing_m, finish.tolerance, minutes_since=minutes
        )
        return best[1], verdict

    def _same_stage(self, board: Board, name: str) -> Photo | None:
        done = {e.id: e.logged.done for e in self.standing(board)}
        for photo in self.stage_photos(board):
            one = done.get(photo.stage.after)
            if one is not None and one.name == name:
                return photo
        return None

    def stop_advice(self, board: Board, photo: Photo | None) -> StopAdvice | None:
        """Return whether to stop after this board."""
        from jartide.boards.stop import hand_spread, when_to_stop

        document, finish = self.document, self.document.finish
        comparison = None if photo is None else document.comparison(photo)
        if comparison is None or finish is None:
            return None
        known = [
            (reading, tuple(self.passes(b)))
            for b, p in document.boards()
            if p is not None and (reading := document.reading(p)) is not None
        ]
        key = ("hand", finish.viewing_m, tuple((id(r), recipe) for r, recipe in known))
        if key not in self._kept:
            readings, recipes = [r for r, _ in known], [recipe for _, recipe in known]
            self._kept[key] = hand_spread(readings, recipes, finish.viewing_m)
        return when_to_stop(comparison, self._kept[key])

    def wall(self) -> Wall | None:
        """Return the wall against the board that was signed off; None until all is read."""
        from jartide.boards.sign_off import Panel, compare_wall

        document, finish = self.document, self.document.finish
        approved = self.approved_reading()
        if finish is None or approved is None:
            return None
        panels = []
        for panel, photo in document.panels():
            reading = None if photo is None else document.reading(photo)
            if reading is not None:
                panels.append(
                    Panel(
                        name=panel_name(panel),
                        section=panel.section,
                        who=panel.who,
                        jar=panel.jar,
                        reading=reading,
                    )
                )
        if not panels:
            return None
        key = ("wall", id(approved), tuple((p.name, id(p.reading)) for p in panels))
        viewing, tolerance = finish.viewing_m, finish.tolerance
        return self.worked_out(
            (*key, viewing, tolerance), lambda: compare_wall(approved, panels, viewing, tolerance)
        )

    def approved_reading(self) -> Reading | None:
        """Return the reading of the board that was signed off."""
        finish = self.document.finish
        if finish is None or finish.approval is None:
            return None
        for board, photo in self.document.boards():
            if board.id == finish.approval.board_id and photo is not None:
                return self.document.reading(photo)
        return None

    def sign_off(self, board: Board, who: str) -> None:
        """Approve a board: from now on it is the target of the wall.

        Raises
        ------
        JarTideError : when nobody is named.
        """
        from jartide.store.records import Approval
        from jartide.store.workspace import now

        finish = self.document.finish
        if finish is None:
            return
        if not who.strip():
            raise JarTideError("error.sign_off.who")
        approval = Approval(board_id=board.id, who=who.strip(), at=now())
        words = tr("undo.sign_off", number=board.number)
        self.document.change(words, [finish], [replace(finish, approval=approval)])


def panel_name(panel: Board) -> str:
    """Return what a panel is called: its number and its section."""
    return tr("panel.named", number=panel.number, section=panel.section).strip(" ,")


def _minutes_between(earlier: str, later: str) -> float:
    from datetime import datetime

    span = datetime.fromisoformat(later) - datetime.fromisoformat(earlier)
    return max(span.total_seconds() / 60, 0.0)

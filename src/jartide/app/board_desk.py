"""Everything kept about boards beside their first photo: log, stages, wall, series, practice, room.

Changes are undo steps of the document; what is worked out is worked out here, off the
interface thread where it takes long.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, Signal

from jartide.app.stations.boards.log_words import standing
from jartide.errors import JarTideError
from jartide.wording import say, tr

if TYPE_CHECKING:
    from jartide.app.document import Document
    from jartide.app.jar_desk import JarDesk
    from jartide.app.mend import MendWords
    from jartide.app.plan_desk import PlanDesk
    from jartide.boards.log import Logged, PassDone, RecipeChange
    from jartide.boards.sign_off import Wall
    from jartide.boards.stages import LayerWorth, StageVerdict
    from jartide.boards.stop import StopAdvice
    from jartide.photo.load import Photo as LoadedPhoto
    from jartide.reading.result import Reading
    from jartide.store.records import Board, Entry, Photo, Stage


_KEPT = 60


class BoardDesk(QObject):
    """The boards' particulars of the open finish."""

    ready = Signal()  # something that was being worked out is there

    def __init__(self, document: Document, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.document = document
        self.jar_desk: JarDesk | None = None
        self.plan_desk: PlanDesk | None = None
        self._entries: dict[str, list[Entry]] = {}
        self._kept: dict[Any, tuple[tuple[Any, ...], Any]] = {}
        self._asked: dict[Any, tuple[Any, ...]] = {}
        document.changed.connect(self._forget)

    def _forget(self) -> None:
        self._entries = {}

    def worked_out(self, key: Any, work: Callable[[], Any], *inputs: Any) -> Any:
        """Return what `work` makes, or None until it is made in the background.

        It holds for the very objects in `inputs`: readings and pictures, too large to compare.
        """
        kept = self._kept.get(key)
        if kept is not None and _are_same(kept[0], inputs):
            return kept[1]
        asked = self._asked.get(key)
        if asked is None or not _are_same(asked, inputs):
            self._asked[key] = inputs

            def returned(value: Any) -> None:
                self._asked.pop(key, None)
                if len(self._kept) > _KEPT:
                    self._kept.clear()
                self._kept[key] = (inputs, value)
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
        return standing(self.entries(board))

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
        before = logged[-1]
        return before, recipe_changes(self.passes(before), self.passes(board), self.jar_names())

    def jar_names(self) -> dict[str, str]:
        """Return the names of the finish's jars by their id; a nameless one has its layer's."""
        layers = self.layer_names()
        jars = [] if self.jar_desk is None else self.jar_desk.mixes()
        return {m.id: m.name or layers.get(m.layer) or tr("log.jar_unnamed") for m in jars}

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
        stages: list[tuple[PassDone, Reading]] = []
        for photo in self.stage_photos(board):
            reading, one = document.reading(photo), done.get(photo.stage.after)
            if reading is not None and one is not None:
                stages.append((one, reading))
        # A board that was left without a pass says what that pass is worth.
        whole = next((p for b, p in document.boards() if b.id == board.id), None)
        own = None if whole is None else document.board_reading(whole)
        lacking: list[tuple[str, float, Reading]] = []
        for other, left in document.boards():
            without = None if left is None else document.board_reading(left)
            if other.without and without is not None and other.id != board.id:
                minutes = sum(p.minutes for p in self.passes(board) if p.name == other.without)
                lacking.append((other.without, minutes, without))
        metres = finish.viewing_m

        def work() -> tuple[LayerWorth, ...]:
            found = list(layer_worth(target, stages, None, metres))
            if own is not None:
                found += [
                    worth_by_leaving_out(target, own, without, name, minutes, metres)
                    for name, minutes, without in lacking
                ]
            return tuple(found)

        recipe = tuple(one for one, _ in stages)
        key = ("worth", metres, recipe, tuple((name, minutes) for name, minutes, _ in lacking))
        readings = [*(r for _, r in stages), *(r for _, _, r in lacking)]
        return self.worked_out(key, work, target, own, *readings) or ()

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
        _, other, earlier = best
        minutes = _minutes_between(own.at, photo.added_at)
        open_min = self._open_min(own.logged.done)
        metres, tolerance = finish.viewing_m, finish.tolerance
        verdict = self.worked_out(
            ("stage", photo.id, metres, tolerance, minutes, open_min),
            lambda: judge_stage(
                earlier, now_read, metres, tolerance, minutes_since=minutes, open_min=open_min
            ),
            earlier,
            now_read,
        )
        return None if verdict is None else (other, verdict)

    def _open_min(self, done: PassDone) -> float:
        """How long a pass stays open: as long as the product in its jar that dries first."""
        from jartide.paint.stock import Kind, Stock, known_or_assumed

        jars = [] if self.jar_desk is None else self.jar_desk.mixes()
        tins = {} if self.jar_desk is None else {tin.id: tin for tin in self.jar_desk.tins()}
        mix = next((m for m in jars if m.id == done.mix), None)
        parts = [] if mix is None else [p.tin_id for p in mix.parts if p.tin_id in tins]
        stocks = [tins[tin].stock for tin in parts] or [Stock()]
        if done.carrier_parts:
            # The carrier keeps a glaze open.
            stocks = [Stock(kind=Kind.CARRIER)]
        known = [known_or_assumed(stock, "open_min")[0] for stock in stocks]
        return min((float(v) for v in known if isinstance(v, int | float)), default=0.0)

    def _same_stage(self, board: Board, name: str) -> Photo | None:
        done = {e.id: e.logged.done for e in self.standing(board)}
        for photo in self.stage_photos(board):
            one = done.get(photo.stage.after)
            if one is not None and one.name == name:
                return photo
        return None

    def mends(self, photo: Photo) -> tuple[tuple[MendWords, ...], str] | None:
        """Return what mends a board, and why a fresh one is better; None until worked out."""
        from jartide.app.mend import jars_of, mends_of

        document = self.document
        comparison, target = document.comparison(photo), document.target_reading()
        own = document.board_reading(photo)
        if comparison is None or target is None or own is None:
            return None
        work = None if self.jar_desk is None else self.jar_desk.work()
        jars = {} if self.jar_desk is None or work is None else jars_of(self.jar_desk, work)
        return self.worked_out(
            ("mends", photo.id, tuple(sorted(jars.items()))),
            lambda: mends_of(comparison, target, own, work, jars),
            comparison,
            work,
        )

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
            if p is not None and (reading := document.board_reading(p)) is not None
        ]
        readings, recipes = [r for r, _ in known], [recipe for _, recipe in known]
        metres = finish.viewing_m
        spread = self.worked_out(
            ("hand", metres, tuple(recipes)),
            lambda: (hand_spread(readings, recipes, metres),),
            *readings,
        )
        return when_to_stop(comparison, None if spread is None else spread[0])

    def wall(self) -> Wall | None:
        """Return the wall against the board that was signed off; None until all is read."""
        from jartide.boards.sign_off import Panel, compare_wall

        document, finish = self.document, self.document.finish
        approved = self.approved_reading()
        if finish is None or approved is None:
            return None
        panels = []
        for panel, photo in document.panels():
            reading = None if photo is None else document.board_reading(photo)
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
        viewing, tolerance = finish.viewing_m, finish.tolerance
        who = tuple((p.name, p.section, p.who, p.jar) for p in panels)
        return self.worked_out(
            ("wall", who, viewing, tolerance),
            lambda: compare_wall(approved, panels, viewing, tolerance),
            approved,
            *(p.reading for p in panels),
        )

    def approved_reading(self) -> Reading | None:
        """Return the reading of the board that was signed off."""
        finish = self.document.finish
        if finish is None or finish.approval is None:
            return None
        for board, photo in self.document.boards():
            if board.id == finish.approval.board_id and photo is not None:
                return self.document.board_reading(photo)
        return None

    def sign_off(self, board: Board, who: str) -> None:
        """Approve a board: from now on it is the target of the wall.

        Raises
        ------
        JarTideError : when nobody is named.
        """
        from jartide.boards.log import EntryKind, Logged
        from jartide.store.records import Approval, Entry
        from jartide.store.workspace import now

        finish = self.document.finish
        if finish is None:
            return
        if not who.strip():
            raise JarTideError("error.sign_off.who")
        approval = Approval(board_id=board.id, who=who.strip(), at=now())
        words = tr("undo.sign_off", number=board.number)
        # The log keeps who signed what, also when another board is signed off later.
        text = tr("log.signed", who=approval.who)
        logged = Logged(kind=EntryKind.REMARK, who=approval.who, text=text)
        entry = Entry(board_id=board.id, at=now(), logged=logged)
        self.document.change(
            words,
            [finish, replace(entry, deleted_at=now())],
            [replace(finish, approval=approval), entry],
        )


def _are_same(kept: tuple[Any, ...], given: tuple[Any, ...]) -> bool:
    return len(kept) == len(given) and all(a is b for a, b in zip(kept, given, strict=True))


def panel_name(panel: Board) -> str:
    """Return what a panel is called: its number and its section."""
    return tr("panel.named", number=panel.number, section=panel.section).strip(" ,")


def _minutes_between(earlier: str, later: str) -> float:
    from datetime import datetime

    span = datetime.fromisoformat(later) - datetime.fromisoformat(earlier)
    return max(span.total_seconds() / 60, 0.0)

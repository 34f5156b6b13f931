"""Everything about boards beside their first photo: log, stages, wall, series, practice, room.

Changes are undo steps; what takes long is worked out off the asking thread.
"""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

from jartide.boards.fields import field_reading
from jartide.boards.log import EntryKind, Logged, PassDone, RecipeChange, recipe_changes
from jartide.boards.set_of_parts import SetOfParts, compare_parts
from jartide.boards.sign_off import Panel, Wall, compare_wall
from jartide.boards.stages import (
    LayerWorth,
    StageVerdict,
    judge_stage,
    layer_worth,
    worth_by_leaving_out,
)
from jartide.boards.stop import StopAdvice, hand_spread, when_to_stop
from jartide.errors import JarTideError
from jartide.job.comparisons import Comparisons
from jartide.job.jars import Jars
from jartide.job.kept import Kept, Lately
from jartide.job.readings import Readings
from jartide.job.records import Records
from jartide.job.shelf import Shelf
from jartide.job.words.log import passes_of, standing
from jartide.job.words.mends import MendWords, mends_of
from jartide.paint.stock import Kind, Stock, known_or_assumed
from jartide.reading.result import Reading
from jartide.reading.zones import ZoneKind
from jartide.store.records import Approval, Board, BoardKind, Entry, Photo
from jartide.store.workspace import now
from jartide.wording import say, tr


class Boards:
    """The boards' particulars of the open finish."""

    def __init__(
        self,
        records: Records,
        readings: Readings,
        comparisons: Comparisons,
        shelf: Shelf,
        jars: Jars,
        kept: Kept,
    ) -> None:
        self._records, self._readings, self._comparisons = records, readings, comparisons
        self._shelf, self._jars, self._kept = shelf, jars, kept
        self._lately = Lately(lambda: (records.log_state, records.workspace))

    # ---- the log

    def standing(self, board: Board) -> list[Entry]:
        """Return the entries that hold: a corrected one gives its place to its correction."""
        return standing(self._records.entries(board))

    def passes(self, board: Board) -> list[PassDone]:
        """Return a board's recipe: its passes in the order they were done."""
        return list(self._lately.once(board.id, lambda: passes_of(self._records.entries(board))))

    def _recipes(self) -> dict[str, tuple[PassDone, ...]] | None:
        """The recipes of all boards by their id; None while very many are fetched."""
        boards = [board for board, _ in self._records.boards()]
        workspace = self._records.workspace
        if not self._readings.are_many or workspace is None:
            return {board.id: tuple(self.passes(board)) for board in boards}

        def fetch() -> dict[str, tuple[PassDone, ...]]:
            logs: dict[str, list[Entry]] = {board.id: [] for board in boards}
            for entry in workspace.entries(list(logs)):
                logs[entry.board_id].append(entry)
            return {board_id: tuple(passes_of(entries)) for board_id, entries in logs.items()}

        key = tuple(board.id for board in boards)
        return self._kept.worked_out("recipes", key, fetch, self._records.log_state)

    def add_entry(self, board: Board, logged: Logged, corrects: str = "") -> Entry:
        """Write an entry; nothing that stands is changed by it."""
        entry = Entry(board_id=board.id, at=now(), logged=logged, corrects=corrects)
        self._records.add(tr("undo.log"), entry)
        return entry

    def changes(self, board: Board) -> tuple[Board | None, tuple[RecipeChange, ...]]:
        """Return the board before this one, and what was done otherwise since."""
        earlier = [b for b, _ in self._records.boards() if b.number < board.number]
        logged = [b for b in earlier if self.passes(b)]
        if not logged:
            return None, ()
        before = logged[-1]
        return before, recipe_changes(self.passes(before), self.passes(board), self._jars.names())

    def layer_names(self) -> dict[str, str]:
        """Return the names of the target's layers by their id."""
        reading = self._readings.of_target()
        return {} if reading is None else {ly.id: say(ly.name) for ly in reading.layers}

    def new_board(self) -> Board | None:
        """Begin a board before there is a photo of it."""
        finish = self._records.finish
        if finish is None:
            return None
        number = self._records.next_number("board", finish)
        board = Board(finish_id=finish.id, number=number, made_at=now())
        self._records.add(tr("undo.new_board", number=number), board)
        return board

    # ---- photos of stages, panels, series, practice, the room

    def stage_photos(self, board: Board) -> list[Photo]:
        """Return the photos taken while a board was made, in the order of its passes."""
        order = {entry.id: n for n, entry in enumerate(self.standing(board))}
        photos = [
            p
            for p in self._records.photos()
            if p.board_id == board.id and p.stage.after and not p.stage.series
        ]
        return sorted(photos, key=lambda p: (order.get(p.stage.after, 999), p.position))

    def photos_of(self, use: str, series: str | None = None) -> list[Photo]:
        """Return photos of one use, and of one series where it is named, in order of time."""
        found = [
            p
            for p in self._records.photos()
            if p.use == use and (series is None or p.stage.series == series)
        ]
        return sorted(found, key=lambda p: (p.stage.minutes, p.position))

    # ---- what is worked out

    def worth(self, board: Board) -> tuple[LayerWorth, ...]:
        """Return what each pass was worth, from the stage photos that are read."""
        target, finish = self._readings.of_target(), self._records.finish
        if target is None or finish is None:
            return ()
        done = {e.id: e.logged.done for e in self.standing(board)}
        stages: list[tuple[PassDone, Reading]] = []
        for photo in self.stage_photos(board):
            reading, one = self._readings.of(photo), done.get(photo.stage.after)
            if reading is not None and one is not None:
                stages.append((one, reading))

        def minutes_of(name: str) -> float:
            return sum(p.minutes for p in self.passes(board) if p.name == name)

        # A board that was left without a pass says what that pass is worth, and so does a field.
        whole = next((p for b, p in self._records.boards() if b.id == board.id), None)
        own = None if whole is None else self._readings.of_board(whole)
        lacking: list[tuple[str, float, Reading]] = []
        for other, left in self._records.boards():
            without = None if left is None else self._readings.of_board(left)
            if other.without and without is not None and other.id != board.id:
                lacking.append((other.without, minutes_of(other.without), without))
        halves = [] if whole is None or own is None else _left_out(whole, own)
        halved = [(name, minutes_of(name), beside, without) for name, beside, without in halves]
        metres = finish.viewing_m

        def work() -> tuple[LayerWorth, ...]:
            found = list(layer_worth(target, stages, None, metres))
            if own is not None:
                found += [
                    worth_by_leaving_out(target, own, without, name, minutes, metres)
                    for name, minutes, without in lacking
                ]
            for name, minutes, beside, without in halved:
                found.append(worth_by_leaving_out(target, beside, without, name, minutes, metres))
            return tuple(found)

        recipe = tuple(one for one, _ in stages)
        key = (
            board.id,
            metres,
            recipe,
            tuple((name, minutes) for name, minutes, _ in lacking),
            tuple((name, minutes) for name, minutes, _, _ in halved),
        )
        readings = [*(r for _, r in stages), *(r for _, _, r in lacking)]
        return self._kept.worked_out("worth", key, work, target, own, *readings) or ()

    def stage_verdict(self, board: Board, photo: Photo) -> tuple[Board, StageVerdict] | None:
        """Return how a stage compares with the same stage of the best earlier board."""
        finish = self._records.finish
        now_read = self._readings.of(photo)
        done = {e.id: e for e in self.standing(board)}
        own = done.get(photo.stage.after)
        if finish is None or now_read is None or own is None or own.logged.done is None:
            return None
        best = None
        for other, whole in self._records.boards():
            if other.number >= board.number:
                continue
            same = self._same_stage(other, own.logged.done.name)
            reading = None if same is None else self._readings.of(same)
            if reading is None:
                continue
            judged = None if whole is None else self._comparisons.of(whole)
            rank = judged.likely_distance if judged is not None else 1e9
            if best is None or rank < best[0]:
                best = (rank, other, reading)
        if best is None:
            return None
        _, other, earlier = best
        minutes = _minutes_between(own.at, photo.added_at)
        open_min = self._open_min(own.logged.done)
        metres, tolerance = finish.viewing_m, finish.tolerance
        verdict = self._kept.worked_out(
            "stage",
            (photo.id, metres, tolerance, minutes, open_min),
            lambda: judge_stage(
                earlier, now_read, metres, tolerance, minutes_since=minutes, open_min=open_min
            ),
            earlier,
            now_read,
        )
        return None if verdict is None else (other, verdict)

    def _open_min(self, done: PassDone) -> float:
        """How long a pass stays open: as long as the product in its jar that dries first."""
        jars = self._records.mixes()
        tins = {tin.id: tin for tin in self._records.tins()}
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
        comparison, target = self._comparisons.of(photo), self._readings.of_target()
        own = self._readings.of_board(photo)
        if comparison is None or target is None or own is None:
            return None
        work = self._shelf.work()
        jars = {} if work is None else self._jars.parts(work)
        return self._kept.worked_out(
            "mends",
            (photo.id, tuple(sorted(jars.items()))),
            lambda: mends_of(comparison, target, own, work, jars),
            comparison,
            work,
        )

    def stop_advice(self, board: Board, photo: Photo | None) -> StopAdvice | None:
        """Return whether to stop after this board."""
        finish = self._records.finish
        comparison = None if photo is None else self._comparisons.of(photo)
        if comparison is None or finish is None:
            return None
        recipe_of = self._recipes()
        if recipe_of is None:
            return None
        known = [
            (reading, recipe_of[b.id])
            for b, p in self._records.boards()
            if p is not None and (reading := self._readings.of_board(p)) is not None
        ]
        readings, recipes = [r for r, _ in known], [recipe for _, recipe in known]
        metres = finish.viewing_m
        spread = self._kept.worked_out(
            "hand",
            (metres, tuple(recipes)),
            lambda: (hand_spread(readings, recipes, metres),),
            *readings,
        )
        return when_to_stop(comparison, None if spread is None else spread[0])

    def wall(self) -> Wall | None:
        """Return the wall against the board that was signed off; None until all is read."""
        finish = self._records.finish
        approved = self.approved_reading()
        if finish is None or approved is None:
            return None
        panels = []
        for panel, photo in self._records.panels():
            reading = None if photo is None else self._readings.of_board(photo)
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
        return self._kept.worked_out(
            "wall",
            (who, viewing, tolerance),
            lambda: compare_wall(approved, panels, viewing, tolerance),
            approved,
            *(p.reading for p in panels),
        )

    def parts(self) -> tuple[tuple[Board, ...], SetOfParts] | None:
        """Return the finish's parts against each other: panels, or boards where there are none."""
        finish = self._records.finish
        if finish is None:
            return None
        pieces = self._records.panels() or self._records.boards()
        read = [
            (piece, reading)
            for piece, photo in pieces
            if photo is not None and (reading := self._readings.of_board(photo)) is not None
        ]
        if len(read) < 2:
            return None
        viewing, tolerance = finish.viewing_m, finish.tolerance
        readings = [reading for _, reading in read]
        key = (tuple(piece.id for piece, _ in read), viewing, tolerance)
        found = self._kept.worked_out(
            "parts", key, lambda: compare_parts(readings, viewing, tolerance), *readings
        )
        return None if found is None else (tuple(piece for piece, _ in read), found)

    def approved_reading(self) -> Reading | None:
        """Return the reading of the board that was signed off."""
        finish = self._records.finish
        if finish is None or finish.approval is None:
            return None
        for board, photo in self._records.boards():
            if board.id == finish.approval.board_id and photo is not None:
                return self._readings.of_board(photo)
        return None

    def sign_off(self, board: Board, who: str) -> None:
        """Approve a board: from now on it is the target of the wall.

        Raises
        ------
        JarTideError : when nobody is named.
        """
        finish = self._records.finish
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
        self._records.change(
            words,
            [finish, replace(entry, deleted_at=now())],
            [replace(finish, approval=approval), entry],
        )


def panel_name(panel: Board) -> str:
    """Return what a panel is called: its number and its section."""
    return tr("panel.named", number=panel.number, section=panel.section).strip(" ,")


def part_name(piece: Board) -> str:
    """Return what a part of the set is called: a panel, or a test board."""
    if piece.kind == BoardKind.PANEL:
        return panel_name(piece)
    return tr("board.numbered", number=piece.number)


def _left_out(photo: Photo, board: Reading) -> list[tuple[str, Reading, Reading]]:
    """The fields of a board left without a pass: its name, the field beside, the field without.

    One hand on one day painted both: nothing says more of a pass than two halves of a board.
    """
    if len(photo.zones) != len(board.zones):
        return []  # they were just changed and are not read yet
    pairs = list(zip(photo.zones, board.zones, strict=True))
    whole = [read for zone, read in pairs if zone.kind == ZoneKind.FIELD and not zone.without]
    if not whole:
        return []
    beside = field_reading(board, max(whole, key=lambda read: read.share))
    return [
        (zone.without, beside, field_reading(board, read)) for zone, read in pairs if zone.without
    ]


def _minutes_between(earlier: str, later: str) -> float:

    span = datetime.fromisoformat(later) - datetime.fromisoformat(earlier)
    return max(span.total_seconds() / 60, 0.0)

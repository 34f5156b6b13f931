"""Every board against the target: one comparison of each, with its pictures, for all that ask."""

from __future__ import annotations

from dataclasses import replace

from jartide.boards.compare import Paired, pair_up
from jartide.boards.log import State
from jartide.boards.pieces import PairSeen, Piece, seen_of
from jartide.boards.result import Comparison
from jartide.boards.strokes import Made
from jartide.boards.surface_state import as_if
from jartide.job.kept import Freshness, Kept, Lately
from jartide.job.pictures import Pictures
from jartide.job.readings import Readings
from jartide.job.records import Records
from jartide.paint.dry_down import DryPair
from jartide.plan.technique import Product
from jartide.reading.result import Reading
from jartide.store.records import Photo

# More than a finish has boards: they are asked for in turn, and one that fell out is made again.
_KEPT_PAIRS = 1000
# What both pictures show is kept of the boards looked at last.
_KEPT_SEEN = 100


class Comparisons:
    """Compares boards as soon as they are read."""

    def __init__(
        self, records: Records, pictures: Pictures, readings: Readings, kept: Kept
    ) -> None:
        self._records, self._pictures, self._readings = records, pictures, readings
        self._kept = kept
        self._paired = kept.table("paired", _KEPT_PAIRS)
        self._pairs = kept.table("pair", _KEPT_PAIRS)
        kept.table("seen", _KEPT_SEEN)
        self._judged = kept.table("comparison", _KEPT_PAIRS)
        self._lately = Lately(lambda: (records.state, records.finish, kept.state))
        self._in_one_state = kept.table("in_one_state", _KEPT_PAIRS)

    def of(self, board: Photo, viewing_m: float | None = None) -> Comparison | None:
        """Return the comparison of a board's photo with the target, once both are read.

        `viewing_m` is where the eye is, metres; the finish's own distance when none is told.
        What both pictures show is in it once they are there: `want` has them made.
        """
        key = (id(board), viewing_m)
        # The photo is kept with its answer: no other one takes its place in memory meanwhile.
        return self._lately.once(key, lambda: (board, self._of(board, viewing_m)))[1]

    def _of(self, board: Photo, viewing_m: float | None) -> Comparison | None:
        finish, pair = self._records.finish, self._pair(board)
        if finish is None or pair is None:
            return None
        metres = viewing_m or finish.viewing_m
        # Header, tide and verdict all ask for the same few comparisons at every change.
        key = (board.id, metres, finish.tolerance)

        def judge() -> Comparison:
            return pair.judged(metres, finish.tolerance)

        if self._readings.are_many and viewing_m is None:
            return self._kept.worked_out_among_many("comparison", key, judge, pair)
        return self._judged.made(key, judge, pair)

    def freshness(self, board: Photo) -> Freshness:
        """Return how the comparison stands: being worked out until both pictures are in it."""
        pieces = self._pieces(board)
        if pieces is None:
            return Freshness.MISSING
        target = self._readings.target()
        waiting = [p for p in (target, board) if p is not None and self._has_no_picture(p)]
        if waiting or (all(one.view is not None for one in pieces) and not self._seen_is_in(board)):
            return Freshness.WORKING
        return Freshness.FRESH

    def want(self, board: Photo) -> None:
        """Read a board and the target, and make the pictures that the comparison is made of."""
        target = self._readings.target()
        if target is None:
            return
        self._readings.want_target()
        self._readings.want_board(board)
        for photo in (target, board):
            if self._has_no_picture(photo):
                self._pictures.want(photo)

    def _pieces(self, board: Photo) -> tuple[Piece, Piece] | None:
        """The target and a board, once both are read."""
        target, read = self._readings.target(), self._readings.of_target()
        own = self._readings.of_board(board)
        if target is None or read is None or own is None:
            return None
        wanted, was = target.stage.state, board.stage.state
        if wanted is None or was is None:
            views = self._pictures.view(target), self._pictures.view(board)
            return Piece(reading=read, view=views[0]), Piece(reading=own, view=views[1])
        pairs = self._seen_in_both(was, wanted)

        def set_side_by_side() -> tuple[Reading, Reading]:
            return replace(read, surface_state=wanted.value), as_if(
                own, was, wanted, read.sheen, pairs
            )

        key = (board.id, was, wanted, pairs)
        known, foretold = self._in_one_state.made(key, set_side_by_side, read, own)
        if was is not wanted:
            # There is no picture of a board as it will look.
            return Piece(reading=known, view=None), Piece(reading=foretold, view=None)
        return (
            Piece(reading=known, view=self._pictures.view(target)),
            Piece(reading=foretold, view=self._pictures.view(board)),
        )

    def _made(self) -> Made | None:
        """Whether the plan has the finish painted, or grown by a reaction; None without a plan."""
        finish = self._records.finish
        plan = next(
            (p for p in self._records.plans() if finish is not None and p.finish_id == finish.id),
            None,
        )
        if plan is None or not plan.steps:
            return None
        grown = any(step.product is Product.OXIDISER for step in plan.steps)
        return Made.REACTION if grown else Made.PAINTED

    def _seen_in_both(self, was: State, wanted: State) -> tuple[DryPair, ...]:
        """What the painter's own jars looked like in one state and in the other."""
        dried = [d for mix in self._records.mixes() for d in mix.dried]
        there = [(d.before, d.after, d.before_state, d.after_state) for d in dried]
        back = [(after, before, b, a) for before, after, a, b in there]
        return tuple(
            DryPair(before=before, after=after)
            for before, after, a, b in (*there, *back)
            if (a, b) == (was.value, wanted.value)
        )

    def _pair(self, board: Photo) -> PairSeen | None:
        """All of the comparison that does not depend on where the eye is."""
        pieces = self._pieces(board)
        if pieces is None:
            return None
        first, second = pieces
        readings = first.reading, second.reading
        made = self._made()
        key = (board.id, made)

        def pair() -> Paired:
            return pair_up(*readings, made=made)

        if self._readings.are_many:
            paired = self._kept.worked_out_among_many("paired", key, pair, *readings)
            if paired is None:
                return None
        else:
            paired = self._paired.made(key, pair, *readings)
        seen = ()
        if first.view is not None and second.view is not None:
            inputs = (*readings, first.view, second.view)
            seen = self._kept.worked_out("seen", board.id, lambda: seen_of(first, second), *inputs)
        seen = seen or ()
        return self._pairs.made(board.id, lambda: PairSeen(paired=paired, seen=seen), paired, seen)

    def _seen_is_in(self, board: Photo) -> bool:
        pair = self._pair(board)
        return pair is not None and bool(pair.seen)

    def _has_no_picture(self, photo: Photo) -> bool:
        pictures = self._pictures
        if pictures.view(photo) is not None or pictures.refusal(photo) is not None:
            return False
        flat = pictures.flat(photo)
        return flat is None or flat.mm_per_px is not None

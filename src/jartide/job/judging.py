"""What asks for judgement now: each question with an answer from what was measured, and why."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta

from jartide.boards.regular import Regular, too_regular
from jartide.boards.stages import LayerWorth
from jartide.errors import JarTideError
from jartide.figures import figure
from jartide.job.boards import Boards
from jartide.job.described import Described, due
from jartide.job.kept import Kept
from jartide.job.plan import Timed, TimedPlan
from jartide.job.readings import Readings
from jartide.job.records import Records
from jartide.job.words.numbers import plain_words
from jartide.job.words.steps import block_name, say_table, span_words, when_words
from jartide.plan.lifting import lifting_left_min, lifting_min
from jartide.plan.progress import Block, State, local
from jartide.plan.step import Step
from jartide.plan.technique import Kind, Product
from jartide.plan.worth import Cost, costs
from jartide.reading.result import Reading
from jartide.store.records import Board, Photo
from jartide.wording import say, tr


@dataclass(frozen=True, slots=True, kw_only=True)
class Judged:
    """One question.

    Attributes
    ----------
    key : photo, lift, seal, worth, regular, stop or beside
    question, answer, why : in words; `answer` is short enough to be read from afar
    sign : ready, todo, check or stop
    goes : the station and page where it is dealt with, "boards/stages"; "" for here
    """

    key: str
    question: str
    answer: str
    why: str = ""
    sign: str = "todo"
    goes: str = ""


class Judging:
    """Answers from boards, plan, clock and room; it holds nothing of its own."""

    def __init__(
        self,
        records: Records,
        readings: Readings,
        boards: Boards,
        plan: TimedPlan,
        described: Described,
        kept: Kept,
    ) -> None:
        self._records, self._readings, self._boards = records, readings, boards
        self._plan, self._described, self._kept = plan, described, kept

    def questions(self) -> list[Judged]:
        """Return every question that can be asked now, those of the moment first."""
        timed = self._plan.timed()
        block = due(timed)
        asked = [
            self._photo(timed, block),
            self._lift(timed, block),
            self._seal(timed),
            *self._worth(),
            self._regular(),
            self._stop(),
            *self._beside(),
        ]
        return [one for one in asked if one is not None]

    def of_the_moment(self) -> list[Judged]:
        """Return what can't wait: what can still be lifted, and a photo that is lacking."""
        timed = self._plan.timed()
        block = due(timed)
        asked = (self._lift(timed, block), self._photo(timed, block))
        return [one for one in asked if one is not None and one.sign == "check"]

    # ---- of the moment

    def photo_now(self, block: Block | None) -> str:
        """Return which photo a block asks for once it is done; "" for none, or where it is there.

        Of a board that the plan paints the photo is looked for among those of its stages.
        """
        steps = [] if block is None else self._plan.steps_of(block.task)
        known = self._plan.techniques()
        told = [
            (step, one.photo) for step in steps if (one := known.get(step.technique)) and one.photo
        ]
        if not told or block is None:
            return ""
        step, words = told[-1]
        board = self._board_of(block)
        if board is not None and self._is_photographed(board, step):
            return ""
        return say_table(words)

    def _board_of(self, block: Block) -> Board | None:
        name = block.task.lane.split("/")[0]
        return next((board for board, _ in self._records.boards() if board.id == name), None)

    def _is_photographed(self, board: Board, step: Step) -> bool:
        passes = {e.id: e.logged.done for e in self._boards.standing(board)}
        photos = self._boards.stage_photos(board)
        names = [done.name for photo in photos if (done := passes.get(photo.stage.after))]
        return say(step.name) in names

    def _photo(self, timed: Timed, block: Block | None) -> Judged | None:
        worked = self._lately(timed) or block
        if worked is None:
            return None
        words = self.photo_now(worked)
        if not words and worked.state is State.PLANNED:
            # Nothing is done yet: the first photo of the plan that lies ahead.
            ahead = ((b, w) for b in timed.blocks if (w := self.photo_now(b)))
            worked, words = next(ahead, (worked, words))
        name = block_name(self._plan.steps_of(worked.task))
        question = tr("decide.photo")
        if not words:
            return Judged(
                key="photo", question=question, answer=tr("decide.photo_none"), sign="ready",
                why=tr("decide.photo_after", name=name),
            )  # fmt: skip
        done = worked.state not in (State.PLANNED, State.RUNNING)
        why = tr("decide.photo_now" if done else "decide.photo_then", name=name)
        answer = words[:1].upper() + words[1:]
        goes = "boards/log" if self._board_of(worked) is not None else ""
        return Judged(
            key="photo", question=question, answer=answer, why=why, goes=goes,
            sign="check" if done else "todo",
        )  # fmt: skip

    def _lately(self, timed: Timed) -> Block | None:
        """The block that is worked on, or was ended last and still dries."""
        found = [b for b in timed.blocks if b.state in (State.RUNNING, State.DRYING, State.LOOK)]
        return max(found, key=_touched_at, default=None)

    def _lift(self, timed: Timed, block: Block | None) -> Judged | None:
        worked = self._lately(timed) or block
        if worked is None:
            return None
        steps, air = self._plan.steps_of(worked.task), self._plan.work().air
        whole = lifting_min(steps, air)
        back = self._back_of(steps)
        if whole <= 0 and not back:
            return None
        name, question = block_name(steps), tr("decide.lift")
        with_what = tr("decide.lift_with", what=back) if back else ""
        done = worked.done
        if done is None or not done.ended:
            answer = tr("decide.lift_each", count=round(whole)) if whole else tr("decide.lift_dry")
            why = f"{tr('decide.lift_each_why', name=name)} {with_what}".strip()
            return Judged(key="lift", question=question, answer=answer, why=why)
        minutes = (self._plan.now() - local(done.ended)) / timedelta(minutes=1)
        left = lifting_left_min(steps, air, minutes)
        if left >= 1:
            return Judged(
                key="lift", question=question, answer=tr("decide.lift_left", count=int(left)),
                why=f"{tr('decide.lift_left_why', name=name)} {with_what}".strip(), sign="check",
            )  # fmt: skip
        return Judged(
            key="lift", question=question, answer=tr("decide.lift_late"),
            why=f"{tr('decide.lift_late_why', name=name)} {with_what}".strip(), sign="stop",
        )  # fmt: skip

    def _back_of(self, steps: Sequence[Step]) -> str:
        known = self._plan.techniques()
        told = [one.back for step in steps if (one := known.get(step.technique)) and one.back]
        return say_table(told[-1]) if told else ""

    def _seal(self, timed: Timed) -> Judged | None:
        problem, now = timed.problem, self._plan.now()
        if problem is None or not timed.blocks:
            return None
        question = tr("decide.seal")
        sealing = [
            block
            for block in timed.blocks
            if any(step.kind is Kind.PROTECT for step in self._plan.steps_of(block.task))
        ]
        if not sealing:
            return Judged(
                key="seal", question=question, answer=tr("decide.seal_open"), sign="ready",
                why=tr("decide.seal_open_why"),
            )  # fmt: skip
        waiting = [block for block in sealing if block.state is State.PLANNED]
        if not waiting:
            return Judged(key="seal", question=question, answer=tr("decide.sealed"), sign="ready")
        block = waiting[0]
        before = self._before(timed, block)
        when = when_words(problem.timeline.at(block.placed.start), now)
        # Too early is what goes wrong: it is said how one sees that it is time.
        words = [tr("decide.seal_not_before", name=block_name(before))] if before else []
        if before:
            words.append(self._described.ready_sign(before))
        if any(step.product is Product.OXIDISER for step in self._plan.steps()):
            words.append(tr("decide.seal_reaction"))
        if any(step.binder == "oil" and step.lays for step in before):
            words.append(tr("decide.seal_oil"))
        waits = self._described.waits_for(timed, block)
        return Judged(
            key="seal", question=question, answer=tr("decide.seal_when", when=when),
            why=" ".join(filter(None, words)), sign="todo" if waits else "check",
        )  # fmt: skip

    def _before(self, timed: Timed, block: Block) -> list[Step]:
        own = [b for b in timed.blocks if b.task.lane == block.task.lane]
        for earlier in reversed(own[: own.index(block)]):
            steps = self._plan.steps_of(earlier.task)
            if any(step.lays or step.product is Product.OXIDISER for step in steps):
                return steps
        return []

    # ---- of the boards

    def _worth(self) -> list[Judged]:
        try:
            found = costs(self._plan.steps(), self._plan.pieces())
        except JarTideError:
            return []
        hours: dict[str, float] = {}
        for cost in found:
            name = say(cost.step.name)
            hours[name] = hours.get(name, 0.0) + cost.hours
        known: dict[str, LayerWorth] = {}
        for board, _ in self._records.boards():
            known |= {one.name: one for one in self._boards.worth(board)}
        asked = [self._worth_of(known[name], hours[name]) for name in hours if name in known]
        untried = [cost for cost in found if say(cost.step.name) not in known]
        if untried and not any(one.sign == "check" for one in asked):
            asked.append(_worth_untried(max(untried, key=_dearness)))
        return asked

    def _worth_of(self, worth: LayerWorth, hours: float) -> Judged:
        span = span_words(timedelta(hours=hours))
        question = tr("decide.worth", name=worth.name)
        gain = figure(abs(worth.gain), 1)
        if worth.gain < 0:
            answer, sign = tr("decide.worth_harms"), "check"
            why = tr("decide.worth_harms_why", steps=gain, span=span)
        elif worth.could_skip:
            answer, sign = tr("decide.worth_no"), "check"
            why = tr("decide.worth_no_why", steps=gain, span=span)
        else:
            answer, sign = tr("decide.worth_yes"), "ready"
            why = tr("decide.worth_yes_why", steps=gain, span=span)
        return Judged(
            key="worth", question=question, answer=answer, why=why, sign=sign, goes="boards/stages"
        )

    def _latest(self) -> tuple[Board, Photo, Reading] | None:
        """The last board that is read."""
        for board, photo in reversed(self._records.boards()):
            reading = None if photo is None else self._readings.of_board(photo)
            if photo is not None and reading is not None:
                return board, photo, reading
        return None

    def _regular(self) -> Judged | None:
        target, latest = self._readings.of_target(), self._latest()
        question = tr("decide.regular")
        if target is None:
            return None
        if latest is None:
            return Judged(
                key="regular", question=question, answer=tr("decide.no_board"), goes="boards"
            )
        board, photo, reading = latest
        found = self._kept.worked_out(
            "regular", photo.id, lambda: too_regular(target, reading), target, reading
        )
        if found is None:
            return None
        if not found:
            return Judged(
                key="regular", question=question, answer=tr("decide.regular_no"), sign="ready",
                why=tr("decide.regular_no_why", number=board.number), goes="boards",
            )  # fmt: skip
        return Judged(
            key="regular", question=question, answer=tr("decide.regular_yes"), sign="check",
            why=" ".join(_regular_words(one) for one in found[:2]), goes="boards",
        )  # fmt: skip

    def _stop(self) -> Judged | None:
        latest, question = self._latest(), tr("decide.stop")
        if latest is None:
            return None
        board, photo, _ = latest
        advice = self._boards.stop_advice(board, photo)
        if advice is None:
            return None
        measured = "decide.hand_measured" if advice.measured else "decide.hand_usual"
        why = tr(
            "decide.stop_why", number=board.number, left=figure(advice.left, 1),
            hand=tr(measured, hand=figure(advice.hand, 1)),
        )  # fmt: skip
        answer = tr("decide.stop_yes") if advice.stop else tr("decide.stop_no")
        sign = "ready" if advice.stop else "todo"
        return Judged(
            key="stop", question=question, answer=answer, why=why, sign=sign, goes="boards"
        )

    def _beside(self) -> list[Judged]:
        question, beside = tr("decide.beside"), self._plan.beside()
        if not beside:
            stays = [s.site.beside for s in self._plan.surfaces() if s.site.beside]
            why = tr("decide.beside_named", what=", ".join(dict.fromkeys(stays))) if stays else ""
            return [
                Judged(
                    key="beside",
                    question=question,
                    answer=tr("decide.beside_unread"),
                    why=f"{why} {tr('decide.beside_how')}".strip(),
                    goes="boards/room",
                    sign="check" if stays else "todo",
                )
            ]
        return [
            Judged(
                key="beside",
                question=tr("decide.beside_one", name=one.name),
                answer=tr(f"decide.beside_{one.relation}"),
                why=tr(f"decide.beside_{one.relation}_why"),
                sign="check" if one.relation in ("clashes", "melts") else "ready",
                goes="boards/room",
            )
            for one in beside
        ]


def _touched_at(block: Block) -> str:
    return "" if block.done is None else block.done.ended or block.done.begun


def _dearness(cost: Cost) -> float:
    """Hours of work; a day waited for counts as one of them."""
    return cost.hours + cost.dry_h / 24


def _worth_untried(cost: Cost) -> Judged:
    name = say(cost.step.name)
    span = span_words(timedelta(hours=cost.hours))
    return Judged(
        key="worth", question=tr("decide.worth", name=name), answer=tr("decide.worth_untried"),
        why=tr("decide.worth_untried_why", span=span), goes="boards/fields",
    )  # fmt: skip


def _regular_words(one: Regular) -> str:
    """What is too even, with both figures behind it."""
    figures = tr("decide.figures", board=plain_words(one.board), target=plain_words(one.target))
    return f"{say(one.words)} {figures}"

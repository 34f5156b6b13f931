"""What stands on the job sheet: gathered from everything that is known of the open finish."""

from __future__ import annotations

import io
from collections.abc import Mapping
from datetime import datetime, timedelta
from functools import partial

import cv2
import numpy as np
from PIL import Image

from jartide.boards.closeness import closeness
from jartide.boards.headline import headline
from jartide.boards.result import Comparison
from jartide.colour.spaces import srgb_hex
from jartide.errors import JarTideError
from jartide.figures import figure
from jartide.job.amounts import Amounts
from jartide.job.comparisons import Comparisons
from jartide.job.jars import Jars, JarState
from jartide.job.kept import Kept
from jartide.job.measured_parts import measured_parts, part_name, small_jar_words
from jartide.job.pictures import Pictures
from jartide.job.plan import TimedPlan
from jartide.job.readings import Readings
from jartide.job.records import Records
from jartide.job.shelf import Shelf
from jartide.job.words.dates import long_date
from jartide.job.words.jars import close_words, sure_words
from jartide.job.words.log import log_line, standing
from jartide.job.words.number_rows import number_groups
from jartide.job.words.numbers import figure_words, plain_words
from jartide.job.words.pastes import spread_words
from jartide.job.words.steps import (
    area_words,
    say_table,
    span_words,
    step_note,
    tins_words,
    volume_words,
    ware_words,
)
from jartide.plan.care import Who, care_of
from jartide.plan.cure import cure_of
from jartide.plan.rules import let_stand
from jartide.plan.step import Step
from jartide.plan.units import Units
from jartide.sheet.content import (
    Picture,
    SheetBoard,
    SheetContent,
    SheetGroup,
    SheetLayer,
    SheetLine,
    SheetStep,
)
from jartide.store.records import Board, Photo
from jartide.wording import say, tr

# Longest side of a picture on the sheet, pixels: 300 to the inch on half an A4 page.
_MOST_PX = 1100
# Of a stage beside its step.
_STAGE_PX = 420
_QUALITY = 88
_KEPT_BOARDS = 200


class SheetGatherer:
    """Gathers the sheet's content, in words."""

    def __init__(
        self,
        records: Records,
        pictures: Pictures,
        readings: Readings,
        comparisons: Comparisons,
        shelf: Shelf,
        plan: TimedPlan,
        amounts: Amounts,
        jars: Jars,
        kept: Kept,
    ) -> None:
        self._records, self._pictures, self._readings = records, pictures, readings
        self._comparisons, self._shelf, self._plan = comparisons, shelf, plan
        self._amounts, self._jars, self._kept = amounts, jars, kept
        self._told = kept.table("sheet board", _KEPT_BOARDS)

    def content(self) -> SheetContent | None:
        """Return all that can stand on the sheet now; None without a finish."""
        finish, job = self._records.finish, self._records.job()
        if finish is None:
            return None
        units = self._plan.work().units
        area = self._plan.area_m2()
        words = [finish.note, area_words(area, units) if area else "", job.name if job else ""]
        wares, shopping = self._ware_lines()
        return SheetContent(
            title=finish.name,
            subtitle=", ".join(filter(None, words)),
            made=tr("sheet.made", date=long_date(datetime.now().date())),
            pictures=self._shown(),
            layers=self._layers(units),
            amounts=wares,
            shopping=shopping,
            steps=self._steps(),
            boards=self._boards(),
            care=self._care(),
            figures=self._figures(),
            definitions=_definitions(),
        )

    def _shown(self) -> tuple[Picture, ...]:
        target = self._readings.target()
        found = [] if target is None else [self._picture(target, tr("reading.target"))]
        best = self._best()
        if best is not None:
            number, photo = best
            found.append(self._picture(photo, tr("board.numbered", number=number)))
        return tuple(picture for picture in found if picture is not None)

    def _picture(self, photo: Photo, caption: str, most_px: int = _MOST_PX) -> Picture | None:
        flat = self._pictures.flat(photo)
        if flat is None:
            self._pictures.want(photo)
            return None
        height, width = flat.code.shape[:2]
        mm = flat.mm_per_px
        small = _smaller(flat.code, most_px)
        return Picture(
            jpeg=_jpeg(small),
            width_px=small.shape[1],
            height_px=small.shape[0],
            width_mm=None if mm is None else width * mm,
            height_mm=None if mm is None else height * mm,
            caption=caption,
        )

    def _best(self) -> tuple[int, Photo] | None:
        """The board that was signed off, or the one that came closest."""
        finish = self._records.finish
        judged = []
        for board, photo in self._records.boards():
            if photo is None:
                continue
            if finish is not None and finish.approval and finish.approval.board_id == board.id:
                return board.number, photo
            comparison = self._comparisons.of(photo)
            if comparison is not None:
                judged.append((closeness(comparison), board.number, photo))
        if not judged:
            return None
        _, number, photo = max(judged, key=lambda one: (one[0], one[1]))
        return number, photo

    def _layers(self, units: Units) -> tuple[SheetLayer, ...]:
        """The core, with what is in each layer's jar and how much of it is needed."""
        names = self._shelf.tin_names()
        found = []
        for state in self._jars.states():
            layer, mix = state.layer, state.mix
            if layer is None:
                continue
            measured = measured_parts(mix.parts)
            parts = [f"{plain_words(round(p.count, 2))} {part_name(p, names)}" for p in measured]
            if mix.carrier:
                parts.append(f"{plain_words(mix.carrier)} {tr('jars.carrier')}")
            if mix.water:
                parts.append(f"{plain_words(mix.water)} {tr('jars.water')}")
            found.append(
                SheetLayer(
                    name=say(layer.name),
                    srgb=srgb_hex(layer.shown_lab),
                    share=layer.coverage.value or 0.0,
                    recipe=" : ".join(parts) if parts else tr("sheet.no_mix"),
                    told=self._told_of_mix(state, names),
                    amount=volume_words(state.needed_ml, units),
                )
            )
        return tuple(found)

    def _told_of_mix(self, state: JarState, names: Mapping[str, str]) -> tuple[str, ...]:
        """What is let down first, and how near the mix comes to its colour."""
        measured = measured_parts(state.mix.parts)
        words = [small_jar_words(part, names) for part in measured]
        if state.shown is not None:
            words.append(close_words(state.shown.de00, state.mix.target, state.shown.lab))
            words.append(sure_words(state.shown.uncertainty_de00))
        words.append(spread_words(state.mix))
        return tuple(f"{one.rstrip('.')}." for one in words if one)

    def _steps(self) -> tuple[SheetStep, ...]:

        try:
            steps = self._plan.steps()
        except JarTideError:
            return ()
        said: set[str] = set()
        found = []
        amounts, photos = self._step_amounts(), self._stage_photos()
        for step in steps:
            # A caution is printed where it first matters.
            cautions = [c for c in self._plan.cautions(step) if c.id not in said]
            said |= {c.id for c in cautions}
            lay = tr("sheet.lay", degrees=figure(step.direction_deg)) if (
                step.direction_deg is not None
            ) else ""  # fmt: skip
            found.append(
                SheetStep(
                    name=say(step.name),
                    note=", ".join(filter(None, (step_note(step), lay))),
                    dries=_next_words(step),
                    told=_told_of(step),
                    signs=self._signs_of(step),
                    photo=photos.get(say(step.name)),
                    amount=amounts.get(step.id, ""),
                    cautions=(
                        *(say_table(c.text) for c in cautions),
                        *(
                            tr("sheet.let_stand", rule=say(m), why=why)
                            for m, why in let_stand(step)
                        ),
                    ),
                )
            )
        return tuple(found)

    def _step_amounts(self) -> dict[str, str]:
        """What each step takes, by its id; nothing where a piece has no area."""
        units = self._plan.work().units
        try:
            found = self._amounts.steps()
        except JarTideError:
            return {}
        return {s.id: volume_words(one.wet_ml, units) for s, one in found if one.wet_ml > 0}

    def _stage_photos(self) -> dict[str, Picture]:
        """How each stage looked, by the step's name: on the best board that has its photo."""
        found: dict[str, Picture] = {}
        best = self._best()
        boards = sorted(
            self._records.boards(),
            key=lambda one: (best is not None and one[0].number == best[0], one[0].number),
            reverse=True,
        )
        if self._readings.are_many:
            boards = boards[:1]
        for board, _ in boards:
            passes = {e.id: e.logged.done for e in standing(self._records.entries(board))}
            for photo in self._records.photos():
                done = passes.get(photo.stage.after) if photo.board_id == board.id else None
                if done is None or done.name in found or photo.stage.series:
                    continue
                made = self._picture(photo, tr("sheet.stage_photo", number=board.number), _STAGE_PX)
                if made is not None:
                    found[done.name] = made
        return found

    def _signs_of(self, step: Step) -> tuple[str, ...]:
        """When it is ready for the next, and what takes it back."""
        technique = self._plan.techniques().get(step.technique)
        words = []
        if technique is not None and technique.ready:
            words.append(tr("sheet.ready", words=say_table(technique.ready)))
        if technique is not None and technique.back:
            words.append(tr("sheet.back", words=say_table(technique.back)))
        return tuple(words)

    def _ware_lines(self) -> tuple[tuple[SheetLine, ...], tuple[SheetLine, ...]]:
        """What all takes, and what is to be bought."""
        work, reading = self._plan.work(), self._readings.of_target()
        try:
            wares, lines = self._amounts.wares(), self._amounts.shopping()
        except JarTideError:
            return (), ()
        amounts = tuple(
            SheetLine(left=ware_words(a.ware, reading), right=volume_words(a.mixed_ml, work.units))
            for a in wares
        )
        shopping = tuple(
            SheetLine(
                left=line.name,
                right=tins_words(line.tins, work.units),
                note="" if line.price is None else f"{work.currency} {figure_words(line.price, 2)}",
            )
            for line in lines
            if line.missing_ml > 0
        )
        return amounts, shopping

    def _boards(self) -> tuple[SheetBoard, ...]:
        found = []
        for board, photo in self._records.boards():
            comparison = None if photo is None else self._comparisons.of(photo)
            log = self._log_line(board)
            # Of dozens of boards most are as they were when the sheet was last gathered.
            told = partial(_board_told, board, comparison, log)
            found.append(self._told.made((board, log), told, comparison))
        return tuple(found)

    def _log_line(self, board: Board) -> str:
        """A board's log as one line; of very many boards it follows when it is there."""
        workspace = self._records.workspace
        if workspace is None or not self._readings.are_many:
            return log_line(self._records.entries(board))
        line = self._kept.worked_out_among_many(
            "log line",
            board.id,
            lambda: log_line(workspace.entries([board.id])),
            self._records.log_state,
        )
        return line or ""

    def _care(self) -> tuple[SheetGroup, ...]:
        """Touch-up and care, by coat and by who does it."""
        first = SheetGroup(title="", rows=(SheetLine(left=tr("sheet.care.jars")),))
        last = SheetGroup(title="", rows=(SheetLine(left=tr("sheet.care.labels")),))
        try:
            steps, pieces = self._plan.steps(), self._plan.pieces()
            lays = [step for step in steps if step.lays]
            if not lays:
                return (first, last)
            days = cure_of(lays[-1], pieces, self._plan.work().air)
            advice = care_of(steps, pieces, days)
        except JarTideError:
            return (first, last)
        groups = (
            SheetGroup(
                title=tr(f"care.who.{who}"),
                rows=tuple(SheetLine(left=say(one.text)) for one in advice if one.who is who),
            )
            for who in Who
        )
        return (first, *(group for group in groups if group.rows), last)

    def _figures(self) -> tuple[SheetGroup, ...]:

        reading = self._readings.of_target()
        if reading is None:
            return ()
        return tuple(
            SheetGroup(
                title=group.title,
                rows=tuple(
                    SheetLine(left=row.name, right=row.value, note=row.detail) for row in group.rows
                ),
            )
            for group in number_groups(reading)
        )


def _board_told(board: Board, comparison: Comparison | None, log: str) -> SheetBoard:
    words = [board.remark]
    if comparison is not None:
        words.append(say(headline(comparison)))
    return SheetBoard(
        number=board.number,
        closeness=None if comparison is None else closeness(comparison),
        words=" ".join(f"{w.rstrip('.')}." for w in words if w),
        log=log,
    )


def _told_of(step: Step) -> tuple[str, ...]:
    """Why and how."""
    return tuple(([] if step.why is None else [say(step.why)]) + [say(one) for one in step.how])


def _next_words(step: Step) -> str:
    """How long until the next step, and until when at the latest; "" for at once."""
    words = []
    if step.dry_h:
        words.append(tr("sheet.next", span=span_words(timedelta(hours=step.dry_h))))
    if step.latest_h:
        words.append(tr("sheet.latest", span=span_words(timedelta(hours=step.latest_h))))
    return ", ".join(words)


def _definitions() -> tuple[SheetLine, ...]:

    names = ("cover", "width", "spacing", "softness", "contrast", "lay", "patch", "trust")
    return tuple(
        SheetLine(left=tr(f"define.{name}"), note=tr(f"define.{name}.words")) for name in names
    )


def _smaller(code: np.ndarray, most_px: int) -> np.ndarray:
    height, width = code.shape[:2]
    factor = most_px / max(height, width)
    if factor >= 1:
        return code
    size = max(1, round(width * factor)), max(1, round(height * factor))
    return cv2.resize(code, size, interpolation=cv2.INTER_AREA)


def _jpeg(code: np.ndarray) -> bytes:
    out = io.BytesIO()
    Image.fromarray(code).save(out, "JPEG", quality=_QUALITY)
    return out.getvalue()

"""My paints: the shelf, what each tin is known by, and what is left of it."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QColor
from PySide6.QtWidgets import QFileDialog, QScrollArea, QWidget

from jartide.app.measure import px
from jartide.app.stations.jars.dabs_page import DabsPage
from jartide.app.stations.jars.opened import shade
from jartide.app.stations.jars.swatch_list import SwatchRow
from jartide.app.stations.jars.tin_grid import TinFace, TinGrid
from jartide.app.stations.jars.tin_panel import TinPanel
from jartide.app.widgets.foot import Action, FootState
from jartide.app.widgets.ground import Ground, column, row, show_only
from jartide.app.widgets.heading import Heading
from jartide.app.widgets.painted import Painted
from jartide.colour.words import Lab
from jartide.devices.registry import Kind
from jartide.devices.source import Source
from jartide.job.jar_reader import read_dab
from jartide.job.open_job import OpenJob
from jartide.job.outside_devices import offered, source_words
from jartide.job.shelf_files import add_starter, export_files, import_file
from jartide.job.words.jars import close_words, count_words, ml_words, parts_words
from jartide.paint.closeness import closeness
from jartide.paint.judge import TinVerdict
from jartide.paint.ladder import checks, expected_swatches, known_to, lessons
from jartide.paint.shelf import PHOTO_NOISE, Card, Swatch, SwatchKind
from jartide.paint.stock import MIXABLE
from jartide.photo.kinds import PHOTO_FILES
from jartide.photo.load import load_photo
from jartide.photo.swatches import read_swatches
from jartide.store.jar_records import Tin
from jartide.wording import tr

_SIDE = 396


class PaintsPage(Painted):
    """Covers the Jars station while the painter sees to the tins."""

    foot_changed = Signal()
    closed = Signal()
    jobs_wanted = Signal(str)  # id of a tin: the jobs that used it

    def __init__(self, job: OpenJob, parent: QWidget) -> None:
        super().__init__(parent)
        self._job = job
        self._chosen = ""
        self._said = ""
        self._lesson: tuple[str, str] = ("", "")
        self.to_paint: tuple[Swatch, ...] = ()
        self._verdict: tuple[str, str] = ("", "")
        self.judged_for: tuple[str, Lab] | None = None
        self._grid = TinGrid()
        self._grid.chosen.connect(self.choose)
        self._scroll = self._scrolling(self._grid)
        self._panel = TinPanel()
        self._side = self._scrolling(self._panel)
        self._panel.changed.connect(lambda tin: job.shelf.put_tin(tin))
        self._panel.refused.connect(self._say)
        self._panel.reader_wanted.connect(self._use_reader)
        self._panel.photo_wanted.connect(self._ask_photo)
        self._panel.swatch_added.connect(self._add_swatch)
        self._panel.swatch_doubted.connect(self._leave_out)
        self._panel.lessons_wanted.connect(self._look_up_lessons)
        self._panel.ladder_wanted.connect(self._ask_ladder)
        self._panel.removed.connect(self._remove)
        self._panel.jobs_wanted.connect(lambda: self.jobs_wanted.emit(self._chosen))
        self._panel.judged.connect(self._judge)
        self.dabs = DabsPage(job, self)
        self.dabs.foot_changed.connect(self.foot_changed)
        self.dabs.closed.connect(self._close_dabs)
        self.dabs.hide()
        self._lay_out()

    def _ask_dabs(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, tr("dabs.title"), "", PHOTO_FILES)
        if name:
            self.open_dabs(Path(name))

    def open_dabs(self, path: Path) -> None:
        """Let the dabs of one photo be named."""
        show_only(self.dabs, self._paints)
        self.dabs.open_file(path)
        self.foot_changed.emit()

    def _close_dabs(self) -> None:
        show_only(self._paints, self.dabs)
        self.refresh()
        self._grid.setFocus()
        self.foot_changed.emit()

    def _scrolling(self, inner: QWidget) -> QScrollArea:
        area = QScrollArea(self)
        area.setWidgetResizable(True)
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setWidget(inner)
        return area

    def enter(self) -> None:
        """The painter came to the paints."""
        self._said = ""
        self.refresh()
        self._grid.setFocus()

    def _say(self, sentence: str) -> None:
        self._said = sentence
        self.foot_changed.emit()

    def choose(self, key: str) -> None:
        """Open a tin by its id."""
        self._chosen, self._said = key, ""
        self.refresh()
        self.foot_changed.emit()

    def step_on(self, by: int) -> None:
        """Open the next tin on the shelf, or the one before."""
        ids = [tin.id for tin in self._job.records.tins()]
        if self._chosen in ids and self.dabs.isHidden():
            self.choose(ids[(ids.index(self._chosen) + by) % len(ids)])

    def current(self) -> Tin | None:
        """Return the tin that is open."""
        return next((t for t in self._job.records.tins() if t.id == self._chosen), None)

    def refresh(self) -> None:
        """Show the shelf as it is now."""
        tins = self._job.records.tins()
        if self.current() is None:
            self._chosen = tins[0].id if tins else ""
        self._grid.show_tins([_face(tin) for tin in tins], self._chosen)
        self._scroll.ensureVisible(0, px(self._grid.top_of_current() + 60), 0, px(70))
        tin = self.current()
        self._side.setVisible(tin is not None)
        if tin is not None:
            others = [t.name for t in tins if t.masstone is not None and t.id != tin.id]
            lesson = self._lesson[1] if self._lesson[0] == tin.id else ""
            verdict = self._verdict[1] if self._verdict[0] == tin.id else ""
            rows = self._swatch_rows(tin)
            reader = offered(self._job.records, Kind.COLOUR_READER) is not None
            known = self._known(tin)
            self._panel.show_tin(tin, rows, known, lesson, others, verdict, reader=reader)
        self.update()

    def _known(self, tin: Tin) -> str:
        """Say how well a tin is known, from what the fit says of its mixes."""
        if tin.stock.kind not in MIXABLE:
            return tr("tin.not_mixed")
        if tin.masstone is None:
            return tr("tin.no_colour")
        if not tin.owned:
            return tr("tin.look_first")
        if tin.approximate:
            return tr("tin.approximate")
        work = self._job.shelf.work()
        if work is None:
            return ""
        if work.number_of(tin.id) is None:
            made_up = all(s.source is Source.STAND_IN for s in tin.swatches)
            return tr("tin.made_up") if made_up else ""
        mix, glaze = known_to(work.fitted, tin.name)
        return tr("tin.known", mix=_sure(mix), glaze=_sure(glaze))

    def _swatch_rows(self, tin: Tin) -> list[SwatchRow]:
        work = self._job.shelf.work()
        place = None if work is None else work.number_of(tin.id)
        found: dict[int, Any] = {}
        if work is not None and place is not None:
            own = work.fitted.shelf.paints[place].swatches
            # The fit passes over swatches with paints that have gone.
            numbers = {id(s): n for n, s in enumerate(tin.swatches)}
            found = {
                numbers.get(id(own[check.number]), tin.swatches.index(own[check.number])): check
                for check in checks(work.fitted, place)
            }
        rows = []
        for number, swatch in enumerate(tin.swatches):
            check = found.get(number)
            note = ""
            predicted: QColor | None = None
            if swatch.left_out:
                note = tr("swatch.left_out")
            elif check is not None:
                predicted = shade(check.predicted)
                note = tr("swatch.agrees") if check.de00 < 2 else tr("swatch.near")
                if check.doubt is not None:
                    note = tr(f"doubt.{check.doubt}")
            rows.append(
                SwatchRow(
                    number=number,
                    words=_swatch_words(swatch),
                    read=shade(swatch.lab),
                    predicted=predicted,
                    note=note,
                    doubted=check is not None and check.doubt is not None,
                    left_out=swatch.left_out,
                    source="" if tin.approximate else source_words(swatch.source),
                )
            )
        return rows

    # ---- doing

    def _use_reader(self, painted: tuple) -> None:
        """Lay the colour reader on a swatch as it is said to be painted."""
        tin, work = self.current(), self._job.shelf.work()
        device = offered(self._job.records, Kind.COLOUR_READER)
        if tin is None or device is None:
            return
        swatch = self._swatch_of(painted, (0.0, 0.0, 0.0))
        # A tin never read gives a mid grey.
        lab = tin.masstone or (55.0, 0.0, 0.0)
        place = None if work is None else work.number_of(tin.id)
        if swatch is not None and painted[0] != "masstone" and work is not None:
            if place is None:
                self._say(tr("tin.no_colour"))
                return
            shelf = work.fitted.shelf
            lab = expected_swatches(shelf, work.fitted, place, (swatch,))[0].lab
        seed = sum(map(ord, tin.id)) + len(tin.swatches)
        self._panel.show_lab(read_dab(device, lab, 0.2, seed), device.source)

    def _ask_photo(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, tr("tin.photo"), "", PHOTO_FILES)
        if name:
            self.read_photo(Path(name))

    def read_photo(self, path: Path) -> None:
        """Read the colour of a swatch from a photo with the card."""

        def work(_: Any):
            return read_swatches(load_photo(str(path)), 1)[0]

        self._job.in_background("swatch", work, lambda lab: self._panel.show_lab(lab, Source.PHOTO))

    def _ask_ladder(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, tr("tin.ladder_photo"), "", PHOTO_FILES)
        if name:
            self.read_ladder(Path(name))

    def read_ladder(self, path: Path) -> None:
        """Read the swatches of the lesson from one photo, from left to right."""
        tin, wanted = self.current(), self.to_paint
        if tin is None or not wanted:
            return

        def work(_: Any):
            return read_swatches(load_photo(str(path)), len(wanted))

        def keep(labs: tuple[Lab, ...]) -> None:
            fresh = tuple(
                replace(swatch, lab=lab, noise=PHOTO_NOISE, source=Source.PHOTO)
                for swatch, lab in zip(wanted, labs, strict=True)
            )
            self._lesson, self.to_paint = ("", ""), ()
            self._job.shelf.put_tin(
                replace(tin, swatches=(*tin.swatches, *fresh), approximate=False)
            )

        self._job.in_background("ladder", work, keep)

    def _swatch_of(self, painted: tuple, lab: Lab) -> Swatch | None:
        """Return a swatch as the panel names it; None, and a sentence, when it can't be."""
        kind, other, own, others, water, coats = painted
        if kind == "masstone":
            return Swatch(kind=SwatchKind.MASSTONE, lab=lab)
        own = 1.0 if own is None else own
        others = (4.0 if kind == "mix" else 3.0) if others is None else others
        if own <= 0 or others < 0 or (kind == "mix" and others <= 0):
            self._say(tr("tin.wrong_parts"))
            return None
        return Swatch(
            kind=SwatchKind(kind),
            lab=lab,
            other=other if kind == "mix" else "",
            over=Card(other) if kind == "glaze" else None,
            paint_parts=own,
            other_parts=others,
            water_parts=0.0 if water is None else max(water, 0.0),
            coats=1 if coats is None else max(int(coats), 1),
        )

    def _add_swatch(self, painted: tuple, lab: Lab, source: Source) -> None:
        tin, fresh = self.current(), self._swatch_of(painted, lab)
        if tin is None or fresh is None:
            return
        fresh = replace(fresh, source=source)
        rest = tin.swatches
        if fresh.kind is SwatchKind.MASSTONE:
            rest = tuple(s for s in rest if s.kind is not SwatchKind.MASSTONE)
            swatches = (fresh, *rest)
        else:
            swatches = (*rest, fresh)
        self._said = ""
        self._job.shelf.put_tin(replace(tin, swatches=swatches, approximate=False))

    def _leave_out(self, number: int, left_out: bool) -> None:
        tin = self.current()
        if tin is not None:
            swatches = tuple(
                replace(s, left_out=left_out) if n == number else s
                for n, s in enumerate(tin.swatches)
            )
            self._job.shelf.put_tin(replace(tin, swatches=swatches))

    def _look_up_lessons(self) -> None:
        tin, work = self.current(), self._job.shelf.work()
        if tin is None or work is None or work.number_of(tin.id) is None:
            self._say(tr("tin.no_colour"))
            return
        shelf, name, key = work.fitted.shelf, tin.name, tin.id

        def look(_: Any):
            return lessons(shelf, name)

        def show(found: tuple) -> None:
            best = found[0]
            swatches = ", ".join(_swatch_words(s) for s in best.swatches)
            words = tr("tin.lesson", swatches=swatches, mix=_sure(best.mix_de00),
                       glaze=_sure(best.glaze_de00))  # fmt: skip
            self._lesson = (key, words)
            self.to_paint = best.swatches
            self.refresh()

        self._job.in_background("lessons", look, show)

    def _judge(self) -> None:
        """Say whether the tin would do for the jar that was open."""
        tin = self.current()
        if tin is None or self.judged_for is None:
            self._say(tr("tin.judge_what"))
            return
        name, target = self.judged_for
        key = tin.id

        def show(verdict: TinVerdict) -> None:
            self._verdict = (key, verdict_words(verdict, name, target, tin))
            self.refresh()

        self._job.shelf.judge(tin, target, show)

    def _remove(self) -> None:
        tin = self.current()
        if tin is not None:
            self._job.records.remove(tr("undo.remove_tin", name=tin.name), tin)

    def _new(self) -> None:
        tin = Tin(name=tr("paints.new_name"), position=len(self._job.records.tins()))
        self._chosen = tin.id
        self._job.shelf.put_tin(tin, tr("undo.new_tin"))

    def _import(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, tr("paints.import"), "", "*.csv")
        if name:
            import_file(self._job.shelf, Path(name))

    def _export(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, tr("paints.export"), "shelf.csv", "*.csv")
        if name:
            export_files(self._job.shelf, Path(name))

    def escape(self) -> bool:
        """Close what is said; False when there is nothing to close."""
        if not self.dabs.isHidden():
            self.dabs.leave()
            return True
        if self._said:
            self._said = ""
            self.foot_changed.emit()
            return True
        return False

    def foot_state(self) -> FootState:
        """Return what the foot says over the paints."""
        if not self.dabs.isHidden():
            return self.dabs.foot_state()
        tins = self._job.records.tins()
        close = Action(text=tr("paints.close"), run=self.closed.emit, primary=True)
        actions = [
            Action(text=tr("paints.import"), run=self._import),
            Action(text=tr("paints.export"), run=self._export, enabled=bool(tins)),
            Action(text=tr("paints.dabs"), run=self._ask_dabs),
            Action(text=tr("paints.new"), run=self._new),
            close,
        ]
        if self._said:
            return FootState(text=self._said, sign="stop", actions=tuple(actions))
        if not tins:
            starter = Action(text=tr("jars.take_starter"), run=lambda: add_starter(self._job.shelf))
            return FootState(
                text=tr("paints.none"), note=tr("paints.none_note"),
                actions=(actions[3], starter, replace(actions[2], primary=True),
                         replace(close, primary=False)),
            )  # fmt: skip
        low = [t for t in tins if t.stock.left_ml is not None and t.stock.tin_ml
               and t.stock.left_ml < 0.2 * t.stock.tin_ml]  # fmt: skip
        note = (
            tr("paints.low", name=low[0].name, ml=ml_words(low[0].stock.left_ml or 0))
            if (low)
            else tr("paints.note")
        )
        return FootState(
            text=tr("paints.count", count=len(tins)), note=note, actions=tuple(actions)
        )

    def _lay_out(self) -> None:
        self._shelves = Ground("bench")
        shelves = column(self._shelves, (24, 16, 12, 4), 18)
        shelves.addWidget(Heading(tr("paints.title"), 20, 600, tr("paints.subtitle")))
        shelves.addWidget(self._scroll, 1)
        side = Ground("sheet", "left")
        side.setFixedWidth(px(_SIDE))
        column(side, (20, 14, 10, 4)).addWidget(self._side)
        self._paints = QWidget()
        both = row(self._paints)
        both.addWidget(self._shelves, 1)
        both.addWidget(side)
        whole = column(self)
        whole.addWidget(self._paints, 1)
        whole.addWidget(self.dabs, 1)


def _face(tin: Tin) -> TinFace:
    stock = tin.stock
    level = None
    if stock.left_ml is not None and stock.tin_ml:
        level = 0.9 * min(stock.left_ml / stock.tin_ml, 1.0)
    note = tr(f"kind.{stock.kind}")
    sign = ""
    if stock.kind in MIXABLE and tin.masstone is None:
        note, sign = tr("paints.no_colour"), "todo"
    elif not tin.owned:
        note, sign = tr("paints.not_owned"), "todo"
    elif stock.left_ml is not None:
        note = tr("paints.left", ml=ml_words(stock.left_ml))
    elif tin.approximate and tin.masstone is not None:
        note, sign = tr("paints.approximate"), "check"
    return TinFace(
        key=tin.id,
        name=tin.name,
        note=note,
        colour=None if tin.masstone is None else shade(tin.masstone),
        level=level,
        sign=sign,
    )


def _swatch_words(swatch) -> str:
    if swatch.kind is SwatchKind.MASSTONE:
        return tr("swatch.masstone")
    if swatch.kind is SwatchKind.MIX:
        mixed = parts_words([swatch.paint_parts, swatch.other_parts])
        return tr("swatch.mixed", parts=mixed, name=swatch.other)
    parts = [swatch.paint_parts, swatch.other_parts]
    if swatch.water_parts:
        parts.append(swatch.water_parts)
    words = tr(f"swatch.glazed_{swatch.over}", parts=parts_words(parts))
    if swatch.coats > 1:
        words = tr("swatch.coats", words=words, coats=count_words(swatch.coats))
    return words


def _sure(bound_de00: float) -> str:
    """Say how far predictions may be off."""
    return tr(f"sure.{closeness(bound_de00)}")


def verdict_words(verdict: TinVerdict, name: str, target: Lab, tin: Tin) -> str:
    """Say whether a tin would do for a jar, and whether the shelf does without it."""
    assert tin.masstone is not None
    words = [tr("verdict.alone", name=name, words=close_words(verdict.de00, target, tin.masstone))]
    best = verdict.without[0] if verdict.without else None
    if best is not None and best.de00 <= verdict.de00:
        words.append(tr("verdict.without", words=close_words(best.de00, target, best.lab)))
    elif verdict.corrected is not None:
        best = verdict.corrected
        words.append(tr("verdict.corrected", words=close_words(best.de00, target, best.lab)))
    return " ".join(words)

"""The job sheet of the open finish: everything that can stand on it, gathered from the stations."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QImage

from jartide.app.stations.boards.log_words import log_line
from jartide.app.stations.boards.standing import closeness
from jartide.app.stations.jars.words import ml_words
from jartide.app.stations.steps.words import (
    area_words,
    say_table,
    span_words,
    step_note,
    tins_words,
    volume_words,
    ware_words,
)
from jartide.app.words import figure_words, plain_words
from jartide.errors import JarTideError
from jartide.figures import figure
from jartide.wording import say, tr

if TYPE_CHECKING:
    from jartide.app.document import Document
    from jartide.app.jar_desk import JarDesk
    from jartide.app.plan_desk import PlanDesk
    from jartide.sheet.content import (
        Picture,
        SheetBoard,
        SheetContent,
        SheetGroup,
        SheetLayer,
        SheetLine,
        SheetStep,
    )
    from jartide.store.records import Entry, Photo

# Longest side of a picture on the sheet, pixels: 300 to the inch on half an A4 page.
_MOST_PX = 1100
_PREVIEW_DPI = 110


@dataclass(frozen=True, slots=True, kw_only=True)
class Made:
    """A sheet that was made: the file itself, and its pages as pictures of that very file."""

    pdf: bytes
    pages: tuple[QImage, ...]


class SheetDesk(QObject):
    """Gathers the sheet's content and makes it in the background."""

    ready = Signal()

    def __init__(
        self, document: Document, jars: JarDesk, plan: PlanDesk, parent: QObject | None = None
    ) -> None:
        super().__init__(parent)
        self.document, self.jars, self.plan = document, jars, plan
        self.made: Made | None = None
        self._key: Any = None

    # ---- making

    def want(self, paper: str, parts: tuple[str, ...]) -> None:
        """Make the sheet unless it is made already; `ready` tells when it can be shown."""
        from jartide.sheet.content import Part
        from jartide.sheet.job_sheet import Paper

        content = self.content()
        key = (content, paper, parts)
        if content is None or key == self._key:
            return
        self._key = key
        wanted = tuple(Part(part) for part in parts)

        def work(progress: Callable[[float], None]) -> Made:
            from jartide.sheet.job_sheet import job_sheet_pdf

            pdf = job_sheet_pdf(content, Paper(paper), wanted)
            progress(0.5)
            return Made(pdf=pdf, pages=pages_of(pdf, _PREVIEW_DPI))

        def returned(made: Made) -> None:
            if key == self._key:
                self.made = made
                self.ready.emit()

        self.document.in_background("sheet", work, returned)

    def bench_card(self, paper: str) -> bytes:
        """Return the bench card as PDF."""
        from jartide.sheet.bench_card import bench_card_pdf
        from jartide.sheet.job_sheet import Paper

        content = self.content()
        assert content is not None
        return bench_card_pdf(content, Paper(paper))

    def labels(self, grid: str) -> bytes:
        """Return labels for all jars that hold a mix as PDF.

        Raises
        ------
        JarTideError : when no jar holds one.
        """
        from jartide.app.stations.jars.jar_state import jar_states
        from jartide.app.stations.jars.labels import label_of
        from jartide.sheet.label_grid import GRIDS, label_sheet_pdf

        states = [s for s in jar_states(self.document, self.jars) if s.mix.parts]
        labels = [label_of(self.document, state, self.jars) for state in states]
        return label_sheet_pdf(labels, GRIDS[grid])

    # ---- gathering

    def content(self) -> SheetContent | None:
        """Return all that can stand on the sheet now; None without a finish."""
        from jartide.app.plan_book import piece_of
        from jartide.plan.quantities import piece_area_m2
        from jartide.sheet.content import SheetContent

        finish, job = self.document.finish, self.document.job()
        if finish is None:
            return None
        units = self.plan.work().units
        area = 0.0
        for surface in self.document.surfaces(finish):
            try:
                area += piece_area_m2(piece_of(surface))
            except JarTideError:
                continue
        words = [finish.note, area_words(area, units) if area else "", job.name if job else ""]
        wares, shopping, planned = self._amounts()
        return SheetContent(
            title=finish.name,
            subtitle=", ".join(filter(None, words)),
            made=tr("sheet.made", date=f"{datetime.now():%d.%m.%Y}"),
            pictures=self._pictures(),
            layers=self._layers(planned),
            amounts=wares,
            shopping=shopping,
            steps=self._steps(),
            boards=self._boards(),
            care=self._care(),
            figures=self._figures(),
            definitions=_definitions(),
        )

    def _pictures(self) -> tuple[Picture, ...]:
        target = self.document.target()
        found = [] if target is None else [self._picture(target, tr("reading.target"))]
        best = self._best()
        if best is not None:
            number, photo = best
            found.append(self._picture(photo, tr("board.numbered", number=number)))
        return tuple(picture for picture in found if picture is not None)

    def _picture(self, photo: Photo, caption: str) -> Picture | None:
        from jartide.app.widgets.painted import to_image
        from jartide.sheet.content import Picture

        flat = self.document.flat(photo)
        if flat is None:
            self.document.want_picture(photo)
            return None
        image = to_image(flat.code)
        mm = flat.mm_per_px
        size = (image.width(), image.height())
        small = _smaller(image)
        return Picture(
            jpeg=_jpeg(small),
            width_px=small.width(),
            height_px=small.height(),
            width_mm=None if mm is None else size[0] * mm,
            height_mm=None if mm is None else size[1] * mm,
            caption=caption,
        )

    def _best(self) -> tuple[int, Photo] | None:
        """The board that was signed off, or the one that came closest."""
        finish = self.document.finish
        judged = []
        for board, photo in self.document.boards():
            if photo is None:
                continue
            if finish is not None and finish.approval and finish.approval.board_id == board.id:
                return board.number, photo
            comparison = self.document.comparison(photo)
            if comparison is not None:
                judged.append((closeness(comparison), board.number, photo))
        if not judged:
            return None
        _, number, photo = max(judged, key=lambda one: (one[0], one[1]))
        return number, photo

    def _layers(self, planned: dict[str, float]) -> tuple[SheetLayer, ...]:
        """The core; `planned` is what the plan takes of each layer's mix, millilitres."""
        from jartide.app.stations.jars.jar_state import jar_states
        from jartide.colour.spaces import srgb_hex
        from jartide.sheet.content import SheetLayer

        names = {tin.id: tin.name for tin in self.jars.tins()}
        found = []
        for state in jar_states(self.document, self.jars):
            layer, mix = state.layer, state.mix
            if layer is None:
                continue
            parts = [
                f"{plain_words(p.parts)} {names.get(p.tin_id, tr('jars.gone_tin'))}"
                for p in mix.parts
            ]
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
                    amount=ml_words(planned.get(layer.id, state.needed.total_ml)),
                )
            )
        return tuple(found)

    def _steps(self) -> tuple[SheetStep, ...]:
        from datetime import timedelta

        from jartide.sheet.content import SheetStep

        try:
            steps = self.plan.steps()
        except JarTideError:
            return ()
        said: set[str] = set()
        found = []
        for step in steps:
            # A caution is printed where it first matters.
            cautions = [c for c in self.plan.cautions(step) if c.id not in said]
            said |= {c.id for c in cautions}
            dries = ""
            if step.dry_h:
                dries = tr("sheet.dries", span=span_words(timedelta(hours=step.dry_h)))
            lay = tr("sheet.lay", degrees=figure(step.direction_deg)) if (
                step.direction_deg is not None
            ) else ""  # fmt: skip
            found.append(
                SheetStep(
                    name=say(step.name),
                    note=", ".join(filter(None, (step_note(step), lay))),
                    dries=dries,
                    cautions=tuple(say_table(c.text) for c in cautions),
                )
            )
        return tuple(found)

    def _amounts(
        self,
    ) -> tuple[tuple[SheetLine, ...], tuple[SheetLine, ...], dict[str, float]]:
        """What all takes, what is to be bought, and what of each layer's mix."""
        from jartide.app.shopping import shopping_of
        from jartide.plan.quantities import ware_amounts
        from jartide.sheet.content import SheetLine

        work, reading = self.plan.work(), self.document.target_reading()
        try:
            wares = ware_amounts(
                self.plan.measured_steps(), self.plan.pieces(), waste=work.waste,
                touch_up_ml=work.touch_up_ml,
            )  # fmt: skip
        except JarTideError:
            return (), (), {}
        amounts = tuple(
            SheetLine(left=ware_words(a.ware, reading), right=volume_words(a.total_ml, work.units))
            for a in wares
        )
        shopping = tuple(
            SheetLine(
                left=line.name,
                right=tins_words(line.tins, work.units),
                note="" if line.price is None else f"{work.currency} {figure_words(line.price, 2)}",
            )
            for line in shopping_of(self.plan, wares)
            if line.missing_ml > 0
        )
        planned = {a.ware.layer: a.total_ml for a in wares if a.ware.layer}
        return amounts, shopping, planned

    def _boards(self) -> tuple[SheetBoard, ...]:
        from jartide.sheet.content import SheetBoard

        found = []
        boards = self.document.boards()
        entries: dict[str, list[Entry]] = {}
        if self.document.workspace is not None:
            for entry in self.document.workspace.entries([board.id for board, _ in boards]):
                entries.setdefault(entry.board_id, []).append(entry)
        for board, photo in boards:
            comparison = None if photo is None else self.document.comparison(photo)
            words = [board.remark]
            if comparison is not None:
                told = [d for d in comparison.differences if d.significant]
                words.append(say(told[0].words) if told else tr("boards.nothing"))
            found.append(
                SheetBoard(
                    number=board.number,
                    closeness=None if comparison is None else closeness(comparison),
                    words=" ".join(f"{w.rstrip('.')}." for w in words if w),
                    log=log_line(entries.get(board.id, [])),
                )
            )
        return tuple(found)

    def _care(self) -> tuple[str, ...]:
        """Touch-up and care: by the last coat, and when it may be touched, washed and used."""
        from jartide.plan.cure import cure_of

        try:
            lays = [step for step in self.plan.steps() if step.lays]
            if not lays:
                return (tr("sheet.care.jars"),)
            last = lays[-1]
            days = cure_of(last, self.plan.pieces(), self.plan.work().air)
        except JarTideError:
            return (tr("sheet.care.jars"),)
        kind = "wax" if last.product == "wax" else "clear" if last.kind == "protect" else "open"
        touch, wash, use = (tr("span.days", count=max(round(day), 1)) for day in days)
        return (
            tr("sheet.care.jars"),
            tr("sheet.care.touch_up"),
            tr(f"sheet.care.{kind}"),
            tr("sheet.care.cure", touch=touch, wash=wash, use=use),
            tr("sheet.care.labels"),
        )

    def _figures(self) -> tuple[SheetGroup, ...]:
        from jartide.app.number_rows import number_groups
        from jartide.sheet.content import SheetGroup, SheetLine

        reading = self.document.target_reading()
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


def _definitions() -> tuple[SheetLine, ...]:
    from jartide.sheet.content import SheetLine

    names = ("cover", "width", "spacing", "softness", "contrast", "lay", "patch", "trust")
    return tuple(
        SheetLine(left=tr(f"define.{name}"), note=tr(f"define.{name}.words")) for name in names
    )


def _smaller(image: QImage) -> QImage:
    from PySide6.QtCore import Qt

    if max(image.width(), image.height()) <= _MOST_PX:
        return image
    return image.scaled(
        _MOST_PX,
        _MOST_PX,
        Qt.AspectRatioMode.KeepAspectRatio,
        Qt.TransformationMode.SmoothTransformation,
    )


def _jpeg(image: QImage) -> bytes:
    from PySide6.QtCore import QBuffer, QIODevice

    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "JPEG", 88)  # type: ignore[call-overload]
    return bytes(buffer.data().data())


def pages_of(pdf: bytes, dpi: float) -> tuple[QImage, ...]:
    """Return every page of a PDF as a picture: what is shown is the file itself."""
    import pypdfium2

    found = []
    file = pypdfium2.PdfDocument(pdf)
    try:
        for page in file:
            bitmap = page.render(scale=dpi / 72, rev_byteorder=True)
            picture = bitmap.to_numpy()
            height, width = picture.shape[:2]
            kind = QImage.Format.Format_RGB888 if picture.shape[2] == 3 else (
                QImage.Format.Format_RGBX8888
            )  # fmt: skip
            data = picture.tobytes()
            found.append(QImage(data, width, height, picture.shape[2] * width, kind).copy())
    finally:
        file.close()
    return tuple(found)

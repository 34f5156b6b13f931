"""Sheet: the job on paper, shown as the very file that is saved and printed."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QRectF, QTimer, Signal
from PySide6.QtGui import QPainter, QResizeEvent
from PySide6.QtPrintSupport import QPrintDialog, QPrinter
from PySide6.QtWidgets import QFileDialog, QWidget

from jartide.app.kit import Kit
from jartide.app.stations.base import Station
from jartide.app.stations.sheet.pages_view import PagesView
from jartide.app.widgets.buttons import ChoiceRow
from jartide.app.widgets.foot import Action, FootState
from jartide.app.widgets.menu_button import MenuButton
from jartide.app.widgets.painted import to_image
from jartide.app.widgets.tick import Tick
from jartide.errors import JarTideError
from jartide.job.files_out import FilesOut
from jartide.job.open_job import OpenJob
from jartide.job.sheet import Made, pages_of
from jartide.wording import tr

SIDE = 308
# Below this height there is no room for the note.
_LOW = 640
_PARTS = ("pictures", "core", "steps", "amounts", "boards", "care", "figures")
_PAPERS = ("A4", "A5", "Letter")
_GRIDS = ("plain", "a4_2x4", "a4_2x7", "letter_2x5")
# What is taken out for other programs, each with the ending of its file.
_OUT = {
    "gpl": "gpl", "ase": "ase", "css": "css", "reading_csv": "csv", "reading_json": "json",
    "log_csv": "csv", "log_json": "json", "picture_png": "png", "picture_svg": "svg",
    "picture_zip": "zip", "picture_pdf": "pdf",
}  # fmt: skip
_PRINT_DPI = 300
# A very large finish is gathered anew at most so often while its boards come in.
_GATHERED_EVERY_MS = 500


class SheetStation(Station):
    """Shows the pages; parts and paper are chosen at the right."""

    save_job_wanted = Signal()  # the whole job, as one file

    name = "sheet"

    def __init__(self, job: OpenJob, parent: QWidget | None = None) -> None:
        super().__init__(job, parent)
        self._later = QTimer(self, singleShot=True, interval=_GATHERED_EVERY_MS)
        self._later.timeout.connect(self.refresh)
        job.events.worked_out.connect(self._made)
        self.files = FilesOut(job)
        self._shown: Made | None = None
        self._waiting: tuple[str, Path] | None = None
        self._pages = PagesView(self)
        self._ticks = {}
        for part in _PARTS:
            tick = Tick(tr(f"sheet.part.{part}"), self)
            tick.setChecked(True)
            tick.clicked.connect(lambda _=False: self._changed())
            self._ticks[part] = tick
        self._paper = ChoiceRow(list(_PAPERS), tr("sheet.paper"), self)
        self._paper.chosen.connect(lambda _: self._changed())
        entries = [("card", tr("sheet.card")), *((g, tr(f"sheet.labels.{g}")) for g in _GRIDS)]
        self._more = MenuButton(tr("sheet.more"), entries, self)
        self._more.picked.connect(self._picked)
        out = [(kind, tr(f"sheet.out.{kind}")) for kind in _OUT]
        self._out = MenuButton(tr("sheet.out"), out, self)
        self._out.picked.connect(self._picked)
        job.events.changed.connect(self._soon)
        job.events.picture_ready.connect(lambda _: self._soon())
        job.events.reading_ready.connect(lambda _: self._read())

    # ---- showing

    def enter(self) -> None:
        self.job.readings.want_target()
        workspace = self.job.workspace
        kept = None if workspace is None else workspace.preference("sheet")
        if isinstance(kept, dict):
            if kept.get("paper") in _PAPERS:
                self._paper.show_index(_PAPERS.index(kept["paper"]))
            for part, tick in self._ticks.items():
                tick.setChecked(part not in kept.get("without", ()))
        self.refresh()

    def refresh(self) -> None:
        if not self.isVisible() or self.job.finish is None:
            return
        self.job.sheet.want(_PAPERS[self._paper.index], self._parts())
        self.foot_changed.emit()
        self.update()

    def _parts(self) -> tuple[str, ...]:
        return tuple(part for part, tick in self._ticks.items() if tick.isChecked())

    def _made(self) -> None:
        made = self.job.sheet.made
        if made is not None and made is not self._shown:
            self._shown = made
            self._pages.show_pages([to_image(page) for page in made.pages])
        self._soon()
        self.foot_changed.emit()
        self.update()

    def _soon(self) -> None:
        """Follow the document: of a very large finish now and then, and once more at the end."""
        if not self.job.readings.are_many:
            self.refresh()
        elif not self._later.isActive():
            self._later.start()

    def _changed(self) -> None:
        without = [part for part in _PARTS if not self._ticks[part].isChecked()]
        chosen = {"paper": _PAPERS[self._paper.index], "without": without}
        self.job.records.set_preference("sheet", chosen)
        self.refresh()

    # ---- saving and printing

    def _save_pressed(self) -> None:
        finish = self.job.finish
        suggested = f"{'' if finish is None else finish.name}.pdf".replace("/", "-")
        name, _ = QFileDialog.getSaveFileName(self, tr("sheet.save"), suggested, "PDF (*.pdf)")
        if name:
            self.save(Path(name))

    def save(self, path: Path) -> None:
        """Write the sheet as it is shown."""
        if self.job.sheet.made is not None:
            self._write(path, self.job.sheet.made.pdf)

    def _write(self, path: Path, data: bytes) -> None:
        try:
            path.write_bytes(data)
        except OSError as error:
            why = error.strerror or type(error).__name__
            self.job.events.failed.emit(tr("error.command.write", name=str(path), why=why))
            return
        self.job.events.told.emit(tr("sheet.written", file=path.name))

    def _picked(self, what: str) -> None:
        kind = _OUT.get(what, "pdf")
        of = what.partition("_")[0] if "_" in what else "palette"
        if what not in _OUT:
            of = "card" if what == "card" else "labels"
        suggested = f"{tr(f'sheet.file.{of}')}.{kind}"
        name, _ = QFileDialog.getSaveFileName(self, tr("sheet.save"), suggested, f"*.{kind}")
        if name:
            self.save_more(what, Path(name))

    def save_more(self, what: str, path: Path) -> None:
        """Write the bench card ("card"), a file for other programs, or labels on a grid."""
        target = self.job.readings.target()
        if what.startswith("picture") and target and self.job.readings.analysis(target) is None:
            # Where each layer lies is not kept: it is read once more, and the file follows.
            self._waiting = (what, path)
            self.job.readings.want_target(with_map=True)
            self.job.events.told.emit(tr("sheet.out.soon", file=path.name))
            return
        try:
            if what == "card":
                data = self.job.sheet.bench_card(_PAPERS[self._paper.index])
            elif what in _OUT:
                data = self.files.file(what)
            else:
                data = self.job.sheet.labels(what)
        except JarTideError as error:
            self.job.events.failed.emit(str(error))
            return
        self._write(path, data)

    def _read(self) -> None:
        """A reading came: a picture that waited for it can be written."""
        target = self.job.readings.target()
        if self._waiting is not None and target and self.job.readings.analysis(target) is not None:
            what, path = self._waiting
            self._waiting = None
            self.save_more(what, path)
        self._soon()

    def print_now(self) -> bool:
        self._print_pressed()
        return True

    def _print_pressed(self) -> None:
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        if self.job.sheet.made is not None and QPrintDialog(printer, self).exec():
            self.print_to(printer)

    def print_to(self, printer) -> None:
        """Print every page at its own size on a printer."""
        made = self.job.sheet.made
        if made is None:
            return
        painter = QPainter(printer)
        for number, page in enumerate(map(to_image, pages_of(made.pdf, _PRINT_DPI))):
            if number:
                printer.newPage()
            room = QRectF(painter.viewport())
            scale = min(room.width() / page.width(), room.height() / page.height())
            painter.drawImage(QRectF(0, 0, page.width() * scale, page.height() * scale), page)
        painter.end()

    # ---- header and foot

    def foot_state(self) -> FootState:
        made = self.job.sheet.made
        if self.job.readings.target() is None:
            go = Action(
                text=tr("reading.to_photos"),
                run=lambda: self.station_wanted.emit("photos"),
                primary=True,
            )
            return FootState(
                text=tr("reading.no_target"), note=tr("reading.no_target_note"), actions=(go,)
            )
        if made is None:
            return FootState(text=tr("sheet.making"))
        save = Action(text=tr("sheet.save"), run=self._save_pressed)
        print_ = Action(
            text=tr("sheet.print", count=len(made.pages)), run=self._print_pressed, primary=True
        )
        whole = Action(text=tr("sheet.save_job"), run=self.save_job_wanted.emit)
        return FootState(text=tr("sheet.is"), note=tr("sheet.note"), actions=(whole, save, print_))

    # ---- layout

    def resizeEvent(self, event: QResizeEvent) -> None:
        w, h = self.width(), self.height()
        self._pages.setGeometry(0, 0, w - SIDE, h)
        pitch = 48 if h >= _LOW else 44
        y = 50
        for tick in self._ticks.values():
            tick.setGeometry(w - SIDE + 24, y, SIDE - 48, 44)
            y += pitch
        self._paper.move(w - SIDE + 24, y + 34)
        for place, button in enumerate((self._out, self._more)):
            button.setGeometry(w - SIDE + 22, h - 56 - place * 50, SIDE - 44, button.height())

    def paint(self, kit: Kit) -> None:
        w, h = self.width(), self.height()
        kit.fill(0, 0, w, h, "bench")
        left = w - SIDE
        kit.fill(left, 0, SIDE, h, "sheet")
        kit.upright(left, 0, h)
        kit.text(left + 24, 16, tr("sheet.on_it"), 20, 700, "ink")
        y = self._paper.y() - 28
        kit.text(left + 24, y, tr("sheet.paper"), 16, 600, "ink")
        below = self._paper.y() + self._paper.height() + 14
        if h >= _LOW:
            kit.paragraph(left + 24, below, SIDE - 48, tr("sheet.reminder_long"), 15, 400, "ink2")

"""Sheet: the job on paper, shown as the very file that is saved and printed."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QPainter
from PySide6.QtPrintSupport import QPrintDialog, QPrinter
from PySide6.QtWidgets import QFileDialog, QScrollArea, QSizePolicy, QWidget

from jartide.app.kit import Kit
from jartide.app.measure import px
from jartide.app.stations.base import Station
from jartide.app.stations.sheet.pages_view import PagesView
from jartide.app.widgets.buttons import ChoiceRow
from jartide.app.widgets.foot import Action, FootState
from jartide.app.widgets.ground import Ground, column, row
from jartide.app.widgets.heading import Heading
from jartide.app.widgets.menu_button import MenuButton
from jartide.app.widgets.painted import to_image
from jartide.app.widgets.tick import Tick
from jartide.errors import JarTideError
from jartide.job.files_out import FilesOut
from jartide.job.open_job import OpenJob
from jartide.job.sheet import Made, pages_of
from jartide.wording import tr

SIDE = 308
_PARTS = ("pictures", "core", "steps", "amounts", "boards", "care", "figures")
_PAPERS = ("A4", "A5", "Letter")
_GRIDS = ("plain", "a4_2x4", "a4_2x7", "letter_2x5")
# What is taken out for other programs, each with the ending of its file.
_OUT = {
    "colours": {"gpl": "gpl", "ase": "ase", "css": "css"},
    "figures": {
        "reading_csv": "csv", "reading_json": "json", "log_csv": "csv", "log_json": "json",
    },
    "pictures": {
        "picture_png": "png", "picture_svg": "svg", "picture_zip": "zip", "picture_pdf": "pdf",
    },
}  # fmt: skip
_ENDINGS = {kind: ending for kinds in _OUT.values() for kind, ending in kinds.items()}
_LEAST_PAGES = 260
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
        self._out = []
        for what, kinds in _OUT.items():
            files = [(kind, tr(f"sheet.out.{kind}")) for kind in kinds]
            button = MenuButton(tr(f"sheet.out_{what}"), files, self)
            button.picked.connect(self._picked)
            self._out.append(button)
        self._lay_out()
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
        kind = _ENDINGS.get(what, "pdf")
        of = what.partition("_")[0] if "_" in what else "palette"
        if what not in _ENDINGS:
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
            elif what in _ENDINGS:
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

    def _lay_out(self) -> None:
        side = QWidget()
        chosen = column(side, (0, 0, 10, 0), 2)
        chosen.addWidget(Heading(tr("sheet.on_it"), 20))
        chosen.addSpacing(px(8))
        for tick in self._ticks.values():
            chosen.addWidget(tick)
        chosen.addSpacing(px(8))
        chosen.addWidget(Heading(tr("sheet.paper"), 16, 600))
        chosen.addWidget(self._paper)
        chosen.addStretch(1)
        chosen.addSpacing(px(8))
        for button in (self._more, *self._out):
            button.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
            chosen.addWidget(button)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        scroll.setWidget(side)
        ground = Ground("sheet", "left")
        ground.setFixedWidth(px(SIDE))
        column(ground, (24, 16, 10, 10)).addWidget(scroll)
        self._pages.setMinimumSize(px(_LEAST_PAGES), px(_LEAST_PAGES))
        whole = row(self)
        whole.addWidget(self._pages, 1)
        whole.addWidget(ground)

    def paint(self, kit: Kit) -> None:
        kit.fill(0, 0, self.wide, self.high, "bench")

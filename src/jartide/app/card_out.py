"""The photo card out of the program: printed at its true size, or saved as a file."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter
from PySide6.QtPrintSupport import QPrintDialog, QPrinter
from PySide6.QtWidgets import QFileDialog, QWidget

from jartide.app.widgets.menu_button import MenuButton
from jartide.app.widgets.painted import to_image
from jartide.job.open_job import OpenJob
from jartide.job.photo_jobs import PhotoJobs
from jartide.job.sheet import pages_of
from jartide.photo.card.design import CardSize
from jartide.photo.card.files import card_file
from jartide.wording import tr

_DPI = 600


def card_button(kind: str, job: OpenJob, parent: QWidget) -> MenuButton:
    """Return a button that prints or saves (`kind` "print" or "save") a card of a chosen size."""
    sizes = [(size.value, tr(f"card.size.{size.name.lower()}")) for size in CardSize]
    made = MenuButton(tr(f"card.{kind}"), sizes, parent)
    if kind == "print":
        made.picked.connect(lambda size: ask_to_print(parent, size))
    else:
        made.picked.connect(lambda size: ask_to_save(parent, job, size))
    return made


def any_card_button(job: OpenJob, parent: QWidget) -> MenuButton:
    """Return one button for both, where there is no room for two."""
    entries = [
        (f"{kind} {size.value}", f"{tr(f'card.{kind}')}, {tr(f'card.size.{size.name.lower()}')}")
        for kind in ("print", "save")
        for size in CardSize
    ]
    made = MenuButton(tr("card.one"), entries, parent)

    def picked(what: str) -> None:
        kind, _, size = what.partition(" ")
        if kind == "print":
            ask_to_print(parent, size)
        else:
            ask_to_save(parent, job, size)

    made.picked.connect(picked)
    return made


def ask_to_save(parent: QWidget, job: OpenJob, size: str) -> None:
    """Ask where a card goes, and write it there."""
    name, _ = QFileDialog.getSaveFileName(
        parent, tr("card.save"), tr("card.file_name", size=size), "*.pdf *.svg *.png"
    )
    if name:
        PhotoJobs(job).print_card(Path(name), size)


def ask_to_print(parent: QWidget, size: str) -> None:
    """Ask for a printer, and print a card on it."""
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    if QPrintDialog(printer, parent).exec():
        print_card(printer, size)


def print_card(printer: QPrinter, size: str) -> None:
    """Print a card so that its millimetres are millimetres on the paper, whatever its margins."""
    printer.setFullPage(True)
    page = to_image(pages_of(card_file(CardSize(size), ".pdf"), _DPI)[0])
    # The page as long as it is, from the paper's own corner: never fitted to what can be printed.
    across, down = page.width() / _DPI, page.height() / _DPI
    painter = QPainter(printer)
    room = QRectF(
        QPointF(0, 0), QPointF(across * printer.logicalDpiX(), down * printer.logicalDpiY())
    )
    painter.drawImage(room, page)
    painter.end()

"""Ask where a jar's label goes, and write it there."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QWidget

from jartide.job.jars import JarState
from jartide.job.labels import label_of
from jartide.job.open_job import OpenJob
from jartide.sheet.jar_label import label_pdf
from jartide.wording import tr


def ask_and_write_label(parent: QWidget, job: OpenJob, state: JarState) -> None:
    """Ask for a file and write the label of a jar into it."""
    suggested = f"{state.mix.name}.pdf".replace("/", "-")
    name, _ = QFileDialog.getSaveFileName(parent, tr("label.save"), suggested, "*.pdf")
    if name:
        write_label(Path(name), job, state)


def write_label(path: Path, job: OpenJob, state: JarState) -> None:
    """Write the label of a jar as PDF; what goes wrong is said in the foot."""
    label = label_of(job.records, state, job.shelf)
    try:
        path.write_bytes(label_pdf(label))
    except OSError as error:
        why = error.strerror or type(error).__name__
        job.shelf.refused.emit(tr("error.command.write", name=str(path), why=why))

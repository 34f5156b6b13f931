"""Ask where a jar's label goes, and write it there."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QDate, QLocale
from PySide6.QtWidgets import QFileDialog

from jartide.app.stations.jars.words import count_words, ml_words
from jartide.wording import chosen_language, tr

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

    from jartide.app.document import Document
    from jartide.app.jar_desk import JarDesk
    from jartide.app.stations.jars.jar_state import JarState
    from jartide.sheet.jar_label import Label


def ask_and_write_label(
    parent: QWidget, document: Document, state: JarState, desk: JarDesk
) -> None:
    """Ask for a file and write the label of a jar into it."""
    suggested = f"{state.mix.name}.pdf".replace("/", "-")
    name, _ = QFileDialog.getSaveFileName(parent, tr("label.save"), suggested, "*.pdf")
    if name:
        write_label(Path(name), document, state, desk)


def label_of(document: Document, state: JarState, desk: JarDesk) -> Label:
    """Return what the label of a jar says."""
    from jartide.colour.spaces import srgb_hex
    from jartide.sheet.jar_label import Label

    mix, job, finish = state.mix, document.job(), document.finish
    names = {tin.id: tin.name for tin in desk.tins()}
    parts = [(count_words(p.parts), names.get(p.tin_id, tr("jars.gone_tin"))) for p in mix.parts]
    if mix.carrier:
        parts.append((count_words(mix.carrier), tr("jars.carrier")))
    if mix.water:
        parts.append((count_words(mix.water), tr("jars.water")))
    lines = []
    if mix.mixed_at:
        day = QDate.fromString(mix.mixed_at[:10], "yyyy-MM-dd")
        date = QLocale(chosen_language()).toString(day, "d MMMM yyyy")
        lines.append(tr("label.mixed", date=date, ml=ml_words(mix.mixed_ml)))
    lines.append(tr("label.caution"))
    shown = state.shown.lab if state.shown is not None else mix.target
    return Label(
        title=mix.name,
        job=", ".join(one.name for one in (finish, job) if one is not None),
        parts=tuple(parts),
        lines=tuple(lines),
        srgb=None if shown is None else srgb_hex(shown),
    )


def write_label(path: Path, document: Document, state: JarState, desk: JarDesk) -> None:
    """Write the label of a jar as PDF; what goes wrong is said in the foot."""
    from jartide.sheet.jar_label import label_pdf

    label = label_of(document, state, desk)
    try:
        path.write_bytes(label_pdf(label))
    except OSError as error:
        why = error.strerror or type(error).__name__
        desk.refused.emit(tr("error.command.write", name=str(path), why=why))

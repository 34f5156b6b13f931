"""Jobs and the whole workspace as files: saved and brought in off the interface thread."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from jartide.wording import tr

if TYPE_CHECKING:
    from jartide.app.document import Document
    from jartide.store.bundle import Bundle
    from jartide.store.records import Job


class Bundles(QObject):
    """Saves and brings in jobs; tells what came of it."""

    told = Signal(str)  # one sentence
    known = Signal(object, str)  # a bundle whose job is here already, and its job's name

    def __init__(self, document: Document, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.document = document

    def save(self, job: Job, path: Path) -> None:
        """Write a job as a bundle."""
        workspace = self.document.workspace
        if workspace is None:
            return

        def work(_: Callable[[float], None]) -> str:
            from jartide.errors import CommandError
            from jartide.store.bundle import write_bundle

            data = write_bundle(workspace, job)
            try:
                path.write_bytes(data)
            except OSError as error:
                why = error.strerror or type(error).__name__
                raise CommandError("error.command.write", name=str(path), why=why) from error
            return tr("bundle.saved", name=job.name, file=path.name)

        self.document.in_background("bundle", work, self.told.emit)

    def back_up(self, path: Path) -> None:
        """Write everything the workspace holds into one file."""
        workspace = self.document.workspace
        if workspace is None:
            return

        def work(progress: Callable[[float], None]) -> str:
            from jartide.store.backup import write_backup

            write_backup(workspace, path, progress)
            return tr("backup.saved", file=path.name)

        self.document.in_background("backup", work, self.told.emit)

    def bring(self, path: Path) -> None:
        """Read a bundle; a job that is new is put in, of one that is here it is asked first."""
        workspace = self.document.workspace
        if workspace is None:
            return

        def work(_: Callable[[float], None]) -> tuple[Bundle, bool]:
            from jartide.errors import CommandError
            from jartide.store.bundle import has_job, read_bundle

            try:
                data = path.read_bytes()
            except OSError as error:
                why = error.strerror or type(error).__name__
                raise CommandError("error.command.list_file", name=path.name, why=why) from error
            bundle = read_bundle(data, path.name)
            return bundle, has_job(workspace, bundle)

        def returned(found: tuple[Bundle, bool]) -> None:
            bundle, known = found
            if known:
                self.known.emit(bundle, bundle.job.name)
            else:
                self.put(bundle)

        self.document.in_background("bundle", work, returned)

    def put(self, bundle: Bundle, *, copy: bool = False) -> None:
        """Put a bundle into the workspace, under ids of its own where it is a copy."""
        workspace = self.document.workspace
        if workspace is None:
            return

        def work(_: Callable[[float], None]) -> str:
            from jartide.store.bundle import as_copy, put_bundle

            put_bundle(workspace, as_copy(bundle) if copy else bundle)
            return tr("bundle.brought", name=bundle.job.name)

        def returned(words: str) -> None:
            self.document.reload()
            self.told.emit(words)

        self.document.in_background("bundle", work, returned)

"""Jobs and the whole workspace as files: saved and brought in off the asking thread."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from jartide.errors import CommandError
from jartide.job.events import Event
from jartide.job.open_job import OpenJob
from jartide.job.words.lacking import with_lacking
from jartide.store.backup import write_backup
from jartide.store.bundle import Bundle, as_copy, has_job, put_bundle, read_bundle, write_bundle
from jartide.store.records import Job
from jartide.store.whole import write_whole
from jartide.wording import tr


class Bundles:
    """Saves and brings in jobs; tells what came of it.

    Attributes
    ----------
    known : a bundle whose job is here already, and its job's name
    """

    def __init__(self, job: OpenJob) -> None:
        self._job = job
        self.known = Event()

    def save(self, job: Job, path: Path) -> None:
        """Write a job as a bundle."""
        workspace = self._job.workspace
        if workspace is None:
            return

        def work(_: Callable[[float], None]) -> str:
            packed = write_bundle(workspace, job)
            try:
                write_whole(path, packed.data)
            except OSError as error:
                why = error.strerror or type(error).__name__
                raise CommandError("error.command.write", name=str(path), why=why) from error
            words = tr("bundle.saved", name=job.name, file=path.name)
            return with_lacking(words, packed.lacking)

        self._job.in_background("bundle", work, self._job.events.told.emit)

    def back_up(self, path: Path) -> None:
        """Write everything the workspace holds into one file."""
        workspace = self._job.workspace
        if workspace is None:
            return

        def work(progress: Callable[[float], None]) -> str:
            lacking = write_backup(workspace, path, progress)
            return with_lacking(tr("backup.saved", file=path.name), lacking)

        self._job.in_background("backup", work, self._job.events.told.emit)

    def bring(self, path: Path) -> None:
        """Read a bundle; a job that is new is put in, of one that is here it is asked first."""
        workspace = self._job.workspace
        if workspace is None:
            return

        def work(_: Callable[[float], None]) -> tuple[Bundle, bool]:
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

        self._job.in_background("bundle", work, returned)

    def put(self, bundle: Bundle, *, copy: bool = False) -> None:
        """Put a bundle into the workspace, under ids of its own where it is a copy."""
        workspace = self._job.workspace
        if workspace is None:
            return

        def work(_: Callable[[float], None]) -> str:
            put_bundle(workspace, as_copy(bundle) if copy else bundle)
            return with_lacking(tr("bundle.brought", name=bundle.job.name), bundle.lacking)

        def returned(words: str) -> None:
            self._job.reload()
            self._job.events.told.emit(words)

        self._job.in_background("bundle", work, returned)

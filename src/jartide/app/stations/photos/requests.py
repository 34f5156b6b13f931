"""What the panels of the Photos station ask for beyond a change of settings."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any, Protocol

from PySide6.QtWidgets import QFileDialog, QWidget

from jartide.app.card_out import ask_to_print, ask_to_save
from jartide.app.stations.photos.device_panels import ReaderPanel
from jartide.app.stations.photos.panel import Panel
from jartide.app.watch import FolderWatch
from jartide.devices.source import Source
from jartide.errors import JarTideError
from jartide.job.open_job import OpenJob
from jartide.job.outside_devices import source_words
from jartide.job.photo_jobs import PhotoJobs
from jartide.photo.settings import Chart, KnownPatch, PhotoSettings, Rect
from jartide.store.colour_lists import read_card_values, read_chart
from jartide.store.records import Board, Photo
from jartide.wording import tr


class Asking(Protocol):
    """The station whose panels ask."""

    job: OpenJob
    jobs: PhotoJobs
    watch: FolderWatch
    reader_at: tuple[float, float] | None

    def photo(self) -> Photo | None:
        """Return the photo that is open."""

    def photo_title(self, photo: Photo) -> str:
        """Return what a photo is called."""

    def board_of(self, photo: Photo) -> Board | None:
        """Return the board that a photo is of."""

    def open_step(self, step: str | None) -> None:
        """Open a panel."""

    def panel(self, step: str) -> Panel:
        """Return a panel."""

    def put_settings(self, settings: PhotoSettings, undo: str) -> None:
        """Change how the open photo is made ready."""

    def draft_length(self, length_mm: float) -> None:
        """Take a length whose ends are still to be laid."""

    def refresh(self) -> None:
        """Show everything anew."""


class PanelRequests:
    """Carries out what panels ask for: files, lists, other photos, devices, other panels."""

    def __init__(self, station: Asking, parent: QWidget) -> None:
        self._station, self._parent = station, parent
        self._job, self._jobs = station.job, station.jobs
        self._reading: Any = None
        self._source = Source.UNKNOWN

    def do(self, what: str, value: Any) -> None:
        """Do what a panel asked for; what goes wrong is said in the foot."""
        try:
            getattr(self, f"_ask_{what}")(value)
        except JarTideError as error:
            self._job.events.failed.emit(str(error))
        except OSError as error:
            why = error.strerror or type(error).__name__
            self._job.events.failed.emit(tr("error.file", why=why))

    def _ask_draft_length(self, length_mm: float) -> None:
        self._station.draft_length(length_mm)

    def _ask_open(self, step: str) -> None:
        self._station.open_step(step)

    def _other(self, photo_id: str) -> Photo:
        return next(p for p in self._job.records.photos() if p.id == photo_id)

    def _ask_keep_length(self, value: tuple[str, float]) -> None:
        self._jobs.keep_length(*value)

    def _ask_length_from(self, photo_id: str) -> None:
        photo, other = self._station.photo(), self._other(photo_id)
        if photo is not None:
            self._jobs.length_from(photo, other, self._station.photo_title(other))

    def _ask_sheen_from(self, photo_id: str) -> None:
        photo = self._station.photo()
        if photo is not None:
            self._jobs.sheen_from(photo, self._other(photo_id))

    def _ask_forget_length(self, name: str) -> None:
        self._jobs.forget_length(name)

    def _ask_forget_colour(self, name: str) -> None:
        self._jobs.forget_colour(name)

    def _ask_keep_colour(self, value: tuple[str, int]) -> None:
        photo = self._station.photo()
        if photo is None:
            return
        name, index = value
        lab = self._jobs.patch_colour(photo, photo.settings.neutrals[index])
        if lab is None:
            self._job.events.failed.emit(tr("colour.unknown"))
        else:
            self._jobs.keep_colour(name, lab)

    def _ask_board(self, board: Board) -> None:
        photo = self._station.photo()
        old = None if photo is None else self._station.board_of(photo)
        if old is not None:
            self._job.records.change(tr("undo.board_checks"), [old], [board])

    def _ask_print_card(self, size: str) -> None:
        ask_to_print(self._parent, size)
        self._station.refresh()

    def _ask_save_card(self, size: str) -> None:
        ask_to_save(self._parent, self._job, size)
        self._station.refresh()

    def _ask_card_reading(self, patch: str) -> None:
        """Keep what the reader said as the colour of one of the card's patches."""
        photo = self._station.photo()
        if photo is not None and self._reading is not None:
            s = photo.settings
            L, a, b = (round(v, 2) for v in self._reading.lab_d65())
            read = {**dict(s.card.measured), patch: (L, a, b)}
            card = replace(s.card, measured=tuple(sorted(read.items())))
            made_up = set(s.stand_ins) - {patch}
            if self._source is Source.STAND_IN:
                made_up.add(patch)
            fresh = replace(s, card=card, stand_ins=tuple(sorted(made_up)))
            self._station.put_settings(fresh, tr("undo.card"))

    def _ask_card_values(self, _: object) -> None:
        text = self._opened_list(tr("card.file"))
        photo = self._station.photo()
        if text is not None and photo is not None:
            values = read_card_values(*text)
            s = photo.settings
            new = replace(s, card=replace(s.card, measured=values))
            self._station.put_settings(new, tr("undo.card"))

    def _ask_chart(self, _: object) -> None:
        text, photo = self._opened_list(tr("colour.chart")), self._station.photo()
        preview = None if photo is None else self._job.pictures.preview(photo)
        if text is None or photo is None or preview is None:
            return
        listed = read_chart(*text)
        w, h = preview.size
        (a, b), (c, d) = (0.3 * w, 0.3 * h), (0.7 * w, 0.7 * h)
        chart = Chart(
            corners=((a, b), (c, b), (c, d), (a, d)),
            columns=listed.columns,
            rows=listed.rows,
            labs=listed.labs,
            name=text[1],
        )
        self._station.put_settings(replace(photo.settings, chart=chart), tr("undo.chart"))

    def _opened_list(self, title: str) -> tuple[str, str] | None:
        """Ask for a CSV file and return its text and name."""
        name, _ = QFileDialog.getOpenFileName(self._parent, title, "", "*.csv")
        if not name:
            return None
        return Path(name).read_text(encoding="utf-8-sig", errors="replace"), Path(name).name

    def _ask_take(self, settings: Any) -> None:
        self._jobs.take_photo(settings)

    def _ask_read_colour(self, value: tuple[str, float]) -> None:
        photo = self._station.photo()
        if photo is not None and self._station.reader_at is not None:
            read = self._jobs.read_colour(photo, self._station.reader_at, *value)
            self._reading, self._source = read
            panel = self._station.panel("reader")
            assert isinstance(panel, ReaderPanel)
            panel.show_reading(self._reading, source_words(self._source))

    def _ask_use_reading(self, _: object) -> None:
        """Make the place that was read a patch of known colour."""
        photo = self._station.photo()
        if photo is None or self._reading is None or self._station.reader_at is None:
            return
        L, a, b = (round(v, 2) for v in self._reading.lab_d65())
        x, y = self._station.reader_at
        preview = self._job.pictures.preview(photo)
        side = 0.02 * min(preview.size) if preview is not None else 20.0
        rect = Rect(x=round(x - side / 2, 1), y=round(y - side / 2, 1), w=side, h=side)
        patch = KnownPatch(rect=rect, lightness=L, a=a, b=b, source=self._source.value)
        s = photo.settings
        self._station.put_settings(replace(s, neutrals=(*s.neutrals, patch)), tr("undo.grey"))

    def _ask_keep_reading(self, name: str) -> None:
        if self._reading is not None:
            said = source_words(self._source)
            # The list has names and colours alone: where a colour came from is in its name.
            self._jobs.keep_colour(f"{name} ({said})" if said else name, self._reading.lab_d65())

    def _ask_watch(self, on: bool) -> None:
        if on:
            name = QFileDialog.getExistingDirectory(self._parent, tr("watch.choose"))
            if name:
                self._station.watch.watch(Path(name))
        else:
            self._station.watch.watch(None)
        self._station.refresh()

    def watch_back(self, name: str) -> None:
        """Say that the watched folder is there again."""
        self._job.events.told.emit(tr("watch.back", name=name))

    def watch_lost(self, name: str) -> None:
        """Say that the watched folder is gone."""
        self._job.events.failed.emit(tr("error.watch", name=name))
        self._station.refresh()

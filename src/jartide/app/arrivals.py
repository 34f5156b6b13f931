"""Where a photo that has just come in leads: to what is missing, to the reading, to its board."""

from __future__ import annotations

from typing import Any, Protocol

from jartide.app.stations.base import Station
from jartide.job.open_job import OpenJob
from jartide.job.standing import ONLY_LOOKED_AT


class Places(Protocol):
    """The window, as far as arrivals need it."""

    @property
    def job(self) -> OpenJob:
        """The model."""

    def station(self, name: str) -> Station:
        """Return a station."""

    def is_at(self, *names: str) -> bool:
        """Whether one of these stations is shown."""

    def go_to(self, name: str) -> None:
        """Go to a station."""

    def open_photo(self, photo_id: str) -> None:
        """Open a photo on its station."""


class Arrivals:
    """Prepares what comes in, then goes where it leads."""

    def __init__(self, window: Places) -> None:
        self._window, self._job = window, window.job
        self._waiting: set[str] = set()
        self._latest = ""
        self._job.events.arrived.connect(self._arrived)
        self._job.events.picture_ready.connect(self._picture_ready)

    def _arrived(self, photo_id: str, watched: bool) -> None:
        """A new board, or a photo of the watched folder: prepare it, then go where it leads."""
        photo, window = self._job.records.photo(photo_id), self._window
        if photo is None:
            return
        if photo.use in ONLY_LOOKED_AT and photo.use != "mood":
            # Looked at on its own page; it needs no scale.
            self._job.pictures.want(photo)
        elif window.is_at("photos") and not watched:
            photos: Any = window.station("photos")
            photos.choose(photo_id)
        elif watched or window.is_at("boards"):
            self._waiting.add(photo_id)
            self._latest = photo_id
            self._job.pictures.want(photo)
            self._picture_ready(photo_id)

    def _picture_ready(self, photo_id: str) -> None:
        """Where the card tells all, go straight to the reading; else to what is missing."""
        photo, window = self._job.records.photo(photo_id), self._window
        if photo_id not in self._waiting or photo is None:
            return
        flat, refused = self._job.pictures.flat(photo), self._job.pictures.refusal(photo)
        if flat is None and refused is None:
            return
        self._waiting.discard(photo_id)
        if photo_id != self._latest:
            return  # of many the last one leads on: the screen does not jump about
        if flat is None or flat.mm_per_px is None:
            window.open_photo(photo_id)
            return
        boards: Any = window.station("boards")
        if window.is_at("boards") and boards.page is not None:
            boards.refresh()  # it came into the page that is open there
        elif photo.board_id is not None:
            boards.show_board(photo.board_id)
            window.go_to("boards")
        else:
            window.go_to("reading")

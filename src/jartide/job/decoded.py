"""Photos as they were decoded, and the cards found in them, for all work in the background."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from jartide.errors import WorkspaceError
from jartide.photo.card.find import CardSighting
from jartide.photo.layout import wants_card
from jartide.photo.load import Photo as LoadedPhoto
from jartide.photo.load import decode_photo
from jartide.photo.prepare import card_for
from jartide.photo.settings import PhotoSettings

# A decoded photo of 12 million pixels takes 36 MB.
_KEPT_PHOTOS = 3
_KEPT_CARDS = 40


@dataclass(frozen=True, slots=True, kw_only=True)
class PhotoFile:
    """Where an original lies, and what the painter calls it; no path when it is gone."""

    sha256: str
    path: Path | None
    name: str


class Decoded:
    """The last few photos and cards. Safe to ask from any thread; each is made once."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._photos: OrderedDict[Hashable, LoadedPhoto] = OrderedDict()
        self._cards: OrderedDict[Hashable, CardSighting | None] = OrderedDict()

    def at_hand(self, sha256: str) -> LoadedPhoto | None:
        """Return a photo if it is decoded."""
        with self._lock:
            return self._photos.get(sha256)

    def keep(self, photo: LoadedPhoto) -> None:
        """Keep a photo that was decoded elsewhere."""
        with self._lock:
            _keep(self._photos, photo.sha256, photo, _KEPT_PHOTOS)

    def photo(self, file: PhotoFile) -> LoadedPhoto:
        """Return a photo, decoded now if it is not at hand.

        Raises
        ------
        WorkspaceError : when its file is gone.
        PhotoError : when it can't be opened.
        """

        def decode() -> LoadedPhoto:
            if file.path is None:
                raise WorkspaceError("error.workspace.photo_lost", name=file.name)
            try:
                data = file.path.read_bytes()
            except OSError as error:
                raise WorkspaceError("error.workspace.photo_lost", name=file.name) from error
            return decode_photo(data, file.name)

        return self._made(self._photos, file.sha256, decode, _KEPT_PHOTOS)

    def card(self, photo: LoadedPhoto, settings: PhotoSettings) -> CardSighting | None:
        """Return the card in a photo, looked for once for each way of looking."""
        if settings.card.ignore or settings.scan:
            return None
        key = (photo.sha256, settings.card.check_mm, wants_card(settings))
        return self._made(self._cards, key, lambda: card_for(photo, settings), _KEPT_CARDS)

    def _made(self, kept: OrderedDict, key: Hashable, make: Callable[[], Any], size: int) -> Any:
        with self._lock:
            if key in kept:
                kept.move_to_end(key)
                return kept[key]
        made = make()
        with self._lock:
            _keep(kept, key, made, size)
        return made


def _keep(kept: OrderedDict, key: Hashable, value: Any, size: int) -> None:
    kept[key] = value
    kept.move_to_end(key)
    while len(kept) > size:
        kept.popitem(last=False)

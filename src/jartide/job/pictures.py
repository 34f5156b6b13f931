"""The pictures of a job's photos: as taken, squared and neutral, and at full resolution."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from itertools import count

import numpy as np

from jartide.boards.seen import View
from jartide.devices.source import Source
from jartide.job.decoded import Decoded, PhotoFile
from jartide.job.flat import (
    Flat,
    Pictured,
    PictureRequest,
    Preview,
    Stand,
    make_print,
    picture_of,
    stand_of,
)
from jartide.job.kept import Kept
from jartide.job.records import Records
from jartide.job.runner import Progress, Runner
from jartide.photo.load import Photo as LoadedPhoto
from jartide.photo.load import decode_photo
from jartide.photo.settings import PhotoSettings
from jartide.store.files import PhotoFiles
from jartide.store.records import Board, Finish, Photo, PhotoUse, Record, Stage
from jartide.store.workspace import now
from jartide.wording import tr

_KEPT_PREVIEWS, _KEPT_FLATS, _KEPT_VIEWS = 12, 12, 200
# As many photos as a list of a finish may show.
_KEPT_PRINTS = 1000


# A photo's file, or what makes it in the background.
Data = bytes | Callable[[], bytes]


class Pictures:
    """Makes pictures in the background and brings photos in."""

    def __init__(
        self, records: Records, kept: Kept, runner: Runner, say: Callable[[Exception], None]
    ) -> None:
        self._records, self._runner, self._say = records, runner, say
        self.decoded = Decoded()
        self._incoming = count()
        self._previews = kept.table("preview", _KEPT_PREVIEWS)
        self._flats = kept.table("flat", _KEPT_FLATS)
        # Small: kept of every photo, long after its large pictures were let go.
        self._prints = kept.table("print", _KEPT_PRINTS)
        self._stands = kept.table("stand", _KEPT_PRINTS)
        # Waiting to be made for a list, by id; and the one that is being made.
        self._prints_wanted: dict[str, Photo] = {}
        self._printing: str | None = None
        records.events.opened.connect(self._forget_prints)
        self._refused = kept.table("refused", _KEPT_VIEWS)
        # Small: kept for every board, long after its flat picture was let go.
        self._views = kept.table("view", _KEPT_VIEWS)

    # ---- what there is

    def preview(self, photo: Photo) -> Preview | None:
        """Return the photo as taken, or None until `picture_ready`."""
        return self._previews.get(photo.sha256)

    def flat(self, photo: Photo) -> Flat | None:
        """Return the squared surface, or None until `picture_ready` or when it can't be had."""
        return self._flats.get((photo.sha256, photo.settings))

    def view(self, photo: Photo) -> View | None:
        """Return the surface reduced for looking at; None without a scale, or until it is made."""
        return self._views.get((photo.sha256, photo.settings))

    def print(self, photo: Photo) -> np.ndarray | None:
        """Return a photo as it stands in a list, (H, W, 3) uint8; None until `picture_ready`."""
        return self._prints.get(photo.sha256)

    def stand(self, photo: Photo) -> Stand | None:
        """Return what is done to a photo as it is set now; None until it was drawn flat."""
        return self._stands.get((photo.sha256, photo.settings))

    def refusal(self, photo: Photo) -> str | None:
        """Return why a photo can't be prepared as it is set, if it can't."""
        return self._refused.get((photo.sha256, photo.settings))

    def detail(self, photo: Photo) -> LoadedPhoto | None:
        """Return the photo at its full resolution while it is at hand."""
        return self.decoded.at_hand(photo.sha256)

    def file_of(self, photo: Photo) -> PhotoFile:
        """Return where the original of a photo lies."""
        workspace = self._records.workspace
        path = None if workspace is None else workspace.files.path(photo.sha256)
        return PhotoFile(sha256=photo.sha256, path=path, name=photo.file_name)

    def blank_of(self, settings: PhotoSettings) -> PhotoFile | None:
        """Return the photo of the blank board that the light is evened by, if one is named."""
        sha256 = None if settings.light is None else settings.light.blank_sha256
        workspace = self._records.workspace
        path = None if sha256 is None or workspace is None else workspace.files.path(sha256)
        if sha256 is None or path is None:
            return None
        return PhotoFile(sha256=sha256, path=path, name=path.name)

    # ---- in the background

    def want_print(self, photo: Photo) -> None:
        """Have a photo for a list, unless it was made before; `picture_ready` tells when."""
        if self.print(photo) is None or (self.stand(photo) or self.refusal(photo)) is None:
            self._prints_wanted[photo.id] = photo
            self._next_print()

    def _next_print(self) -> None:
        """One after the other: what is opened meanwhile does not wait for a list of hundreds."""
        while self._prints_wanted and self._printing is None:
            photo = self._prints_wanted.pop(next(iter(self._prints_wanted)))
            if self.print(photo) is None or (self.stand(photo) or self.refusal(photo)) is None:
                self._printing = photo.id
                self.want(photo)

    def _made(self, photo: Photo) -> None:
        """A photo's pictures are made, or can't be: the next one of a list has its turn."""
        if photo.id == self._printing:
            self._printing = None
            self._next_print()

    def _forget_prints(self) -> None:
        self._prints_wanted, self._printing = {}, None

    def want(self, photo: Photo) -> None:
        """Make preview and flat picture of a photo; `picture_ready` tells when."""
        key = (photo.sha256, photo.settings)
        if photo.sha256 in self._previews and (key in self._flats or key in self._refused):
            self._made(photo)
            return
        request = PictureRequest(
            file=self.file_of(photo),
            settings=photo.settings,
            blank=self.blank_of(photo.settings),
            decoded=self.decoded,
            preview=self.preview(photo),
        )

        def returned(made: Pictured) -> None:
            if self.preview(photo) is not made.preview:
                self._previews.put(photo.sha256, made.preview)
            if self.print(photo) is None:
                self._prints.put(photo.sha256, make_print(made.preview))
            if made.flat is not None:
                self.keep_flat(photo, made.flat)
            else:
                self._refused.put(key, made.refused)
            self._records.events.picture_ready.emit(photo.id)
            self._made(photo)

        def failed(error: Exception) -> None:
            self._say(error)
            self._made(photo)

        self._runner.start(
            f"picture {photo.id}",
            lambda progress: picture_of(request, progress),
            returned=returned,
            failed=failed,
            first=True,
        )

    def keep_flat(self, photo: Photo, flat: Flat) -> None:
        """Keep a flat picture that was made on the way to something else."""
        key = (photo.sha256, photo.settings)
        self._flats.put(key, flat)
        self._stands.put(key, stand_of(flat))
        if flat.view is not None and self._views.get(key) is None:
            self._views.put(key, flat.view)

    # ---- bringing photos in

    def take_in(self, data: Data, name: str, decoded: Callable[[LoadedPhoto], None]) -> None:
        """Decode a photo and keep its file in the background; then `decoded` is called.

        It is decoded first, so that a broken file changes nothing.
        """
        workspace = self._records.workspace
        if workspace is None:
            return
        files = workspace.files

        def returned(loaded: LoadedPhoto) -> None:
            self.decoded.keep(loaded)
            decoded(loaded)

        self._runner.start(
            f"add {name} {next(self._incoming)}",
            lambda progress: _take_in(data, name, files, progress),
            returned=returned,
            failed=self._say,
            first=True,
        )

    def add_photo(
        self,
        data: Data,
        name: str,
        *,
        board: bool,
        watched: bool = False,
        source: Source = Source.FILE,
        use: PhotoUse | None = None,
    ) -> None:
        """Bring a photo in: as a new board or as what it is said to be.

        Where nothing is said it is the target, or for mood if there is one. A watched
        folder's photo is the target if there is none, else a new board.
        """
        finish = self._records.finish
        if finish is None:
            return

        def decoded(loaded: LoadedPhoto) -> None:
            as_board = board or (watched and bool(self._records.targets(finish)))
            photo = self._new_photo(finish, loaded, name, source)
            records: list[Record] = []
            if as_board:
                number = self._records.next_number("board", finish)
                made = Board(finish_id=finish.id, number=number, made_at=now())
                records.append(made)
                photo = replace(photo, board_id=made.id, use=PhotoUse.BOARD)
            elif use is not None:
                photo = replace(photo, use=use, settings=_first_settings(use))
            self._records.add(tr("undo.add_photo", name=name), *records, photo)
            self._records.events.arrived.emit(photo.id, watched)

        self.take_in(data, name, decoded)

    def add_particular(
        self,
        data: Data,
        name: str,
        use: str,
        stage: Stage,
        board: Board | None = None,
        like: Photo | None = None,
        *,
        with_board: bool = False,
    ) -> None:
        """Bring in a photo of anything but a new board.

        `like` is a photo taken from the same place: this one is squared and scaled as that is.
        `with_board` saves `board` together with it.
        """
        finish = self._records.finish
        if finish is None:
            return

        def decoded(loaded: LoadedPhoto) -> None:
            photo = replace(
                self._new_photo(finish, loaded, name, Source.FILE),
                board_id=None if board is None else board.id,
                use=PhotoUse(use),
                settings=_first_settings(PhotoUse(use)) if like is None else like.settings,
                stage=stage,
            )
            records: tuple[Record, ...] = (photo,)
            if with_board and board is not None:
                # Of several that come in together each has its own number.
                number = self._records.next_number(board.kind, finish)
                records = (replace(board, number=number), photo)
            self._records.add(tr("undo.add_photo", name=name), *records)
            self._records.events.arrived.emit(photo.id, False)

        self.take_in(data, name, decoded)

    def _new_photo(self, finish: Finish, loaded: LoadedPhoto, name: str, source: Source) -> Photo:
        """A photo as it comes in, at the end of the others: the target where there is none."""
        others = self._records.photos(finish)
        is_first = not self._records.targets(finish)
        return Photo(
            finish_id=finish.id,
            board_id=None,
            use=PhotoUse.TARGET if is_first else PhotoUse.MOOD,
            sha256=loaded.sha256,
            file_name=name,
            source=source,
            taken=loaded.taken,
            added_at=now(),
            position=max((p.position for p in others), default=-1) + 1,
        )


def _first_settings(use: PhotoUse) -> PhotoSettings:
    """How a photo is made ready at first: of a room all is looked at, of a board the piece."""
    return PhotoSettings(whole_plane=use is PhotoUse.SURROUNDINGS)


def _take_in(data: Data, name: str, files: PhotoFiles, progress: Progress) -> LoadedPhoto:
    content = data if isinstance(data, bytes) else data()
    loaded = decode_photo(content, name)
    progress(0.6)
    files.add(content, name)
    return loaded

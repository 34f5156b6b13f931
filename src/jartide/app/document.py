"""The open workspace as the window sees it: what is chosen, what is known, what can be undone.

Views hold no truth of their own. They show what is here and call its methods;
every change is an undo step that is saved as it is done.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Iterable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QUndoStack

from jartide.app.background import Runner
from jartide.app.commands import PutRecords
from jartide.app.work import (
    Analysis,
    Flat,
    Preview,
    Wanted,
    analyse,
    glance,
    make_flat,
    make_preview,
    read_again,
)
from jartide.devices.source import Source
from jartide.errors import JarTideError
from jartide.wording import tr

if TYPE_CHECKING:
    from jartide.boards.result import Comparison
    from jartide.boards.together import Together
    from jartide.photo.card.find import CardSighting
    from jartide.photo.load import Photo as LoadedPhoto
    from jartide.photo.settings import PhotoSettings
    from jartide.reading.decisions import LayerChoices
    from jartide.reading.places import Places
    from jartide.reading.read import Basis
    from jartide.reading.result import Reading
    from jartide.store.records import Board, Finish, Job, Photo, Record, Surface
    from jartide.store.workspace import Workspace

_KEPT_PHOTOS = 3
_KEPT_PICTURES = 40
_KEPT_FLATS = 20
# Each holds several copies of its picture.
_KEPT_BASES = 2


class _Cache(OrderedDict):
    """Keeps the last few results; what falls out is made again when it is needed."""

    def __init__(self, size: int) -> None:
        super().__init__()
        self._size = size

    def keep(self, key: Any, value: Any) -> None:
        self[key] = value
        self.move_to_end(key)
        while len(self) > self._size:
            self.popitem(last=False)


def _whole_photo(photos: list[Photo]) -> Photo | None:
    """The photo a board is judged by: the first of it finished; a stage is no board."""
    return next((p for p in photos if _is_whole(p)), None)


def _is_whole(photo: Photo) -> bool:
    """Whether a photo shows the finished board, and no stage of it."""
    return photo.use == "board" and not photo.stage.after and not photo.stage.series


class Document(QObject):
    """The workspace, the finish that is open, and everything worked out about it."""

    opened = Signal()
    changed = Signal()  # records changed: jobs, finishes, photos, boards
    picture_ready = Signal(str)  # photo id: its preview and flat picture can be shown
    reading_ready = Signal(str)  # photo id: its reading can be shown
    reading_progressed = Signal(str, float)  # photo id, fraction done
    arrived = Signal(str, bool)  # photo id of a new photo; whether out of the watched folder
    failed = Signal(str)  # one sentence for the painter
    told = Signal(str)  # one sentence that asks for nothing
    removed = Signal(str)  # what was just removed and can be undone

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.runner = Runner(self)
        self.undo_stack = QUndoStack(self)
        self.workspace: Workspace | None = None
        self.finish: Finish | None = None
        self._loaded: _Cache = _Cache(_KEPT_PHOTOS)
        self._previews: _Cache = _Cache(_KEPT_PICTURES)
        self._flats: _Cache = _Cache(_KEPT_FLATS)
        self._analyses: _Cache = _Cache(6)
        self._bases: _Cache = _Cache(_KEPT_BASES)
        self._comparisons: _Cache = _Cache(_KEPT_PICTURES)
        self._pairs: _Cache = _Cache(_KEPT_PICTURES)
        self._togethers: _Cache = _Cache(20)
        self._cards: _Cache = _Cache(_KEPT_PICTURES)
        self._readings: dict[Any, Reading | None] = {}
        # Shown until the full reading is there: what was read before, then a glance.
        self._glances: _Cache = _Cache(6)
        self._refused: dict[Any, str] = {}
        # Photos and boards by finish, until something is written.
        self._listed: dict[tuple[str, str], list[Any]] = {}

    # ---- opening

    def open(self, folder: Path, *, demo: bool, instead: Path | None = None) -> None:
        """Open a workspace in the background; `demo` fills an empty one with the demo job.

        `instead` is opened where `folder` can't be.
        """

        def work(progress: Callable[[float], None]) -> Workspace:
            from jartide.store.demo import fill_with_demo
            from jartide.store.workspace import Workspace

            workspace = Workspace.open(folder)
            if demo and not workspace.jobs():
                fill_with_demo(workspace)
                workspace.set_preference("demo", True)
            return workspace

        def failed(error: Exception) -> None:
            if instead is not None:
                self.open(instead, demo=False)
            self._say(error)

        self.runner.start("open", work, returned=self._opened, failed=failed)

    def _opened(self, workspace: Workspace) -> None:
        self.workspace = workspace
        self._listed.clear()
        self.opened.emit()
        self.changed.emit()

    def restore(self, path: Path) -> None:
        """Put a backup in place of everything that is here; what fails leaves it as it was."""
        assert self.workspace is not None
        folder = self.workspace.folder
        self.finish = None
        self.close()

        def work(progress: Callable[[float], None]) -> tuple[Workspace, str, str]:
            from jartide.store.backup import restore_backup
            from jartide.store.workspace import Workspace

            aside, refused = None, ""
            try:
                aside = restore_backup(path, folder, progress)
            except JarTideError as error:
                refused = str(error)
            kept = "" if aside is None else aside.name
            return Workspace.open(folder), kept, refused

        def returned(found: tuple[Workspace, str, str]) -> None:
            workspace, kept, refused = found
            self._readings.clear()
            self.undo_stack.clear()
            self._opened(workspace)
            if refused:
                self.failed.emit(refused)
            else:
                self.told.emit(tr("backup.restored", file=path.name, folder=kept))

        self.runner.start("open", work, returned=returned, failed=self._say)

    def reload(self) -> None:
        """Something was written that no undo step knows of: read all of it again."""
        self._listed.clear()
        self._readings.clear()
        self.undo_stack.clear()
        self.changed.emit()

    def close(self) -> None:
        """Stop all work and let go of the workspace."""
        self.runner.stop_all()
        if self.workspace is not None:
            self.workspace.close()
            self.workspace = None

    # ---- what there is

    def jobs(self) -> list[tuple[Job, list[Finish]]]:
        """Return all jobs with their finishes."""
        if self.workspace is None:
            return []
        key = ("jobs", "")
        if key not in self._listed:
            finishes = self.workspace.all_finishes()
            self._listed[key] = [(job, finishes.get(job.id, [])) for job in self.workspace.jobs()]
        return list(self._listed[key])

    def job(self) -> Job | None:
        """Return the job of the open finish."""
        if self.finish is None:
            return None
        return next((job for job, _ in self.jobs() if job.id == self.finish.job_id), None)

    def photos(self, finish: Finish | None = None) -> list[Photo]:
        """Return the photos of a finish; of the open one when none is named."""
        finish = finish or self.finish
        if self.workspace is None or finish is None:
            return []
        key = ("photos", finish.id)
        if key not in self._listed:
            self._listed[key] = self.workspace.photos(finish.id)
        return list(self._listed[key])

    def targets(self, finish: Finish | None = None) -> list[Photo]:
        """Return the photos that are the target of a finish, read together."""
        return [p for p in self.photos(finish) if p.use == "target"]

    def target(self, finish: Finish | None = None) -> Photo | None:
        """Return the photo of the target that is shown: the one nearest to all of them."""
        targets = self.targets(finish)
        if not targets:
            return None
        together = self.together() if len(targets) > 1 and finish in (None, self.finish) else None
        return targets[0 if together is None else together.lead]

    def boards(self, finish: Finish | None = None) -> list[tuple[Board, Photo | None]]:
        """Return the test boards of a finish, each with its photo; panels are no boards."""
        return self._pieces("board", finish)

    def panels(self, finish: Finish | None = None) -> list[tuple[Board, Photo | None]]:
        """Return the panels of the wall, each with its photo."""
        return self._pieces("panel", finish)

    def _pieces(self, kind: str, finish: Finish | None) -> list[tuple[Board, Photo | None]]:
        finish = finish or self.finish
        if self.workspace is None or finish is None:
            return []
        key = ("boards", finish.id)
        if key not in self._listed:
            self._listed[key] = self.workspace.boards(finish.id)
        photos = [p for p in self.photos(finish) if p.use == "board"]
        return [
            (board, _whole_photo([p for p in photos if p.board_id == board.id]))
            for board in self._listed[key]
            if board.kind == kind
        ]

    def surfaces(self, finish: Finish) -> list[Surface]:
        """Return the areas of a finish."""
        return [] if self.workspace is None else self.workspace.surfaces(finish.id)

    def preview(self, photo: Photo) -> Preview | None:
        """Return the photo as taken, or None until `picture_ready`."""
        return self._previews.get(photo.sha256)

    def flat(self, photo: Photo) -> Flat | None:
        """Return the squared surface, or None until `picture_ready` or when it can't be had."""
        return self._flats.get((photo.sha256, photo.settings))

    def refusal(self, photo: Photo) -> str | None:
        """Return why a photo can't be prepared as it is set, if it can't."""
        return self._refused.get((photo.sha256, photo.settings))

    def analysis(self, photo: Photo) -> Analysis | None:
        """Return the reading with its layer map, when it was read since the start."""
        key = self._key(photo)
        glanced = self._glances.get(key)
        return self._analyses.get(key) or (glanced if isinstance(glanced, Analysis) else None)

    def reading(self, photo: Photo) -> Reading | None:
        """Return the kept reading of a photo as it is set now.

        Right after a decision on its layers, until it is read so, the one shown before.
        """
        found = self._read(photo)
        if found is not None:
            return found
        glanced = self._glances.get(self._key(photo))
        return glanced.reading if isinstance(glanced, Analysis) else glanced

    def _read(self, photo: Photo) -> Reading | None:
        """The kept reading of a photo as it is set and decided now."""
        key = self._key(photo)
        if key not in self._readings:
            finish = self._finish_of(photo)
            try:
                assert self.workspace is not None
                choices = self.choices(photo)
                self._readings[key] = self.workspace.reading(photo, finish.family, choices=choices)
            except JarTideError:
                self._readings[key] = None  # read again, as if there were none
        return self._readings[key]

    def together(self) -> Together | None:
        """Return the common reading of all photos of the target, once each is read."""
        from jartide.boards.together import read_together

        targets = self.targets()
        readings = [self.reading(photo) for photo in targets]
        whole = [reading for reading in readings if reading is not None]
        if not whole or len(whole) < len(readings):
            return None
        key = tuple(self._key(photo) for photo in targets)
        kept = self._togethers.get(key)
        if kept is None or any(a is not b for a, b in zip(kept[0], whole, strict=True)):
            kept = (whole, read_together(whole))
            self._togethers.keep(key, kept)
        return kept[1]

    def target_reading(self) -> Reading | None:
        """Return what boards are compared with: the target's photos read together."""
        together = self.together()
        return None if together is None else together.reading

    def board_reading(self, photo: Photo) -> Reading | None:
        """Return the reading of a board, from all photos of it as it is finished."""
        from jartide.boards.together import read_together

        own = [
            p
            for p in self.photos()
            if p.board_id is not None and p.board_id == photo.board_id and _is_whole(p)
        ]
        if len(own) < 2 or photo not in own:
            return self.reading(photo)
        readings = [self.reading(p) for p in own]
        whole = [reading for reading in readings if reading is not None]
        if len(whole) < len(own):
            return None
        key = tuple(self._key(p) for p in own)
        kept = self._togethers.get(key)
        if kept is None or any(a is not b for a, b in zip(kept[0], whole, strict=True)):
            kept = (whole, read_together(whole))
            self._togethers.keep(key, kept)
        return kept[1].reading

    def want_board(self, photo: Photo) -> None:
        """Read every photo of a finished board that is not read yet."""
        for other in self.photos():
            if other == photo or (other.board_id == photo.board_id and _is_whole(other)):
                self.want_reading(other)

    def want_target(self, *, with_map: bool = False) -> None:
        """Read every photo of the target that is not read yet."""
        shown = self.target()
        for photo in self.targets():
            self.want_reading(photo, with_map=with_map and photo == shown)

    def comparison(self, board: Photo, viewing_m: float | None = None) -> Comparison | None:
        """Return the comparison of a board's photo with the target, once both are read."""
        from jartide.boards.compare import judged, pair_up

        if self.finish is None:
            return None
        a, b = self.target_reading(), self.board_reading(board)
        if a is None or b is None:
            return None
        viewing_m = viewing_m or self.finish.viewing_m
        # Header, tide and verdict all ask for the same few comparisons at every change.
        key = (id(a), self._key(board), viewing_m, self.finish.tolerance)
        kept = self._comparisons.get(key)
        if kept is None or kept[0] is not a or kept[1] is not b:
            pair = self._pairs.get((id(a), self._key(board)))
            if pair is None or pair[0] is not a or pair[1] is not b:
                # What does not depend on where the eye is; the distance is moved more often.
                pair = (a, b, pair_up(a, b))
                self._pairs.keep((id(a), self._key(board)), pair)
            kept = (a, b, judged(pair[2], viewing_m, self.finish.tolerance))
            self._comparisons.keep(key, kept)
        return kept[2]

    # ---- work in the background

    def want_picture(self, photo: Photo) -> None:
        """Make preview and flat picture of a photo; `picture_ready` tells when."""
        key = (photo.sha256, photo.settings)
        if photo.sha256 in self._previews and (key in self._flats or key in self._refused):
            return

        def work(progress: Callable[[float], None]) -> tuple[Preview, Flat | None, str | None]:
            loaded = self.loaded(photo)
            progress(0.5)
            preview = self._previews.get(photo.sha256) or make_preview(loaded)
            try:
                card, blank = self.found_card(loaded, photo.settings), self._blank(photo.settings)
                return preview, make_flat(loaded, photo.settings, card, blank), None
            except JarTideError as error:
                return preview, None, str(error)

        def returned(result: tuple[Preview, Flat | None, str | None]) -> None:
            preview, flat, refused = result
            self._previews.keep(photo.sha256, preview)
            if flat is not None:
                self._flats.keep(key, flat)
            else:
                self._refused[key] = refused or ""
            self.picture_ready.emit(photo.id)

        self.runner.start(
            f"picture {photo.id}", work, returned=returned, failed=self._say, first=True
        )

    def want_reading(
        self,
        photo: Photo,
        *,
        with_map: bool = False,
        again: bool = False,
    ) -> None:
        """Read a photo unless it is read; `with_map` also when its layer map is not at hand.

        `again` reads it from the file in any case.
        """
        if not again:
            if with_map and self._key(photo) in self._analyses:
                return
            if not with_map and self._read(photo) is not None:
                return
        key, finish = self._key(photo), self._finish_of(photo)
        wanted = self._wanted(photo)
        basis_key = (photo.sha256, photo.settings, finish.family)
        basis = None if again else self._bases.get(basis_key)
        flat = self.flat(photo)

        def work(progress: Callable[[float], None]) -> Analysis:
            if basis is not None and flat is not None:
                return read_again(basis, flat, wanted, progress)
            return self._analysed(photo, wanted, progress)

        def returned(found: Analysis) -> None:
            self._bases.keep(basis_key, found.basis)
            self._analyses.keep(key, replace(found, basis=None))
            self._flats.keep((photo.sha256, photo.settings), found.flat)
            self._readings[key] = found.reading
            if self.workspace is not None and not self.workspace.read_only:
                try:
                    self.workspace.put_reading(
                        photo, finish.family, found.reading, choices=wanted.choices
                    )
                except JarTideError as error:
                    self._say(error)
            self.reading_ready.emit(photo.id)

        self.runner.start(
            f"reading {photo.id}",
            work,
            returned=returned,
            failed=self._say,
            progressed=lambda fraction: self.reading_progressed.emit(photo.id, fraction),
        )

    def _wanted(self, photo: Photo) -> Wanted:
        """Return how a photo is to be read."""
        family = self._finish_of(photo).family
        return Wanted(family=family, choices=self.choices(photo), zones=photo.zones)

    def _analysed(
        self, photo: Photo, wanted: Wanted, progress: Callable[[float], None]
    ) -> Analysis:
        """Prepare and read a photo from its file, in a worker thread."""
        loaded, settings = self.loaded(photo), photo.settings
        card, blank = self.found_card(loaded, settings), self._blank(settings)
        return analyse(loaded, settings, wanted, progress, card, blank)

    def choices(self, photo: Photo) -> LayerChoices | None:
        """Return what the painter has decided of the layers of a photo: of the target only."""
        return self._finish_of(photo).layers if photo.use == "target" else None

    def basis(self, photo: Photo) -> Basis | None:
        """Return what a photo's layers can be fitted again from, while it is at hand."""
        return self._bases.get((photo.sha256, photo.settings, self._finish_of(photo).family))

    def want_places(self, photo: Photo, path: str, show: Callable[[Places], None]) -> None:
        """Find where a measure was taken on a photo; `show` is called with it."""
        analysis, basis = self.analysis(photo), self.basis(photo)
        wanted = self._wanted(photo)

        def work(progress: Callable[[float], None]) -> Places:
            from jartide.reading.places import places_of

            found = analysis
            if found is None or basis is None:
                # Let go since it was read: read once more.
                found = self._analysed(photo, wanted, progress)
            known = basis or found.basis
            assert known is not None
            return places_of(path, known, found.reading, found.layers)

        self.runner.start("places", work, returned=show, failed=self._say, first=True)

    def decide_layers(self, choices: LayerChoices | None, text: str) -> None:
        """Change what is decided of the target's layers; the rest is fitted again at once."""
        finish = self.finish
        if finish is None or choices == finish.layers:
            return
        self.change(text, [finish], [replace(finish, layers=choices)])

    def _shown_now(self) -> dict[str, tuple[PhotoSettings, str, Reading]]:
        """What is shown of each photo of the target, by its id."""
        found = {}
        for photo in self.targets():
            reading = self.reading(photo)
            if reading is not None:
                found[photo.id] = (photo.settings, self._finish_of(photo).family, reading)
        return found

    def _carry_on(self, before: dict[str, tuple[PhotoSettings, str, Reading]]) -> None:
        """After a change, keep showing what is still so, fit layers at once, then read in full."""
        waiting = []
        for photo in self.targets():
            settings, family, reading = before.get(photo.id, (None, "", None))
            same = settings == photo.settings and family == self._finish_of(photo).family
            if same and reading is not None and self._read(photo) is None:
                self._glances.keep(self._key(photo), reading)
                waiting.append(photo)
        if not waiting:
            return
        shown = self.target()
        basis, flat = (None, None) if shown is None else (self.basis(shown), self.flat(shown))
        choices = None if shown is None else self.choices(shown)
        if shown not in waiting or basis is None or flat is None or choices is None:
            self._read_in_full(waiting)
            return
        assert shown is not None
        photo, old, key = shown, before[shown.id][2], self._key(shown)
        self.runner.stop(f"reading {photo.id}")

        def returned(found: Analysis) -> None:
            if key == self._key(photo):
                self._glances.keep(key, found)
                self.reading_ready.emit(photo.id)
                self._read_in_full(waiting)

        self.runner.start(
            f"glance {photo.id}",
            lambda _: glance(basis, flat, choices, old),
            returned=returned,
            failed=self._say,
            first=True,
        )

    def _read_in_full(self, photos: list[Photo]) -> None:
        """Read photos of the target as they are decided now, from what is at hand."""
        shown = self.target()
        for photo in photos:
            self.want_reading(photo, with_map=photo == shown)

    def loaded(self, photo: Photo) -> LoadedPhoto:
        """Decode a photo, in the worker thread; the last few are kept."""
        from jartide.photo.load import decode_photo

        loaded = self._loaded.get(photo.sha256)
        if loaded is None:
            assert self.workspace is not None
            loaded = decode_photo(self.workspace.photo_bytes(photo), photo.file_name)
            self._loaded.keep(photo.sha256, loaded)
        return loaded

    def found_card(self, loaded: LoadedPhoto, settings: PhotoSettings) -> CardSighting | None:
        """Look for the card once for each way of looking, in the worker thread."""
        from jartide.photo.layout import wants_card
        from jartide.photo.prepare import card_for

        if settings.card.ignore:
            return None
        looked = wants_card(settings), settings.chart is None and not settings.neutrals
        key = (loaded.sha256, settings.card.check_mm, looked)
        if key not in self._cards:
            self._cards.keep(key, card_for(loaded, settings))
        return self._cards[key]

    def _blank(self, settings: PhotoSettings) -> LoadedPhoto | None:
        """The photo of the blank board that the light is evened by, if one is named."""
        from jartide.photo.load import decode_photo

        sha256 = None if settings.light is None else settings.light.blank_sha256
        if sha256 is None or self.workspace is None:
            return None
        loaded = self._loaded.get(sha256)
        if loaded is None:
            path = self.workspace.files.path(sha256)
            if path is None:
                return None
            loaded = decode_photo(path.read_bytes(), path.name)
            self._loaded.keep(sha256, loaded)
        return loaded

    def detail(self, photo: Photo) -> LoadedPhoto | None:
        """Return the photo at its full resolution while it is at hand."""
        return self._loaded.get(photo.sha256)

    def in_background(
        self, topic: str, work: Callable[[Callable[[float], None]], Any], returned: Callable
    ) -> None:
        """Do any other work off the interface thread; what fails is said in one sentence."""
        self.runner.start(topic, work, returned=returned, failed=self._say, first=True)

    def set_preference(self, name: str, value: Any) -> None:
        """Keep one of the painter's settings."""
        assert self.workspace is not None
        try:
            self.workspace.set_preference(name, value)
        except JarTideError as error:
            self._say(error)
        self.changed.emit()

    # ---- changes, each an undo step

    def open_finish(self, finish: Finish | None) -> None:
        """Choose the finish the stations work on."""
        self.finish = finish
        self.changed.emit()

    def change(
        self, text: str, old: Iterable[Record], new: Iterable[Record], drag: str = ""
    ) -> None:
        """Replace records by changed ones; both lists go together, None-less and in order.

        Changes of one `drag` name that follow each other are one undo step.
        """
        self.undo_stack.push(PutRecords(self, text, tuple(old), tuple(new), drag))

    def add(self, text: str, *records: Record) -> None:
        """Add new records."""
        from jartide.store.workspace import now

        gone = [replace(record, deleted_at=now()) for record in records]
        self.change(text, gone, records)

    def remove(self, text: str, *records: Record) -> None:
        """Remove records; they can be had back by undo."""
        from jartide.store.workspace import now

        self.change(text, records, [replace(record, deleted_at=now()) for record in records])
        self.removed.emit(text)

    def set_settings(
        self, photo: Photo, settings: PhotoSettings, text: str, drag: str = ""
    ) -> None:
        """Change how a photo is squared, scaled and neutralised."""
        if settings != photo.settings:
            self.change(text, [photo], [replace(photo, settings=settings)], drag)

    def add_photo(
        self,
        data: bytes,
        name: str,
        *,
        board: bool,
        watched: bool = False,
        source: Source = Source.FILE,
    ) -> None:
        """Bring a photo in: as the target, or as a new board, or else for mood.

        A watched folder's photo is the target if there is none, else a new board.

        It is decoded in the background first, so that a broken file changes nothing.
        """
        finish = self.finish
        if finish is None:
            return

        def decoded(loaded: LoadedPhoto, sha256: str) -> None:
            as_board = board or (watched and bool(self.targets(finish)))
            photo_id = self._bring_in(finish, loaded, sha256, name, as_board, source)
            self.arrived.emit(photo_id, watched)

        self.take_in(data, name, decoded)

    def take_in(self, data: bytes, name: str, decoded: Callable[[LoadedPhoto, str], None]) -> None:
        """Decode a photo and keep its file in the background; then `decoded` is called."""
        if self.workspace is None:
            return
        workspace = self.workspace

        def work(progress: Callable[[float], None]) -> tuple[LoadedPhoto, str]:
            from jartide.photo.load import decode_photo

            loaded = decode_photo(data, name)
            progress(0.6)
            return loaded, workspace.files.add(data, name)

        def returned(result: tuple[LoadedPhoto, str]) -> None:
            loaded, sha256 = result
            self._loaded.keep(sha256, loaded)
            decoded(loaded, sha256)

        self.runner.start(
            f"add {name} {len(data)}", work, returned=returned, failed=self._say, first=True
        )

    def _bring_in(
        self,
        finish: Finish,
        loaded: LoadedPhoto,
        sha256: str,
        name: str,
        board: bool,
        source: Source,
    ) -> str:
        from jartide.store.records import Board, Photo, PhotoUse
        from jartide.store.workspace import now

        photos = self.photos(finish)
        records: list[Record] = []
        use = PhotoUse.TARGET if self.target(finish) is None else PhotoUse.MOOD
        board_id = None
        if board:
            number = self.next_number("board", finish)
            new_board = Board(finish_id=finish.id, number=number, made_at=now())
            records.append(new_board)
            board_id, use = new_board.id, PhotoUse.BOARD
        photo = Photo(
            finish_id=finish.id,
            board_id=board_id,
            use=use,
            sha256=sha256,
            file_name=name,
            source=source,
            taken=loaded.taken,
            added_at=now(),
            position=max((p.position for p in photos), default=-1) + 1,
        )
        self.add(tr("undo.add_photo", name=name), *records, photo)
        return photo.id

    def next_number(self, kind: str, finish: Finish) -> int:
        """Return the number of the next board or panel."""
        return max((b.number for b, _ in self._pieces(kind, finish)), default=0) + 1

    # ---- for the undo commands

    def write(self, records: tuple[Record, ...]) -> bool:
        """Save records and tell the views; False, and a sentence, when it can't be done."""
        assert self.workspace is not None
        before = self._shown_now()
        self._listed.clear()
        try:
            self.workspace.put(*records)
        except JarTideError as error:
            self._say(error)
            return False
        for record in records:
            if self.finish is not None and record.id == self.finish.id:
                self.finish = record if record.deleted_at is None else None  # type: ignore[assignment]
        self._carry_on(before)
        self.changed.emit()
        return True

    def _key(self, photo: Photo) -> Any:
        family = self._finish_of(photo).family
        return (photo.sha256, photo.settings, family, self.choices(photo), photo.zones)

    def _finish_of(self, photo: Photo) -> Finish:
        if self.finish is not None and self.finish.id == photo.finish_id:
            return self.finish
        for _, finishes in self.jobs():
            for finish in finishes:
                if finish.id == photo.finish_id:
                    return finish
        raise LookupError(photo.finish_id)

    def _say(self, error: Exception) -> None:
        if isinstance(error, JarTideError):
            self.failed.emit(str(error))
        else:
            self.failed.emit(tr("error.unexpected", what=type(error).__name__))
            raise error

"""The readings of a job's photos: kept ones, those being made, and several photos read as one."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from jartide.boards.together import MOST_PHOTOS, Together, read_together
from jartide.errors import JarTideError
from jartide.job.analysis import (
    Analysis,
    ReadingRequest,
    Wanted,
    analysis_of,
    glance,
    where_measured,
)
from jartide.job.kept import Freshness, Kept, Key, Lately
from jartide.job.pictures import Pictures
from jartide.job.records import Records
from jartide.job.runner import Progress, Runner
from jartide.photo.settings import PhotoSettings
from jartide.reading.decisions import LayerChoices
from jartide.reading.places import Places
from jartide.reading.read import Basis
from jartide.reading.result import Reading
from jartide.store.records import Finish, Photo
from jartide.store.serialise import reading_to_text

# Each basis holds several copies of its picture.
_KEPT_BASES = 2
_KEPT_ANALYSES = 6
# Far more than a finish has photos: those that fall out while all are asked for in turn would be
# fetched again and again.
_KEPT_READINGS = 4000
_KEPT_TOGETHER = 2000
# With more photos than this, nothing that takes long of each is done while the window waits.
MANY_PHOTOS = 12


class Readings:
    """What was read of each photo as it is set and decided now."""

    def __init__(
        self,
        records: Records,
        pictures: Pictures,
        kept: Kept,
        runner: Runner,
        say: Callable[[Exception], None],
    ) -> None:
        self._records, self._pictures, self._runner, self._say = records, pictures, runner, say
        self._analyses = kept.table("analysis", _KEPT_ANALYSES)
        self._bases = kept.table("basis", _KEPT_BASES)
        # None where it was looked for and nothing is kept.
        self._stored = kept.table("reading", _KEPT_READINGS)
        # Shown until the full reading is there: what was read before, then a glance.
        self._glances = kept.table("glance", _KEPT_ANALYSES)
        self._togethers = kept.table("together", _KEPT_TOGETHER)
        self._kept_values = kept
        self._keys = Lately(lambda: (records.state, records.finish))
        self._lately = Lately(lambda: (records.state, records.finish, kept.state))
        # Photos to read, should nothing be kept of them.
        self._wanted: dict[Any, Photo] = {}
        records.events.worked_out.connect(self._want_missing)
        self._shown_before: dict[str, tuple[PhotoSettings, str, Reading]] = {}
        records.events.writing.connect(self._remember)
        records.events.written.connect(self._carry_on)

    # ---- what there is

    def key(self, photo: Photo) -> Any:
        """Return what a reading of a photo depends on."""
        # The photo is kept with its key: no other one takes its place in memory meanwhile.
        return self._keys.once(id(photo), lambda: (photo, self._key(photo)))[1]

    def _key(self, photo: Photo) -> Key:
        family = self._records.finish_of(photo).family
        return Key(photo.sha256, photo.settings, family, self.choices(photo), photo.zones)

    def choices(self, photo: Photo) -> LayerChoices | None:
        """Return what the painter has decided of the layers of a photo: of the target only."""
        return self._records.finish_of(photo).layers if photo.use == "target" else None

    def analysis(self, photo: Photo) -> Analysis | None:
        """Return the reading with its layer map, when it was read since the start."""
        key = self.key(photo)
        glanced = self._glances.get(key)
        return self._analyses.get(key) or (glanced if isinstance(glanced, Analysis) else None)

    def basis(self, photo: Photo) -> Basis | None:
        """Return what a photo's layers can be fitted again from, while it is at hand."""
        return self._bases.get(self._basis_key(photo))

    def _basis_key(self, photo: Photo) -> Any:
        return (photo.sha256, photo.settings, self._records.finish_of(photo).family)

    def of(self, photo: Photo) -> Reading | None:
        """Return the kept reading of a photo as it is set now.

        Right after a decision on its layers, until it is read so, the one shown before.
        """
        found = self._kept(photo)
        if found is not None:
            return found
        glanced = self._glances.get(self.key(photo))
        return glanced.reading if isinstance(glanced, Analysis) else glanced

    @property
    def are_many(self) -> bool:
        """Whether the finish has so many photos that all of it is worked out in the background."""
        return len(self._records.photos()) > MANY_PHOTOS

    def _kept(self, photo: Photo) -> Reading | None:
        """The kept reading of a photo as it is set and decided now; None while it is fetched."""
        key, look = self.key(photo), self._looking_for(photo)
        if self.are_many and photo.use != "target":
            return self._kept_values.worked_out_among_many(self._stored.name, key, look)
        return self._stored.made(key, look)

    def _looking_for(self, photo: Photo) -> Callable[[], Reading | None]:
        workspace, choices = self._records.workspace, self.choices(photo)
        family = self._records.finish_of(photo).family

        def look() -> Reading | None:
            try:
                assert workspace is not None
                return workspace.reading(photo, family, choices=choices)
            except JarTideError:
                return None  # read again, as if there were none

        return look

    def target(self, finish: Finish | None = None) -> Photo | None:
        """Return the photo of the target that is shown: the one nearest to all of them."""
        targets = self._records.targets(finish)
        if not targets:
            return None
        is_open = finish in (None, self._records.finish)
        together = self.together() if len(targets) > 1 and is_open else None
        return targets[0 if together is None else together.lead]

    def together(self) -> Together | None:
        """Return the common reading of all photos of the target, once each is read."""
        return self._together(self._records.targets()[:MOST_PHOTOS])

    def _together(self, photos: list[Photo]) -> Together | None:
        readings = [reading for photo in photos if (reading := self.of(photo)) is not None]
        if not readings or len(readings) < len(photos):
            return None
        key = Key(*(self.key(photo) for photo in photos))

        def read() -> Together:
            return read_together(readings)

        if len(photos) > 1 and self.are_many:
            return self._kept_values.worked_out_among_many("together", key, read, *readings)
        return self._togethers.made(key, read, *readings)

    def of_target(self) -> Reading | None:
        """Return what boards are compared with: the target's photos read together."""
        together = self._lately.once("target", self.together)
        return None if together is None else together.reading

    def of_board(self, photo: Photo) -> Reading | None:
        """Return the reading of a board, from all photos of it as it is finished."""
        # The photo is kept with its answer: no other one takes its place in memory meanwhile.
        return self._lately.once(id(photo), lambda: (photo, self._of_board(photo)))[1]

    def _of_board(self, photo: Photo) -> Reading | None:
        # Of very many the latest say how it is now.
        own = self._records.photos_of_board(photo.board_id)[-MOST_PHOTOS:]
        if len(own) < 2 or photo not in own:
            return self.of(photo)
        together = self._together(own)
        return None if together is None else together.reading

    # ---- in the background

    def want(self, photo: Photo, *, with_map: bool = False, again: bool = False) -> None:
        """Read a photo unless it is read; `with_map` also when its layer map is not at hand.

        `again` reads it from the file in any case.
        """
        key = self.key(photo)
        if not again:
            if with_map and key in self._analyses:
                return
            if not with_map and self._kept(photo) is not None:
                return
            if self._stored.freshness(key) is Freshness.WORKING:
                # It is looked for among those kept: asked again once that is known.
                self._wanted[key] = photo
                return
        request, basis_key = self._request(photo, again=again), self._basis_key(photo)
        family = request.wanted.family

        def work(progress: Progress) -> tuple[Analysis, str]:
            found = analysis_of(request, progress)
            return found, reading_to_text(found.reading)

        def returned(told: tuple[Analysis, str]) -> None:
            found, text = told
            if found.basis is not request.basis:
                self._bases.put(basis_key, found.basis)
            self._analyses.put(key, replace(found, basis=None))
            if found.flat is not request.flat:
                self._pictures.keep_flat(photo, found.flat)
            self._stored.put(key, found.reading)
            workspace = self._records.workspace
            if workspace is not None and not workspace.read_only:
                try:
                    workspace.put_reading(photo, family, text, choices=request.wanted.choices)
                except JarTideError as error:
                    self._say(error)
            self._records.events.reading_ready.emit(photo.id)

        self._runner.start(
            _topic(photo),
            work,
            returned=returned,
            failed=self._say,
            progressed=lambda fraction: self._records.events.reading_progressed.emit(
                photo.id, fraction
            ),
        )

    def _want_missing(self) -> None:
        """Read what was wanted while it was looked for, and is not among what is kept."""
        for key, photo in tuple(self._wanted.items()):
            if self._stored.freshness(key) is not Freshness.WORKING:
                del self._wanted[key]
                # The painter may have gone on to another finish, or taken it away.
                if self._records.photo(photo.id) is not None and key == self.key(photo):
                    self.want(photo)

    def _request(self, photo: Photo, *, again: bool = False) -> ReadingRequest:
        family = self._records.finish_of(photo).family
        return ReadingRequest(
            file=self._pictures.file_of(photo),
            settings=photo.settings,
            blank=self._pictures.blank_of(photo.settings),
            decoded=self._pictures.decoded,
            wanted=Wanted(family=family, choices=self.choices(photo), zones=photo.zones),
            basis=None if again else self.basis(photo),
            flat=self._pictures.flat(photo),
        )

    def want_board(self, photo: Photo) -> None:
        """Read every photo of a finished board that is not read yet."""
        own = self._records.photos_of_board(photo.board_id)
        for other in own if photo in own else [photo, *own]:
            self.want(other)

    def want_target(self, *, with_map: bool = False) -> None:
        """Read every photo of the target that is not read yet."""
        shown = self.target()
        for photo in self._records.targets():
            self.want(photo, with_map=with_map and photo == shown)

    def want_places(self, photo: Photo, path: str, show: Callable[[Places], None]) -> None:
        """Find where a measure was taken on a photo; `show` is called with it."""
        analysis, request = self.analysis(photo), self._request(photo)
        self._runner.start(
            "places",
            lambda progress: where_measured(path, request, analysis, progress),
            returned=show,
            failed=self._say,
            first=True,
        )

    def stop(self, photos: list[Photo]) -> None:
        """Stop reading photos; what is read stays, the rest can be asked for again."""
        for photo in photos:
            self._runner.stop(_topic(photo))

    # ---- what the painter decides

    def decide_layers(self, choices: LayerChoices | None, words: str) -> None:
        """Change what is decided of the target's layers; the rest is fitted again at once."""
        finish = self._records.finish
        if finish is not None and choices != finish.layers:
            self._records.change(words, [finish], [replace(finish, layers=choices)])

    def _remember(self) -> None:
        """Records are about to be written: what is shown of each photo of the target."""
        self._shown_before = {}
        for photo in self._records.targets():
            reading = self.of(photo)
            if reading is not None:
                family = self._records.finish_of(photo).family
                self._shown_before[photo.id] = (photo.settings, family, reading)

    def _carry_on(self) -> None:
        """After a change, keep showing what is still so, fit layers at once, then read in full."""
        before, waiting = self._shown_before, []
        for photo in self._records.targets():
            settings, family, reading = before.get(photo.id, (None, "", None))
            same = settings == photo.settings and family == self._records.finish_of(photo).family
            if same and reading is not None and self._kept(photo) is None:
                self._glances.put(self.key(photo), reading)
                waiting.append(photo)
        if not waiting:
            return
        shown = self.target()
        basis = None if shown is None else self.basis(shown)
        flat = None if shown is None else self._pictures.flat(shown)
        choices = None if shown is None else self.choices(shown)
        if shown not in waiting or basis is None or flat is None or choices is None:
            self._read_in_full(waiting)
            return
        assert shown is not None
        photo, old, key = shown, before[shown.id][2], self.key(shown)
        self._runner.stop(_topic(photo))

        def returned(found: Analysis) -> None:
            if key == self.key(photo):
                self._glances.put(key, found)
                self._records.events.reading_ready.emit(photo.id)
                self._read_in_full(waiting)

        self._runner.start(
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
            self.want(photo, with_map=photo == shown)


def _topic(photo: Photo) -> str:
    return f"reading {photo.id}"

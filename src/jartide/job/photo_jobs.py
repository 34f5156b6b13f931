"""What the Photos station asks for beyond settings: lists, other photos, devices."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np

from jartide.colour.spaces import linear_to_lab
from jartide.colour.words import Lab
from jartide.devices.colour_reader import Illuminant
from jartide.devices.registry import Kind
from jartide.devices.source import Source
from jartide.errors import CardError, DeviceError
from jartide.job.decoded import Decoded, PhotoFile
from jartide.job.open_job import OpenJob
from jartide.job.outside_devices import offered
from jartide.job.runner import Progress
from jartide.photo.card.design import CardSize
from jartide.photo.card.files import card_file
from jartide.photo.layout import layout_of
from jartide.photo.neutral import crop
from jartide.photo.prepare import prepare
from jartide.photo.same_thing import length_from
from jartide.photo.settings import KnownLength, KnownPatch, PhotoSettings, Sheen
from jartide.photo.sheen import estimate_sheen
from jartide.store.records import Photo
from jartide.studio.camera_stand import CameraStand, StandSettings
from jartide.wording import tr

# Pictures are compared for their sheen at so many pixels.
_SHEEN_PX = 200_000
_LENGTHS, _COLOURS = "known_lengths", "known_colours"


class PhotoJobs:
    """Jobs of the photos of an open job; slow ones run in its background."""

    def __init__(self, job: OpenJob) -> None:
        self._job = job
        self._stand: CameraStand | None = None

    # ---- the painter's lists

    def lengths(self) -> tuple[tuple[str, float], ...]:
        """Return the lengths the painter keeps: (name, mm)."""
        return tuple((name, float(mm)) for name, mm in self._kept(_LENGTHS))

    def colours(self) -> tuple[tuple[str, Lab], ...]:
        """Return the colours the painter keeps: (name, Lab D65)."""
        return tuple((name, (lab[0], lab[1], lab[2])) for name, lab in self._kept(_COLOURS))

    def keep_length(self, name: str, length_mm: float) -> None:
        """Keep a length under a name; the same name again replaces it."""
        self._keep(_LENGTHS, name, length_mm)

    def keep_colour(self, name: str, lab: Lab) -> None:
        """Keep a colour under a name."""
        self._keep(_COLOURS, name, [round(v, 2) for v in lab])

    def forget_length(self, name: str) -> None:
        """Take a length off the list."""
        self._keep(_LENGTHS, name, None)

    def forget_colour(self, name: str) -> None:
        """Take a colour off the list."""
        self._keep(_COLOURS, name, None)

    def _kept(self, which: str) -> list[Any]:
        workspace = self._job.workspace
        return [] if workspace is None else workspace.preference(which, [])

    def _keep(self, which: str, name: str, value: object) -> None:
        """Put a value under a name; None takes the name off."""
        if self._job.workspace is not None:
            kept = [item for item in self._kept(which) if item[0] != name]
            if value is not None:
                kept.append([name, value])
            self._job.records.set_preference(which, sorted(kept))

    def patch_colour(self, photo: Photo, patch: KnownPatch) -> Lab | None:
        """Return what a patch of a corrected photo is; None without a known white."""
        loaded, flat = self._job.pictures.detail(photo), self._job.pictures.flat(photo)
        if patch.lightness is not None:
            return patch.lightness, patch.a, patch.b
        if loaded is None or flat is None or not flat.prepared.picture.exposure_known:
            return None
        light = loaded.linear(crop(loaded, patch.rect, "word.patch")).reshape(-1, 3).mean(axis=0)
        lab = linear_to_lab(flat.prepared.picture.correction.apply(light[None])[0].astype(float))
        return float(lab[0]), float(lab[1]), float(lab[2])

    # ---- other photos

    def length_from(self, photo: Photo, other: Photo, title: str) -> None:
        """Carry the scale of another photo of the same thing over to this one."""
        pictures = self._job.pictures
        decoded, files = pictures.decoded, (pictures.file_of(other), pictures.file_of(photo))
        settings = other.settings

        def returned(known: KnownLength) -> None:
            new = replace(photo.settings, known_length=known)
            self._job.records.set_settings(photo, new, tr("undo.length"))

        self._job.in_background(
            f"length {photo.id}",
            lambda progress: _carried(decoded, files, settings, title, progress),
            returned,
        )

    def sheen_from(self, photo: Photo, mirror: Photo) -> None:
        """Estimate the sheen from this photo and one taken at the mirror angle."""
        pictures = self._job.pictures
        pair = tuple((pictures.file_of(one), one.settings) for one in (photo, mirror))

        def returned(sheen: Sheen) -> None:
            new = replace(photo.settings, sheen=sheen)
            self._job.records.set_settings(photo, new, tr("undo.sheen"))

        self._job.in_background(
            f"sheen {photo.id}",
            lambda progress: _sheen(pictures.decoded, pair, progress),
            returned,
        )

    # ---- the card, and devices

    def print_card(self, path: Path, size: str) -> None:
        """Write a card of a size to a file, PDF unless its name says otherwise."""

        def work(progress: Callable[[float], None]) -> None:
            data = card_file(CardSize(size), path.suffix.lower() or ".pdf")
            try:
                path.write_bytes(data)
            except OSError as error:
                why = error.strerror or type(error).__name__
                raise CardError("error.file", why=why) from error

        self._job.in_background("print", work, lambda _: None)

    def take_photo(self, settings: StandSettings) -> None:
        """Let the camera on its stand take a photo into the job."""
        device = offered(self._job.records, Kind.CAMERA)
        if device is None:
            return
        if self._stand is None:
            self._stand = device.make()
        stand = self._stand
        stand.settings = settings

        def work(progress: Callable[[float], None]) -> bytes:
            return stand.take()

        def returned(data: bytes) -> None:
            name = tr("stand.file", number=stand.taken)
            self._job.pictures.add_photo(data, name, board=False, source=device.source)

        self._job.in_background("stand", work, returned)

    def read_colour(
        self, photo: Photo, at: tuple[float, float], illuminant: str, aperture_mm: float
    ) -> Any:
        """Lay the reader on the squared surface under a point of the photo; what it says, and
        where that comes from.

        Raises
        ------
        DeviceError : one sentence, when it lies beside the surface.
        """
        device = offered(self._job.records, Kind.COLOUR_READER)
        flat = self._job.pictures.flat(photo)
        place = None if flat is None else flat.flat_px(at)
        if device is None or flat is None or place is None:
            raise DeviceError("error.reader.edge")
        if device.source is not Source.STAND_IN:
            return device.make().read(), device.source  # a real one lies on the wall itself
        seed = int(np.random.default_rng().integers(2**31))  # every reading has its own noise
        reader = device.make(Illuminant(illuminant), aperture_mm, seed)
        light = flat.prepared.picture.rgb_linear.astype(np.float32)
        reader.lay_on(light, flat.mm_per_px, place)
        return reader.read(), device.source


def _carried(
    decoded: Decoded,
    files: tuple[PhotoFile, PhotoFile],
    settings: PhotoSettings,
    title: str,
    progress: Progress,
) -> KnownLength:
    """The known length that an earlier photo, set so, gives to another of the same thing."""
    earlier = decoded.photo(files[0])
    card = decoded.card(earlier, settings)
    progress(0.3)
    layout = layout_of(earlier, settings, card)
    return length_from(earlier, layout, decoded.photo(files[1]), title)


def _sheen(
    decoded: Decoded, pair: tuple[tuple[PhotoFile, PhotoSettings], ...], progress: Progress
) -> Sheen:
    found = []
    for file, settings in pair:
        loaded = decoded.photo(file)
        card = decoded.card(loaded, settings)
        even = replace(settings, light=None)
        found.append(prepare(loaded, even, _SHEEN_PX, card=card))
        progress(0.5)
    first, second = found
    return estimate_sheen(first, second)

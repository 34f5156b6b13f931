"""What the Photos station asks for beyond settings: lists, other photos, devices."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from jartide.app.document import Document
from jartide.app.outside_devices import offered
from jartide.colour.words import Lab
from jartide.devices.registry import Kind
from jartide.devices.source import Source
from jartide.wording import tr

if TYPE_CHECKING:
    from jartide.photo.settings import KnownPatch
    from jartide.store.records import Photo
    from jartide.studio.camera_stand import CameraStand, StandSettings

_LENGTHS, _COLOURS = "known_lengths", "known_colours"


class PhotoJobs:
    """Jobs of one document's photos; slow ones run in its background."""

    def __init__(self, document: Document) -> None:
        self._document = document
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
        workspace = self._document.workspace
        return [] if workspace is None else workspace.preference(which, [])

    def _keep(self, which: str, name: str, value: object) -> None:
        """Put a value under a name; None takes the name off."""
        if self._document.workspace is not None:
            kept = [item for item in self._kept(which) if item[0] != name]
            if value is not None:
                kept.append([name, value])
            self._document.set_preference(which, sorted(kept))

    def patch_colour(self, photo: Photo, patch: KnownPatch) -> Lab | None:
        """Return what a patch of a corrected photo is; None without a known white."""
        from jartide.colour.spaces import linear_to_lab
        from jartide.photo.neutral import crop

        loaded, flat = self._document.detail(photo), self._document.flat(photo)
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
        document = self._document

        def work(progress: Callable[[float], None]) -> Any:
            from jartide.photo.layout import layout_of
            from jartide.photo.same_thing import length_from

            earlier = document.loaded(other)
            card = document.found_card(earlier, other.settings)
            progress(0.3)
            layout = layout_of(earlier, other.settings, card)
            return length_from(earlier, layout, document.loaded(photo), title)

        def returned(known: Any) -> None:
            new = replace(photo.settings, known_length=known)
            document.set_settings(photo, new, tr("undo.length"))

        document.in_background(f"length {photo.id}", work, returned)

    def sheen_from(self, photo: Photo, mirror: Photo) -> None:
        """Estimate the sheen from this photo and one taken at the mirror angle."""
        document = self._document

        def work(progress: Callable[[float], None]) -> Any:
            from jartide.photo.prepare import prepare
            from jartide.photo.sheen import estimate_sheen

            pictures = []
            for one in (photo, mirror):
                loaded = document.loaded(one)
                card = document.found_card(loaded, one.settings)
                even = replace(one.settings, light=None)
                pictures.append(prepare(loaded, even, 200_000, card=card))
                progress(0.5)
            return estimate_sheen(*pictures)

        def returned(sheen: Any) -> None:
            new = replace(photo.settings, sheen=sheen)
            document.set_settings(photo, new, tr("undo.sheen"))

        document.in_background(f"sheen {photo.id}", work, returned)

    # ---- the card, and devices

    def print_card(self, path: Path, size: str) -> None:
        """Write a card of a size to a file, PDF unless its name says otherwise."""

        def work(progress: Callable[[float], None]) -> None:
            from jartide.errors import CardError
            from jartide.photo.card.design import CardSize
            from jartide.photo.card.files import card_file

            data = card_file(CardSize(size), path.suffix.lower() or ".pdf")
            try:
                path.write_bytes(data)
            except OSError as error:
                why = error.strerror or type(error).__name__
                raise CardError("error.file", why=why) from error

        self._document.in_background("print", work, lambda _: None)

    def take_photo(self, settings: StandSettings) -> None:
        """Let the camera on its stand take a photo into the job."""
        document = self._document
        device = offered(document, Kind.CAMERA)
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
            document.add_photo(data, name, board=False, source=device.source)

        document.in_background("stand", work, returned)

    def read_colour(
        self, photo: Photo, at: tuple[float, float], illuminant: str, aperture_mm: float
    ) -> Any:
        """Lay the reader on the squared surface under a point of the photo; what it says, and
        where that comes from.

        Raises
        ------
        DeviceError : one sentence, when it lies beside the surface.
        """
        import numpy as np

        from jartide.devices.colour_reader import Illuminant
        from jartide.errors import DeviceError

        device = offered(self._document, Kind.COLOUR_READER)
        flat = self._document.flat(photo)
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

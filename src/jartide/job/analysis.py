"""A photo as it was read: its reading, with what it was read from."""

from __future__ import annotations

from dataclasses import dataclass, replace

from jartide.job.decoded import Decoded, PhotoFile
from jartide.job.flat import Flat, flat_of
from jartide.job.runner import Progress
from jartide.photo.card.find import CardSighting
from jartide.photo.load import Photo as LoadedPhoto
from jartide.photo.prepare import prepare_in_full
from jartide.photo.settings import PhotoSettings
from jartide.reading.decisions import LayerChoices
from jartide.reading.layers.layer_map import LayerMap, glance_chosen
from jartide.reading.places import Places, places_of
from jartide.reading.read import Basis, find_basis, read_basis
from jartide.reading.result import Reading
from jartide.reading.zones import Zone


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Analysis:
    """A reading with what it was read from: the flat picture and the layers at each pixel.

    `basis` is what its layers can be fitted again from; None when it was let go.
    """

    reading: Reading
    flat: Flat
    layers: LayerMap
    basis: Basis | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Wanted:
    """How a photo is to be read: family, what is decided of its layers, zones."""

    family: str
    choices: LayerChoices | None = None
    zones: tuple[Zone, ...] = ()


def analyse(
    photo: LoadedPhoto,
    settings: PhotoSettings,
    wanted: Wanted,
    progress: Progress,
    card: CardSighting | None,
    blank: LoadedPhoto | None,
) -> Analysis:
    """Prepare and read a photo."""
    prepared = prepare_in_full(photo, settings, card=card, blank=blank)
    progress(0.15)
    basis = find_basis(
        prepared.picture, wanted.family, progress=lambda fraction: progress(0.15 + 0.4 * fraction)
    )
    return read_again(basis, flat_of(photo, settings, prepared), wanted, progress)


def read_again(basis: Basis, flat: Flat, wanted: Wanted, progress: Progress) -> Analysis:
    """Read what was prepared before, as it is decided now."""
    reading, layers = read_basis(
        basis, lambda fraction: progress(0.55 + 0.45 * fraction), wanted.choices, wanted.zones
    )
    return Analysis(reading=reading, flat=flat, layers=layers, basis=basis)


def glance(basis: Basis, flat: Flat, choices: LayerChoices, before: Reading) -> Analysis:
    """Fit the layers at once to what was just decided; the pattern is as it was before."""
    layers = glance_chosen(basis.evidence, choices)
    pattern = replace(before.pattern, lines_by_layer=())
    reading = replace(before, layers=layers.layers, pattern=pattern, zones=())
    return Analysis(reading=reading, flat=flat, layers=layers)


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class ReadingRequest:
    """A photo that is to be read: its file, how it is set, what is decided of it.

    `basis` and `flat` are what it can be read again from, where they are at hand.
    """

    file: PhotoFile
    settings: PhotoSettings
    blank: PhotoFile | None
    decoded: Decoded
    wanted: Wanted
    basis: Basis | None = None
    flat: Flat | None = None


def analysis_of(request: ReadingRequest, progress: Progress) -> Analysis:
    """Read a photo as it is asked for.

    Raises
    ------
    JarTideError : when its file is gone, can't be opened or can't be read.
    """
    if request.basis is not None and request.flat is not None:
        return read_again(request.basis, request.flat, request.wanted, progress)
    loaded, settings = request.decoded.photo(request.file), request.settings
    card = request.decoded.card(loaded, settings)
    blank = None if request.blank is None else request.decoded.photo(request.blank)
    return analyse(loaded, settings, request.wanted, progress, card, blank)


def where_measured(
    path: str, request: ReadingRequest, known: Analysis | None, progress: Progress
) -> Places:
    """Return where on a photo a measure was taken; what was let go is read once more."""
    found = known if known is not None and request.basis is not None else None
    found = found or analysis_of(request, progress)
    basis = request.basis or found.basis
    assert basis is not None
    return places_of(path, basis, found.reading, found.layers)

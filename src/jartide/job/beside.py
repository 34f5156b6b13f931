"""What can stand beside the target in Reading: a board, another photo of it, a zone."""

from __future__ import annotations

from dataclasses import dataclass, replace

from jartide.job.readings import Readings
from jartide.job.records import Records
from jartide.reading.result import Reading
from jartide.store.records import Photo
from jartide.wording import tr


@dataclass(frozen=True, slots=True, kw_only=True)
class Beside:
    """One thing to stand beside the target: its photo (None for a zone of the same) and reading."""

    key: str
    words: str
    photo: Photo | None
    reading: Reading


def things_beside(records: Records, readings: Readings) -> list[Beside]:
    """Return all that is read and can stand beside the target, boards first, newest first."""
    target = readings.target()
    if target is None:
        return []
    found: list[Beside] = []
    for board, photo in reversed(records.boards()):
        reading = None if photo is None else readings.of(photo)
        if photo is not None and reading is not None:
            words = tr("beside_what.board", number=board.number)
            found.append(Beside(key=f"photo {photo.id}", words=words, photo=photo, reading=reading))
    for number, photo in enumerate(records.targets(), start=1):
        reading = readings.of(photo)
        if photo.id != target.id and reading is not None:
            words = tr("beside_what.photo", number=number)
            found.append(Beside(key=f"photo {photo.id}", words=words, photo=photo, reading=reading))
    own = readings.of(target)
    # Zones that were just changed are not read yet.
    read = () if own is None or len(own.zones) != len(target.zones) else own.zones
    for number, zone in enumerate(read, start=1):
        assert own is not None
        words = tr("beside_what.zone", number=number, kind=tr(f"zone.{zone.kind}"))
        layers = zone.layers or own.layers
        as_whole = replace(own, family=zone.family, layers=layers, pattern=zone.pattern, zones=())
        found.append(Beside(key=f"zone {number}", words=words, photo=None, reading=as_whole))
    return found

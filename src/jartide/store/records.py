"""What the workspace keeps, as frozen records. A record is saved whole, under its id.

Deleting sets `deleted_at`; nothing is lost until the painter sweeps. Times are
UTC, ISO 8601 with their zone.
"""

from __future__ import annotations

import uuid
from dataclasses import dataclass, field
from enum import StrEnum

from jartide.boards.compare import TOLERANCE
from jartide.photo.settings import PhotoSettings
from jartide.reading.decisions import LayerChoices
from jartide.reading.zones import Zone
from jartide.store.jar_records import Mix, Tin


def new_id() -> str:
    """Return a fresh UUID."""
    return str(uuid.uuid4())


class PhotoUse(StrEnum):
    """What a photo is for."""

    TARGET = "target"
    BOARD = "board"
    SURROUNDINGS = "surroundings"
    MOOD = "mood"


class BoardCheck(StrEnum):
    """What the painter ticks before a board is judged."""

    DRY = "dry"
    CLEAN = "clean"
    SAME_LAMP = "same_lamp"
    CARD_ON_FACE = "card_on_face"


@dataclass(frozen=True, slots=True, kw_only=True)
class Job:
    """A client's job at a place."""

    id: str = field(default_factory=new_id)
    name: str
    client: str = ""
    place: str = ""
    position: int = 0
    created_at: str
    deleted_at: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Finish:
    """One finish of a job; `tolerance` and `viewing_m` are the painter's for judging boards.

    `layers` is what the painter has decided of the target's layers; None as read.
    """

    id: str = field(default_factory=new_id)
    job_id: str
    name: str
    note: str = ""
    family: str = "auto"
    viewing_m: float = 2.0
    tolerance: float = TOLERANCE
    layers: LayerChoices | None = None
    position: int = 0
    deleted_at: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Surface:
    """An area in the building that gets the finish."""

    id: str = field(default_factory=new_id)
    finish_id: str
    name: str
    width_mm: float
    height_mm: float
    count: int = 1
    deleted_at: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Board:
    """A test board, numbered within its finish; `checks` are what the painter has ticked."""

    id: str = field(default_factory=new_id)
    finish_id: str
    number: int
    remark: str = ""
    checks: tuple[BoardCheck, ...] = ()
    made_at: str
    deleted_at: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Photo:
    """A photo in a finish. The file itself lies untouched under `sha256`.

    `zones` are the parts of the piece that are read by themselves.
    """

    id: str = field(default_factory=new_id)
    finish_id: str
    board_id: str | None = None
    use: PhotoUse = PhotoUse.TARGET
    sha256: str
    file_name: str
    taken: str | None = None
    added_at: str
    position: int = 0
    settings: PhotoSettings = field(default_factory=PhotoSettings)
    zones: tuple[Zone, ...] = ()
    deleted_at: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadingKey:
    """What a reading depends on; two readings with one key are the same reading."""

    sha256: str
    settings_revision: str
    family: str
    algorithm: str
    seed: int = 0


Record = Job | Finish | Surface | Board | Photo | Tin | Mix

"""What the workspace keeps, as frozen records. A record is saved whole, under its id.

Deleting sets `deleted_at`; nothing is lost until the painter sweeps. Times are
UTC, ISO 8601 with their zone.
"""

from __future__ import annotations

import uuid
from dataclasses import dataclass, field
from enum import StrEnum

from jartide.boards.log import Logged, State
from jartide.boards.result import TOLERANCE, USUAL_VIEWING_M
from jartide.colour.words import Lab
from jartide.devices.source import Source
from jartide.photo.settings import PhotoSettings, Shape
from jartide.plan.progress import Done
from jartide.plan.site import Site
from jartide.plan.step import Step, Taken
from jartide.plan.work import Answer, Moved, PlannedBoard, Work
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
    WATCHED = "watched"
    PRACTICE = "practice"


class BoardKind(StrEnum):
    """A test board, or a piece of the finished work."""

    BOARD = "board"
    PANEL = "panel"


class BoardCheck(StrEnum):
    """What the painter ticks before a board is judged."""

    DRY = "dry"
    CLEAN = "clean"
    SAME_LAMP = "same_lamp"
    CARD_ON_FACE = "card_on_face"


@dataclass(frozen=True, slots=True, kw_only=True)
class Job:
    """A client's job at a place; `archived_at` when it was put away, None while it is worked on."""

    id: str = field(default_factory=new_id)
    name: str
    client: str = ""
    place: str = ""
    position: int = 0
    created_at: str
    archived_at: str | None = None
    deleted_at: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Approval:
    """A board signed off, by whom and when."""

    board_id: str
    who: str
    at: str


@dataclass(frozen=True, slots=True, kw_only=True)
class RoomColour:
    """A colour of the room that the finish will stand beside."""

    name: str
    lab: Lab
    photo_id: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Finish:
    """One finish of a job; `tolerance` and `viewing_m` are the painter's for judging boards.

    Attributes
    ----------
    layers : what the painter has decided of the target's layers; None as read
    approval : the board that was signed off; it is the target of the wall
    room : colours picked from the room's photo
    """

    id: str = field(default_factory=new_id)
    job_id: str
    name: str
    note: str = ""
    family: str = "auto"
    viewing_m: float = USUAL_VIEWING_M
    tolerance: float = TOLERANCE
    layers: LayerChoices | None = None
    approval: Approval | None = None
    room: tuple[RoomColour, ...] = ()
    position: int = 0
    deleted_at: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Surface:
    """An area in the building that gets the finish; sizes as its shape means them."""

    id: str = field(default_factory=new_id)
    finish_id: str
    name: str
    width_mm: float
    height_mm: float
    count: int = 1
    site: Site = field(default_factory=Site)
    deleted_at: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Board:
    """A test board, or a panel of the wall, numbered within its finish.

    Attributes
    ----------
    checks : what the painter has ticked
    section, who, jar : of a panel: where it is, who painted it, out of which jar
    without : of a board or a field of it: the pass that was left out, by its name
    """

    id: str = field(default_factory=new_id)
    finish_id: str
    number: int
    kind: BoardKind = BoardKind.BOARD
    remark: str = ""
    checks: tuple[BoardCheck, ...] = ()
    section: str = ""
    who: str = ""
    jar: str = ""
    without: str = ""
    made_at: str
    deleted_at: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Entry:
    """One entry of a board's log; `corrects` is the id of the one it stands for."""

    id: str = field(default_factory=new_id)
    board_id: str
    at: str
    corrects: str = ""
    logged: Logged
    deleted_at: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Plan:
    """The plan of a finish, and what has been done of it.

    Attributes
    ----------
    schools : what the painter has chosen between schools
    boards : test boards that are painted by it
    acknowledged : cautions ticked off
    """

    id: str = field(default_factory=new_id)
    finish_id: str
    steps: tuple[Step, ...] = ()
    schools: tuple[Taken, ...] = ()
    work: Work = field(default_factory=Work)
    boards: tuple[PlannedBoard, ...] = ()
    done: tuple[Done, ...] = ()
    moved: tuple[Moved, ...] = ()
    acknowledged: tuple[str, ...] = ()
    answers: tuple[Answer, ...] = ()
    deleted_at: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Stage:
    """When in the work a photo was taken.

    Attributes
    ----------
    after : id of the log's entry of the pass it was taken after; "" of the finished board
    state : wet, dry or sealed; None when nobody said
    series : name of the timed series it belongs to; "" of none
    minutes : since the series began
    person : who painted the strokes of a practice sheet
    """

    after: str = ""
    state: State | None = None
    series: str = ""
    minutes: float = 0.0
    person: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Fault:
    """A fault of the work that the painter has named, where it lies on the photo."""

    kind: str
    shape: Shape


@dataclass(frozen=True, slots=True, kw_only=True)
class Photo:
    """A photo in a finish. The file itself lies untouched under `sha256`.

    Attributes
    ----------
    zones : the parts of the piece that are read by themselves
    stage : when it was taken
    faults : what of the work has gone wrong; left out of the reading
    source : a stand-in for a camera takes photos of made-up boards
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
    stage: Stage = field(default_factory=Stage)
    faults: tuple[Fault, ...] = ()
    source: Source = Source.FILE
    deleted_at: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadingKey:
    """What a reading depends on; two readings with one key are the same reading."""

    sha256: str
    settings_revision: str
    family: str
    algorithm: str
    seed: int = 0


Record = Job | Finish | Surface | Board | Photo | Tin | Mix | Entry | Plan

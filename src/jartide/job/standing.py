"""How far each station's work has come: what the header says of it."""

from __future__ import annotations

from dataclasses import dataclass

from jartide.boards.closeness import closeness
from jartide.job.open_job import OpenJob
from jartide.photo.layout import has_scale
from jartide.store.records import Photo
from jartide.wording import tr

# Photos that are only looked at need no scale.
ONLY_LOOKED_AT = ("mood", "surroundings", "watched")


@dataclass(frozen=True, slots=True, kw_only=True)
class Standing:
    """What is said of one station: a note, and how much of its work is done, 0 to 1."""

    note: str
    level: float


def is_ready(job: OpenJob, photo: Photo) -> bool:
    """Whether lengths and colours can be measured on a photo."""
    flat = job.pictures.flat(photo)
    if flat is None:
        s = photo.settings
        return has_scale(s) and bool(s.neutrals or s.chart or s.scan)
    return flat.mm_per_px is not None and flat.prepared.picture.balance_known


def of_photos(job: OpenJob) -> Standing:
    """Return how many photos there are, and how many are ready."""
    photos = job.records.photos()
    if not photos:
        return Standing(note=tr("photos.none"), level=0.0)
    ready = sum(p.use in ONLY_LOOKED_AT or is_ready(job, p) for p in photos)
    return Standing(note=tr("photos.count", count=len(photos)), level=ready / len(photos))


def of_reading(job: OpenJob) -> Standing:
    """Return how many layers were read."""
    reading = job.readings.of_target()
    if reading is None:
        return Standing(note=tr("reading.not_read"), level=0.0)
    return Standing(note=tr("reading.layers", count=len(reading.layers)), level=1.0)


def of_jars(job: OpenJob) -> Standing:
    """Return how many mixes were found and mixed."""
    jars = job.jars.all()
    mixed = sum(1 for _, mix in jars if mix.mixed_ml > 0)
    found = sum(1 for _, mix in jars if mix.parts)
    if not found:
        note = tr("header.jars_none")
    elif not mixed:
        note = tr("header.jars_found", done=found, all=len(jars))
    else:
        note = tr("header.jars_mixed", done=mixed, all=len(jars))
    return Standing(note=note, level=(found + mixed) / (2 * len(jars)) if jars else 0.0)


def of_steps(job: OpenJob) -> Standing:
    """Return how far the plan is worked off, and what asks for a hand."""
    if job.readings.of_target() is None or not job.plan.surfaces():
        return Standing(note=tr("steps.none"), level=0.0)
    if not job.plan.is_kept():
        return Standing(note=tr("steps.proposed"), level=0.05)
    blocks = job.plan.timed().blocks
    whole = max(len(blocks), 1)
    done = sum(b.state in ("done", "drying", "look") for b in blocks)
    for state in ("look", "running", "drying"):
        if any(block.state == state for block in blocks):
            return Standing(note=tr(f"steps.header.{state}"), level=done / whole)
    return Standing(note=tr("steps.header.count", done=done, whole=whole), level=done / whole)


def of_boards(job: OpenJob) -> Standing:
    """Return how many boards there are, and how near the latest is."""
    boards = job.records.boards()
    if not boards:
        return Standing(note=tr("boards.none"), level=0.0)
    board, photo = boards[-1]
    comparison = None if photo is None else job.comparisons.of(photo)
    return Standing(
        note=tr("boards.count", count=len(boards), number=board.number),
        level=0.1 if comparison is None else closeness(comparison),
    )


def of_sheet(job: OpenJob) -> Standing:
    """Return how many pages the sheet has, once it is made."""
    made = job.sheet.made
    if job.readings.of_target() is None or made is None:
        return Standing(note=tr("sheet.none"), level=0.0)
    return Standing(note=tr("sheet.pages", count=len(made.pages)), level=1.0)

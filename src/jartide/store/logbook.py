"""The job list as a logbook: finds jobs by words, place, date, colour and paint.

Everything that is searched lies in memory, read with a few queries over whole tables, so that
a search over thousands of jobs takes milliseconds.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from functools import cache

import numpy as np
from sqlalchemy import func, select, text

from jartide.colour.difference import delta_e_2000
from jartide.colour.words import Lab
from jartide.store import tables
from jartide.store.records import Finish, Job
from jartide.store.workspace import Workspace
from jartide.wording import tr

# A layer this near (CIEDE2000) is a colour "like this one".
NEAR_DE00 = 6.0


@dataclass(frozen=True, slots=True, kw_only=True)
class LoggedJob:
    """One job as it is searched.

    Attributes
    ----------
    words : all that can be typed to find it, case-folded
    last : day on which something was last added to it
    paints : ids of the tins in its jars
    """

    job: Job
    finishes: tuple[Finish, ...]
    words: str
    begun: date
    last: date
    boards: int
    photos: int
    paints: frozenset[str]


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Logbook:
    """All jobs; `labs` (N, 3) are the colours read of their targets, `owners` (N,) whose.

    Colours are gathered apart: None until `with_colours` has.
    """

    jobs: tuple[LoggedJob, ...]
    labs: np.ndarray | None = None
    owners: np.ndarray | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Wanted:
    """What is looked for; everything that is given must hold.

    Attributes
    ----------
    words : each of them somewhere in the job's words
    near : a colour one of its layers comes near, Lab D65
    paint : id of a tin in one of its jars
    since, until : days between which it was worked on, both counting
    archived : jobs that were put away, too
    """

    words: str = ""
    near: Lab | None = None
    paint: str = ""
    since: date | None = None
    until: date | None = None
    archived: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Hit:
    """A job that was found; `de00` is how near its nearest layer comes, None if none was asked."""

    job: LoggedJob
    de00: float | None = None


def read_logbook(
    workspace: Workspace, listed: Sequence[tuple[Job, Sequence[Finish]]] | None = None
) -> Logbook:
    """Return the logbook of a workspace, still without its colours.

    `listed` are its jobs with their finishes where they are known: of many years those alone take
    half the time.
    """
    if listed is None:
        listed = workspace.jobs_with_finishes()
    # Of thousands of jobs, each wording is made once.
    worded = cache(tr)
    of_finish = {f.id: f.job_id for _, own in listed for f in own}
    tins = {tin.id: tin.name for tin in workspace.tins()}
    paints: dict[str, set[str]] = defaultdict(set)
    jars: dict[str, set[str]] = defaultdict(set)
    mixes = tables.mixes.c
    for finish_id, name, body in workspace.rows(
        select(mixes.finish_id, mixes.name, mixes.body).where(mixes.deleted_at.is_(None))
    ):
        job_id = of_finish.get(finish_id, "")
        paints[job_id] |= {part["tin_id"] for part in body.get("parts", ())}
        jars[job_id].add(name)
    boards, board_days = _counted(workspace, tables.boards, "made_at", of_finish)
    photos, photo_days = _counted(workspace, tables.photos, "added_at", of_finish)
    remarks: dict[str, list[str]] = defaultdict(list)
    c = tables.boards.c
    for finish_id, remark in workspace.rows(
        select(c.finish_id, c.remark).where(c.deleted_at.is_(None), c.remark != "")
    ):
        remarks[of_finish.get(finish_id, "")].append(remark)
    logged = []
    for job, own in listed:
        begun = _day(job.created_at)
        last = max(begun, board_days.get(job.id, begun), photo_days.get(job.id, begun))
        words = [job.name, job.client, job.place, begun.isoformat(), last.isoformat()]
        words += [worded(f"month.{day.month}") for day in {begun, last}]
        for finish in own:
            words += [finish.name, finish.note, worded(f"family.{finish.family}")]
        words += [tins.get(tin, "") for tin in paints[job.id]]
        words += [*jars[job.id], *remarks[job.id]]
        logged.append(
            LoggedJob(
                job=job,
                finishes=tuple(own),
                words=" ".join(words).casefold(),
                begun=begun,
                last=last,
                boards=boards.get(job.id, 0),
                photos=photos.get(job.id, 0),
                paints=frozenset(paints[job.id]),
            )
        )
    return Logbook(jobs=tuple(logged))


def with_colours(workspace: Workspace, logbook: Logbook) -> Logbook:
    """Return the logbook with the colours read of every target, so that they can be searched."""
    of_finish = {f.id: n for n, one in enumerate(logbook.jobs) for f in one.finishes}
    labs, owners = _colours(workspace, of_finish)
    return Logbook(jobs=logbook.jobs, labs=labs, owners=owners)


def _counted(
    workspace: Workspace, table, time: str, of_finish: dict[str, str]
) -> tuple[dict[str, int], dict[str, date]]:
    """How many rows of a table every job has, and the day of the latest."""
    c = table.c
    numbers: dict[str, int] = defaultdict(int)
    days: dict[str, date] = {}
    for finish_id, number, latest in workspace.rows(
        select(c.finish_id, func.count(), func.max(c[time]))
        .where(c.deleted_at.is_(None))
        .group_by(c.finish_id)
    ):
        job_id = of_finish.get(finish_id, "")
        numbers[job_id] += number
        day = _day(latest)
        days[job_id] = max(day, days.get(job_id, day))
    return numbers, days


def _day(time: str) -> date:
    """The day of a time as records keep it; of one that is damaged, a day long ago."""
    try:
        return date.fromisoformat(time[:10])
    except ValueError:
        return date(1970, 1, 1)


def _colours(workspace: Workspace, of_finish: dict[str, int]) -> tuple[np.ndarray, np.ndarray]:
    """The layers' colours of every target, from its latest reading; SQLite takes them apart."""
    rows = workspace.rows(
        text(
            "WITH latest AS (SELECT sha256, max(id) AS id FROM readings GROUP BY sha256),"
            " seen AS (SELECT DISTINCT finish_id, sha256 FROM photos"
            " WHERE deleted_at IS NULL AND use = 'target')"
            " SELECT seen.finish_id, coalesce(json_extract(layer.value, '$.reader_lab'),"
            " json_extract(layer.value, '$.lab'), json_extract(layer.value, '$.shown_lab'))"
            " FROM seen JOIN latest ON latest.sha256 = seen.sha256"
            " JOIN readings ON readings.id = latest.id,"
            " json_each(readings.reading, '$.layers') AS layer"
        )
    )
    labs, owners = [], []
    for finish_id, lab in rows:
        number = of_finish.get(finish_id)
        if number is not None and lab:
            labs.append([float(v) for v in lab.strip("[]").split(",")])
            owners.append(number)
    return np.array(labs, float).reshape(-1, 3), np.array(owners, int)


def find(logbook: Logbook, wanted: Wanted) -> tuple[Hit, ...]:
    """Return the jobs that fit: by nearness where a colour is asked, else the latest first.

    A logbook whose colours are not gathered yet has no job near any.
    """
    words = wanted.words.casefold().split()
    nearest: dict[int, float] = {}
    if wanted.near is not None and logbook.labs is not None and logbook.owners is not None:
        distance = delta_e_2000(logbook.labs, np.array(wanted.near, float))
        close = distance <= NEAR_DE00
        for number, apart in zip(logbook.owners[close], distance[close], strict=True):
            nearest[int(number)] = min(float(apart), nearest.get(int(number), np.inf))
    hits = [
        Hit(job=one, de00=nearest.get(number))
        for number, one in enumerate(logbook.jobs)
        if (wanted.archived or one.job.archived_at is None)
        and (wanted.near is None or number in nearest)
        and (not wanted.paint or wanted.paint in one.paints)
        and (wanted.since is None or one.last >= wanted.since)
        and (wanted.until is None or one.begun <= wanted.until)
        and all(word in one.words for word in words)
    ]
    if wanted.near is not None:
        return tuple(sorted(hits, key=lambda hit: hit.de00 or 0.0))
    return tuple(sorted(hits, key=lambda hit: (hit.job.last, hit.job.begun), reverse=True))

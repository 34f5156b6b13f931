"""Fill a fresh workspace with the demo job that ships with the application."""

from __future__ import annotations

import json
import tomllib
from datetime import UTC, datetime, timedelta
from importlib.resources import files
from importlib.resources.abc import Traversable
from typing import Any

from jartide.boards.log import Climate, EntryKind, Logged, PassDone
from jartide.photo.settings import KnownPatch, PhotoSettings, Polygon, Rect
from jartide.plan.site import Site
from jartide.plan.work import Work
from jartide.reading.result import ALGORITHM, Reading
from jartide.store.jar_records import JarPart, Mix, tins_of
from jartide.store.records import Board, Entry, Finish, Job, Photo, PhotoUse, Plan, Record, Surface
from jartide.store.serialise import converter, reading_from_text
from jartide.store.shelf_csv import read_shelf, read_stock
from jartide.store.workspace import Workspace, now


def fill_with_demo(workspace: Workspace) -> None:
    """Copy the demo job and its photos into an empty workspace."""
    folder = files("jartide").joinpath("data/demo")
    plan = tomllib.loads(folder.joinpath("job.toml").read_text(encoding="utf-8"))
    job = Job(name=plan["name"], client=plan["client"], place=plan["place"], created_at=now())
    records: list[Record] = [job]
    kept = _kept_readings(folder)
    readings: list[tuple[Photo, str, Reading]] = []
    plans = _plans(folder)
    finishes: dict[str, Finish] = {}
    boards: dict[tuple[str, int], Board] = {}
    for position, row in enumerate(plan["finish"]):
        finish = Finish(
            job_id=job.id,
            name=row["name"],
            note=row["note"],
            family=row["family"],
            position=position,
        )
        finishes[row["key"]] = finish
        planned = plans.get(row["key"], {})
        site = converter().structure(planned.get("site", {}), Site)
        records += [finish, Surface(finish_id=finish.id, site=site, **row["surface"])]
    for position, row in enumerate(plan["photo"]):
        finish = finishes[row["finish"]]
        board = None
        if "board" in row:
            board = Board(
                finish_id=finish.id, number=row["board"], remark=row["remark"], made_at=now()
            )
            records.append(board)
            boards[row["finish"], row["board"]] = board
        settings = settings_of(row)
        data = folder.joinpath(row["file"]).read_bytes()
        photo = Photo(
            finish_id=finish.id,
            board_id=None if board is None else board.id,
            use=PhotoUse.TARGET if board is None else PhotoUse.BOARD,
            sha256=workspace.files.add(data, row["file"]),
            file_name=row["file"],
            added_at=now(),
            position=position,
            settings=settings,
        )
        records.append(photo)
        if row["file"] in kept:
            readings.append((photo, finish.family, kept[row["file"]]))
    jars = _shelf_and_jars(folder, finishes)
    mixes = {(r.finish_id, r.layer): r.id for r in jars if isinstance(r, Mix)}
    records += [*jars, *_logs(folder, boards, mixes)]
    records += [_plan(finishes[key], row) for key, row in plans.items()]
    workspace.put(*records)
    for photo, family, reading in readings:
        workspace.put_reading(photo, family, reading)


def demo_opens_on() -> str:
    """Return the name of the finish that a newcomer sees first."""
    text = files("jartide").joinpath("data/demo/job.toml").read_text(encoding="utf-8")
    return str(tomllib.loads(text)["opens_on"])


def _shelf_and_jars(folder: Traversable, finishes: dict[str, Finish]) -> list[Record]:
    """Return the demo painter's tins, and the jars found and mixed so far."""
    texts = {
        name: folder.joinpath(name).read_text(encoding="utf-8")
        for name in ("shelf.csv", "stock.csv", "jars.toml")
    }
    shelf = read_shelf(texts["shelf.csv"], "shelf.csv")
    tins = tins_of(shelf, read_stock(texts["stock.csv"], "stock.csv"))
    by_name = {tin.name: tin.id for tin in tins}
    mixes = [
        Mix(
            finish_id=finishes[row["finish"]].id,
            layer=row["layer"],
            parts=tuple(
                JarPart(tin_id=by_name[name], parts=float(count))
                for name, count in row["parts"].items()
            ),
            mixed_ml=row["mixed_ml"],
            left_ml=row["mixed_ml"] or None,
            mixed_at=now() if row["mixed_ml"] else None,
            position=position,
        )
        for position, row in enumerate(tomllib.loads(texts["jars.toml"])["jar"])
    ]
    return [*tins, *mixes]


def _plans(folder: Traversable) -> dict[str, dict[str, Any]]:
    """Return what plan.toml says of each finish, by its key."""
    told = tomllib.loads(folder.joinpath("plan.toml").read_text(encoding="utf-8"))
    return {row["finish"]: row for row in told["plan"]}


def _plan(finish: Finish, row: dict[str, Any]) -> Plan:
    """Return the frame of a finish's plan; its steps are proposed from the reading."""
    work = Work(
        workers=tuple(row["workers"]),
        panels_a_lane=row["panels_a_lane"] if "panels_a_lane" in row else Work().panels_a_lane,
        joint_mm=row.get("joint_mm", 0.0),
    )
    return Plan(finish_id=finish.id, work=work)


def _logs(
    folder: Traversable, boards: dict[tuple[str, int], Board], mixes: dict[tuple[str, str], str]
) -> list[Entry]:
    """Return what the demo painter wrote down of each board."""
    text = folder.joinpath("log.toml").read_text(encoding="utf-8")
    told = tomllib.loads(text)
    entries = []
    for kind, row in [*(("air", r) for r in told["air"]), *(("pass", r) for r in told["pass"])]:
        row = dict(row)
        board = boards[row.pop("finish"), row.pop("board")]
        at = datetime.now(UTC) - timedelta(hours=row.pop("hours"))
        who = row.pop("who", "")
        if kind == "air":
            logged = Logged(kind=EntryKind.CLIMATE, climate=Climate(**row))
        else:
            mix = mixes.get((board.finish_id, row["layer"]), "")
            logged = Logged(kind=EntryKind.PASS, who=who, done=PassDone(mix=mix, **row))
        entries.append(Entry(board_id=board.id, at=at.isoformat(timespec="seconds"), logged=logged))
    return entries


def settings_of(row: dict[str, Any]) -> PhotoSettings:
    """Return the photo settings of one photo of job.toml."""
    corners = [(float(x), float(y)) for x, y in row["corners"]]
    x, y, w, h = row["neutral"]
    return PhotoSettings(
        corners=(corners[0], corners[1], corners[2], corners[3]),
        size_mm=(row["size_mm"][0], row["size_mm"][1]),
        neutrals=(KnownPatch(rect=Rect(x=x, y=y, w=w, h=h), lightness=row["neutral_L"]),),
        leave_out=tuple(
            Polygon(points=tuple((float(x), float(y)) for x, y in ring))
            for ring in row.get("leave_out", ())
        ),
    )


def _kept_readings(folder: Traversable) -> dict[str, Reading]:
    """Return the readings that ship with the photos, if this version made them."""
    texts = json.loads(folder.joinpath("readings.json").read_text(encoding="utf-8"))
    readings = {name: reading_from_text(json.dumps(data)) for name, data in texts.items()}
    return {name: r for name, r in readings.items() if r.algorithm == ALGORITHM}

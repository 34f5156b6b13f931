"""A job leaves as one file and comes back the same; what is wrong in it is refused whole."""

from __future__ import annotations

import io
import json
import zipfile
from dataclasses import replace
from uuid import uuid4

import numpy as np
import pytest
from PIL import Image

from jartide.errors import JarTideError, WorkspaceError
from jartide.store.bundle import as_copy, has_job, put_bundle, read_bundle, write_bundle
from jartide.store.demo import fill_with_demo
from jartide.store.jar_records import JarPart, Mix, Tin
from jartide.store.records import Board, Entry, Finish, Job, Photo, PhotoUse, Plan, Surface
from jartide.store.workspace import Workspace, now


@pytest.fixture(scope="module")
def demo_bundle(tmp_path_factory):
    """The demo job as a bundle."""
    workspace = Workspace.open(tmp_path_factory.mktemp("demo"))
    fill_with_demo(workspace)
    (job,) = workspace.jobs()
    data = write_bundle(workspace, job).data
    workspace.close()
    return data


@pytest.fixture(scope="module")
def small(tmp_path_factory):
    """A bundle of a few kilobytes that holds one of everything."""
    from jartide.boards.log import EntryKind, Logged

    workspace = Workspace.open(tmp_path_factory.mktemp("small"))
    out = io.BytesIO()
    Image.new("RGB", (8, 8), "#336655").save(out, "PNG")
    job = Job(name="Hall", created_at=now())
    finish = Finish(job_id=job.id, name="Door")
    board = Board(finish_id=finish.id, number=1, made_at=now())
    tin = Tin(name="White")
    photo = Photo(
        finish_id=finish.id, board_id=board.id, sha256=workspace.files.add(out.getvalue(), "a.png"),
        file_name="a.png", added_at=now(),
    )  # fmt: skip
    workspace.put(
        job, finish, board, tin, photo,
        Surface(finish_id=finish.id, name="Door", width_mm=900, height_mm=2000),
        Mix(finish_id=finish.id, parts=(JarPart(tin_id=tin.id, parts=1.0),)),
        Entry(board_id=board.id, at=now(), logged=Logged(kind=EntryKind.REMARK, text="Dry.")),
        Plan(finish_id=finish.id),
    )  # fmt: skip
    data = write_bundle(workspace, job).data
    workspace.close()
    return data


def opened(folder):
    return Workspace.open(folder)


def content(data):
    with zipfile.ZipFile(io.BytesIO(data)) as file:
        plain = json.loads(file.read("job.json"))
        photos = {name: file.read(name) for name in file.namelist() if name != "job.json"}
    plain.pop("made")
    return plain, photos


def repacked(data, change=None, **files):
    """The bundle with its job.json changed, and files put in."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w") as new:
        for name in old.namelist():
            packed = old.read(name)
            if name == "job.json" and change is not None:
                plain = json.loads(packed)
                changed = change(plain)
                packed = changed if isinstance(changed, bytes) else json.dumps(plain).encode()
            new.writestr(name, packed)
        for name, packed in files.items():
            new.writestr(name, packed)
    return out.getvalue()


def test_the_demo_job_comes_back_equal_in_every_field(demo_bundle, tmp_path):
    workspace = opened(tmp_path / "other")
    put_bundle(workspace, read_bundle(demo_bundle, "demo.zip"))
    (job,) = workspace.jobs()
    again = write_bundle(workspace, job).data
    assert content(again) == content(demo_bundle)
    finish = workspace.finishes(job.id)[0]
    photo = workspace.photos(finish.id)[0]
    # Its readings came with it: nothing is read again.
    assert workspace.reading(photo, finish.family) is not None
    workspace.close()


@pytest.fixture
def twenty_photos(tmp_path, marble_reading):
    """A job with twenty photos, and every field of its records set to something of its own."""
    from jartide.photo.settings import KnownPatch, PhotoSettings, Rect
    from jartide.store.records import Approval, Fault, Stage

    workspace = opened(tmp_path / "from")
    job = Job(name="Hall", place="Hill Road", client="Morrow",
              created_at=now(), archived_at=now())  # fmt: skip
    finish = Finish(job_id=job.id, name="Door", family="marble", viewing_m=3.5, tolerance=2.5)
    board = Board(finish_id=finish.id, number=1, made_at=now())
    finish = replace(finish, approval=Approval(board_id=board.id, who="Ines", at=now()))
    workspace.put(job, finish, board)
    rng = np.random.default_rng(5)
    for number in range(20):
        out = io.BytesIO()
        Image.fromarray(rng.integers(0, 255, (60, 80, 3), dtype=np.uint8)).save(out, "JPEG")
        settings = PhotoSettings(
            corners=((1.0, 2.0), (70.5, 2.0), (70.0, 55.0), (1.0, 50.25)),
            size_mm=(400.0 + number, 300.0),
            neutrals=(KnownPatch(rect=Rect(x=1, y=2, w=3, h=4), lightness=62.0),),
            leave_out=(Rect(x=number, y=1, w=2, h=2),),
        )
        photo = Photo(
            finish_id=finish.id, board_id=board.id if number > 2 else None,
            use=PhotoUse.BOARD if number > 2 else PhotoUse.TARGET,
            settings=settings, position=number,
            sha256=workspace.files.add(out.getvalue(), f"{number}.jpg"), file_name=f"{number}.jpg",
            taken="2026-11-20T10:00:00", added_at=now(),
            stage=Stage(after="Veil", person="Tom", minutes=number / 3) if number > 10 else Stage(),
            faults=(Fault(kind="hair", shape=Rect(x=1, y=1, w=2, h=2)),) if number == 9 else (),
        )  # fmt: skip
        workspace.put(photo)
        workspace.put_reading(photo, finish.family, marble_reading)
    yield workspace, job
    workspace.close()


def test_twenty_photos_come_back_equal_in_every_field(twenty_photos, tmp_path):
    workspace, job = twenty_photos
    other = opened(tmp_path / "to")
    put_bundle(other, read_bundle(write_bundle(workspace, job).data, "hall.zip"))
    assert other.jobs() == [job] == workspace.jobs()
    (finish,) = workspace.finishes(job.id)
    assert other.finishes(job.id) == [finish]
    assert other.boards(finish.id) == workspace.boards(finish.id)
    photos = workspace.photos(finish.id)
    assert len(photos) == 20 and other.photos(finish.id) == photos
    for photo in photos:
        assert (
            other.files.path(photo.sha256).read_bytes()
            == workspace.files.path(photo.sha256).read_bytes()
        )
        reading = other.reading(photo, finish.family)
        assert reading is not None and reading == workspace.reading(photo, finish.family)
    other.close()


def test_a_job_that_is_there_is_brought_up_to_date_or_copied(small, tmp_path):
    workspace = opened(tmp_path / "w")
    bundle = read_bundle(small, "a.zip")
    put_bundle(workspace, bundle)
    assert has_job(workspace, bundle)
    (job,) = workspace.jobs()
    workspace.put(replace(job, name="Changed"))
    put_bundle(workspace, bundle)
    assert [one.name for one in workspace.jobs()] == ["Hall"]
    copy = as_copy(bundle)
    assert not has_job(workspace, copy)
    put_bundle(workspace, copy)
    assert len(workspace.jobs()) == 2
    finish = workspace.finishes(copy.job.id)[0]
    (board,) = workspace.boards(finish.id)
    (photo,) = workspace.photos(finish.id)
    assert photo.board_id == board.id != bundle.records[0].id
    assert len(workspace.entries([board.id])) == 1
    # The shelf is one for all jobs.
    assert len(workspace.tins()) == 1
    workspace.close()


def test_a_tin_of_the_same_name_is_used_in_its_place(small, tmp_path):
    workspace = opened(tmp_path / "w")
    own = Tin(name="white")
    workspace.put(own)
    bundle = read_bundle(small, "a.zip")
    put_bundle(workspace, bundle)
    finish = workspace.finishes(bundle.job.id)[0]
    (mix,) = workspace.mixes(finish.id)
    assert [part.tin_id for part in mix.parts] == [own.id]
    assert len(workspace.tins()) == 1
    workspace.close()


def _swap(key, value):
    def change(plain):
        plain[key] = value

    return change


def _first(key, **parts):
    def change(plain):
        plain[key][0].update(parts)

    return change


def _twice(plain):
    plain["finishes"].append(plain["finishes"][0])


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (_swap("schema", "jar-tide/bundle/9"), "of the form “jar-tide/bundle/9”"),
        (_swap("schema", None), "of the form “-”"),
        (_swap("finishes", 3), "finishes can't be read"),
        (_swap("job", []), "job can't be read"),
        (_swap("readings", [{"sha256": 1}]), "readings can't be read"),
        (_swap("photos", [{"id": "x"}]), "photos 1 can't be read"),
        (_first("finishes", job_id="0"), "something that an entry refers to is missing"),
        (_first("boards", finish_id="gone"), "something that an entry refers to is missing"),
        (_first("surfaces", width_mm=1e300), "a number that no job can have"),
        (_first("surfaces", id="../../etc"), "ids are doubled or missing"),
        (_twice, "ids are doubled"),
        (lambda plain: b"[1, 2", "job.json can't be read"),
        (lambda plain: b'{"schema": NaN}', "job.json can't be read"),
        (lambda plain: b"[" * 100_000, "job.json can't be read"),
        (lambda plain: b"\xff\xfe", "job.json can't be read"),
    ],
)
def test_what_is_wrong_is_refused_in_one_sentence(small, change, said):
    with pytest.raises(WorkspaceError, match=said) as error:
        read_bundle(repacked(small, change), "a.zip")
    assert str(error.value).startswith(("“a.zip”", "In “a.zip”"))


def test_paths_that_climb_out_are_refused_and_strangers_passed_over(small):
    for path in ("../evil.txt", "/etc/passwd", "photos/../../x", "C:\\x"):
        with pytest.raises(WorkspaceError, match="a path that leads out of it"):
            read_bundle(repacked(small, **{path: b"x"}), "a.zip")
    assert read_bundle(repacked(small, **{"readme.txt": b"x"}), "a.zip").notes == ("1",)


def test_a_bomb_is_not_unpacked(small, monkeypatch):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as file:
        file.writestr("job.json", b" " * 210_000_000)
    assert len(out.getvalue()) < 1_000_000
    with pytest.raises(WorkspaceError, match="far more than a job can be"):
        read_bundle(out.getvalue(), "bomb.zip")


@pytest.mark.parametrize("packing", [zipfile.ZIP_DEFLATED, zipfile.ZIP_BZIP2, zipfile.ZIP_LZMA])
def test_a_damaged_stream_of_any_packing_is_one_sentence(packing):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", packing) as file:
        file.writestr(
            "job.json", json.dumps({"schema": "jar-tide/bundle/1"} | dict.fromkeys("abc"))
        )
    data = bytearray(out.getvalue())
    for place in range(len("job.json") + 30, len("job.json") + 60):
        data[place] ^= 0x5A
    with pytest.raises(WorkspaceError, match="damaged"):
        read_bundle(bytes(data), "a.zip")


@pytest.mark.parametrize("packed", [b"another", None])
def test_a_photo_that_is_not_whole_is_told_and_the_rest_comes_in(small, tmp_path, packed):
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(small)) as old, zipfile.ZipFile(out, "w") as new:
        for name in old.namelist():
            data = packed if name.startswith("photos") else old.read(name)
            if data is not None:
                new.writestr(name, data)
    bundle = read_bundle(out.getvalue(), "a.zip")
    assert bundle.lacking == ("a.png",)
    workspace = opened(tmp_path / "w")
    put_bundle(workspace, bundle)
    (job,) = workspace.jobs()
    (photo,) = workspace.photos(workspace.finishes(job.id)[0].id)
    with pytest.raises(WorkspaceError, match="missing from the workspace"):
        workspace.photo_bytes(photo)
    # Saved once more it says so itself; the whole bundle brings the photo back.
    assert write_bundle(workspace, job).lacking == ("a.png",)
    put_bundle(workspace, read_bundle(small, "a.zip"))
    assert workspace.photo_bytes(photo)
    assert write_bundle(workspace, job).lacking == ()
    workspace.close()


@pytest.mark.parametrize("name", ["x.jpg_large", "scan.jpg (1)", "IMG.jpg~", "bild.jpég", "x"])
def test_photos_of_any_name_come_back(tmp_path, name):
    workspace = opened(tmp_path / "w")
    job = Job(name="Hall", created_at=now())
    finish = Finish(job_id=job.id, name="Door")
    photo = Photo(
        finish_id=finish.id, sha256=workspace.files.add(b"\xff\xd8\xffany", name),
        file_name=name, added_at=now(),
    )  # fmt: skip
    workspace.put(job, finish, photo)
    packed = write_bundle(workspace, job)
    assert packed.lacking == ()
    bundle = read_bundle(packed.data, "a.zip")
    assert bundle.lacking == () and bundle.notes == ()
    other = opened(tmp_path / "other")
    put_bundle(other, bundle)
    assert other.photo_bytes(photo) == b"\xff\xd8\xffany"
    assert other.files.path(photo.sha256).suffix == ".jpg"
    workspace.close()
    other.close()


@pytest.mark.parametrize("key", ["finishes", "boards", "photos", "surfaces", "mixes", "entries"])
def test_what_belongs_to_another_job_is_never_moved(small, tmp_path, key):
    """A bundle may bear another job's ids, by chance or by an unkind hand."""
    workspace = opened(tmp_path / "w")
    put_bundle(workspace, read_bundle(small, "a.zip"))
    (job,) = workspace.jobs()
    (finish,) = workspace.finishes(job.id)
    before = held(workspace, finish)
    plain = content(small)[0]
    kept = plain[key][0]["id"]
    text = json.dumps(plain)
    for own in ("finishes", "boards", "photos", "surfaces", "mixes", "entries", "plans"):
        for record in plain[own]:
            if record["id"] != kept:
                text = text.replace(record["id"], str(uuid4()))
    text = text.replace(job.id, str(uuid4()))
    stolen = repacked(small, lambda _: text.encode())
    put_bundle(workspace, read_bundle(stolen, "b.zip"))
    assert held(workspace, finish) == before
    assert len(workspace.jobs()) == 2
    other = next(one for one in workspace.jobs() if one.id != job.id)
    (copied,) = workspace.finishes(other.id)
    assert [len(own) for own in held(workspace, copied)] == [len(own) for own in before]
    workspace.close()


def held(workspace, finish):
    """All that belongs to a finish."""
    boards = workspace.boards(finish.id)
    return (
        workspace.finishes(finish.job_id), workspace.surfaces(finish.id), boards,
        workspace.photos(finish.id), workspace.mixes(finish.id),
        workspace.entries([board.id for board in boards]), workspace.plans([finish.id]),
    )  # fmt: skip


def test_thousands_of_damaged_bundles_stop_nothing_and_leave_the_workspace_alone(small, tmp_path):
    workspace = opened(tmp_path / "w")
    rng = np.random.default_rng(7)
    plain = content(small)[0]
    text = json.dumps({**plain, "made": "x"}).encode()
    photos = content(small)[1]
    refused, taken = 0, []
    for number in range(5000):
        if number % 2:
            # The packed file itself: bytes changed, cut or put in.
            data = bytearray(small)
            for place in rng.integers(0, len(data), rng.integers(1, 6)):
                data[place] = rng.integers(0, 256)
            broken = bytes(data[: rng.integers(1, len(data))] if number % 10 == 1 else data)
        else:
            # Or a sound .zip with a damaged job.json in it.
            data = bytearray(text)
            at = int(rng.integers(0, len(data)))
            data[at : at + int(rng.integers(0, 4))] = rng.bytes(int(rng.integers(0, 3)))
            out = io.BytesIO()
            with zipfile.ZipFile(out, "w") as file:
                file.writestr("job.json", bytes(data))
                for name, packed in photos.items():
                    file.writestr(name, packed)
            broken = out.getvalue()
        try:
            taken.append(read_bundle(broken, "broken.zip"))
        except JarTideError as error:
            refused += str(error).count("broken.zip")
    assert 2000 < refused < 5000 and refused + len(taken) == 5000
    assert workspace.jobs() == []
    # What was taken for sound can be put in and read again.
    for bundle in taken[::25]:
        put_bundle(workspace, bundle)
        (job,) = workspace.jobs()
        assert write_bundle(workspace, job).data
    assert sorted(path.name for path in tmp_path.iterdir()) == ["w"]
    workspace.close()


def test_another_library_finds_it_in_its_documented_form(demo_bundle, twenty_photos):
    from importlib.resources import files

    import jsonschema

    folder = files("jartide").joinpath("data/schemas")
    text = folder.joinpath("bundle-1.schema.json").read_text(encoding="utf-8")
    checker = jsonschema.Draft202012Validator(json.loads(text))
    for data in (demo_bundle, write_bundle(*twenty_photos).data):
        with zipfile.ZipFile(io.BytesIO(data)) as file:
            plain = json.loads(file.read("job.json"))
        checker.validate(plain)
    plain["finishes"][0]["viewing_m"] = "far"
    assert not checker.is_valid(plain)


def test_the_form_is_that_of_the_records():
    from importlib.resources import files

    import make_schemas

    kept = files("jartide").joinpath("data/schemas", make_schemas.NAME).read_text(encoding="utf-8")
    assert kept == make_schemas.bundle_schema(), "make schemas writes it anew"

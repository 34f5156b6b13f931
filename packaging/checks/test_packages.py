"""Each package is made, unpacked elsewhere and started with nothing of the source in reach."""

import json
import os
import shutil
import subprocess
import sys
import sysconfig
import zipfile
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
SOURCE = ROOT / "src"
DATA = SOURCE / "jartide" / "data"


def bare(folder, **more):
    """An environment that knows no workspace, settings or path of this machine."""
    kept = {
        key: os.environ[key] for key in ("PATH", "LANG", "LD_LIBRARY_PATH") if key in os.environ
    }
    places = {f"XDG_{name}_HOME": str(folder / name) for name in ("CONFIG", "DATA", "CACHE")}
    return {**kept, **places, "HOME": str(folder), "QT_QPA_PLATFORM": "offscreen", **more}


def run(command, folder, **more):
    found = subprocess.run(
        [str(part) for part in command],
        cwd=folder,
        env=bare(folder, **more),
        capture_output=True,
        text=True,
        timeout=300,
    )
    assert found.returncode == 0, found.stderr
    return found


def starts_and_reads(command, folder, **more):
    """Start the window on the demo job, and use the command line, away from the source."""
    shown = run([*command, "demo"], folder, JARTIDE_CLOSE_AFTER_S="1", **more)
    assert "window is shown" in shown.stderr
    run([*command, "card", "--out", "card.pdf"], folder, **more)
    assert (folder / "card.pdf").read_bytes().startswith(b"%PDF")
    shutil.copy(DATA / "demo" / "bar-front-slab.jpg", folder / "slab.jpg")
    plan = run([*command, "plan", "slab.jpg", "--piece", "1000x800"], folder, **more)
    assert json.loads(plan.stdout)["schema"] == "jar-tide/plan/1"
    listed = run([*command, "--install-desktop"], folder, **more).stdout
    entry = folder / "DATA" / "applications" / "jar-tide.desktop"
    assert str(entry) in listed
    return entry


@pytest.fixture(scope="module")
def wheel(tmp_path_factory):
    # Built from a copy: a build leaves its traces beside the source.
    folder = tmp_path_factory.mktemp("wheel")
    copy = folder / "copy"
    copy.mkdir()
    for name in ("pyproject.toml", "README.md", "LICENSE"):
        shutil.copy(ROOT / name, copy / name)
    shutil.copytree(SOURCE / "jartide", copy / "src" / "jartide")
    command = "pip wheel --no-index --no-deps --no-build-isolation --quiet --wheel-dir"
    run([sys.executable, "-m", *command.split(), folder, copy], folder)
    return next(folder.glob("jar_tide-*.whl"))


def test_the_wheel_holds_all_data(wheel):
    with zipfile.ZipFile(wheel) as archive:
        held = {name: archive.getinfo(name).file_size for name in archive.namelist()}
    for file in DATA.rglob("*"):
        if file.is_file():
            assert held.get(f"jartide/data/{file.relative_to(DATA)}") == file.stat().st_size, file


def test_the_wheel_starts_with_no_source_on_the_path(wheel, tmp_path):
    target = tmp_path / "installed"
    command = "pip install --no-index --no-deps --quiet --target"
    run([sys.executable, "-m", *command.split(), target, wheel], tmp_path)
    # Without site, the link that an editable installation leaves is not followed.
    python = [sys.executable, "-S"]
    path = os.pathsep.join((str(target), sysconfig.get_path("purelib")))
    where = run(
        [*python, "-c", "import jartide; print(jartide.__file__)"], tmp_path, PYTHONPATH=path
    )
    assert Path(where.stdout.strip()).is_relative_to(target)
    script = target / "bin" / "jar-tide"
    entry = starts_and_reads([*python, script], tmp_path, PYTHONPATH=path)
    assert f'Exec="{script}"' in entry.read_text(encoding="utf-8")


@pytest.mark.skipif(shutil.which("dpkg-deb") is None, reason="Debian packages are made on Debian")
def test_the_debian_package_starts_where_it_is_unpacked(tmp_path):
    made = os.environ.get("JARTIDE_DEB")
    if not made:
        script = ROOT / "packaging" / "make_deb.sh"
        told = run(["sh", script, Path(sys.executable).parent, tmp_path / "dist"], tmp_path)
        made = told.stdout.strip().splitlines()[-1]
    root = tmp_path / "root"
    run(["dpkg-deb", "-x", (ROOT / made).resolve(), root], tmp_path)
    listed = {
        str(file.relative_to(root / "usr")) for file in (root / "usr").rglob("*") if file.is_file()
    }
    assert {
        "bin/jar-tide",
        "share/applications/jar-tide.desktop",
        "share/icons/hicolor/scalable/apps/jar-tide.svg",
        "share/man/man1/jar-tide.1.gz",
        "share/bash-completion/completions/jar-tide",
        "share/doc/jar-tide/copyright",
    } <= listed
    control = run(["dpkg-deb", "-f", (ROOT / made).resolve()], tmp_path).stdout
    assert "Package: jar-tide" in control and "Depends: " in control
    entry = starts_and_reads([root / "usr" / "bin" / "jar-tide"], tmp_path)
    program = root / "usr" / "lib" / "jar-tide" / "jar-tide"
    assert f'Exec="{program}"' in entry.read_text(encoding="utf-8")

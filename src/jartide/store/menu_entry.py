"""The menu entry: put into, and taken out of, the places a Linux desktop looks in.

Every file goes below the user's own data folder, so nothing needs an
administrator; the layout is that of the freedesktop.org base directory, desktop
entry and icon theme specifications. A package for the whole machine ships the
same files itself.
"""

from __future__ import annotations

import os
import shutil
import sys
from importlib.resources import files
from pathlib import Path

from jartide.errors import CommandError

# name in data/share -> place below the data folder
PLACES = {
    "jar-tide.desktop": "applications/jar-tide.desktop",
    "jar-tide.svg": "icons/hicolor/scalable/apps/jar-tide.svg",
    "jar-tide.metainfo.xml": "metainfo/jar-tide.metainfo.xml",
    "jar-tide.1": "man/man1/jar-tide.1",
    "jar-tide.bash": "bash-completion/completions/jar-tide",
    "jar-tide.zsh": "zsh/site-functions/_jar-tide",
}


def data_folder() -> Path:
    """Return where this user's menu entries, icons and manual pages belong."""
    told = os.environ.get("XDG_DATA_HOME", "")
    return Path(told) if os.path.isabs(told) else Path.home() / ".local" / "share"


def command_line() -> list[str]:
    """Return what starts this very installation, from any folder."""
    if getattr(sys, "frozen", False):
        return [sys.executable]
    started = shutil.which(sys.argv[0]) or sys.argv[0]
    if Path(started).name == "jar-tide" and os.access(started, os.X_OK):
        return [os.path.abspath(started)]  # a link stays one: it outlives an update
    return [sys.executable, "-m", "jartide"]


def install_desktop(folder: Path, command: list[str]) -> list[Path]:
    """Write menu entry, icon, manual page and completions below `folder`; return their places.

    Raises
    ------
    CommandError : when a file cannot be written.
    """
    source = files("jartide").joinpath("data/share")
    written = []
    for name, place in PLACES.items():
        data = source.joinpath(name).read_bytes()
        if name.endswith(".desktop"):
            exact = f"Exec={' '.join(_quoted(part) for part in command)}"
            data = data.replace(b"Exec=jar-tide", exact.encode())
        target = folder / place
        try:
            target.parent.mkdir(parents=True, exist_ok=True)
            target.write_bytes(data)
        except OSError as error:
            why = error.strerror or type(error).__name__
            raise CommandError("error.command.write", name=str(target), why=why) from error
        written.append(target)
    return written


def remove_desktop(folder: Path) -> list[Path]:
    """Take those files away again; return what there was of them."""
    there = [folder / place for place in PLACES.values() if (folder / place).exists()]
    for file in there:
        try:
            file.unlink()
        except OSError as error:
            why = error.strerror or type(error).__name__
            raise CommandError("error.command.write", name=str(file), why=why) from error
    return there


def _quoted(part: str) -> str:
    """One argument of an Exec line: quoted, with both levels of escaping it is read by."""
    part = part.replace("%", "%%")
    for sign in ("\\", '"', "`", "$"):
        part = part.replace(sign, "\\" + sign)
    return '"' + part.replace("\\", "\\\\") + '"'

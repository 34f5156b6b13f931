"""Swap a workspace's content for a restored one, so that no moment leaves it in between.

Before the first move a journal is written into the folder: what is to go aside and what is to come
in. Whoever opens the workspace next finds it, should the program have been ended meanwhile, and
carries out what is left of it: every move can be told from the files that are there.
"""

from __future__ import annotations

import json
import os
import re
import shutil
from pathlib import Path

from jartide.store.whole import remove_quietly, settle_folder, write_whole

JOURNAL = "restoring.json"
UNPACKED = ".restore-"
# All that belongs to a workspace's content.
DATABASE = "workspace.sqlite"
NAMES = (DATABASE, f"{DATABASE}-wal", f"{DATABASE}-shm", "photos", "tables")
_FOLDER = re.compile(r"[^/\\]{1,80}")


def swap_in(fresh: Path, folder: Path, aside: str) -> Path | None:
    """Put what was unpacked into `folder / fresh.name` in place; what was there goes to `aside`.

    Returns where what was there is kept; None where there was nothing. The folder is locked by
    whoever asks.

    Raises
    ------
    OSError : it is taken back as far as it can be, or finished at the next start.
    """
    plan = {
        "fresh": fresh.name,
        "aside": aside,
        "old": [name for name in NAMES if (folder / name).exists()],
        "new": [name for name in NAMES if (fresh / name).exists()],
    }
    write_whole(folder / JOURNAL, json.dumps(plan).encode())
    try:
        _carry_out(plan, folder)
    except OSError:
        _take_back(plan, folder)
        raise
    return folder / aside if plan["old"] else None


def finish_swap(folder: Path) -> None:
    """Carry out what a restore that was ended has left, and clear away what it unpacked.

    Raises
    ------
    OSError : nothing that was there is lost.
    """
    journal = folder / JOURNAL
    if journal.exists():
        plan = _read(journal)
        if plan is None:
            journal.unlink()
        else:
            _carry_out(plan, folder)
    for left in folder.glob(f"{UNPACKED}*"):
        shutil.rmtree(left, ignore_errors=True)
    remove_quietly(folder / f".{JOURNAL}.part")


def _carry_out(plan: dict, folder: Path) -> None:
    """Do every move that is not done: each can be told by where its file is."""
    fresh, aside = folder / plan["fresh"], folder / plan["aside"]
    if plan["old"]:
        aside.mkdir(exist_ok=True)
    for name in plan["old"]:
        if not (aside / name).exists() and (folder / name).exists():
            os.rename(folder / name, aside / name)
    for name in plan["new"]:
        if (fresh / name).exists():
            os.rename(fresh / name, folder / name)
    settle_folder(folder)
    (folder / JOURNAL).unlink(missing_ok=True)
    shutil.rmtree(fresh, ignore_errors=True)


def _take_back(plan: dict, folder: Path) -> None:
    fresh, aside = folder / plan["fresh"], folder / plan["aside"]
    for name in plan["new"]:
        if not (fresh / name).exists() and (folder / name).exists():
            os.rename(folder / name, fresh / name)
    for name in plan["old"]:
        if (aside / name).exists():
            os.rename(aside / name, folder / name)
    if aside.is_dir() and not any(aside.iterdir()):
        aside.rmdir()
    (folder / JOURNAL).unlink(missing_ok=True)


def _read(journal: Path) -> dict | None:
    """What a journal says; None of one that says nothing that could be carried out."""
    try:
        plan = json.loads(journal.read_text(encoding="utf-8"))
        folders = [plan["fresh"], plan["aside"]]
        names = [*plan["old"], *plan["new"]]
    except (ValueError, KeyError, TypeError):
        return None
    right = all(isinstance(one, str) and _FOLDER.fullmatch(one) for one in folders)
    right = right and not {".", ".."} & set(folders) and folders[0].startswith(UNPACKED)
    return plan if right and set(names) <= set(NAMES) else None

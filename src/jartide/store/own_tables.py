"""The painter's own tables: TOML files in the workspace's folder `tables`."""

from __future__ import annotations

from pathlib import Path

from jartide.errors import PlanError
from jartide.families import families
from jartide.plan.layup import Own
from jartide.plan.layup_table import check_table, layup_table
from jartide.plan.technique import techniques

FOLDER = "tables"
_MOST_BYTES = 1_000_000


def own_tables(workspace: Path) -> Own:
    """Return what stands in `tables/techniques.toml` and `tables/FAMILY.toml`, checked.

    Raises
    ------
    PlanError : one sentence on the first fault; the shipped tables are used then.
    """
    folder = workspace / FOLDER
    own_techniques = _text(folder / "techniques.toml")
    found = []
    for name in families():
        text = _text(folder / f"{name}.toml")
        if text:
            found.append((name, text))
    own = Own(techniques=own_techniques, families=tuple(found))
    known = techniques(own.techniques)
    for name, text in own.families:
        check_table(layup_table(name, text), known)
    return own


# What a painter finds who looks for the place: a technique of their own, to be changed.
_EXAMPLE = """\
# Your own techniques. Take the # away from the lines below and change them; what each line
# may be is said at the top of the shipped table and in docs/steps.md.
#
# [[technique]]
# id = "combed_arcs"
# name = "Combed arcs"
# kind = "pattern"
# product = "glaze"
# binder = "water"
# tool = "rubber comb"
# how = ["Arcs along {degrees}°."]
# speed_m2_h = 5
# open_min = 20
# dry_h = 2
# film_um = 45
# carrier = 3
# spreading_m2_per_l = 15
# ready = "Turned matt, no cool touch."
# back = "damp sponge while wet"
"""


def begin_own_tables(workspace: Path) -> Path:
    """Return where the painter's techniques stand; an example is written where nothing is.

    Raises
    ------
    PlanError : when it can't be written.
    """
    path = workspace / FOLDER / "techniques.toml"
    try:
        path.parent.mkdir(exist_ok=True)
        if not path.exists():
            path.write_text(_EXAMPLE, encoding="utf-8")
    except OSError as error:
        why = error.strerror or type(error).__name__
        raise PlanError("error.table.unread", name=path.name, why=why) from error
    return path


def _text(path: Path) -> str:
    try:
        if not path.is_file():
            return ""
        if path.stat().st_size > _MOST_BYTES:
            raise PlanError("error.table.large", name=path.name)
        return path.read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as error:
        why = getattr(error, "strerror", None) or type(error).__name__
        raise PlanError("error.table.unread", name=path.name, why=why) from error

"""The finish families: their names and what each one measures (data only)."""

from __future__ import annotations

import tomllib
from dataclasses import dataclass
from functools import lru_cache
from importlib.resources import files

from jartide.errors import FamilyError


@dataclass(frozen=True, slots=True, kw_only=True)
class Family:
    """One finish family.

    Attributes
    ----------
    name : str
        As the command line takes it.
    ground : "dark", "light", "broad" or "net"
        Which layer usually lies lowest when the picture itself does not tell; "net" is
        what shows between cells.
    lines_role : str
        What a line is called here: vein, crack, grain, thread, groove, brush.
    lines_most : float
        Largest share of the surface that a layer of such lines covers.
    patches_role : str
        What a soft-edged area over the ground is called here: cloud or patch.
    patches_word : str
        What a painter calls its patches, where that is another word: bloom, flake.
    order : tuple of str
        Roles over the ground as they are usually laid, lowest first.
    runs : bool
        Whether what lies over the ground runs down in drips: an upright line is then no crack.
    light_last : bool
        Whether of two layers of one role the lighter is usually laid later.
    ridges : "light", "dark" or ""
        Which tones gather on what stands out; empty where height tells nothing.
    jointed : bool
        Whether its surfaces are laid of boards, bricks, tiles or panels.
    shows : tuple of str
        Blocks of the pattern shown first.
    """

    name: str
    ground: str
    lines_role: str
    lines_most: float
    patches_role: str
    patches_word: str
    order: tuple[str, ...]
    runs: bool
    light_last: bool
    ridges: str
    jointed: bool
    shows: tuple[str, ...]


@lru_cache(maxsize=1)
def families() -> dict[str, Family]:
    """Return every family by name, in the order they are offered."""
    text = files("jartide").joinpath("data/families.toml").read_text(encoding="utf-8")
    rows = tomllib.loads(text)["family"]
    return {
        row["name"]: Family(**{**row, "order": tuple(row["order"]), "shows": tuple(row["shows"])})
        for row in rows
    }


def family_named(name: str) -> Family:
    """Return one family; `auto` has the loosest expectations.

    Raises
    ------
    FamilyError : with the names there are.
    """
    try:
        return families()[name]
    except KeyError:
        known = ", ".join(families())
        raise FamilyError("error.family", name=name, known=known) from None

"""Are layers told by their shapes? Roles of both generators' surfaces, all families."""

from __future__ import annotations

from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from multiprocessing import get_context

import numpy as np

from accuracy.layers import FAMILIES, SIZE_MM, as_jpeg, flat_code, one_thread, read_jpeg
from accuracy.rows import Row
from accuracy.second.canvas import MM_PER_PX as SECOND_MM_PER_PX
from accuracy.second.families import draw_stack
from jartide.colour.difference import delta_e_2000
from jartide.families import Family, family_named
from jartide.studio.families import draw_family

SEEDS = (21, 22, 23, 24, 25, 26)
# Colours farther apart than this are not of one layer; a layer of less than this share may be lost.
_SAME_DE00, _LEAST = 8.0, 0.01
_LINES = frozenset({"vein", "crack", "grain", "thread", "groove", "brush"})
_AREAS = frozenset({"patch", "cloud"})


@dataclass(frozen=True, slots=True, kw_only=True)
class RoleRead:
    """One drawn layer: where it is of, what it is, what it was read as ("" for not found)."""

    surface: str
    true: str
    read: str

    @property
    def right(self) -> bool:
        """The same kind of thing: which word a family has for its lines or areas is no reading."""
        kinds = [
            "lines" if role in _LINES else "areas" if role in _AREAS else role
            for role in (self.true, self.read)
        ]
        return kinds[0] == kinds[1]


def roles_read(task: tuple[str, int, bool]) -> list[RoleRead]:
    """Read one surface and hold each drawn layer against the layer of its colour."""
    family, seed, second = task
    name = f"{family} {seed}{' second' if second else ''}"
    if second:
        stack = draw_stack(family, seed, SIZE_MM[0])
        rgb, mm, labels = stack.rgb_linear, SECOND_MM_PER_PX, stack.labels
        kinds = [
            _kind(coat.known.get("kind", "ground" if n == 0 else ""), family_named(family))
            for n, coat in enumerate(stack.coats)
        ]
        labs = [np.array(coat.paint if coat.lab is None else coat.lab) for coat in stack.coats]
    else:
        mm = 0.25
        surface = draw_family(family, SIZE_MM, mm, seed, varied=True)
        rgb, labels = surface.rgb_linear, surface.labels
        kinds = [str(layer.role) for layer in surface.truth.layers]
        labs = [np.array(layer.lab) for layer in surface.truth.layers]
    reading, _ = read_jpeg(as_jpeg(flat_code(rgb, seed), 92), family, mm)
    shown = np.array([layer.shown_lab for layer in reading.layers])
    found = []
    for number, (kind, lab) in enumerate(zip(kinds, labs, strict=True)):
        if not kind or float((labels == number).mean()) < _LEAST:
            continue
        apart = delta_e_2000(shown, lab[None])
        near = int(apart.argmin())
        read = str(reading.layers[near].role) if apart[near] <= _SAME_DE00 else ""
        found.append(RoleRead(surface=name, true=kind, read=read))
    return found


def _kind(kind: str, family: Family) -> str:
    """What the second generator's word for a coat is as a role.

    Dashes are pores among grain, slubs among threads, strokes of a brush; else spots. A crackle's
    net shows what lies below: its coat is the cells.
    """
    dashed = family.lines_role in ("grain", "thread", "brush")
    return {
        "line": family.lines_role,
        "net": "cell" if family.ground == "net" else family.lines_role,
        "dash": family.lines_role if dashed else family.patches_role,
    }.get(kind, kind)


def role_rows(quick: bool) -> Iterator[Row]:
    """Yield how many of the layers that were found are of another kind than was drawn."""
    if quick:
        return
    todo = [(f, seed, second) for second in (False, True) for f in FAMILIES for seed in SEEDS]
    with ProcessPoolExecutor(2, get_context("spawn"), initializer=one_thread) as pool:
        read = [one for found in pool.map(roles_read, todo) for one in found]
    told = [one for one in read if one.read]
    for one in told:
        if not one.right:
            print(f"  {one.surface}: {one.true} read as {one.read}")
    wrong = 100 * float(np.mean([not one.right for one in told]))
    yield Row(name=f"roles wrong, % of {len(told)} layers", error=wrong, goal=3.0)

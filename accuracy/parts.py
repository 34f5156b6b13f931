"""The parts of the accuracy table by name."""

from __future__ import annotations

from accuracy.boards import board_rows
from accuracy.cases import case_rows
from accuracy.colours import colour_rows
from accuracy.families import family_rows
from accuracy.fresh import fresh_rows
from accuracy.halves import half_rows
from accuracy.jointed import joint_rows
from accuracy.layers import layer_rows
from accuracy.light import light_rows
from accuracy.mending import mending_rows
from accuracy.mixes import mix_rows
from accuracy.outlines import outline_rows
from accuracy.pairs import pair_rows
from accuracy.pattern import pattern_rows
from accuracy.photos import geometry_rows
from accuracy.places import place_rows
from accuracy.repeats import repeat_rows
from accuracy.roles import role_rows
from accuracy.rows import Row
from accuracy.scales import scale_rows
from accuracy.schedules import schedule_rows
from accuracy.soft import soft_rows
from accuracy.soft_veins import soft_vein_rows
from accuracy.surfaces import surface_rows
from accuracy.watching import watching_rows

PARTS = {
    "surfaces": surface_rows,
    "boards": board_rows,
    "layers": layer_rows,
    "soft": soft_rows,
    "veins": soft_vein_rows,
    "roles": role_rows,
    "places": place_rows,
    "halves": half_rows,
    "pattern": pattern_rows,
    "families": family_rows,
    "repeats": repeat_rows,
    "geometry": geometry_rows,
    "outlines": outline_rows,
    "joints": joint_rows,
    "colours": colour_rows,
    "light": light_rows,
    "mixes": mix_rows,
    "scales": scale_rows,
    "pairs": pair_rows,
    "fresh": fresh_rows,
    "cases": case_rows,
    "mending": mending_rows,
    "watching": watching_rows,
    "schedules": schedule_rows,
}
# The longest quick runs: they are begun first.
LONG = ("boards", "geometry", "surfaces", "colours")


def quick_rows(name: str) -> list[Row]:
    """Return the rows of one part's quick run."""
    return list(PARTS[name](True))

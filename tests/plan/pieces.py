"""Thirty pieces of the hotel: what each is made of, where it is and how it is worked."""

from __future__ import annotations

import re
from dataclasses import dataclass, field

from jartide.plan.facts import read_facts
from jartide.plan.propose import propose
from jartide.plan.rules import check
from jartide.plan.site import Site, Wear, Where
from jartide.wording import say

from .conftest import piece, reading_of


@dataclass(frozen=True, kw_only=True)
class Case:
    """One piece and the painter's choices for it."""

    family: str
    site: Site = field(default_factory=Site)
    wanted: dict = field(default_factory=dict)
    count: int = 1
    sheen: str | None = None


def _site(substrate, *conditions, **parts):
    return Site(substrate=substrate, conditions=conditions, **parts)


OUT, FLOOR, TOP, HANDS = Where.OUTSIDE, Wear.FLOOR, Wear.WORKTOP, Wear.TOUCHED
PIECES = {
    "01 motif cupboard": Case(
        family="brushed", site=_site("painted", "parts"), wanted={"way": "rubbed_soft_coat"}
    ),
    "02 terrace planters": Case(
        family="concrete", site=_site("plastic", place=OUT, wear=HANDS), count=4
    ),
    "03 dry-brushed dresser": Case(
        family="brushed", site=_site("painted", "glossy", "parts"), wanted={"crossing": "crossed"}
    ),
    "04 cast door": Case(family="bronze", site=_site("masonry"), wanted={"bloom": "reaction"}),
    "05 bar wall": Case(
        family="plaster", site=_site("plaster_wall"), wanted={"way": "metal_plaster"}
    ),
    "06 crackled tray": Case(
        family="crackle", site=_site("wood_panel"), wanted={"way": "paste_crackle"}
    ),
    "07 bar counter": Case(
        family="marble", site=_site("wood_panel", wear=TOP), wanted={"veins": "drift_first"}
    ),
    "08 rust frame": Case(family="rust", site=_site("bare_wood", "parts")),
    "09 shutters": Case(family="wood", site=_site("bare_wood", "parts", place=OUT), count=6),
    "10 lift door, iron": Case(family="rust", site=_site("metal"), wanted={"rust": "reaction"}),
    "11 lobby panel": Case(
        family="bronze", site=_site("wood_panel"), wanted={"way": "trowelled_metal"}
    ),
    "12 garden figure": Case(
        family="concrete", site=_site("plaster_wall"), wanted={"way": "powder_figure"}
    ),
    "13 cornice": Case(
        family="bronze", site=_site("plaster_wall", overhead=True), wanted={"last": "wax"}
    ),
    "14 worn bench": Case(family="brushed", site=_site("painted"), wanted={"way": "worn_layers"}),
    "15 peeling wall": Case(family="plaster", site=_site("masonry", "flaking", place=OUT)),
    "16 crossed cabinet": Case(
        family="brushed", site=_site("wood_panel"), wanted={"way": "crossed_metal"}
    ),
    "17 lifted wall": Case(
        family="plaster", site=_site("plaster_wall"), wanted={"waxing": "between"}
    ),
    "18 stone vase": Case(family="stone", site=_site("glass"), wanted={"way": "pounced_stone"}),
    "19 library panels": Case(family="wood", site=_site("bare_wood", "bleeding"), count=8),
    "20 reception desk": Case(family="wood", site=_site("laminate", wear=TOP)),
    "21 terrace wall": Case(family="concrete", site=_site("masonry", place=OUT)),
    "22 damp cellar": Case(family="stone", site=_site("masonry", "damp")),
    "23 limewashed hall": Case(family="stone", site=_site("plaster_wall", "limewashed")),
    "24 bar front": Case(family="marble", site=_site("wood_panel", wear=HANDS), count=6),
    "25 oil marble": Case(
        family="marble", site=_site("wood_panel"), wanted={"glaze_binder": "oil", "last": "wax"}
    ),
    "26 linen room": Case(
        family="linen", site=_site("plaster_wall"), wanted={"weave": "soft"}, count=3
    ),
    "27 leather door": Case(
        family="leather", site=_site("wood_panel", wear=HANDS), wanted={"reveal": "sand"}
    ),
    "28 verdigris lobby": Case(family="verdigris", site=_site("metal")),
    "29 glass panel": Case(family="marble", site=_site("glass", behind_glass=True)),
    "30 stone floor": Case(family="stone", site=_site("old_floor", wear=FLOOR)),
}


def planned(name):
    """Return (reading, piece, steps) of one of the pieces."""
    case = PIECES[name]
    reading = reading_of(case.family)
    one = piece(name=name, site=case.site, count=case.count)
    return reading, one, propose(reading, (one,), case.wanted)


def findings_of(name):
    """Return what the rules say of its plan, schools left out."""
    reading, one, steps = planned(name)
    found = check(steps, (one,), reading.family, dark=read_facts(reading).dark)
    return [f for f in found if f.grade != "school"]


def as_text(name):
    """Return the whole plan as text; figures of the reading as #, they are tested elsewhere."""
    lines = []
    for step in planned(name)[2]:
        title = ("  wet: " if step.wet else "") + say(step.name)
        coats = f" x{step.coats}" if step.coats > 1 else ""
        lines.append(f"{title}{coats} [{step.technique}]")
        words = [say(m) for m in (*([step.why] if step.why else []), *step.how)]
        lines += [f"    {line}" for line in words]
    text = "\n".join(lines) + "\n"
    return re.sub(r"\d+(?:\.\d+)?", "#", text)

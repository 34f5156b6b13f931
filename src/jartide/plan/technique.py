"""The ways of working that a plan can use, from the technique table."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

from jartide.errors import PlanError
from jartide.plan.tables import checked_words, keys_known, parsed, rows, shipped


class Kind(StrEnum):
    """What a step is for."""

    SET_OUT = "set_out"
    TEST = "test"
    CLEAN = "clean"
    PREPARE = "prepare"
    PRIME = "prime"
    BASE = "base"
    TEXTURE = "texture"
    PATTERN = "pattern"
    VEIL = "veil"
    PROTECT = "protect"
    CARE = "care"


class Product(StrEnum):
    """What sort of thing it lays on, or takes to do it with."""

    NONE = "none"
    PRIMER = "primer"
    PAINT = "paint"
    GLAZE = "glaze"
    MEDIUM = "medium"
    TEXTURE = "texture"
    PLASTER = "plaster"
    CLEAR = "clear"
    WAX = "wax"
    METAL = "metal"
    OXIDISER = "oxidiser"
    CRACKLE = "crackle"
    RESIST = "resist"
    STAIN = "stain"
    CLEANER = "cleaner"


# What stays on the surface as a coat; the rest is work or is washed and peeled off again.
COATS = frozenset(
    {
        Product.PRIMER,
        Product.PAINT,
        Product.GLAZE,
        Product.MEDIUM,
        Product.TEXTURE,
        Product.PLASTER,
        Product.CLEAR,
        Product.WAX,
        Product.METAL,
        Product.CRACKLE,
        Product.STAIN,
    }
)
BINDERS = ("", "water", "oil", "spirit", "lime", "wax")
SIZES = ("", "line", "patch", "cell", "grain", "thread", "speck", "ridge")
# What a text of the table may name in braces.
MEASURES = {
    "layer", "share", "degrees", "cross", "width", "narrow", "wide", "length", "spacing",
    "softness", "passage", "contrast", "patch", "cell", "groove", "speck", "number", "warp", "weft",
    "warp_count", "weft_count", "slubs", "pores", "knots", "sheen",
}  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Technique:
    """One way of working. Fields and units are those of techniques.toml.

    Attributes
    ----------
    laid : share of the surface it goes onto, or "cover"
    size, size_factor : the measure that its tool follows, and millimetres of tool to one of it
    tool_range_mm : the least and the largest of its tools; empty for any
    latest_h : after which it must be keyed before the next coat; 0 for never
    axis : whether it is worked along the finish's direction
    along : which one: "" the layer's own, "first" and "cross" the two of the whole, "warp" and
        "weft" of a cloth
    joins : whether it may pause only at a joint, since a wet edge must be kept
    ready, back : how it is seen to be ready for the next; what takes it back and until when
    on_fail : of a test: techniques that go in before it is tried again
    """

    id: str
    name: str
    kind: Kind
    product: Product = Product.NONE
    binder: str = ""
    tool: str = ""
    how: tuple[str, ...] = ()
    laid: float | str = 1.0
    size: str = ""
    size_factor: float = 1.0
    tool_range_mm: tuple[float, ...] = ()
    speed_m2_h: float
    open_min: float = 0.0
    dry_h: float = 0.0
    film_um: float = 0.0
    latest_h: float = 0.0
    coats: int = 1
    carrier: float = 0.0
    water: float = 0.0
    spreading_m2_per_l: float = 0.0
    axis: bool = False
    along: str = ""
    joins: bool = True
    rewets: bool = False
    changes: tuple[str, ...] = ()
    ready: str = ""
    back: str = ""
    photo: str = ""
    cautions: tuple[str, ...] = ()
    faults: tuple[str, ...] = ()
    on_fail: tuple[str, ...] = ()

    @property
    def lays(self) -> bool:
        """Whether it leaves a coat behind."""
        return self.product in COATS


Techniques = dict[str, Technique]


def techniques(own: str = "", name: str = "techniques.toml") -> Techniques:
    """Return every technique by id; `own` is the text of the painter's own table.

    Raises
    ------
    PlanError : one sentence on the first fault of a table.
    """
    # However it is called, the same tables are read once.
    return _techniques(own, name)


@lru_cache(maxsize=8)
def _techniques(own: str, name: str) -> Techniques:
    found = _read(shipped("techniques.toml"), "techniques.toml")
    if own:
        found = {**found, **_read(own, name)}
    for one in found.values():
        for other in one.on_fail:
            if other not in found:
                raise PlanError("error.table.technique", name=name, key=one.id, what=other)
    return found


def _read(text: str, name: str) -> Techniques:
    data = parsed(text, name)
    keys_known(data, {"technique"}, name)
    found: Techniques = {}
    for one in rows(data, "technique", Technique, name):
        if one.id in found:
            raise PlanError("error.table.twice", name=name, key=one.id)
        found[one.id] = one
        _check(one, name)
    return found


def _check(one: Technique, name: str) -> None:
    known = {
        "laid": one.laid == "cover" or (isinstance(one.laid, float) and 0 < one.laid <= 1),
        "binder": one.binder in BINDERS,
        "size": one.size in SIZES,
        "along": one.along in ("", "first", "cross", "warp", "weft"),
        "speed_m2_h": one.speed_m2_h > 0,
        "open_min": one.open_min >= 0,
        "dry_h": 0 <= one.dry_h <= 2000,
        "film_um": one.film_um >= 0,
        "latest_h": one.latest_h >= 0,
        "coats": 1 <= one.coats <= 12,
        "carrier": one.carrier >= 0,
        "water": one.water >= 0,
        "size_factor": one.size_factor > 0,
        "tool_range_mm": not one.tool_range_mm
        or (len(one.tool_range_mm) == 2 and 0 < one.tool_range_mm[0] <= one.tool_range_mm[1]),
        # A coat without a rate would never be bought.
        "spreading_m2_per_l": one.spreading_m2_per_l > 0 or not one.lays,
        "name": bool(one.name.strip()) and bool(one.id.strip()),
    }
    for what, right in known.items():
        if not right:
            raise PlanError("error.table.value", name=name, key=one.id, what=what)
    texts = (one.name, one.tool, one.ready, one.back, one.photo, *one.how)
    checked_words(texts, MEASURES, name, one.id)

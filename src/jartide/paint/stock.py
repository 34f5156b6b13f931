"""What stands on the shelf: everything of a tin but its colour. Unknown is None."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from enum import StrEnum


class Kind(StrEnum):
    """What sort of product it is."""

    PAINT = "paint"
    STAIN = "stain"
    WAX = "wax"
    METAL = "metal"
    CARRIER = "carrier"
    ADDITIVE = "additive"
    PRIMER = "primer"
    CLEAR = "clear"
    MIXED = "mixed"


class Binder(StrEnum):
    """What holds it together when dry."""

    WATER = "water"
    OIL = "oil"
    LIME = "lime"
    WAX = "wax"


class Rewets(StrEnum):
    """What takes it up again once dry."""

    NOTHING = "nothing"
    WATER = "water"
    SPIRIT = "spirit"


class Place(StrEnum):
    """Where its label allows it."""

    INSIDE = "inside"
    OUTSIDE = "outside"
    BOTH = "both"


class Doubt(StrEnum):
    """Why nobody knows how it does until it was tried."""

    OLD = "old"
    LUMPY = "lumpy"
    OFF_LABEL = "off_label"


class Body(StrEnum):
    """How thick it is in the tin."""

    THIN = "thin"
    NORMAL = "normal"
    THICK = "thick"


# Kinds that can be mixed by their colour; the others are on the shelf for the plan.
MIXABLE = (Kind.PAINT, Kind.STAIN, Kind.MIXED)


@dataclass(frozen=True, slots=True, kw_only=True)
class Stock:
    """One product's label and what is left of it.

    Attributes
    ----------
    open_min, recoat_h, cure_days : working time, until the next coat, until it is hard
    spreading_m2_per_l : of one coat
    thinner_limit : most parts of thinner to one of paint
    density_g_per_ml : for weighing
    price : of a whole tin
    opened, batch, notes : in the painter's own words; `opened` a date, year first
    """

    kind: Kind = Kind.PAINT
    binder: Binder | None = None
    rewets: Rewets | None = None
    open_min: float | None = None
    recoat_h: float | None = None
    cure_days: float | None = None
    spreading_m2_per_l: float | None = None
    thinner: str = ""
    thinner_limit: float | None = None
    place: Place | None = None
    primer_in: bool | None = None
    clear_in: bool | None = None
    stands_wear: bool | None = None
    body: Body | None = None
    sheen: str = ""
    density_g_per_ml: float | None = None
    tin_ml: float | None = None
    price: float | None = None
    left_ml: float | None = None
    opened: str = ""
    batch: str = ""
    notes: str = ""
    doubt: Doubt | None = None


# What is assumed where a label was not entered: rules of thumb, shown as assumed.
ASSUMED: dict[Kind, Stock] = {
    Kind.PAINT: Stock(
        binder=Binder.WATER, open_min=15, recoat_h=3, cure_days=21, spreading_m2_per_l=10,
        thinner="water", thinner_limit=0.2, density_g_per_ml=1.3,
    ),
    Kind.STAIN: Stock(
        kind=Kind.STAIN, binder=Binder.WATER, open_min=8, recoat_h=12, cure_days=7,
        spreading_m2_per_l=12, thinner="water", thinner_limit=0.5, density_g_per_ml=1.02,
    ),
    Kind.WAX: Stock(
        kind=Kind.WAX, binder=Binder.WAX, rewets=Rewets.SPIRIT, open_min=15, recoat_h=12,
        cure_days=21, spreading_m2_per_l=12, density_g_per_ml=0.9,
    ),
    Kind.METAL: Stock(
        kind=Kind.METAL, binder=Binder.WATER, open_min=10, recoat_h=4, cure_days=14,
        spreading_m2_per_l=6.5, thinner="water", thinner_limit=0.05, density_g_per_ml=1.4,
    ),
    Kind.CARRIER: Stock(
        kind=Kind.CARRIER, binder=Binder.WATER, open_min=25, recoat_h=2, cure_days=14,
        spreading_m2_per_l=15, thinner="water", thinner_limit=0.3, density_g_per_ml=1.04,
    ),
    Kind.ADDITIVE: Stock(kind=Kind.ADDITIVE, density_g_per_ml=1.0),
    Kind.PRIMER: Stock(
        kind=Kind.PRIMER, binder=Binder.WATER, open_min=15, recoat_h=4, cure_days=7,
        spreading_m2_per_l=10, thinner="water", thinner_limit=0.05, density_g_per_ml=1.35,
    ),
    Kind.CLEAR: Stock(
        kind=Kind.CLEAR, binder=Binder.WATER, open_min=10, recoat_h=3, cure_days=21,
        spreading_m2_per_l=12, thinner="water", thinner_limit=0.1, density_g_per_ml=1.03,
    ),
    Kind.MIXED: Stock(
        kind=Kind.MIXED, binder=Binder.WATER, open_min=15, recoat_h=3, cure_days=21,
        spreading_m2_per_l=10, thinner="water", thinner_limit=0.2, density_g_per_ml=1.3,
    ),
}  # fmt: skip


# A tin opened longer ago than this is tried before it is trusted: rule of thumb.
_KEEPS_DAYS = 730


def is_old(stock: Stock, today: date) -> bool:
    """Whether a tin was opened so long ago that it may have changed; unknown dates say nothing."""
    try:
        opened = date.fromisoformat(stock.opened)
    except ValueError:
        return False
    return (today - opened).days > _KEEPS_DAYS


def known_or_assumed(stock: Stock, field: str) -> tuple[object, bool]:
    """Return a property and whether it is only assumed; (None, True) when nothing can be said."""
    own = getattr(stock, field)
    if own not in (None, ""):
        return own, False
    return getattr(ASSUMED[stock.kind], field) or None, True

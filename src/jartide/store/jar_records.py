"""The painter's shelf and jars as records: tins with their swatches, and mixes made from them."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from jartide.colour.words import Lab
from jartide.devices.source import Source
from jartide.paint.paste import Spread
from jartide.paint.shelf import Opacity, Shelf, ShelfPaint, Swatch, SwatchKind
from jartide.paint.stock import MIXABLE, Stock


def _new_id() -> str:
    return str(uuid.uuid4())


@dataclass(frozen=True, slots=True, kw_only=True)
class Dried:
    """One colour as it was seen wet, dry or sealed, and what it became."""

    before_state: str
    after_state: str
    before: Lab
    after: Lab


@dataclass(frozen=True, slots=True, kw_only=True)
class Tin:
    """One product on the shelf; without a masstone it can't be mixed by colour.

    `approximate` colours came with the starter shelf and not from the painter's own swatches;
    a tin that is not `owned` is looked at before it is bought, and not mixed with.
    """

    id: str = field(default_factory=_new_id)
    name: str
    opacity: Opacity = Opacity.SEMI
    swatches: tuple[Swatch, ...] = ()
    stock: Stock = field(default_factory=Stock)
    approximate: bool = False
    owned: bool = True
    position: int = 0
    deleted_at: str | None = None

    @property
    def masstone(self) -> Lab | None:
        """The tin's own colour; None while it is not known."""
        own = (s.lab for s in self.swatches if s.kind is SwatchKind.MASSTONE and not s.left_out)
        return next(own, None)


@dataclass(frozen=True, slots=True, kw_only=True)
class JarPart:
    """So many parts of one tin.

    `let_down` parts of the tin `let_down_with` to one of it are mixed first in a small jar, and of
    that jar whole parts are taken; 0 where it goes in as it is. `parts` is what of the tin is
    really in the mix.
    """

    tin_id: str
    parts: float
    let_down: float = 0.0
    let_down_with: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class JarReading:
    """What a mixed jar really read, dry, and what had really gone into it.

    What a stand-in said is kept and shown, and teaches nothing outside the demo.
    """

    lab: Lab
    parts: tuple[JarPart, ...]
    read_at: str
    source: Source = Source.UNKNOWN


@dataclass(frozen=True, slots=True, kw_only=True)
class JarUse:
    """A pass the mix serves, for its quantity.

    None: the finish's own area, what the layer covers, a rule of thumb for the rate.
    """

    area_m2: float | None = None
    laid_share: float | None = None
    coats: float = 1.0
    spreading_m2_per_l: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Mix:
    """A jar: what is meant to stand in it, and what was really mixed.

    Attributes
    ----------
    layer : id of the layer it is for; "" for a colour of its own
    target : colour wanted
    uses : the passes it serves
    carrier, water, coats : parts beside the paints, in a glaze, and its films (1 to 3)
    mixed_ml, left_ml : made in all, and left; thickened, how it has changed since
    readings : of the jar, each with what had gone in
    dried : what it looked like wet and dry, or dry and sealed
    spreads : how far a spoonful of it spread, where it is a paste, look by look
    accent : so little is wanted that less may be mixed than its parts can be measured in
    """

    id: str = field(default_factory=_new_id)
    finish_id: str
    layer: str = ""
    name: str = ""
    target: Lab | None = None
    parts: tuple[JarPart, ...] = ()
    carrier: float = 0.0
    carrier_name: str = ""
    water: float = 0.0
    coats: int = 1
    uses: tuple[JarUse, ...] = (JarUse(),)
    mixed_ml: float = 0.0
    left_ml: float | None = None
    mixed_at: str | None = None
    readings: tuple[JarReading, ...] = ()
    dried: tuple[Dried, ...] = ()
    notes: str = ""
    spreads: tuple[Spread, ...] = ()
    accent: bool = False
    position: int = 0
    deleted_at: str | None = None

    @property
    def total(self) -> float:
        """All wet parts together."""
        return sum(part.parts for part in self.parts) + self.carrier + self.water


def shelf_of(
    tins: Sequence[Tin],
    white_card: Lab | None = None,
    black_card: Lab | None = None,
    *,
    made_up: bool = False,
) -> tuple[Shelf, tuple[str, ...]]:
    """Return the shelf that can be mixed from, and the tins' ids in its order.

    Swatches mixed with a tin that has gone are passed over; of two tins of one name
    the first counts. What a stand-in said counts only if `made_up`, as in the demo.
    """
    if not made_up:
        tins = [_as_read(tin) for tin in tins]
    mixable: dict[str, Tin] = {}
    for tin in tins:
        if tin.owned and tin.masstone is not None and tin.stock.kind in MIXABLE:
            mixable.setdefault(tin.name.casefold(), tin)
    paints = tuple(
        ShelfPaint(
            name=tin.name,
            opacity=tin.opacity,
            swatches=tuple(
                s
                for s in tin.swatches
                if s.kind is not SwatchKind.MIX or s.other.casefold() in mixable
            ),
        )
        for tin in mixable.values()
    )
    shelf = Shelf(paints=paints)
    cards = Shelf(
        paints=paints,
        white_card=white_card or shelf.white_card,
        black_card=black_card or shelf.black_card,
    )
    return cards, tuple(tin.id for tin in mixable.values())


def _as_read(tin: Tin) -> Tin:
    """The tin without what a stand-in said of it."""
    read = tuple(s for s in tin.swatches if s.source is not Source.STAND_IN)
    return tin if len(read) == len(tin.swatches) else replace(tin, swatches=read)


def tins_of(shelf: Shelf, stock: dict[str, Stock], *, approximate: bool = False) -> list[Tin]:
    """Return tins for the paints of a shelf and for what is in stock beside them."""
    known = {name.casefold(): (name, own) for name, own in stock.items()}
    tins = [
        Tin(
            name=paint.name,
            opacity=paint.opacity,
            swatches=paint.swatches,
            stock=known.pop(paint.name.casefold(), (paint.name, Stock()))[1],
            approximate=approximate,
            position=position,
        )
        for position, paint in enumerate(shelf.paints)
    ]
    for name, own in known.values():
        tins.append(Tin(name=name, stock=own, approximate=approximate, position=len(tins)))
    return tins

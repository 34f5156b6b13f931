"""What mends a board, in amounts, what else each mend moves, and when a fresh board is better.

The amounts are those that bring the board's value to the target's; `Mend.amount` is read by
`Mend.action`. Side effects follow from the geometry of a pattern: lines twice as wide cover
twice as much. Colours with the shelf's own paints are worked out in `paint_mends`.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

from jartide.boards.advice import ASKS, VEIL_REACH_DE00
from jartide.boards.result import Comparison, Difference
from jartide.boards.strokes import DABBED
from jartide.measures.key import Key
from jartide.measures.measure import Mended, Way
from jartide.measures.surface import PLACES
from jartide.reading.result import LINE_ROLES, Reading
from jartide.wording import Message


class Action(StrEnum):
    """What is done. The unit of `Mend.amount` is in brackets."""

    TOOL = "tool"  # size of tool (factor)
    ADD = "add"  # more of a pattern (factor)
    TAKE = "take"  # less of it (factor)
    COVER = "cover"  # of a layer (points of the surface, -1..1)
    TONE = "tone"  # colour of a layer (CIEDE2000)
    VEIL = "veil"  # contrast of lines or grain (factor)
    STRENGTHEN = "strengthen"  # the same, up (factor)
    TURN = "turn"  # the lay (degrees, counter-clockwise)
    HAND = "hand"  # how evenly or wildly it is laid (factor)
    SHEEN = "sheen"  # the last coat (steps of seven)


class Means(StrEnum):
    """Where a mend is made: on this board, which is dry when it is judged, or on the next one."""

    REPAIR = "repair"
    FRESH = "fresh"


@dataclass(frozen=True, slots=True, kw_only=True)
class Effect:
    """What a mend does to another measure: by how many just visible differences it moves.

    `helps` says whether that brings it nearer the target.
    """

    quantity: Key
    name: Message
    moves_jnd: float
    helps: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Mend:
    """One mend.

    Attributes
    ----------
    amount : how much, in the unit of `action`
    lab_change : what the layer's colour must move by, Lab; None unless `action` is TONE
    layer : number of the target's layer; None for the whole pattern
    words : what to do, in one sentence
    means : where it is made
    minutes : of work on a board of half a metre, without the drying; a working value
    """

    quantity: Key
    action: Action
    amount: float
    lab_change: tuple[float, float, float] | None = None
    layer: int | None = None
    words: Message
    means: Means
    minutes: float
    effects: tuple[Effect, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Mending:
    """All mends of a board: those for this board first, what brings most per minute of work before.

    `fresh` is why a fresh board is better than a repair; None while a repair will do.
    """

    mends: tuple[Mend, ...]
    fresh: Message | None


# Beyond this a lay can't be brought round without painting most of it again.
_MOST_TURN_DEG = 12.0
# A mend that goes over more of the face than this buries the rest.
_BURIES = 0.6
_GROUND_COVER = Key("coverage", 0)
# Made in one go by a comb, a coat or a stamp: of the wrong size it is made anew.
_MADE_ANEW = frozenset({"weave", "grain", "cells", "joints", "common"})


def mending(comparison: Comparison, target: Reading) -> Mending:
    """Return the mends of all sure differences, and whether to begin afresh."""
    told = [d for d in comparison.differences if d.significant]
    found = [(d, m) for d in told if (m := _mend(d, target, comparison)) is not None]
    found.sort(key=lambda one: (one[1].means is Means.FRESH, -_gain(*one) / one[1].minutes))
    mends = tuple(m for _, m in found)
    fresh = None
    lasting = [m for m in mends if m.means is Means.FRESH]
    if lasting:
        name = next(d.name for d in told if d.quantity == lasting[0].quantity)
        fresh = Message("mend.fresh.lasting", name=name)
    return Mending(mends=mends, fresh=fresh)


def _gain(d: Difference, mend: Mend) -> float:
    """What a mend brings: the difference itself, and what it does to others, JND."""
    others = sum(-abs(e.moves_jnd) if not e.helps else abs(e.moves_jnd) for e in mend.effects)
    return max(abs(d.jnd) + 0.5 * others, 0.1)


# Minutes of work on a board of half a metre: to set up, and for the whole of what is gone over.
_MINUTES: dict[Action, tuple[float, float]] = {
    Action.COVER: (5.0, 40.0),
    Action.TONE: (10.0, 0.0),
    Action.VEIL: (10.0, 0.0),
    Action.STRENGTHEN: (15.0, 0.0),
    Action.TOOL: (25.0, 0.0),
    Action.ADD: (15.0, 0.0),
    Action.TAKE: (15.0, 0.0),
    Action.TURN: (60.0, 0.0),
    Action.HAND: (20.0, 0.0),
    Action.SHEEN: (10.0, 0.0),
}
_FRESH_MINUTES = 120.0


def _minutes(action: Action, amount: float, means: Means) -> float:
    if means is Means.FRESH:
        return _FRESH_MINUTES
    set_up, whole = _MINUTES[action]
    return set_up + whole * min(abs(amount), 1.0)


def _mend(d: Difference, target: Reading, comparison: Comparison) -> Mend | None:
    mended = d.quantity.measure.mended
    if d.advice is None or mended is None or d.advice.id.startswith(ASKS):
        return None
    action, amount = _ORDERS[mended.way](d, mended)
    lab_change = None
    if isinstance(d.target, tuple) and isinstance(d.board, tuple):
        L, a, b = (t - own for t, own in zip(d.target, d.board, strict=True))
        lab_change = (L, a, b)
    means = _means(d, action, amount)
    return Mend(
        quantity=d.quantity,
        action=action,
        amount=amount,
        lab_change=lab_change,
        layer=None if d.quantity.is_extra else d.quantity.layer,
        words=d.advice,
        means=means,
        minutes=_minutes(action, amount, means),
        effects=_effects(d, action, amount, target, comparison),
    )


def _by_size(d: Difference, mended: Mended) -> tuple[Action, float]:
    return Action.TOOL, _inverse(d) ** mended.power


def _by_number(d: Difference, mended: Mended) -> tuple[Action, float]:
    amount = _inverse(d)
    return (Action.ADD if amount > 1 else Action.TAKE), amount


def _by_contrast(d: Difference, mended: Mended) -> tuple[Action, float]:
    amount = _inverse(d)
    return (Action.VEIL if amount < 1 else Action.STRENGTHEN), amount


def _by_hand(d: Difference, mended: Mended) -> tuple[Action, float]:
    return Action.HAND, _inverse(d)


def _by_tone(d: Difference, mended: Mended) -> tuple[Action, float]:
    return Action.TONE, float(d.delta or 0.0)


def _back(action: Action) -> Callable[[Difference, Mended], tuple[Action, float]]:
    """What is mended by moving back as far as it is off."""
    return lambda d, mended: (action, -float(d.delta or 0.0))


# What is done, and how much of it, by the kind of thing that mends a measure.
_ORDERS: dict[Way, Callable[[Difference, Mended], tuple[Action, float]]] = {
    Way.SIZE: _by_size,
    Way.NUMBER: _by_number,
    Way.CONTRAST: _by_contrast,
    Way.HAND: _by_hand,
    Way.TONE: _by_tone,
    Way.TURN: _back(Action.TURN),
    Way.COVER: _back(Action.COVER),
    Way.SHEEN: _back(Action.SHEEN),
}


def _inverse(d: Difference) -> float:
    """What the board's value must be multiplied by; kept within what a hand can do."""
    if d.ratio is None or d.ratio <= 0:
        return 10.0
    return min(max(1 / d.ratio, 0.1), 10.0)


def _means(d: Difference, action: Action, amount: float) -> Means:
    fresh = False
    match action:
        case Action.TURN:
            fresh = abs(amount) > _MOST_TURN_DEG
        case Action.TOOL:
            fresh = d.quantity.measure.block in _MADE_ANEW
        case Action.COVER:
            fresh = -amount / DABBED.hides > _BURIES
        case Action.TONE:
            # A ground's colour lies under everything: a glaze over all moves the rest as well.
            fresh = d.quantity.layer == 0 and amount > VEIL_REACH_DE00
        case Action.HAND:
            # More of a layer can be laid where it is wanted; what lies elsewhere stays.
            is_place = d.quantity.measure in PLACES
            fresh = not (is_place and (d.delta or 0) < 0)
    return Means.FRESH if fresh else Means.REPAIR


def _effects(
    d: Difference, action: Action, amount: float, target: Reading, comparison: Comparison
) -> tuple[Effect, ...]:
    """What the mend does to other measures that were compared."""
    moved: dict[Key, float] = {}
    lines = [i for i, layer in enumerate(target.layers) if layer.role in LINE_ROLES]
    by_path = {other.quantity: other for other in comparison.differences}
    if d.quantity in ("lines.width_mm", "lines.length_mm_per_cm2"):
        # Lines cover as their width times their length.
        for i in lines:
            moved[Key("coverage", i)] = amount
    elif d.quantity in ("patches.count_per_dm2", "clouds.count_per_dm2"):
        for i, layer in enumerate(target.layers):
            if i and layer.role not in LINE_ROLES:
                moved[Key("coverage", i)] = amount
    elif action is Action.VEIL:
        # What is nearer the ground's colour is nearer in all three axes.
        for i in lines:
            moved[Key("lab", i)] = amount
    elif action is Action.COVER and d.quantity != _GROUND_COVER:
        moved[_GROUND_COVER] = -amount
    effects = []
    for quantity, factor in moved.items():
        other = by_path.get(quantity)
        if other is None or quantity == d.quantity:
            continue
        change = _moves(other, factor, plain=action is Action.COVER, target=target)
        if abs(change) >= 0.5:
            after = other.jnd + change
            effects.append(
                Effect(
                    quantity=quantity,
                    name=other.name,
                    moves_jnd=change,
                    helps=abs(after) < abs(other.jnd),
                )
            )
    return tuple(effects)


def _moves(other: Difference, factor: float, *, plain: bool, target: Reading) -> float:
    """By how many just visible differences a factor (or plain points) moves a measure."""
    if isinstance(other.board, tuple) and isinstance(other.target, tuple):
        # A colour set back towards the ground: how far, seen from the target's colour.
        ground = target.layers[0].shown_lab
        moved = [g + factor * (b - g) for g, b in zip(ground, other.board, strict=True)]
        before = sum((b - t) ** 2 for b, t in zip(other.board, other.target, strict=True)) ** 0.5
        after = sum((m - t) ** 2 for m, t in zip(moved, other.target, strict=True)) ** 0.5
        scale = abs(other.jnd) / before if before > 1e-6 else 1.0
        return (after - before) * scale
    if not isinstance(other.board, float) or not other.delta or not other.jnd:
        return 0.0
    per_jnd = other.delta / other.jnd
    change = factor if plain else other.board * (factor - 1)
    return change / per_jnd

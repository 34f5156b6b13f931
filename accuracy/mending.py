"""Boards mended as advised: does the advice bring them nearer?

A board differs from its target in one known way. What the comparison advises is done to the
recipe it was drawn by, and the board is drawn and photographed again.
"""

from __future__ import annotations

from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, fields, replace
from multiprocessing import get_context
from typing import Any

import numpy as np

from accuracy.layers import one_thread
from accuracy.pairs import CHANGED_SEEDS, MM_PER_PX, SIZE_MM, changes, read_surface
from accuracy.rows import Row
from jartide.boards.compare import compare
from jartide.boards.mends import Action, Mend, mending
from jartide.colour.difference import delta_e_2000
from jartide.reading.result import Reading
from jartide.studio.families import SURFACES, draw_family
from jartide.studio.strokes import Hand
from jartide.studio.truth import Surface

_PATTERN_SIZES = ("mottle_mm", "cloud_mm", "patch_mm", "relief_mm")


@dataclass(frozen=True, slots=True, kw_only=True)
class Told:
    """How a board stood to its target before and after its first mend."""

    number: int
    seed: int
    quantity: str
    before: float
    after: float
    off_before: bool


def mended_look(look: Any, original: Any, mend: Mend, target: Reading) -> Any:
    """Return a recipe with a mend done to it; `original` is what the target was drawn by."""
    if mend.layer is not None:
        name = _field_of(original, target.layers[mend.layer].shown_lab)
        if mend.action is Action.TONE:
            assert mend.lab_change is not None
            lab = np.array(getattr(look, name)) + mend.lab_change
            return replace(look, **{name: tuple(float(v) for v in lab)})
        if mend.action is Action.COVER:
            return _covered(look, name, mend.amount)
    block = mend.quantity.split(".")[0]
    if mend.action is Action.TURN:
        return _turned(look, mend.amount)
    if mend.action is Action.TOOL:
        return _sized(look, mend.quantity, block, mend.amount)
    if mend.action in (Action.ADD, Action.TAKE):
        if block == "lines":
            return _hands(look, lambda hand: replace(hand, per_dm2=hand.per_dm2 * mend.amount))
        return _scaled(look, _PATTERN_SIZES, mend.amount**-0.5)
    if mend.action in (Action.VEIL, Action.STRENGTHEN):
        return _set_back(look, original, target, mend.amount)
    if mend.quantity.endswith("spread_deg"):
        return _hands(look, lambda hand: replace(hand, spread_deg=hand.spread_deg * mend.amount))
    if mend.quantity == "lines.softness_mm":
        return _hands(look, lambda hand: replace(hand, softness_mm=hand.softness_mm * mend.amount))
    return look


def _labs(look: Any) -> dict[str, tuple[float, float, float]]:
    found = {f.name: getattr(look, f.name) for f in fields(look)}
    return {n: v for n, v in found.items() if isinstance(v, tuple) and len(v) == 3}


def _field_of(original: Any, lab: tuple[float, float, float]) -> str:
    """The paint of the recipe that a layer of the target is seen to be."""
    labs = _labs(original)
    return min(labs, key=lambda name: float(delta_e_2000(labs[name], lab)))


def _covered(look: Any, name: str, points: float) -> Any:
    if hasattr(look, f"{name}_share"):
        share = float(np.clip(getattr(look, f"{name}_share") + points, 0.005, 0.95))
        return replace(look, **{f"{name}_share": share})
    if hasattr(look, {"vein": "veins", "hair": "hairs"}.get(name, "")):
        hand = {"vein": "veins", "hair": "hairs"}[name]
        old = getattr(look, hand)
        return replace(look, **{hand: replace(old, per_dm2=old.per_dm2 * (1 + 10 * points))})
    # The ground shows more where all that lies on it covers less.
    shares = [f.name for f in fields(look) if f.name.endswith("_share")]
    whole = sum(getattr(look, share) for share in shares)
    factor = max(1 - points / max(whole, 1e-6), 0.05)
    return replace(look, **{share: getattr(look, share) * factor for share in shares})


def _hands(look: Any, change: Any) -> Any:
    return replace(
        look,
        **{
            f.name: change(getattr(look, f.name))
            for f in fields(look)
            if isinstance(getattr(look, f.name), Hand)
        },
    )


def _turned(look: Any, degrees: float) -> Any:
    turned = _hands(look, lambda hand: replace(hand, direction_deg=hand.direction_deg + degrees))
    ways = [f.name for f in fields(look) if f.name.endswith("_deg")]
    return replace(turned, **{way: getattr(look, way) + degrees for way in ways})


def _scaled(look: Any, names: tuple[str, ...], factor: float) -> Any:
    return replace(look, **{n: getattr(look, n) * factor for n in names if hasattr(look, n)})


def _sized(look: Any, quantity: str, block: str, factor: float) -> Any:
    if block == "weave":
        name = quantity.split(".")[1]
        return replace(look, **{name: getattr(look, name) / factor})
    if block == "lines":
        sized = _hands(look, lambda hand: replace(hand, width_mm=hand.width_mm * factor))
        return _scaled(sized, ("crack_mm", "groove_mm"), factor)
    names = {"cells": ("cell_mm",), "grain": ("ring_mm",)}.get(block, _PATTERN_SIZES)
    if quantity == "cells.groove_width_mm":
        names = ("crack_mm", "groove_mm")
    return _scaled(look, names, factor)


def _set_back(look: Any, original: Any, target: Reading, share: float) -> Any:
    """Bring the lines' paints to a share of their way from the ground's."""
    from jartide.reading.result import LINE_ROLES

    ground = np.array(getattr(look, _field_of(original, target.layers[0].shown_lab)))
    new = {}
    for layer in target.layers:
        if layer.role in LINE_ROLES:
            name = _field_of(original, layer.shown_lab)
            lab = ground + share * (np.array(getattr(look, name)) - ground)
            new[name] = tuple(float(v) for v in lab)
    return replace(look, **new)


def _read(surface: Surface, seed: int, shot: int) -> Reading:
    """Photograph as boards are judged: in a light that is known by a grey."""
    reading = read_surface(surface, seed, shot)
    return replace(reading, balance_known=True, exposure_known=True)


def _mend_one(task: tuple[int, int]) -> Told | None:
    number, seed = task
    change = changes()[number]
    original = SURFACES[change.family][1]()
    look = replace(original, **change.fields)
    draw = SURFACES[change.family][0]
    target = _read(draw_family(change.family, SIZE_MM, MM_PER_PX, seed), seed, 0)
    spot = seed + 1000
    board = _read(draw(SIZE_MM, MM_PER_PX, spot, look), seed, 1)
    before = compare(target, board)
    mends = mending(before, target).mends
    if not mends:
        return None
    mended = mended_look(look, original, mends[0], target)
    after = compare(target, _read(draw(SIZE_MM, MM_PER_PX, spot, mended), seed, 2))
    return Told(
        number=number,
        seed=seed,
        quantity=mends[0].quantity,
        before=before.distance,
        after=after.distance,
        off_before=before.distance >= 1,
    )


def mending_rows(quick: bool) -> Iterator[Row]:
    """Yield how often the advised mend brings a board nearer."""
    if quick:
        return
    todo = [(n, seed) for n in range(len(changes())) for seed in CHANGED_SEEDS]
    with ProcessPoolExecutor(2, get_context("spawn"), initializer=one_thread) as pool:
        found = list(pool.map(_mend_one, todo))
    told = [t for t in found if t is not None and t.off_before]
    halved = [t.after <= t.before / 2 for t in told]
    risen = [t.after > t.before for t in told]
    yield Row(
        name=f"advised mend done: distance not halved, % of {len(told)}",
        error=100 * (1 - float(np.mean(halved))),
        goal=15,
    )
    yield Row(
        name="advised mend done: distance risen, %", error=100 * float(np.mean(risen)), goal=3
    )

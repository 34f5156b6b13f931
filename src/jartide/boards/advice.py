"""What mends a difference on a dry board, and what to do otherwise on the next one.

The craft's own answers, said as a colleague would: shares of a tone and passes, not points.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from jartide.boards.causes import cause_of
from jartide.boards.crossed import missing_way
from jartide.boards.result import Difference, State
from jartide.boards.strokes import GROWN, Made, Work, to_add, to_take_back, touch_of, veils
from jartide.boards.surface_state import SurfaceState, seal_explains
from jartide.colour.words import Shift, shift
from jartide.families import family_named
from jartide.figures import figure, short_figure
from jartide.measures.measure import Way
from jartide.measures.shown import rounded
from jartide.reading.result import LINE_ROLES, Layer, Reading
from jartide.wording import Message

_OPPOSITE = {
    Shift.LIGHTER: "darker",
    Shift.DARKER: "lighter",
    Shift.WARMER: "cooler",
    Shift.COOLER: "warmer",
    Shift.GREENER: "pinker",
    Shift.PINKER: "greener",
    Shift.STRONGER: "greyer",
    Shift.GREYER: "stronger",
}
# Grounds darker than this turn milky under a pale veil, L*.
_DARK_L = 40.0
# Messages that ask before anything is mended begin so.
ASKS = "advice.seal."
# Of a ground's colour a veil mends this much, CIEDE2000.
VEIL_REACH_DE00 = 6.0
# What is told of how much more is wanted, at most: percent, and times.
_MOST_MORE, _MOST_TIMES = 300, 5.0
# Tones short by less than this are not worth a brush, share of the face.
_SHORT = 0.01
_MOST_TONES = 2


@dataclass(frozen=True, slots=True, kw_only=True)
class Advised:
    """What an advice may look at: both readings, and all rows of the comparison in their order.

    `seal` : the state the target must be in, and the board not, to explain all colours' shift
    """

    target: Reading
    board: Reading
    differences: Sequence[Difference]
    seal: SurfaceState | None = None
    made: Made | None = None


def advised(
    target: Reading, board: Reading, differences: Sequence[Difference], made: Made | None = None
) -> Advised:
    """Return what advices on a comparison may look at."""
    seal = None
    coloured = any(d.significant and d.quantity.measure.path.endswith("lab") for d in differences)
    if coloured and None in (target.surface_state, board.surface_state):
        seal = seal_explains(target, board)
    return Advised(target=target, board=board, differences=differences, seal=seal, made=made)


def advice_for(difference: Difference, about: Advised) -> Message | None:
    """Return the mend for one sure difference, or None where none is known."""
    measure = difference.quantity.measure
    if measure.mended is None:
        return None
    if about.seal is not None and _is_colour(difference):
        first = next(d for d in about.differences if _is_colour(d) and d.significant)
        return Message(f"{ASKS}{about.seal}") if first is difference else None
    if cause_of(difference, about.target, about.differences) is not None:
        return None
    match measure.mended.way:
        case Way.TONE:
            return _colour_advice(difference, about)
        case Way.COVER:
            return _coverage_advice(difference, about)
        case Way.TURN:
            return _turn_advice(difference, about)
        case Way.SHEEN:
            assert isinstance(difference.target, str)
            return Message("advice.sheen", sheen=difference.target)
    wants_less = (difference.delta or 0) > 0
    ending = "less" if wants_less else "more"
    said: dict[str, Any] = dict(_amounts(difference))
    if difference.quantity.layer is not None:
        said["layer"] = about.target.layers[difference.quantity.layer].name
    if measure.path == "lines.contrast_L":
        return _contrast_advice(difference, about, wants_less=wants_less)
    if measure.path in ("directionality", "direction_spread_deg"):
        missing = missing_way(about.target, about.board)
        if missing is not None:
            return _crossed(missing)
    if measure.path.endswith(".count_per_dm2") and (size := _size_instead(difference, about)):
        return advice_for(size, about)
    if measure.path == "cells.size_mm" and family_named(about.target.family).lines_role == "groove":
        return Message(f"advice.cells.folds.{ending}", **said)
    if measure.path in (
        "specks.count_per_dm2",
        "patches.count_per_dm2",
        "clouds.count_per_dm2",
        "lines.length_mm_per_cm2",
    ):
        said["part"] = _part(1 - _left(difference)) if wants_less else ""
    return Message(f"advice.{measure.path}.{ending}", count=None, **said)


def _is_colour(difference: Difference) -> bool:
    mended = difference.quantity.measure.mended
    return mended is not None and mended.way is Way.TONE


def _left(difference: Difference) -> float:
    """What the target has of what the board has too much of, 0..1."""
    assert isinstance(difference.target, float) and isinstance(difference.board, float)
    return min(difference.target / max(difference.board, 1e-9), 1.0)


def _amounts(difference: Difference) -> dict[str, str]:
    """The numbers an advice may name: now, wanted, and how many times."""
    target, board = difference.target, difference.board
    if not isinstance(target, float) or not isinstance(board, float):
        return {}
    low, high = sorted((max(target, 1e-6), max(board, 1e-6)))
    return {
        # Millimetres in a square centimetre are tens of metres in a square metre.
        "metres": short_figure(10 * abs(target - board)),
        "now": rounded(difference.quantity.measure, board),
        "wanted": rounded(difference.quantity.measure, target),
        "percent": str(round(100 * (1 - low / high))),
        # Beyond three times as much nobody counts any more.
        "more_percent": str(min(round(100 * (high / low - 1)), _MOST_MORE)),
        "times": figure(min(high / low, _MOST_TIMES), 1),
    }


_PARTS = (
    (0.1, "tenth"), (0.2, "fifth"), (0.25, "quarter"), (1 / 3, "third"), (0.5, "half"),
    (2 / 3, "two_thirds"), (0.75, "three_quarters"), (0.9, "nearly_all"), (1.0, "all"),
)  # fmt: skip


def _part(share: float) -> Message:
    """A share as a painter says it."""
    _, word = min(_PARTS, key=lambda part: abs(np.log(part[0] / max(share, 0.05))))
    return Message(f"part.{word}")


# ---- covers


def _coverage_advice(difference: Difference, about: Advised) -> Message:
    if difference.quantity.is_extra:
        return Message("advice.extra", name=difference.name, tones=_short_tones(about, None))
    number = difference.quantity.layer or 0
    layer = about.target.layers[number]
    if not difference.board:
        return _missing_advice(difference, layer, about)
    assert isinstance(difference.target, float) and isinstance(difference.board, float)
    touch = touch_of(about.target)
    too_much = difference.board > difference.target
    if layer.id == "L1":
        return _ground_advice(difference, about, too_much=too_much)
    own = _own_way(layer, about, too_much=too_much)
    if own is not None:
        return own
    lined = layer.role in LINE_ROLES and not touch.by_passes
    if too_much:
        work = to_take_back(difference.target, difference.board, touch)
        if lined:
            part = _part(1 - difference.target / difference.board)
            return Message("advice.coverage.lines.less", layer=layer.name, part=part)
        return _taken_back(layer, work, about)
    work = to_add(difference.target, difference.board, touch)
    if lined:
        return Message("advice.coverage.lines.more", layer=layer.name)
    if work.passes is not None:
        return Message("advice.coverage.passes.more", layer=layer.name, count=work.passes)
    assert work.share is not None
    return Message("advice.coverage.area.more", layer=layer.name, part=_part(work.share))


# A tone that is so much lighter than the ground lies on ridges, or is the lime in the pores, L*.
_LIGHTER_L = 4.0


def _own_way(layer: Layer, about: Advised, *, too_much: bool) -> Message | None:
    """The mend of what is not laid as patches are: grown, rubbed, limed, spattered."""
    family = family_named(about.target.family)
    lighter = layer.shown_lab[0] - about.target.layers[0].shown_lab[0]
    ending = "less" if too_much else "more"
    if layer.role == "speck":
        return Message(f"advice.coverage.specks.{ending}", layer=layer.name)
    if family.name == "wood" and lighter > _LIGHTER_L:
        return Message(f"advice.coverage.lime.{ending}", layer=layer.name)
    if layer.role in LINE_ROLES:
        return None
    if about.made is Made.REACTION and family.name in GROWN:
        return Message(f"advice.coverage.grown.{ending}", layer=layer.name)
    if family.name == "bronze" and lighter > _LIGHTER_L and _is_metal(layer):
        return Message(f"advice.coverage.ridges.{ending}", layer=layer.name)
    return None


def _is_metal(layer: Layer) -> bool:
    """Whether a light tone is bright metal, rubbed on ridges, and not the bloom in the hollows."""
    _, a, b = layer.shown_lab
    return b > 8 and a > -4


def _missing_advice(difference: Difference, layer: Layer, about: Advised) -> Message:
    assert isinstance(difference.target, float)
    if layer.role == "run":
        return Message("advice.missing.run", layer=layer.name)
    own = _own_way(layer, about, too_much=False)
    if own is not None:
        return own
    if layer.role in LINE_ROLES:
        return Message("advice.missing", layer=layer.name)
    work = to_add(difference.target, 0.0, touch_of(about.target))
    if work.passes is not None:
        return Message("advice.coverage.passes.more", layer=layer.name, count=work.passes)
    assert work.share is not None
    return Message("advice.missing.area", layer=layer.name, part=_part(work.share))


def _taken_back(layer: Layer, work: Work, about: Advised) -> Message:
    tones = _short_tones(about, layer)
    if work.passes is not None:
        return Message(
            "advice.coverage.passes.less", layer=layer.name, tones=tones, count=work.passes
        )
    assert work.share is not None
    if _is_flaked(layer, about.target):
        return Message("advice.coverage.flakes.less", layer=layer.name, part=_part(work.share))
    how = Message(f"advice.coverage.how.{'edges' if _too_large(about) else 'whole'}")
    return Message(
        "advice.coverage.area.less",
        layer=layer.name,
        part=_part(work.share),
        tones=tones,
        how=how,
    )


# Flakes have torn edges, harder than any cloud of a plaster's, mm.
_TORN_MM = 0.75


def _is_flaked(layer: Layer, target: Reading) -> bool:
    """Whether areas are flakes, with a rim that stands up: by the family, or by torn edges."""
    family = family_named(target.family)
    if family.patches_word == "flake":
        return layer.role == "patch"
    if family.name != "plaster" or layer.role not in ("patch", "cloud"):
        return False
    own = dict((*target.pattern.patches_by_layer, *target.pattern.clouds_by_layer)).get(layer.id)
    softness = None if own is None else own.softness_mm.value
    return softness is not None and softness < _TORN_MM


def _ground_advice(difference: Difference, about: Advised, *, too_much: bool) -> Message:
    """The ground shows too much or too little: what lies over it is laid, or gone over."""
    assert isinstance(difference.target, float) and isinstance(difference.board, float)
    ground = about.target.layers[0].name
    if about.made is Made.REACTION and family_named(about.target.family).name in GROWN:
        grown = _most_off(about)
        return Message(f"advice.coverage.grown.{'more' if too_much else 'less'}", layer=grown)
    if too_much:
        work = to_add(1 - difference.target, 1 - difference.board, touch_of(about.target))
        tones = _short_tones(about, about.target.layers[0])
        if work.passes is not None:
            return Message("advice.coverage.ground.passes", tones=tones, count=work.passes)
        assert work.share is not None
        return Message("advice.coverage.ground.less", tones=tones, part=_part(work.share))
    above = 1 - difference.target, 1 - difference.board
    work = to_take_back(*above, touch_of(about.target))
    if work.passes is not None:
        return Message("advice.coverage.passes.ground", ground=ground, count=work.passes)
    assert work.share is not None
    return Message("advice.coverage.ground.more", ground=ground, part=_part(work.share))


def _most_off(about: Advised) -> Message:
    """The layer over the ground whose cover is off most; the one laid last where none is."""
    covers = [
        d
        for d in about.differences
        if d.quantity.path == "coverage" and not d.quantity.is_extra and d.quantity.layer
    ]
    worst = max(covers, key=lambda d: abs(d.jnd), default=None)
    number = -1 if worst is None else worst.quantity.layer or -1
    return about.target.layers[number].name


def _short_tones(about: Advised, but: Layer | None) -> Message:
    """The tones that show less than they should, most first; the ground where none does."""
    layers = about.target.layers
    short = []
    for d in about.differences:
        number = d.quantity.layer
        if d.quantity.path != "coverage" or d.quantity.is_extra or number is None:
            continue
        is_short = (d.delta or 0.0) < -_SHORT and layers[number] is not but
        if is_short and (layers[number].role not in LINE_ROLES or touch_of(about.target).by_passes):
            short.append((d.delta or 0.0, layers[number].name))
    names = [name for _, name in sorted(short, key=lambda one: one[0])][:_MOST_TONES]
    if not names:
        return Message("tones.one", layer=layers[0].name)
    if len(names) == 1:
        return Message("tones.one", layer=names[0])
    return Message("tones.two", first=names[0], second=names[1])


def _size_instead(difference: Difference, about: Advised) -> Difference | None:
    """The row of the size, where there are more and smaller ones, or fewer and larger."""
    path = f"{difference.quantity.measure.block}.size_by_area_mm"
    told = (State.DIFFERS, State.LOOKS_DIFFERENT)
    for d in about.differences:
        if d.quantity == path and d.state in told:
            return d if (d.delta or 0.0) * (difference.delta or 0.0) < 0 else None
    return None


def _too_large(about: Advised) -> bool:
    """Whether patches or clouds are larger than the target's, as far as is seen."""
    told = (State.DIFFERS, State.LOOKS_DIFFERENT)
    return any(
        d.quantity in ("patches.size_by_area_mm", "clouds.size_by_area_mm")
        and d.state in told
        and (d.delta or 0.0) > 0
        for d in about.differences
    )


# ---- colours and contrasts


def _colour_advice(difference: Difference, about: Advised) -> Message:
    target, board = difference.target, difference.board
    assert isinstance(target, tuple) and isinstance(board, tuple)
    wanted = _OPPOSITE[shift(target, board)]
    if difference.quantity.layer is None:
        return Message("advice.colour.all", way=_way(wanted))
    number = difference.quantity.layer
    layer = about.target.layers[number]
    if number == 0:
        reach = "veil" if (difference.delta or 0.0) <= VEIL_REACH_DE00 else "anew"
        return Message(f"advice.colour.ground.{reach}", layer=layer.name, way=_way(wanted))
    if layer.role in LINE_ROLES and wanted in ("lighter", "darker"):
        ground = about.target.layers[0].shown_lab[0]
        return _lines_advice(layer, about, target[0] - ground, board[0] - ground)
    place = "lines" if layer.role in LINE_ROLES else "area"
    return Message(f"advice.colour.{place}.{wanted}", layer=layer.name)


def _way(wanted: str) -> Message:
    return Message(f"advice.way.{wanted}")


def _contrast_advice(difference: Difference, about: Advised, *, wants_less: bool) -> Message:
    """Lines that stand off too much or too little; the sign says lighter or darker."""
    assert isinstance(difference.target, float) and isinstance(difference.board, float)
    lines = [layer for layer in about.target.layers if layer.role in LINE_ROLES]
    if not lines:
        ending = "less" if wants_less else "more"
        return Message(f"advice.lines.contrast_L.{ending}", layer=difference.name)
    ground = about.target.layers[0].shown_lab[0]
    boldest = max(lines, key=lambda layer: abs(layer.shown_lab[0] - ground))
    sign = 1.0 if boldest.shown_lab[0] >= ground else -1.0
    return _lines_advice(boldest, about, sign * difference.target, sign * difference.board)


def _lines_advice(layer: Layer, about: Advised, target_L: float, board_L: float) -> Message:
    """`target_L`, `board_L`: how much lighter (+) the lines are than the ground."""
    ground = about.target.layers[0]
    if layer.role == "grain" and target_L < 0:
        return Message(f"advice.grain.contrast_L.{'less' if board_L < target_L else 'more'}")
    if abs(board_L) > abs(target_L) and board_L * target_L > 0:
        count = veils(abs(target_L), abs(board_L))
        if count is None:
            return Message("advice.lines.strong.anew", layer=layer.name, ground=ground.name)
        veil = "clear" if ground.shown_lab[0] < _DARK_L else "thin"
        return Message(
            f"advice.lines.strong.{veil}", layer=layer.name, ground=ground.name, count=count
        )
    way = "lighter" if target_L > board_L else "darker"
    return Message(f"advice.lines.weak.{way}", layer=layer.name)


# ---- ways


def _crossed(missing_deg: float) -> Message:
    return Message("advice.crossed", degrees=round(missing_deg) % 180)


def _turn_advice(difference: Difference, about: Advised) -> Message:
    missing = missing_way(about.target, about.board)
    if missing is not None:
        # Never a mean of two ways.
        return _crossed(missing)
    assert isinstance(difference.target, float)
    return Message("advice.direction", degrees=round(difference.target) % 180)

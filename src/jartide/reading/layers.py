"""The layers of a picture: tones, covers, roles and paint order put together."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import lab_to_linear, linear_to_lab
from jartide.colour.words import Cast, Tone, cast, tone
from jartide.families import Family
from jartide.reading.blur import bar_of, peak_cover
from jartide.reading.covers import assign
from jartide.reading.measured import (
    Measured,
    jackknife_half_width,
    measured,
    tile_of,
    weighted_percentile,
)
from jartide.reading.order import (
    NO_LINES,
    LineEvidence,
    Shapes,
    find_ground,
    paint_order,
    painted_share,
    roles_of,
    shapes_of,
)
from jartide.reading.profiles import LineProfiles
from jartide.reading.result import LINE_ROLES, Layer, Role
from jartide.reading.tones import MAX_TONES, SAME_DE00, find_tones, flatness, nearest_tone
from jartide.wording import Message

# A line shows its own colour at its centre when it covers at least this much there.
WHOLE_COVER = 0.9
# A layer of which pixels lie no deeper than this, in the mean, is all rim.
_RIM_DEPTH_PX = 1.7
# What is seen on less than this is no layer.
LEAST_COVERAGE = 0.002
# Pixels that are counted for tones; more only cost time.
_SAMPLE_PX = 120_000


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class LayerMap:
    """Layers in paint order, and which of them is seen at each pixel, (H, W) uint8."""

    layers: tuple[Layer, ...]
    seen: np.ndarray
    flat: np.ndarray


def read_layers(
    rgb_linear: np.ndarray,
    lab: np.ndarray,
    valid: np.ndarray,
    profiles: LineProfiles,
    family: Family,
    mm_per_px: float | None,
) -> LayerMap:
    """Return the layers of a picture.

    Parameters
    ----------
    rgb_linear, lab : (H, W, 3) float32, the same picture
    valid : (H, W) bool
    profiles : its lines, measured across
    """
    import cv2

    calm = _calmed(lab)
    flat = flatness(calm)
    stride = max(1, int(np.sqrt(valid.sum() / _SAMPLE_PX)))
    inside = valid[::stride, ::stride]
    # Colour bleeds a pixel or two beyond an edge (JPEG keeps half of its detail), so a
    # pixel only counts as far as the steepest pixel beside it does.
    inner = cv2.erode(flat, cv2.getStructuringElement(cv2.MORPH_CROSS, (3, 3)))
    # Averaged over 5 x 5 pixels, where all of them are flat, the paint's own grain evens out.
    smooth = np.dstack([cv2.medianBlur(np.ascontiguousarray(calm[..., c]), 5) for c in range(3)])
    tones = find_tones(smooth[::stride, ::stride][inside], inner[::stride, ::stride][inside])
    tones, whole_tone = _with_line_tones(tones, profiles, float(valid.sum()))

    seen, whole = assign(calm, rgb_linear, flat, tones)
    share = np.bincount(seen[valid], minlength=len(tones)) / valid.sum()
    if (share < LEAST_COVERAGE).any() and len(tones) > 1:
        tones, whole_tone = tones[share >= LEAST_COVERAGE], whole_tone[share >= LEAST_COVERAGE]
        seen, whole = assign(calm, rgb_linear, flat, tones)
    shapes = shapes_of(seen, valid, _line_evidence(profiles, tones), family.lines_most)
    while (rim := _rim(shapes, tones)) is not None:
        tones, whole_tone = np.delete(tones, rim, axis=0), np.delete(whole_tone, rim)
        seen, whole = assign(calm, rgb_linear, flat, tones)
        shapes = shapes_of(seen, valid, _line_evidence(profiles, tones), family.lines_most)
    ground = find_ground(shapes, tones, family)
    roles = roles_of(shapes, ground, family, mm_per_px)
    order = paint_order(shapes, roles, ground)
    layers = _describe(lab, seen, whole & valid, valid, tones, whole_tone, shapes, roles, order)
    renumber = np.empty(len(order), np.uint8)
    renumber[order] = np.arange(len(order))
    return LayerMap(layers=layers, seen=renumber[seen], flat=flat)


def _calmed(lab: np.ndarray) -> np.ndarray:
    """Return Lab with its noise taken out where it is noise.

    A median of 3 x 3 takes noise and JPEG crumbs and keeps edges, but also
    eats lines of one or two pixels: pixels far from their median stay.
    """
    import cv2

    planes = [np.ascontiguousarray(lab[..., c]) for c in range(3)]
    middle = [cv2.medianBlur(plane, 3) for plane in planes]
    apart = np.abs(planes[0] - middle[0])
    fine = apart > 4 * float(np.median(apart[::3, ::3])) + 1.0
    calm = np.dstack(middle)
    calm[fine] = lab[fine]
    return calm


def _with_line_tones(
    tones: np.ndarray, profiles: LineProfiles, area_px: float
) -> tuple[np.ndarray, np.ndarray]:
    """Add the colours of lines that are no colour of an area, (K, 3).

    Lines are too narrow to have flat surroundings, but their centres show what
    they are where they cover it. Lines too fine for that still make a layer,
    whose colour is not to be had. Returns, too, whether each tone is seen whole.
    """
    whole = np.ones(len(tones), bool)
    u, _ = bar_of(profiles.width_px, profiles.softness_px)
    resolved = peak_cover(u) >= WHOLE_COVER
    area = profiles.weight_px * profiles.width_px
    if profiles.width_px.size == 0:
        return tones, whole
    apart = delta_e_2000(profiles.own_lab[:, None], tones[None]).min(axis=1)
    new = apart > 2 * SAME_DE00
    for these, shown in ((resolved & new, True), (~resolved & new, False)):
        # Lines fade on their way: what is faint is a layer of its own only without stronger ones.
        if not shown and any(e.likeness(e.area_px) > 0 for e in _line_evidence(profiles, tones)):
            break
        enough = 0.003 if shown else 0.01
        if these.sum() < 60 or area[these].sum() < enough * area_px:
            continue
        found = find_tones(profiles.own_lab[these], area[these], least_share=0.2)
        for colour in found:
            if len(tones) >= MAX_TONES or delta_e_2000(colour, tones).min() <= 2 * SAME_DE00:
                continue
            more = np.vstack([tones, colour])
            evidence = _line_evidence(profiles, more)
            own = evidence[-1]
            if own.likeness(own.area_px) < 0.2:
                continue
            stronger = [
                tone
                for tone, e in zip(tones, evidence, strict=False)
                if 0.7 * e.area_px > own.area_px
                and e.likeness(e.area_px) > 0
                and delta_e_2000(tone, colour) < 4 * SAME_DE00
            ]
            if not _is_thinned(colour, stronger, tones):
                tones, whole = more, np.append(whole, shown)
    return tones, whole


def _is_thinned(colour: np.ndarray, stronger: list[np.ndarray], tones: np.ndarray) -> bool:
    """Whether a line's colour is a stronger line's, thinly laid over one of the tones.

    Thin paint mixes in linear light, so its colour lies on the way between both.
    """
    own = lab_to_linear(colour)
    for over in stronger:
        for under in tones:
            way = lab_to_linear(over) - lab_to_linear(under)
            cover = float((own - lab_to_linear(under)) @ way / max(way @ way, 1e-9))
            if 0.2 < cover < 0.95:
                mixed = linear_to_lab(lab_to_linear(under) + cover * way)
                if delta_e_2000(colour, mixed) < 1.5 * SAME_DE00:
                    return True
    return False


def _rim(shapes: Shapes, tones: np.ndarray) -> int | None:
    """Return a tone that is only the half-covered rim between two others, or None.

    It is a pixel or two deep, touches both, and its colour is a mixture of theirs.
    """
    for k in np.flatnonzero(shapes.depth_px < _RIM_DEPTH_PX):
        touching = shapes.contact[k] / max(shapes.contact[k].sum(), 1e-9)
        beside = [int(j) for j in np.flatnonzero(touching >= 0.12)]
        pairs = [(i, j) for i in beside for j in beside if i < j]
        for i, j in pairs:
            if _is_thinned(tones[k], [tones[i]], tones[j][None]):
                return int(k)
    return None


def _line_evidence(profiles: LineProfiles, tones: np.ndarray) -> list[LineEvidence]:
    """Return what the centre lines of each tone look like as lines."""
    if profiles.width_px.size == 0:
        return [NO_LINES] * len(tones)
    nearest = nearest_tone(profiles.own_lab, tones)
    segment = profiles.lines.segment
    length = np.bincount(segment, profiles.weight_px)
    width = np.bincount(segment, profiles.weight_px * profiles.width_px) / np.maximum(length, 1e-9)
    slender = (length / np.maximum(width, 1e-9))[segment]
    evidence = []
    for k in range(len(tones)):
        own = nearest == k
        if own.sum() < 20:
            evidence.append(NO_LINES)
            continue
        weight, width_here = profiles.weight_px[own], profiles.width_px[own]
        low, high = (weighted_percentile(width_here, weight, q) for q in (0.1, 0.9))
        evidence.append(
            LineEvidence(
                area_px=float((profiles.weight_px * profiles.width_px)[own].sum()),
                slenderness=weighted_percentile(slender[own], weight, 0.5),
                unevenness=float(high / low),
            )
        )
    return evidence


def _describe(
    lab, seen, whole, valid, tones, whole_tone, shapes: Shapes, roles: list[Role], order
) -> tuple[Layer, ...]:
    """Make the layer records, base first."""
    painted = painted_share(shapes, order)
    rows, columns = np.nonzero(valid[::4, ::4])
    tiles = tile_of(rows * 4, columns * 4, valid.shape)
    labels = seen[::4, ::4][rows, columns]
    unsure = 1 - whole[valid].mean()
    layers: list[Layer] = []
    for place, k in enumerate(order):
        own = (seen == k) & whole
        colours = lab[_inner(own)]
        # Fine lines have too few whole pixels for a median; their centres gave the tone.
        enough = len(colours) >= (200 if roles[k] in LINE_ROLES else 30)
        colour = np.median(colours, axis=0) if enough else tones[k]
        share = float(shapes.coverage[k])
        half = jackknife_half_width(tiles, partial(_share_of, labels, k))
        # Edges may be drawn a little inside or outside: a tenth of the mixed pixels.
        own_half = 0.005 + 0.1 * min(share, 1 - share) * (0.5 + unsure)
        lab_tuple = (float(colour[0]), float(colour[1]), float(colour[2]))
        layers.append(
            Layer(
                id=f"L{place + 1}",
                name=Message("layer.ground"),  # named when all are known
                role=roles[k],
                lab=lab_tuple if whole_tone[k] else None,
                shown_lab=lab_tuple,
                lab_de00=_colour_radius(
                    colours if enough else tones[k][None], colour, roles[k] in LINE_ROLES
                ),
                coverage=measured(share, own_half, half),
                coverage_painted=_painted(painted[k], share, own_half, half, place == 0),
            )
        )
    return _named(layers)


def _share_of(labels: np.ndarray, k: int, keep: np.ndarray) -> float:
    return float((labels[keep] == k).mean())


def _inner(mask: np.ndarray) -> np.ndarray:
    """The mask without its rim, or itself where nothing would be left."""
    import cv2

    inner = cv2.erode(mask.astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
    return inner if inner.sum() >= 200 else mask


def _painted(painted: float, share: float, own_half: float, half: float, ground: bool) -> Measured:
    if ground:
        return measured(1.0, 0.0, 0.0)
    # What is hidden can only be guessed from what surrounds it.
    hidden = 0.3 * (painted - share)
    return measured(float(painted), own_half + hidden, half + hidden)


def _colour_radius(colours: np.ndarray, colour: np.ndarray, is_lines: bool) -> float:
    """The 90 % radius of a layer's colour, CIEDE2000.

    Texture averages out over patches of about 10 x 10 pixels; what stays is the
    camera's own error, 0.5 at best, and for lines what blur leaves at their centres.
    """
    sample = colours[:: max(1, len(colours) // 4000)]
    texture = float(np.median(delta_e_2000(sample, colour)))
    averaged = 1.645 * texture / np.sqrt(max(len(colours) / 100, 1))
    return float(np.hypot(1.0 if is_lines else 0.5, averaged))


def _named(layers: list[Layer]) -> tuple[Layer, ...]:
    """Give each layer a name in words; two that would share one are numbered by lightness."""
    words = [(layer.role, tone(layer.shown_lab), cast(layer.shown_lab)) for layer in layers]
    return tuple(replace(layer, name=_name(i, words, layers)) for i, layer in enumerate(layers))


def _name(i: int, words: list[tuple[Role, Tone, Cast]], layers: list[Layer]) -> Message:
    role, light, hue = words[i]
    if role is Role.GROUND:
        return Message("layer.ground")
    said_role = Message(f"role.{role}")
    twins = [j for j, other in enumerate(words) if other[:2] == (role, light)]
    if len(twins) == 1:
        return Message("layer.tone_role", tone=Message(f"tone.{light}"), role=said_role)
    if len({words[j][2] for j in twins}) == len(twins):
        return Message("layer.cast_role", cast=Message(f"cast.{hue}"), role=said_role)
    darker = sum(layers[j].shown_lab[0] < layers[i].shown_lab[0] for j in twins)
    return Message(
        "layer.numbered", tone=Message(f"tone.{light}"), role=said_role, number=darker + 1
    )

"""Tones that only lines have, and tones that are none: rims, bleeding, thin paint."""

from __future__ import annotations

import numpy as np

from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import lab_to_linear, linear_to_lab
from jartide.reading.layers.shapes import NO_LINES, LineEvidence, RimShapes
from jartide.reading.layers.tones import MAX_TONES, SAME_DE00, find_tones, nearest_tone
from jartide.reading.lines.blur import bar_of, peak_cover
from jartide.reading.lines.profiles import LineProfiles
from jartide.reading.trust.measured import weighted_percentile

# A line shows its own colour at its centre when it covers at least this much there.
WHOLE_COVER = 0.9
# A rim's pixels lie no deeper than this, in the mean; one of mixed paint less deep still,
# since of what bled by JPEG more is seen.
_RIM_DEPTH_PX = 2.4
_MIXED_DEPTH_PX = 1.8
_PIXEL_DEPTH_PX = 1.32
# Share of its edge that it has with each of the two, and how often it parts them.
_TOUCHES = 0.08
_PARTING = 0.42
# How far from its neighbours' own way its a, b may lie, or may where it is rarer than this
# share; and how much of a slight rim there may be beside each of them.
_BLED_CHROMA = (3.5, 6.0)
_RARE = 0.01
_SLIGHT = 0.75


# Below this cover at their centre, lines' own colour is little more than a guess.
_LEAST_PEAK = 0.3


def with_line_tones(
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
        if not shown and any(e.likeness(e.area_px) > 0 for e in line_evidence(profiles, tones)):
            break
        enough = 0.003 if shown else 0.01
        if these.sum() < 60 or area[these].sum() < enough * area_px:
            continue
        found = find_tones(profiles.own_lab[these], area[these], least_share=0.2)
        for colour in found:
            if len(tones) >= MAX_TONES or delta_e_2000(colour, tones).min() <= 2 * SAME_DE00:
                continue
            more = np.vstack([tones, colour])
            evidence = line_evidence(profiles, more)
            own = evidence[-1]
            if own.likeness(own.area_px) < 0.2 or own.peak < _LEAST_PEAK:
                continue
            stronger = [
                tone
                for tone, e in zip(tones, evidence, strict=False)
                if 0.7 * e.area_px > own.area_px
                and e.likeness(e.area_px) > 0
                and delta_e_2000(tone, colour) < 4 * SAME_DE00
            ]
            if not is_thinned(colour, stronger, tones):
                tones, whole = more, np.append(whole, shown)
    return tones, whole


def is_thinned(
    colour: np.ndarray, stronger: list[np.ndarray], tones: np.ndarray, least: float = 0.2
) -> bool:
    """Whether a line's colour, (3,) Lab, is a stronger line's laid thinly over one of (K, 3) tones.

    Thin paint mixes in linear light, so its colour lies on the way between both.
    """
    own = lab_to_linear(colour)
    for over in stronger:
        for under in tones:
            way = lab_to_linear(over) - lab_to_linear(under)
            cover = float((own - lab_to_linear(under)) @ way / max(way @ way, 1e-9))
            if least < cover < 0.95:
                mixed = linear_to_lab(lab_to_linear(under) + cover * way)
                if delta_e_2000(colour, mixed) < 1.5 * SAME_DE00:
                    return True
    return False


def rim_of(shapes: RimShapes, tones: np.ndarray, shown: np.ndarray) -> int | None:
    """Return a tone that is only the half-covered rim between others, or None.

    It is a pixel or two deep, parts what lies on its two sides, and its colour is a
    mixture of theirs: in linear light, or with its lightness and its chroma mixed apart,
    as JPEG does that keeps half of the colour's detail.

    Parameters
    ----------
    tones, shown : (K, 3) Lab, and what the pixels of each show in the mean
    """
    for k in np.flatnonzero(shapes.depth_px < _RIM_DEPTH_PX):
        touching = shapes.contact[k] / max(shapes.contact[k].sum(), 1e-9)
        beside = [int(j) for j in np.flatnonzero(touching >= _TOUCHES)]
        for i in beside:
            for j in beside:
                if i < j and _is_rim(shapes, tones, shown[k], int(k), [i, j]):
                    return int(k)
        # Rare and a pixel deep: where a vein or a speck fades out over its neighbour.
        if shapes.coverage[k] < _RARE and shapes.depth_px[k] < _PIXEL_DEPTH_PX:
            others = [tone for j, tone in enumerate(tones) if j != k]
            if is_thinned(shown[k], others, tones[beside], least=0.05):
                return int(k)
    return None


def _is_rim(
    shapes: RimShapes, tones: np.ndarray, colour: np.ndarray, k: int, pair: list[int]
) -> bool:
    """Whether a tone, whose pixels show `colour`, is the rim between two others."""
    reach = _BLED_CHROMA[0] if shapes.coverage[k] >= _RARE else _BLED_CHROMA[1]
    bled = _is_bled(colour, tones[pair], reach)
    share = shapes.coverage[k] / np.maximum(shapes.coverage[pair], 1e-9)
    as_light = np.abs(colour[0] - tones[pair, 0]) < 3
    if bled and (as_light & (share < _SLIGHT)).any():
        return True
    if shapes.depth_px[k] > _MIXED_DEPTH_PX:
        return False
    first, second = tones[pair[0]], tones[pair[1]]
    thinned = is_thinned(colour, [first], second[None], least=0.05) or is_thinned(
        colour, [second], first[None], least=0.05
    )
    # What is a pixel deep and so slight never covers wholly; what is deeper, or more of it,
    # is a rim where it parts the two.
    if shapes.depth_px[k] < _PIXEL_DEPTH_PX and share.max() < _SLIGHT:
        return thinned or bled
    return thinned and shapes.parting[k] > _PARTING


def _is_bled(colour: np.ndarray, of: np.ndarray, reach: float) -> bool:
    """Whether a colour's lightness and its a, b each lie between those of tones, (N, 3) Lab."""
    low, high = of[:, 0].min() - 1, of[:, 0].max() + 1
    if not low <= colour[0] <= high:
        return False
    away = np.inf
    for i in range(len(of)):
        for j in range(i):
            way = of[i, 1:] - of[j, 1:]
            place = np.clip((colour[1:] - of[j, 1:]) @ way / max(way @ way, 1e-9), 0, 1)
            away = min(away, float(np.hypot(*(colour[1:] - of[j, 1:] - place * way))))
    return away < reach


def line_evidence(profiles: LineProfiles, tones: np.ndarray) -> list[LineEvidence]:
    """Return what the centre lines of each tone, (K, 3) Lab, look like as lines."""
    if profiles.width_px.size == 0:
        return [NO_LINES] * len(tones)
    nearest = nearest_tone(profiles.own_lab, tones)
    segment = profiles.lines.segment
    length = np.bincount(segment, profiles.weight_px)
    width = np.bincount(segment, profiles.weight_px * profiles.width_px) / np.maximum(length, 1e-9)
    slender = (length / np.maximum(width, 1e-9))[segment]
    peak = peak_cover(bar_of(profiles.width_px, profiles.softness_px)[0])
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
                peak=weighted_percentile(peak[own], weight, 0.5),
            )
        )
    return evidence

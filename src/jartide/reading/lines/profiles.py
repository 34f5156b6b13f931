"""Measure a line across: width at half contrast, softness of its edges, contrast in L*.

Every centre point gets one profile of linear light, averaged over a few pixels
along the line. Cover mixes in linear light, so half of the contrast in linear
light is where the line covers half.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from jartide.colour.spaces import RGB_TO_XYZ, xyz_to_lab
from jartide.reading.lines.blur import SOFT_BY_RUN, bar_of, own_colour
from jartide.reading.lines.ridges import CentreLines

MAX_POINTS = 3000
_SAMPLES = 49
# A line shows as far out as it keeps this share of its contrast.
_SHOWS = 0.06
_ALONG_PX = (-1.0, 0.0, 1.0)


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class LineProfiles:
    """Cross-profiles of N centre points that could be measured.

    Attributes
    ----------
    lines : CentreLines, the points; each stands for `weight_px` of centre line
    width_px, softness_px : as the picture shows them, blur and all
    contrast_L : absolute difference of L* between the centre and its two sides
    halo_px : how far beyond what its edge's softness explains the line still shows
    centre_lab, own_lab : (N, 3), as the picture shows the centre, and as it would where
        the line covered wholly
    """

    lines: CentreLines
    weight_px: np.ndarray
    width_px: np.ndarray
    softness_px: np.ndarray
    contrast_L: np.ndarray
    halo_px: np.ndarray
    centre_lab: np.ndarray
    own_lab: np.ndarray


_NONE = np.zeros(0)
NO_PROFILES = LineProfiles(
    lines=CentreLines(**{name: np.zeros(0, int) for name in CentreLines.__slots__}),
    weight_px=_NONE,
    width_px=_NONE,
    softness_px=_NONE,
    contrast_L=_NONE,
    halo_px=_NONE,
    centre_lab=np.zeros((0, 3)),
    own_lab=np.zeros((0, 3)),
)


def measure_profiles(
    rgb_linear: np.ndarray, lines: CentreLines, rng: np.random.Generator
) -> LineProfiles:
    """Measure some `MAX_POINTS` points of (H, W, 3) light, drawn evenly, two of long stretches."""
    share = np.ones(lines.row.size)
    if lines.row.size > MAX_POINTS:
        in_piece = np.bincount(lines.piece)[lines.piece]
        # Short stretches are many, and mostly grain: they take their chance.
        least = np.where(in_piece >= 20, 2 / in_piece, 0)
        share = np.clip(np.maximum(MAX_POINTS / lines.row.size, least), 0, 1)
        chosen = rng.random(lines.row.size) < share
        lines, share = lines.kept(chosen), share[chosen]
    reach = np.clip(3.2 * lines.scale_px + 4, 6, 48)
    profiles, failed = _measure(rgb_linear, lines, share, reach)
    # A wide line can answer strongest at a scale below its own: look once more, further out.
    again, _ = _measure(
        rgb_linear, lines.kept(failed), share[failed], np.minimum(2.2 * reach[failed], 60)
    )
    return _together(profiles, again)


def _together(first: LineProfiles, second: LineProfiles) -> LineProfiles:
    joined: dict = {
        name: np.concatenate([getattr(first, name), getattr(second, name)])
        for name in LineProfiles.__slots__
        if name != "lines"
    }
    lines = CentreLines(
        **{
            name: np.concatenate([getattr(first.lines, name), getattr(second.lines, name)])
            for name in CentreLines.__slots__
        }
    )
    return LineProfiles(lines=lines, **joined)


def _measure(
    rgb_linear: np.ndarray, lines: CentreLines, share: np.ndarray, reach: np.ndarray
) -> tuple[LineProfiles, np.ndarray]:
    """Measure the points within `reach` px to either side; return, too, which end
    beyond it."""
    if lines.row.size == 0:
        return NO_PROFILES, np.zeros(0, bool)
    # In single precision throughout: half the time, and no figure moves.
    t = (np.linspace(-1, 1, _SAMPLES)[None, :] * reach[:, None]).astype(np.float32)
    rgb = _sample(rgb_linear, lines, t)
    value = (rgb @ RGB_TO_XYZ[1].astype(np.float32)) * lines.sign[:, None].astype(np.float32)

    # The crest may lie beside the skeleton: look for it within the line's own scale.
    near = np.abs(t) <= np.maximum(lines.scale_px, 1.0)[:, None]
    # On the flat top of a wide line the middle is meant, not the first of equals.
    span = np.ptp(value, axis=1)[:, None]
    preferred = value - 0.05 * span * np.abs(t) / np.maximum(lines.scale_px, 1.0)[:, None]
    peak_at = np.argmax(np.where(near, preferred, -np.inf), axis=1)
    half_1 = _half_width_once(value, t, peak_at)
    left, right, left_soft, right_soft, centre, sides, halo = _edges(value, t, peak_at, half_1)

    index = np.arange(lines.row.size)
    contrast = centre[:, None] - sides
    # A line drops on both sides; the rim of a patch only on one.
    two_sided = contrast.min(axis=1) > 0.35 * contrast.max(axis=1)
    width = left + right
    fits = np.isfinite(width) & (width > 0.5) & (width < 1.5 * reach)
    left, right = np.where(fits, left, 1.0), np.where(fits, right, 1.0)
    centre_rgb = _mean_between(rgb, t, t[index, peak_at] - 0.25 * left, 0.25 * (left + right))
    beside_rgb = _beside(rgb, t, t[index, peak_at], left, right)
    centre_lab = xyz_to_lab(np.maximum(centre_rgb, 0) @ RGB_TO_XYZ.T)
    beside_lab = xyz_to_lab(np.maximum(beside_rgb, 0) @ RGB_TO_XYZ.T)
    contrast_L = (centre_lab[:, 0] - beside_lab[:, 0]) * lines.sign
    softness = (left_soft + right_soft) / 2
    softness = np.where(np.isfinite(softness), softness, width)
    u, _ = bar_of(np.where(fits, width, 1.0), np.where(fits, softness, 1.0))
    own_rgb = own_colour(centre_rgb, beside_rgb, u)
    own_lab = xyz_to_lab(np.maximum(own_rgb, 0) @ RGB_TO_XYZ.T)
    keep = two_sided & fits & (contrast_L > 1.5)
    profiles = LineProfiles(
        lines=lines.kept(keep),
        weight_px=(lines.step_px / share)[keep],
        width_px=width[keep],
        softness_px=softness[keep],
        contrast_L=contrast_L[keep],
        halo_px=halo[keep],
        centre_lab=centre_lab[keep],
        own_lab=own_lab[keep],
    )
    return profiles, ~fits


def _sample(rgb: np.ndarray, lines: CentreLines, t: np.ndarray) -> np.ndarray:
    """Return (N, samples, 3) linear light across each point, averaged along the line."""
    angle = np.radians(lines.normal_deg)[:, None].astype(np.float32)
    dx, dy = np.cos(angle), -np.sin(angle)
    middle_x = t * dx + lines.column[:, None].astype(np.float32)
    middle_y = t * dy + lines.row[:, None].astype(np.float32)
    total = np.zeros((*t.shape, 3), np.float32)
    for along in _ALONG_PX:
        x, y = middle_x - np.float32(along) * dy, middle_y + np.float32(along) * dx
        total += cv2.remap(rgb, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return total / len(_ALONG_PX)


def _half_width_once(value: np.ndarray, t: np.ndarray, peak_at: np.ndarray) -> np.ndarray:
    """A first half width: to half of the way down to the lowest point in reach."""
    index = np.arange(len(value))
    peak = value[index, peak_at]
    level = (peak + value.min(axis=1)) / 2
    below = value < level[:, None]
    step = t[:, 1] - t[:, 0]
    columns = np.arange(value.shape[1])
    far = value.shape[1]
    right = np.where(below & (columns > peak_at[:, None]), columns, far).min(axis=1) - peak_at
    left = peak_at - np.where(below & (columns < peak_at[:, None]), columns, -far).max(axis=1)
    return np.minimum(np.minimum(left, right), far / 2) * step


def _edges(value, t, peak_at, half_1):
    """Return per point: half widths and softness of both sides, centre, side values, halo."""
    index = np.arange(len(value))
    middle = t[index, peak_at]
    centre = _mean_between(value[..., None], t, middle - 0.3 * half_1, 0.6 * half_1)[:, 0]
    step = t[:, 1] - t[:, 0]
    results = []
    for side in (-1, 1):
        out = (t - middle[:, None]) * side
        # What lies beside: the middle value of a zone just outside the edge.
        zone = (out >= 1.7 * half_1[:, None] + 1) & (out <= 3.0 * half_1[:, None] + 3)
        zone_values = np.where(zone, value, np.nan)
        empty = ~zone.any(axis=1)
        zone_values[empty, 0] = value.min(axis=1)[empty]
        beside = np.nanmedian(zone_values, axis=1)
        relative = (value - beside[:, None]) / np.maximum(centre - beside, 1e-6)[:, None]
        ordered = relative if side > 0 else relative[:, ::-1]
        start = peak_at if side > 0 else value.shape[1] - 1 - peak_at
        half = _first_below(ordered, start, 0.5) * step
        low, high, end = (_first_below(ordered, start, level) for level in (0.2, 0.8, _SHOWS))
        run = np.where(np.isfinite(low), low - np.where(np.isfinite(high), high, 0), np.inf)
        soft = SOFT_BY_RUN * run * step
        # A Gaussian edge is down to that level 0.607 of its softness beyond its half.
        known = np.isfinite(end) & np.isfinite(half) & np.isfinite(soft)
        explained = np.where(known, half + 0.607 * soft, 0)
        halo = np.where(known, np.maximum(np.where(known, end, 0) * step - explained, 0), 0)
        results.append((half, soft, beside, halo))
    (left, left_soft, low_1, halo_1), (right, right_soft, low_2, halo_2) = results
    sides = np.column_stack([low_1, low_2])
    return left, right, left_soft, right_soft, centre, sides, (halo_1 + halo_2) / 2


def _first_below(profile: np.ndarray, start: np.ndarray, level: float) -> np.ndarray:
    """Samples from `start` outward to where the profile first falls below `level`; else inf."""
    index = np.arange(len(profile))
    columns = np.arange(profile.shape[1])
    after = (profile < level) & (columns > start[:, None])
    first = after.argmax(axis=1)
    reached = after[index, first]
    high, low = profile[index, np.maximum(first - 1, 0)], profile[index, first]
    part = np.clip((high - level) / np.maximum(high - low, 1e-9), 0, 1)
    return np.where(reached, first - 1 + part - start, np.inf)


def _mean_between(values, t, low, length):
    """Mean over low <= t <= low + length of (N, samples, C); the nearest sample at least."""
    low, length = low[:, None], length[:, None]
    inside = (t >= low) & (t <= low + length)
    nearest = np.abs(t - (low + length / 2))
    inside |= nearest == nearest.min(axis=1, keepdims=True)
    weight = inside / inside.sum(axis=1, keepdims=True)
    return np.einsum("ns,nsc->nc", weight, values)


def _beside(rgb, t, middle, left, right):
    """Mean linear light (N, 3) of the zones just outside both edges."""
    out = t - middle[:, None]
    zone_left = (out <= -1.7 * left[:, None] - 1) & (out >= -3.0 * left[:, None] - 3)
    zone_right = (out >= 1.7 * right[:, None] + 1) & (out <= 3.0 * right[:, None] + 3)
    zone = zone_left | zone_right
    zone[~zone.any(axis=1), 0] = True
    return np.einsum("ns,nsc->nc", zone / zone.sum(axis=1, keepdims=True), rgb)

"""Suggest the ridges and hollows of a moulded or worn piece from how its tones lie.

Dry-brushed and worn lights lie on what stands out, and tones rubbed in lie in what
stands back; patina does the reverse. Where the tones of a piece gather in parts
much larger than its own pattern, those parts are likely its heights.
"""

from __future__ import annotations

import cv2
import numpy as np

from jartide.families import Family
from jartide.reading.zones import Point, Zone, ZoneKind

# The surface is looked at through a blur of this share of its smaller side.
_BLUR_SHARE = 0.02
_LONGER_SIDE_PX = 240
# Lightness of the two kinds of part must differ by this much, L*, and parting them must
# take out this share of all variance: one bell-shaped heap gives 0.64 (Otsu 1979).
_LEAST_GAP_L = 5.0
_LEAST_PARTED = 0.78
# Share of the piece that either kind of part, and each single part, must have.
_LEAST_SHARE = 0.06
_LEAST_PART = 0.01
# An outline may lie this far from the true edge, pixels of the reduced picture.
_SMOOTH_PX = 1.2


def suggest_heights(
    tones_L: np.ndarray, labels: np.ndarray, valid: np.ndarray, family: Family
) -> tuple[Zone, ...]:
    """Return the ridges and the hollows as one zone each; none where the tones tell of none.

    Parameters
    ----------
    tones_L : (K,) lightness of the layers
    labels, valid : (H, W), the layer at each pixel, and where it counts
    """
    if not family.ridges or not valid.any():
        return ()
    level, counts = _smoothed(tones_L, labels, valid)
    inside = counts > 0.5
    if inside.sum() < 100:
        return ()
    cut, gap, parted = _two_heaps(level[inside])
    lighter = inside & (level > cut)
    share = lighter.sum() / inside.sum()
    if gap < _LEAST_GAP_L or parted < _LEAST_PARTED:
        return ()
    if not _LEAST_SHARE <= share <= 1 - _LEAST_SHARE:
        return ()
    light_kind, dark_kind = ZoneKind.RIDGES, ZoneKind.HOLLOWS
    if family.ridges == "dark":
        light_kind, dark_kind = dark_kind, light_kind
    found = []
    for kind, mask in ((light_kind, lighter), (dark_kind, inside & ~lighter)):
        outlines = _outlines(mask)
        if outlines:
            found.append(Zone(kind=kind, outlines=outlines))
    return tuple(found) if len(found) == 2 else ()


def _smoothed(
    tones_L: np.ndarray, labels: np.ndarray, valid: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """Return the mean lightness of the layers round each place, reduced, and the share that counts.

    By the layers' own lightness, so that light that falls off does not count.
    """
    number = np.minimum(labels, len(tones_L) - 1)
    tone = np.where(valid, tones_L[number], 0).astype(np.float32)
    scale = _LONGER_SIDE_PX / max(tone.shape)
    size = (max(2, round(tone.shape[1] * scale)), max(2, round(tone.shape[0] * scale)))
    small = cv2.resize(tone, size, interpolation=cv2.INTER_AREA)
    part = cv2.resize(valid.astype(np.float32), size, interpolation=cv2.INTER_AREA)
    blur = _BLUR_SHARE * min(size)
    near = cv2.GaussianBlur(part, (0, 0), blur)
    return cv2.GaussianBlur(small, (0, 0), blur) / np.maximum(near, 1e-3), part


def _two_heaps(values: np.ndarray) -> tuple[float, float, float]:
    """Return where values part best in two, how far their middles are apart, and how well."""
    ordered = np.sort(values.astype(float))
    total, number = ordered.sum(), len(ordered)
    below, heap = np.arange(1, number), np.cumsum(ordered)[:-1]
    low, high = heap / below, (total - heap) / (number - below)
    between = below * (number - below) / number**2 * (high - low) ** 2
    at = int(between.argmax())
    parted = between[at] / max(float(ordered.var()), 1e-9)
    cut = (ordered[at] + ordered[at + 1]) / 2
    return float(cut), float(high[at] - low[at]), float(parted)


def _outlines(mask: np.ndarray) -> tuple[tuple[Point, ...], ...]:
    """Return the outlines of the larger parts and their holes, in shares of the picture."""
    height, width = mask.shape
    least = _LEAST_PART * mask.size
    rings, _ = cv2.findContours(mask.astype(np.uint8), cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    found = []
    for ring in rings:
        if cv2.contourArea(ring) < least:
            continue
        ring = cv2.approxPolyDP(ring, _SMOOTH_PX, True)[:, 0].astype(float)
        # Contours run through the middles of the outermost pixels: out to the picture's border.
        ring = np.where(ring <= 0, -0.5, ring) + 0.5
        ring[:, 0] = np.where(ring[:, 0] >= width - 0.5, width, ring[:, 0])
        ring[:, 1] = np.where(ring[:, 1] >= height - 0.5, height, ring[:, 1])
        if len(ring) >= 3:
            found.append(tuple((float(x / width), float(y / height)) for x, y in ring))
    return tuple(found)

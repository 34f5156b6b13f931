"""What is known of a picture before any layer is decided on: made once, used at every re-fit."""

from __future__ import annotations

from dataclasses import dataclass, replace

import cv2
import numpy as np

from jartide.colour.difference import delta_e_2000
from jartide.colour.perceptual import even_to_lab, lab_to_even
from jartide.colour.spaces import linear_to_lab
from jartide.families import Family
from jartide.reading.layers.covers import Covers, Edges, assign, find_edges
from jartide.reading.layers.judged import JUDGED_BLUR, TONE_BLUR, reduced
from jartide.reading.layers.passages import steepness
from jartide.reading.layers.soft_covers import assign_blended
from jartide.reading.layers.soft_tones import ColourHeap, blend, enough_tones, heap_of
from jartide.reading.layers.tones import (
    SAME_DE00,
    ColourCells,
    colour_cells,
    find_tones,
    flatness_of,
)
from jartide.reading.lines.profiles import NO_PROFILES, LineProfiles

# Pixels that are counted for tones; more only cost time.
_SAMPLE_PX = 80_000
# How much the end of an edge counts as a sign of a tone, beside a pixel in a flat place.
_END_WEIGHT = 0.35
# Lines of these roles lie so close by each other that their edges have treads.
_INTERWOVEN = ("thread", "groove", "brush")
# A picture with fewer pixels a side shows grain as it is seen from where it is judged.
_COARSE_PX = 700
# A place this many times as steep as is usual in its picture counts half for its tones.
_STEEP = 1.0


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Evidence:
    """A picture prepared for finding layers in it.

    Attributes
    ----------
    rgb_linear, lab : (H, W, 3) float32, the picture
    calm : (H, W, 3) float32, Lab with its noise taken out
    valid : (H, W) bool
    flatness : (H, W) float32, how flat the surroundings of a pixel are, 0..1
    cells : the calm colours rounded, to seek tones by
    edges : where the edges of mixed pixels lead
    sample, weight : (N, 3) Lab and (N,), the colours that tones are found in
    tones : (K, 3) Lab, the tones found in them, lines left aside
    smooth : (H, W, 3) float32, Lab calmed further, where tones pass into each other
    heap : of a blended picture its calmed colours, to seek tones in that have no edges
    blended : whether its tones pass into each other; `cells` are then of the smooth picture
    profiles : the picture's lines, measured across
    """

    rgb_linear: np.ndarray
    lab: np.ndarray
    calm: np.ndarray
    valid: np.ndarray
    flatness: np.ndarray
    cells: ColourCells
    edges: Edges
    sample: np.ndarray
    weight: np.ndarray
    tones: np.ndarray
    profiles: LineProfiles
    family: Family
    mm_per_px: float | None
    smooth: np.ndarray
    heap: ColourHeap | None = None
    blended: bool = False

    def covers(self, tones: np.ndarray) -> Covers:
        """Return how much of each of some tones, (K, 3) Lab, is seen where."""
        if self.blended:
            return assign_blended(self.cells, tones)
        return assign(self.cells, self.rgb_linear, self.edges, tones)


def gather_evidence(
    rgb_linear: np.ndarray,
    lab: np.ndarray,
    valid: np.ndarray,
    family: Family,
    mm_per_px: float | None,
) -> Evidence:
    """Prepare a picture, (H, W, 3) linear light and Lab, for finding layers in it.

    Its lines are put in when they are measured: that goes on beside.
    """
    calm = _calmed(lab)
    flatness = flatness_of(calm)
    edges = find_edges(calm, flatness, treads=family.lines_role in _INTERWOVEN)
    smooth = _smoothed(calm)
    sample, weight = _sample(calm, smooth, flatness, edges, valid)
    return Evidence(
        rgb_linear=rgb_linear,
        lab=lab,
        calm=calm,
        valid=valid,
        flatness=flatness,
        cells=colour_cells(calm),
        edges=edges,
        sample=sample,
        weight=weight,
        tones=find_tones(sample, weight),
        profiles=NO_PROFILES,
        family=family,
        mm_per_px=mm_per_px,
        smooth=smooth,
    )


def _heap(rgb_linear: np.ndarray, valid: np.ndarray, blur: float) -> ColourHeap:
    """Gather the colours of a picture under a blur; the steeper a place, the less it counts.

    On the way from one tone to the next every colour between the two is met.
    """
    linear, inside = reduced(rgb_linear, valid, blur)
    even = lab_to_even(linear_to_lab(linear)).astype(np.float32)
    steep = steepness(even)[inside]
    usual = max(float(steep.mean()), 1e-6)
    return heap_of(even[inside], weight=1 / (1 + (steep / (_STEEP * usual)) ** 2))


def as_blended(evidence: Evidence) -> Evidence:
    """Return the evidence of a picture whose tones pass into each other, with these tones."""
    rgb, valid = evidence.rgb_linear, evidence.valid
    heap = _heap(rgb, valid, TONE_BLUR)
    tones = _joined(even_to_lab(enough_tones(heap, _heap(rgb, valid, JUDGED_BLUR))), heap)
    return replace(
        evidence, cells=colour_cells(evidence.smooth), tones=tones, heap=heap, blended=True
    )


def _joined(tones: np.ndarray, heap: ColourHeap) -> np.ndarray:
    """Make one of tones, (K, 3) Lab, that a painter would not mix apart: their mottle."""
    while len(tones) > 1:
        apart = delta_e_2000(tones[:, None], tones[None]) + SAME_DE00 * np.eye(len(tones))
        one, other = divmod(int(apart.argmin()), len(tones))
        if apart[one, other] >= SAME_DE00:
            break
        own = blend(heap.even, lab_to_even(tones)).main
        share = [max(float(heap.share[own == k].sum()), 1e-6) for k in (one, other)]
        between = np.average(tones[[one, other]], axis=0, weights=share)
        tones = np.vstack([np.delete(tones, [one, other], axis=0), between])
    return tones


def _smoothed(calm: np.ndarray) -> np.ndarray:
    """Return the median of 5 x 5: the paint's own grain evens out, edges stay.

    Of a coarse picture that would be more than is seen from where it is judged.
    """
    if min(calm.shape[:2]) < _COARSE_PX:
        return calm
    return np.dstack([cv2.medianBlur(np.ascontiguousarray(calm[..., c]), 5) for c in range(3)])


def _calmed(lab: np.ndarray) -> np.ndarray:
    """Return Lab with its noise taken out where it is noise.

    A median of 3 x 3 takes noise and JPEG crumbs and keeps edges, but also
    eats lines of one or two pixels: pixels far from their median stay.
    """
    planes = [np.ascontiguousarray(lab[..., c]) for c in range(3)]
    middle = [cv2.medianBlur(plane, 3) for plane in planes]
    apart = np.abs(planes[0] - middle[0])
    fine = apart > 4 * float(np.median(apart[::3, ::3])) + 1.0
    calm = np.dstack(middle)
    calm[fine] = lab[fine]
    return calm


def _sample(
    calm: np.ndarray, smooth: np.ndarray, flatness: np.ndarray, edges: Edges, valid: np.ndarray
) -> tuple[np.ndarray, np.ndarray]:
    """Return the colours that speak for tones and how much each counts."""
    stride = max(1, int(np.sqrt(valid.sum() / _SAMPLE_PX)))
    inside = valid[::stride, ::stride]
    # Colour bleeds a pixel or two beyond an edge (JPEG keeps half of its detail), so a
    # pixel only counts as far as the steepest pixel beside it does.
    inner = cv2.erode(flatness, cv2.getStructuringElement(cv2.MORPH_CROSS, (3, 3)))
    # Averaged over 5 x 5 pixels, where all of them are flat, the paint's own grain evens out.
    colours = smooth[::stride, ::stride][inside]
    weights = inner[::stride, ::stride][inside]
    # What is narrower than that is whole where its edges end, if anywhere: on its crest.
    ends = np.concatenate([edges.up[edges.up_whole], edges.down[edges.down_whole]])
    is_end = np.zeros(flatness.size, bool)
    is_end[ends] = True
    crest = is_end.reshape(flatness.shape) & (inner < 0.2) & valid
    there = np.flatnonzero(crest)[:: stride**2]
    return (
        np.concatenate([colours, calm.reshape(-1, 3)[there]]),
        np.concatenate([weights, np.full(there.size, _END_WEIGHT, np.float32)]),
    )

"""The tones that layers are made of: flat ones with edges, or ones that pass into each other."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.colour.difference import delta_e_2000
from jartide.colour.perceptual import lab_to_even
from jartide.colour.spaces import lab_to_linear, linear_to_lab
from jartide.reading.covers import Covers
from jartide.reading.evidence import Evidence, as_blended
from jartide.reading.judged import JUDGED_BLUR
from jartide.reading.layer_edges import layer_edges
from jartide.reading.line_tones import rim_of, with_line_tones
from jartide.reading.relief import shading_of
from jartide.reading.shapes import rim_shapes
from jartide.reading.soft_covers import assign_blended
from jartide.reading.tones import colour_cells

# What is seen on less than this is no layer.
LEAST_COVERAGE = 0.002
# Flat tones explain a picture when what they leave, even units, stays under `least + more * s` with
# s the mean distance of its colours from their mean: half of the places as seen up close, and the
# mean as judged. On drawn surfaces with flat tones one of them holds by a tenth or more, on
# photographs of real ones neither does.
_CLOSE_BLUR = 0.0025
_CLOSE_LEFT = (0.66, 0.077)
_JUDGED_LEFT = (0.75, 0.06)
# Passages wider than this, share of the root of the area, are no edges. Drawn surfaces with edges
# have 0.5 to 1.2 %, those with soft tones 0.9 to 3.3 %.
_RUN_TOGETHER = 0.0145
# A place shows a colour when it is within this, CIEDE2000; a tone is the colour of at least so many
# places, as a share of what it covers and in all.
_SHOWN_DE00 = 3.5
_SHOWN_OF_COVER, _SHOWN = 0.12, 0.006


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class TonesFound:
    """The tones of a picture, and how much of each is seen where.

    Attributes
    ----------
    tones : (K, 3) Lab
    whole : (K,) bool, whether a tone is seen whole anywhere
    """

    tones: np.ndarray
    whole: np.ndarray
    covers: Covers


def find_layer_tones(evidence: Evidence) -> tuple[Evidence, TonesFound]:
    """Return the tones of a picture, and its evidence as it is now known to be: blended or not.

    Flat tones with edges are sought first, exactly. Where they do not explain the picture its
    tones pass into each other; where they do but have no edges, too.
    """
    found = _flat_tones(evidence)
    if evidence.family.lines_role == "thread":
        return evidence, found  # a thread is narrower than anything that is judged
    if _explained(evidence, found) and not _run_together(evidence, found):
        return evidence, found
    evidence = as_blended(evidence)
    tones = evidence.tones
    covers = evidence.covers(tones)
    return evidence, TonesFound(tones=tones, whole=_shown(evidence, tones, covers), covers=covers)


def _flat_tones(evidence: Evidence) -> TonesFound:
    valid = evidence.valid
    tones, whole = with_line_tones(evidence.tones, evidence.profiles, float(valid.sum()))
    covers = evidence.covers(tones)
    share = np.bincount(covers.seen[valid], minlength=len(tones)) / valid.sum()
    if (share < LEAST_COVERAGE).any() and len(tones) > 1:
        tones, whole = tones[share >= LEAST_COVERAGE], whole[share >= LEAST_COVERAGE]
        covers = evidence.covers(tones)
    while (rim := _rim(evidence, covers, tones)) is not None:
        tones, whole = np.delete(tones, rim, axis=0), np.delete(whole, rim)
        covers = evidence.covers(tones)
    owner = shading_of(evidence.lab[..., 0], covers.seen, valid, tones)
    if owner is not None:
        covers = covers.renumbered(owner)
        kept = [int(np.flatnonzero(owner == n)[0]) for n in range(int(owner.max()) + 1)]
        tones, whole = tones[kept], whole[kept]
    return TonesFound(tones=tones, whole=whole, covers=covers)


def _rim(evidence: Evidence, covers: Covers, tones: np.ndarray) -> int | None:
    """The number of a tone that is only a rim, if there is one."""
    label = covers.seen[::2, ::2].ravel()
    count = np.maximum(np.bincount(label, minlength=len(tones)), 1)
    calm = evidence.calm[::2, ::2].reshape(-1, 3)
    shown = [np.bincount(label, calm[:, c], len(tones)) / count for c in range(3)]
    shapes = rim_shapes(covers.seen, evidence.valid, len(tones))
    return rim_of(shapes, tones, np.stack(shown, axis=1))


def _explained(evidence: Evidence, found: TonesFound) -> bool:
    """Whether flat tones, put together again, look like the picture, up close or as judged."""
    import cv2

    valid, covers = evidence.valid, found.covers
    light = lab_to_linear(found.tones).astype(np.float32)
    share = covers.share[..., None]
    whole = light[covers.seen]
    mixed = whole * share + light[covers.beside] * (1 - share)
    side = float(np.sqrt(max(int(valid.sum()), 1)))

    def looked_at(picture: np.ndarray, blur: float) -> np.ndarray:
        sigma = max(blur * side, 0.7)
        soft = cv2.GaussianBlur(np.ascontiguousarray(picture, np.float32), (0, 0), sigma)
        step = max(int(sigma), 2)
        return lab_to_even(linear_to_lab(soft[::step, ::step][valid[::step, ::step]]))

    for rebuilt, blur, (least, more), middle in (
        (mixed, _CLOSE_BLUR, _CLOSE_LEFT, np.median),
        (whole, JUDGED_BLUR, _JUDGED_LEFT, np.mean),
    ):
        own = looked_at(evidence.rgb_linear, blur)
        left = np.linalg.norm(own - looked_at(rebuilt, blur), axis=1)
        spread = np.linalg.norm(own - own.mean(axis=0), axis=1).mean()
        if middle(left) <= least + more * spread:
            return True
    return False


def _run_together(evidence: Evidence, found: TonesFound) -> bool:
    """Whether the passages between flat tones are so wide that there are no edges.

    Half of the rows and columns tell it: passages that wide are many pixels.
    """
    if len(found.tones) < 2:
        return False
    valid = evidence.valid[::2, ::2]
    covers = assign_blended(colour_cells(evidence.smooth[::2, ::2]), found.tones)
    ids = [str(number) for number in range(len(found.tones))]
    edges = layer_edges(covers, valid, ids, mm_per_px=1.0)
    total = sum(edge.share for edge in edges)
    if total <= 0:
        return False
    width = sum((edge.width_mm or 0.0) * edge.share for edge in edges) / total
    return width > _RUN_TOGETHER * float(np.sqrt(valid.sum()))


def _shown(evidence: Evidence, tones: np.ndarray, covers: Covers) -> np.ndarray:
    """Whether each tone is the colour of some place, (K,) bool, not only an end of blends."""
    valid = evidence.valid
    places = evidence.lab[::3, ::3][valid[::3, ::3]]
    share = np.array([covers.of(k)[valid].mean() for k in range(len(tones))])
    near = np.array([(delta_e_2000(places, tone) < _SHOWN_DE00).mean() for tone in tones])
    return near >= np.minimum(_SHOWN, _SHOWN_OF_COVER * share)

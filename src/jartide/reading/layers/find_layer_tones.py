"""The tones that layers are made of: flat ones with edges, or ones that pass into each other."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from jartide.colour.difference import delta_e_2000
from jartide.colour.perceptual import lab_to_even
from jartide.colour.spaces import RGB_TO_XYZ, lab_to_linear, linear_to_lab
from jartide.reading.layers.covers import Covers
from jartide.reading.layers.evidence import Evidence, as_blended
from jartide.reading.layers.judged import JUDGED_BLUR
from jartide.reading.layers.line_tones import line_evidence, rim_of, with_line_tones
from jartide.reading.layers.passages import passage_width
from jartide.reading.layers.shapes import rim_shapes
from jartide.reading.pattern.relief import follows_light, shading_of

# Above this many pixels half of the rows and columns tell enough.
_MOST_PX = 300_000
# What is seen on less than this is no layer.
LEAST_COVERAGE = 0.002
# What flat tones leave, even units, is nothing while it stays under `least + more * s` with s the
# mean distance of the picture's colours from their mean: half of the places as seen up close, or
# the mean as judged. How many times as much is allowed depends on how wide the picture's passages
# are, share of its side: strokes and threads are sharp and never quite explained, soft passages
# are explained by enough flat tones without having any. Drawn surfaces with edges have passages of
# 0.8 to 1.5 %, soft ones 1.5 to 3.3 % unless they are strokes, photographs of real materials 1.0
# to 2.8 %; set on seeds 1 to 4 of both generators and twenty photographs in five states each.
_CLOSE_BLUR = 0.0025
_CLOSE_LEFT = (0.66, 0.077)
_JUDGED_LEFT = (0.75, 0.06)
_PASSAGES = (0.0100, 0.0110, 0.0124, 0.0132)
_ALLOWED = (1.4, 1.08, 1.05, 0.85)
# Passages wider than this are no edges.
_NO_EDGES = 0.0145
# In a* and b* alone this much of it is allowed; what is left in lightness is relief when so much of
# it goes with the squared cosine of the angle to one light, and so well.
_COLOUR_ONLY = 0.6
_LIT_SHARE, _LIT_FIT = 0.45, 0.85
# Drawn threads are lines by 0 to 7 (see shapes), soft veins on a plain ground by -1.5 to 3, soft
# tones without lines by -1.2 to -10, cloth without threads by -7 to -27.
_THREADS, _LINES, _LINES_ON_GROUND = -3.0, 0.0, -1.5
_PLAIN_GROUND = 0.5
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


def find_layer_tones(evidence: Evidence, *, jointed: bool = False) -> tuple[Evidence, TonesFound]:
    """Return the tones of a picture, and its evidence as it is now known to be: blended or not.

    Flat tones with edges are sought first, exactly. Where they do not explain the picture its
    tones pass into each other; where they do but have no edges, too.
    """
    found = _flat_tones(evidence)
    lines = _likeness_to_lines(evidence, found)
    if evidence.family.lines_role == "thread" and lines > _THREADS:
        return evidence, found  # a thread is narrower than anything that is judged
    width = passage_width(evidence.rgb_linear, evidence.valid)
    # The soft edges of lines are the lines' own, and measured there; one paint has no passages but
    # those of its relief.
    most = _LINES_ON_GROUND if _largest_share(evidence, found) > _PLAIN_GROUND else _LINES
    edged = width < _NO_EDGES or lines > most or len(found.tones) == 1
    if edged and _explained(evidence, found, width):
        return evidence, found
    evidence = as_blended(evidence)
    # Between bricks and boards what is left of the joints is no vein.
    tones = evidence.tones if jointed else _with_own_lines(evidence)
    covers = evidence.covers(tones)
    return evidence, TonesFound(tones=tones, whole=_shown(evidence, tones, covers), covers=covers)


# Lines of a colour that no passage has lie by this beyond all tones that pass into each other, Lab.
_BEYOND = 6.0
_OF_THEIR_OWN = ("vein", "crack")


def _with_own_lines(evidence: Evidence) -> np.ndarray:
    """The tones that pass into each other, and those of veins that none of them passes into.

    What lies between two tones is a passage; what is darker, lighter or of another hue than all of
    them, and is seen whole along lines, is a vein over soft clouds.
    """
    tones = evidence.tones
    if evidence.family.lines_role not in _OF_THEIR_OWN:
        return tones
    area = float(evidence.valid.sum())
    more, whole = with_line_tones(tones, evidence.profiles, area)
    low, high = tones.min(axis=0), tones.max(axis=0)
    count = len(tones)
    own = [
        tone
        for tone, shown in zip(more[count:], whole[count:], strict=True)
        if shown and np.maximum(low - tone, tone - high).max() > _BEYOND
    ]
    return np.vstack([tones, *own]) if own else tones


def _likeness_to_lines(evidence: Evidence, found: TonesFound) -> float:
    """How much the tone that is most of lines is of lines; above 0 it is one of lines."""
    labels, valid = found.covers.labels, evidence.valid
    area = np.bincount(labels[valid], minlength=len(found.tones))
    lines = line_evidence(evidence.profiles, found.tones)
    return max(e.likeness(float(a)) for e, a in zip(lines, area, strict=False))


def _largest_share(evidence: Evidence, found: TonesFound) -> float:
    valid = evidence.valid
    return float(np.bincount(found.covers.labels[valid]).max() / max(int(valid.sum()), 1))


def _flat_tones(evidence: Evidence) -> TonesFound:
    valid = evidence.valid
    tones, whole = with_line_tones(evidence.tones, evidence.profiles, float(valid.sum()))
    covers = evidence.covers(tones)
    share = np.bincount(covers.labels[valid], minlength=len(tones)) / valid.sum()
    if (share < LEAST_COVERAGE).any() and len(tones) > 1:
        tones, whole = tones[share >= LEAST_COVERAGE], whole[share >= LEAST_COVERAGE]
        covers = evidence.covers(tones)
    while (rim := _rim(evidence, covers, tones)) is not None:
        tones, whole = np.delete(tones, rim, axis=0), np.delete(whole, rim)
        covers = evidence.covers(tones)
    owner = shading_of(evidence.lab[..., 0], covers.labels, valid, tones)
    if owner is not None:
        covers = covers.renumbered(owner)
        kept = [int(np.flatnonzero(owner == n)[0]) for n in range(int(owner.max()) + 1)]
        tones, whole = tones[kept], whole[kept]
    return TonesFound(tones=tones, whole=whole, covers=covers)


def _rim(evidence: Evidence, covers: Covers, tones: np.ndarray) -> int | None:
    """The number of a tone that is only a rim, if there is one."""
    label = covers.labels[::2, ::2].ravel()
    count = np.maximum(np.bincount(label, minlength=len(tones)), 1)
    calm = evidence.calm[::2, ::2].reshape(-1, 3)
    shown = [np.bincount(label, calm[:, c], len(tones)) / count for c in range(3)]
    shapes = rim_shapes(covers.labels, evidence.valid, len(tones))
    return rim_of(shapes, tones, np.stack(shown, axis=1))


def _explained(evidence: Evidence, found: TonesFound, width: float) -> bool:
    """Whether flat tones, put together again, look like the picture, up close or as judged.

    `width` is that of the picture's passages, share of its side.
    """
    # Every second row and column, averaged: both looks are coarser than that.
    step = 2 if evidence.valid.size > _MOST_PX else 1
    size = evidence.valid.shape[1] // step, evidence.valid.shape[0] // step
    valid = evidence.valid[::step, ::step][: size[1], : size[0]]
    linear = lab_to_linear(found.tones).astype(np.float32)
    covers = found.covers
    share = covers.share[..., None]
    whole = linear[covers.labels]
    mixed = whole * share + linear[covers.beside] * (1 - share)
    side = float(np.sqrt(max(int(valid.sum()), 1)))
    relief = False
    allowed = float(np.interp(width, _PASSAGES, _ALLOWED))

    def looked_at(picture: np.ndarray, blur: float) -> np.ndarray:
        soft: np.ndarray = np.ascontiguousarray(picture, np.float32)
        if step > 1:
            soft = cv2.resize(soft, size, interpolation=cv2.INTER_AREA)
        sigma = max(blur * side, 0.7)
        soft = cv2.GaussianBlur(soft, (0, 0), sigma)
        every = max(int(sigma), 2)
        return lab_to_even(linear_to_lab(soft[::every, ::every][valid[::every, ::every]]))

    for rebuilt, blur, (least, more), middle in (
        (mixed, _CLOSE_BLUR, _CLOSE_LEFT, np.median),
        (whole, JUDGED_BLUR, _JUDGED_LEFT, np.mean),
    ):
        own = looked_at(evidence.rgb_linear, blur)
        off = own - looked_at(rebuilt, blur)
        spread = np.linalg.norm(own - own.mean(axis=0), axis=1).mean()
        most = allowed * (least + more * spread)
        if middle(np.linalg.norm(off, axis=1)) <= most:
            return True
        relief |= middle(np.linalg.norm(off[:, 1:], axis=1)) <= _COLOUR_ONLY * most
    # What is left is lightness alone and follows one light: relief on those very paints.
    return relief and _is_lit(evidence, whole)


def _is_lit(evidence: Evidence, rebuilt: np.ndarray) -> bool:
    """Whether what tones leave unexplained is light and shade, and nothing else."""
    if evidence.family.lines_role in ("grain", "brush"):
        return False  # strokes and grain run one way as well
    luminance = RGB_TO_XYZ[1].astype(np.float32)
    own, told = evidence.rgb_linear @ luminance, rebuilt @ luminance
    shading = np.log(np.maximum(own, 1e-4) / np.maximum(told, 1e-4))
    shading = np.where(evidence.valid, np.clip(shading, -0.7, 0.7), 0)
    share, fit, _ = follows_light(shading[::2, ::2])
    return share >= _LIT_SHARE and fit >= _LIT_FIT


def _shown(evidence: Evidence, tones: np.ndarray, covers: Covers) -> np.ndarray:
    """Whether each tone is the colour of some place, (K,) bool, not only an end of blends."""
    valid = evidence.valid
    places = evidence.lab[::3, ::3][valid[::3, ::3]]
    share = np.array([covers.of(k)[valid].mean() for k in range(len(tones))])
    near = np.array([(delta_e_2000(places, tone) < _SHOWN_DE00).mean() for tone in tones])
    return near >= np.minimum(_SHOWN, _SHOWN_OF_COVER * share)

"""Read the card's patches in a photo: their light, and how the light falls off across the card."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from jartide.colour.spaces import decode_srgb, lab_to_linear, linear_to_lab
from jartide.photo.card.design import PAPER_LAB, Card, Patch, PatchKind
from jartide.photo.card.find import CardSighting
from jartide.photo.correct import (
    STRAIGHT,
    Grade,
    KnownColours,
    Tone,
    grey_tone,
    relit,
    tone_undone,
)
from jartide.photo.load import Photo

Lab = tuple[float, float, float]

_LEAST_PX = 12
_MOST_PX = 5_000
_BURNT = 0.985
# How far a print strays from what the file asks, CIEDE2000: paper, its greys by lightness, and
# its coloured inks, which no two printers mix alike.
_PAPER_TRUST = 1.3
_GREY_TRUST = 5.0
_INK_TRUST = 5.0
_READER_TRUST = 0.3


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class SeenPatch:
    """A patch in the photo: its mean linear light, (3,), how many pixels, and how many burnt."""

    patch: Patch
    light: np.ndarray
    pixels: int
    burnt: float


def seen_patches(photo: Photo, sighting: CardSighting) -> list[SeenPatch]:
    """Return all patches of the card that lie in the photo and are large enough."""
    return [
        found
        for patch in sighting.card.patches
        if (found := _seen(photo, sighting, patch)) is not None
    ]


def _seen(photo: Photo, sighting: CardSighting, patch: Patch) -> SeenPatch | None:
    # Away from the edges: blur and the print's own edge reach this far in.
    blur_mm = 1.5 / sighting.px_per_mm()
    box = patch.box
    share = min(0.42, max(0.16, blur_mm / min(box.w, box.h)))
    ring = sighting.pose.project(box.inner(share).corners() * sighting.print_scale)
    width, height = photo.size
    if ring.min() < 0 or np.any(ring.max(axis=0) > (width, height)):
        return None
    low = np.floor(ring.min(axis=0)).astype(int)
    high = np.ceil(ring.max(axis=0)).astype(int) + 1
    mask = np.zeros((high[1] - low[1], high[0] - low[0]), np.uint8)
    cv2.fillConvexPoly(mask, np.rint((ring - low - 0.5) * 16).astype(np.int32), 1, shift=4)
    code = photo.code[low[1] : high[1], low[0] : high[0]]
    mask = mask[: code.shape[0], : code.shape[1]].astype(bool)
    if mask.sum() < _LEAST_PX:
        return None
    inside = code[mask]
    inside = inside[:: max(1, len(inside) // _MOST_PX)]
    top = float(np.iinfo(code.dtype).max)
    light = photo.linear(inside.reshape(-1, 1, 3)).reshape(-1, 3).astype(float)
    # The mean of the middle half: dust and glints stay out, noise averages.
    order = np.argsort(light.sum(axis=1))
    middle = light[order[len(order) // 4 : len(order) - len(order) // 4]]
    return SeenPatch(
        patch=patch,
        light=middle.mean(axis=0),
        pixels=int(mask.sum()),
        burnt=float(np.mean(inside.max(axis=1) >= _BURNT * top)),
    )


def light_slope(patches: list[SeenPatch], tone: Tone) -> np.ndarray:
    """Return the plane of the light across the card from its bare paper.

    (3,): the logarithm of the light is p0 + p1 x + p2 y, mm on the card; p0 is
    0 at the patches' middle. Zeros with fewer than three papers.
    """
    papers = [p for p in patches if p.patch.kind is PatchKind.PAPER and p.burnt < 0.05]
    if len(papers) < 3:
        return np.zeros(3)
    at = np.array([_middle(p.patch) for p in papers])
    light = np.array([tone_undone(p.light, tone) for p in papers])
    log = np.log(np.maximum(light.mean(axis=1), 1e-4))
    rows = np.column_stack([np.ones(len(at)), at])
    if np.linalg.matrix_rank(rows - rows.mean(axis=0)) < 2:
        return np.zeros(3)
    solved = np.linalg.lstsq(rows, log, rcond=None)[0]
    middle = np.mean([_middle(p.patch) for p in patches], axis=0)
    return np.array([-float(solved[1:] @ middle), solved[1], solved[2]])


def _middle(patch: Patch) -> np.ndarray:
    return patch.box.corners().mean(axis=0)


def middle_mm(card: Card) -> np.ndarray:
    """Return the middle of the card's patches, (2,) mm: where its colours speak for the light."""
    return np.mean([_middle(p) for p in card.patches if p.kind is not PatchKind.SPACE], axis=0)


def printed_lab(patch: Patch) -> Lab:
    """Return what a patch is expected to be before anyone reads it: ink on plain paper.

    Printers put their darkest ink at about 3.5 % of the paper's light.
    """
    paper = lab_to_linear(PAPER_LAB)
    asked = np.ones(3) if patch.srgb is None else decode_srgb(np.array(patch.srgb) / 255)
    lab = linear_to_lab(paper * (0.03 + 0.97 * asked**1.04))
    return float(lab[0]), float(lab[1]), float(lab[2])


def _trust_in_print(kind: PatchKind, expected: Lab) -> float:
    if kind is PatchKind.PAPER:
        return _PAPER_TRUST
    if kind is PatchKind.COLOUR:
        return _INK_TRUST
    return _PAPER_TRUST + _GREY_TRUST * (1 - expected[0] / 100)


def known_colours(
    patches: list[SeenPatch], measured: dict[str, Lab]
) -> tuple[KnownColours, Grade] | None:
    """Return the card's known colours as seen in one light and as they are.

    None when too few can be used.

    `measured` holds what a reader said of this print, by patch id, or of the
    painter's own paint in a space. With three patches read, only what was read
    counts.
    """
    found = _known(patches, measured, STRAIGHT)
    if found is None:
        return None
    # Falloff is one of light: once the greys tell the camera's curve, it is known better.
    return _known(patches, measured, grey_tone(found[0]))


def _known(
    patches: list[SeenPatch], measured: dict[str, Lab], tone: Tone
) -> tuple[KnownColours, Grade] | None:
    slope = light_slope(patches, tone)
    usable = [p for p in patches if p.burnt < 0.05 and p.light.min() > 1e-4]
    read = [p for p in usable if p.patch.id in measured]
    grade = Grade.MEASURED if len(read) >= 3 else Grade.PRINTED
    seen, lab, trust = [], [], []
    for p in usable:
        kind = p.patch.kind
        if p.patch.id in measured:
            lab.append(measured[p.patch.id])
            trust.append(_READER_TRUST)
        elif grade is Grade.MEASURED and kind is PatchKind.PAPER and "paper" in measured:
            lab.append(measured["paper"])
            trust.append(2 * _READER_TRUST)
        elif grade is Grade.PRINTED and kind is not PatchKind.SPACE:
            expected = printed_lab(p.patch)
            lab.append(expected)
            trust.append(_trust_in_print(kind, expected))
        else:
            continue
        x, y = _middle(p.patch)
        factor = float(np.exp(-(slope[0] + slope[1] * x + slope[2] * y)))
        seen.append(relit(p.light, factor, tone))
    sure = [p for p in usable if p.patch.kind in (PatchKind.PAPER, PatchKind.GREY)]
    if not seen or (grade is Grade.PRINTED and len(sure) < 2):
        return None
    return (
        KnownColours(seen=np.array(seen), lab=np.array(lab), trust=np.array(trust)),
        grade,
    )

"""The layers of a picture: tones, covers, roles and paint order put together."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from jartide.reading.decisions import LayerChoices
from jartide.reading.layers.covers import WHOLE_FLATNESS, Covers
from jartide.reading.layers.describe import Seen, describe
from jartide.reading.layers.evidence import Evidence
from jartide.reading.layers.find_layer_tones import TonesFound
from jartide.reading.layers.line_tones import line_evidence
from jartide.reading.layers.order import (
    OrderEvidence,
    Why,
    evidence_of,
    ground_scores,
    paint_order,
    painted_share,
    roles_of,
)
from jartide.reading.layers.refit import fitted
from jartide.reading.layers.shapes import RimShapes, Shapes, rim_shapes, shapes_of
from jartide.reading.layers.soft_covers import WHOLE_SHARE
from jartide.reading.result import Layer, Role
from jartide.wording import Message

# Lines whose widths and softness tell a cover at their centre below this show no colour of their
# own. Told so, drawn veins that cover 0.93 came to 0.94 and more, those that cover 0.75 to 0.92.
WHOLE_PEAK = 0.93
# Boundaries below this share of all boundary touch by chance.
TOUCHING = 0.02


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class LayerMap:
    """Layers in paint order, and how much of each is seen at each pixel.

    `valid`, (H, W): where the picture was read and no layer is that the painter left out;
    `whole`, (H, W): where one layer is seen whole.
    """

    layers: tuple[Layer, ...]
    covers: Covers
    whole: np.ndarray
    valid: np.ndarray

    @property
    def labels(self) -> np.ndarray:
        """The number of the layer seen at each pixel, (H, W) uint8."""
        return self.covers.labels

    def masks(self) -> list[np.ndarray]:
        """Return where each layer is seen and counts, (H, W) bool each."""
        return [(self.labels == n) & self.valid for n in range(len(self.layers))]


def read_layers(evidence: Evidence, found: TonesFound) -> LayerMap:
    """Return the layers of a picture, as many as its colours and shapes bear out."""
    valid, tones, whole_tone, covers = evidence.valid, found.tones, found.whole, found.covers
    shapes = _shapes(evidence, covers, tones)
    family, mm_per_px = evidence.family, evidence.mm_per_px
    loose = roles_of(shapes, None, family, mm_per_px)
    who = evidence_of(shapes, tones, loose, family)
    order = paint_order(shapes, who, ground_scores(shapes, tones, family))
    roles = roles_of(shapes, order[0], family, mm_per_px)
    if not evidence.blended:
        whole_tone = whole_tone & _shows_whole(shapes, roles)
    layers = _described(evidence, covers, shapes, order, roles, tones, whole_tone, valid)
    layers = _with_reasons(layers, shapes, who, order)
    return _mapped(layers, covers, order, evidence, valid)


def read_decided(evidence: Evidence, found: TonesFound, choices: LayerChoices) -> LayerMap:
    """Return the layers as the painter has decided them; names alone change no number."""
    if choices.only_named():
        as_read = read_layers(evidence, found)
        own = [layer.shown_lab for layer in as_read.layers]
        if own == [choice.tones[0] for choice in choices.layers]:
            layers = _as_decided(as_read.layers, choices, range(len(own)))
            return replace(as_read, layers=layers)
    return read_chosen(evidence, choices)


def read_chosen(evidence: Evidence, choices: LayerChoices) -> LayerMap:
    """Return the layers as the painter has decided them, the rest fitted around."""
    covers, tones = fitted(evidence, choices)
    kept = choices.kept
    valid = _counted(evidence, covers, kept)
    shapes = _shapes(evidence, covers, tones, valid)
    family, mm_per_px = evidence.family, evidence.mm_per_px
    who = evidence_of(shapes, tones, roles_of(shapes, None, family, mm_per_px), family)
    order = list(kept)
    if not choices.ordered and kept:
        wanted = paint_order(shapes, who, ground_scores(shapes, tones, family))
        order = [k for k in wanted if k in kept]
    found = roles_of(shapes, order[0] if order else None, family, mm_per_px)
    roles = [choice.role or role for choice, role in zip(choices.layers, found, strict=True)]
    whole_tone = np.array([layer.whole for layer in choices.layers])
    if not evidence.blended:
        whole_tone &= _shows_whole(shapes, roles)
    layers = _described(evidence, covers, shapes, order, roles, tones, whole_tone, valid)
    layers = _as_decided(layers, choices, order)
    layers = _with_reasons(layers, shapes, who, order, by_hand=choices.ordered)
    return _mapped(layers, covers, order, evidence, valid)


def glance_chosen(evidence: Evidence, choices: LayerChoices) -> LayerMap:
    """Return the layers as decided at once: roles and order as they were, no reasons.

    For the screen right after a change, until `read_chosen` is done.
    """
    covers, tones = fitted(evidence, choices)
    order = list(choices.kept)
    valid = _counted(evidence, covers, order)
    edges = rim_shapes(covers.labels[::2, ::2], valid[::2, ::2], len(choices.layers))
    usual = Role(evidence.family.patches_role)
    roles = [choice.role or choice.shape_role or usual for choice in choices.layers]
    whole_tone = np.array([layer.whole for layer in choices.layers])
    layers = _described(evidence, covers, edges, order, roles, tones, whole_tone, valid)
    return _mapped(_as_decided(layers, choices, order), covers, order, evidence, valid)


def _counted(evidence: Evidence, covers: Covers, kept: Sequence[int]) -> np.ndarray:
    """Where the picture was read and shows a layer that is kept, (H, W) bool."""
    counts = np.zeros(256, bool)
    counts[list(kept)] = True
    return evidence.valid & counts[covers.labels]


def _as_decided(
    layers: tuple[Layer, ...], choices: LayerChoices, order: Sequence[int]
) -> tuple[Layer, ...]:
    """Give layers what the painter has said of them."""
    found = []
    for layer, k in zip(layers, order, strict=True):
        choice = choices.layers[k]
        name = Message("layer.own", words=choice.name) if choice.name else layer.name
        found.append(replace(layer, name=name, reader_lab=choice.reader_lab, locked=choice.locked))
    return tuple(found)


def _mapped(
    layers: tuple[Layer, ...],
    covers: Covers,
    order: Sequence[int],
    evidence: Evidence,
    valid: np.ndarray,
) -> LayerMap:
    renumber = np.full(256, 255, np.uint8)
    renumber[list(order)] = np.arange(len(order))
    return LayerMap(
        layers=layers,
        covers=covers.renumbered(renumber),
        whole=_whole(evidence, covers),
        valid=valid,
    )


def _shows_whole(shapes: Shapes, roles: Sequence[Role]) -> np.ndarray:
    """Whether each layer's colour can be seen whole, (K,): soft veins never cover wholly."""
    soft = np.array([role in (Role.VEIN, Role.CRACK) for role in roles])
    return ~(soft & (shapes.line_peak < WHOLE_PEAK))


def _shapes(
    evidence: Evidence, covers: Covers, tones: np.ndarray, valid: np.ndarray | None = None
) -> Shapes:
    lines = line_evidence(evidence.profiles, tones)
    region = evidence.valid if valid is None else valid
    family = evidence.family
    whole = family.lines_role in (Role.VEIN, Role.CRACK)
    return shapes_of(covers.labels, region, lines, family.lines_most, whole_lines=whole)


def _described(
    evidence: Evidence,
    covers: Covers,
    shapes: Shapes | RimShapes,
    order: Sequence[int],
    roles: Sequence[Role],
    tones: np.ndarray,
    whole_tone: np.ndarray,
    valid: np.ndarray,
) -> tuple[Layer, ...]:
    contact = shapes.contact / np.maximum(shapes.contact.sum(axis=1, keepdims=True), 1e-9)
    beside = np.where(shapes.contact.sum(axis=1) > 0, contact @ tones[:, 0], np.nan)
    picture = Seen(
        lab=evidence.lab,
        covers=covers,
        whole=_whole(evidence, covers),
        valid=valid,
        blended=evidence.blended,
    )
    painted = painted_share(shapes, order)
    areas = evidence.family.patches_word
    return describe(picture, order, roles, tones, whole_tone, painted, beside, areas)


def _whole(evidence: Evidence, covers: Covers) -> np.ndarray:
    """Where a pixel shows one layer whole, (H, W) bool."""
    if evidence.blended:
        return covers.share >= WHOLE_SHARE
    return evidence.flatness >= WHOLE_FLATNESS


def _with_reasons(
    layers: tuple[Layer, ...],
    shapes: Shapes,
    who: OrderEvidence,
    order: Sequence[int],
    *,
    by_hand: bool = False,
) -> tuple[Layer, ...]:
    """Say of each layer why it lies over those it touches."""
    names = [layer.name for layer in layers]
    found = []
    for place, layer in enumerate(layers):
        reasons = []
        for below in range(place):
            upper, lower = order[place], order[below]
            if shapes.contact[upper, lower] <= TOUCHING:
                continue
            why = who.strongest(upper, lower)
            if by_hand and who.total[upper, lower] < 0:
                why = Why.BY_HAND
            elif layer.role in (Role.GROOVE, Role.CRACK) and (layer.contrast_L or 0) < 0:
                why = Why.HOLLOWS
            reasons.append(Message(f"order.{why}", below=names[below]))
        found.append(replace(layer, why=tuple(reasons)))
    return tuple(found)

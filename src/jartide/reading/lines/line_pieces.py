"""Sort out which stretches of centre line are lines, of which layer, and where they fork."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from jartide.reading.layers.tones import nearest_tone
from jartide.reading.lines.profiles import LineProfiles, measure_profiles
from jartide.reading.lines.ridges import CentreLines
from jartide.reading.lines.skeletons import forks, skeleton_of, with_missed
from jartide.reading.result import Layer, Role, lined
from jartide.reading.trust.measured import weighted_percentile

# Lines so sparse that each of them counts; what is lined and ground is a net of cracks.
_THIN = (Role.VEIN, Role.CRACK, Role.GROUND)


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class LinePieces:
    """The stretches of centre line that belong to layers of lines.

    Attributes
    ----------
    lines : CentreLines, all their pixels
    layer : (N,) number of the layer each pixel's stretch belongs to
    profiles : LineProfiles, measured on some of those pixels
    profile_layer : (M,) the same for each profile
    fork_row, fork_column, fork_layer : (J,) where lines fork or cross, and of which layer;
        -1 for all layers of lines together, by `fork_sign` +1 for light ones
    """

    lines: CentreLines
    layer: np.ndarray
    profiles: LineProfiles
    profile_layer: np.ndarray
    fork_row: np.ndarray
    fork_column: np.ndarray
    fork_layer: np.ndarray
    fork_sign: np.ndarray


def line_pieces(
    rgb_linear: np.ndarray,
    centre_lines: CentreLines,
    sample: LineProfiles,
    layers: Sequence[Layer],
    masks: Sequence[np.ndarray],
    rng: np.random.Generator,
) -> LinePieces:
    """Sort out the stretches that are lines, and measure them again, all of them.

    A stretch is judged as a whole, by the colours of the `sample` profiles on
    it: a vein that fades on its way is still that vein. Stretches too faint for a
    crest are taken from the `masks` of the veins and cracks, (H, W) bool each.
    """
    shown_lab = np.array([layer.shown_lab for layer in layers]).reshape(-1, 3)
    is_line_layer = np.array(lined(layers), bool)
    count = int(centre_lines.piece.max(initial=0)) + 1
    votes = np.zeros((count, len(layers)))
    if sample.width_px.size:
        nearest = nearest_tone(sample.own_lab, shown_lab)
        np.add.at(votes, (sample.lines.piece, nearest), sample.weight_px)
    total = votes.sum(axis=1)
    of_lines = np.where(is_line_layer[None], votes, 0)
    chosen = (total > 0) & (of_lines.sum(axis=1) >= 0.5 * total)
    chosen |= _fading(centre_lines, sample, chosen)
    layer_of_piece = of_lines.argmax(axis=1)
    lines = centre_lines.kept(chosen[centre_lines.piece])
    owner = layer_of_piece[lines.piece]
    thin = [n for n, own in enumerate(is_line_layer) if own and layers[n].role in _THIN]
    signs = {n: 1 if (layers[n].contrast_L or 0) >= 0 else -1 for n in thin}
    skeletons = [(*skeleton_of(masks[n]), signs[n]) for n in thin]
    lines, more = with_missed(lines, skeletons)
    owner = np.concatenate([owner, np.array(thin, int)[more]]) if more.size else owner
    of_piece = np.zeros(int(lines.piece.max(initial=0)) + 1, int)
    of_piece[lines.piece] = owner
    # At the picture's border a line is cut, and what can be seen of it misleads.
    inner = lines.kept(lines.is_inner(rgb_linear.shape))
    profiles = _standing_for_all(measure_profiles(rgb_linear, inner, rng), lines)
    return LinePieces(
        lines=lines,
        layer=owner,
        profiles=profiles,
        profile_layer=of_piece[profiles.lines.piece],
        **_forks(masks, thin, signs, skeletons),
    )


def _forks(
    masks: Sequence[np.ndarray],
    thin: list[int],
    signs: dict[int, int],
    skeletons: list[tuple[np.ndarray, np.ndarray, int]],
) -> dict[str, np.ndarray]:
    """Return where lines of each layer fork, and where all of one polarity do."""
    found: list[tuple[np.ndarray, np.ndarray, int, int]] = []
    for n, (skeleton, half, sign) in zip(thin, skeletons, strict=True):
        found.append((*forks(skeleton, half), n, sign))
    for sign in (1, -1):
        together = [n for n in thin if signs[n] == sign]
        if len(together) == 1:
            alone = next(f for f in found if f[2] == together[0])
            found.append((alone[0], alone[1], -1, sign))
        elif together:
            found.append(
                (*forks(*skeleton_of(np.any([masks[n] for n in together], axis=0))), -1, sign)
            )
    sizes = [len(f[0]) for f in found]
    none = np.zeros(0)
    return {
        "fork_row": np.concatenate([none, *(f[0] for f in found)]),
        "fork_column": np.concatenate([none, *(f[1] for f in found)]),
        "fork_layer": np.repeat([f[2] for f in found], sizes).astype(int),
        "fork_sign": np.repeat([f[3] for f in found], sizes).astype(int),
    }


def _standing_for_all(profiles: LineProfiles, lines: CentreLines) -> LineProfiles:
    """Let the profiles of each stretch stand for its whole length.

    Wide lines and those in a crowd fail more often; without this the others
    would speak for them.
    """
    count = int(lines.piece.max(initial=0)) + 1
    length = np.bincount(lines.piece, lines.step_px, count)
    measured_px = np.bincount(profiles.lines.piece, profiles.lines.step_px, count)
    per_px = length / np.maximum(measured_px, 1e-9)
    weight = profiles.lines.step_px * per_px[profiles.lines.piece]
    return replace(profiles, weight_px=weight)


def _fading(lines: CentreLines, sample: LineProfiles, chosen: np.ndarray) -> np.ndarray:
    """Return the stretches, (pieces,), where a line goes on more faintly.

    They belong to a net of which most is lines, are slender, no wider than the
    lines and have at least a quarter of their contrast.
    """
    if not chosen.any() or sample.width_px.size == 0:
        return np.zeros_like(chosen)
    count = chosen.size
    net_of = np.zeros(count, int)
    net_of[lines.piece] = lines.segment
    length = np.bincount(lines.piece, lines.step_px, count)
    in_net = np.bincount(net_of, length * chosen) / np.maximum(np.bincount(net_of, length), 1e-9)
    weight = np.bincount(sample.lines.piece, sample.weight_px, count)

    def mean(values: np.ndarray) -> np.ndarray:
        total = np.bincount(sample.lines.piece, sample.weight_px * values, count)
        return total / np.maximum(weight, 1e-9)

    width, contrast = mean(sample.width_px), mean(sample.contrast_L)
    usual_width = weighted_percentile(width[chosen], length[chosen], 0.75)
    usual_contrast = weighted_percentile(contrast[chosen], length[chosen], 0.5)
    return (
        (in_net[net_of] >= 0.4)
        & (weight > 0)
        & (length >= 3 * width)
        & (width <= usual_width)
        & (contrast >= 0.25 * usual_contrast)
    )

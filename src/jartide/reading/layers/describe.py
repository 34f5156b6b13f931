"""Layer records: colour with its ellipsoid, cover with its intervals, names, reasons."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import partial

import cv2
import numpy as np
from scipy.stats import f as fisher

from jartide.colour.difference import delta_e_2000
from jartide.colour.gamut import at_gamut_edge
from jartide.colour.names import colour_name
from jartide.reading.layers.covers import Covers
from jartide.reading.result import LINE_ROLES, Lab, Layer, Role
from jartide.reading.trust.measured import LEVEL, Measured, jackknife_half_width, measured
from jartide.reading.trust.tiles import tile_of
from jartide.wording import Message

# The camera's own error, Lab units: what no averaging takes out.
_OWN_ERROR = np.diag([0.5, 0.35, 0.35]) ** 2
# What blur leaves at the centres of lines, beside it.
_LINE_ERROR = np.diag([0.9, 0.4, 0.4]) ** 2


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Seen:
    """What a layer's record is made from.

    Attributes
    ----------
    lab : (H, W, 3) the picture
    covers : how much of each layer is seen at each pixel
    whole, valid : (H, W) where a pixel shows one layer whole, and where it counts
    blended : whether the tones pass into each other: then their soft shares are added up
    """

    lab: np.ndarray
    covers: Covers
    whole: np.ndarray
    valid: np.ndarray
    blended: bool

    @property
    def labels(self) -> np.ndarray:
        """The layer seen at each pixel, (H, W) uint8."""
        return self.covers.labels


def describe(
    picture: Seen,
    order: Sequence[int],
    roles: Sequence[Role],
    tones: np.ndarray,
    whole_tone: np.ndarray,
    painted: np.ndarray,
    beside: np.ndarray,
    areas: str = "",
) -> tuple[Layer, ...]:
    """Make the layer records, base first.

    Parameters
    ----------
    order : the numbers of the layers, base first; `picture.labels` has these numbers
    roles, tones, whole_tone : by number; whether a tone is seen whole anywhere
    painted : (K,) share painted, hidden or not
    beside : (K,) L* of what each touches, NaN of nothing
    areas : the family's own word for its patches, if it has one
    """
    rows, columns = np.nonzero(picture.valid[::4, ::4])
    tiles = tile_of(rows * 4, columns * 4, picture.valid)
    labels = picture.labels[::4, ::4][rows, columns]
    total: float = max(int(picture.valid.sum()), 1)
    unsure = 1 - picture.whole[picture.valid].mean() if total else 1.0
    counts = _counts(picture, len(tones))
    if picture.blended:
        # What is blended with a layer that was left out counts for the one that is kept.
        total = max(float(counts[list(order)].sum()), 1.0)
    pixels = _whole_pixels(picture, len(roles))
    layers: list[Layer] = []
    for place, k in enumerate(order):
        where = pixels[k]
        colours = picture.lab.reshape(-1, 3)[where]
        is_lines = roles[k] in LINE_ROLES
        # Fine lines have too few whole pixels for a median; their centres gave the tone.
        enough = len(colours) >= (200 if is_lines else 30)
        # Of tones that pass into each other the one found already says what all of it shows.
        colour = np.median(colours, axis=0) if enough and not picture.blended else tones[k]
        share = float(counts[k] / total)
        half = jackknife_half_width(tiles, partial(_share_of, labels, k))
        # Edges may be drawn a little inside or outside: a tenth of the mixed pixels.
        own_half = 0.005 + 0.1 * min(share, 1 - share) * (0.5 + unsure)
        shown: Lab = (float(colour[0]), float(colour[1]), float(colour[2]))
        axes = _ellipsoid(colours if enough else None, where, picture.valid, is_lines)
        gap = float(shown[0] - beside[k])
        layers.append(
            Layer(
                id=f"L{place + 1}",
                name=Message("layer.ground"),  # named when all are known
                role=roles[k],
                lab=shown if whole_tone[k] else None,
                shown_lab=shown,
                lab_de00=_radius(shown, axes),
                lab_axes=axes,
                coverage=measured(share, own_half, half),
                coverage_painted=_painted(float(painted[k]), share, own_half, half, place == 0),
                gamut_edge=at_gamut_edge(shown),
                contrast_L=gap if np.isfinite(gap) else None,
            )
        )
    return named(layers, areas)


def _counts(picture: Seen, count: int) -> np.ndarray:
    """Return how many pixels each layer is seen on, (K,): whole ones, or their soft shares."""
    labels = picture.labels[picture.valid]
    if not picture.blended:
        return np.bincount(labels, minlength=count)
    share = picture.covers.share[picture.valid]
    beside = picture.covers.beside[picture.valid]
    found = np.bincount(labels, share, minlength=count)
    return found + np.bincount(beside, 1 - share, minlength=count)


def _share_of(labels: np.ndarray, k: int, keep: np.ndarray) -> float:
    return float((labels[keep] == k).mean())


# A median needs no more pixels than this, and is sought often.
_MEDIAN_PX = 40_000


def _whole_pixels(picture: Seen, count: int) -> list[np.ndarray]:
    """Return for each layer the flat indices, (N,), of pixels wholly it."""
    good = picture.whole & picture.valid
    # Without their rim: all nine pixels must be good and of one layer.
    least = cv2.erode(np.where(good, picture.labels, 0), np.ones((3, 3), np.uint8))
    most = cv2.dilate(np.where(good, picture.labels, 255), np.ones((3, 3), np.uint8))
    stride = max(1, picture.labels.size // (count * _MEDIAN_PX))
    inner = np.flatnonzero((least == most) & good)
    label = picture.labels.ravel()[inner]
    found = []
    for k in range(count):
        own = inner[label == k]
        if own.size < 200:  # nothing much would be left: as they are, then
            own = np.flatnonzero(good & (picture.labels == k))
        found.append(own[:: max(1, min(stride, own.size // 4000))])
    return found


def _painted(painted: float, share: float, own_half: float, half: float, ground: bool) -> Measured:
    if ground:
        return measured(1.0, 0.0, 0.0)
    # What is hidden can only be guessed from what surrounds it.
    hidden = 0.3 * (painted - share)
    return measured(painted, own_half + hidden, half + hidden)


def _ellipsoid(
    colours: np.ndarray | None, where: np.ndarray, valid: np.ndarray, is_lines: bool
) -> tuple[Lab, Lab, Lab]:
    """Return the half axes, in Lab, of the 90 % ellipsoid of a layer's colour, longest first.

    The means of 16 tiles vary as the mean itself would between pictures; their
    covariance gives Hotelling's ellipsoid (1931), with the camera's own error added.
    """
    own = _OWN_ERROR + (_LINE_ERROR if is_lines else 0)
    scatter = np.zeros((3, 3))
    reach = 6.25  # chi-squared with 3 degrees of freedom, 90 %
    if colours is not None:
        tiles = tile_of(where // valid.shape[1], where % valid.shape[1], valid)
        count = np.bincount(tiles, minlength=16)
        used = np.flatnonzero(count >= 8)
        if used.size >= 6:
            sums = [np.bincount(tiles, colours[:, c], 16) for c in range(3)]
            means = np.stack(sums, axis=1)[used] / count[used, None]
            n = used.size
            scatter = np.cov(means.T) / n
            reach = 3 * (n - 1) / (n - 3) * float(fisher.ppf(LEVEL, 3, n - 3))
        else:
            scatter = np.cov(colours[:: max(1, len(colours) // 500)].T) / 10
    values, vectors = np.linalg.eigh(reach * scatter + 2.7 * own)
    axes = (np.sqrt(np.maximum(values, 0)) * vectors).T[::-1]
    # Each axis points lighter, so that pairs of chips are always in one order.
    axes = [axis if axis[0] >= 0 else -axis for axis in axes]
    a, b, c = ((float(x), float(y), float(z)) for x, y, z in axes)
    return a, b, c


def _radius(lab: Lab, axes: tuple[Lab, Lab, Lab]) -> float:
    """The 90 % radius in CIEDE2000: the mean over the ellipsoid's three axes, both ways."""
    ends = np.array(lab) + np.concatenate([np.array(axes), -np.array(axes)])
    return float(np.sqrt(np.mean(delta_e_2000(ends, np.array(lab)) ** 2)))


def named(layers: Sequence[Layer], areas: str = "") -> tuple[Layer, ...]:
    """Give each layer its own name: hue, lightness and role, as in "red veins".

    `areas` is the family's word for its patches, the last part of a message id `role.<word>`,
    where it has one. Two that would share a name differ by lightness.
    """
    return tuple(replace(layer, name=_name(i, layers, areas)) for i, layer in enumerate(layers))


def _name(i: int, layers: Sequence[Layer], areas: str) -> Message:
    own, word = layers[i], colour_name(layers[i].shown_lab)
    ending = ".ground" if own.role is Role.GROUND else ""
    colour = Message(f"hue.{word}{ending}")
    role = Message(f"role.{areas if areas and own.role is Role.PATCH else own.role}")
    twins = sorted(
        (layer.shown_lab[0], j)
        for j, layer in enumerate(layers)
        if layer.role is own.role and colour_name(layer.shown_lab) == word
    )
    if len(twins) == 1:
        return Message("layer.colour_role", colour=colour, role=role)
    place = [j for _, j in twins].index(i)
    if len(twins) == 2:
        shade = Message("shade.darker" if place == 0 else "shade.lighter")
        return Message("layer.colour_shade", colour=colour, role=role, shade=shade)
    return Message("layer.colour_numbered", colour=colour, role=role, number=place + 1)

"""Shape evidence of layers: who bulges into whom, who runs on where three meet, how slender.

What lies on top bulges into what lies below: along a boundary the upper layer
takes less than half of a small disc, as a drop on a table does. Where three
layers meet, the one on top runs on while the others end at it: it takes half of
a small disc, they share the rest (a T-junction; Nitzberg & Mumford 1990).
"""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import cv2
import numpy as np

# Discs for the bulge, standard deviation in picture pixels.
_DISCS_PX = (4.0, 10.0)
# Veins and cracks are drawn as wholes: their own pieces are at least so slender (marbles, plasters
# and crackles come to 14 and more). What a crease of rock or a rim of flakes leaves is not.
_WHOLE_LINES, _BROKEN_COSTS = 11.0, 2.5
# By their shape alone pieces are lines when they are so slender, no rounder than this and cover no
# more than this share of what lines may;
# the mottle of real plaster and rock straggles, too, but covers more.
_BY_SHAPE, _STRAGGLING, _SPARSE = 25.0, 0.13, 0.75
# Disc in which three meet, and the least share of it each of the three must have.
_JUNCTION_PX = 3.0
_JUNCTION_SHARE = 0.08


@dataclass(frozen=True, slots=True, kw_only=True)
class LineEvidence:
    """What the centre lines of one layer look like as lines.

    Attributes
    ----------
    area_px : their length times width
    slenderness : median of a line's length over its width
    unevenness : 90th over 10th percentile of width
    peak : usual cover at their centre, 0..1, by their width and softness
    """

    area_px: float
    slenderness: float
    unevenness: float
    peak: float = 1.0

    def likeness(self, layer_area_px: float, shape_slenderness: float = 0.0) -> float:
        """Return how much a layer is made of lines; above 0 it is one of lines.

        Veins, grain and cracks are explained by their centre lines, are slender
        and of similar widths; straggling patches lack one or two of the three.
        `shape_slenderness` is that of the layer's own pieces, which tells wide
        veins; the centre lines' own tells broken ones. The divisors lie between
        both kinds on drawn surfaces, and where lines explain little nothing
        else counts.
        """
        if self.area_px <= 0 or layer_area_px <= 0:
            return -10.0
        explained = self.area_px / layer_area_px
        slender = max(shape_slenderness / 11, self.slenderness / 14)
        return float(
            np.log(explained / 0.5)
            + 4 * min(np.log(explained / 0.42), 0)
            + 1.5 * np.log(max(slender, 1e-3))
            - 0.5 * np.log(self.unevenness / 4)
        )


NO_LINES = LineEvidence(area_px=0.0, slenderness=0.0, unevenness=1.0)


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Shapes:
    """Shape evidence of K layers.

    Attributes
    ----------
    coverage : (K,)
    contact : (K, K) share of all boundary between two layers
    bulge : (K, K) in about -0.5..0.5; positive where the first bulges into the second
    cuts : (K, K) in -1..1; positive where the first runs on and the second ends, with `met`
    met : (K, K) number of places where both meet with a third
    line_likeness : (K,) how much each is made of lines
    line_peak : (K,) usual cover at its lines' centres, 0..1
    roundness : (K,) of its pieces, 1 for discs, weighted by area
    piece_px : (K,) usual area of one piece, pixels
    depth_px : (K,) mean distance of its pixels to its edge
    falls : (K,) how upright its pieces stand, weighted by area: -1 flat to 1 upright
    """

    coverage: np.ndarray
    contact: np.ndarray
    bulge: np.ndarray
    cuts: np.ndarray
    met: np.ndarray
    line_likeness: np.ndarray
    line_peak: np.ndarray
    roundness: np.ndarray
    piece_px: np.ndarray
    depth_px: np.ndarray
    falls: np.ndarray


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class RimShapes:
    """What tells the rims of K layers from layers.

    Attributes
    ----------
    coverage : (K,)
    contact : (K, K) length of shared edges, pixels
    depth_px : (K,) mean distance of its pixels to its edge
    parting : (K,) how often what lies on its two sides differs where it is thin: a rim
        lies between two layers, a thread has the same on both sides
    """

    coverage: np.ndarray
    contact: np.ndarray
    depth_px: np.ndarray
    parting: np.ndarray


def shapes_of(
    labels: np.ndarray,
    valid: np.ndarray,
    lines: list[LineEvidence],
    lines_most: float,
    *,
    whole_lines: bool = False,
) -> Shapes:
    """Return the shape evidence of a label picture (H, W) with one `LineEvidence` a layer.

    A layer that covers more than `lines_most` is hardly one of lines, nor, where lines are
    `whole_lines`, one whose own pieces are not long and narrow.
    """
    count = len(lines)
    masks = [((labels == k) & valid) for k in range(count)]
    area = np.array([m.sum() for m in masks], float)
    total = max(valid.sum(), 1)
    low, high, rows, columns = _boundary(labels, valid)
    pair = low.astype(int) * count + high
    contact = np.bincount(pair, minlength=count**2).astype(float).reshape(count, count)
    half = [_half(m) for m in masks]
    with ThreadPoolExecutor(1) as pool:
        # Beside the discs, on the second core.
        cut = pool.map(_pieces, masks)
        bulge = _bulge(half, pair, (low, high, rows, columns), contact)
        contact = contact + contact.T
        cuts, met = _junctions(half)
        pieces = list(cut)
    roundness, piece, slender, depth, falls = zip(*pieces, strict=True)
    likeness = np.array([e.likeness(a, s) for e, a, s in zip(lines, area, slender, strict=True)])
    likeness -= 4 * np.log(np.maximum(area / total / lines_most, 1))
    if whole_lines:
        likeness -= _BROKEN_COSTS * np.log(_WHOLE_LINES / np.clip(slender, 1, _WHOLE_LINES))
    # Lines of another hue and the same lightness have no crest, but the shape of lines.
    by_shape = 2 * np.log(np.maximum(slender, 1) / _BY_SHAPE)
    sparse = (area / total <= _SPARSE * lines_most) & (np.array(roundness) < _STRAGGLING)
    likeness = np.where(sparse, np.maximum(likeness, by_shape), likeness)
    return Shapes(
        coverage=area / total,
        contact=contact / max(contact.sum() / 2, 1),
        bulge=bulge,
        cuts=cuts,
        met=met,
        line_likeness=likeness,
        line_peak=np.array([e.peak for e in lines]),
        roundness=np.array(roundness),
        piece_px=np.array(piece),
        depth_px=np.array(depth),
        falls=np.array(falls),
    )


def rim_shapes(labels: np.ndarray, valid: np.ndarray, count: int) -> RimShapes:
    """Return of labels, (H, W), what tells rims from layers, without the rest of `shapes_of`."""
    # Every second row and column tells the same of edges in half the time.
    low, high, _, _ = _boundary(labels[::2, ::2], valid[::2, ::2])
    contact = np.bincount(low.astype(int) * count + high, minlength=count**2)
    contact = contact.astype(float).reshape(count, count)
    area = np.bincount(labels[valid], minlength=count).astype(float)
    # Every pixel's distance to another layer, in one go: layers are told apart by their edges.
    inner = np.ones(labels.shape, np.uint8)
    inner[1:][labels[1:] != labels[:-1]] = 0
    inner[:-1][labels[1:] != labels[:-1]] = 0
    inner[:, 1:][labels[:, 1:] != labels[:, :-1]] = 0
    inner[:, :-1][labels[:, 1:] != labels[:, :-1]] = 0
    depth = 1 + cv2.distanceTransform(inner, cv2.DIST_L2, 3)
    total = np.bincount(labels[valid], depth[valid], minlength=count)
    return RimShapes(
        coverage=area / max(area.sum(), 1),
        contact=contact + contact.T,
        depth_px=total / np.maximum(area, 1),
        parting=_parting(labels, count),
    )


# Stretches of one layer along a row or column that count as thin.
_THIN_PX = 6
_OUTSIDE = 255


def _parting(labels: np.ndarray, count: int) -> np.ndarray:
    """Return how often what lies on both sides of a thin stretch differs, (K,)."""
    differ, same = np.zeros(count), np.zeros(count)
    for lines in (labels[::3], np.ascontiguousarray(labels[:, ::3].T)):
        # One long line with a stop after each row.
        stopped = np.pad(lines, ((0, 0), (0, 1)), constant_values=_OUTSIDE).ravel()
        ends = np.flatnonzero(stopped[1:] != stopped[:-1])
        if ends.size < 2:
            continue
        label, before, after = stopped[ends[1:]], stopped[ends[:-1]], stopped[ends[1:] + 1]
        thin = (np.diff(ends) <= _THIN_PX) & (label < count)
        thin &= (before != _OUTSIDE) & (after != _OUTSIDE)
        alike = before == after
        same += np.bincount(label[thin & alike], minlength=count)[:count]
        differ += np.bincount(label[thin & ~alike], minlength=count)[:count]
    return differ / np.maximum(differ + same, 1)


def _bulge(
    half: list[np.ndarray],
    pair: np.ndarray,
    boundary: tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray],
    contact: np.ndarray,
) -> np.ndarray:
    """Return how far each layer bulges into each, (K, K); `contact` holds the lower first."""
    count = len(half)
    low, high, rows, columns = boundary
    lean = np.zeros(count**2)
    for disc in _DISCS_PX:
        # Reduced by half: the disc is wide, the share inside it needs no finer grid.
        shares = np.stack([_disc_share(m, disc / 2) for m in half])
        at = (
            np.minimum(rows // 2, shares.shape[1] - 1),
            np.minimum(columns // 2, shares.shape[2] - 1),
        )
        share_low, share_high = shares[low, *at], shares[high, *at]
        part = share_high / np.maximum(share_low + share_high, 1e-6) - 0.5
        lean += np.bincount(pair, part, count**2) / len(_DISCS_PX)
    bulge = (lean / np.maximum(contact.ravel(), 1)).reshape(count, count)
    return bulge - bulge.T


def _half(mask: np.ndarray) -> np.ndarray:
    return cv2.resize(mask.astype(np.float32), None, fx=0.5, fy=0.5)


def _disc_share(mask: np.ndarray, disc_px: float) -> np.ndarray:
    """Return the share of a layer in a soft disc round each pixel."""
    return cv2.GaussianBlur(mask, (0, 0), disc_px)


def _junctions(half: list[np.ndarray]) -> tuple[np.ndarray, np.ndarray]:
    """Return who runs on where three meet, and how often each two are in that, (K, K) each."""
    count = len(half)
    won, met = np.zeros((count, count)), np.zeros((count, count))
    if count < 3:
        return won, met
    # Only where three layers lie within reach is there anything to look at.
    reach = np.ones((7, 7), np.uint8)
    near = np.sum([cv2.dilate((m > 0.5).astype(np.uint8), reach) for m in half], axis=0)
    rows, columns = np.nonzero(near >= 3)
    if rows.size == 0:
        return won, met
    shares = np.stack([_disc_share(m, _JUNCTION_PX)[rows, columns] for m in half])
    third = np.partition(shares, count - 3, axis=0)[count - 3]
    # The very spot where they meet: there the third has most.
    map_of = np.zeros(half[0].shape, np.float32)
    map_of[rows, columns] = third
    most = cv2.dilate(map_of, np.ones((5, 5)))[rows, columns]
    here = shares[:, (third >= _JUNCTION_SHARE) & (third >= most - 1e-6)]
    order = np.argsort(-here, axis=0)
    first, margin = order[0], here[order[0], np.arange(here.shape[1])]
    for other in (order[1], order[2]):
        # An even star of three says nothing: what counts is how far one is beyond a third.
        np.add.at(won, (first, other), np.clip((margin - 1 / 3) * 6, 0, 1))
        np.add.at(met, (first, other), 1)
    np.add.at(met, (order[1], order[2]), 1)
    met = met + met.T
    return (won - won.T) / np.maximum(met, 1), met


def _boundary(labels: np.ndarray, valid: np.ndarray):
    """Return lower layer, higher layer, row and column, (N,) each, of every boundary pixel."""
    found = []
    for first, second, inside in (
        (labels[:-1], labels[1:], valid[:-1] & valid[1:]),
        (labels[:, :-1], labels[:, 1:], valid[:, :-1] & valid[:, 1:]),
    ):
        rows, columns = np.nonzero((first != second) & inside)
        one, other = first[rows, columns], second[rows, columns]
        found.append((np.minimum(one, other), np.maximum(one, other), rows, columns))
    return tuple(np.concatenate(parts) for parts in zip(*found, strict=True))


def _pieces(mask: np.ndarray) -> tuple[float, float, float, float, float]:
    """Return roundness, usual area, slenderness, mean depth and uprightness of a layer's pieces.

    All are weighted by area, so that chance pixels, which are many, count little.
    Slenderness is a piece's extent over four times its mean depth, its width if
    it is a strip.
    """
    image = mask.astype(np.uint8)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(image, connectivity=8)
    # Bordered, since a piece ends where the picture does.
    bordered = cv2.copyMakeBorder(image, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=0)
    depth = cv2.distanceTransform(bordered, cv2.DIST_L2, 3)[1:-1, 1:-1]
    if count < 2:
        return 0.0, 0.0, 0.0, 0.0, 0.0
    own_labels, own_depth = labels[mask], depth[mask]
    pixels = stats[1:, cv2.CC_STAT_AREA].astype(float)
    mean_depth = np.bincount(own_labels, own_depth, count)[1:] / pixels
    wide, tall = (stats[1:, n].astype(float) for n in (cv2.CC_STAT_WIDTH, cv2.CC_STAT_HEIGHT))
    extent = np.hypot(wide, tall)
    slender = np.exp(np.average(np.log(extent / (4 * mean_depth)), weights=pixels))
    large = pixels >= 6
    if not large.any():
        return 0.0, 0.0, 0.0, 0.0, 0.0
    # Steps along the pixel grid overstate a curve's length by 4 / pi in the mean.
    around = np.bincount(labels[1:][image[1:] > image[:-1]], minlength=count)
    around += np.bincount(labels[:-1][image[:-1] > image[1:]], minlength=count)
    around += np.bincount(labels[:, 1:][image[:, 1:] > image[:, :-1]], minlength=count)
    around += np.bincount(labels[:, :-1][image[:, :-1] > image[:, 1:]], minlength=count)
    length = np.pi / 4 * np.maximum(around[1:][large], 1)
    area = pixels[large]
    roundness = np.clip(4 * np.pi * area / length**2, 0, 1)
    return (
        float(np.average(roundness, weights=area)),
        float(np.average(area, weights=area)),
        float(slender),
        float(own_depth.mean()),
        float(np.average((tall - wide) / (tall + wide), weights=pixels)),
    )

"""Paint order and roles: what lies under what, from who interrupts whom.

What lies on top bulges into what lies below: along a boundary the upper layer
takes less than half of a small disc, as a drop on a table does. Thin things lie
over broad ones. Where the picture does not tell, the family's usual ground does.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jartide.families import Family
from jartide.reading.result import Role

# Discs for the bulge, standard deviation in picture pixels.
_DISCS_PX = (4.0, 10.0)
_SPECK_MAX_COVERAGE = 0.08
_SPECK_MAX_AREA_MM2 = 100.0


@dataclass(frozen=True, slots=True, kw_only=True)
class LineEvidence:
    """What the centre lines of one layer look like as lines.

    Attributes
    ----------
    area_px : their length times width
    slenderness : median of a line's length over its width
    unevenness : 90th over 10th percentile of width
    """

    area_px: float
    slenderness: float
    unevenness: float

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
    line_likeness : (K,) how much each is made of lines
    roundness : (K,) of its pieces, 1 for discs, weighted by area
    piece_px : (K,) usual area of one piece, pixels
    depth_px : (K,) mean distance of its pixels to its edge
    """

    coverage: np.ndarray
    contact: np.ndarray
    bulge: np.ndarray
    line_likeness: np.ndarray
    roundness: np.ndarray
    piece_px: np.ndarray
    depth_px: np.ndarray


def shapes_of(
    seen: np.ndarray, valid: np.ndarray, lines: list[LineEvidence], lines_most: float
) -> Shapes:
    """Return the shape evidence of a label picture (H, W) with one `LineEvidence` a layer.

    A layer that covers more than `lines_most` is hardly one of lines.
    """
    count = len(lines)
    masks = [((seen == k) & valid) for k in range(count)]
    area = np.array([m.sum() for m in masks], float)
    total = max(valid.sum(), 1)
    low, high, rows, columns = _boundary(seen, valid)
    pair = low.astype(int) * count + high
    contact = np.bincount(pair, minlength=count**2).astype(float).reshape(count, count)
    lean = np.zeros(count**2)
    for disc in _DISCS_PX:
        # Reduced by half: the disc is wide, the share inside it needs no finer grid.
        shares = np.stack([_disc_share(m, disc) for m in masks])
        at = (
            np.minimum(rows // 2, shares.shape[1] - 1),
            np.minimum(columns // 2, shares.shape[2] - 1),
        )
        share_low, share_high = shares[low, *at], shares[high, *at]
        part = share_high / np.maximum(share_low + share_high, 1e-6) - 0.5
        lean += np.bincount(pair, part, count**2) / len(_DISCS_PX)
    bulge = (lean / np.maximum(contact.ravel(), 1)).reshape(count, count)
    contact, bulge = contact + contact.T, bulge - bulge.T
    roundness, piece, slender, depth = zip(*(_pieces(m) for m in masks), strict=True)
    return Shapes(
        coverage=area / total,
        contact=contact / max(contact.sum() / 2, 1),
        bulge=bulge,
        line_likeness=np.array(
            [e.likeness(a, s) for e, a, s in zip(lines, area, slender, strict=True)]
        )
        - 4 * np.log(np.maximum(area / total / lines_most, 1)),
        roundness=np.array(roundness),
        piece_px=np.array(piece),
        depth_px=np.array(depth),
    )


def _boundary(seen: np.ndarray, valid: np.ndarray):
    """Return lower layer, higher layer, row and column, (N,) each, of every boundary pixel."""
    found = []
    for first, second, inside in (
        (seen[:-1], seen[1:], valid[:-1] & valid[1:]),
        (seen[:, :-1], seen[:, 1:], valid[:, :-1] & valid[:, 1:]),
    ):
        rows, columns = np.nonzero((first != second) & inside)
        one, other = first[rows, columns], second[rows, columns]
        found.append((np.minimum(one, other), np.maximum(one, other), rows, columns))
    return tuple(np.concatenate(parts) for parts in zip(*found, strict=True))


def _disc_share(mask: np.ndarray, disc_px: float) -> np.ndarray:
    """Return the share of a layer in a soft disc round each pixel, at half the size."""
    import cv2

    small = cv2.resize(mask.astype(np.float32), None, fx=0.5, fy=0.5)
    return cv2.GaussianBlur(small, (0, 0), disc_px / 2)


def _pieces(mask: np.ndarray) -> tuple[float, float, float, float]:
    """Return roundness, usual area, slenderness and mean depth of one layer's pieces.

    All are weighted by area, so that chance pixels, which are many, count little.
    Slenderness is a piece's extent over four times its mean depth, its width if
    it is a strip.
    """
    import cv2

    image = mask.astype(np.uint8)
    contours, _ = cv2.findContours(image, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    area = np.array([cv2.contourArea(c) for c in contours])
    around = np.array([cv2.arcLength(c, True) for c in contours])
    large = area >= 6
    if not large.any():
        return 0.0, 0.0, 0.0, 0.0
    area, around = area[large], around[large]
    roundness = np.clip(4 * np.pi * area / np.maximum(around, 1) ** 2, 0, 1)

    count, labels, stats, _ = cv2.connectedComponentsWithStats(image, connectivity=8)
    # Bordered, since a piece ends where the picture does.
    bordered = cv2.copyMakeBorder(image, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=0)
    depth = cv2.distanceTransform(bordered, cv2.DIST_L2, 3)[1:-1, 1:-1]
    pixels = stats[1:, cv2.CC_STAT_AREA].astype(float)
    mean_depth = np.bincount(labels.ravel(), depth.ravel(), count)[1:] / pixels
    extent = np.hypot(stats[1:, cv2.CC_STAT_WIDTH], stats[1:, cv2.CC_STAT_HEIGHT])
    slender = np.exp(np.average(np.log(extent / (4 * mean_depth)), weights=pixels))
    return (
        float(np.average(roundness, weights=area)),
        float(np.average(area, weights=area)),
        float(slender),
        float(depth[mask].mean()),
    )


def roles_of(shapes: Shapes, ground: int, family: Family, mm_per_px: float | None) -> list[Role]:
    """Return the role of each layer."""
    roles = []
    for k in range(len(shapes.coverage)):
        piece = shapes.piece_px[k] * (mm_per_px or 0.3) ** 2
        if k == ground:
            roles.append(Role.GROUND)
        elif shapes.line_likeness[k] > 0:
            roles.append(Role(family.lines_role))
        elif (
            shapes.coverage[k] < _SPECK_MAX_COVERAGE
            and piece < _SPECK_MAX_AREA_MM2
            and shapes.roundness[k] > 0.55
        ):
            roles.append(Role.SPECK)
        else:
            roles.append(Role(family.patches_role))
    return roles


def find_ground(shapes: Shapes, tones: np.ndarray, family: Family) -> int:
    """Return which layer lies lowest."""
    # Evidence that others lie over it, plus how broad it is.
    under = -(shapes.bulge * shapes.contact).sum(axis=1) / np.maximum(
        shapes.contact.sum(axis=1), 1e-9
    )
    score = shapes.coverage + 1.5 * under - 0.5 * (shapes.line_likeness > 0)
    broad = shapes.coverage >= max(0.08, 0.2 * shapes.coverage.max())
    if family.ground != "broad":
        darkness = -tones[:, 0] if family.ground == "dark" else tones[:, 0]
        candidates = np.flatnonzero(broad & (shapes.line_likeness <= 0))
        if candidates.size:
            score[candidates[darkness[candidates].argmax()]] += 0.5
    score[~broad] -= 1.0
    return int(score.argmax())


def paint_order(shapes: Shapes, roles: list[Role], ground: int) -> list[int]:
    """Return the layer numbers base first.

    Each layer's height is how many of its neighbours it lies over, by
    evidence: its bulge, thinness and share against theirs.
    """
    count = len(roles)
    kind = np.array([_height_of(role) for role in roles])
    over = np.zeros((count, count))
    for i in range(count):
        for j in range(count):
            if i != j:
                smaller = np.log((shapes.coverage[j] + 0.01) / (shapes.coverage[i] + 0.01))
                over[i, j] = 8 * shapes.bulge[i, j] + 0.25 * smaller + 2.0 * (kind[i] - kind[j])
    # Pairs that hardly touch say little about each other.
    weight = shapes.contact + 0.02
    np.fill_diagonal(weight, 0)
    height = (np.tanh(over) * weight).sum(axis=1) / np.maximum(weight.sum(axis=1), 1e-9)
    height += kind
    height[ground] = -np.inf
    return [int(k) for k in np.argsort(height, kind="stable")]


def _height_of(role: Role) -> float:
    if role in (Role.CLOUD, Role.PATCH, Role.CELL):
        return 0.0
    return 1.5 if role is Role.SPECK else 1.0


def painted_share(shapes: Shapes, order: list[int]) -> np.ndarray:
    """Return how much of each layer lies there, hidden or not, (K,); the ground is 1.

    What lies over a spot is hidden from view, but what surrounds the cover goes
    on under it: each upper layer is taken to lie on those below it in the
    proportion in which its edges touch them.
    """
    painted = shapes.coverage.copy()
    for place in range(len(order) - 1, 0, -1):
        upper = order[place]
        below = order[:place]
        touching = shapes.contact[upper, below]
        if touching.sum() <= 0:
            continue
        for lower, share in zip(below, touching / touching.sum(), strict=True):
            # Of the upper layer only what is seen of it is shared out here; what
            # it covers of others was added to it before.
            painted[lower] += painted[upper] * share
    painted[order[0]] = 1.0
    return np.minimum(painted, 1.0)

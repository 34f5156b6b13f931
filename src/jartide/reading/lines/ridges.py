"""Find lines: pixels on the crest of something long and narrow, at any of several widths.

The crest is where the second derivative across is strongest and the one along
is weak (Lindeberg 1998, "Edge detection and ridge detection with automatic
scale selection", with gamma 1). Coarse scales work on reduced copies.
"""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np
from skimage.morphology import skeletonize

# Standard deviations of the Gaussian, picture pixels. A line of width w answers
# strongest near 0.3 w to 0.4 w, so these reach from 2 to about 40 pixels.
SCALES_PX = (0.9, 1.4, 2.2, 3.6, 5.6, 8.5, 13.0)
# Crest strength, in L*: a line answers with a little under half its contrast.
SEED_STRENGTH = 2.2
GROW_STRENGTH = 1.0
MIN_LENGTH_PX = 14


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class CentreLines:
    """Centre-line pixels of all lines found; arrays of N.

    Attributes
    ----------
    row, column : int, the pixel
    normal_deg : direction across the line, counter-clockwise from the right
    scale_px : standard deviation at which the line answered strongest
    segment : int, number of the connected net of lines it belongs to
    piece : int, number of the stretch between two branches
    step_px : length of centre line this pixel stands for
    sign : +1 for lines lighter than their surroundings, -1 for darker
    """

    row: np.ndarray
    column: np.ndarray
    normal_deg: np.ndarray
    scale_px: np.ndarray
    segment: np.ndarray
    piece: np.ndarray
    step_px: np.ndarray
    sign: np.ndarray

    def is_inner(self, shape: tuple[int, ...]) -> np.ndarray:
        """Tell which points, (N,), lie clear of a picture's border by their own scale."""
        margin = 1.5 * self.scale_px + 2
        rows, columns = self.row, self.column
        across = np.minimum(columns, shape[1] - 1 - columns)
        return np.minimum(np.minimum(rows, shape[0] - 1 - rows), across) >= margin

    def kept(self, keep: np.ndarray) -> CentreLines:
        """Return only the chosen points, by numbers or by (N,) bool."""
        return CentreLines(**{name: getattr(self, name)[keep] for name in self.__slots__})


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class _Curvature:
    """Second derivatives at one scale, on a copy reduced by `factor`; gamma-normalised."""

    factor: int
    xx: np.ndarray
    yy: np.ndarray
    xy: np.ndarray


def find_centre_lines(lightness: np.ndarray, valid: np.ndarray) -> CentreLines:
    """Return the centre lines in L*, (H, W) float32, where `valid`."""
    curvatures = [c for sigma in SCALES_PX if (c := _curvature(lightness, sigma)) is not None]
    if not curvatures:
        return CentreLines(**{name: np.zeros(0, int) for name in CentreLines.__slots__})
    with ThreadPoolExecutor(2) as pool:
        found = list(pool.map(lambda sign: _lines_of(sign, curvatures, valid), (1, -1)))
    joined = {}
    for name in CentreLines.__slots__:
        parts = [getattr(lines, name) for lines in found]
        if name in ("segment", "piece"):
            parts[1] = parts[1] + (parts[0].max() + 1 if parts[0].size else 0)
        joined[name] = np.concatenate(parts)
    return CentreLines(**joined)


def _lines_of(sign: int, curvatures: list[_Curvature], valid: np.ndarray) -> CentreLines:
    strength, scale = _crests(curvatures, sign, valid.shape)
    return _trace(strength, scale, curvatures, sign, valid)


def _curvature(lightness: np.ndarray, sigma: float) -> _Curvature | None:
    """Return the second derivatives at one scale; None where the picture is too small for it."""
    factor = 1 if sigma < 2 else 2 if sigma < 5 else 4
    height, width = lightness.shape
    if min(height, width) // factor < 8:
        return None
    small = lightness
    if factor > 1:
        small = cv2.resize(
            lightness, (width // factor, height // factor), interpolation=cv2.INTER_AREA
        )
    blur, slope, bend = _gaussian_derivatives(sigma / factor)

    def filtered(along_x: np.ndarray, along_y: np.ndarray) -> np.ndarray:
        return cv2.sepFilter2D(small, cv2.CV_32F, along_x, along_y)

    return _Curvature(
        factor=factor,
        xx=filtered(bend, blur),
        yy=filtered(blur, bend),
        xy=filtered(slope, slope),
    )


@lru_cache(maxsize=16)
def _gaussian_derivatives(sigma: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return sampled kernels of the Gaussian and its first and second derivative.

    Sampled, not differences of a blurred picture: those bend directions by some
    degrees on fine lines. Each derivative is normalised by sigma and made exact
    for straight slopes and parabolas.
    """
    reach = int(np.ceil(3.5 * sigma)) + 1
    x = np.arange(-reach, reach + 1, dtype=float)
    blur = np.exp(-(x**2) / (2 * sigma**2))
    blur /= blur.sum()
    slope = x * blur
    slope *= sigma / (slope @ x)
    bend = (x**2 / sigma**2 - 1) * blur
    bend -= bend.mean()
    bend *= 2 * sigma**2 / (bend @ x**2)
    return blur, slope, bend


def _crests(
    curvatures: list[_Curvature], sign: int, shape: tuple[int, int]
) -> tuple[np.ndarray, np.ndarray]:
    """Return the strongest answer of one sign over all scales, and the number of its scale.

    With eigenvalues m + a and m - a, a light line has m - a << 0 and m + a near
    0. Taking |m + a| from |m - a| leaves 2 min(-m, a); a dark line the same of m.
    """
    strength = np.zeros(shape, np.float32)
    scale = np.zeros(shape, np.uint8)
    for number, c in enumerate(curvatures):
        middle = cv2.addWeighted(c.xx, -sign, c.yy, -sign, 0)  # 2 m, positive for this sign
        apart = cv2.magnitude(cv2.subtract(c.xx, c.yy), cv2.add(c.xy, c.xy))  # 2 a
        answer = cv2.min(middle, apart)
        if c.factor > 1:
            answer = cv2.resize(answer, (shape[1], shape[0]), interpolation=cv2.INTER_CUBIC)
        better = cv2.compare(answer, strength, cv2.CMP_GT)
        cv2.copyTo(answer, better, strength)
        scale = np.where(better, np.uint8(number), scale)
    return strength, scale


def _trace(
    strength: np.ndarray,
    scale: np.ndarray,
    curvatures: list[_Curvature],
    sign: int,
    valid: np.ndarray,
) -> CentreLines:
    """Thin the crests of one sign to centre lines, and leave out the short ones."""
    grow = ((strength >= GROW_STRENGTH) & valid).astype(np.uint8)
    count, labels = cv2.connectedComponents(grow, connectivity=8)
    seeded = np.zeros(count, bool)
    seeded[labels[(strength >= SEED_STRENGTH) & valid]] = True
    seeded[0] = False
    crest = _crest_pixels(strength, scale, curvatures, sign, seeded[labels])
    # Joined again where the crest steps sideways, then thinned to one pixel.
    joined = cv2.morphologyEx(crest, cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8))
    skeleton = skeletonize(joined > 0).astype(np.uint8)
    # Cut at branches: beyond a fork a side twig must be long enough by itself.
    neighbours = cv2.filter2D(skeleton, cv2.CV_8U, np.ones((3, 3)), borderType=cv2.BORDER_CONSTANT)
    branches = (skeleton > 0) & (neighbours >= 4)
    cut = skeleton & (cv2.dilate(branches.astype(np.uint8), np.ones((3, 3), np.uint8)) == 0)
    cut = cut.astype(np.uint8)
    _, pieces, stats, _ = cv2.connectedComponentsWithStats(cut, connectivity=8)
    # Twigs shorter than the line is thick are the skeleton's, not the painter's.
    twig = np.hypot(stats[:, 2], stats[:, 3]) < 6
    twig[0] = False
    skeleton = skeleton & ~twig[pieces].astype(np.uint8)
    # The few pixels round a branch go with a stretch beside them.
    piece = cv2.dilate(pieces.astype(np.float32), np.ones((5, 5), np.uint8)).astype(np.int32)
    piece = np.where(pieces > 0, pieces, piece)
    _, segment, stats, _ = cv2.connectedComponentsWithStats(skeleton, connectivity=8)
    long_enough = np.hypot(stats[:, 2], stats[:, 3]) >= MIN_LENGTH_PX
    long_enough[0] = False
    row, column = np.nonzero(long_enough[segment])
    # A stretch must be strong as a whole: grain and noise have crests too, but weak ones.
    numbers = piece[row, column]
    mean = np.bincount(numbers, strength[row, column]) / np.maximum(np.bincount(numbers), 1)
    strong = mean[numbers] >= SEED_STRENGTH
    row, column = row[strong], column[strong]
    number = scale[row, column]
    across = _across_deg(row, column, number, curvatures, sign)
    return CentreLines(
        row=row,
        column=column,
        normal_deg=-across % 180,  # image rows run down, angles up
        scale_px=np.array(SCALES_PX)[number],
        segment=segment[row, column],
        piece=piece[row, column],
        step_px=steps(long_enough[segment], row, column),
        sign=np.full(row.size, sign),
    )


def _across_deg(row, column, number, curvatures: list[_Curvature], sign: int) -> np.ndarray:
    """Return the direction across a line at some pixels, (N,) degrees, clockwise from right."""
    across = np.zeros(row.size, np.float32)
    for i, c in enumerate(curvatures):
        at = number == i
        r = np.minimum(row[at] // c.factor, c.xx.shape[0] - 1)
        k = np.minimum(column[at] // c.factor, c.xx.shape[1] - 1)
        # The eigenvector of m + a; a light line's own is the one across it.
        turn = 0.5 * np.degrees(np.arctan2(2 * c.xy[r, k], c.xx[r, k] - c.yy[r, k]))
        across[at] = turn + 90 if sign > 0 else turn
    return across


def _crest_pixels(strength, scale, curvatures, sign: int, candidates: np.ndarray) -> np.ndarray:
    """Return the candidates, (H, W) uint8, that are strongest across their own line."""
    row, column = np.nonzero(candidates & _higher_than_both_sides(strength))
    angle = np.radians(_across_deg(row, column, scale[row, column], curvatures, sign))
    dx, dy = np.cos(angle), np.sin(angle)
    own = strength[row, column]
    crest = np.ones(row.size, bool)
    for way in (-1, 1):
        x, y = (column + way * dx).astype(np.float32), (row + way * dy).astype(np.float32)
        # OpenCV takes maps of under 32768 columns: laid out as a strip.
        beside = np.concatenate(
            [
                cv2.remap(strength, px[None], py[None], cv2.INTER_LINEAR)[0]
                for px, py in zip(_chunks(x), _chunks(y), strict=True)
            ]
            or [np.zeros(0, np.float32)]
        )
        crest &= own >= beside
    found = np.zeros(candidates.shape, np.uint8)
    found[row[crest], column[crest]] = 1
    return found


def _higher_than_both_sides(strength: np.ndarray) -> np.ndarray:
    """Tell, (H, W) bool, which pixels stand no lower than two opposite neighbours.

    Every crest does, whatever its direction; the rest need no closer look.
    """
    found = np.zeros(strength.shape, bool)
    for dr, dc in ((0, 1), (1, 0), (1, 1), (1, -1)):
        pair = np.zeros((3, 3), np.uint8)
        pair[1 + dr, 1 + dc] = pair[1 - dr, 1 - dc] = 1
        around = cv2.dilate(strength, pair)
        found |= strength >= around
    return found


def _chunks(values: np.ndarray, size: int = 30_000) -> list[np.ndarray]:
    return [values[i : i + size] for i in range(0, len(values), size)]


def steps(skeleton: np.ndarray, row: np.ndarray, column: np.ndarray) -> np.ndarray:
    """Length of centre line per pixel, (N,) px, of a skeleton, (H, W): half of each link.

    Straight links count 0.948 and diagonal ones 1.343 px, the unbiased weights
    for lines of every direction (Kulpa 1977). A diagonal that only shortcuts a
    corner of two straight links is no link.
    """
    padded = np.pad(skeleton, 1)
    r, c = row + 1, column + 1
    steps = np.zeros(row.size)
    for dr, dc in ((0, 1), (1, 0), (0, -1), (-1, 0)):
        steps += 0.5 * 0.948 * padded[r + dr, c + dc]
    for dr, dc in ((1, 1), (1, -1), (-1, 1), (-1, -1)):
        corner = padded[r + dr, c] | padded[r, c + dc]
        steps += 0.5 * 1.343 * (padded[r + dr, c + dc] & ~corner)
    return steps

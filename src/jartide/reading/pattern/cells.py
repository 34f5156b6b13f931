"""Cells between grooves or cracks: sizes from groove centre to groove centre, groove width.

The net has gaps where it is worn, so cells are told by the watershed of the distance to it
(Beucher & Lantuejoul 1979; distance: Borgefors 1986) and not by closed outlines alone.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from skimage.morphology import reconstruction, skeletonize
from skimage.segmentation import watershed

from jartide.reading.pattern.pieces import Pieces, pieces_of_labels
from jartide.reading.pattern.records import Cells, Spread
from jartide.reading.trust.measured import Measured, jackknife_half_width, unknown
from jartide.reading.trust.own_error import judged
from jartide.reading.trust.tiles import TILES_PER_SIDE, density_half_width, tile_of

LEAST_CELLS = 20
_MOST_PX = 1_000_000
# A dip of this share of its own depth between two middles is a gap in the net, not a border.
_DIP = 0.25
# Deviation, pixels, that evens out the jags of the net.
_SMOOTH = 0.6
_FLOOR_PX = 0.4
# What is smaller than this share of the usual cell is a crumb of one.
_CRUMB = 0.08
# Grooves round cells smaller than this across, pixels, run together.
_LEAST_CELL_PX = 16.0
# Cells smaller than this across, pixels, are noise of the net.
_LEAST_ACROSS_PX = 5.0
# The width of grooves is measured in windows of this many pixels a side, so many times enlarged,
# away from their borders by so many of the enlarged pixels.
_WINDOW_PX, _FINER, _MARGIN = 112, 3, 12


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class CellMap:
    """Cells at each pixel of a picture reduced by `factor`; 0 is no cell."""

    factor: int
    pieces: Pieces


def find_cells(net: np.ndarray, valid: np.ndarray) -> CellMap:
    """Return the cells that a net, (H, W) bool, parts the surface into."""
    # No coarser than it must be: between cells of a dozen pixels the net is soon lost.
    factor = max(1, round(float(np.sqrt(net.size / _MOST_PX))))
    if factor > 1:
        net, valid = net[::factor, ::factor], valid[::factor, ::factor]
    apart = cv2.distanceTransform((~net).astype(np.uint8), cv2.DIST_L2, 5)
    # Reconstruction by dilation joins middles parted by a slight dip only (Vincent 1993);
    # in logarithms the dip is a share of the depth. Twice smoothed by a pixel: jags are no dips.
    # In finer pixels the jags are larger.
    jags = 2.0 if net.size > _MOST_PX else 1.0
    smooth = cv2.GaussianBlur(apart, (0, 0), jags * _SMOOTH)
    depth = np.log(smooth + jags * _FLOOR_PX).astype(np.float32)
    markers = _middles(depth, -np.log(1 - _DIP))
    label = watershed(-depth, markers, mask=valid)
    return CellMap(factor=factor, pieces=pieces_of_labels(label, valid))


def _middles(depth: np.ndarray, dip: float) -> np.ndarray:
    """Return numbered middles: tops of `depth` that rise above all ways out by `dip`."""
    seed = depth - np.float32(dip)
    raised = reconstruction(seed, depth, method="dilation")
    top = (depth - raised > 0.999 * dip) & (depth > np.log(_LEAST_ACROSS_PX / 2 + _FLOOR_PX))
    _, markers = cv2.connectedComponents(top.astype(np.uint8), connectivity=8)
    return markers


def measure_cells(
    cells: CellMap, cover: np.ndarray, valid: np.ndarray, mm_per_px: float | None
) -> Cells | None:
    """Return the measures of cells; None when there are too few to be cells at all.

    `cover`, (H, W) in 0..1, is that of the net between them.
    """
    pieces = cells.pieces
    area = pieces.area_px
    # By area, a point of the surface lies in a cell of this size; crumbs of it are no cells.
    usual = float((area**2).sum() / max(area.sum(), 1.0))
    use = pieces.counted & (area > _CRUMB * usual)
    if use.sum() < 3:
        return None
    if mm_per_px is None:
        return _without(unknown("reason.no_scale"))
    # Those cut by the left and top border are counted but not whole.
    whole = use & ~np.isin(np.arange(use.size), _cut_left(pieces))
    if whole.sum() < LEAST_CELLS:
        return _without(unknown("reason.few_cells"))
    if np.sqrt(usual) < _LEAST_CELL_PX:
        wanted = round(1.5 * _LEAST_CELL_PX / (np.sqrt(usual) * mm_per_px * cells.factor))
        return _without(unknown("reason.too_fine", px_per_mm=wanted))
    mm = mm_per_px * cells.factor
    across = 2 * np.sqrt(pieces.area_px[whole] / np.pi) * mm
    seen = valid[:: cells.factor, :: cells.factor]
    tiles = tile_of(pieces.row, pieces.column, seen)

    def of(statistic) -> Measured:
        half = jackknife_half_width(tiles[whole], lambda keep: float(statistic(across[keep])))
        return judged("cells.size_mm", float(statistic(across)), half)

    area_dm2 = valid.sum() * mm_per_px**2 / 1e4
    half = density_half_width(pieces.row[use], pieces.column[use], seen) * seen.sum()
    ratio = (pieces.long_axis / pieces.short_axis)[whole]
    ratio_half = jackknife_half_width(tiles[whole], lambda keep: float(np.median(ratio[keep])))
    return Cells(
        size_mm=Spread(
            p10=of(lambda d: np.percentile(d, 10)),
            median=of(np.median),
            p90=of(lambda d: np.percentile(d, 90)),
            geometric_mean=of(lambda d: np.exp(np.log(d).mean())),
        ),
        count_per_dm2=judged("cells.count_per_dm2", use.sum() / area_dm2, half / area_dm2),
        groove_width_mm=_groove_width(np.where(valid, cover, 0), valid, mm_per_px),
        elongation=judged("cells.elongation", float(np.median(ratio)), ratio_half, least=1.0),
    )


def _cut_left(pieces: Pieces) -> np.ndarray:
    """Numbers of the cells that the left or top border cuts."""
    label = pieces.label
    touching = np.unique(np.concatenate([label[:, 0], label[0]]))
    return touching[touching > 0] - 1


def _groove_width(cover: np.ndarray, valid: np.ndarray, mm_per_px: float) -> Measured:
    """Return the usual width of a net by its cover, (H, W) in 0..1, on its own centre line.

    Twice the distance from the centre line to where the net covers half, in windows spread over
    what was read, each enlarged so that grooves of two or three pixels have a width between.
    """
    widths, tiles = [], []
    for tile, (row, column) in enumerate(_windows(valid)):
        own = cover[row : row + _WINDOW_PX, column : column + _WINDOW_PX]
        fine = cv2.resize(own, None, fx=_FINER, fy=_FINER, interpolation=cv2.INTER_CUBIC)
        inside = (fine >= 0.5).astype(np.uint8)
        half = cv2.distanceTransform(inside, cv2.DIST_L2, 5)
        line = skeletonize(inside > 0)
        # Cut by the window's border a groove looks narrower than it is.
        line[:_MARGIN] = line[-_MARGIN:] = line[:, :_MARGIN] = line[:, -_MARGIN:] = False
        found = (2 * half[line] - 1) / _FINER
        widths.append(found)
        tiles.append(np.full(found.size, tile))
    width, tile_of_width = np.concatenate(widths), np.concatenate(tiles)
    if width.size < 200 * _FINER:
        return unknown("reason.few_cells")
    jack = jackknife_half_width(tile_of_width, lambda keep: float(np.median(width[keep])))
    middle = float(np.median(width))
    return judged("cells.groove_width_mm", middle * mm_per_px, jack * mm_per_px)


def _windows(valid: np.ndarray) -> list[tuple[int, int]]:
    """Return the first row and column of a window in each tile, in its middle."""
    rows, columns = np.nonzero(valid[::8, ::8])
    if not rows.size:
        return []
    top, left = 8 * int(rows.min()), 8 * int(columns.min())
    height, width = 8 * int(rows.max()) + 8 - top, 8 * int(columns.max()) + 8 - left
    return [
        (
            max(0, top + round((r + 0.5) * height / TILES_PER_SIDE) - _WINDOW_PX // 2),
            max(0, left + round((c + 0.5) * width / TILES_PER_SIDE) - _WINDOW_PX // 2),
        )
        for r in range(TILES_PER_SIDE)
        for c in range(TILES_PER_SIDE)
    ]


def _without(none: Measured) -> Cells:
    return Cells(
        size_mm=Spread(p10=none, median=none, p90=none, geometric_mean=none),
        count_per_dm2=none,
        groove_width_mm=none,
        elongation=none,
    )

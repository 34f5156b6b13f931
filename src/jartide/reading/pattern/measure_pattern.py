"""All measures of a pattern, each by its own module, on a picture whose layers are known."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import cv2
import numpy as np

from jartide.colour.spaces import RGB_TO_XYZ
from jartide.families import Family
from jartide.photo.picture import Picture
from jartide.reading.layers.layer_map import LayerMap
from jartide.reading.lines.line_pieces import LinePieces
from jartide.reading.lines.measure_lines import measure_lines
from jartide.reading.pattern.brush import measure_brush
from jartide.reading.pattern.cells import CellMap, find_cells, measure_cells
from jartide.reading.pattern.correlation import correlation_length
from jartide.reading.pattern.direction import Lay, lay_of_picture, lay_shares
from jartide.reading.pattern.edges import edge_density
from jartide.reading.pattern.grain import GrainLines, find_grain, measure_grain
from jartide.reading.pattern.patches import calmed, least_px, measure_patches
from jartide.reading.pattern.pieces import pieces_of
from jartide.reading.pattern.records import Brush, Cells, Grain, Lines, Pattern, Repeat, Weave
from jartide.reading.pattern.repeat import measure_repeat
from jartide.reading.pattern.specks import measure_specks
from jartide.reading.pattern.spectrum import size_spectrum
from jartide.reading.pattern.weave import measure_weave
from jartide.reading.result import LINE_ROLES, Role, lined
from jartide.reading.trust.measured import Measured

# Lines speak for the whole pattern's direction when they make up a fair part of what is seen.
_LINES_LEAD_SHARE = 0.005
# Blocks of areas, and the roles whose layers are in them.
_AREAS = {"patches": (Role.PATCH, Role.RUN), "clouds": (Role.CLOUD,)}
_NETS = (Role.GROOVE, Role.CRACK)
_CELLED = ("leather", "crackle", "plaster")
# A net that parts cells covers at least this share.
_LEAST_NET = 0.01


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Scene:
    """What all measures look at.

    `lightness`, `luminance`, `valid` are (H, W): L*, linear luminance, what was read.
    """

    picture: Picture
    lightness: np.ndarray
    luminance: np.ndarray
    valid: np.ndarray
    family: Family


def scene_of(
    picture: Picture, rgb: np.ndarray, lab: np.ndarray, valid: np.ndarray, family: Family
) -> Scene:
    """Return the scene of a picture: linear light and Lab, (H, W, 3), and where valid, (H, W)."""
    return Scene(
        picture=picture,
        lightness=np.ascontiguousarray(lab[..., 0]),
        luminance=np.ascontiguousarray(rgb @ RGB_TO_XYZ[1].astype(np.float32)),
        valid=valid,
        family=family,
    )


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Early:
    """Measures that need no layers: found while the layers are."""

    lay: Lay
    spectrum: tuple[Measured, ...]
    weave: Weave | None
    repeat: Repeat | None
    grain_lines: GrainLines | None


def measure_early(scene: Scene) -> Early:
    """Return what needs no layers."""
    mm = scene.picture.mm_per_px
    lay = lay_of_picture(scene.lightness, scene.valid)
    is_wood = scene.family.lines_role == "grain"
    way = lay.direction_deg.value
    return Early(
        lay=lay,
        spectrum=size_spectrum(scene.lightness, scene.valid, mm),
        weave=measure_weave(scene.lightness, scene.valid, mm),
        repeat=measure_repeat(scene.lightness, scene.valid, mm),
        grain_lines=find_grain(scene.lightness, scene.valid, way, mm)
        if is_wood and way is not None
        else None,
    )


def measure_pattern(
    scene: Scene, layers: LayerMap, pieces: LinePieces, early: Early, pool: ThreadPoolExecutor
) -> Pattern:
    """Return the whole pattern; what needs no lines goes on in `pool` beside them."""
    mm, reduced, valid = scene.picture.mm_per_px, scene.picture.reduced, scene.valid
    masks = layers.masks()
    areas = {
        block: [n for n, layer in enumerate(layers.layers) if layer.role in roles]
        for block, roles in _AREAS.items()
    }
    specks = [masks[n] for n, layer in enumerate(layers.layers) if layer.role is Role.SPECK]

    calm = {n: calmed(masks[n]) for numbers in areas.values() for n in numbers}
    parted = {}
    if mm is not None:
        least = least_px(mm)
        parted = {
            n: pool.submit(pieces_of, own, valid, least, gathered=True) for n, own in calm.items()
        }

    def areas_of(block: str, numbers: list[int]):
        pieces = [parted[n].result() for n in numbers] if parted else None
        own = [calm[n] for n in numbers]
        return measure_patches(own, scene.luminance, valid, mm, reduced, pieces, block)

    in_layers, together = {}, {}
    for block, numbers in areas.items():
        in_layers[block] = [
            (layers.layers[n].id, pool.submit(areas_of, block, [n])) for n in numbers
        ]
        # Of a single layer all patches are its own.
        one = len(numbers) == 1
        together[block] = in_layers[block][0][1] if one else pool.submit(areas_of, block, numbers)
    speckled = pool.submit(measure_specks, specks, valid, mm)
    cells = pool.submit(_cells, scene, layers, masks)
    brush = pool.submit(_brush, scene, layers)
    mottle = pool.submit(correlation_length, scene.lightness, _mottle(layers, valid), mm)

    edges = pool.submit(edge_density, layers.covers, len(layers.layers), valid, mm)

    def lines_of(layer: int | None) -> Lines | None:
        return measure_lines(pieces, layer, valid, mm, reduced)

    lines = lines_of(None)
    by_layer = [
        (layer.id, own)
        for number, (layer, is_lined) in enumerate(
            zip(layers.layers, lined(layers.layers), strict=True)
        )
        if is_lined and (own := lines_of(number)) is not None
    ]
    lay = early.lay
    direction, spread, shares = lay.direction_deg, lay.spread_deg, lay.shares
    line_share = sum(
        layer.coverage.value or 0.0
        for layer in layers.layers
        if layer.role in (Role.VEIN, Role.CRACK)
    )
    if (
        lines is not None
        and line_share >= _LINES_LEAD_SHARE
        and lines.direction_deg.value is not None
    ):
        direction, spread = lines.direction_deg, lines.direction_spread_deg
        shares = lay_shares(pieces.lines.normal_deg + 90, pieces.lines.step_px)
    by_layer_of = {
        block: tuple((id, own) for id, done in found if (own := done.result()))
        for block, found in in_layers.items()
    }
    is_woven = any(layer.role is Role.THREAD for layer in layers.layers)
    return Pattern(
        direction_deg=direction,
        direction_spread_deg=spread,
        directionality=lay.directionality,
        correlation_mm=mottle.result(),
        lines=lines,
        lines_by_layer=tuple(by_layer),
        patches=together["patches"].result(),
        patches_by_layer=by_layer_of["patches"],
        clouds=together["clouds"].result(),
        clouds_by_layer=by_layer_of["clouds"],
        weave=early.weave if is_woven or scene.family.name in ("linen", "auto") else None,
        cells=cells.result(),
        grain=_grain(scene, layers, masks, pieces, early),
        specks=speckled.result(),
        brush=brush.result(),
        repeat=early.repeat,
        spectrum=early.spectrum,
        lay=shares,
        edges_mm_per_cm2=edges.result(),
    )


def net_of(layers: LayerMap, family: Family, masks: list[np.ndarray]) -> list[int]:
    """Return the numbers of the layers, masks (H, W), that lie between cells."""
    if family.ground == "net" and any(layer.role is Role.CELL for layer in layers.layers[1:]):
        # What shows between the cells of a crackle is its ground, wherever something lies on it.
        return [0]
    found = [n for n, layer in enumerate(layers.layers) if layer.role in _NETS]
    if found or family.name not in _CELLED:
        return found
    # Grooves too broad for lines are told by how they hang together.
    return [n for n, mask in enumerate(masks) if is_net(mask)][:1]


def is_net(mask: np.ndarray) -> bool:
    """Whether a layer, (H, W) bool, is one connected net that parts the rest into many pieces."""
    small = cv2.resize(mask.astype(np.uint8), None, fx=0.5, fy=0.5) > 0
    share = float(small.mean())
    if not _LEAST_NET < share < 0.6:
        return False
    _, _, own, _ = cv2.connectedComponentsWithStats(small.astype(np.uint8), connectivity=8)
    _, _, rest, _ = cv2.connectedComponentsWithStats((~small).astype(np.uint8), connectivity=4)
    areas = np.sort(rest[1:, cv2.CC_STAT_AREA])[::-1]
    many = int((areas > 0.08 * float((areas**2).sum() / areas.sum())).sum())
    return bool(own[1:, cv2.CC_STAT_AREA].max() > 0.7 * small.sum() and many >= 15)


def _cells(scene: Scene, layers: LayerMap, masks: list[np.ndarray]) -> Cells | None:
    found = cells_of(scene, layers, masks)
    if found is None:
        return None
    cells, cover = found
    return measure_cells(cells, cover, scene.valid, scene.picture.mm_per_px)


def cells_of(
    scene: Scene, layers: LayerMap, masks: list[np.ndarray]
) -> tuple[CellMap, np.ndarray] | None:
    """Return a picture's cells and the cover, (H, W), of the net between them; None without one."""
    numbers = net_of(layers, scene.family, masks)
    net = np.any([masks[n] for n in numbers], axis=0) if numbers else None
    if net is None or net.sum() < _LEAST_NET * scene.valid.sum():
        return None
    cover = np.sum([layers.covers.of(n) for n in numbers], axis=0)
    return find_cells(net, scene.valid), cover


def _brush(scene: Scene, layers: LayerMap) -> Brush | None:
    marks = [n for n, layer in enumerate(layers.layers) if layer.role is Role.BRUSH]
    if scene.family.lines_role == "brush":
        # All that lies over the ground of a brushed finish was brushed on.
        marks = list(range(1, len(layers.layers)))
    covers = [layers.covers.of(n) for n in marks]
    return measure_brush(covers, scene.valid, scene.picture.mm_per_px)


def _grain(
    scene: Scene, layers: LayerMap, masks: list[np.ndarray], pieces: LinePieces, early: Early
) -> Grain | None:
    if scene.family.lines_role != "grain":
        return None
    grain = [n for n, layer in enumerate(layers.layers) if layer.role is Role.GRAIN]
    grain.sort(key=lambda n: -(layers.layers[n].coverage.value or 0.0))
    of_grain = np.isin(pieces.layer, grain)
    length = np.bincount(pieces.lines.segment[of_grain], pieces.lines.step_px[of_grain])
    return measure_grain(
        scene.lightness,
        scene.valid,
        early.lay,
        early.grain_lines,
        [masks[n] for n in grain[1:]],
        length[length > 0],
        scene.picture.mm_per_px,
    )


def _mottle(layers: LayerMap, valid: np.ndarray) -> np.ndarray:
    """Where only ground, clouds and patches are seen, with a margin to lines and specks."""
    apart = [n for n, layer in enumerate(layers.layers) if layer.role in {*LINE_ROLES, Role.SPECK}]
    if not apart:
        return valid
    covered = np.isin(layers.labels, apart).astype(np.uint8)
    left = valid & (cv2.dilate(covered, np.ones((5, 5), np.uint8)) == 0)
    # Grain all over leaves no mottle beside it: then the grain is the mottle.
    return left if left.sum() > 0.4 * valid.sum() else valid

"""What either generator drew of a pattern, by the definitions of docs/measures.md."""

from __future__ import annotations

from dataclasses import dataclass, field
from itertools import pairwise

import numpy as np
from scipy import ndimage
from scipy.spatial import cKDTree

from accuracy.layers import SIZE_MM
from accuracy.second.canvas import MM_PER_PX as SECOND_MM_PER_PX
from accuracy.second.canvas import Stack, lab_of
from accuracy.second.families import draw_stack
from jartide.studio.families import draw_family
from jartide.studio.lines_truth import axial_mean, junctions_of, spacing_of, weighted_median
from jartide.studio.pattern_truth import bands_crossed
from jartide.studio.truth import Surface

_AREAS = ("patch", "cloud")


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class PatternTruth:
    """A drawn surface, its layers of areas and specks by colour, and its measures by path.

    `areas`, `specks`: Lab of the layer and its own measures.
    """

    family: str
    rgb_linear: np.ndarray
    mm_per_px: float
    measures: dict[str, float] = field(default_factory=dict)
    areas: list[tuple[np.ndarray, dict[str, float]]] = field(default_factory=list)
    specks: list[tuple[np.ndarray, dict[str, float]]] = field(default_factory=list)
    brush_deg: tuple[float, ...] = ()


def known_pattern(family: str, seed: int, second: bool, patch: int = 0) -> PatternTruth:
    """Draw a surface and say what is true of its pattern; `patch` is another of the same."""
    if second:
        return _of_stack(family, draw_stack(family, seed, SIZE_MM[0], patch))
    mm = (0.25, 0.2, 0.3)[seed % 3]
    size = (960 * mm, 960 * mm)
    more = {"knots": (seed + len(family)) % 4} if family == "wood" else {}
    return _of_surface(draw_family(family, size, mm, seed, varied=True, patch=patch, **more))


def _of_surface(surface: Surface) -> PatternTruth:
    truth, mm = surface.truth, surface.mm_per_px
    assert surface.labels is not None
    measures: dict[str, float] = {}
    if truth.lines is not None:
        for name in ("length_mm_per_cm2", "softness_mm", "contrast_L", "direction_deg"):
            measures[f"lines.{name}"] = getattr(truth.lines, name)
        measures["lines.width_mm.median"] = truth.lines.width_mm
        measures["lines.direction_spread_deg"] = truth.lines.direction_spread_deg
        measures["lines.spacing_mm"] = truth.lines.spacing_mm
        measures["lines.junctions_per_dm2"] = truth.lines.junctions_per_dm2
    if truth.cells is not None:
        measures["cells.size_mm.median"] = truth.cells.size_mm
        measures["cells.count_per_dm2"] = truth.cells.count_per_dm2
        measures["cells.groove_width_mm"] = truth.cells.groove_width_mm
    if truth.weave is not None:
        for name in ("warp_per_cm", "weft_per_cm", "warp_direction_deg", "weft_direction_deg"):
            measures[f"weave.{name}"] = getattr(truth.weave, name)
    if truth.grain is not None:
        measures["grain.spacing_mm"] = truth.grain.spacing_mm
        measures["grain.knots"] = truth.grain.knots
    kinds = [layer.role for layer in truth.layers]
    labs = [np.array(layer.lab) for layer in truth.layers]
    areas, specks = _areas_and_specks(surface.labels, kinds, labs, mm)
    measures.update(_mottle_truth(surface.rgb_linear, surface.labels, kinds, mm))
    return PatternTruth(
        family=truth.family,
        rgb_linear=surface.rgb_linear,
        mm_per_px=mm,
        measures=measures,
        areas=areas,
        specks=specks,
        brush_deg=truth.brush_deg,
    )


def _of_stack(family: str, stack: Stack) -> PatternTruth:
    mm = SECOND_MM_PER_PX
    kinds = [
        coat.known.get("kind", "ground" if n == 0 else "") for n, coat in enumerate(stack.coats)
    ]
    labs = [np.array(coat.paint if coat.lab is None else coat.lab) for coat in stack.coats]
    measures: dict[str, float] = {}
    lines = [n for n, kind in enumerate(kinds) if kind == "line"]
    if lines:
        measures.update(_lines_of_stack(stack, lines))
    brush: list[float] = []
    threads: dict[str, float] = {}
    for n, coat in enumerate(stack.coats):
        known = coat.known
        if known.get("kind") == "net" and known["cells"]:
            mask = stack.labels == (0 if family == "crackle" else n)
            measures.update(_cells_of_stack(mask, known["cells"], known["widths"]))
        if known.get("kind") == "thread":
            name = "warp" if known["upright"] else "weft"
            threads[f"weave.{name}_per_cm"] = known["per_cm"]
            threads[f"weave.{name}_direction_deg"] = 90.0 if known["upright"] else 0.0
        if known.get("kind") == "grain":
            measures["grain.spacing_mm"] = _bands_of_stack(stack, known["lines"])
            measures["grain.knots"] = 0
        if known.get("kind") == "dash" and family == "brushed":
            brush.append(known["deg"])
    if len(threads) == 4:
        measures.update(threads)
    areas, specks = _areas_and_specks(stack.labels, kinds, labs, mm)
    measures.update(_mottle_truth(stack.rgb_linear, stack.labels, kinds, mm))
    unique: list[float] = []
    for deg in brush:
        if all(abs((deg - other + 90) % 180 - 90) > 5 for other in unique):
            unique.append(deg)
    return PatternTruth(
        family=family,
        rgb_linear=stack.rgb_linear,
        mm_per_px=mm,
        measures=measures,
        areas=areas,
        specks=specks,
        brush_deg=tuple(unique),
    )


def _lines_of_stack(stack: Stack, numbers: list[int]) -> dict[str, float]:
    """Measures of ruled lines where they are seen; only of the commoner polarity."""
    mm = SECOND_MM_PER_PX
    height, width = stack.labels.shape
    light = lab_of(stack.rgb_linear)[..., 0]
    rows = []
    for number in numbers:
        known = stack.coats[number].known
        for chain, (path, broad) in enumerate(known["lines"]):
            length = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(path, axis=0).T))])
            at = np.arange(0, length[-1], 0.25)
            x, y = (np.interp(at, length, path[:, i]) for i in (0, 1))
            w = np.interp(at, length, broad)
            heading = np.degrees(np.arctan2(-np.gradient(y), np.gradient(x)))
            c, r = np.floor(x / mm).astype(int), np.floor(y / mm).astype(int)
            ok = (c >= 0) & (c < width) & (r >= 0) & (r < height)
            inside = ok.copy()
            ok[inside] = stack.labels[r[inside], c[inside]] == number
            # Where lines cross, the lower one is hidden and goes on all the same.
            runs = inside.copy()
            runs[inside] = np.isin(stack.labels[r[inside], c[inside]], numbers)
            soft = np.full(at.size, known["soft_mm"])
            reach = w / 2 + 1.5 * soft + 1.0
            sides = []
            for side in (-1, 1):
                bx = x - side * reach * np.sin(np.radians(heading))
                by = y - side * reach * np.cos(np.radians(heading))
                bc = np.clip((bx / mm).astype(int), 0, width - 1)
                br = np.clip((by / mm).astype(int), 0, height - 1)
                sides.append(light[br, bc])
            contrast = np.where(ok, light[np.clip(r, 0, height - 1), np.clip(c, 0, width - 1)], 0)
            contrast = contrast - np.mean(sides, axis=0)
            table = np.column_stack(
                [x, y, w, heading, soft, contrast, np.full(at.size, 1000 * number + chain), ok]
            )
            rows.append(table[runs])
    every = np.concatenate(rows)
    points = every[every[:, 7] > 0]
    if len(points) < 200:
        return {}
    sign = 1 if (points[:, 5] > 0).mean() >= 0.5 else -1
    points = points[points[:, 5] * sign > 0]
    x, y, w, heading, soft, contrast, _, _ = points.T
    of_sign = np.unique(points[:, 6])
    met = every[np.isin(every[:, 6], of_sign)]
    step = np.full(x.size, 0.25)
    area_cm2 = SIZE_MM[0] * SIZE_MM[1] / 100
    direction, spread = axial_mean(heading, step)
    return {
        "lines.width_mm.median": weighted_median(w, step),
        "lines.length_mm_per_cm2": float(step.sum() / area_cm2),
        "lines.softness_mm": float(np.median(np.maximum(soft, 0.05))),
        "lines.contrast_L": float(np.abs(contrast).mean()),
        "lines.direction_deg": direction,
        "lines.direction_spread_deg": spread,
        "lines.spacing_mm": spacing_of(heading, step, direction, SIZE_MM),
        "lines.junctions_per_dm2": 100
        * junctions_of(met[:, 0], met[:, 1], met[:, 2], met[:, 6])
        / area_cm2,
    }


def _cells_of_stack(
    net: np.ndarray, cells: list[np.ndarray], widths: list[float]
) -> dict[str, float]:
    """Cells of which most of the outline is seen; others can't be told from the picture."""
    area = []
    outside = 0
    near = ndimage.binary_dilation(net, np.ones((5, 5)))
    for piece in cells:
        corners = np.vstack([piece, piece[:1]])
        way = np.linspace(0, 1, 12, endpoint=False)[:, None]
        ring = np.concatenate([a + way * (b - a) for a, b in pairwise(corners)])
        at = np.clip((ring / SECOND_MM_PER_PX).astype(int), 0, np.array(net.shape)[::-1] - 1)
        if near[at[:, 1], at[:, 0]].mean() < 0.7:
            continue
        x, y = piece[:, 0], piece[:, 1]
        if x.max() > SIZE_MM[0] - 1e-6 or y.max() > SIZE_MM[1] - 1e-6:
            outside += 1
        elif x.min() > 1e-6 and y.min() > 1e-6:
            area.append(0.5 * abs(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1))))
    if len(area) < 8:
        return {}
    return {
        "cells.size_mm.median": float(np.median(2 * np.sqrt(np.array(area) / np.pi))),
        "cells.count_per_dm2": (len(cells) - outside) / (SIZE_MM[0] * SIZE_MM[1] / 1e4),
        "cells.groove_width_mm": float(np.mean(widths)),
    }


def _bands_of_stack(stack: Stack, lines: list[tuple[np.ndarray, np.ndarray]]) -> float:
    """Number the bands by how many centre lines lie to the left of each pixel."""
    height, width = stack.labels.shape
    y = (np.arange(height) + 0.5) * SECOND_MM_PER_PX
    index = np.zeros((height, width), int)
    for path, _ in lines:
        x = np.interp(y, path[:, 1], path[:, 0]) / SECOND_MM_PER_PX
        index += np.arange(width)[None] + 0.5 > x[:, None]
    return bands_crossed(index, 90.0, SECOND_MM_PER_PX)


def _areas_and_specks(labels, kinds, labs, mm):
    areas, specks = [], []
    for n, (kind, lab) in enumerate(zip(kinds, labs, strict=True)):
        mask = labels == n
        if mask.mean() < 0.01 and kind != "speck":
            continue
        if kind in _AREAS and (found := _pieces(mask, mm, 1.0)):
            areas.append((lab, found))
        if kind == "speck" and (found := _pieces(mask, mm, 0.5)):
            specks.append((lab, found))
    return areas, specks


def _pieces(mask: np.ndarray, mm: float, least_mm2: float) -> dict[str, float]:
    """Count areas by plain labelling: cover, number, nearest centres, diameters."""
    label, _ = ndimage.label(mask, np.ones((3, 3)))
    label = _gathered(label, least_mm2 / mm**2) if least_mm2 >= 1 else label
    area = np.bincount(label.ravel())[1:] * mm**2
    kept = np.flatnonzero(area >= least_mm2) + 1
    cut = np.union1d(label[-1], label[:, -1])
    counted = np.setdiff1d(kept, cut)
    if counted.size < 12:
        return {}
    centre = np.array(ndimage.center_of_mass(mask, label, kept)) * mm
    nearest = cKDTree(centre).query(centre, k=2)[0][:, 1][np.isin(kept, counted)]
    own = area[counted - 1]
    by_size = np.sort(area[kept - 1])
    half = np.searchsorted(np.cumsum(by_size), by_size.sum() / 2)
    return {
        "size_by_area_mm.median": float(2 * np.sqrt(by_size[half] / np.pi)),
        "coverage": float(mask.mean()),
        "count_per_dm2": counted.size / (mask.size * mm**2 / 1e4),
        "spacing_mm": float(nearest.mean()),
        "area_mm2.median": float(np.median(own)),
        "diameter_mm.median": float(np.median(2 * np.sqrt(own[own < 100] / np.pi)))
        if (own < 100).any()
        else 0.0,
    }


def _gathered(label: np.ndarray, least_px: float) -> np.ndarray:
    """Give every crumb to the flake it lies within one width of: point by point, crumb by crumb."""
    area = np.bincount(label.ravel())
    points = {
        n: np.column_stack(np.nonzero(label[box] == n)) + (box[0].start, box[1].start)
        for n, box in enumerate(ndimage.find_objects(label), start=1)
        if area[n] >= least_px
    }
    flakes = sorted((n for n in points if area[n] >= 20 * least_px), key=lambda n: -area[n])
    if not flakes:
        return label
    trees = {n: cKDTree(points[n]) for n in flakes}
    owner = np.arange(area.size)
    for n in sorted(points, key=lambda n: area[n]):
        near = []
        for flake in flakes:
            if area[n] < area[flake] / 20:
                width = 2 * np.sqrt(area[flake] / np.pi)
                gap, _ = trees[flake].query(points[n][:: max(1, len(points[n]) // 50)])
                if gap.min() <= width:
                    near.append((gap.min(), flake))
        if near:
            owner[n] = min(near)[1]
    while (owner[owner] != owner).any():
        owner = owner[owner]
    return owner[label]


def _mottle_truth(rgb, labels, kinds, mm) -> dict[str, float]:
    """The lag at which L* of the mottle is correlated by 1/e: by pairs of pixels, lag by lag."""
    if not any(kind in _AREAS for kind in kinds):
        return {}
    apart = [n for n, kind in enumerate(kinds) if kind not in (*_AREAS, "ground")]
    mottle = ~ndimage.binary_dilation(np.isin(labels, apart), np.ones((5, 5)))
    if mottle.mean() < 0.45:
        return {}
    light = lab_of(rgb)[..., 0]
    # Averaged over about a millimetre: what is finer is grain, not mottle.
    size = max(1, round(1.0 / mm))
    weight = ndimage.uniform_filter(mottle.astype(float), size)[
        size // 2 :: size, size // 2 :: size
    ]
    total = ndimage.uniform_filter(np.where(mottle, light, 0.0), size)
    value = total[size // 2 :: size, size // 2 :: size] / np.maximum(weight, 1e-6)
    use = weight > 0.5
    value = np.where(use, value - value[use].mean(), 0)
    step = size * mm
    variance = float((value[use] ** 2).mean())
    before = 1.0
    for lag in range(1, min(value.shape) // 3):
        parts, pairs = 0.0, 0.0
        for dy, dx in _ring(lag):
            a = value[max(dy, 0) : value.shape[0] + min(dy, 0), max(dx, 0) :]
            b = value[max(-dy, 0) : value.shape[0] + min(-dy, 0), : value.shape[1] - max(dx, 0)]
            ua = use[max(dy, 0) : use.shape[0] + min(dy, 0), max(dx, 0) :]
            ub = use[max(-dy, 0) : use.shape[0] + min(-dy, 0), : use.shape[1] - max(dx, 0)]
            both = ua & ub
            parts += float((a * b)[both].sum())
            pairs += float(both.sum())
        now = parts / max(pairs, 1.0) / variance
        if now < 1 / np.e:
            length = step * (lag - 1 + (before - 1 / np.e) / max(before - now, 1e-9))
            return {"correlation_mm": float(length)} if lag > 2 else {}
        before = now
    return {}


def _ring(lag: int) -> list[tuple[int, int]]:
    """Eight shifts of about one length, half a turn of them."""
    turns = np.arange(8) * np.pi / 8
    return [
        (round(lag * np.sin(t)), max(round(lag * np.cos(t)), 0)) for t in turns if np.cos(t) >= 0
    ] + [(-round(lag * np.sin(t)), round(-lag * np.cos(t))) for t in turns if np.cos(t) < 0]

"""Are joints found, and only where there are some? Surfaces cut into boards, bricks, tiles, panels.

    python -m accuracy.jointed FOLDER

lays the photos of a folder instead of drawn surfaces. Every unit is another part of its material,
a tone of its own apart; joints waver and are darker or lighter than what they part.
"""

from __future__ import annotations

import sys
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
from PIL import Image

from accuracy.layers import FAMILIES, as_jpeg, flat_code
from accuracy.rows import Row
from accuracy.second.canvas import MM_PER_PX
from accuracy.second.families import draw_stack
from jartide.colour.spaces import decode_srgb
from jartide.families import family_named
from jartide.photo.load import decode_photo
from jartide.photo.prepare import prepare
from jartide.photo.settings import PhotoSettings
from jartide.reading.joints.find_joints import find_joints
from jartide.reading.pattern.records import Joints
from jartide.reading.read import lab_of

UNITS = ("boards", "bricks", "tiles", "panels")
_MATERIALS = ("marble", "stone", "concrete", "rust", "plaster")
_SIZE_MM = 240.0


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Jointed:
    """A surface of units: linear light, (H, W, 3), and what is true of its joints, mm.

    `across_mm` and `along_mm` are from joint to joint the short and the long way, None where
    there are none; `direction_deg` is of those that go all the way.
    """

    rgb_linear: np.ndarray
    mm_per_px: float
    across_mm: float
    along_mm: float | None
    width_mm: float
    direction_deg: float


def laid(material: np.ndarray, mm_per_px: float, units: str, seed: int) -> Jointed:
    """Lay a material, (H, W, 3) linear light, as boards, bricks, tiles or panels."""
    rng = np.random.default_rng([seed, 77])
    height, width = material.shape[:2]
    side = min(height, width) * mm_per_px
    many = {"boards": (4, 8), "bricks": (5, 10), "tiles": (3, 7), "panels": (1.6, 2.6)}[units]
    across = side / rng.uniform(*many)
    jitter, along = 0.0, None
    if units == "boards":
        jitter = float(rng.choice([0, 0.12]))
        along = side * rng.uniform(0.4, 0.9) if rng.random() < 0.5 else None
    else:
        longer = {"bricks": (2.2, 3.4), "tiles": (1.0, 1.5), "panels": (1.0, 1.6)}[units]
        along = across * rng.uniform(*longer)
    gap = max(across * rng.uniform(0.012, 0.05), 2.2 * mm_per_px)
    turn = rng.uniform(-3, 3) + (90 if units != "bricks" and rng.random() < 0.5 else 0)
    y, x = np.mgrid[:height, :width].astype(np.float32) * mm_per_px
    x, y = x - x.mean(), y - y.mean()
    cos, sin = np.cos(np.radians(turn)), np.sin(np.radians(turn))
    waver = gap * rng.uniform(0, 0.15) * _noise(rng, material.shape[:2], 12 / max(mm_per_px, 0.3))
    down, right = -x * sin + y * cos + waver, x * cos + y * sin + waver[::-1]
    count = int(np.hypot(height, width) * mm_per_px / across) + 3
    edges = np.cumsum(across * (1 + jitter * rng.uniform(-1, 1, count)))
    edges += rng.uniform(0, across) - edges[-1] / 2
    course = np.searchsorted(edges, down)
    ends = np.concatenate([[edges[0] - across], edges, [edges[-1] + across]])
    far = np.minimum(np.abs(down - ends[course]), np.abs(down - ends[course + 1]))
    unit = 1000 * course
    if along is not None:
        shifts = {"bricks": (np.arange(count + 1) % 2) / 2, "boards": rng.random(count + 1)}
        place = right / along + shifts.get(units, np.zeros(count + 1))[course]
        far = np.minimum(far, along * np.abs(place - np.rint(place)))
        unit = unit + np.floor(place).astype(int) + 200
    soft = max(mm_per_px * rng.uniform(1, 2), 0.1 * gap)
    cover = np.clip((gap / 2 - far) / soft + 0.5, 0, 1)[..., None]
    filled = material.reshape(-1, 3).mean(axis=0)
    lighter = rng.random() < 0.35 and filled.mean() < 0.35
    filled = filled * (rng.uniform(2.2, 3.5) if lighter else rng.uniform(0.1, 0.4))
    return Jointed(
        rgb_linear=(_units(material, unit, rng) * (1 - cover) + filled * cover).astype(np.float32),
        mm_per_px=mm_per_px,
        across_mm=across,
        along_mm=along,
        width_mm=gap,
        direction_deg=-turn % 180,
    )


def _noise(rng: np.random.Generator, shape: tuple[int, int], sigma: float) -> np.ndarray:
    """Smooth noise of standard deviation 1, (H, W)."""
    made = cv2.GaussianBlur(rng.normal(size=shape).astype(np.float32), (0, 0), sigma)
    return made / float(made.std())


def _units(material: np.ndarray, unit: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    """Another part of the material, mirrored where it ends, for every unit number, (H, W)."""
    height, width = unit.shape
    numbers, own = np.unique(unit, return_inverse=True)
    own = own.reshape(unit.shape)
    rows = (np.arange(height)[:, None] + rng.integers(0, height, numbers.size)[own]) % (2 * height)
    columns = (np.arange(width)[None] + rng.integers(0, width, numbers.size)[own]) % (2 * width)
    rows = np.where(rows >= height, 2 * height - 1 - rows, rows)
    columns = np.where(columns >= width, 2 * width - 1 - columns, columns)
    tone = np.exp(rng.normal(0, rng.choice([0.02, 0.1, 0.2]), numbers.size))[own]
    return material[rows, columns] * tone[..., None]


def joints_read(rgb_linear: np.ndarray, mm_per_px: float, family: str, seed: int) -> Joints | None:
    """Photograph a surface, (H, W, 3) linear light, flat, and find its joints."""
    jpeg = as_jpeg(flat_code(rgb_linear, seed), 90)
    picture = prepare(decode_photo(jpeg, "flat.jpg"), PhotoSettings(mm_per_px=mm_per_px))
    lab = lab_of(np.maximum(picture.rgb_linear, 0))
    found = find_joints(lab, picture.valid(), picture.mm_per_px, family_named(family))
    return None if found is None else found.joints


def _errors(scene: Jointed, found: Joints) -> tuple[float, float]:
    """Errors of spacing and width, relative; whichever way of a grid is taken for the first."""
    direction = found.direction_deg.value or 0.0
    turned = abs((direction - scene.direction_deg + 90) % 180 - 90) > 45
    spacing = scene.along_mm if turned else scene.across_mm
    read = found.spacing_mm.value
    width = found.width_mm.value or 0.0
    apart = 0.0 if read is None or spacing is None else abs(read / spacing - 1)
    return apart, abs(width / scene.width_mm - 1)


def joint_rows(quick: bool, photos: Sequence[Path] = ()) -> Iterator[Row]:
    """Yield how many joints are missed, how well they are measured, how often there are none."""
    seeds = (41,) if quick else (41, 42, 43)
    missed, apart, wide, total = 0, [], [], 0
    for seed in seeds:
        for number, (material, mm, family) in enumerate(_materials(photos, seed)):
            for way, units in enumerate(UNITS[:2] if quick else UNITS):
                scene = laid(material, mm, units, 100 * seed + 10 * number + way)
                found = joints_read(scene.rgb_linear, mm, family, seed)
                total += 1
                if found is None:
                    missed += 1
                    continue
                errors = _errors(scene, found)
                apart.append(errors[0])
                wide.append(errors[1])
    kind = "quick" if quick else f"{total} surfaces"
    yield Row(name=f"joints missed, %, {kind}", error=100 * missed / total, goal=10.0)
    yield Row(
        name=f"joint spacing, % wrong by over 5 %, {kind}",
        error=100 * float(np.mean(np.array(apart) > 0.05)),
        goal=10.0,
    )
    yield Row(
        name=f"joint width, % error, median, {kind}", error=100 * float(np.median(wide)), goal=10.0
    )
    if quick or photos:
        return
    false, seen = 0, 0
    for family in FAMILIES:
        for seed in seeds:
            stack = draw_stack(family, seed, _SIZE_MM)
            false += joints_read(stack.rgb_linear, MM_PER_PX, family, seed) is not None
            seen += 1
    yield Row(name=f"joints where there are none, % of {seen}", error=100 * false / seen, goal=3.0)


def _materials(photos: Sequence[Path], seed: int) -> Iterator[tuple[np.ndarray, float, str]]:
    """Materials to lay: linear light, mm per pixel, family."""
    for path in photos:
        code = np.asarray(Image.open(path).convert("RGB").resize((900, 900)))
        yield decode_srgb(code / 255.0).astype(np.float32), 0.9, "stone"
    for family in () if photos else _MATERIALS:
        yield draw_stack(family, seed, _SIZE_MM).rgb_linear, MM_PER_PX, family


if __name__ == "__main__":
    for row in joint_rows(False, sorted(Path(sys.argv[1]).glob("*.jpg"))):
        print(f"{row.name:60} {row.error:9.3f} {row.goal:9.3f}")

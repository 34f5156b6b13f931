"""Do halves of one surface agree? Each measure of one half against the other's sampling interval.

    python -m accuracy.halves FOLDER

cuts the photographs of a folder, with photos.csv beside it (name, family, width_mm), instead.
"""

from __future__ import annotations

import csv
import sys
from collections import defaultdict
from collections.abc import Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from multiprocessing import get_context
from pathlib import Path

import numpy as np

from accuracy.layers import FAMILIES, as_jpeg, drawn, flat_code, one_thread
from accuracy.layers import MM_PER_PX as FIRST_MM_PER_PX
from accuracy.rows import Row
from accuracy.second.canvas import MM_PER_PX as SECOND_MM_PER_PX
from jartide.measures.entries import BY_PATH
from jartide.photo.load import Photo, decode_photo, load_photo
from jartide.photo.picture import Picture
from jartide.photo.prepare import prepare
from jartide.photo.settings import PhotoSettings
from jartide.reading.read import read_picture
from jartide.reading.trust.measured import Measured
from jartide.reading.trust.paths import measured_values

SEEDS = (51, 52)
# The share that should agree; intervals are stated to hold 90 %.
_LOW, _HIGH = 85.0, 97.0


def halves(picture: Picture) -> tuple[Picture, Picture]:
    """A picture's left and right half, or upper and lower one where it is taller."""
    height, width = picture.shape
    rgb = picture.rgb_linear
    if width >= height:
        parts = (rgb[:, : width // 2], rgb[:, width - width // 2 :])
    else:
        parts = (rgb[: height // 2], rgb[height - height // 2 :])
    one, other = (replace(picture, rgb_linear=np.ascontiguousarray(p), mask=None) for p in parts)
    return one, other


def agreeing(photo: Photo, mm_per_px: float, family: str) -> list[tuple[str, bool]]:
    """By measure, whether each half's value lies within the other's sampling interval."""
    pictures = halves(prepare(photo, PhotoSettings(mm_per_px=mm_per_px)))
    values = [
        dict(measured_values(read_picture(p, family)[0].pattern, "pattern")) for p in pictures
    ]
    found = []
    for path in values[0].keys() & values[1].keys():
        if ".by_layer." in path:
            continue
        for one, other in ((values[0], values[1]), (values[1], values[0])):
            held = _holds(path, one[path], other[path])
            if held is not None:
                found.append((path.removeprefix("pattern."), held))
    return found


def _holds(path: str, one: Measured, other: Measured) -> bool | None:
    if one.value is None or other.value is None or other.sampling is None:
        return None
    low, high = other.sampling
    if not np.isfinite(high - low):
        return None
    value = one.value
    measure = BY_PATH.get(path.removeprefix("pattern."))
    if measure is not None and measure.axial:
        value = other.value + (value - other.value + 90) % 180 - 90
    return low - 1e-9 <= value <= high + 1e-9


def _drawn(task: tuple[str, int, bool]) -> list[tuple[str, bool]]:
    family, seed, second = task
    truth = drawn(family, seed, second)
    photo = decode_photo(as_jpeg(flat_code(truth.rgb_linear, seed), 92), "drawn.jpg")
    return agreeing(photo, SECOND_MM_PER_PX if second else FIRST_MM_PER_PX, family)


def _real(task: tuple[Path, str, float]) -> list[tuple[str, bool]]:
    path, family, width_mm = task
    photo = load_photo(path)
    return agreeing(photo, width_mm / photo.size[0], family)


def half_rows(quick: bool, folder: Path | None = None) -> Iterator[Row]:
    """Yield how far the share of halves that agree lies outside of its bounds."""
    if quick:
        return
    with ProcessPoolExecutor(2, get_context("spawn"), initializer=one_thread) as pool:
        if folder is None:
            tasks = [
                (f, seed, second) for second in (False, True) for f in FAMILIES for seed in SEEDS
            ]
            read = list(pool.map(_drawn, tasks))
        else:
            read = list(pool.map(_real, _photos(folder)))
    every = [one for found in read for one in found]
    by_measure: dict[str, list[bool]] = defaultdict(list)
    for path, held in every:
        by_measure[path].append(held)
    for path, held in sorted(by_measure.items(), key=lambda item: float(np.mean(item[1]))):
        if len(held) >= 12 and 100 * np.mean(held) < _LOW:
            print(f"  {path}: {100 * np.mean(held):.0f} % of {len(held)}")
    share = 100 * float(np.mean([held for _, held in every]))
    name = "drawn" if folder is None else "real"
    print(f"  {name}: {share:.1f} % of {len(every)} agree")
    yield Row(
        name=f"halves agree, points outside of 85 to 97 %, {name}",
        error=max(_LOW - share, share - _HIGH, 0.0),
        goal=0.0,
    )


def _photos(folder: Path) -> Sequence[tuple[Path, str, float]]:
    with (folder.parent / "photos.csv").open(encoding="utf-8") as table:
        rows = list(csv.DictReader(table))
    found = []
    for row in rows:
        for path in sorted(folder.glob(f"{row['name']}.*")):
            found.append((path, row["family"], float(row["width_mm"])))
    return found


if __name__ == "__main__":
    for row in half_rows(False, Path(sys.argv[1])):
        print(f"{row.name:60} {row.error:9.3f} {row.goal:9.3f}")

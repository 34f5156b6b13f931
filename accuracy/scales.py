"""One surface at 4 to 20 pixels per mm: what is claimed must not depend on the scale."""

from __future__ import annotations

from collections.abc import Iterator

import cv2
import numpy as np

from accuracy.layers import as_jpeg, flat_code, read_jpeg
from accuracy.rows import Row
from jartide.reading.trust.paths import measured_values
from jartide.studio.families import draw_family

FAMILIES = ("marble", "crackle", "verdigris", "linen", "wood")
SEEDS = (4, 5)
# The surface is drawn at the finest scale and averaged down to the others.
FINEST_MM, FACTORS = 0.05, (1, 2, 3, 5)
SIZE_MM = (140.0, 105.0)
PATHS = (
    ".lines.width_mm.median",
    ".lines.spacing_mm",
    ".patches.spacing_mm",
    ".cells.size_mm.median",
    ".cells.groove_width_mm",
    ".grain.spacing_mm",
    ".weave.warp_per_cm",
)


def spreads(family: str, seed: int) -> list[float]:
    """Return by how much widths and spacings differ from scale to scale, percent of the mean."""
    surface = draw_family(family, SIZE_MM, FINEST_MM, seed)
    claimed: dict[str, list[float]] = {}
    for factor in FACTORS:
        rows, columns = (n // factor for n in surface.rgb_linear.shape[:2])
        small = cv2.resize(surface.rgb_linear, (columns, rows), interpolation=cv2.INTER_AREA)
        jpeg = as_jpeg(flat_code(small, seed), 92)
        reading, _ = read_jpeg(jpeg, family, FINEST_MM * factor)
        for path, value in measured_values(reading.pattern, ""):
            if path in PATHS and value is not None and value.value is not None:
                claimed.setdefault(path, []).append(value.value)
    return [
        100 * float(np.ptp(values) / np.mean(values))
        for values in claimed.values()
        if len(values) > 1
    ]


def scale_rows(quick: bool) -> Iterator[Row]:
    """Yield how far what is claimed at 4 to 20 pixels per mm lies apart."""
    if quick:
        return
    found = [one for family in FAMILIES for seed in SEEDS for one in spreads(family, seed)]
    yield Row(
        name=f"widths and spacings at 4 to 20 px per mm, % apart, median of {len(found)}",
        error=float(np.median(found)),
        goal=8.0,
    )
    yield Row(
        name="widths and spacings at 4 to 20 px per mm, % apart, 90th",
        error=float(np.percentile(found, 90)),
        goal=20.0,
    )

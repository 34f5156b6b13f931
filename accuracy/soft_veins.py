"""Veins with soft edges: their colour is the centre's, or none where no pixel shows it whole."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from scipy.special import ndtr, ndtri

from accuracy.layers import MM_PER_PX, as_jpeg, flat_code, read_jpeg
from accuracy.rows import Row
from accuracy.second.canvas import Canvas
from accuracy.second.shapes import veins
from jartide.colour.difference import delta_e_2000

GROUND, VEIN = (34.0, -8.0, 3.0), (78.0, -4.0, 8.0)
WIDTHS_MM = (1.0, 1.5, 2.0, 3.0)
PEAKS_WHOLE, PEAKS_SOFT = (0.93, 0.99), (0.6, 0.75)


def soft_mm(width_mm: float, peak: float) -> float:
    """Return the 10 to 90 % softness at which a bar of this width covers `peak` at its centre."""
    deviation = width_mm / 2 / float(ndtri((1 + peak) / 2))
    assert abs(2 * ndtr(width_mm / 2 / deviation) - 1 - peak) < 1e-6
    return 2.563 * deviation


def soft_vein_rows(quick: bool) -> Iterator[Row]:
    """Yield the error of veins that are whole at their centre, and what softer ones are given."""
    widths = WIDTHS_MM[1:3] if quick else WIDTHS_MM
    colours, not_null, no_contrast, lost = [], 0, 0, 0
    for number, width in enumerate(widths):
        for peak in PEAKS_WHOLE + PEAKS_SOFT:
            canvas = Canvas(160, 160, 50 + number)
            canvas.lay(GROUND)
            canvas.lay(VEIN, veins(canvas, 16, width, soft_mm(width, peak), 60))
            picture = canvas.finish(0.02)
            jpeg = as_jpeg(flat_code(picture.rgb_linear, 1), 92)
            reading, _ = read_jpeg(jpeg, "marble", MM_PER_PX)
            found = [layer for layer in reading.layers if layer.role == "vein"]
            if not found:
                lost += 1
                continue
            best = min(found, key=lambda x: float(delta_e_2000(np.array(x.shown_lab), VEIN)))
            if peak in PEAKS_WHOLE:
                known = best.lab is not None
                colours.append(float(delta_e_2000(np.array(best.lab), VEIN)) if known else 99.0)
            else:
                not_null += best.lab is not None
                lines = reading.pattern.lines
                no_contrast += best.contrast_L is None or lines is None
    which = "few" if quick else f"{len(widths)} widths"
    worst = max(colours, default=99.0)
    yield Row(
        name=f"soft veins whole at the centre: CIEDE2000, worst, {which}", error=worst, goal=2
    )
    yield Row(name=f"softer veins given a colour, {which}", error=not_null, goal=0)
    yield Row(name=f"softer veins without a contrast, {which}", error=no_contrast, goal=0)
    yield Row(name=f"soft veins not found, {which}", error=lost, goal=0)

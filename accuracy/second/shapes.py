"""What is stamped, cut and ruled on a canvas: each returns a cover, (H, W) in 0..1."""

from __future__ import annotations

import numpy as np

from accuracy.second.canvas import Canvas


def dabs(
    canvas: Canvas, size_mm: float, share: float, soft_mm: float, stretch: float = 1.0
) -> np.ndarray:
    """Ragged dabs of a sponge, stamped in clumps until they cover about `share`."""
    rng, sheet = canvas.rng, canvas.blank()
    while (sheet[::4, ::4] > 0).mean() < share:
        clump = rng.uniform((-5, -5), (canvas.width + 5, canvas.height + 5))
        for _ in range(rng.integers(2, 7)):
            centre = clump + rng.normal(0, size_mm * 0.8, 2) * (1, stretch)
            angles = np.sort(rng.uniform(0, 2 * np.pi, 26))
            radius = size_mm / 2 * rng.uniform(0.55, 1.15) * rng.uniform(0.7, 1.1, 26)
            outline = np.column_stack([np.cos(angles), np.sin(angles) * stretch])
            canvas.polygon(sheet, centre + outline * radius[:, None])
    return canvas.know(canvas.cover(sheet, soft_mm), kind="patch", soft_mm=soft_mm)


def veins(
    canvas: Canvas, count: int, width_mm: float, soft_mm: float, direction_deg: float
) -> np.ndarray:
    """Broken lines that run across the sheet in straight steps."""
    rng, sheet = canvas.rng, canvas.blank()
    drawn = []
    for _ in range(count):
        at = rng.uniform((0, 0), (canvas.width, canvas.height))
        heading = np.radians(direction_deg + rng.normal(0, 12))
        turns = np.cumsum(rng.normal(0, 0.16, 46))
        steps = np.column_stack([np.cos(heading + turns), -np.sin(heading + turns)]) * 4.0
        path = at + np.cumsum(steps, axis=0) - steps.sum(axis=0) / 2
        # Rounded once, so that steps of 4 mm do not show as corners.
        fine = np.linspace(0, len(path) - 1, 4 * len(path))
        path = np.column_stack([np.interp(fine, np.arange(len(path)), path[:, i]) for i in (0, 1)])
        width = width_mm * np.exp(0.25 * np.interp(fine, np.arange(46), rng.standard_normal(46)))
        canvas.ruled(sheet, path, width)
        drawn.append((path, width))
    return canvas.know(canvas.cover(sheet, soft_mm), kind="line", lines=drawn, soft_mm=soft_mm)


def specks(canvas: Canvas, per_dm2: float, diameter_mm: float) -> np.ndarray:
    """Round specks of many sizes."""
    rng, sheet = canvas.rng, canvas.blank()
    for _ in range(rng.poisson(per_dm2 * canvas.width * canvas.height / 1e4)):
        centre = rng.uniform((0, 0), (canvas.width, canvas.height))
        angles = np.linspace(0, 2 * np.pi, 24, endpoint=False)
        radius = diameter_mm / 2 * rng.lognormal(0, 0.3)
        circle = np.column_stack([np.cos(angles), np.sin(angles) * rng.uniform(0.75, 1)])
        canvas.polygon(sheet, centre + radius * circle)
    return canvas.know(canvas.cover(sheet), kind="speck")


def cuts(canvas: Canvas, cell_mm: float, crack_mm: float) -> np.ndarray:
    """Cells left by cutting the sheet in two again and again: the cover of what is between."""
    rng = canvas.rng
    sheet = canvas.blank()
    whole = np.array([[0, 0], [canvas.width, 0], [canvas.width, canvas.height], [0, canvas.height]])
    pieces = [whole.astype(float)]
    cells, widths = [], []
    while pieces:
        piece = pieces.pop()
        centre = piece.mean(axis=0)
        x, y = piece[:, 0], piece[:, 1]
        area = 0.5 * abs(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1)))
        if area < cell_mm**2 * rng.uniform(0.7, 1.6):
            half = crack_mm * rng.uniform(0.4, 0.65)
            canvas.polygon(sheet, _shrunk(piece, half))
            cells.append(piece)
            widths.append(2 * half)
            continue
        spread = np.linalg.eigh(np.cov((piece - centre).T))[1][:, 1]
        # Across its longer side, a little askew.
        turn = rng.normal(0, 0.35)
        normal = spread @ np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
        through = centre + rng.normal(0, 0.08, 2) * cell_mm
        pieces += [_side(piece, through, normal), _side(piece, through, -normal)]
    return canvas.know(1 - canvas.cover(sheet), kind="net", cells=cells, widths=widths)


def _side(piece: np.ndarray, through: np.ndarray, normal: np.ndarray) -> np.ndarray:
    """The part of a convex polygon on one side of a line."""
    away = (piece - through) @ normal
    kept = []
    for i in range(len(piece)):
        j = (i + 1) % len(piece)
        if away[i] >= 0:
            kept.append(piece[i])
        if away[i] * away[j] < 0:
            kept.append(piece[i] + (piece[j] - piece[i]) * away[i] / (away[i] - away[j]))
    return np.array(kept) if len(kept) > 2 else piece[:1].repeat(3, axis=0)


def _shrunk(piece: np.ndarray, by_mm: float) -> np.ndarray:
    """A convex polygon with all sides moved in: every side cuts once more."""
    centre = piece.mean(axis=0)
    for i in range(len(piece)):
        edge = np.roll(piece, -1, axis=0)[i % len(piece)] - piece[i % len(piece)]
        if np.hypot(*edge) < 1e-6:
            continue
        normal = np.array([-edge[1], edge[0]]) / np.hypot(*edge)
        if (centre - piece[i % len(piece)]) @ normal < 0:
            normal = -normal
        piece = _side(piece, piece[i % len(piece)] + by_mm * normal, normal)
    return piece


def threads(canvas: Canvas, per_cm: float, share: float, upright: bool) -> np.ndarray:
    """Parallel ruled threads of uneven width."""
    rng, sheet = canvas.rng, canvas.blank()
    long, across = (canvas.height, canvas.width) if upright else (canvas.width, canvas.height)
    along = np.arange(-5, long + 5, 2.5)
    step = 10 / per_cm
    for place in np.arange(-step, across + step, step):
        waver = place + np.cumsum(rng.normal(0, 0.02 * step, along.size))
        points = np.column_stack([waver, along] if upright else [along, waver])
        width = step * share * np.exp(0.15 * rng.standard_normal(along.size))
        canvas.ruled(sheet, points, np.maximum(width, 0.2))
    return canvas.know(canvas.cover(sheet, 0.3), kind="thread", per_cm=per_cm, upright=upright)


def bands(canvas: Canvas, spacing_mm: float, share: float, soft_mm: float) -> np.ndarray:
    """Upright bands that waver together, as growth rings on a board's face."""
    rng, sheet = canvas.rng, canvas.blank()
    along = np.arange(-5, canvas.height + 5, 5.0)
    together = np.cumsum(rng.normal(0, 0.5, along.size))
    place, drawn = -10.0, []
    while place < canvas.width + 10:
        place += spacing_mm * rng.uniform(0.6, 1.5)
        own = place + together + np.cumsum(rng.normal(0, 0.12, along.size))
        width = spacing_mm * share * rng.uniform(0.7, 1.3) * np.ones(along.size)
        canvas.ruled(sheet, np.column_stack([own, along]), width)
        drawn.append((np.column_stack([own, along]), width))
    return canvas.know(canvas.cover(sheet, soft_mm), kind="grain", lines=drawn)


def dashes(
    canvas: Canvas, share: float, width_mm: float, length_mm: float, direction_deg: float
) -> np.ndarray:
    """Short tapered strokes one way: pores of wood, tracks of a dry brush."""
    rng, sheet = canvas.rng, canvas.blank()
    while (sheet[::4, ::4] > 0).mean() < share:
        at = rng.uniform((-5, -5), (canvas.width + 5, canvas.height + 5))
        heading = np.radians(direction_deg + rng.normal(0, 2))
        reach = length_mm * rng.lognormal(0, 0.4) / 2
        t = np.linspace(-1, 1, 9)
        path = at + np.outer(t * reach, [np.cos(heading), -np.sin(heading)])
        canvas.ruled(sheet, path, width_mm * rng.lognormal(0, 0.2) * (1.05 - t**4))
    return canvas.know(canvas.cover(sheet, 0.15), kind="dash", deg=direction_deg % 180)

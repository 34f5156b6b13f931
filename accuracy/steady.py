"""Readings of one surface in seven states: the layers must hardly move.

    python -m accuracy.steady FOLDER

reads every photo of a folder in all its states and prints how far its palettes move.
"""

from __future__ import annotations

import io
import sys
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from multiprocessing import get_context
from pathlib import Path

import numpy as np
from PIL import Image
from scipy.optimize import linprog

from accuracy.layers import as_jpeg, one_thread
from jartide.colour.difference import delta_e_2000
from jartide.colour.spaces import decode_srgb, encode_srgb, lab_to_linear, linear_to_lab
from jartide.photo.load import decode_photo
from jartide.photo.prepare import prepare
from jartide.photo.settings import PhotoSettings
from jartide.reading.layers.layer_map import read_layers
from jartide.reading.read import find_basis

# As many layers within one, and palettes within this, CIEDE2000.
MOST_APART = 1.5
_MARGIN = (0.04, 0.05, 0.03, 0.04)  # cropped above, left, below, right
_NOISE = 0.02
_STOP = 2 ** (1 / 3)


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Palette:
    """The colours of the layers, (K, 3) Lab, and how much of the picture each is seen on, (K,)."""

    lab: np.ndarray
    share: np.ndarray


@dataclass(frozen=True, slots=True, kw_only=True)
class Moved:
    """How one state moved the layers: their number, and the palettes' distance in CIEDE2000."""

    state: str
    number: int
    apart: float

    @property
    def steady(self) -> bool:
        return self.number <= 1 and self.apart <= MOST_APART


def palette_distance(one: Palette, other: Palette) -> float:
    """Return by how much colour must be moved, mean CIEDE2000, to turn one into the other.

    The earth mover's distance (Rubner, Tomasi & Guibas 2000), solved as a linear programme.
    """
    apart = delta_e_2000(one.lab[:, None], other.lab[None])
    n, m = apart.shape
    rows = np.zeros((n + m, n, m))
    rows[np.arange(n), np.arange(n), :] = 1
    rows[n + np.arange(m), :, np.arange(m)] = 1
    wanted = np.concatenate([one.share / one.share.sum(), other.share / other.share.sum()])
    # One of the sums follows from the others.
    found = linprog(
        apart.ravel(), A_eq=rows.reshape(n + m, -1)[:-1], b_eq=wanted[:-1], bounds=(0, None)
    )
    return float(found.fun)


def states(code: np.ndarray) -> Iterator[tuple[str, np.ndarray, float]]:
    """Yield the seven states of a photo (H, W, 3) uint8, and how many times larger a pixel is."""
    height, width = code.shape[:2]
    light = decode_srgb(code / 255.0)
    even = light[: height // 2 * 2, : width // 2 * 2]
    half = even.reshape(height // 2, 2, width // 2, 2, 3).mean(axis=(1, 3))
    yield "half the resolution", _coded(half), 2.0
    yield "JPEG 75", np.asarray(Image.open(io.BytesIO(as_jpeg(code, 75)))), 1.0
    yield "saved again", code.copy(), 1.0
    above, left, below, right = _MARGIN
    yield (
        "margin cropped",
        code[
            round(above * height) : round((1 - below) * height),
            round(left * width) : round((1 - right) * width),
        ],
        1.0,
    )
    noise = np.random.default_rng(1).normal(0, 255 * _NOISE, code.shape)
    yield "2 % noise", np.clip(code + noise, 0, 255).round().astype(np.uint8), 1.0
    yield "a quarter turn", np.ascontiguousarray(np.rot90(code)), 1.0
    yield "a third of a stop brighter", _coded(np.minimum(light * _STOP, 1)), 1.0


def _coded(light: np.ndarray) -> np.ndarray:
    return np.rint(encode_srgb(light) * 255).astype(np.uint8)


def palette_of(code: np.ndarray, family: str, mm_per_px: float) -> Palette:
    """Read the layers of a photo (H, W, 3) uint8, saved as PNG."""
    out = io.BytesIO()
    Image.fromarray(code).save(out, "PNG", compress_level=1)
    picture = prepare(decode_photo(out.getvalue(), "photo.png"), PhotoSettings(mm_per_px=mm_per_px))
    basis = find_basis(picture, family)
    found = read_layers(basis.evidence, basis.tones).layers
    return Palette(
        lab=np.array([layer.shown_lab for layer in found]),
        share=np.array([layer.coverage.value or 0.0 for layer in found]),
    )


def moves(code: np.ndarray, family: str, mm_per_px: float) -> list[Moved]:
    """Return how each state moves the layers of a photo, its common gain taken out."""
    usual = palette_of(code, family, mm_per_px)
    mean = decode_srgb(code / 255.0).mean()
    found = []
    for state, other, larger in states(code):
        palette = palette_of(other, family, mm_per_px * larger)
        if "brighter" in state:
            gain = mean / decode_srgb(other / 255.0).mean()
            light = lab_to_linear(palette.lab) * gain
            palette = Palette(lab=linear_to_lab(light), share=palette.share)
        found.append(
            Moved(
                state=state,
                number=abs(len(palette.lab) - len(usual.lab)),
                apart=palette_distance(usual, palette),
            )
        )
    return found


def _photo(path: Path) -> tuple[str, list[Moved]]:
    return path.stem, moves(np.asarray(Image.open(path).convert("RGB")), "auto", 1.0)


def main(folder: str) -> int:
    photos = sorted(p for p in Path(folder).iterdir() if p.suffix.lower() in (".jpg", ".png"))
    good = total = 0
    with ProcessPoolExecutor(2, get_context("spawn"), initializer=one_thread) as pool:
        for name, found in pool.map(_photo, photos):
            for moved in found:
                total += 1
                good += moved.steady
                if not moved.steady:
                    print(
                        f"{name:24} {moved.state:28} {moved.number} {moved.apart:6.2f}", flush=True
                    )
    print(f"{good} of {total} within one layer and CIEDE2000 {MOST_APART}")
    return int(good < 0.95 * total)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1]))

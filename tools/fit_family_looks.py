"""Fit data/family_looks.toml: what a first reading of each family's drawn surfaces is like."""

from __future__ import annotations

import sys
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context
from pathlib import Path

import numpy as np

from accuracy.layers import FAMILIES, MM_PER_PX, as_jpeg, drawn, flat_code, one_thread
from jartide.photo.load import decode_photo
from jartide.photo.prepare import prepare
from jartide.photo.settings import PhotoSettings
from jartide.reading.read import find_basis, read_once
from jartide.reading.suggest_family import FEATURES, features_of

SEEDS = (1, 2, 3)
# Real finishes stray further than drawn ones; and no feature is surer than this.
_WIDER = 1.5
_LEAST = {
    "lightness": 6.0,
    "green_red": 4.0,
    "blue_yellow": 5.0,
    "greenest": 5.0,
    "ruddiest": 8.0,
    "contrast": 4.0,
    "lines": 0.1,
    "directionality": 0.1,
    "woven": 0.3,
    "celled": 0.3,
    "fine": 0.08,
    "coarse": 0.08,
    "layers": 1.2,
}


def features(task: tuple[str, int, bool]) -> np.ndarray:
    """Read one drawn surface without a family."""
    family, seed, second = task
    truth = drawn(family, seed, second)
    jpeg = as_jpeg(flat_code(truth.rgb_linear, seed), 92)
    picture = prepare(decode_photo(jpeg, "drawn.jpg"), PhotoSettings(mm_per_px=MM_PER_PX))
    found = read_once(find_basis(picture, "auto"))
    return features_of(found.layers, found.pattern)


def main(path: Path) -> None:
    """Write the table."""
    tasks = [(f, seed, second) for f in FAMILIES for seed in SEEDS for second in (False, True)]
    context = get_context("spawn")
    with ProcessPoolExecutor(2, mp_context=context, initializer=one_thread) as pool:
        found = list(pool.map(features, tasks))
    lines = ["# Usual value and deviation of each feature. Written by tools/fit_family_looks.py."]
    for family in FAMILIES:
        own = np.array([v for task, v in zip(tasks, found, strict=True) if task[0] == family])
        lines.append(f"\n[{family}]")
        for n, feature in enumerate(FEATURES):
            spread = max(_WIDER * float(own[:, n].std()), _LEAST[feature])
            lines.append(f"{feature} = [{own[:, n].mean():.3f}, {spread:.3f}]")
    path.write_text("\n".join(lines) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main(Path(sys.argv[1]))

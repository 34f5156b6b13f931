"""Every family's surface by its name, as drawn or with its colours, shares and sizes varied."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import fields, replace
from typing import Any

import numpy as np

from jartide.studio.bronze import Bronze, draw_bronze
from jartide.studio.brushed import Brushed, draw_brushed
from jartide.studio.concrete import Concrete, draw_concrete
from jartide.studio.crackle import Crackle, draw_crackle
from jartide.studio.leather import Leather, draw_leather
from jartide.studio.linen import Linen, draw_linen
from jartide.studio.marble import Marble, draw_marble
from jartide.studio.oak import Oak, draw_oak
from jartide.studio.plaster import Plaster, draw_plaster
from jartide.studio.rust import Rust, draw_rust
from jartide.studio.stone import Stone, draw_stone
from jartide.studio.truth import Surface
from jartide.studio.verdigris import Verdigris, draw_verdigris

SURFACES: dict[str, tuple[Callable[..., Surface], Callable[[], Any]]] = {
    "marble": (draw_marble, Marble),
    "stone": (draw_stone, Stone),
    "concrete": (draw_concrete, Concrete),
    "rust": (draw_rust, Rust),
    "verdigris": (draw_verdigris, Verdigris),
    "bronze": (draw_bronze, Bronze),
    "plaster": (draw_plaster, Plaster),
    "crackle": (draw_crackle, Crackle),
    "wood": (draw_oak, Oak),
    "linen": (draw_linen, Linen),
    "leather": (draw_leather, Leather),
    "brushed": (draw_brushed, Brushed),
}


def draw_family(
    family: str,
    size_mm: tuple[float, float],
    mm_per_px: float,
    seed: int,
    *,
    varied: bool = False,
    patch: int = 0,
    **changes: Any,
) -> Surface:
    """Draw a surface of a family, (width, height) mm.

    `varied` draws another of its kind, `patch` another piece of the same; `changes` are
    fields of its look.
    """
    draw, look = SURFACES[family]
    chosen = vary(look(), np.random.default_rng([seed, 77])) if varied else look()
    return draw(size_mm, mm_per_px, seed + 1000 * patch, replace(chosen, **changes))


def vary(look: Any, rng: np.random.Generator) -> Any:
    """Return a look with its colours moved together, contrast, shares, sizes and ways changed."""
    labs = {f.name: np.array(v) for f in fields(look) if _is_lab(v := getattr(look, f.name))}
    middle = np.mean(list(labs.values()), axis=0)
    contrast = rng.uniform(0.9, 1.2)
    moved = np.array([rng.uniform(-6, 6), rng.uniform(-5, 5), rng.uniform(-6, 6)])
    changes: dict[str, Any] = {}
    for name, lab in labs.items():
        new = middle + moved + contrast * (lab - middle)
        new[0] = np.clip(new[0], 8, 93)
        changes[name] = tuple(float(v) for v in new)
    for field in fields(look):
        value = getattr(look, field.name)
        if field.name.endswith("_share"):
            changes[field.name] = float(value * rng.uniform(0.75, 1.25))
        elif field.name.endswith("_mm"):
            changes[field.name] = float(value * rng.uniform(0.85, 1.3))
    for field in fields(look):
        value = getattr(look, field.name)
        if field.name.endswith("_per_cm"):
            changes[field.name] = float(value * rng.uniform(0.8, 1.25))
        elif field.name.endswith("_deg"):
            changes[field.name] = float(value + rng.uniform(-9, 9))
    return replace(look, **changes)


def _is_lab(value: Any) -> bool:
    return isinstance(value, tuple) and len(value) == 3

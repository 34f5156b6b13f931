"""Which finish family a picture looks like, and how sure that is.

A naive Bayes rule: each family has a usual value and a deviation for a few features that a
first reading without a family gives (data/family_looks.toml, made by tools/fit_family_looks.py
from drawn surfaces, with deviations widened since real finishes stray further).
"""

from __future__ import annotations

import tomllib
from dataclasses import dataclass
from functools import lru_cache
from importlib.resources import files

import numpy as np

from jartide.reading.layers.layer_map import LayerMap
from jartide.reading.pattern.measure_pattern import is_net
from jartide.reading.pattern.records import Pattern
from jartide.reading.result import LINE_ROLES, Role

FEATURES = (
    "lightness",
    "green_red",
    "blue_yellow",
    "greenest",
    "ruddiest",
    "contrast",
    "lines",
    "directionality",
    "woven",
    "celled",
    "fine",
    "coarse",
    "layers",
)
# Features are not as independent as the rule takes them to be: each counts by this much.
_TEMPER = 0.35
# A suggestion less sure than this is none.
LEAST_SURE = 0.5


@dataclass(frozen=True, slots=True, kw_only=True)
class Suggestion:
    """A family and how sure it is, 0..1."""

    family: str
    confidence: float


def features_of(layers: LayerMap, pattern: Pattern) -> np.ndarray:
    """Return the features of a first reading, (F,), in the order of `FEATURES`."""
    labs = np.array([layer.shown_lab for layer in layers.layers])
    share = np.array([layer.coverage.value or 0.0 for layer in layers.layers])
    share = share / max(share.sum(), 1e-9)
    mean = share @ labs
    broad = labs[share >= 0.05] if (share >= 0.05).any() else labs
    in_lines = sum(
        s for s, layer in zip(share, layers.layers, strict=True) if layer.role in LINE_ROLES
    )
    celled = any(is_net(mask) for mask in layers.masks())
    spectrum = [m.value or 0.0 for m in pattern.spectrum]
    return np.array(
        [
            mean[0],
            mean[1],
            mean[2],
            broad[:, 1].min(),
            (broad[:, 1] + broad[:, 2]).max(),
            np.sqrt(share @ (labs[:, 0] - mean[0]) ** 2),
            in_lines,
            pattern.directionality.value or 0.0,
            float(pattern.weave is not None),
            float(celled or any(layer.role is Role.GROOVE for layer in layers.layers)),
            spectrum[0] + spectrum[1],
            spectrum[4] + spectrum[5],
            len(labs),
        ]
    )


@lru_cache(maxsize=1)
def _looks() -> tuple[tuple[str, ...], np.ndarray, np.ndarray]:
    """Return the families' names, and usual values and deviations, (K, F) each."""
    text = files("jartide").joinpath("data/family_looks.toml").read_text(encoding="utf-8")
    table = tomllib.loads(text)
    names = tuple(table)
    usual = np.array([[table[n][f][0] for f in FEATURES] for n in names])
    spread = np.array([[table[n][f][1] for f in FEATURES] for n in names])
    return names, usual, spread


def suggest_family(layers: LayerMap, pattern: Pattern) -> Suggestion | None:
    """Return the likeliest family of a picture first read without one.

    None of one plain colour: that is not yet a finish of any kind.
    """
    if len(layers.layers) < 2:
        return None
    names, usual, spread = _looks()
    away = (features_of(layers, pattern) - usual) / spread
    # Heavy tails (Student's t with 4 degrees of freedom): one odd feature is no verdict.
    score = -2.5 * np.log1p(away**2 / 4).sum(axis=1) - np.log(spread).sum(axis=1)
    score = _TEMPER * score
    chance = np.exp(score - score.max())
    chance /= chance.sum()
    best = int(chance.argmax())
    return Suggestion(family=names[best], confidence=float(chance[best]))

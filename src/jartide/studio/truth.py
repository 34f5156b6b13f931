"""What is true of a drawn surface, by the definitions of docs/measures.md."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np

from jartide.colour.spaces import lab_to_linear, linear_to_lab
from jartide.studio.pattern_truth import CellsTruth, GrainTruth, WeaveTruth


@dataclass(frozen=True, slots=True, kw_only=True)
class LayerTruth:
    """One layer, base first: colour as seen, share seen, share painted.

    `whole` is false where no pixel is wholly this layer; `lab` is then its paint's.
    """

    name: str
    role: str
    lab: tuple[float, float, float]
    coverage: float
    coverage_painted: float
    whole: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class LinesTruth:
    """All drawn lines together, from the drawn geometry."""

    width_mm: float
    length_mm_per_cm2: float
    softness_mm: float
    contrast_L: float
    direction_deg: float
    direction_spread_deg: float
    spacing_mm: float
    junctions_per_dm2: float


@dataclass(frozen=True, slots=True, kw_only=True)
class SurfaceTruth:
    """All that is known of one surface; None where a measure does not apply.

    `light_deg` is where the light on its relief comes from, counter-clockwise from the right;
    `brush_deg` the ways a brush went.
    """

    family: str
    layers: tuple[LayerTruth, ...]
    direction_deg: float | None
    lines: LinesTruth | None = None
    light_deg: float | None = None
    cells: CellsTruth | None = None
    weave: WeaveTruth | None = None
    grain: GrainTruth | None = None
    brush_deg: tuple[float, ...] = ()


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Surface:
    """A flat drawn surface.

    `rgb_linear` is (H, W, 3) float32; `mm_per_px` its true scale; `labels`, (H, W) uint8,
    the number of the layer that is seen at each pixel.
    """

    rgb_linear: np.ndarray
    mm_per_px: float
    truth: SurfaceTruth
    labels: np.ndarray | None = None


# A layer seen on less than this is not one.
_LEAST_SEEN = 0.002


@dataclass
class Easel:
    """Lays one coat over another and keeps account of what stays seen."""

    shape: tuple[int, int]
    rgb: np.ndarray = field(init=False)
    _coats: list[tuple[str, str, tuple[float, float, float], np.ndarray]] = field(
        init=False, default_factory=list
    )

    def __post_init__(self) -> None:
        self.rgb = np.zeros((*self.shape, 3), np.float32)

    def lay(
        self,
        name: str,
        role: str,
        lab: tuple[float, float, float],
        cover: np.ndarray | float = 1.0,
        shading: np.ndarray | float = 1.0,
    ) -> None:
        """Lay a coat of one colour.

        `cover` (H, W) in 0..1 mixes in linear light, as thin or speckled paint
        does. `shading` (H, W) multiplies the coat's own light: its grain.
        """
        cover = np.broadcast_to(np.asarray(cover, np.float32), self.shape)
        colour = lab_to_linear(lab).astype(np.float32)
        coat = colour * np.broadcast_to(np.asarray(shading, np.float32), self.shape)[..., None]
        self.rgb += (coat - self.rgb) * cover[..., None]
        self._coats.append((name, role, lab, cover))

    def surface(
        self,
        family: str,
        mm_per_px: float,
        direction_deg: float | None,
        **pattern: Any,
    ) -> Surface:
        """Return what has been laid so far, with its truth; `pattern` are fields of it."""
        layers, labels = self._account()
        return Surface(
            rgb_linear=self.rgb,
            mm_per_px=mm_per_px,
            labels=labels,
            truth=SurfaceTruth(
                family=family,
                layers=layers,
                direction_deg=direction_deg,
                **pattern,
            ),
        )

    def _account(self) -> tuple[tuple[LayerTruth, ...], np.ndarray]:
        """Return the layers, base first, and the number of the one seen at each pixel."""
        hidden = np.zeros(self.shape, bool)
        disturbed = np.zeros(self.shape, bool)
        found: list[tuple[LayerTruth, np.ndarray]] = []
        for name, role, paint, cover in reversed(self._coats):
            there = cover >= 0.5
            seen = there & ~hidden
            # "Wholly that layer": nothing else in the pixel, above or below.
            whole = (cover >= 0.98) & ~disturbed
            if whole.sum() < 20:
                whole = (cover >= 0.9) & ~hidden
            is_whole = bool(whole.sum() >= 20)
            hidden |= there
            disturbed |= cover > 0.02
            if seen.mean() < _LEAST_SEEN:
                continue
            lab = paint
            if is_whole:
                middle = np.median(linear_to_lab(self.rgb[whole].astype(float)), axis=0)
                lab = (float(middle[0]), float(middle[1]), float(middle[2]))
            layer = LayerTruth(
                name=name,
                role=role,
                lab=lab,
                coverage=float(seen.mean()),
                coverage_painted=float(there.mean()),
                whole=is_whole,
            )
            found.append((layer, seen))
        label = np.zeros(self.shape, np.uint8)
        for number, (_, seen) in enumerate(reversed(found)):
            label[seen] = number
        return tuple(layer for layer, _ in reversed(found)), label

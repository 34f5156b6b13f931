"""What is true of a drawn surface, by the definitions of docs/measures.md."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from jartide.colour.spaces import lab_to_linear, linear_to_lab


@dataclass(frozen=True, slots=True, kw_only=True)
class LayerTruth:
    """One layer, base first: colour as seen, share seen, share painted."""

    name: str
    role: str
    lab: tuple[float, float, float]
    coverage: float
    coverage_painted: float


@dataclass(frozen=True, slots=True, kw_only=True)
class LinesTruth:
    """All drawn lines together, from the drawn geometry."""

    width_mm: float
    length_mm_per_cm2: float
    softness_mm: float
    contrast_L: float
    direction_deg: float
    direction_spread_deg: float


@dataclass(frozen=True, slots=True, kw_only=True)
class SurfaceTruth:
    """All that is known of one surface; None where a measure does not apply."""

    family: str
    layers: tuple[LayerTruth, ...]
    direction_deg: float | None
    lines: LinesTruth | None = None


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Surface:
    """A flat drawn surface.

    `rgb_linear` is (H, W, 3) float32; `mm_per_px` its true scale.
    """

    rgb_linear: np.ndarray
    mm_per_px: float
    truth: SurfaceTruth


@dataclass
class Easel:
    """Lays one coat over another and keeps account of what stays seen."""

    shape: tuple[int, int]
    rgb: np.ndarray = field(init=False)
    _coats: list[tuple[str, str, np.ndarray]] = field(init=False, default_factory=list)

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
        self._coats.append((name, role, cover))

    def layers(self) -> tuple[LayerTruth, ...]:
        """Return the truth of all coats laid so far."""
        hidden = np.zeros(self.shape, bool)
        disturbed = np.zeros(self.shape, bool)
        found = []
        for name, role, cover in reversed(self._coats):
            there = cover >= 0.5
            seen = there & ~hidden
            # "Wholly that layer": nothing else in the pixel, above or below.
            whole = (cover >= 0.98) & ~disturbed
            if whole.sum() < 20:
                whole = (cover >= 0.9) & ~hidden
            if not whole.any():  # nothing of this coat can be seen: it is no layer
                continue
            lab = np.median(linear_to_lab(self.rgb[whole].astype(float)), axis=0)
            hidden |= there
            disturbed |= cover > 0.02
            found.append(
                LayerTruth(
                    name=name,
                    role=role,
                    lab=(float(lab[0]), float(lab[1]), float(lab[2])),
                    coverage=float(seen.mean()),
                    coverage_painted=float(there.mean()),
                )
            )
        return tuple(reversed(found))

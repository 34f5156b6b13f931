"""A stack of coats, each a colour and a cover, and what is true of the stack."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from skimage.color import lab2rgb, rgb2lab

MM_PER_PX = 0.25
# Outlines are drawn this many times larger and averaged down.
_OVER = 2


@dataclass(frozen=True, slots=True, kw_only=True)
class Coat:
    """One coat that can be seen: its colour where it is whole (else None), and its share.

    `known` says how it was drawn: "kind", and the lines, cells, ways or steps of it.
    """

    lab: tuple[float, float, float] | None
    paint: tuple[float, float, float]
    coverage: float
    known: dict[str, Any]


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Stack:
    """The picture in linear light (H, W, 3), the coats base first, which is seen where."""

    rgb_linear: np.ndarray
    coats: tuple[Coat, ...]
    labels: np.ndarray


def linear_of(lab: np.ndarray) -> np.ndarray:
    """Return linear sRGB of Lab (..., 3)."""
    code = lab2rgb(np.asarray(lab, float))
    return np.where(code <= 0.04045, code / 12.92, ((code + 0.055) / 1.055) ** 2.4)


def lab_of(rgb: np.ndarray) -> np.ndarray:
    """Return Lab of linear sRGB (..., 3)."""
    rgb = np.clip(rgb, 0, 1)
    code = np.where(rgb <= 0.0031308, 12.92 * rgb, 1.055 * rgb ** (1 / 2.4) - 0.055)
    return rgb2lab(code)


class Canvas:
    """Shapes in millimetres, y downward, on a sheet of (width, height) mm."""

    def __init__(self, width_mm: float, height_mm: float, seed: int) -> None:
        self.width, self.height = width_mm, height_mm
        self.rng = np.random.default_rng([seed, 991])
        self.shape = (round(height_mm / MM_PER_PX), round(width_mm / MM_PER_PX))
        self._coats: list[tuple[tuple[float, float, float], np.ndarray]] = []
        self._known: list[tuple[np.ndarray, dict[str, Any]]] = []

    def lay(self, lab: tuple[float, float, float], cover: np.ndarray | None = None) -> None:
        """Add a coat; all over without a cover."""
        full = np.ones(self.shape, np.float32)
        self._coats.append((lab, full if cover is None else cover))

    def know(self, cover: np.ndarray, **known: Any) -> np.ndarray:
        """Remember how a cover was drawn; return it."""
        self._known.append((cover, known))
        return cover

    def known_of(self, cover: np.ndarray) -> dict[str, Any]:
        """Return how a cover was drawn; nothing of one that was not said."""
        return next((known for own, known in self._known if own is cover), {})

    def blank(self) -> np.ndarray:
        """Return an empty sheet to draw a cover on, oversampled."""
        return np.zeros((self.shape[0] * _OVER, self.shape[1] * _OVER), np.uint8)

    def polygon(self, sheet: np.ndarray, points: np.ndarray) -> None:
        """Fill a polygon, (N, 2) mm."""
        cv2.fillPoly(sheet, [np.rint(points / MM_PER_PX * _OVER * 16).astype(np.int32)], 255, 8, 4)

    def ruled(self, sheet: np.ndarray, points: np.ndarray, width_mm: np.ndarray) -> None:
        """Draw a line through points, (N, 2) mm, of a width at each."""
        left = np.gradient(points, axis=0)
        left = left[:, ::-1] * (1, -1) / np.maximum(np.linalg.norm(left, axis=1), 1e-9)[:, None]
        half = left * width_mm[:, None] / 2
        self.polygon(sheet, np.concatenate([points + half, (points - half)[::-1]]))

    def cover(self, sheet: np.ndarray, soft_mm: float = 0.0) -> np.ndarray:
        """Return a drawn sheet as cover, (H, W) in 0..1, its edges `soft_mm` (10 to 90 %) wide."""
        small = cv2.resize(
            sheet.astype(np.float32) / 255, self.shape[::-1], interpolation=cv2.INTER_AREA
        )
        if soft_mm > 0:
            small = cv2.GaussianBlur(small, (0, 0), soft_mm / 2.563 / MM_PER_PX)
        return small

    def finish(self, texture: float) -> Stack:
        """Mix the coats; `texture` is the deviation of their grain, share of the light."""
        rgb = np.zeros((*self.shape, 3))
        grain = cv2.GaussianBlur(self.rng.standard_normal(self.shape), (0, 0), 1.1)
        grain = 1 + texture * grain / grain.std()
        for lab, cover in self._coats:
            rgb += (linear_of(np.array(lab)) * grain[..., None] - rgb) * cover[..., None]
        rgb = np.clip(rgb, 0, 1)
        taken = np.zeros(self.shape, bool)
        touched = np.zeros(self.shape, bool)
        found = []
        for lab, cover in reversed(self._coats):
            own = (cover >= 0.5) & ~taken
            whole = (cover > 0.985) & ~touched
            taken |= cover >= 0.5
            touched |= cover > 0.015
            if own.mean() < 0.002:
                continue
            seen_lab = None
            if whole.sum() >= 20:
                middle = np.median(lab_of(rgb[whole]), axis=0)
                seen_lab = (float(middle[0]), float(middle[1]), float(middle[2]))
            coat = Coat(
                lab=seen_lab, paint=lab, coverage=float(own.mean()), known=self.known_of(cover)
            )
            found.append((coat, own))
        labels = np.zeros(self.shape, np.uint8)
        for number, (_, own) in enumerate(reversed(found)):
            labels[own] = number
        return Stack(
            rgb_linear=rgb.astype(np.float32),
            coats=tuple(coat for coat, _ in reversed(found)),
            labels=labels,
        )

"""Carry Lab values between illuminants: colour readers speak of D50, we of D65."""

from __future__ import annotations

import numpy as np

from jartide.colour.spaces import WHITE_D65, xyz_to_lab

WHITE_D50 = np.array([0.96422, 1.0, 0.82521])
# Bradford's sharpened cone responses (Lam 1985; used by ICC.1).
_BRADFORD = np.array(
    [[0.8951, 0.2664, -0.1614], [-0.7502, 1.7135, 0.0367], [0.0389, -0.0685, 1.0296]]
)


def _lab_to_xyz(lab: np.ndarray, white: np.ndarray) -> np.ndarray:
    fy = (lab[..., 0] + 16) / 116
    f = np.stack([fy + lab[..., 1] / 500, fy, fy - lab[..., 2] / 200], axis=-1)
    t = np.where(f > 6 / 29, f**3, (f - 4 / 29) * 3 * (6 / 29) ** 2)
    return t * white


def _adapted(xyz: np.ndarray, source: np.ndarray, target: np.ndarray) -> np.ndarray:
    gains = (_BRADFORD @ target) / (_BRADFORD @ source)
    return xyz @ (np.linalg.inv(_BRADFORD) @ np.diag(gains) @ _BRADFORD).T


def lab_d50_to_d65(lab: tuple[float, float, float]) -> tuple[float, float, float]:
    """Return the Lab under D65 of a colour whose Lab under D50 is given (Bradford)."""
    xyz = _adapted(_lab_to_xyz(np.asarray(lab, float), WHITE_D50), WHITE_D50, WHITE_D65)
    out = xyz_to_lab(xyz)
    return float(out[0]), float(out[1]), float(out[2])


def lab_d65_to_d50(lab: tuple[float, float, float]) -> tuple[float, float, float]:
    """Return the Lab under D50 of a colour whose Lab under D65 is given (Bradford)."""
    xyz = _adapted(_lab_to_xyz(np.asarray(lab, float), WHITE_D65), WHITE_D65, WHITE_D50)
    ratio = xyz / WHITE_D50
    f = np.where(ratio > (6 / 29) ** 3, np.cbrt(ratio), ratio / (3 * (6 / 29) ** 2) + 4 / 29)
    out = (116 * f[1] - 16, 500 * (f[0] - f[1]), 200 * (f[1] - f[2]))
    return float(out[0]), float(out[1]), float(out[2])

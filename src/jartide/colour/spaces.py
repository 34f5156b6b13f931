"""Conversions between sRGB, linear light, XYZ and CIELAB, all D65 and 2 degree.

Arrays are (..., 3) unless said otherwise. IEC 61966-2-1:1999 for sRGB,
CIE 15:2018 for CIELAB.
"""

from __future__ import annotations

from functools import lru_cache
from itertools import product

import numpy as np
from numpy.typing import ArrayLike

from jartide.colour.difference import delta_e_2000

# Linear sRGB to XYZ, from the primaries and the D65 white of IEC 61966-2-1
# with its white exactly at `WHITE_D65`.
RGB_TO_XYZ = np.array(
    [
        [0.4124564, 0.3575761, 0.1804375],
        [0.2126729, 0.7151522, 0.0721750],
        [0.0193339, 0.1191920, 0.9503041],
    ]
)
WHITE_D65 = RGB_TO_XYZ.sum(axis=1)
XYZ_TO_RGB = np.linalg.inv(RGB_TO_XYZ)

_EPSILON = 216 / 24389
_KAPPA = 24389 / 27


def decode_srgb(encoded: np.ndarray) -> np.ndarray:
    """Return linear light, 0..1, from sRGB-encoded values, 0..1, of any shape."""
    encoded = np.asarray(encoded)
    return np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4)


def encode_srgb(linear: np.ndarray) -> np.ndarray:
    """Return sRGB-encoded values, 0..1, of linear light, any shape; values outside are clipped."""
    linear = np.clip(linear, 0, 1)
    return np.where(linear <= 0.0031308, linear * 12.92, 1.055 * linear ** (1 / 2.4) - 0.055)


@lru_cache(maxsize=2)
def decoding_table(levels: int) -> np.ndarray:
    """Return the linear light, (levels,) float32, of every code value: 256 or 65536 levels."""
    table = decode_srgb(np.arange(levels) / (levels - 1)).astype(np.float32)
    table.setflags(write=False)
    return table


def linear_to_xyz(rgb_linear: np.ndarray) -> np.ndarray:
    """Return XYZ, (..., 3), of linear sRGB, (..., 3), with white Y = 1."""
    return np.asarray(rgb_linear) @ RGB_TO_XYZ.T.astype(np.asarray(rgb_linear).dtype)


def xyz_to_linear(xyz: np.ndarray) -> np.ndarray:
    """Return linear sRGB, (..., 3), of XYZ, (..., 3); it may lie outside 0..1."""
    return np.asarray(xyz) @ XYZ_TO_RGB.T


def xyz_to_lab(xyz: np.ndarray) -> np.ndarray:
    """Return CIELAB, (..., 3), of XYZ, (..., 3), with white Y = 1."""
    t = np.asarray(xyz) / WHITE_D65.astype(np.asarray(xyz).dtype)
    f = np.where(t > _EPSILON, np.cbrt(np.maximum(t, 0)), (_KAPPA * t + 16) / 116)
    fx, fy, fz = f[..., 0], f[..., 1], f[..., 2]
    return np.stack([116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)], axis=-1)


def lab_to_xyz(lab: ArrayLike) -> np.ndarray:
    """Return XYZ, (..., 3), of CIELAB, (..., 3), with white Y = 1."""
    lab = np.asarray(lab, dtype=float)
    fy = (lab[..., 0] + 16) / 116
    f = np.stack([fy + lab[..., 1] / 500, fy, fy - lab[..., 2] / 200], axis=-1)
    t = np.where(f**3 > _EPSILON, f**3, (116 * f - 16) / _KAPPA)
    return t * WHITE_D65


def linear_to_lab(rgb_linear: np.ndarray) -> np.ndarray:
    """Return CIELAB, (..., 3), of linear sRGB, (..., 3), keeping float32 where it is given."""
    return xyz_to_lab(linear_to_xyz(rgb_linear))


def lab_to_linear(lab: ArrayLike) -> np.ndarray:
    """Return linear sRGB, (..., 3), of CIELAB; outside 0..1 where a screen can't show it."""
    return xyz_to_linear(lab_to_xyz(lab))


def hex_to_lab(text: str) -> tuple[float, float, float] | None:
    """Return the Lab of "#rrggbb", with or without the sign; None when it is no such colour."""
    digits = text.strip().removeprefix("#")
    if len(digits) != 6:
        return None
    try:
        code = np.array([int(digits[i : i + 2], 16) for i in (0, 2, 4)])
    except ValueError:
        return None
    lightness, a, b = linear_to_lab(decode_srgb(code / 255))
    return float(lightness), float(a), float(b)


def srgb_hex(lab: ArrayLike) -> str:
    """Return "#rrggbb" for one Lab, clipped into what a screen can show.

    Of the eight codes around it the one that looks nearest (CIEDE2000): rounding each channel
    by itself tints greys.
    """
    code = np.clip(encode_srgb(lab_to_linear(lab)) * 255, 0, 255)
    around = np.clip(np.floor(code) + np.array(list(product((0, 1), repeat=3))), 0, 255)
    apart = delta_e_2000(linear_to_lab(decode_srgb(around / 255)), np.asarray(lab, float))
    return "#{:02x}{:02x}{:02x}".format(*around[int(np.argmin(apart))].astype(int))

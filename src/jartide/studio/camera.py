"""A simulated camera: the tint and falloff of the light, tilt, blur, noise and JPEG.

It works in the order light does: scene, lens, sensor, file.
"""

from __future__ import annotations

import io
from dataclasses import dataclass

import cv2
import numpy as np
from PIL import Image

from jartide.colour.spaces import encode_srgb


@dataclass(frozen=True, slots=True, kw_only=True)
class Light:
    """The light on the scene.

    Attributes
    ----------
    tint : (3,) factors on linear R, G, B; (1, 1, 1) is daylight.
    exposure : factor on all.
    falloff : 0..1, share of the light lost from the brightest side to the dimmest.
    falloff_deg : the way towards the dimmest side, counter-clockwise from the right.
    """

    tint: tuple[float, float, float] = (1.0, 1.0, 1.0)
    exposure: float = 1.0
    falloff: float = 0.0
    falloff_deg: float = -20.0


DAYLIGHT = Light()
WARM_LAMP = Light(tint=(1.22, 1.0, 0.66), exposure=0.86, falloff=0.05)
COOL_LED = Light(tint=(0.93, 1.0, 1.10), exposure=1.08, falloff=0.03)


@dataclass(frozen=True, slots=True, kw_only=True)
class Camera:
    """The camera and its file.

    Attributes
    ----------
    blur_px : standard deviation of its Gaussian blur, pixels of the photo.
    noise : standard deviation at mid grey, sRGB code values; shot noise, grows with light.
    quality : of the JPEG, 1..100.
    """

    blur_px: float = 0.6
    noise: float = 2.0
    quality: int = 92


def expose(
    scene_linear: np.ndarray, light: Light, camera: Camera, rng: np.random.Generator
) -> np.ndarray:
    """Return the photo, (H, W, 3) uint8 sRGB, of a scene already in the picture plane."""
    height, width = scene_linear.shape[:2]
    angle = np.radians(light.falloff_deg)
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    along = (x / width - 0.5) * np.cos(angle) - (y / height - 0.5) * np.sin(angle)
    along = (along - along.min()) / max(float(np.ptp(along)), 1e-9)
    # Nearer the lamp the light rises faster than evenly: an inverse square, seen from the side.
    fall = 1 - light.falloff * (0.7 * along + 0.3 * along**2)
    lit = scene_linear * (np.asarray(light.tint, np.float32) * light.exposure)
    lit = lit * fall[..., None].astype(np.float32)
    if camera.blur_px > 0:
        lit = cv2.GaussianBlur(lit, (0, 0), camera.blur_px)
    # Photon noise: its deviation grows with the root of the light. At mid grey (0.214
    # linear) one code value is about 0.0033 of linear light.
    deviation = camera.noise * 0.0033 * np.sqrt(np.maximum(lit, 0.002) / 0.214)
    noisy = lit + deviation * rng.standard_normal(lit.shape, dtype=np.float32)
    return np.rint(encode_srgb(noisy) * 255).astype(np.uint8)


def to_jpeg(code: np.ndarray, quality: int) -> bytes:
    """Return the JPEG file of a photo, (H, W, 3) uint8."""
    out = io.BytesIO()
    Image.fromarray(code).save(out, "JPEG", quality=quality, optimize=True)
    return out.getvalue()


def photograph(
    surface_linear: np.ndarray,
    seed: int,
    light: Light = DAYLIGHT,
    camera: Camera | None = None,
) -> bytes:
    """Return a JPEG of (H, W, 3) linear light, square on, filling the picture, pixel for pixel."""
    camera = camera or Camera()
    code = expose(surface_linear, light, camera, np.random.default_rng(seed))
    return to_jpeg(code, camera.quality)

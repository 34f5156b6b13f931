"""A colour reader laid on a dab of mixed paint or a painted swatch."""

from __future__ import annotations

import numpy as np

from jartide.colour.spaces import lab_to_xyz, xyz_to_linear
from jartide.colour.words import Lab
from jartide.devices.registry import Device
from jartide.devices.source import Source


def read_dab(device: Device, lab: Lab, astray_de00: float, seed: int) -> Lab:
    """Return what a colour reader reads of a dab, CIELAB D65.

    A real one reads what it lies on. A stand-in is laid on a made-up dab that was meant to look
    like `lab`: mixed by hand it is off by up to `astray_de00`, the same way for the same seed.
    """
    if device.source is not Source.STAND_IN:
        return device.make().read().lab_d65()
    rng = np.random.default_rng(seed)
    off = rng.standard_normal(3) * min(astray_de00, 3.0) / 2
    picture = np.broadcast_to(xyz_to_linear(lab_to_xyz(np.array(lab) + off)), (40, 40, 3))
    reader = device.make(seed=seed)
    reader.lay_on(picture.astype(np.float32), None, (20, 20))
    return reader.read().lab_d65()

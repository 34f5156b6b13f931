"""The simulated colour reader laid on a dab of mixed paint or a painted swatch."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from jartide.colour.words import Lab


def read_dab(lab: Lab, astray_de00: float, seed: int) -> Lab:
    """Return what the simulated reader reads of a dab that was meant to look like `lab`.

    Mixed by hand it is a little off: by up to `astray_de00`, the same way for the same seed.
    """
    import numpy as np

    from jartide.colour.spaces import lab_to_xyz, xyz_to_linear
    from jartide.studio.colour_reader import SimulatedReader

    rng = np.random.default_rng(seed)
    off = rng.standard_normal(3) * min(astray_de00, 3.0) / 2
    picture = np.broadcast_to(xyz_to_linear(lab_to_xyz(np.array(lab) + off)), (40, 40, 3))
    reader = SimulatedReader(seed=seed)
    reader.lay_on(picture.astype(np.float32), None, (20, 20))
    return reader.read().lab_d65()

"""How far each measure can be trusted: its own error, and how well tiles tell other patches.

Both were set on surfaces drawn by both simulators with seeds 1 to 5, flat and photographed,
so that either interval holds about 90 % there, and are checked on seeds never looked at
(`make accuracy`).
"""

from __future__ import annotations

import numpy as np

from jartide.reading.trust.measured import Measured, measured

# The measurement's own 90 % half width: an absolute part and one relative to the value.
_OWN: dict[str, tuple[float, float]] = {
    "patches.count_per_dm2": (0.5, 0.28),
    "patches.area_mm2": (0.3, 0.12),
    "patches.spacing_mm": (0.1, 0.19),
    "patches.coverage": (0.012, 0.03),
    "patches.softness_mm": (0.05, 0.20),
    "patches.clustering": (0.03, 0.05),
    "patches.elongation": (0.03, 0.06),
    "patches.runs_down": (0.05, 0.0),
    "patches.raggedness": (0.02, 0.15),
    "lines.width_variation": (0.04, 0.25),
    "lines.halo_mm": (0.2, 0.5),
    "lines.contrast_L": (2.6, 0.17),
    "lines.contrast_spread_L": (0.8, 0.15),
    "lines.length_mm_per_cm2": (0.0, 0.14),
    "lines.spacing_mm": (0.0, 0.2),
    "lines.spacing_evenness": (0.06, 0.05),
    "lines.junctions_per_dm2": (1.2, 0.2),
    "lines.tortuosity": (0.02, 0.02),
    "weave.per_cm": (0.0, 0.006),
    "weave.direction_deg": (0.3, 0.0),
    "weave.evenness": (0.05, 0.0),
    "weave.slubs_per_dm2": (1.0, 0.3),
    "cells.size_mm": (0.0, 0.2),
    "cells.count_per_dm2": (0.3, 0.5),
    "cells.groove_width_mm": (0.1, 0.35),
    "cells.elongation": (0.03, 0.05),
    "grain.spacing_mm": (0.0, 0.17),
    "grain.length_mm": (1.0, 0.3),
    "grain.direction_deg": (1.0, 0.0),
    "grain.straightness": (0.02, 0.0),
    "grain.contrast_L": (1.0, 0.05),
    "grain.pores_per_cm2": (0.1, 0.15),
    "specks.count_per_dm2": (0.5, 0.3),
    "specks.diameter_mm": (0.15, 0.25),
    "brush.ridge_spacing_mm": (0.1, 0.12),
}
# By how much the jackknife over tiles is widened: neighbouring tiles share what is large.
_WIDER: dict[str, float] = {
    "patches.count_per_dm2": 1.2,
    "patches.spacing_mm": 1.2,
    "cells.count_per_dm2": 1.3,
    "grain.spacing_mm": 2.0,
    "lines.spacing_mm": 1.3,
    "specks.count_per_dm2": 1.3,
}


def judged(name: str, value: float, sampling_half: float, *, least: float | None = 0.0) -> Measured:
    """Return a value with both intervals as this measure has earned them.

    `name` is the measure's path under the pattern, without layer or percentile.
    """
    absolute, relative = _OWN[name]
    own = float(np.hypot(absolute, relative * abs(value)))
    return measured(value, own, _WIDER.get(name, 1.0) * float(sampling_half), least=least)


def least_change(value: Measured) -> float | None:
    """Return the smallest change from one board to the next that can be told; None if unknown.

    Below the 90 % bound of what two boards differ by for no reason a difference says nothing.
    """
    if value.value is None or value.measurement is None or value.sampling is None:
        return None
    here, other = ((high - low) / 2 for low, high in (value.measurement, value.sampling))
    # The sampling interval already holds another patch; that one's measurement errs as well.
    change = float(np.hypot(here, other))
    return change if np.isfinite(change) else None

"""Which family a picture is taken for when nobody says, against what was drawn."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from accuracy.layers import FAMILIES, MM_PER_PX, as_jpeg, drawn, flat_code, read_jpeg
from accuracy.rows import Row

# The looks of families were fitted on seeds 1 to 3.
SEEDS = (4,)


def family_rows(quick: bool) -> Iterator[Row]:
    """Yield how often the family suggested with confidence is wrong, and how often none is."""
    if quick:
        return
    wrong, silent = [], []
    for family in FAMILIES:
        for seed in SEEDS:
            for second in (False, True):
                truth = drawn(family, seed, second)
                jpeg = as_jpeg(flat_code(truth.rgb_linear, seed), 92)
                reading, _ = read_jpeg(jpeg, "auto", MM_PER_PX)
                silent.append(reading.family == "auto")
                if reading.family != "auto":
                    wrong.append(reading.family != family)
    which = f"{len(silent)} surfaces"
    yield Row(
        name=f"family suggested is wrong, %, {which}", error=100 * float(np.mean(wrong)), goal=25.0
    )
    yield Row(
        name=f"no family suggested, %, {which}", error=100 * float(np.mean(silent)), goal=50.0
    )

"""A shelf whose truth is known, fitted once for all tests of a worker."""

from __future__ import annotations

import pytest

from jartide.paint.fit import fit_shelf
from jartide.paint.mix_index import build_index
from jartide.studio.pigments import Bench, painted_shelf, pigments

SEED = 21
BENCH = Bench(mirrored=0.2, k2=0.55)


@pytest.fixture(scope="session")
def paints():
    """Twelve pigments, white first and black fourth as the ladders need them."""
    return pigments(SEED)[:12]


@pytest.fixture(scope="session")
def fitted(paints):
    return fit_shelf(painted_shelf(paints, BENCH, "glaze", SEED))


@pytest.fixture(scope="session")
def index(fitted):
    return build_index(fitted.parameters, list(range(12)), 3, 12)

"""The painted bench of the paint tests, for mends with paints of a shelf."""

from tests.paint.conftest import fitted, paints

__all__ = ["fitted", "paints"]

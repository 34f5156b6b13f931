"""What the window is measured by: the size of text that the painter chose.

Lengths in the code are units: pixels at the usual size of text. What is drawn or laid out grows
with the text; photographs take the room that is left.
"""

from __future__ import annotations

_USUAL = 100
_chosen = _USUAL


def choose_text_size(percent: int) -> None:
    """Choose how large text is, percent of the usual size; widgets made from now on follow."""
    global _chosen
    _chosen = percent


def text_scale() -> float:
    """Return how many pixels a unit is."""
    return _chosen / _USUAL


def px(units: float) -> int:
    """Return a length of `units` in whole pixels."""
    return round(units * text_scale())

"""What a row of a comparison is about: a measure, and the layer it is of."""

from __future__ import annotations

from jartide.measures.entries import BY_PATH
from jartide.measures.measure import Measure


class Key(str):
    """A measure's path, such as `lines.width_mm`, or that of a layer, such as `layers[2].lab`.

    It is the text that goes out, and knows what it was made of: nobody takes it apart.

    Attributes
    ----------
    path : of the measure: `lines.width_mm`, `lab`, `coverage`, `sheen`
    layer : number in the target's order, or of an extra layer in the board's; None for all
    is_extra : the layer is one that only the board has
    """

    __slots__ = ("is_extra", "layer", "path")
    path: str
    layer: int | None
    is_extra: bool

    def __new__(cls, path: str, layer: int | None = None, *, is_extra: bool = False) -> Key:
        """Make the key of a measure of the pattern, or of one layer's."""
        whose = "" if layer is None else f"{'extra_' if is_extra else ''}layers[{layer}]."
        made = super().__new__(cls, whose + path)
        made.path, made.layer, made.is_extra = path, layer, is_extra
        return made

    def __reduce__(self) -> tuple:
        return _made, (self.path, self.layer, self.is_extra)

    @property
    def kind(self) -> str:
        """The same of any layer: `layers.lab`, `extra_layers.coverage`."""
        whose = "" if self.layer is None else f"{'extra_' if self.is_extra else ''}layers."
        return whose + self.path

    @property
    def measure(self) -> Measure:
        """The measure it is about."""
        return BY_PATH[self.path]


def _made(path: str, layer: int | None, is_extra: bool) -> Key:
    return Key(path, layer, is_extra=is_extra)

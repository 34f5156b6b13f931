"""Fields of a colour that a device or a photo may fill in: who told what stands there."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QLineEdit

from jartide.devices.source import Source
from jartide.job.words.numbers import figure_words


class Told:
    """Three fields, L*, a*, b*, and where what stands in them came from."""

    def __init__(self, fields: Sequence[QLineEdit]) -> None:
        self._fields = tuple(fields)
        self._shown: tuple[str, ...] = ()
        self._source = Source.TYPED

    def show(self, lab: tuple[float, float, float], source: Source) -> None:
        """Fill the fields in."""
        self._shown, self._source = tuple(figure_words(value, 2) for value in lab), source
        for field, text in zip(self._fields, self._shown, strict=True):
            field.setText(text)

    def source(self) -> Source:
        """Return where the colour came from; typed only when none of what was filled in is left.

        A made-up colour with one number changed is still made up.
        """
        now = [field.text().strip() for field in self._fields]
        kept = any(text == shown for text, shown in zip(now, self._shown, strict=False))
        return self._source if kept else Source.TYPED

"""A flat picture of a surface with the steel rule at its foot, at a given scale."""

from __future__ import annotations

from PySide6.QtCore import QRectF
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QWidget

from jartide.app.elements.scale_strip import HEIGHT as STRIP
from jartide.app.elements.scale_strip import draw_scale_strip
from jartide.app.kit import Kit
from jartide.app.widgets.painted import Painted


class SurfacePane(Painted):
    """Shows a surface from its top left, whole or at `px_per_mm`, with the rule below."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._image: QImage | None = None
        self._over: QImage | None = None
        self._mm_per_px: float | None = None
        self._px_per_mm: float | None = None
        self._message = ""

    def show_surface(
        self, image: QImage | None, mm_per_px: float | None, message: str = ""
    ) -> None:
        """Show a picture with its scale, or a message in its place."""
        self._image, self._mm_per_px, self._message = image, mm_per_px, message
        self.update()

    def show_over(self, image: QImage | None) -> None:
        """Show another picture in its place, pixel for pixel: one layer alone, say."""
        self._over = image
        self.update()

    def set_scale(self, px_per_mm: float | None) -> None:
        """Show at so many screen px per mm; None for as large as it goes."""
        self._px_per_mm = px_per_mm
        self.update()

    def aspect(self) -> float:
        """Return width over height of the surface; 1 until there is one."""
        return 1.0 if self._image is None else self._image.width() / self._image.height()

    def whole_scale(self) -> float | None:
        """Return the px per mm at which all of the surface fits, or None without a scale."""
        if self._image is None or self._mm_per_px is None:
            return None
        return self._fit() / self._mm_per_px

    def _fit(self) -> float:
        assert self._image is not None
        room = self.height() - STRIP
        return min(self.width() / self._image.width(), room / self._image.height())

    def paint(self, kit: Kit) -> None:
        room = self.height() - STRIP
        image = self._over or self._image
        if image is None or self._image is None:
            kit.fill(0, 0, self.width(), self.height(), "well")
            words = self._message
            kit.paragraph(24, self.height() / 2 - 24, self.width() - 48, words, 16, 400, "ink2")
            return
        ratio = self._fit()
        if self._px_per_mm is not None and self._mm_per_px is not None:
            ratio = self._px_per_mm * self._mm_per_px
        w = min(image.width() * ratio, self.width())
        h = min(image.height() * ratio, room)
        kit.image(0, 0, w, h, image, QRectF(0, 0, w / ratio, h / ratio))
        draw_scale_strip(
            kit, 0, h, w, ratio / self._mm_per_px if self._mm_per_px is not None else None
        )

"""The surfaces on the bench as images: plain, or as an eye at a distance sees them."""

from __future__ import annotations

import numpy as np
from PySide6.QtGui import QImage

from jartide.app.widgets.painted import to_image
from jartide.job.eye_pictures import for_the_eye, seen_from
from jartide.job.open_job import OpenJob
from jartide.store.records import Photo

_KEPT, _KEPT_REDUCED = 16, 8


class BenchPictures:
    """Makes and keeps the last few images."""

    def __init__(self, job: OpenJob) -> None:
        self._job = job
        self._images: dict[object, tuple[QImage, float | None]] = {}
        self._reduced: dict[object, tuple[np.ndarray, float]] = {}

    def shown(
        self, photo: Photo, metres: float | None, *, hasty: bool = False
    ) -> tuple[QImage, float | None] | None:
        """Return a photo's surface with its mm per px, from `metres` away or plain.

        None until its flat picture is made. `hasty` while the distance is moved.
        """
        flat = self._job.pictures.flat(photo)
        if flat is None:
            return None
        key = (photo.sha256, photo.settings, metres, hasty)
        if key not in self._images:
            if len(self._images) > _KEPT:
                self._images.clear()
            code, mm_per_px = flat.code, flat.mm_per_px
            if metres is not None and mm_per_px is not None:
                small = (photo.sha256, photo.settings, hasty)
                if small not in self._reduced:
                    if len(self._reduced) > _KEPT_REDUCED:
                        self._reduced.clear()
                    self._reduced[small] = for_the_eye(code, mm_per_px, hasty=hasty)
                rgb, mm_per_px = self._reduced[small]
                code = seen_from(rgb, mm_per_px, metres)
            self._images[key] = (to_image(code), mm_per_px)
        return self._images[key]

"""Photos on their way in: what they show is asked before they are put anywhere."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from jartide.app.widgets.foot import Foot
from jartide.boards.together import MOST_PHOTOS
from jartide.job.open_job import OpenJob
from jartide.store.records import PhotoUse
from jartide.wording import tr

# Bytes, or what reads them where nothing waits for it.
Data = bytes | Callable[[], bytes]
USES = (PhotoUse.TARGET, PhotoUse.BOARD, PhotoUse.SURROUNDINGS, PhotoUse.MOOD)


class Incoming:
    """Asks once what the photos show that came together."""

    def __init__(self, job: OpenJob, foot: Foot) -> None:
        self._job, self._foot = job, foot

    def ask(self, photos: list[tuple[Data, str]]) -> None:
        """Ask in the foot what photos, (data, name), are of, and bring them in as that."""
        if not photos:
            return
        room = MOST_PHOTOS - len(self._job.records.targets())
        choices: list[tuple[str, Callable[[], None]]] = [
            (tr(f"photos.it_is.{use.value}"), partial(self.bring, photos, use))
            for use in USES
            if use is not PhotoUse.TARGET or len(photos) <= room
        ]
        first = photos[0][1]
        words = tr("photos.what_is_it", name=first)
        if len(photos) > 1:
            words = tr("photos.what_are_they", count=len(photos))
        self._foot.show_choice(words, choices, primary=tr(f"photos.it_is.{self._likely()}"))

    def _likely(self) -> str:
        """What most photos are that come now: the target first, then a board."""
        return PhotoUse.BOARD if self._job.records.targets() else PhotoUse.TARGET

    def bring_boards(self, photos: list[tuple[Data, str]]) -> None:
        """Bring photos in as new boards, one each."""
        self.bring(photos, PhotoUse.BOARD)

    def bring(self, photos: list[tuple[Data, str]], use: PhotoUse) -> None:
        """Bring photos in as what they were said to be."""
        for data, name in photos:
            self._job.pictures.add_photo(data, name, board=use is PhotoUse.BOARD, use=use)

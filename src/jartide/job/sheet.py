"""The job sheet, the bench card and labels: made in the background from what is gathered."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import pypdfium2

from jartide.job.jars import Jars
from jartide.job.labels import label_of
from jartide.job.records import Records
from jartide.job.runner import Progress, Runner
from jartide.job.sheet_content import SheetGatherer
from jartide.job.shelf import Shelf
from jartide.sheet.bench_card import bench_card_pdf
from jartide.sheet.content import Part, SheetContent
from jartide.sheet.job_sheet import Paper, job_sheet_pdf
from jartide.sheet.label_grid import GRIDS, label_sheet_pdf

_PREVIEW_DPI = 110


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Made:
    """A sheet that was made: the file itself, and its pages as (H, W, 3) uint8 of that file."""

    pdf: bytes
    pages: tuple[np.ndarray, ...]


class Sheet:
    """Keeps the sheet as it was made last, and makes it anew when something on it changed."""

    def __init__(
        self, records: Records, shelf: Shelf, jars: Jars, gatherer: SheetGatherer, runner: Runner
    ) -> None:
        self._records, self._shelf, self._jars = records, shelf, jars
        self._gatherer, self._runner = gatherer, runner
        self.made: Made | None = None
        self._key: Any = None

    def content(self) -> SheetContent | None:
        """Return all that can stand on the sheet now; None without a finish."""
        return self._gatherer.content()

    def want(self, paper: str, parts: tuple[str, ...]) -> None:
        """Make the sheet unless it is made already; `worked_out` tells when it can be shown."""
        content = self.content()
        key = (content, paper, parts)
        if content is None or key == self._key:
            return
        self._key = key
        wanted = tuple(Part(part) for part in parts)

        def returned(made: Made) -> None:
            if key == self._key:
                self.made = made
                self._records.events.worked_out.emit()

        self._runner.start(
            "sheet",
            lambda progress: _make(content, Paper(paper), wanted, progress),
            returned=returned,
            failed=self._records.say,
            first=True,
        )

    def bench_card(self, paper: str) -> bytes:
        """Return the bench card as PDF."""
        content = self.content()
        assert content is not None
        return bench_card_pdf(content, Paper(paper))

    def labels(self, grid: str) -> bytes:
        """Return labels for all jars that hold a mix as PDF.

        Raises
        ------
        JarTideError : when no jar holds one.
        """
        states = [state for state in self._jars.states() if state.mix.parts]
        labels = [label_of(self._records, state, self._shelf) for state in states]
        return label_sheet_pdf(labels, GRIDS[grid])


def _make(content: SheetContent, paper: Paper, parts: tuple[Part, ...], progress: Progress) -> Made:
    pdf = job_sheet_pdf(content, paper, parts)
    progress(0.5)
    return Made(pdf=pdf, pages=pages_of(pdf, _PREVIEW_DPI))


def pages_of(pdf: bytes, dpi: float) -> tuple[np.ndarray, ...]:
    """Return every page of a PDF as (H, W, 3) uint8: what is shown is the file itself."""
    file = pypdfium2.PdfDocument(pdf)
    try:
        pages = (page.render(scale=dpi / 72, rev_byteorder=True).to_numpy() for page in file)
        return tuple(np.ascontiguousarray(page[..., :3]) for page in pages)
    finally:
        file.close()

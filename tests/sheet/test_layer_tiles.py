"""Layers at their own size on paper: measured on the page as a painter's rule would."""

import numpy as np
import pypdfium2
import pytest

from jartide.errors import SheetError
from jartide.sheet.job_sheet import Paper
from jartide.sheet.layer_tiles import TracedLayer, layer_tiles_pdf

MM = 0.5


def disc(size_mm=(300, 200), at_mm=(100.0, 90.0), radius_mm=40.0):
    y, x = np.mgrid[0 : round(size_mm[1] / MM), 0 : round(size_mm[0] / MM)]
    away = np.hypot((x + 0.5) * MM - at_mm[0], (y + 0.5) * MM - at_mm[1])
    return TracedLayer(name="Pale patch", cover=np.clip((radius_mm - away) / MM + 0.5, 0, 1))


def pages(pdf):
    with pypdfium2.PdfDocument(pdf) as document:
        found = []
        for page in document:
            words = page.get_textpage().get_text_range()
            found.append((page.get_size(), words, page.render(scale=2).to_numpy()[..., 0]))
        return found


def test_a_disc_comes_out_at_its_own_size():
    (size, words, ink), *others = pages(layer_tiles_pdf([disc()], MM, "Terrace"))
    assert size == pytest.approx((595.3, 841.9), abs=0.5)
    assert "Pale patch" in words and "row 1, column 1" in words
    px_per_mm = 2 * 72 / 25.4
    # From the page's upper left margin; crosses and the frame of the piece aside.
    y = round((12 + 70) * px_per_mm)
    dark = np.flatnonzero(ink[y] < 200) / px_per_mm - 12
    half = np.sqrt(40**2 - 20**2)
    for edge in (100 - half, 100 + half):
        assert np.abs(dark - edge).min() < 0.5
    # 300 mm of piece on pages that show 186 mm each, 10 of them twice.
    assert len(others) == 1
    assert "column 2" in others[0][1]


def test_pages_follow_the_paper_and_the_layers():
    two = [disc(), disc(at_mm=(200.0, 60.0), radius_mm=30.0)]
    a4 = pages(layer_tiles_pdf(two, MM, "x"))
    a5 = pages(layer_tiles_pdf(two, MM, "x", Paper.A5))
    assert len(a4) == 4
    assert len(a5) > len(a4)


def test_what_cannot_be_cut_or_takes_too_much_paper_is_refused():
    crumbs = TracedLayer(name="Crumbs", cover=np.zeros((200, 200)))
    with pytest.raises(SheetError, match="large enough"):
        layer_tiles_pdf([crumbs], MM, "x")
    with pytest.raises(SheetError, match="more than 300"):
        layer_tiles_pdf([disc()], 30.0, "x")

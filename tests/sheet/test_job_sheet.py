"""The job sheet: what is on it is read back out of the PDF, and its pages are looked at."""

from __future__ import annotations

import io
from dataclasses import replace

import numpy as np
import pypdfium2
import pytest
from PIL import Image

from jartide.errors import PaintError
from jartide.sheet.bench_card import bench_card_pdf
from jartide.sheet.content import (
    Part,
    Picture,
    SheetBoard,
    SheetContent,
    SheetGroup,
    SheetLayer,
    SheetLine,
    SheetStep,
)
from jartide.sheet.jar_label import Label
from jartide.sheet.job_sheet import SIZES_MM, Paper, job_sheet_pdf
from jartide.sheet.label_grid import GRIDS, label_sheet_pdf


def jpeg(colour, size=(300, 200)):
    out = io.BytesIO()
    Image.new("RGB", size, colour).save(out, "JPEG")
    return out.getvalue()


def picture(colour, caption, mm=(300.0, 200.0)):
    return Picture(
        jpeg=jpeg(colour), width_px=300, height_px=200, width_mm=mm and mm[0],
        height_mm=mm and mm[1], caption=caption,
    )  # fmt: skip


CONTENT = SheetContent(
    title="Bar front <& more>",
    subtitle="deep green marble, 5.7 m²",
    made="Made 14.05.2026",
    pictures=(picture("#184030", "Target"), picture("#306050", "Board 3")),
    layers=(
        SheetLayer(name="Ground", srgb="#182820", share=0.6, recipe="1 Lamp black", amount="1.2 l"),
        SheetLayer(name="Veins", srgb="#c0d0c8", share=0.4, recipe="no mix yet", amount="110 ml"),
    ),
    amounts=(SheetLine(left="Primer", right="650 ml"),),
    shopping=(SheetLine(left="Clear coat", right="1 × 1.0 l", note="€ 21.00"),),
    steps=tuple(
        SheetStep(name=f"Step {n}", note="foam roller", dries="dries 2 h 00", cautions=("Dust.",))
        for n in range(30)
    ),
    boards=(
        SheetBoard(number=1, closeness=0.2, words="Veins too strong."),
        SheetBoard(number=2, closeness=0.7, words="Nothing differs."),
        SheetBoard(number=3, closeness=None, words="Not read yet."),
    ),
    care=(SheetGroup(title="", rows=(SheetLine(left="Keep a jar of every mix."),)),),
    figures=(SheetGroup(title="Veins", rows=(SheetLine(left="Width", right="1.4 mm"),)),),
    definitions=(SheetLine(left="Width", note="Full width at half its contrast."),),
)


def texts(pdf):
    file = pypdfium2.PdfDocument(pdf)
    found = [page.get_textpage().get_text_range() for page in file]
    file.close()
    return found


def test_everything_is_on_the_sheet_and_the_last_page_defines_it():
    pages = texts(job_sheet_pdf(CONTENT))
    whole = "\n".join(pages)
    for words in (
        "Bar front <& more>", "deep green marble, 5.7 m²", "Target", "Board 3",
        "1 : 4 of actual size",
        "Ground", "1 Lamp black", "1.2 l", "Step 29", "dries 2 h 00", "Take care: Dust.",
        "Primer", "1 × 1.0 l", "Veins too strong.", "Keep a jar of every mix.",
    ):  # fmt: skip
        assert words in whole, words
    assert "Full width at half its contrast." in pages[-1]
    assert all("Colours on paper are a reminder, not a match." in page for page in pages)
    assert f"page {len(pages)}" in pages[-1]


@pytest.mark.parametrize("paper", Paper)
def test_pages_are_of_the_paper_and_carry_the_typeface(paper):
    pdf = job_sheet_pdf(CONTENT, paper)
    file = pypdfium2.PdfDocument(pdf)
    sizes = {tuple(round(side / 72 * 25.4, 1) for side in page.get_size()) for page in file}
    file.close()
    assert sizes == {SIZES_MM[paper]}
    # Embedded as subsets, and no other face is asked of the printer.
    assert b"JarTideSans" in pdf and b"/FontFile2" in pdf
    assert b"Helvetica" not in pdf.replace(b"/Helvetica", b"", 1) or b"/F1 " not in pdf


@pytest.mark.parametrize("part", Part)
def test_a_part_that_is_left_out_is_not_there(part):
    marks = {
        Part.PICTURES: "of actual size", Part.CORE: "Layers and mixes", Part.STEPS: "Step 3",
        Part.AMOUNTS: "Primer", Part.BOARDS: "Veins too strong", Part.CARE: "Keep a jar",
        Part.FIGURES: "Measured figures",
    }  # fmt: skip
    whole = "\n".join(texts(job_sheet_pdf(CONTENT, parts=[p for p in Part if p is not part])))
    assert marks[part] not in whole
    assert all(mark in whole for p, mark in marks.items() if p is not part)


def test_pictures_are_at_one_scale_and_in_their_colours():
    pdf = job_sheet_pdf(CONTENT, parts=[Part.PICTURES])
    file = pypdfium2.PdfDocument(pdf)
    page = file[0].render(scale=100 / 72, rev_byteorder=True).to_numpy()[..., :3].astype(int)
    file.close()
    for wanted in ((0x18, 0x40, 0x30), (0x30, 0x60, 0x50)):
        found = np.abs(page - wanted).max(axis=2) <= 4
        rows, columns = np.nonzero(found)
        # 300 mm at 1 : 4 is 75 mm wide on the paper, 50 mm high.
        assert np.ptp(columns) / 100 * 25.4 == pytest.approx(75, abs=0.6)
        assert np.ptp(rows) / 100 * 25.4 == pytest.approx(50, abs=0.6)


def test_without_a_scale_none_is_stated():
    bare = replace(CONTENT, pictures=(picture("#184030", "Target", mm=None),))
    assert "of actual size" not in "\n".join(texts(job_sheet_pdf(bare)))


def test_an_empty_job_is_a_sheet_all_the_same():
    pages = texts(job_sheet_pdf(SheetContent(title="New", subtitle="", made="Made today")))
    assert len(pages) == 1 and "New" in pages[0]


def test_the_same_content_is_the_same_file():
    assert job_sheet_pdf(CONTENT) == job_sheet_pdf(CONTENT)


def test_how_ready_back_amount_and_the_stages_photo_stand_at_the_step():
    step = SheetStep(
        name="Veil", note="soft brush, 1 : 4", dries="next after 2 h 00, no later than 24 h",
        told=("Sets the veins back.", "Thin, twice."), amount="240 ml",
        signs=("Ready when: turned matt.", "Taken back by: damp sponge."),
        photo=picture("#b04020", "So it looked on board 2"),
    )  # fmt: skip
    content = replace(CONTENT, steps=(step,))
    said = ("Sets the veins back.", "Thin, twice.", "turned matt", "damp sponge", "240 ml",
            "1 : 4", "no later than 24 h")  # fmt: skip
    sheet, card = job_sheet_pdf(content, parts=[Part.STEPS]), bench_card_pdf(content)
    for pdf in (sheet, card):
        whole = " ".join("\n".join(texts(pdf)).split())
        assert [words for words in said if words not in whole] == []
    for pdf in (sheet, card):
        file = pypdfium2.PdfDocument(pdf)
        page = file[0].render(scale=100 / 72, rev_byteorder=True).to_numpy()[..., :3].astype(int)
        file.close()
        there = np.abs(page - (0xB0, 0x40, 0x20)).max(axis=2) <= 6
        assert there.sum() > 8000 and np.nonzero(there)[1].min() > page.shape[1] / 2


def test_a_long_bench_card_takes_both_sides_of_one_leaf_and_stays_readable():
    long = tuple(
        replace(one, told=("Why it is laid, and how, in a sentence or two.",) * 3)
        for one in CONTENT.steps
    )
    file = pypdfium2.PdfDocument(bench_card_pdf(replace(CONTENT, steps=long)))
    assert len(file) == 2
    file.close()


def test_a_bench_card_is_one_page_in_the_largest_type_that_fits():
    few = replace(CONTENT, steps=CONTENT.steps[:4])
    sizes = []
    for content in (few, CONTENT):
        file = pypdfium2.PdfDocument(bench_card_pdf(content))
        assert len(file) == 1
        page = file[0].get_textpage()
        sizes.append(page.get_charbox(0)[3] - page.get_charbox(0)[1])
        assert "Step 3" in page.get_text_range()
        file.close()
    assert sizes[0] > 1.3 * sizes[1]


@pytest.mark.parametrize("grid", GRIDS.values(), ids=lambda grid: grid.id)
def test_labels_lie_where_the_sheet_has_them(grid):
    labels = [
        Label(title=f"Jar {n}", job="Bar front", parts=(("3", "White"),), lines=("Mixed",),
              srgb="#205040")
        for n in range(1, 4)
    ]  # fmt: skip
    file = pypdfium2.PdfDocument(label_sheet_pdf(labels, grid, first=2))
    page = file[0].render(scale=100 / 72, rev_byteorder=True).to_numpy()[..., :3].astype(int)
    file.close()
    found = np.abs(page - (0x20, 0x50, 0x40)).max(axis=2) <= 4
    rows, columns = np.nonzero(found)
    mm = 25.4 / 100
    # The second place of the first row, then the second row.
    right = grid.left_mm + grid.pitch_mm[0] * (grid.columns - 1) + grid.label_mm[0]
    assert columns.max() * mm < right and columns.max() * mm > right - 12
    assert rows.min() * mm == pytest.approx(grid.top_mm + 4, abs=2.5)
    assert grid.left_mm * 2 + grid.pitch_mm[0] * (grid.columns - 1) + grid.label_mm[0] <= (
        grid.page_mm[0] + 0.5
    )
    with pytest.raises(PaintError, match="The first free label"):
        label_sheet_pdf(labels, grid, first=99)
    with pytest.raises(PaintError, match="No jar has a mix"):
        label_sheet_pdf([], grid)


def test_more_labels_than_a_page_holds_go_on_the_next():
    labels = [Label(title=f"Jar {n}", job="", parts=(), lines=(), srgb=None) for n in range(11)]
    pages = texts(label_sheet_pdf(labels, GRIDS["plain"]))
    assert len(pages) == 2 and "Jar 10" in pages[1]

"""Sheet in the real window: the preview is the file; parts and paper are the painter's."""

from __future__ import annotations

import pypdfium2
import pytest
from PySide6.QtPrintSupport import QPrinter

from .conftest import settle
from .test_demo_window import open_finish


@pytest.fixture
def sheet(qtbot, demo):
    open_finish(qtbot, demo, "Bar front", "sheet")
    return shown(qtbot, demo)


def shown(qtbot, demo):
    for _ in range(4):
        settle(qtbot, demo)
        demo.station("sheet").refresh()
    settle(qtbot, demo)
    return demo.station("sheet")


def text_of(pdf):
    file = pypdfium2.PdfDocument(pdf)
    found = "\n".join(page.get_textpage().get_text_range() for page in file)
    file.close()
    return " ".join(found.split())


def test_the_demo_job_is_on_the_sheet(qtbot, demo, sheet, tmp_path):
    sheet.save(tmp_path / "bar.pdf")
    saved = (tmp_path / "bar.pdf").read_bytes()
    assert saved == sheet.job.sheet.made.pdf
    whole = text_of(saved)
    for words in ("Bar front", "Target", "Board 3", "6 Lamp black : 5 Deep green", "Veil",
                  "Measured figures", "Keep a closed, labelled jar",
                  "Clouds (Sponge, 1 : 3 glaze", "106 min of work so far"):  # fmt: skip
        assert words in whole, words
    assert len(sheet._pages.pages) == len(sheet.job.sheet.made.pages)
    assert demo.header._tabs[5].state.note == f"{len(sheet.job.sheet.made.pages)} pages"


def test_parts_and_paper_are_chosen_and_kept(qtbot, demo, sheet):
    before = len(sheet.job.sheet.made.pages)
    sheet._ticks["figures"].click()
    shown(qtbot, demo)
    assert "Measured figures" not in text_of(sheet.job.sheet.made.pdf)
    assert len(sheet.job.sheet.made.pages) < before
    sheet._paper._pick(1)
    shown(qtbot, demo)
    page = sheet.job.sheet.made.pages[0]
    assert page.shape[1] / page.shape[0] == pytest.approx(148 / 210, abs=0.01)
    demo.go_to("reading")
    demo.go_to("sheet")
    assert sheet._paper.index == 1 and not sheet._ticks["figures"].isChecked()
    sheet._ticks["figures"].click()
    sheet._paper._pick(0)


def test_it_is_printed_page_by_page_through_qt(qtbot, demo, sheet, tmp_path):
    printer = QPrinter()
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(tmp_path / "printed.pdf"))
    sheet.print_to(printer)
    file = pypdfium2.PdfDocument(str(tmp_path / "printed.pdf"))
    assert len(file) == len(sheet.job.sheet.made.pages)
    file.close()


def test_a_place_that_can_not_be_written_is_one_sentence(qtbot, demo, sheet, tmp_path):
    sheet.save(tmp_path / "nowhere" / "bar.pdf")
    assert "nowhere" in demo.foot.shown.text


def test_the_bench_card_is_one_leaf_and_labels_lie_on_their_grid(qtbot, demo, sheet, tmp_path):
    sheet.save_more("card", tmp_path / "card.pdf")
    file = pypdfium2.PdfDocument(str(tmp_path / "card.pdf"))
    assert len(file) <= 2
    file.close()
    assert "Veil" in text_of((tmp_path / "card.pdf").read_bytes())
    for grid in ("plain", "a4_2x7"):
        sheet.save_more(grid, tmp_path / f"{grid}.pdf")
        words = text_of((tmp_path / f"{grid}.pdf").read_bytes())
        assert "Bottle-green clouds" in words and "Lamp black" in words


def test_without_a_mix_there_is_no_label(qtbot, demo, tmp_path):
    open_finish(qtbot, demo, "Terrace", "sheet")
    shown(qtbot, demo).save_more("plain", tmp_path / "none.pdf")
    assert "no jar has a mix" in demo.foot.shown.text.lower()
    assert not (tmp_path / "none.pdf").exists()


def test_the_layers_are_saved_as_a_palette(qtbot, demo, sheet, tmp_path):
    from jartide.store.palettes import read_palette

    layers = demo.job.readings.of_target().layers
    for kind in ("gpl", "ase"):
        sheet.save_more(kind, tmp_path / f"bar.{kind}")
        back = read_palette((tmp_path / f"bar.{kind}").read_bytes(), "bar")
        assert len(back) == len(layers) and back[0].name == str(layers[0].name)
        assert back[0].lab[0] == pytest.approx(layers[0].best_lab[0], abs=0.6)
    sheet.save_more("css", tmp_path / "bar.css")
    assert "ground: #" in (tmp_path / "bar.css").read_text("utf-8")

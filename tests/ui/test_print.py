"""Print and print preview: every paper, at its true size."""

import io

import numpy as np
import pypdfium2
import pytest
from pypdf import PdfReader
from PySide6.QtCore import Qt
from PySide6.QtPrintSupport import QPrinter, QPrinterInfo
from reportlab.pdfgen.canvas import Canvas

from ribpatch.ui.paper_actions import PaperActions
from ribpatch.ui.papers import FIRST, PAPERS
from ribpatch.ui.pdf_pages import PdfPages, pages_of
from ribpatch.ui.print_dialog import NO_PRINTER, PrintDialog

MM = 72 / 25.4


def sample(*sizes):
    """A PDF with a bar of 100 mm, 10 mm thick, 20 mm in and up, on a page of each size in mm."""
    stream = io.BytesIO()
    canvas = Canvas(stream)
    for wide, high in sizes:
        canvas.setPageSize((wide * MM, high * MM))
        canvas.rect(20 * MM, 20 * MM, 100 * MM, 10 * MM, stroke=0, fill=1)
        canvas.showPage()
    canvas.save()
    return stream.getvalue()


@pytest.fixture
def printer(tmp_path):
    made = QPrinter(QPrinter.PrinterMode.HighResolution)
    made.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    made.setOutputFileName(str(tmp_path / "printed.pdf"))
    return made


def shown(qtbot, window, paper):
    dialog = PrintDialog(window, paper, PaperActions(window).write)
    dialog.show()
    qtbot.waitUntil(lambda: dialog.pages is not None, timeout=60_000)
    return dialog


@pytest.mark.parametrize("size", [(210, 297), (297, 210), (279.4, 431.8), (594, 841)])
def test_a_page_prints_at_its_true_size_and_place(qapp, printer, tmp_path, size):
    pages = PdfPages(sample(size))
    assert pages.print_on(printer, [0]) == 1
    pages.close()
    printed = pypdfium2.PdfDocument((tmp_path / "printed.pdf").read_bytes())
    wide, high = (v / MM for v in printed.get_page_size(0))
    assert (wide, high) == pytest.approx(size, abs=0.5)
    grey = np.asarray(printed[0].render(scale=100 / 25.4 / (72 / 25.4)).to_pil().convert("L"))
    printed.close()
    dark = np.argwhere(grey < 128)
    each = size[0] / grey.shape[1]
    (top, left), (bottom, right) = dark.min(axis=0), dark.max(axis=0) + 1
    assert (right - left) * each == pytest.approx(100, abs=0.6) and left * each == pytest.approx(20, abs=0.6)
    assert (bottom - top) * each == pytest.approx(10, abs=0.6)
    assert (grey.shape[0] - bottom) * each == pytest.approx(20, abs=0.6)


def test_chosen_pages_print_in_their_order_and_it_can_be_stopped(qapp, printer, tmp_path):
    pages = PdfPages(sample((210, 297), (297, 420), (148, 210), (210, 297)))
    assert pages.print_on(printer, [2, 1]) == 2
    sizes = [p.mediabox[2:] for p in PdfReader(tmp_path / "printed.pdf").pages]
    assert [round(float(w) / MM) for w, _ in sizes] == [148, 297]
    assert pages.print_on(printer, [0, 1, 2], lambda done: done < 1) == 1
    pages.close()


def test_pages_are_typed_as_spoken():
    assert pages_of("", 3) == [0, 1, 2] and pages_of("2", 3) == [1] and pages_of("1-2, 3", 3) == [0, 1, 2]
    for wrong in ("0", "4", "2-9", "x", "3-1", "1,,2"):
        with pytest.raises(ValueError):
            pages_of(wrong, 3)


def test_a_paper_is_looked_at_page_by_page_printed_and_saved(window, qtbot, one_zone, printer, tmp_path, monkeypatch):
    one_zone(window)
    dialog = shown(qtbot, window, "work_pack")
    assert "Page 1 of" in dialog.told.text() and "210 × 297 mm" in dialog.told.text()
    first = dialog.roll.grab().toImage()
    qtbot.keyClick(dialog, Qt.Key.Key_PageDown)
    assert "Page 2 of" in dialog.told.text()
    dialog.look(1.25)
    assert dialog.roll.grab().toImage() != first
    dialog.range.setText("1-2")
    monkeypatch.setattr(QPrinterInfo, "availablePrinterNames", lambda: [])
    dialog.print_()
    assert dialog.told.text() == NO_PRINTER
    dialog.range.setText("90")
    dialog.print_()
    assert "are no pages" in dialog.told.text()
    dialog.print_on(printer, [0, 1])
    assert dialog.told.text().startswith("2 of 2 pages")
    assert len(PdfReader(tmp_path / "printed.pdf").pages) == 2
    monkeypatch.setattr(window.documents, "ask_path", lambda *_a: tmp_path / "pack.pdf")
    dialog.save()
    qtbot.waitUntil(lambda: (tmp_path / "pack.pdf").is_file(), timeout=60_000)
    qtbot.waitUntil(lambda: "written to" in dialog.told.text())
    dialog.reject()
    assert dialog.pages is None


def test_why_a_paper_cannot_be_made_stands_where_its_pages_would(window, qtbot, one_zone):
    one_zone(window)
    dialog = PrintDialog(window, "coupon_sheet", PaperActions(window).write)
    dialog.show()
    assert "No coupons are planned" in dialog.roll.said and not dialog.printing.isEnabled()
    dialog.reject()


def test_templates_are_looked_at_on_the_paper_that_is_picked(window, qtbot, one_zone):
    one_zone(window)
    dialog = shown(qtbot, window, "templates")
    few = len(dialog.pages.sizes)
    dialog.paper.setCurrentIndex(dialog.paper.findData("A0"))
    dialog.make()
    qtbot.waitUntil(lambda: dialog.pages is not None, timeout=60_000)
    assert max(w for w, _ in dialog.pages.sizes) > 800 * MM and len(dialog.pages.sizes) <= few
    dialog.reject()


def test_every_paper_is_an_action_and_ctrl_p_begins_with_the_one_of_the_stage(window, one_zone, monkeypatch):
    one_zone(window)
    assert all(window.menu_action(identity) is not None for identity in PAPERS)
    assert set(FIRST.values()) <= set(PAPERS)
    asked = []
    monkeypatch.setattr(PrintDialog, "exec", lambda dialog: asked.append(dialog.chosen))
    for stage, paper in (("rebuild", "work_pack"), ("find", "survey_report"), ("order", "shopping_list")):
        window.session.go("z4", stage)
        window.menu_action("print_paper").trigger()
        assert asked[-1] == paper

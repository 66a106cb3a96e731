"""Print and print preview: every paper, at its true size."""

import io
import time

import numpy as np
import pypdfium2
import pytest
from msgspec.structs import replace
from pypdf import PdfReader
from PySide6.QtCore import QRectF, Qt, QTimer
from PySide6.QtPrintSupport import QPrinter, QPrinterInfo
from PySide6.QtWidgets import QProgressDialog
from reportlab.pdfgen.canvas import Canvas

from ribpatch.ui.paper_actions import PaperActions
from ribpatch.ui.papers import FIRST, PAPERS
from ribpatch.ui.pdf_pages import PdfPages, pages_of
from ribpatch.ui.print_dialog import NO_PRINTER, PageRoll, PrintDialog
from ribpatch.ui.tasks import Cancelled

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


def test_a_paper_tells_how_far_it_is_and_another_one_calls_it_off(window, qtbot, one_zone, monkeypatch):
    one_zone(window)
    made, real = [], PAPERS["work_pack"]

    def slow(_suffix, _paper, told):
        for n in range(4000):
            made.append(n)
            told(0.42 if n < 3000 else 1.0)
            time.sleep(0.005)
        return sample((210, 297))

    monkeypatch.setitem(PAPERS, "work_pack", replace(real, prepare=lambda _window: slow))
    dialog = PrintDialog(window, "work_pack", PaperActions(window).write)
    dialog.show()
    qtbot.waitUntil(lambda: dialog.roll.said == "Making the work pack… 42%", timeout=10_000)
    dialog.list.setCurrentRow(list(PAPERS).index("labels"))
    qtbot.waitUntil(lambda: dialog.pages is not None, timeout=60_000)
    assert 0 < len(made) < 3000 and dialog.roll.said == ""
    dialog.list.setCurrentRow(list(PAPERS).index("work_pack"))
    qtbot.waitUntil(lambda: "42%" in dialog.roll.said, timeout=10_000)
    dialog.reject()
    window.tasks.wait()
    assert made.count(0) == 2 and len(made) < 3500


def test_printing_is_stopped_between_pages(window, qtbot, one_zone, printer, tmp_path):
    one_zone(window)
    dialog = shown(qtbot, window, "labels")
    dialog.pages.close()
    dialog.pages = PdfPages(sample(*[(210, 297)] * 40))
    dialog.roll.show_pages(dialog.pages)

    def stop():
        told = dialog.findChild(QProgressDialog)
        if told is None or told.value() < 3:
            QTimer.singleShot(0, stop)
        else:
            assert told.labelText() == f"Page {told.value() + 1} of 40"
            told.cancel()

    QTimer.singleShot(0, stop)
    dialog.print_on(printer, list(range(40)))
    printed = len(PdfReader(tmp_path / "printed.pdf").pages)
    assert (
        3 <= printed < 40
        and dialog.told.text().startswith(f"{printed} of 40 pages")
        and "stopped" in dialog.told.text()
    )
    dialog.reject()


def test_pages_lie_one_below_the_other_and_only_those_in_view_are_drawn(qapp):
    """A page of 100 x 200 and 99 of 100 x 50 mm, 372 pixels wide: 744 and 186 high, 14 apart."""
    roll = PageRoll("light")
    roll.show_pages(PdfPages(sample((100, 200), *[(100, 50)] * 99)))
    roll.fit(400)
    assert [roll.place_of(n) for n in (0, 1, 2, 99)] == [0, 758, 958, 758 + 98 * 200]
    assert [roll.page_at(y) for y in (-5, 0, 771, 773, 971, 973, 10**6)] == [0, 0, 0, 1, 1, 2, 99]
    assert roll.height() == 14 + 758 + 99 * 200
    assert [n for n, _ in roll._in_view(QRectF(0, 700, 400, 300))] == [0, 1, 2]
    assert [box.height() for _, box in roll._in_view(QRectF(0, 700, 400, 300))] == pytest.approx(
        [744, 186, 186], abs=0.5
    )
    roll.pages.close()


@pytest.mark.parametrize("paper", ["work_pack", "survey_report", "hand_over"])
def test_a_long_paper_comes_nearer_to_its_end_and_stops_where_it_is_called_off(window, one_zone, paper):
    one_zone(window)
    heard, make = [], PAPERS[paper].prepare(window)
    assert make(".pdf", "A4", heard.append).startswith(b"%PDF")
    assert heard == sorted(heard) and heard[0] < 0.1 and heard[-1] == 1.0 and len(heard) > 20

    def off(share):
        if share > 0.9:
            raise Cancelled

    with pytest.raises(Cancelled):
        make(".pdf", "A4", off)

"""What is dropped on the window, and what is copied out of it."""

from xml.etree import ElementTree

import pytest
from PIL import Image
from PySide6.QtCore import QMimeData, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent
from PySide6.QtWidgets import QApplication, QMessageBox
from tests.ui.geometry import settle

from ribpatch.core.edits import set_value
from ribpatch.formats.readings_csv import write_text
from ribpatch.jobfile import archive
from ribpatch.ui import dropped as drops
from ribpatch.ui import other_window
from ribpatch.ui.dropped import sorted_out, will_do
from ribpatch.ui.widgets.figure_button import FigureButton


@pytest.fixture
def files(tmp_path, window):
    """One of each kind."""
    Image.new("RGB", (40, 30), "grey").save(tmp_path / "board.png")
    Image.new("RGB", (40, 30), "white").save(tmp_path / "side.jpg")
    survey = window.session.job.zone("z1").survey
    (tmp_path / "taps.csv").write_text(write_text(survey.readings[:3], frozenset(), survey.sessions))
    (tmp_path / "notes.odt").write_text("words")
    (tmp_path / "shape.svg").write_text("<svg/>")
    (tmp_path / "folder").mkdir()
    archive.save(window.session.job, tmp_path / "heron.ribpatch")
    archive.save(window.session.job, tmp_path / "other.ribpatch")
    return tmp_path


@pytest.fixture
def asked(monkeypatch):
    """What is said before something is done; the answers to give."""
    said, answers = [], []

    def answer(words, _parent):
        said.append(words)
        return answers.pop(0) if answers else True

    monkeypatch.setattr(drops, "agreed", answer)
    return said, answers


def drop(window, *paths):
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(p)) if not str(p).startswith("http") else QUrl(str(p)) for p in paths])
    at = QPointF(window.zone_bench.plan_canvas.mapTo(window, window.zone_bench.plan_canvas.rect().center()))
    left, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    window.dropEvent(QDropEvent(at, Qt.DropAction.CopyAction, data, left, none))
    window.tasks.wait()
    settle()


def test_each_path_is_sorted_by_what_it_is(files):
    paths = [files / n for n in ("board.png", "taps.csv", "notes.odt", "shape.svg", "folder", "gone.csv", "board.png")]
    made = sorted_out(paths, "Foredeck", "find")
    assert [p.name for p in made.pictures] == ["board.png"] and [p.name for p in made.readings] == ["taps.csv"]
    assert [p.name for p in made.outlines] == ["shape.svg"] and made.kinds == 3
    assert [name for name, _ in made.left] == ["notes.odt", "folder", "gone.csv"]
    assert sorted_out(paths[1:2], "Foredeck", "days").weather
    assert [why for _, why in sorted_out(paths[:2], "", "find").left] == ["belongs to a zone: open a job first"] * 2
    job = sorted_out([files / "heron.ribpatch", files / "board.png"], "Foredeck", "find")
    assert job.jobs and "once the job is open" in job.left[0][1]


def test_what_will_be_done_is_said_in_plain_sentences(files):
    made = sorted_out([files / "heron.ribpatch", files / "other.ribpatch"], "Foredeck", "find")
    said = will_do(made, "Foredeck", "Moorhen", unsaved=True)
    assert said == [
        "Open heron.ribpatch instead of Moorhen. Changes of Moorhen that are not saved are asked for.",
        "Open other.ribpatch in windows of their own.",
    ]


def test_pictures_alone_are_taken_at_once_and_pinned_where_they_fall(window, files, asked):
    drop(window, files / "board.png", files / "side.jpg")
    photographs = window.session.zone.survey.photographs
    assert len(photographs) == 2 and photographs[0].x is not None and not asked[0]


def test_readings_and_a_picture_together_are_told_first_and_both_taken(window, files, asked, monkeypatch):
    from ribpatch.ui import import_dialog

    monkeypatch.setattr(import_dialog.ImportDialog, "exec", lambda self: self.DialogCode.Accepted)
    window.session.go("z4", "find")
    before = len(window.session.zone.survey.readings)
    drop(window, files / "taps.csv", files / "board.png", files / "notes.odt")
    assert len(asked[0]) == 1 and len(asked[0][0]) == 3 and "notes.odt is no job" in asked[0][0][2]
    assert len(window.session.zone.survey.photographs) == 1
    assert len(window.session.zone.survey.readings) >= before


def test_a_job_says_what_it_would_do_before_unsaved_work_is_asked_for(window, files, asked, monkeypatch):
    said, answers = asked
    monkeypatch.setattr(QMessageBox, "exec", lambda self: pytest.fail("asked of unsaved work first"))
    window.session.apply(set_value(("boat", "name"), "Moorhen"))
    answers.append(False)
    drop(window, files / "heron.ribpatch")
    assert "not saved are asked for" in said[0][0] and window.session.job.boat.name == "Moorhen"
    window.session.stack.undo()
    drop(window, files / "heron.ribpatch")
    assert window.session.path == files / "heron.ribpatch"


def test_several_jobs_open_in_windows_of_their_own(window, files, asked, monkeypatch):
    opened = []
    monkeypatch.setattr(other_window, "open_window", lambda path=None: opened.append(path) or True)
    drop(window, files / "heron.ribpatch", files / "other.ribpatch")
    assert window.session.path == files / "heron.ribpatch" and opened == [files / "other.ribpatch"]
    window.menu_action("new_window").trigger()
    assert opened[-1] is None


def test_an_address_on_the_web_is_told_and_nothing_is_done(window, asked):
    asked[1].append(False)
    drop(window, "https://example.org/board.png")
    assert "not on this machine" in asked[0][0][0]


def test_what_is_asked_is_a_box_that_can_be_left(window, files, monkeypatch):
    texts = []

    def leave(self):
        texts.append(self.text())
        self.buttons()[1].click()
        return 0

    monkeypatch.setattr(QMessageBox, "exec", leave)
    drop(window, files / "notes.odt", files / "board.png")
    assert "Add 1 photograph to" in texts[0] and not window.session.zone.survey.photographs


# ---- copying ----


def copied(window, widget):
    widget.setFocus()
    window.menu_action("copy").trigger()
    return QApplication.clipboard().mimeData()


def test_a_figure_is_copied_with_its_name(window):
    window.session.go("z1", "open")
    button = next(b for b in window.showing.stage("open").findChildren(FigureButton) if b.figure and b.isVisible())
    data = copied(window, button)
    assert data.text() == f"{button.figure.name}: {button.figure.shown('metric')}" and "<b>" in data.html()
    assert window.message.label.text() == f"Copied: {data.text()}."


def test_a_table_is_copied_as_text_and_as_html(window):
    window.session.go("z1", "open")
    window.zone_bench.below.show_page("Taper and bond")
    settle()
    table = window.zone_bench.below.pages["Taper and bond"].tables[0] if hasattr(window.zone_bench.below.pages["Taper and bond"], "tables") else next(iter(window.zone_bench.below.pages["Taper and bond"].findChildren(type(window.zone_bench.below).__mro__[1], "table")))  # fmt: skip
    grid = getattr(table, "grid", table)
    data = copied(window, grid)
    rows = [line.split("\t") for line in data.text().splitlines()]
    assert len(rows) == grid.rowCount() + 1 and len({len(r) for r in rows}) == 1
    assert data.html().count("<tr>") == len(rows) and 'align="right"' in data.html()


def test_a_plain_table_is_copied_as_it_stands(window):
    window.session.go("z1", "order")
    settle()
    window.tasks.wait()
    settle()
    items = window.showing.benches["order_bench"].items
    data = copied(window, items)
    assert data.text().splitlines()[1].split("\t")[0] == items.item(0, 0).text()
    assert "in stock" not in data.text().splitlines()[0]


def test_a_drawing_is_copied_as_svg_and_as_a_picture(window):
    window.session.go("z1", "open")
    canvas = window.zone_bench.plan_canvas
    data = copied(window, canvas)
    root = ElementTree.fromstring(bytes(data.data("image/svg+xml")))
    assert root.tag.endswith("svg") and root.attrib["width"].endswith("mm")
    image = data.imageData()
    assert image.width() == 2 * canvas.width() and canvas.hasFocus()
    colours = {image.pixelColor(x, y).rgb() for x in range(0, image.width(), 9) for y in range(0, image.height(), 9)}
    assert len(colours) > 5


def test_where_nothing_can_be_copied_it_is_said(window):
    copied(window, window.work.ladder.rungs["open"])
    assert window.message.label.text().startswith("Nothing to copy here")


def test_words_of_the_manual_and_a_working_are_copied(window):
    window.menu_action("manual").trigger()
    settle()
    text = window.manual.text
    assert copied(window, text).text() == text.toPlainText()
    cursor = text.textCursor()
    cursor.select(cursor.SelectionType.WordUnderCursor)
    text.setTextCursor(cursor)
    assert copied(window, text).text() == cursor.selectedText() != ""
    window.manual.close_sheet()
    window.work.ask_working(window.session.plan.by_id["z1.taper.length"])
    said = copied(window, window.work.working).text()
    assert said.startswith("taper length: 48.0 mm") and "taper ratio" in said

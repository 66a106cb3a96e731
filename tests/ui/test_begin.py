"""The beginning as a new user walks it: start page, new job, measuring, the way strip, folded cards, the draft."""

import json

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QLabel, QPushButton

from ribpatch.core.edits import draw_extent, remove_zone, set_plies, set_value
from ribpatch.core.facts import zone_facts
from ribpatch.core.scheme import StackLine
from ribpatch.core.scheme_edits import tick
from ribpatch.ui.start_pictures import BoatCard
from ribpatch.ui.widgets.card import Card

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def begun(bare, qtbot):
    """A window with a job just begun: a 17 ft open boat with a rotten transom, nothing measured."""
    bare.settings.unfolded = False
    bare.menu_action("new_job").trigger()
    page = bare.new_page
    page.edits["boat.length"].setText("17 ft")
    page.pick.list.choose("rotten-transom")
    qtbot.mouseClick(page.begin, LEFT)
    QApplication.processEvents()
    return bare


def column(window, name):
    window.session.go(stage=name)
    return window.showing.stages[name]


def hurt(window):
    """Draw the middle of the panel as bad."""
    x = [p[0] for p in window.session.zone.outline]
    y = [p[1] for p in window.session.zone.outline]
    w, h, a, b = (max(x) - min(x)) / 8, (max(y) - min(y)) / 8, (max(x) + min(x)) / 2, (max(y) + min(y)) / 2
    assert window.session.apply(
        draw_extent(window.session.zone_id, (((a - w, b - h), (a + w, b - h), (a + w, b + h), (a - w, b + h)),))
    )


# ---- start page ----


def test_recent_jobs_show_their_boat_and_state(window, qtbot, tmp_path):
    assert window.documents._save_to(tmp_path / "launch.ribpatch")
    window.menu_action("start").trigger()
    page = window.start_page
    (picture,) = page.findChildren(BoatCard)
    assert len(picture._card["zones"]) == 4 and len(picture._card["hull"]) > 50
    said = " ".join(label.text() for label in page.findChildren(QLabel))
    assert "Heron Reach" in said and "4 zones, 4 planned" in said
    button = next(b for b in page.findChildren(QPushButton) if b.accessibleName().startswith("open Heron Reach"))
    window.session.stack.setClean()
    qtbot.mouseClick(button, LEFT)
    assert window.at_work and window.session.path == tmp_path / "launch.ribpatch"


BROKEN = (
    {"hull": [[1, "a"]], "zones": [[3]]},
    {"hull": [[0, 0], [9, 0], [9, 2]], "zones": 4},
    {"hull": [[0, 0], [9, 0], [9, 2]], "zones": [4], "planned": 1},
)


@pytest.mark.parametrize("broken", BROKEN)
@pytest.mark.parametrize("kept", ["", "{", "[1]", '{"/x": 3}', "null"])
def test_a_kept_list_that_somebody_damaged_costs_only_its_pictures(window, tmp_path, kept, broken):
    path = tmp_path / "launch.ribpatch"
    assert window.documents._save_to(path)
    window.settings._store.setValue("recent cards", kept)
    assert window.settings.recent_cards == [(path, {})]
    window.settings._store.setValue("recent cards", json.dumps({str(path): broken}))
    window.show_start()
    (picture,) = window.start_page.findChildren(BoatCard)
    picture.grab()


def test_the_guidance_can_be_put_away_for_good(bare, qtbot):
    assert bare.start_page.guide.isVisible()
    qtbot.mouseClick(bare.start_page.away, LEFT)
    bare.show_start()
    assert bare.start_page.guide.isHidden() and not bare.settings.guided


def test_practice_begins_from_the_start_page(bare, qtbot):
    qtbot.mouseClick(bare.start_page.practice, LEFT)
    assert bare.at_work and bare.session.zone.practice is not None


@pytest.mark.parametrize("ctrl", [Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ControlModifier])
def test_enter_on_the_list_begins_once_with_what_was_typed(bare, qtbot, ctrl):
    bare.menu_action("new_job").trigger()
    page = bare.new_page
    page.edits["boat.name"].setText("Grey Wagtail")
    page.edits["boat.length"].setText("6 m")
    page.pick.list.setFocus()
    qtbot.keyClick(page.pick.list, Qt.Key.Key_Return, ctrl)
    assert (bare.session.job.boat.name, bare.session.job.boat.length.typed) == ("Grey Wagtail", "6 m")


# ---- measuring ----


def test_sizes_are_ticked_off_as_they_are_typed_and_enter_goes_on(begun, qtbot):
    panel = column(begun, "boat").facts
    count = sum(f.assumed for f in zone_facts(begun.session.zone))
    first, second = panel.lines[0], panel.lines[1]
    assert first.edit.placeholderText().startswith("assumed") and first.tick.text() == "·"
    first.edit.setFocus()
    qtbot.keyClicks(first.edit, "1.8 m")
    qtbot.keyClick(first.edit, Qt.Key.Key_Return)
    zone = begun.session.zone
    x = [p[0] for p in zone.outline]
    assert max(x) - min(x) == pytest.approx(1.8) and first.tick.text() == "✓"
    assert sum(f.assumed for f in zone_facts(zone)) == count - 1 and second.edit.hasFocus()
    assert f"{count - 1} of" in panel.words.text()
    begun.menu_action("undo").trigger()
    assert first.tick.text() == "·"


def test_a_size_that_cannot_be_is_explained_and_kept_out(begun, qtbot):
    panel = column(begun, "boat").facts
    before = begun.session.job
    for text, says in (("900 m", "outside"), ("wide", "no number"), ("3 kg", "is not a size")):
        panel.lines[0].edit.setFocus()
        panel.lines[0].edit.selectAll()
        qtbot.keyClicks(panel.lines[0].edit, text)
        qtbot.keyClick(panel.lines[0].edit, Qt.Key.Key_Return)
        assert says in panel.note.text() and begun.session.job is before
        assert panel.note.text().lower().count("length") == 1


def test_what_was_looked_at_is_so_one_by_one_or_all_at_once(begun, qtbot):
    panel = column(begun, "boat").facts
    names = [line.fact.name for line in panel.lines if line.fact]
    core = panel.lines[names.index("kind of core")]
    qtbot.mouseClick(core.so, LEFT)
    assert "core" not in begun.session.zone.assumed
    qtbot.mouseClick(panel.all_so, LEFT)
    assert not any(f.assumed for f in zone_facts(begun.session.zone)) and panel.all_so.isHidden()
    begun.menu_action("undo").trigger()
    assert any(f.assumed for f in zone_facts(begun.session.zone))


def test_a_figure_that_leans_carries_its_sign_on_the_plan_and_in_its_working(begun):
    figure = begun.zone_bench.plan_canvas.figures[0]
    assert figure.shown().startswith("≈")
    begun.work.ask_working(figure)
    assert "leans on what is assumed" in begun.work.working.text.text()


# ---- the way strip and done for now ----


def test_the_way_strip_leads_to_a_first_plan(begun, qtbot):
    way = begun.work.way
    assert way.go.text() == "Measure" and "9 of its sizes are assumed" in way.words.words
    qtbot.mouseClick(way.go, LEFT)
    assert begun.showing.stages["boat"].facts.lines[0].edit.hasFocus()
    boat = column(begun, "boat")
    qtbot.mouseClick(boat.done, LEFT)
    assert begun.session.zone.done == ("boat",) and begun.work.ladder.rungs["boat"].state == "done for now"
    assert way.go.text() == "Read"
    qtbot.mouseClick(way.go, LEFT)
    assert begun.session.stage == "find"
    hurt(begun)
    assert way.go.text() == "Cause"
    qtbot.mouseClick(way.go, LEFT)
    assert begun.session.stage == "cause"
    qtbot.mouseClick(begun.showing.stages["cause"].done, LEFT)
    assert way.go.text() == "Draft the repair"
    begun.menu_action("way").trigger()
    assert begun.session.zone.scheme.reasons and begun.zone_bench.below.shown == "Draft"
    # What is to be seen to before cutting is grave until it is ticked; only then does a plan stand.
    assert way.go.text() == "See the warning" and "strap the sides" in way.words.words and "(1 more)" in way.words.words
    qtbot.mouseClick(way.go, LEFT)
    assert begun.session.stage == "open"
    for item in ("transom-support", "trailer"):
        begun.session.apply(tick("z1", item, "seen to"))
    assert way.go.text() == "Work pack" and "a first plan stands" in way.words.words
    qtbot.mouseClick(boat.done, LEFT)
    assert "boat" not in begun.session.zone.done and way.go.text() == "Measure"


def test_a_job_without_zones_is_led_to_one(window, qtbot):
    for zone in window.session.job.zones:
        window.session.apply(remove_zone(zone.id))
    assert window.work.way.go.text() == "What is wrong?"
    qtbot.mouseClick(window.work.way.go, LEFT)
    assert not window.at_work and window.zone_page.pick.list.hasFocus()


# ---- the draft ----


def test_a_press_drafts_a_second_press_puts_others_beside_it_and_undo_takes_each_back(begun, qtbot):
    begun.menu_action("draft").trigger()
    assert "no damage is known yet" in begun.message.label.text()
    hurt(begun)
    begun.menu_action("draft").trigger()
    page = begun.zone_bench.below.pages["Draft"]
    rows = [page.table.grid.item(r, 0).text() for r in range(page.table.grid.rowCount())]
    assert rows[:2] == ["open from", "cut"] and begun.session.stage == "open"
    begun.menu_action("draft").trigger()
    assert len(begun.session.zone.others) >= 1 and "beside it: Draft, " in page.words.text()
    for _ in range(2):
        begun.menu_action("undo").trigger()
    assert not begun.session.zone.scheme.reasons and begun.session.zone.others == ()


def test_a_choice_changed_after_the_draft_says_so(begun):
    hurt(begun)
    begun.menu_action("draft").trigger()
    begun.session.apply(set_value(("zones", "z1", "scheme", "access", "side"), "inside"))
    grid = begun.zone_bench.below.pages["Draft"].table.grid
    assert "now inside" in grid.item(0, 1).text()


# ---- cards ----


def test_cards_fold_to_a_line_that_says_what_is_chosen(window, qtbot):
    window.menu_action("cards").trigger()  # the tests' windows begin with all of them unfolded
    stage = column(window, "open")
    folded = {c.title: c.said.words for c in stage.cards if c.folded}
    assert folded["Before cutting"] == "4 of 6 still to see to" and folded["Depth of the damage"] == "right through"
    open_ones = [c.title for c in stage.cards if not c.folded]
    assert open_ones == ["Side to open from", "Cut line", "Taper"]
    card = next(c for c in stage.cards if c.title == "Before cutting")
    card.heading.setFocus()
    qtbot.keyClick(card.heading, Qt.Key.Key_Space)
    assert not card.folded and card.body.isVisible() and "unfolded" in card.heading.accessibleName()
    window.menu_action("cards").trigger()
    assert not any(c.folded for c in stage.cards) and window.settings.unfolded


@pytest.mark.parametrize(
    ("name", "zone"),
    [
        ("boat", "z1"),
        ("open", "z1"),
        ("rebuild", "z4"),
        ("rebuild", "z1"),
        ("open", "z3"),
        ("find", "z1"),
        ("days", "z1"),
        ("log", "z1"),
    ],
)
def test_every_folded_card_says_something_and_fits(window, name, zone):
    window.menu_action("cards").trigger()
    window.session.go(zone, name)
    QApplication.processEvents()
    stage = window.showing.stages[name]
    silent = {
        "More on the cut line",
        "More on the taper",
        "What it costs",
        "The pit as ground",
        "More on the plies",
        "Seams, frames, core joints",
        "Path on the boat",
    }
    for card in stage.cards:
        if card.folded and card.title not in silent:
            assert card.said.words, card.title
    assert stage.widget().width() <= stage.viewport().width() + 1


def test_the_warnings_of_a_stage_stand_in_one_line_and_each_press_goes_to_the_next(window, qtbot):
    window.menu_action("cards").trigger()
    stage = column(window, "open")
    line, seen = stage.warnings, []
    assert line.words.words.startswith("⚠ 6 open: ")
    for n in range(1, 7):
        qtbot.mouseClick(line.go, LEFT)
        assert line.words.words.startswith(f"⚠ {n} of 6: ")
        card = QApplication.focusWidget().parent()
        assert isinstance(card, Card) and not card.folded
        seen.append(card.title)
    assert set(seen) == {"Before cutting", "Cut line", "Taper"}
    assert stage.warnings.go.text() == "next"


# ---- outlines without coordinates ----


def typed_outline(window, qtbot, way, text, half=False):
    column(window, "boat").show_card("Outline")
    panel = column(window, "boat").outline
    panel.outline_how.setCurrentIndex(("corners", "tapes", "offsets").index(way))
    panel.half.setChecked(half)
    panel.corners.setPlainText(text)
    qtbot.mouseClick(panel.use_corners, LEFT)
    return panel


def test_two_tapes_from_two_pins_make_an_outline_and_say_how_well_they_agree(begun, qtbot):
    text = "1000\nA 1200 1562.05\nB 1562.05 1200\nC 100 1004.99 below\nA B 1000\nA C 1300\nB C 1640.12"
    panel = typed_outline(begun, qtbot, "tapes", text)
    ring = begun.session.zone.outline
    assert ring[0] == pytest.approx((0.0, 1.2), abs=1e-3) and len(ring) == 3
    assert "agree to" in panel.outline_note.text() and "length" not in begun.session.zone.assumed
    before = begun.session.job
    typed_outline(begun, qtbot, "tapes", "1000\nA 100 200")
    assert "do not meet" in panel.outline_note.text() and begun.session.job is before


def test_offsets_and_a_mirrored_half(begun, qtbot):
    typed_outline(begun, qtbot, "offsets", "0 300\n500 450\n1000 200")
    assert len(begun.session.zone.outline) == 6
    typed_outline(begun, qtbot, "offsets", "0 -300 0\n1000 -200 0", half=True)
    ys = [y for _, y in begun.session.zone.outline]
    assert min(ys) == pytest.approx(-0.3) and max(ys) == pytest.approx(0.3)


def test_templates_are_written_on_the_paper_that_was_chosen_with_the_kind(begun, qtbot, monkeypatch, tmp_path):
    from PySide6.QtWidgets import QFileDialog

    hurt(begun)
    begun.menu_action("draft").trigger()
    begun.session.apply(set_value(("zones", "z1", "scheme", "access", "side"), "inside"))
    begun.session.apply(set_plies("z1", (StackLine(fabric="biax-45-600", count=3),)))
    for typed, kind, name, start in (
        ("a", "PDF on a roll of 914 mm (*.pdf)", "a.pdf", b"%PDF"),
        ("b", "SVG, a layer for each ply (*.svg)", "b.svg", b"<?xml"),
        ("c.dxf", "PDF on the usual paper (*.pdf)", "c.dxf", b"  0"),
    ):
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, t=typed, k=kind, **n: (str(tmp_path / t), k))
        begun.menu_action("templates").trigger()
        qtbot.waitUntil((tmp_path / name).is_file, timeout=15000)
        begun.tasks.wait()
        assert (tmp_path / name).read_bytes().startswith(start)
    from pypdf import PdfReader

    assert float(PdfReader(tmp_path / "a.pdf").pages[-1].mediabox.width) == pytest.approx(914 * 72 / 25.4, abs=0.1)


# ---- room ----


def test_the_decisions_take_a_quarter_of_a_wide_window_and_what_the_user_gives_them_up_to_a_third(window, qtbot):
    column_, beside = window.showing.decisions, window.work.parts.beside
    for size, wide in ((1280, 392), (1024, 392), (2560, 640)):
        window.resize(size, 800)
        QApplication.processEvents()
        assert column_.width() == wide
    window.resize(1600, 900)
    QApplication.processEvents()
    beside.setSizes([700, 900])
    beside.splitterMoved.emit(700, 1)
    assert column_.width() == 1600 // 3 == window.settings.column
    window.resize(1280, 800)
    QApplication.processEvents()
    assert column_.width() == 1280 // 3
    window.settings._store.setValue("column", "wide")
    assert window.settings.column == 0


def test_what_to_look_at_first_stands_with_what_to_measure(begun):
    assert "Take the drain fitting out" in column(begun, "boat").facts.first.text()

"""Order driven as a user would: vessels, warm cans, the curve, how she floats, the cut plan."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication

from ribpatch.core.edits import set_plies, set_value
from ribpatch.core.scheme_edits import remove_part
from ribpatch.core.units import Measure


@pytest.fixture
def order(window):
    """Go to Order in a zone; its panel."""

    def go(zone):
        window.session.go(zone, "order")
        QApplication.processEvents()
        return window.showing.stages["order"]

    return go


def test_a_vessel_and_warm_cans_change_cups_words_and_curve(window, order, qtbot, type_in):
    panel = order("z2")
    before, first = panel.chart.chart, window.session.plan.zone("z2").needs.cups
    assert before is not None and panel.chart.isVisible() and "mixes" in panel.mixing_note.text()
    window.grab()
    qtbot.mouseClick(panel.vessel.button("roller pan"), Qt.MouseButton.LeftButton)
    QApplication.processEvents()
    assert window.session.zone.scheme.resin.vessel == "pan" and panel.chart.chart is not before
    assert window.session.plan.zone("z2").needs.cups.working > first.working
    assert "warm box" in panel.mixing_note.text()
    type_in(panel.warmed.edit, "25 C")
    assert window.session.zone.scheme.resin.warmed.si == 25 and "warm box" not in panel.mixing_note.text()
    window.menu_action("undo").trigger()
    assert window.session.zone.scheme.resin.warmed is None


def test_the_cloth_is_laid_out_beside_the_window_and_again_after_a_change(window, order, qtbot):
    order("z1")
    bench = window.showing.benches["order_bench"]
    qtbot.waitUntil(lambda: bench.rolls.canvas.drawing is not None, timeout=10000)
    qtbot.waitUntil(lambda: "rolls" in window.session.plan.__dict__, timeout=10000)
    qtbot.waitUntil(lambda: bench.rolls.rolls is window.session.plan.rolls, timeout=10000)
    window.grab()
    rolls, canvas = bench.rolls.rolls, bench.rolls.canvas
    assert canvas.heading.startswith(rolls[0].fabric.name)
    row = next(n for n, item in enumerate(window.session.plan.items) if item.id == rolls[1].fabric.id)
    bench.items.setCurrentCell(row, 1)
    assert canvas.heading.startswith(rolls[1].fabric.name) and canvas.drawing.bounds[2] == rolls[1].made.length
    order("z2")
    window.tasks.wait()
    QApplication.processEvents()
    assert bench.rolls.rolls is rolls, "another zone asks for no other layout"
    lines = window.session.zone.scheme.laminate.plies
    window.session.apply(set_plies("z2", lines[:1]))
    qtbot.waitUntil(lambda: bench.rolls.rolls is not rolls, timeout=10000)
    assert sum(len(r.cuts) for r in bench.rolls.rolls) < sum(len(r.cuts) for r in rolls)


def test_a_shorter_layout_is_searched_for_stopped_kept_undone_and_forgotten(window, order, qtbot):
    """A real search in its own process; stopped as soon as it has something better, which is kept as one step."""
    order("z2")
    bench = window.showing.benches["order_bench"]
    panel = bench.rolls
    qtbot.waitUntil(
        lambda: "rolls" in window.session.plan.__dict__ and panel.rolls is window.session.plan.rolls, timeout=10000
    )
    row = next(n for n, item in enumerate(window.session.plan.items) if item.id == "biax-090-800")
    bench.items.setCurrentCell(row, 1)
    (before,) = (r for r in panel.rolls if r.fabric.id == "biax-090-800")
    assert panel.search.isEnabled() and not panel.forget.isVisible()
    qtbot.mouseClick(panel.search, Qt.MouseButton.LeftButton)
    assert panel.search.text().startswith("Stop") and window.tasks.can_cancel
    window.session.apply(set_value(("air", "humidity"), Measure(si=0.5)))  # work goes on meanwhile
    qtbot.waitUntil(lambda: bool(panel._better), timeout=30000)
    window.grab()
    qtbot.mouseClick(panel.search, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: bool(window.session.job.layouts), timeout=20000)
    qtbot.waitUntil(lambda: any(r.kept for r in panel.rolls), timeout=10000)
    (after,) = (r for r in panel.rolls if r.fabric.id == "biax-090-800")
    assert after.kept and after.made.length < before.made.length and "shorter, and kept" in panel.words.text()
    assert panel.forget.isVisible() and panel.search.text() == "Search a shorter layout"
    qtbot.mouseClick(panel.forget, Qt.MouseButton.LeftButton)
    assert window.session.job.layouts == ()
    window.menu_action("undo").trigger()
    window.menu_action("undo").trigger()
    assert window.session.job.layouts == ()


def test_a_cold_shed_shows_no_curve(window, order):
    panel = order("z1")
    window.session.apply(set_value(("air", "temperature"), Measure(si=7.0)))
    QApplication.processEvents()
    assert not panel.chart.isVisible() and "least temperature" in panel.mixing_note.text()


@pytest.mark.parametrize("system", ["metric", "us"])
def test_how_she_floats_is_said_in_the_units_shown(window, order, system):
    window.session.set_system(system)
    panel = order("z1")
    QApplication.processEvents()
    assert panel.float_note.text().startswith("She is ") and ("lb" in panel.float_note.text()) == (system == "us")


def test_the_cut_plan_is_asked_for_and_without_cloth_says_so(window, order, qtbot, monkeypatch, tmp_path):
    panel, path = order("z1"), tmp_path / "cut.svg"
    monkeypatch.setattr(window.documents, "ask_path", lambda *a: path)
    qtbot.mouseClick(panel.cut, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(path.is_file, timeout=15000)
    window.tasks.wait()
    assert path.read_bytes().startswith(b"<?xml")
    path.unlink()
    for zone in window.session.job.zones:
        window.session.apply(set_plies(zone.id, ()))
        for part in zone.scheme.parts:
            window.session.apply(remove_part(zone.id, part.id))
    window.menu_action("cut_plan").trigger()
    assert "No cloth is laid yet" in window.message.label.text() and not path.exists()

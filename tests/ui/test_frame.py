"""Strip, ladder, ledger and the small widgets on their own."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication
from tests.ui.geometry import findings

from ribpatch.core.edits import set_value
from ribpatch.core.figure import Figure
from ribpatch.core.units import Kind, Measure
from ribpatch.stages import stage_of, stage_state
from ribpatch.ui.actions import ACTIONS, key_sheet
from ribpatch.ui.frame.ledger import difference_text
from ribpatch.ui.widgets.entry import read_value, value_text
from ribpatch.ui.widgets.working import working_html


def figure(value, kind=Kind.MASS):
    return Figure("x", "resin", value, kind, "")


@pytest.mark.parametrize(
    ("old", "new", "system", "text"),
    [
        (2.0, 2.3, "metric", "+0.30"),
        (2.3, 2.0, "metric", "−0.30"),
        (2.0, 2.001, "metric", ""),
        (0.0, 1.0, "us", "+2.20"),
        (5, 5, "us", ""),
    ],
)
def test_the_ledger_shows_signed_differences_in_the_units_in_use(old, new, system, text):
    assert difference_text(figure(new), figure(old), system) == text


def test_a_figure_that_was_not_there_before_shows_no_difference():
    assert difference_text(figure(1.0), None, "metric") == ""


def test_rungs_count_the_warnings_of_their_zone(made):
    state, count, grave = stage_state(stage_of("open"), made, "z2")
    mine = [n for n in made.notices if n.stage == "open" and n.zone in ("", "z2")]
    assert (state, count, grave) == ("begun", len(mine), sum(n.grave for n in mine))
    assert stage_state(stage_of("find"), made, "nowhere")[0] == "to do"


def test_the_ledger_flips_between_zone_and_job(window, qtbot):
    window.session.go("z1", "open")
    zone = window.work.ledger.totals["resin.mixed"].value
    qtbot.mouseClick(window.work.ledger.scope, Qt.MouseButton.LeftButton)
    assert (
        window.work.ledger.totals["resin.mixed"].value == window.session.plan.by_id["job.resin.mixed"].shown() != zone
    )
    assert window.work.ledger.scope.text() == "whole job"
    assert window.work.ledger.totals["cost.total"].value == window.session.plan.by_id["cost.total"].shown()


def test_the_strip_shows_air_state_and_warning_and_clears_it(window):
    assert "dew point 10.6" in window.work.strip.air.text() and "2.6 K" in window.work.strip.warning.text()
    window.session.apply(set_value(("air", "surface"), Measure(si=18)))
    assert window.work.strip.warning.text() == ""
    assert "not saved" in window.work.strip.state.text()


def test_the_strip_is_redrawn_only_when_the_boat_or_her_zones_change(window):
    drawing = window.work.strip.picture._drawing
    window.session.apply(set_value(("zones", "z1", "scheme", "cut", "margin"), Measure(si=0.06)))
    assert window.work.strip.picture._drawing is drawing
    window.session.apply(set_value(("zones", "z1", "place", "station"), Measure(si=6.5)))
    assert window.work.strip.picture._drawing is not drawing


@pytest.mark.parametrize(
    ("text", "kind", "optional", "old", "value"),
    [
        ("", Kind.SIZE, True, None, None),
        ("12", Kind.COUNT, False, 3, 12),
        ("5 mm", Kind.SIZE, False, 0.1, 0.005),
        (" name ", None, False, "", "name"),
    ],
)
def test_fields_read_whole_numbers_bare_numbers_text_and_nothing(text, kind, optional, old, value):
    assert read_value(text, kind, optional, "metric", old) == value


def test_a_count_must_be_whole():
    with pytest.raises(Exception, match="whole number"):
        read_value("2.5", Kind.COUNT, False, "metric", 1)


@pytest.mark.parametrize(
    ("value", "kind", "text"),
    [
        (None, Kind.SIZE, ""),
        (Measure(si=0.01), Kind.SIZE, "10.0 mm"),
        (0.3, Kind.SIZE, "300.0 mm"),
        (4, Kind.COUNT, "4"),
    ],
)
def test_stored_values_are_shown_as_typed_things(value, kind, text):
    assert value_text(value, kind, "metric") == text


def test_the_working_escapes_what_people_typed(made):
    odd = Figure(
        "a", "<b>x</b>", 1.0, Kind.MASS, "a < b & c", made.by_id["z1.taper.length"].inputs, "s<i>", "v", ("w<",)
    )
    html = working_html(odd, "metric")
    assert "a &lt; b &amp; c" in html and "s&lt;i&gt;" in html and "<i>" not in html


def test_the_key_sheet_names_every_action_with_a_key():
    sheet = key_sheet()
    assert all(action.key in sheet for action in ACTIONS if action.key)


def test_a_second_window_keeps_its_own_job(window, qapp):
    from ribpatch.ui.app import make_window

    other = make_window(qapp)
    other.menu_action("demo_job").trigger()
    other.session.apply(set_value(("boat", "name"), "Other Punt"))
    assert window.session.job.boat.name == "Heron Reach" and other.session.job.boat.name == "Other Punt"
    other.session.stack.setClean()
    other.close()
    other.deleteLater()
    QApplication.processEvents()


def test_window_state_is_remembered(bare, qapp):
    from ribpatch.ui.settings import Settings

    bare.resize(1111, 777)
    bare.menu_action("units").trigger()
    bare.close()
    again = Settings()
    assert again.system == "us" and not again.geometry.isEmpty()


def test_a_read_only_home_is_no_trouble(tmp_path):
    from ribpatch.ui.settings import Settings

    settings = Settings(tmp_path / "file.txt" / "window.ini")
    assert settings.recent == [] and settings.system == "metric"


def test_a_name_longer_than_its_room_gives_way_and_stands_whole_in_its_tooltip(window):
    name = "The old ferry of the upper lake with the very long name that nobody says"
    window.session.apply(set_value(("boat", "name"), name))
    strip = window.work.strip
    QApplication.processEvents()
    assert strip.name.text().endswith("…") and strip.name.toolTip() == name
    assert strip.name.fontMetrics().horizontalAdvance(strip.name.text()) <= strip.name.width()
    assert strip.units.geometry().left() > strip.name.geometry().right() and not findings(strip)

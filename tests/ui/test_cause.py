"""Cause as a user works it: answers change the ranking, remedies wait in Open and Rebuild, spread is ticked off."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel

from ribpatch.core.diagnosis.zone import diagnosis_of

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def cause(window):
    window.session.go("z2", "cause")
    return window


def chance(window, identity):
    return diagnosis_of(window.session.zone, window.session.plan.shelf).chance(identity)


def words(widget):
    return " ".join(label.text() for label in widget.findChildren(QLabel))


def test_the_argument_names_what_and_why_with_its_evidence(cause):
    said = words(cause.showing.bench("cause_bench"))
    assert "Water in through fasteners" in said and "why it failed" in said
    assert "fitting with bare or failed sealing" in said and "for" in said
    assert "outboard bolts" in words(cause.work.showing.stages["cause"])


def test_an_answer_moves_the_ranking_and_can_be_taken_back(cause, qtbot):
    stage = cause.work.showing.stages["cause"]
    before = chance(cause, "rotted-core")
    qtbot.mouseClick(stage.buttons["plug-soft", "yes"], LEFT)
    assert chance(cause, "rotted-core") > max(before, 0.9)
    assert "Rotted wood core" in cause.showing.bench("cause_bench").sentence.text()
    qtbot.mouseClick(stage.buttons["plug-soft", None], LEFT)
    assert chance(cause, "rotted-core") == pytest.approx(before)
    qtbot.mouseClick(stage.buttons["plug-soft", "unknown"], LEFT)
    assert chance(cause, "rotted-core") == pytest.approx(before)
    assert all(key[0] != "plug-soft" or key[1] is None for key in stage.buttons)


def test_the_survey_can_be_overruled(cause, qtbot):
    stage = cause.work.showing.stages["cause"]
    before = chance(cause, "fastener-ingress")
    qtbot.mouseClick(stage.buttons["fitting-unsealed", "no"], LEFT)
    assert chance(cause, "fastener-ingress") < before
    assert "you said so" in words(stage)


def test_any_question_can_be_answered(cause, qtbot):
    stage = cause.work.showing.stages["cause"]
    stage.every.setCurrentIndex(stage.every.findData("blow"))
    qtbot.mouseClick(stage.buttons["any", "yes"], LEFT)
    assert cause.session.zone.diagnosis.answers[0].finding == "blow"


def test_contradictions_are_shown(cause, qtbot):
    stage = cause.work.showing.stages["cause"]
    for finding, said in (("plug-soft", "yes"), ("moisture-high", "no")):
        if (finding, said) in stage.buttons:
            qtbot.mouseClick(stage.buttons[finding, said], LEFT)
    assert "Does not fit" in words(cause.showing.bench("cause_bench"))


def test_a_chance_shows_its_working(cause, qtbot):
    figure = cause.session.plan.by_id["z2.cause.fastener-ingress"]
    cause.work.ask_working(figure)
    assert cause.work.working.isVisible()
    assert "combinations of causes" in figure.formula and any(
        g.name == "meter far over the reference" for g in figure.inputs
    )


def test_remedies_wait_until_planned_or_overruled_with_a_reason(cause, qtbot):
    session = cause.session
    waiting = [n.id for n in session.plan.notices if n.about == "cause" and n.zone == "z2"]
    assert "z2.remedy.seal-holes" in waiting
    session.go(stage="rebuild")
    panel = cause.work.showing.stages["rebuild"].asked_panel
    qtbot.mouseClick(panel.buttons["seal-holes", "planned"], LEFT)
    assert "few words" in cause.message.label.text() and not session.zone.diagnosis.settled
    panel.lines["seal-holes"].setText("overdrill to 20 mm, silica, redrill")
    qtbot.mouseClick(panel.buttons["seal-holes", "planned"], LEFT)
    assert "z2.remedy.seal-holes" not in [n.id for n in session.plan.notices]
    assert "overdrill to 20 mm" in words(panel)
    qtbot.mouseClick(panel.buttons["seal-holes", None], LEFT)
    panel.lines["seal-holes"].setText("hull sold for scrap")
    qtbot.mouseClick(panel.buttons["seal-holes", "overruled"], LEFT)
    assert session.zone.diagnosis.settled[0].how == "overruled"


def test_places_to_look_are_ticked_off_and_marked_on_the_boat(window, qtbot):
    window.session.go("z1", "cause")
    stage = window.work.showing.stages["cause"]
    place = next(key for key in stage.buttons if key[0] == "zone.z2" and key[1] == "sound")
    qtbot.mouseClick(stage.buttons[place], LEFT)
    assert window.session.zone.diagnosis.looked[0].found == "sound"
    from ribpatch.core.diagnosis.zone import look_marks

    marks = look_marks(window.session.job, window.session.zone, window.session.plan.shelf)
    assert marks[1] == "✓" and marks[0] == "" and "?" in marks
    qtbot.mouseClick(stage.buttons["zone.z2", None], LEFT)
    assert not window.session.zone.diagnosis.looked


def test_cause_without_a_zone_and_in_the_dark(window):
    window.session.go("z1", "cause")
    window.menu_action("theme").trigger()
    assert window.showing.bench("cause_bench").theme == "dark"
    window.menu_action("theme").trigger()
    from ribpatch.core.edits import remove_zone

    for zone in list(window.session.job.zones):
        window.session.apply(remove_zone(zone.id))
    assert "No zone yet" in window.showing.bench("cause_bench").heading.text()

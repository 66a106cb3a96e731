"""The picture first, the rest when it is painted; a stage declared in one place."""

import subprocess
import sys

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication

from ribpatch.core.edits import set_value
from ribpatch.core.errors import Fault
from ribpatch.core.record import evolve
from ribpatch.core.units import Measure
from ribpatch.stages import STAGES, Stage
from ribpatch.ui.frame.boat_strip import zone_hatch

RATIO = ("zones", "z1", "scheme", "taper", "ratio")


@pytest.fixture
def two(window, qtbot):
    """The demo job shown in two steps, as users have it."""
    window.showing.at_once = False
    QApplication.processEvents()
    return window


def taper(window, ratio):
    assert window.session.apply(set_value(RATIO, Measure(si=ratio)))


def waiting(window):
    return [total.waiting for total in window.work.ledger.totals.values()]


def test_the_picture_comes_first_and_the_ledger_shows_that_it_waits(two, qtbot):
    drawing, old = two.zone_bench.plan_canvas.drawing, two.work.ledger.totals["resin.mixed"].value
    taper(two, 20)
    assert two.zone_bench.plan_canvas.drawing is not drawing
    assert all(waiting(two)) and two.work.ledger.totals["resin.mixed"].value == old
    qtbot.waitUntil(lambda: not any(waiting(two)))
    resin = two.session.plan.figure("z1.resin.mixed")
    assert two.work.ledger.totals["resin.mixed"].value == resin.shown() != old
    assert two.work.ledger.totals["resin.mixed"].difference.startswith("+")


def test_a_waiting_total_is_painted_otherwise(two):
    total = two.work.ledger.totals["resin.mixed"]
    before = total.grab().toImage()
    two.work.ledger.wait()
    assert total.grab().toImage() != before


def test_edits_that_come_faster_share_one_second_step(two, qtbot):
    seen = []
    two.showing.refreshed.connect(seen.append)
    before = two.session.plan.figure("z1.taper.length").value
    for ratio in (14, 16, 18, 20):
        taper(two, ratio)
    qtbot.waitUntil(lambda: not any(waiting(two)))
    assert seen == [two.session.plan]
    step = two.session.plan.figure("z1.taper.length").value - before
    assert step > 0, "the differences shown are against what was shown before"


def test_a_window_that_is_not_painted_gets_its_second_step_all_the_same(two, qtbot):
    two.hide()
    taper(two, 9)
    qtbot.waitUntil(lambda: not any(waiting(two)), timeout=3000)
    assert two.work.showing.stages["open"].session.plan.figure("z1.taper.length").value == pytest.approx(0.004 * 9)


def test_an_edit_that_cannot_be_planned_changes_nothing(two, monkeypatch):
    job, drawing = two.session.job, two.zone_bench.plan_canvas.drawing
    monkeypatch.setattr("ribpatch.ui.session.plan", lambda *_: (_ for _ in ()).throw(Fault(reason="cannot be planned")))
    assert not two.session.apply(set_value(RATIO, Measure(si=20)))
    assert two.session.job is job and two.zone_bench.plan_canvas.drawing is drawing
    assert not any(waiting(two))


def test_only_the_zone_and_stage_shown_are_worked_out(two, qtbot):
    two.session.go("z2", "open")
    qtbot.waitUntil(lambda: not any(waiting(two)))
    taper(two, 17)  # of the foredeck, while the transom is looked at
    qtbot.waitUntil(lambda: not any(waiting(two)))
    assert "figures" not in two.session.plan.zone("z1").__dict__
    assert set(two.work.showing.stages) == {"open"}


def test_undo_before_the_second_step_shows_what_is(two, qtbot):
    old = two.work.ledger.totals["resin.mixed"].value
    taper(two, 20)
    two.menu_action("undo").trigger()
    qtbot.waitUntil(lambda: not any(waiting(two)))
    assert two.work.ledger.totals["resin.mixed"].value == old


NEW_RUNG = """
import sys
from types import ModuleType
from ribpatch import stages
from ribpatch.ui.stages.stage import Stage as Decisions

class Mast(Decisions):
    name, title = "mast", "Step the mast"
    def build(self):
        self.card("Mast")

module = ModuleType("ribpatch.ui.stages.mast"); module.STAGE = Mast; sys.modules[module.__name__] = module
stages.STAGES = (*stages.STAGES[:5], stages.Stage("mast", "&Mast", "F10", lambda plan, zone: False), *stages.STAGES[5:])

from PySide6.QtWidgets import QApplication
from ribpatch.ui.app import make_app, make_window
app = make_app([]); window = make_window(app)
window.menu_action("demo_job").trigger(); window.show(); QApplication.processEvents()
window.work.ladder.rungs["mast"].click()
window.showing.finish()
print(window.work.ladder.rungs["mast"].text(), window.work.showing.stages["mast"].heading.text(), window.zone_bench.isVisible(),
      list(window.work.ladder.rungs).index("mast"), window.work.ladder.rungs["mast"].state)
window.session.stack.setClean(); window.close()
"""


def test_a_new_rung_is_one_row_and_one_module():
    run = subprocess.run([sys.executable, "-c", NEW_RUNG], capture_output=True, text=True, timeout=60)
    assert run.stdout.strip() == "&Mast Step the mast True 5 to do", run.stderr


def test_every_stage_has_an_id_a_key_and_an_alt_letter_of_its_own():
    for what in (lambda s: s.id, lambda s: s.key, lambda s: s.title[s.title.index("&") + 1].lower()):
        found = [what(stage) for stage in STAGES]
        assert len(set(found)) == len(found)
    assert isinstance(STAGES[0], Stage)


def test_f_keys_follow_the_table(two, qtbot):
    for stage in STAGES:
        qtbot.keyClick(two, getattr(Qt.Key, f"Key_{stage.key}"))
        assert two.session.stage == stage.id


def test_a_job_of_many_zones_shows_the_one_looked_at_and_works_the_others_out_when_nothing_is_asked(bare, job, qtbot):
    bare.showing.at_once = False
    zones = tuple(evolve(job.zones[n % 4], id=f"z{n + 1}", name=f"Zone {n + 1}") for n in range(12))
    bare.show_new_job(evolve(job, zones=zones, notes="twelve"), "open")
    plan = bare.session.plan
    bare.showing.finish()
    known = [z.has_patch for z in plan.zones]
    assert known[0] and not all(known)
    qtbot.waitUntil(lambda: all(z.has_patch for z in plan.zones), timeout=10_000)
    qtbot.waitUntil(lambda: not bare.showing._ahead.isActive())
    assert zone_hatch(plan.zones[11]) == zone_hatch(plan.zones[3]) == "stitched"

"""The whole path in one sitting, as a new user would walk it, with a CSV that is not ours."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QFileDialog, QPushButton
from tests.papers import flat, text_of

from ribpatch.jobfile import archive, recovery
from ribpatch.ui.app import make_window
from ribpatch.ui.import_dialog import ImportDialog

# As another program might write it: semicolons, decimal commas, inches, a trade's own words, Windows letters.
FOREIGN = """Along (in);Up (in);What;Reading;Größe
12;-20;hammer;ring;
16,5;-18;hammer;dull;
20;-18;hammer;drummy;
22;-16;meter;44,5;
24;-18;hammer;crunch;
28;-19;hammer;flat;
300;10;hammer;dull;
30;x;hammer;dull;
"""


def press(window, qtbot, text, within):
    button = next(b for b in within.findChildren(QPushButton) if b.text() == text)
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)


def ledger(window):
    return {key: (total.value, total.difference) for key, total in window.work.ledger.totals.items()}


def test_from_a_foreign_csv_to_a_work_pack(bare, qtbot, qapp, tmp_path, monkeypatch, drag, one_zone):
    window = bare
    qtbot.mouseClick(window.start_page.demo, Qt.MouseButton.LeftButton)
    first = window.session.job

    # Readings that are not ours.
    csv = tmp_path / "survey.csv"
    csv.write_bytes(FOREIGN.encode("cp1252"))
    monkeypatch.setattr(ImportDialog, "exec", lambda dialog: ImportDialog.DialogCode.Accepted)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a, **k: (str(csv), ""))
    window.session.go("z1", "find")
    before = window.session.plan.by_id["z1.extent.area"].value
    window.menu_action("import_readings").trigger()
    qtbot.waitUntil(lambda: window.session.stack.count() == 1)
    assert window.menu_action("undo").text() == "&Undo import 6 readings"
    assert window.session.plan.by_id["z1.extent.area"].value > before

    # The cut line by hand, the taper from 12 to 20, a heavier cloth.
    window.session.go("z1", "open")
    bench = window.zone_bench
    corner = min(bench.corners.rings[0])
    drag(bench.plan_canvas, corner, (corner[0] - 0.05, corner[1] - 0.04))
    assert window.session.zone.scheme.cut.drawn is not None
    resin = window.session.plan.by_id["z1.resin.mixed"].value
    press(window, qtbot, "20:1", window.work.showing.stages["open"])
    assert window.session.zone.scheme.taper.ratio.si == 20
    assert window.session.plan.by_id["z1.resin.mixed"].value > resin
    assert ledger(window)["resin.mixed"][1].startswith("+")
    window.session.go("z1", "rebuild")
    _, fabric, _ = window.work.showing.stages["rebuild"].stack_editor.row(0)
    fabric.setCurrentIndex(fabric.findData("biax-45-800"))
    fabric.activated.emit(fabric.currentIndex())
    assert ledger(window)["weight.on"][1].startswith("+")

    # Two figures are asked for their working.
    for key, words in (("weight.on", "sum of the parts"), ("cup.all", "rounded up")):
        window.work.ledger.totals[key].click()
        assert words in window.work.working.text.text()
        qtbot.keyClick(window.work.working, Qt.Key.Key_Escape)

    # Everything is undone, and done again.
    last = window.session.job
    while window.session.stack.canUndo():
        window.menu_action("undo").trigger()
    assert window.session.job == first
    while window.session.stack.canRedo():
        window.menu_action("redo").trigger()
    assert window.session.job == last

    # Saved; edited again; the process dies (its lock goes, its copy stays) and another window recovers it.
    file = tmp_path / "launch.ribpatch"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(file), ""))
    window.menu_action("save").trigger()
    press_ratio = window.showing.stage("open")
    window.session.go("z1", "open")
    press(window, qtbot, "8:1", press_ratio)
    qtbot.waitUntil(lambda: "kept for recovery" in window.work.strip.state.text())
    window.documents._autosave._lock.close()
    window.session.close()
    other = make_window(qapp)
    (item,) = other.documents.found()
    assert other.documents.recover(item)
    assert other.session.zone.scheme.taper.ratio.si == 8 and archive.load(file).zone("z1").scheme.taper.ratio.si == 20
    assert recovery.found() == ()

    # The work pack is exported and read.
    pack = tmp_path / "pack.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(pack), ""))
    other.show_work()
    one_zone(other, "z1")
    other.menu_action("work_pack").trigger()
    qtbot.waitUntil(pack.is_file, timeout=20000)
    text = flat(text_of(pack.read_bytes()))
    assert "Heron Reach: work pack" in text and other.session.plan.by_id["z1.taper.length"].shown() in text
    assert other.session.plan.by_id["z1.taper.length"].value == pytest.approx(0.032)
    qtbot.waitUntil(lambda: "pack.pdf" in other.message.label.text())
    other.session.stack.setClean()
    other.close()
    other.deleteLater()
    QApplication.processEvents()

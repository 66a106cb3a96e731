"""Every dialog of the program in a small window with large text: whole, within it, nothing cut off."""

from __future__ import annotations

import pytest
from PIL import Image
from tests.core.photo.test_pixels import photograph
from tests.ui.geometry import findings, settle
from tests.ui.test_find import recording

from ribpatch.core.survey.acoustics import strikes_in
from ribpatch.formats.csv_columns import UnclearColumns
from ribpatch.formats.outline_file import read_outlines
from ribpatch.formats.readings_csv import read_text, write_text
from ribpatch.formats.recordings import read_wave
from ribpatch.ui.import_dialog import ColumnsDialog, ImportDialog
from ribpatch.ui.outline_dialog import OutlineDialog
from ribpatch.ui.paper_actions import PaperActions
from ribpatch.ui.print_dialog import PrintDialog
from ribpatch.ui.recording_dialog import Recording, RecordingDialog
from ribpatch.ui.scaling import set_factor
from ribpatch.ui.straighten_dialog import StraightenDialog

TWO_BOXES = (
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 50">'
    '<path d="M0 0L100 0L100 50L0 50Z"/><path d="M10 10L20 10L20 20L10 20Z"/></svg>'
)


def of_readings(window, _folder):
    zone, shelf = window.session.job.zone("z1"), window.session.plan.shelf
    survey = zone.survey
    text = write_text(survey.readings, survey.references, survey.sessions)
    read = read_text(f"{text}\n1,2,tap,odd\n", "utf-8", zone.outline, shelf, "taps.csv")
    return ImportDialog("taps of the foredeck, second day.csv", zone.name, read, window.session.system, window)


def of_columns(window, _folder):
    zone, shelf = window.session.job.zone("z1"), window.session.plan.shelf
    with pytest.raises(UnclearColumns) as unclear:
        read_text("a,b,c,d\n1,2,tap,dull\n", "utf-8", zone.outline, shelf, "taps.csv")
    return ColumnsDialog("taps.csv", unclear.value, {}, window)


def of_a_recording(window, folder):
    path = recording(folder / "taps.wav", "rotted", "disbonded", "sound")
    samples, rate = read_wave(path.read_bytes(), path.name)
    made = Recording(path.name, path.read_bytes(), samples, rate, strikes_in(samples, rate, path.name))
    return RecordingDialog(made, window.session, window.session.zone, window, window.settings.look)


def of_a_photograph(window, folder):
    Image.fromarray(photograph(2)).save(folder / "board.png")
    data = (folder / "board.png").read_bytes()
    return StraightenDialog(data, None, window.session.system, window.settings.look, window)


def of_an_outline(window, folder):
    path = folder / "outline.svg"
    path.write_text(TWO_BOXES)
    return OutlineDialog(path.name, read_outlines(path), window.session.system, window.settings.look, window)


def of_papers(window, _folder):
    return PrintDialog(window, "set_off_sheet", PaperActions(window).write)


@pytest.mark.parametrize("make", [of_readings, of_columns, of_a_recording, of_a_photograph, of_an_outline, of_papers])
@pytest.mark.parametrize("look", [("shed", "units"), ("theme",)])
def test_a_dialog_fits_a_small_window(window, tmp_path, make, look):
    window.resize(1024, 700)
    for action in look:
        window.menu_action(action).trigger()
    try:
        dialog = make(window, tmp_path)
        dialog.show()
        settle()
        window.tasks.wait()
        settle()
        least = dialog.minimumSizeHint().expandedTo(dialog.minimumSize())
        assert window.size().expandedTo(dialog.size().expandedTo(least)) == window.size()
        assert not findings(dialog), "\n".join(findings(dialog))
        dialog.done(0)
    finally:
        set_factor(1.0)


def test_a_recording_is_drawn_in_the_colours_of_the_window(window, tmp_path, monkeypatch, qtbot):
    window.menu_action("theme").trigger()
    seen = []
    monkeypatch.setattr(RecordingDialog, "exec", lambda dialog: seen.append(dialog.wave.theme))
    window.documents.open_recording(recording(tmp_path / "taps.wav", "sound"))
    qtbot.waitUntil(lambda: bool(seen))
    assert seen == [window.settings.look] and "dark" in seen[0]

"""The command line as people use it: exit codes, one line a fault, and no Qt."""

import json
import os
import stat
import subprocess
import sys

import numpy as np
import pytest

from ribpatch.__main__ import main
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve
from ribpatch.core.survey.hammer import RATE, Panel, strike_wave
from ribpatch.core.timetable import Timetable
from ribpatch.formats.recordings import wave_bytes
from ribpatch.jobfile import archive
from ribpatch.jobfile.lock import JobLock


@pytest.fixture
def file(tmp_path, capsys):
    path = tmp_path / "demo.ribpatch"
    assert main(["demo-job", "-o", str(path)]) == 0
    return path


@pytest.fixture
def small(file):
    """The demo with its smallest zone alone: the same code in a fraction of the time."""
    job = archive.load(file)
    archive.save(evolve(job, zones=job.zones[3:]), file)
    return file


def test_plan_as_json_holds_every_figure(small, capsys, shelf):
    made = plan(archive.load(small), shelf)
    assert main(["plan", str(small), "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    rows = {row["id"]: row for row in found["figures"]}
    assert rows.keys() == {f.id for f in made.all_figures} > made.by_id.keys()
    assert rows["z4.taper.length"]["value"] == pytest.approx(0.084) and rows["z4.taper.length"]["unit"] == "m"
    assert found["warnings"] and all(w["text"] for w in found["warnings"])


def test_plan_in_us_units_changes_only_what_is_shown(small, capsys):
    main(["plan", str(small), "--json"])
    metric = json.loads(capsys.readouterr().out)["figures"]
    main(["plan", str(small), "--json", "--units", "us"])
    us = json.loads(capsys.readouterr().out)["figures"]
    assert [r["value"] for r in metric] == [r["value"] for r in us]
    assert next(r for r in us if r["id"] == "z4.taper.length")["shown"] == "3 5/16 in"
    assert all(r["leans"] == [] for r in us)  # everything of the demo is stated


def test_plain_plan_and_check(small, capsys):
    assert main(["plan", str(small)]) == 0
    assert "z4.taper.length" in capsys.readouterr().out
    assert main(["check", str(small)]) == 0
    assert "1 zone" in capsys.readouterr().out


def test_import_readings_by_name_or_id(file, tmp_path, capsys):
    csv = tmp_path / "r.csv"
    csv.write_text("x;y;kind;value\n300,5;200;tap;dull\n1;2;foo;3\n")
    out = tmp_path / "more.ribpatch"
    assert main(["import-readings", str(file), "Foredeck", str(csv), "-o", str(out)]) == 0
    said = capsys.readouterr()
    assert "1 reading added" in said.out and "line 3" in said.err
    before, after = (len(archive.load(p).zone("z1").survey.readings) for p in (file, out))
    assert after == before + 1


@pytest.mark.parametrize("zone", ["z9", "Nowhere"])
def test_an_unknown_zone_lists_the_zones(file, tmp_path, capsys, zone):
    csv = tmp_path / "r.csv"
    csv.write_text("x,y,kind,value\n1,1,tap,ring\n")
    assert main(["import-readings", str(file), zone, str(csv), "-o", str(tmp_path / "o.ribpatch")]) == 1
    assert "z1 (Foredeck)" in capsys.readouterr().err
    assert not (tmp_path / "o.ribpatch").exists()


def test_wrong_input_exits_1_with_one_line_a_fault(tmp_path, capsys):
    bad = tmp_path / "bad.ribpatch"
    bad.write_text("no zip")
    for command in (["plan", str(bad)], ["check", str(bad)], ["report", str(bad), "-o", str(tmp_path / "x.pdf")]):
        assert main(command) == 1
        lines = capsys.readouterr().err.strip().splitlines()
        assert len(lines) == 1 and "bad.ribpatch" in lines[0]


@pytest.mark.parametrize("command", [["plan"], ["report", "x"], ["schema", "extra"], ["import-readings", "a"]])
def test_wrong_usage_exits_2(command, capsys):
    assert main(command) == 2
    assert "usage" in capsys.readouterr().err


def test_a_folder_that_cannot_be_written_is_told(small, tmp_path, capsys):
    assert main(["report", str(small), "-o", str(tmp_path / "no" / "x.pdf")]) == 1
    assert "cannot be written" in capsys.readouterr().err
    assert main(["demo-job", "-o", str(tmp_path / "no" / "x.ribpatch")]) == 1


def test_schema_version_and_shopping(small, tmp_path, capsys):
    assert main(["schema"]) == 0
    assert json.loads(capsys.readouterr().out)["title"].startswith("Rib Patch job")
    assert main(["--version"]) == 0
    assert "Rib Patch 0." in capsys.readouterr().out
    assert main(["shopping", str(small), "-o", str(tmp_path / "s.csv")]) == 0
    assert (tmp_path / "s.csv").read_text().startswith("group,item")


def test_the_command_line_and_core_never_load_qt(small, tmp_path):
    code = (
        "import sys; from ribpatch.__main__ import main; "
        f"assert main(['plan', {str(small)!r}, '--json']) == 0; assert main(['report', {str(small)!r}, '-o', {str(tmp_path / 'p.pdf')!r}]) == 0; "
        "bad = [m for m in sys.modules if m.split('.')[0] in ('PySide6', 'shiboken6', 'pyqtgraph', 'matplotlib', 'tkinter')]; assert not bad, bad"
    )
    run = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, timeout=120)
    assert run.returncode == 0, run.stderr


def test_neither_a_command_nor_a_file_is_wrong_usage(tmp_path):
    run = subprocess.run([sys.executable, "-m", "ribpatch", "frobnicate"], capture_output=True, text=True, timeout=120)
    assert run.returncode == 2 and "neither a command nor a job file" in run.stderr


def test_survey_report_and_findings_sheet(file, tmp_path, capsys):
    for extra, name in (([], "report.pdf"), (["--zone", "Transom"], "sheet.pdf")):
        assert main(["survey", str(file), "-o", str(tmp_path / name), *extra]) == 0
        assert (tmp_path / name).read_bytes()[:5] == b"%PDF-"
    assert main(["survey", str(file), "-o", str(tmp_path / "x.pdf"), "--zone", "Keel"]) == 1
    assert "Keel" in capsys.readouterr().err


def test_readings_go_out_and_come_in_again(file, tmp_path, capsys):
    out, more = tmp_path / "r.csv", tmp_path / "more.ribpatch"
    assert main(["export-readings", str(file), "Foredeck", "-o", str(out)]) == 0
    assert main(["import-readings", str(file), "Foredeck", str(out), "-o", str(more)]) == 0
    before, after = (archive.load(p).zone("z1").survey.readings for p in (file, more))
    assert len(after) == 2 * len(before)
    assert [(r.kind, r.x, r.y) for r in after[len(before) :]] == [(r.kind, r.x, r.y) for r in before]


def test_taps_are_measured_and_judged(tmp_path, capsys):
    rng = np.random.default_rng(4)
    for name, state in (("sound", "sound"), ("loose", "disbonded")):
        wave = np.concatenate([strike_wave(Panel(), state, rng, 30) for _ in range(3)])
        (tmp_path / f"{name}.wav").write_bytes(wave_bytes(wave, RATE))
    loose, sound = str(tmp_path / "loose.wav"), str(tmp_path / "sound.wav")
    assert main(["taps", loose]) == 0
    assert "no reference: nothing is said" in capsys.readouterr().out
    assert main(["taps", loose, "--reference", sound]) == 0
    assert capsys.readouterr().out.count("drummy") == 3
    (tmp_path / "text.wav").write_text("no sound")
    assert main(["taps", str(tmp_path / "text.wav")]) == 1
    assert "no WAV" in capsys.readouterr().err


@pytest.mark.parametrize(
    ("what", "name", "start"),
    [("plan", "a.svg", b"<?xml"), ("section", "b.dxf", b"  0"), ("section", "c.pdf", b"%PDF")],
)
def test_drawings_are_written_by_their_suffix(file, tmp_path, what, name, start):
    out = tmp_path / name
    assert main(["drawing", str(file), "Foredeck", what, "-o", str(out), "--units", "us", "--paper", "Letter"]) == 0
    assert out.read_bytes().startswith(start)


def test_a_drawing_of_an_unknown_suffix_or_zone_is_told(file, tmp_path, capsys):
    assert main(["drawing", str(file), "Foredeck", "plan", "-o", str(tmp_path / "a.doc")]) == 1
    assert main(["templates", str(file), "Keel", "-o", str(tmp_path / "a.pdf")]) == 1
    said = capsys.readouterr().err
    assert ".svg, .dxf, .pdf or .png" in said and "Keel" in said and not list(tmp_path.glob("a.*"))


def test_templates_are_written_full_size(file, tmp_path):
    out = tmp_path / "t.pdf"
    assert main(["templates", str(file), "z4", "-o", str(out)]) == 0
    assert out.read_bytes().startswith(b"%PDF")


def test_the_cut_plan_is_written_in_each_form(file, tmp_path):
    for name, start in (("c.svg", b"<?xml"), ("c.dxf", b"  0"), ("c.pdf", b"%PDF")):
        out = tmp_path / name
        assert main(["cut", str(file), "-o", str(out)]) == 0 and out.read_bytes().startswith(start)
        core = tmp_path / f"core-{name}"
        assert main(["cut", str(file), "--core", "-o", str(core)]) == 0 and core.read_bytes().startswith(start)
    told = (tmp_path / "core-c.svg").read_text()
    assert "marine plywood" in told and "biaxial" not in told
    assert main(["cut", str(file), "-o", str(tmp_path / "c.txt")]) == 1 and not (tmp_path / "c.txt").exists()


# ---- what a command may never do ----

PAPERS = (
    ["report"], ["survey"], ["shopping"], ["export-readings", "Foredeck"], ["templates", "Foredeck"], ["cut"], ["drawing", "Foredeck", "plan"],
)  # fmt: skip


@pytest.mark.parametrize("command", PAPERS, ids=lambda c: c[0])
def test_no_command_writes_over_its_input_or_another_job(file, tmp_path, capsys, command):
    other = tmp_path / "other.ribpatch"
    other.write_bytes(file.read_bytes())
    if command[0] in ("drawing", "cut"):
        (tmp_path / "x.svg").symlink_to(other)
        outs = [tmp_path / "x.svg"]
    else:
        outs = [file, other, tmp_path / "new.ribpatch", tmp_path / ".." / tmp_path.name / "demo.ribpatch"]
    before = file.read_bytes()
    for out in outs:
        assert main([command[0], str(file), *command[1:], "-o", str(out)]) == 1
        said = capsys.readouterr().err.strip().splitlines()
        assert len(said) == 1 and ("job" in said[0] or "lost" in said[0])
    assert file.read_bytes() == before == other.read_bytes() and not (tmp_path / "new.ribpatch").exists()


@pytest.mark.parametrize("command", [*PAPERS, ["demo-job"]], ids=lambda c: c[0])
def test_no_name_to_write_to_is_told(file, capsys, command):
    source = [] if command == ["demo-job"] else [str(file)]
    assert main([command[0], *source, *command[1:], "-o", ""]) == 1
    said = capsys.readouterr().err.strip().splitlines()
    assert len(said) == 1 and ("no file name" in said[0] or ".svg" in said[0])


def test_the_demo_job_is_not_written_over_another(file, tmp_path, capsys):
    assert main(["demo-job", "-o", str(file)]) == 0, "over itself it may be"
    csv = tmp_path / "r.csv"
    csv.write_text("x,y,kind,value\n300,200,tap,dull\n")
    assert main(["import-readings", str(file), "z1", str(csv), "-o", str(file)]) == 0
    changed = file.read_bytes()
    assert main(["demo-job", "-o", str(file)]) == 1 and file.read_bytes() == changed
    assert "holds something else" in capsys.readouterr().err


def test_a_job_open_in_a_window_is_not_written(file, tmp_path, capsys):
    csv = tmp_path / "r.csv"
    csv.write_text("x,y,kind,value\n300,200,tap,dull\n300,200,tap,dull\n")
    held = JobLock(file)
    command = ["import-readings", str(file), "z1", str(csv), "-o", str(file)]
    assert main(command) == 1 and "another Rib Patch" in capsys.readouterr().err
    link = tmp_path / "link.ribpatch"
    link.symlink_to(file)
    assert main([*command[:-1], str(link)]) == 1, "by its real file"
    held.release()
    assert main([*command[:-1], str(link)]) == 0 and link.is_symlink()
    assert "2 readings added to Foredeck, 1 of them at a place that another row reads too" in capsys.readouterr().out


def test_check_reads_every_member_and_names_the_damaged(tmp_path, capsys, job):
    from ribpatch.core import survey_edits
    from ribpatch.jobfile.album import Album

    album, path = Album(), tmp_path / "a.ribpatch"
    member = album.add("photographs/", b"picture", ".jpg")
    archive.save(survey_edits.add_photograph("z1", member, "core").change(job), path, album=album)
    assert main(["check", str(path)]) == 0
    raw = bytearray(path.read_bytes())
    raw[raw.index(b"picture")] ^= 1
    path.write_bytes(raw)
    capsys.readouterr()
    assert main(["check", str(path)]) == 1
    said = capsys.readouterr().err
    assert "“core”" in said and "Foredeck" in said and member not in said and len(said.strip().splitlines()) == 1


@pytest.mark.parametrize("command", ["plan --json", "schema"])
def test_an_output_that_is_full_or_of_another_encoding_is_no_crash(small, command):
    words = [*command.split()[:1], *([] if command == "schema" else [str(small)]), *command.split()[1:]]
    run = [sys.executable, "-m", "ribpatch", *words]
    if os.path.exists("/dev/full"):
        with open("/dev/full", "w") as full:
            ended = subprocess.run(run, stdout=full, stderr=subprocess.PIPE, text=True)
        assert ended.returncode == 1 and ended.stderr.strip().splitlines() == [
            "ribpatch: the output cannot be written (No space left on device)."
        ]
    ended = subprocess.run(run, env={**os.environ, "PYTHONIOENCODING": "ascii", "PYTHONUTF8": "0"}, capture_output=True)
    assert ended.returncode == 0 and not ended.stderr and ended.stdout.isascii()
    if "json" in command:
        assert any("°" in f["shown"] for f in json.loads(ended.stdout)["figures"])


def test_a_file_name_that_is_no_text_works(file, tmp_path):
    odd = os.path.join(os.fsencode(tmp_path), b"launch-\xff.ribpatch")
    os.rename(os.fsencode(file), odd)
    run = [sys.executable, "-m", "ribpatch"]
    ended = subprocess.run([*run, b"check", odd], capture_output=True)
    assert ended.returncode == 0 and b"4 zones" in ended.stdout, ended.stderr
    ended = subprocess.run([*run, b"survey", odd, b"--zone", b"Transom", b"-o", odd + b".pdf"], capture_output=True)
    assert ended.returncode == 0 and os.path.exists(odd + b".pdf"), ended.stderr
    ended = subprocess.run([*run, b"check", odd + b"x"], capture_output=True)
    assert ended.returncode == 1 and b"is not there" in ended.stderr and b"Traceback" not in ended.stderr


def test_a_state_folder_that_cannot_be_written_is_told_and_the_command_works(file, tmp_path, capsys, monkeypatch):
    (tmp_path / "flat").write_text("")
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "flat"))
    assert main(["demo-job", "-o", str(tmp_path / "new.ribpatch")]) == 0
    said = capsys.readouterr().err
    assert "would not be noticed" in said and archive.load(tmp_path / "new.ribpatch")


def test_the_survey_map_is_drawn_too(file, tmp_path):
    assert main(["drawing", str(file), "Foredeck", "survey", "-o", str(tmp_path / "map.SVG")]) == 0
    assert b"data:image/png" in (tmp_path / "map.SVG").read_bytes()


def test_the_days_of_a_job_are_written(file, tmp_path, capsys):
    job = archive.load(file)
    job = evolve(job, zones=job.zones[3:])
    archive.save(job, file)
    assert main(["days", str(file), "--seconds", "1", "-o", str(tmp_path / "d.json")]) == 0
    made = json.loads((tmp_path / "d.json").read_bytes())
    assert made["begin"] == "2026-11-30" and made["finish"] >= made["bound"] and len(made["steps"]) > 12
    assert made["nine in ten"][0] <= made["finish"] <= made["nine in ten"][1]
    assert main(["days", str(file), "--seconds", "0.2", "-o", str(tmp_path / "d.xls")]) == 1
    assert main(["days", str(file), "--seconds", "0.2", "--day", "2026-12-01", "-o", str(tmp_path / "d.pdf")]) == 0
    assert (tmp_path / "d.pdf").read_bytes().startswith(b"%PDF")
    archive.save(evolve(job, timetable=Timetable(weeks=1)), tmp_path / "short.ribpatch")
    for words, more in (
        ("states no day", []),
        ("no date", ["--begin", "soon"]),
        ("No plan", ["--begin", "2026-11-30"]),
    ):
        capsys.readouterr()
        out = ["-o", str(tmp_path / "n.ics"), "--seconds", "2"]
        assert main(["days", str(tmp_path / "short.ribpatch"), *more, *out]) == 1
        assert words in capsys.readouterr().err and not (tmp_path / "n.ics").exists()


def test_outlines_of_a_drawing_and_of_a_set_off_sheet(tmp_path, capsys):
    from tests.core.photo.sheet_picture import as_picture, page, photographed

    path = tmp_path / "a.svg"
    path.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="9cm" viewBox="0 0 90 90"><rect width="60" height="30"/></svg>'
    )
    assert main(["outlines", str(path)]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["units_stated"] and len(told["outlines"]) == 1
    shape = ((0.02, 0.03), (0.14, 0.02), (0.15, 0.12))
    picture = tmp_path / "sheet.jpg"
    as_picture(photographed(page(shape))).save(picture, quality=92)
    assert main(["outlines", str(picture), "--length", "0.32", "--width", "0.48"]) == 0
    ring = json.loads(capsys.readouterr().out)["outlines"][0]["ring"]
    assert max(x for x, _ in ring) == pytest.approx(0.3, abs=0.003)  # the marks were said to stand twice as far apart
    path.write_text("nothing")
    assert main(["outlines", str(path)]) == 1 and "a.svg" in capsys.readouterr().err


# ---- what must not be lost, waited for or printed ----


def test_readings_are_imported_into_the_job_read_or_a_new_name_and_nothing_else(file, tmp_path, capsys, job):
    csv = tmp_path / "r.csv"
    csv.write_text("x,y,kind,value\n300,200,tap,ring\n")
    other, note = tmp_path / "other.ribpatch", tmp_path / "note.txt"
    archive.save(evolve(job, notes="another"), other)
    note.write_text("keep me")
    os.link(csv, tmp_path / "same.csv")
    for out in (csv, other, note, tmp_path / "same.csv"):
        before = out.read_bytes()
        assert main(["import-readings", str(file), "z1", str(csv), "-o", str(out)]) == 1
        assert "would be lost" in capsys.readouterr().err and out.read_bytes() == before
    new = tmp_path / "new.ribpatch"
    assert main(["import-readings", str(file), "z1", str(csv), "-o", str(new)]) == 0
    assert main(["import-readings", str(file), "z1", str(csv), "-o", str(file)]) == 0
    assert archive.load(file) == archive.load(new) != job


def test_what_is_kept_is_its_owners_only(tmp_path, job, monkeypatch):
    from ribpatch.core.shop import Shop
    from ribpatch.folders import user_folder
    from ribpatch.jobfile import recovery
    from ribpatch.jobfile.lock import JobLock
    from ribpatch.library.shop import write_shop

    def mode(path):
        return stat.S_IMODE(path.stat().st_mode)

    before = os.umask(0o022)
    try:
        path = tmp_path / "a.ribpatch"
        archive.save(job, path)
        assert mode(path) == 0o600
        path.chmod(0o640)  # what its owner lets others read stays so
        archive.save(evolve(job, notes="again"), path)
        assert mode(path) == mode(tmp_path / "a.ribpatch~") == 0o640
        user_folder("STATE").mkdir(parents=True, mode=0o755)
        kept, lock = recovery.Autosave(), JobLock(path)
        kept.write(job, path, {})
        write_shop(Shop())
        assert mode(kept.copy) == mode(kept.note) == mode(user_folder("DATA") / "library" / "shop.json") == 0o600
        for folder in (kept.copy.parent, user_folder("STATE"), user_folder("DATA"), user_folder("DATA") / "library"):
            assert mode(folder) == 0o700, folder
        lock.release()
        kept.close()
        assert mode(tmp_path) != 0o700 or tmp_path.stat().st_uid == os.getuid()
    finally:
        os.umask(before)


def test_a_hard_link_is_the_same_file_until_one_of_the_two_is_written(tmp_path, job):
    from ribpatch.core.errors import JobInUse
    from ribpatch.jobfile.lock import JobLock

    path, link = tmp_path / "a.ribpatch", tmp_path / "b.ribpatch"
    archive.save(job, path)
    os.link(path, link)
    held = JobLock(path)
    with pytest.raises(JobInUse, match=str(os.getpid())):
        JobLock(link)
    archive.save(evolve(job, notes="written"), path)
    held.renew()
    other = JobLock(link)  # it is another file now
    other.release()
    third = tmp_path / "c.ribpatch"
    os.link(path, third)
    with pytest.raises(JobInUse):
        JobLock(third)
    held.release()
    JobLock(third).release()


def test_a_pipe_that_nobody_writes_into_is_not_waited_for_and_one_that_is_written_is_read(
    tmp_path, monkeypatch, capsys
):
    from threading import Thread

    from ribpatch.core.errors import FileProblem
    from ribpatch.formats import whole_file

    pipe = tmp_path / "p.svg"
    os.mkfifo(pipe)
    monkeypatch.setattr(whole_file, "SILENT", 0.2)
    with pytest.raises(FileProblem, match="is a pipe into which nothing was written"):
        whole_file.read_whole(pipe, 1000, FileProblem, "")
    monkeypatch.setattr(whole_file, "SILENT", 300.0)
    writer = Thread(target=lambda: pipe.write_bytes(b"x" * 300_000))
    writer.start()
    assert whole_file.read_whole(pipe, 1 << 20, FileProblem, "") == b"x" * 300_000
    writer.join()
    assert main(["check", str(pipe)]) == 1 and "no regular file" in capsys.readouterr().err


def test_a_place_that_cannot_be_written_is_told_before_the_work(file, tmp_path, capsys, monkeypatch):
    def never(*_given):
        raise AssertionError("the paper was made all the same")

    monkeypatch.setattr("ribpatch.cli.papers.open_plan", never)
    assert main(["report", str(file), "-o", str(tmp_path / "gone" / "a.pdf")]) == 1
    assert "the folder is not there" in capsys.readouterr().err
    shut = tmp_path / "a.pdf"
    shut.write_text("")
    monkeypatch.setattr("ribpatch.jobfile.writing.os.access", lambda _path, _mode: False)
    assert main(["report", str(file), "-o", str(shut)]) == 1
    assert "not yours to write in" in capsys.readouterr().err


def test_a_library_that_is_a_file_is_told(tmp_path, capsys):
    from ribpatch.library.shelf import library_folder, shipped_shelf, user_shelf

    library_folder().parent.mkdir(parents=True)
    library_folder().write_text("")
    shelf, (fault,) = user_shelf()
    assert shelf is shipped_shelf() and "is a file where the library's folder should be" in fault.sentence


def test_neither_true_nor_a_text_is_the_number_of_a_rule(tmp_path):
    from ribpatch.core.errors import Fault
    from ribpatch.core.materials.records import Rule
    from ribpatch.library.shelf import items_of

    rule = {"id": "a", "name": "a", "value": 1.0, "kind": "ratio", "low": 0, "high": 2, "reason": ""}
    for name, value in (("value", True), ("value", "1"), ("low", False), ("high", "2")):
        with pytest.raises(Fault, match=f"rules.*{name}"):
            items_of(Rule, json.dumps({"version": 1, "items": [{**rule, name: value}]}).encode(), "rules")
    assert items_of(Rule, json.dumps({"version": 1, "items": [rule]}).encode(), "rules")[0].high == 2


def test_the_terminal_gets_no_control_signs_of_a_job(tmp_path, capsys, job):
    path = tmp_path / "a.ribpatch"
    zone = evolve(job.zone("z4"), name="Bow\x1b[31m\nTransom: forged")
    archive.save(evolve(job, zones=(zone,)), path)
    assert main(["check", str(path)]) == 0 and main(["plan", str(path)]) == 0
    out = capsys.readouterr().out
    assert "\x1b" not in out and "Bow[31m Transom: forged: " in out
    assert not any(line.startswith("Transom: forged") for line in out.splitlines())
    assert main(["plan", str(path), "--json"]) == 0
    assert json.loads(capsys.readouterr().out)


def test_warnings_that_one_deed_clears_stand_in_one_line(file, capsys):
    assert main(["check", str(file)]) == 0
    lines = capsys.readouterr().out.splitlines()[1:]
    advice = [line.partition(": ")[0] + line[-60:] for line in lines]
    assert len(advice) == len(set(advice)) and len(lines) < 50
    ticks = [line for line in lines if "Tick it with a note" in line and line.startswith("- Transom")]
    assert len(ticks) == 1 and "Disconnect batteries" in ticks[0] and "Look behind" in ticks[0]
    (tight,) = [line for line in lines if "no taper fits" in line]
    assert "down, up, to starboard and to port" in tight

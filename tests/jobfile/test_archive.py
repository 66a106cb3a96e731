"""The job file: round trips, every way it can be damaged, and saves that never lose the old one."""

import errno
import json
import os
import stat
import zipfile
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.bed import bed_job as demo_job
from tests.schemes import PLACES
from tests.strategies import any_reading

from ribpatch.core.errors import DamagedJob, Fault, FileProblem, JobInUse, ManyFaults, NewerJob
from ribpatch.core.finishing import Finish
from ribpatch.core.job import VERSION, Job, Survey
from ribpatch.core.logged import Logbook
from ribpatch.core.proof import Proof
from ribpatch.core.readings import Photograph, Strike
from ribpatch.core.record import as_json, evolve, read_as, reader
from ribpatch.core.scheme import Support
from ribpatch.core.stock import Buying
from ribpatch.core.timetable import Timetable
from ribpatch.core.units import Measure
from ribpatch.jobfile import archive, recovery
from ribpatch.jobfile.album import Album
from ribpatch.jobfile.lock import JobLock
from ribpatch.jobfile.migrations import migrated
from ribpatch.jobfile.schema import schema_text
from ribpatch.library.shelf import shipped_shelf


@pytest.fixture
def path(tmp_path, job):
    target = tmp_path / "launch.ribpatch"
    archive.save(job, target)
    return target


@pytest.fixture(scope="module")
def validator():
    import jsonschema

    return jsonschema.Draft202012Validator(json.loads(schema_text()))


def document(path):
    with zipfile.ZipFile(path) as z:
        return json.loads(z.read("job.json"))


def write(path, raw, name="job.json", **more):
    with zipfile.ZipFile(path, "w") as z:
        if name:
            z.writestr(name, raw if isinstance(raw, (bytes, str)) else json.dumps(raw))
        for extra, data in more.items():
            z.writestr(extra, data)


def test_round_trip_is_exact_and_keeps_typed_text(path, job):
    back = archive.load(path)
    assert back == job
    assert back.boat.length.typed == "9.6 m" and document(path)["boat"]["length"] == {"si": 9.6, "typed": "9.6 m"}


def test_saving_keeps_the_previous_file(path, job):
    archive.save(evolve(job, notes="second"), path)
    assert archive.load(path).notes == "second"
    assert archive.load(path.with_name(path.name + "~")) == job
    assert not [p for p in path.parent.iterdir() if p.name.endswith(".part")]


def test_permissions_of_the_file_stay(path, job):
    path.chmod(0o640)
    archive.save(job, path)
    assert stat.S_IMODE(path.stat().st_mode) == 0o640


def with_members(job):
    """The job with a photograph and a recorded tap in its first zone."""
    zone = job.zones[0]
    taken = Strike(id="s1", x=0.5, y=0, frequency=900, centroid=1500, decay=0.01, contact=4e-4, recording="b.wav")
    survey = evolve(
        zone.survey, photographs=(Photograph(id="p1", member="a.jpg"),), readings=(*zone.survey.readings, taken)
    )
    return evolve(job, zones=(evolve(zone, survey=survey), *job.zones[1:]))


def member(place, name):
    with zipfile.ZipFile(place) as z:
        return z.read(name)


def test_photographs_and_recordings_go_in_and_are_carried_over(path, job):
    job = with_members(job)
    archive.save(
        job, path, album={"photographs/a.jpg": b"picture", "recordings/b.wav": b"sound", "photographs/x.jpg": b"no"}
    )
    archive.save(evolve(job, notes="x"), path)
    other = path.with_name("copy.ribpatch")
    archive.save(job, other, carry_from=path)
    for place in (path, other):
        assert member(place, "photographs/a.jpg") == b"picture" and member(place, "recordings/b.wav") == b"sound"
        assert archive.member_names(place) == {"photographs/a.jpg", "recordings/b.wav"}


def test_what_the_job_no_longer_shows_leaves_the_file_but_can_be_undone(path, job):
    full, album = with_members(job), Album()
    name = album.add("photographs/", b"picture", ".jpg")
    assert album.add("photographs/", b"picture", ".jpg") == name
    archive.save(full, path, album={"photographs/a.jpg": b"picture", "recordings/b.wav": b"sound"})
    album = Album(path)
    assert album.get("photographs/a.jpg") == b"picture" and album.get("photographs/none.jpg") is None
    album.before_save(job)
    archive.save(job, path, album=album.fresh)
    album.saved_to(path, job)
    assert archive.member_names(path) == frozenset()
    archive.save(full, path, album=album.fresh)
    assert member(path, "photographs/a.jpg") == b"picture" and member(path, "recordings/b.wav") == b"sound"


@pytest.mark.parametrize("code", [errno.ENOSPC, errno.EROFS, errno.EACCES, errno.EIO])
def test_a_save_that_fails_leaves_the_old_file_and_no_litter(path, job, monkeypatch, code):
    def fail(_fd):
        raise OSError(code, os.strerror(code))

    before = path.read_bytes()
    monkeypatch.setattr(os, "fsync", fail)
    with pytest.raises(FileProblem) as caught:
        archive.save(evolve(job, notes="lost?"), path)
    assert path.read_bytes() == before
    assert [p.name for p in path.parent.iterdir() if p.is_file()] == [path.name]
    assert ("full" in caught.value.sentence) == (code == errno.ENOSPC)
    assert "still open and unchanged" in caught.value.sentence


def test_saving_into_no_folder_is_told(tmp_path, job):
    with pytest.raises(FileProblem, match="folder is not there"):
        archive.save(job, tmp_path / "no" / "job.ribpatch")


@pytest.mark.parametrize("raw", [b"", b"not a zip at all", b"PK\x03\x04" + b"\0" * 60])
def test_what_is_no_zip_is_told(tmp_path, raw):
    path = tmp_path / "x.ribpatch"
    path.write_bytes(raw)
    with pytest.raises(DamagedJob, match=r"x\.ribpatch"):
        archive.load(path)


@pytest.mark.parametrize("cut", [0.2, 0.5, 0.9, 0.99])
def test_a_truncated_file_is_told(path, cut):
    raw = path.read_bytes()
    path.write_bytes(raw[: int(len(raw) * cut)])
    with pytest.raises(DamagedJob):
        archive.load(path)


@pytest.mark.parametrize("where", [0.1, 0.3, 0.5, 0.7])
def test_flipped_bytes_are_told_or_harmless(path, job, where):
    raw = bytearray(path.read_bytes())
    start = int(len(raw) * where)
    raw[start : start + 8] = bytes(b ^ 0xFF for b in raw[start : start + 8])
    path.write_bytes(bytes(raw))
    try:
        assert archive.load(path) == job
    except Fault as fault:
        assert path.name in fault.sentence or isinstance(fault, ManyFaults)


def test_a_missing_file_is_told(tmp_path):
    with pytest.raises(FileProblem, match="not there"):
        archive.load(tmp_path / "none.ribpatch")


def test_a_missing_member_is_told(path):
    write(path, "", name="")
    with pytest.raises(DamagedJob, match="no job.json"):
        archive.load(path)


@pytest.mark.parametrize("name", ["../evil", "/etc/evil", "photographs/../../evil", "a\\b", "c:evil", "other/file"])
def test_path_tricks_are_refused(path, name):
    write(path, document(path), **{name: b"x"})
    with pytest.raises(DamagedJob, match="path|belong"):
        archive.load(path)


def test_an_oversized_member_is_refused_by_its_stated_and_real_size(path, monkeypatch):
    monkeypatch.setattr(archive, "MOST_JSON", 1000)
    with pytest.raises(DamagedJob, match="too large"):
        archive.load(path)


def test_a_bomb_is_refused(path, monkeypatch):
    monkeypatch.setattr(archive, "MOST_TOTAL", 10_000)
    write(path, document(path), **{"photographs/big": b"\0" * 20_000})
    with pytest.raises(DamagedJob, match="unpack"):
        archive.load(path)


def test_newer_versions_are_named_and_not_touched(path):
    raw = document(path)
    raw["version"] = VERSION + 1
    write(path, raw)
    before = path.read_bytes()
    with pytest.raises(NewerJob, match=f"version {VERSION + 1}"):
        archive.load(path)
    assert path.read_bytes() == before


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda d: d.update(format="other"), "no Rib Patch job"), (lambda d: d.pop("version"), "which version"),
        (lambda d: d.update(version=True), "which version"), (lambda d: d.update(version="1"), "which version"),
        (lambda d: d["boat"].pop("beam"), "boat.beam"), (lambda d: d["boat"]["beam"].update(si="wide"), "boat.beam.si"),
        (lambda d: d["boat"]["beam"].update(si=-2), "boat.beam"), (lambda d: d.update(surprise=1), "surprise"),
        (lambda d: d["zones"][0].update(outline=[[0, 0], [1, 1], [1, 0], [0, 1]]), "zones.0.outline"),
        (lambda d: d["zones"][0]["survey"]["readings"][3].update(grade=5), "readings.3"), (lambda d: d.update(zones={}), "zones"),
    ],
)  # fmt: skip
def test_wrong_documents_name_the_place(path, change, says):
    raw = document(path)
    change(raw)
    write(path, raw)
    with pytest.raises(Fault) as caught:
        archive.load(path)
    assert says in caught.value.sentence


def test_every_fault_is_told_not_only_the_first(path):
    raw = document(path)
    raw["boat"]["beam"]["si"] = "wide"
    raw["zones"][1]["name"] = ""
    write(path, raw)
    with pytest.raises(ManyFaults) as caught:
        archive.load(path)
    assert len(caught.value.faults) == 2


@pytest.mark.parametrize("number", ["NaN", "Infinity", "-Infinity", "1e999"])
def test_no_nan_and_no_infinity(path, number):
    text = json.dumps(document(path)).replace('"si": 2.9', f'"si": {number}', 1)
    write(path, text)
    with pytest.raises(Fault):
        archive.load(path)


@pytest.mark.parametrize("text", ["[]", "null", "3", "{", '"job"', "\xff", "[" * 100_000])
def test_json_that_is_no_job_is_told(path, text):
    write(path, text)
    with pytest.raises(DamagedJob):
        archive.load(path)


def test_migration_goes_step_by_step():
    steps = {1: lambda d: {**d, "a": d["old"]}, 2: lambda d: {k: v for k, v in d.items() if k != "old"}}
    first = {"version": 1, "old": 5}
    assert migrated(first, 3, steps) == {"version": 3, "a": 5}
    assert first == {"version": 1, "old": 5}
    with pytest.raises(KeyError):
        migrated({"version": 3}, 5, steps)


def test_the_stored_sample_of_version_1_still_opens():
    sample = Path(__file__).parents[1] / "data" / "job-version-1.ribpatch"
    job = archive.load(sample)
    assert job.boat.name == "Sample Punt" and job.zones[0].survey.readings[1].value == 31


def test_the_schema_describes_what_is_saved(job, validator):
    validator.check_schema(validator.schema)
    assert validator.is_valid(json.loads(archive.job_json(job)))
    assert not validator.is_valid({"format": "ribpatch-job"})


def test_the_published_schema_is_the_one_in_use():
    published = Path(__file__).parents[2] / "docs" / "job-schema.json"
    assert published.read_text() == schema_text()


def test_a_second_program_is_kept_out_until_the_first_lets_go(path):
    first = JobLock(path)
    with pytest.raises(JobInUse, match=f"process {os.getpid()}"):
        JobLock(path)
    first.release()
    JobLock(path).release()


def test_autosave_is_found_only_when_its_window_is_gone(job, tmp_path):
    mine = recovery.Autosave(tmp_path)
    mine.write(job, tmp_path / "launch.ribpatch")
    assert recovery.found(tmp_path) == ()
    mine._lock.close()  # as the system does when a process is killed
    (item,) = recovery.found(tmp_path)
    assert item.name == "Heron Reach" and item.original == tmp_path / "launch.ribpatch"
    assert recovery.recover(item) == job
    recovery.discard(item)
    assert recovery.found(tmp_path) == ()


def test_a_proper_end_leaves_nothing(job, tmp_path):
    mine = recovery.Autosave(tmp_path)
    mine.write(job, None)
    mine.write(evolve(job, notes="again"), None)
    mine.close()
    assert list((tmp_path / "recovery").iterdir()) == []


def test_a_damaged_recovery_note_is_passed_over(job, tmp_path):
    mine = recovery.Autosave(tmp_path)
    mine.write(job, None)
    mine._lock.close()
    next((tmp_path / "recovery").glob("*.json")).write_text("{")
    assert recovery.found(tmp_path) == ()


def test_the_stored_sample_of_version_2_opens_with_everything_in_it():
    sample = Path(__file__).parents[1] / "data" / "job-version-2.ribpatch"
    job = archive.load(sample)
    deck = job.zone("z1")
    assert {r.kind for r in deck.survey.readings} >= {"tap", "moisture", "plug", "smell"}
    assert deck.survey.photographs[0].caption == "core of the plug" and len(job.zone("z2").survey.sessions) == 2
    assert Album(sample).get(f"photographs/{deck.survey.photographs[0].member}")[:2] == b"\xff\xd8"
    assert deck.diagnosis.settled[0].how == "planned" and deck.diagnosis.looked[0].found == "bad"


def test_version_1_comes_up_with_readings_that_belong_to_no_session():
    sample = Path(__file__).parents[1] / "data" / "job-version-1.ribpatch"
    job = archive.load(sample)
    assert job.version == VERSION and all(not z.survey.sessions and z.practice is None for z in job.zones)
    assert {r.session for z in job.zones for r in z.survey.readings} <= {""}


@given(st.lists(any_reading, min_size=1, max_size=8))
@settings(max_examples=20)
def test_every_reading_survives_the_file(rows):
    job = demo_job()
    numbered = tuple(evolve(r, id=f"r{n}") for n, r in enumerate(rows))
    zone = evolve(job.zones[0], survey=Survey(readings=numbered))
    whole = evolve(job, zones=(zone, *job.zones[1:]))
    assert archive.parse_job(archive.job_json(whole), "job") == whole


def test_a_recovery_copy_brings_its_photographs(tmp_path, job):
    copy = recovery.Autosave(tmp_path)
    copy.write(with_members(job), None, {"photographs/a.jpg": b"picture", "recordings/b.wav": b"sound"})
    copy._lock.close()  # as when the process dies
    (found,) = recovery.found(tmp_path)
    album = Album()
    album.take_over(found.copy)
    assert album.get("photographs/a.jpg") == b"picture" and album.get("recordings/b.wav") == b"sound"
    assert recovery.recover(found) == with_members(job)


def test_version_2_names_a_side_for_its_skin_and_its_own_resins_get_moduli():
    sample = Path(__file__).parents[1] / "data" / "job-version-2.ribpatch"
    with zipfile.ZipFile(sample) as file:
        document = json.loads(file.read("job.json"))
    document["zones"][0].setdefault("scheme", {})["skin"] = "inner"
    resin = {
        "id": "mine", "name": "my epoxy", "family": "epoxy", "density": 1150, "resin_density": 1160, "hardener_density": 1000,
        "mass_parts": [3, 1], "volume_parts": [2.6, 1], "pot_life": 1200, "pot_mass": 0.1, "activation": 55000,
        "least_temperature": 10, "most_humidity": 0.8, "blushes": False, "mat_binder": False, "reason": "its can",
    }  # fmt: skip
    document["own"] = {"resins": [resin]}
    made = read_as(Job, migrated(document, VERSION))
    assert made.zones[0].scheme.access.side == "inside"
    assert made.own.resins[0].modulus > 1e9 and made.own.resins[0].bond_shear > made.own.resins[0].bond_peel


def test_a_stored_sample_of_version_3_opens_whole():
    sample = Path(__file__).parents[1] / "data" / "job-version-3.ribpatch"
    job = archive.load(sample)
    zone = job.zones[0]
    scheme = zone.scheme
    assert scheme.id == "s2" and [s.id for s in zone.others] == ["s1"]
    assert scheme.cut.sides[0].margin.si == pytest.approx(0.1) and scheme.taper.ratio_at("y-") == 8
    assert (
        scheme.laminate.second is not None and scheme.laminate.backing is not None and scheme.parts[0].kind == "angle"
    )
    assert (
        zone.depths[0].depth.typed == "2 mm" and zone.ticks[0].item == "electric" and scheme.access.marks[0].mark == 4
    )
    assert job.own.coupons[0].fabric == "biax-45-450"
    assert reader(Job).validate_json(as_json(job)) == job


@pytest.mark.parametrize("version", [1, 2, 3])
def test_every_choice_of_an_older_scheme_lies_in_its_group(version):
    sample = Path(__file__).parents[1] / "data" / f"job-version-{version}.ribpatch"
    with zipfile.ZipFile(sample) as file:
        document = json.loads(file.read("job.json"))
    job = archive.load(sample)
    compared = 0
    for zone, raw in zip(job.zones, document["zones"], strict=True):
        for scheme, old in zip((zone.scheme, *zone.others), (raw["scheme"], *raw.get("others", ())), strict=True):
            written = json.loads(as_json(scheme))
            for name, (group, part) in PLACES.items():
                if name in old and name != "second":  # its taper may have been given more parts since
                    assert written[group][part] == old[name], name
                    compared += 1
            assert all(written[name] == old[name] for name in ("id", "name", "note") if name in old)
    assert compared >= 11


def test_a_burnt_off_skin_keeps_its_fraction_and_nothing_is_changed_in_place():
    sample = Path(__file__).parents[1] / "data" / "job-version-3.ribpatch"
    with zipfile.ZipFile(sample) as file:
        document = json.loads(file.read("job.json"))
    document["zones"][0]["build"]["outer"]["psi"] = {"si": 0.33, "typed": "33 %"}
    before = json.dumps(document)
    made = read_as(Job, migrated(document, VERSION))
    assert made.zones[0].build.outer.fibre_fraction == Measure(si=0.33, typed="33 %")
    assert json.dumps(document) == before


def without_proof(written):
    """A document without what version 6 added: nothing that an older file could state."""
    usual = json.loads(as_json(Proof()))
    usual.pop("well")
    without_well(written)
    assert written["boat"].pop("category") is None
    for zone in written["zones"]:
        assert zone.pop("proof") == usual and not any(f.pop("opening") for f in zone["fittings"])
        for scheme in (zone["scheme"], *zone["others"]):
            assert scheme.pop("members") == []
    return without_support(written)


def without_well(written):
    """A document without what version 8 added: no well, a bracket of no mass, no timber, cups."""
    without_buying(written)
    for zone in written["zones"]:
        proof = zone.get("proof", {})
        assert proof.pop("well", None) is None
        if proof.get("engine"):
            assert [proof["engine"].pop(name)["si"] for name in ("bracket_mass", "bracket_raise")] == [0, 0]
        for scheme in (zone["scheme"], *zone["others"]):
            assert scheme.get("support", {}).pop("timber", None) is None
            assert (scheme["resin"].pop("vessel", "cup"), scheme["resin"].pop("warmed", None)) == ("cup", None)
    return written


def without_support(written):
    """A document without what version 7 added to each scheme: nothing beside a run."""
    without_well(written)
    usual = json.loads(as_json(Support()))
    usual.pop("timber")
    for zone in written["zones"]:
        assert all(scheme.pop("support") == usual for scheme in (zone["scheme"], *zone["others"]))
    return written


def test_a_stored_sample_of_version_6_keeps_the_strip_beside_a_run_with_every_scheme():
    sample = Path(__file__).parents[1] / "data" / "job-version-6.ribpatch"
    job = archive.load(sample)
    run = job.zone("z3")
    assert len(run.others) == 1 and [s.support.sister for s in (run.scheme, *run.others)] == [Measure(si=0.012)] * 2
    assert not any(s.support.stated for z in job.zones if z.id != "z3" for s in (z.scheme, *z.others))
    with zipfile.ZipFile(sample) as file:
        document = json.loads(file.read("job.json"))
    before = json.dumps(document)
    written = json.loads(archive.job_json(job))
    for scheme in (written["zones"][2]["scheme"], *written["zones"][2]["others"]):
        scheme["support"]["sister"] = None
    for zone in document["zones"]:
        zone["proof"]["run"].pop("sister")
    assert {**without_support(written), "version": 6} == document
    document = json.loads(before)
    migrated(document, VERSION)
    assert json.dumps(document) == before


def test_a_stored_sample_of_version_7_keeps_its_beam_on_posts_as_it_was_stated():
    sample = Path(__file__).parents[1] / "data" / "job-version-7.ribpatch"
    job = archive.load(sample)
    support = job.zone("z3").scheme.support
    assert support.gives == Measure(si=1e-4) and support.timber is None and support.post is not None
    assert job.zone("z2").proof.well is None
    with zipfile.ZipFile(sample) as file:
        document = json.loads(file.read("job.json"))
    assert {**without_well(json.loads(archive.job_json(job))), "version": 7} == document


def without_beginning(written):
    """A document without what version 11 added: what craft she is, what was wrong, what is assumed or done for now."""
    without_straight(written)
    assert written["boat"].pop("kind", "") == ""
    for zone in written["zones"]:
        assert (zone.pop("wrong", ""), zone.pop("assumed", []), zone.pop("done", [])) == ("", [], [])
        assert all(s.pop("reasons", []) == [] for s in (zone["scheme"], *zone["others"]))
    return written


def without_straight(written):
    """A document without what version 12 added: photographs set straight; and 13: a side that someone chose."""
    for zone in written["zones"]:
        assert not any(s["access"].pop("chosen", False) for s in (zone["scheme"], *zone["others"]))
        assert all(p.pop("straight", None) is None for p in zone["survey"]["photographs"])
    return written


def test_a_stored_sample_of_version_11_keeps_what_is_assumed_and_done():
    sample = Path(__file__).parents[1] / "data" / "job-version-11.ribpatch"
    job = archive.load(sample)
    zone = job.zones[0]
    assert (zone.wrong, zone.assumed, zone.done) == ("soft deck", ("length", "core"), ("find", "boat"))
    with zipfile.ZipFile(sample) as file:
        document = json.loads(file.read("job.json"))
    assert {**without_straight(json.loads(archive.job_json(job))), "version": 11} == document


def test_a_stored_sample_of_version_12_keeps_the_side_that_its_schemes_name():
    sample = Path(__file__).parents[1] / "data" / "job-version-12.ribpatch"
    job = archive.load(sample)
    assert [z.scheme.access.side for z in job.zones] == ["outside", "inside", "outside", "outside"]
    assert not any(s.access.chosen for z in job.zones for s in z.schemes)
    with zipfile.ZipFile(sample) as file:
        document = json.loads(file.read("job.json"))
    written = json.loads(archive.job_json(job))
    for zone in written["zones"]:
        assert not any(s["access"].pop("chosen") for s in (zone["scheme"], *zone["others"]))
    assert {**written, "version": 12} == document


def test_a_stored_sample_of_version_10_keeps_its_days_and_assumes_nothing():
    sample = Path(__file__).parents[1] / "data" / "job-version-10.ribpatch"
    job = archive.load(sample)
    assert (job.timetable.start, job.timetable.weeks) == ("2027-03-01", 3)
    assert all(z.assumed == () == z.done for z in job.zones)
    with zipfile.ZipFile(sample) as file:
        document = json.loads(file.read("job.json"))
    assert {**without_beginning(json.loads(archive.job_json(job))), "version": 10} == document


def without_timetable(written):
    """A document without what version 10 added: when the work is done, the log, preparations of one's own."""
    without_beginning(written)
    assert written.pop("timetable", usual := json.loads(as_json(Timetable()))) == usual
    assert written.pop("log", usual := json.loads(as_json(Logbook()))) == usual
    assert written["own"].pop("preparations", []) == []
    return written


def test_a_stored_sample_of_version_9_keeps_its_stock_and_has_no_timetable_yet():
    sample = Path(__file__).parents[1] / "data" / "job-version-9.ribpatch"
    job = archive.load(sample)
    assert [s.material for s in job.stock] == ["epoxy-5-1-slow"] and job.buying.wanted == "2027-03-28"
    assert job.timetable == Timetable()
    with zipfile.ZipFile(sample) as file:
        document = json.loads(file.read("job.json"))
    assert {**without_timetable(json.loads(archive.job_json(job))), "version": 9} == document


def without_buying(written):
    """A document without what version 9 added: stock, how it is bought, kept layouts, packs and lead times."""
    assert written.pop("stock", []) == [] == written.pop("layouts", [])
    without_timetable(written)
    assert written.pop("buying", usual := json.loads(as_json(Buying()))) == usual
    for zone in written["zones"]:
        assert zone.pop("finish", usual := json.loads(as_json(Finish()))) == usual
    for scheme in (s for z in written["zones"] for s in (z["scheme"], *z["others"])):
        assert scheme.pop("pads", []) == []
        assert (scheme["resin"].pop("sittings", []), scheme["resin"].pop("bedding", None)) == ([], None)
    for price in written["own"]["prices"]:
        assert (price.pop("packs", []), price.pop("lead", None), price.pop("keeps", None)) == ([], None, None)
    return written


def test_a_stored_sample_of_version_8_keeps_its_own_price_which_has_no_packs():
    sample = Path(__file__).parents[1] / "data" / "job-version-8.ribpatch"
    job = archive.load(sample)
    assert job.own.prices[0].price == 27.5 and job.own.prices[0].packs == () and job.own.prices[0].lead is None
    assert job.stock == () == job.layouts
    with zipfile.ZipFile(sample) as file:
        document = json.loads(file.read("job.json"))
    assert {**without_buying(json.loads(archive.job_json(job))), "version": 8} == document


def test_a_document_of_version_6_without_zones_or_runs_comes_up():
    for zones in ([], [{"id": "z1"}], [{"id": "z1", "proof": {}}], [{"id": "z1", "proof": {"run": {"sister": None}}}]):
        made = migrated({"version": 6, "zones": zones}, 7)
        assert made["version"] == 7 and all("sister" not in z.get("proof", {}).get("run", {}) for z in made["zones"])
        assert all("scheme" not in zone for zone in made["zones"])


def test_a_stored_sample_of_version_4_keeps_all_it_had_and_own_rules_of_another_meaning_in_words():
    sample = Path(__file__).parents[1] / "data" / "job-version-4.ribpatch"
    with zipfile.ZipFile(sample) as file:
        document = json.loads(file.read("job.json"))
    written = json.loads(archive.job_json(archive.load(sample)))
    assert written["version"] == VERSION and all(zone.pop("seams") == [] for zone in written["zones"])
    without_proof(written)
    for zone in written["zones"]:
        for reading in zone["survey"]["readings"]:
            if reading["kind"] == "strike":
                assert [reading.pop(name) for name in ("bands", "fades", "early", "attack")] == [[], [], 0, 0]
    assert {**written, "version": 4} == document
    rule = {**json.loads(as_json(next(r for r in shipped_shelf().rules if r.id == "strike.unlike"))), "value": 18}
    document["own"]["rules"] = [*document["own"]["rules"], rule]
    made = read_as(Job, migrated(document, VERSION))
    assert "strike.unlike" not in {r.id for r in made.own.rules} and f"{rule['name']} 18" in made.notes


def test_a_stored_sample_of_version_5_is_written_again_with_the_same_parts():
    sample = Path(__file__).parents[1] / "data" / "job-version-5.ribpatch"
    job = archive.load(sample)
    with zipfile.ZipFile(sample) as file:
        assert json.loads(file.read("job.json")) == {**without_proof(json.loads(archive.job_json(job))), "version": 5}
    assert job.zones[0].seams and any(z.kind == "sole" for z in job.zones)
    assert any(r.bands for z in job.zones for r in z.survey.readings if r.kind == "strike")


# ---- the schema and the reader say the same ----


def measures(part, path=()):
    """Every Measure of a document, by its path."""
    if isinstance(part, dict):
        if part.keys() == {"si", "typed"}:
            yield path, part
        for key, inner in part.items():
            yield from measures(inner, (*path, key))
    elif isinstance(part, list):
        for number, inner in enumerate(part[:2]):
            yield from measures(inner, (*path, number))


def test_every_quantity_out_of_its_range_is_refused_by_both(job, validator):
    raw = json.loads(archive.job_json(job))
    for zone in raw["zones"]:  # two readings are as many as are looked at, and the rest takes its time
        zone["survey"].update(readings=zone["survey"]["readings"][:2], references=[])
    # The same place in another zone, scheme or ply has the same range.
    found: dict = {}
    for path, measure in measures(raw):
        found.setdefault(tuple(p for p in path if isinstance(p, str)), measure)
    assert len(found) > 60
    for path, measure in found.items():
        kept = measure["si"]
        for wrong in (-1e9, 1e9):
            measure["si"] = wrong
            assert not validator.is_valid(raw), path
            with pytest.raises(Fault):
                archive.parse_job(json.dumps(raw).encode(), "x")
        measure["si"] = kept
    assert validator.is_valid(raw)


@pytest.mark.parametrize(
    "change",
    [
        lambda d: d.pop("format"), lambda d: d.pop("version"), lambda d: d.update(format="other"), lambda d: d.update(version=VERSION + 1),
        lambda d: d["zones"][0].update(id="Z 1"), lambda d: d["zones"][0].update(surprise=1), lambda d: d.pop("boat"),
        lambda d: d["zones"][0]["survey"]["readings"][0].update(kind="bell"), lambda d: d["zones"][0]["survey"]["readings"][0].update(x=1000),
        lambda d: d["zones"][1]["survey"]["sessions"][0].update(date="soon"), lambda d: d["zones"][0]["scheme"]["access"].update(side="below"),
        lambda d: d["zones"][0]["scheme"]["laminate"]["plies"][0].update(count=0), lambda d: d["boat"].update(name=""), lambda d: d["boat"].update(year=1066),
        lambda d: d["zones"][0]["outline"].__setitem__(0, [1, 2, 3]), lambda d: d["boat"]["beam"].update(typed="9" * 401),
    ],
)  # fmt: skip
def test_what_the_reader_refuses_the_schema_refuses_too(job, validator, change):
    raw = json.loads(archive.job_json(job))
    change(raw)
    with pytest.raises(Fault):
        archive.parse_job(json.dumps(raw).encode(), "x")
    assert not validator.is_valid(raw)


def test_every_property_of_the_schema_is_described_with_its_unit(validator):
    schema = validator.schema
    assert schema["$id"].startswith("urn:ribpatch")
    for name, record in (("Job", schema), *schema["$defs"].items()):
        for key, part in record.get("properties", {}).items():
            assert len(part["description"]) > 2, (name, key)
            text = json.dumps(part)
            if '"#/$defs/Measure"' in text:
                assert "; si in " in part["description"] and "minimum" in text, (name, key)
    assert schema["$defs"]["Backing"]["properties"]["width"]["description"].endswith("si in m")
    assert "x-unit" not in json.dumps(schema)


def test_a_zip_of_a_million_names_is_refused_before_they_are_read(tmp_path, monkeypatch):
    path = tmp_path / "many.ribpatch"
    with zipfile.ZipFile(path, "w") as made:
        for n in range(40_000):
            made.writestr(zipfile.ZipInfo(f"photographs/{n:060}.jpg"), b"")
    monkeypatch.setattr(zipfile, "ZipFile", lambda *a, **k: pytest.fail("its list was read"))
    with pytest.raises(DamagedJob, match="far too long"):
        archive.load(path)
    assert archive.member_names(path) == frozenset()


def test_what_killed_windows_left_half_written_is_cleared_and_copies_stay(tmp_path, job):
    kept = recovery.Autosave(tmp_path)
    kept.write(job, None, {})
    folder = tmp_path / "recovery"
    half, lone = folder / ".x.ribpatch.1.part", folder / "dead.lock"
    (folder / "dead.members").mkdir()
    half.write_bytes(b"half")
    os.utime(half, (1, 1))
    lone.write_text("")
    os.utime(lone, (1, 1))
    other = recovery.Autosave(tmp_path)
    assert not half.exists() and not lone.exists() and not (folder / "dead.members").exists()
    assert list(folder.glob("*.ribpatch")), "the copy of a living window stays"
    kept._lock.close()
    assert len(recovery.found(tmp_path)) == 1
    other.close()


def test_a_job_written_zone_by_zone_is_the_text_of_the_whole(job):
    tricky = evolve(job, notes='"zones":[] and \\"zones\\":[]', boat=evolve(job.boat, name='"zones":[]'))
    for some in (job, tricky, evolve(job, zones=()), evolve(tricky, zones=job.zones[:1])):
        assert archive.job_json(some) == as_json(some)


def test_own_rules_that_no_longer_apply_are_kept_in_words():
    sample = Path(__file__).parents[1] / "data" / "job-version-3.ribpatch"
    with zipfile.ZipFile(sample) as file:
        document = json.loads(file.read("job.json"))
    old = {
        "id": "tap.noise",
        "name": "scatter of a tap",
        "value": 0.31,
        "kind": "number",
        "low": 0.05,
        "high": 1,
        "reason": "ours",
    }
    kept = {
        "id": "plug.reach",
        "name": "reach",
        "value": 0.07,
        "kind": "size",
        "low": 0.01,
        "high": 0.5,
        "reason": "ours",
    }
    document.setdefault("own", {})["rules"] = [old, kept]
    document["notes"] = "Slip 4."
    job = archive.parse_job(json.dumps(document).encode(), "x.ribpatch")
    assert [r.id for r in job.own.rules] == ["plug.reach"]
    assert job.notes == "Slip 4.\nOwn rules that no longer apply: scatter of a tap 0.31."


def test_every_version_before_this_one_has_a_stored_sample():
    stored = {int(p.stem.rpartition("-")[2]) for p in (Path(__file__).parents[1] / "data").glob("job-version-*")}
    assert stored == set(range(1, VERSION))

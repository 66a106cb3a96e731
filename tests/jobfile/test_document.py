"""What no job file may cost: size, depth, length and number are limited before and while it is read; faults are counted
out.
"""

import json
import subprocess
import sys
import zipfile

import pytest

from ribpatch.core.errors import DamagedJob, Fault, ManyFaults
from ribpatch.core.job import MOST_READINGS
from ribpatch.jobfile import archive, document


@pytest.fixture
def raw(job):
    return json.loads(archive.job_json(job))


def parsed(raw):
    text = raw if isinstance(raw, bytes) else json.dumps(raw).encode()
    return document.parse_job(text, "x.ribpatch")


def test_at_most_fifty_faults_are_listed_and_the_rest_counted_on(raw):
    raw["zones"][0]["survey"]["readings"] = [{"kind": "tap"}] * 5000
    with pytest.raises(ManyFaults) as caught:
        parsed(raw)
    faults = caught.value.faults
    assert len(faults) == 51 and "there are more" in faults[-1].sentence
    assert faults[0].where == "x.ribpatch, zones.0.survey.readings.0.tap.id"


def test_a_fault_deep_in_a_long_survey_is_told_by_its_place_with_those_elsewhere(raw):
    rows = raw["zones"][0]["survey"]["readings"]
    rows[130] = {**rows[130], "x": "here"}
    raw["zones"][1]["name"] = ""
    raw["boat"]["beam"]["si"] = "wide"
    with pytest.raises(ManyFaults) as caught:
        parsed(raw)
    places = {f.where.removeprefix("x.ribpatch, ") for f in caught.value.faults}
    assert places == {"zones.0.survey.readings.130.tap.x", "zones.1.name", "boat.beam.si"}


def twice(raw):
    return json.dumps(raw).replace('"notes": ""', '"notes": "", "notes": "b"', 1).encode()


@pytest.mark.parametrize(
    ("make", "says"),
    [
        (lambda d: d["zones"][0].update(fittings=[{}] * 100_000), "a list of 100000 parts"),
        (lambda d: d["zones"][0]["survey"].update(drawn=[[[0, 0]] * 2001]), "a list of 2001 parts"),
        (lambda d: d.update({f"k{n}": 1 for n in range(200)}), "one record of"), (lambda d: d.update(zones=[{}] * 401), "401 zones"),
        (lambda d: d["zones"][0]["survey"].update(readings=[{}] * (MOST_READINGS + 1)), "more than 250000 readings"),
        (lambda d: d.update(notes=[[[[[[[[[[[[[[[[[[[[[[[[[[]]]]]]]]]]]]]]]]]]]]]]]]]]), "24 deep"),
        (lambda d: d["boat"].update({"k" * 100_000: 1}), "extra inputs"), (lambda d: d["boat"]["beam"].update(typed="9" * 401), "at most 400"),
        (lambda d: d["zones"][0]["survey"].update(references=["!"] * 200_000), "references.0"),
        (lambda d: d["own"].update(fabrics=[{}] * 1500), "own.fabrics"),
        (lambda d: d.update(notes="n" * 3000), "at most 2000"), (lambda d: d["zones"][0].update(id="z2"), "same id"),
        (lambda d: d["zones"][0]["survey"]["readings"][1].update(id="r1"), "same id"),
        (lambda d: d["zones"][0]["survey"]["readings"][1].update(session="s9"), "a session that is not there"),
    ],
)  # fmt: skip
def test_what_is_too_long_too_deep_or_twice_is_told_shortly(raw, make, says):
    make(raw)
    with pytest.raises(Fault) as caught:
        parsed(raw)
    assert says in caught.value.sentence and len(caught.value.sentence) < 2000


@pytest.mark.parametrize(
    ("text", "says"),
    [
        (b'{"a":' * 5000 + b"1" + b"}" * 5000, "deep"), (b"[" + b"1," * 5_000_000 + b"1]", "far more parts"),
        (b'{"format": ' + b"9" * 10_000 + b"}", "digits"),
        (b"[" * 2_000_000, "far more parts"), (b"\xff\xfe{}", "readable"), (b'{"version": 3, "version": 3}', "twice"), (b"", "readable"),
    ],
)  # fmt: skip
def test_hostile_texts_are_refused_in_one_plain_sentence(text, says):
    with pytest.raises(DamagedJob) as caught:
        parsed(text)
    assert says in caught.value.sentence and "set_int_max" not in caught.value.sentence


def test_a_small_file_that_unpacks_to_millions_of_parts_costs_little(tmp_path):
    path = tmp_path / "bomb.ribpatch"
    rows = b",".join([b'{"kind":"tap"}'] * 240_000)
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as made:
        made.writestr(
            "job.json", b'{"format":"ribpatch-job","version":3,"zones":[{"survey":{"readings":[' + rows + b"]}}]}"
        )
    code = (
        "import sys, pathlib; from ribpatch.__main__ import main; code = main(['check', sys.argv[1]])\n"
        "print(code, next(line for line in open('/proc/self/status') if line.startswith('VmHWM')).split()[1])"
    )
    run = subprocess.run([sys.executable, "-c", code, str(path)], capture_output=True, text=True, timeout=60)
    code, memory = run.stdout.split()
    assert code == "1" and int(memory) < 300_000 and len(run.stderr.splitlines()) == 51


def test_what_could_not_be_read_again_is_not_saved(tmp_path, job, monkeypatch):
    monkeypatch.setattr(archive, "MOST_JSON", 1000)
    with pytest.raises(Fault, match="larger than"):
        archive.save(job, tmp_path / "x.ribpatch")
    assert not list(tmp_path.glob("*.ribpatch"))


@pytest.mark.parametrize(
    ("place", "most"),
    [
        (("fittings",), 400),
        (("ticks",), 400),
        (("depths",), 2000),
        (("diagnosis", "looked"), 400),
        (("survey", "sessions"), 400),
        (("scheme", "access", "marks"), 200),
    ],
)
def test_a_list_may_be_as_long_as_it_says_and_no_longer(raw, place, most):
    record = raw["zones"][3]
    for part in place[:-1]:
        record = record[part]
    items = {
        "fittings": {"name": "a", "x": 0, "y": 0, "width": {"si": 0.1}, "height": {"si": 0}}, "depths": {"x": 0, "y": 0, "depth": {"si": 0.001}},
        "looked": {"place": "a", "found": "bad"}, "sessions": {}, "ticks": {"note": "seen"}, "marks": {"side": "outside", "mark": 1},
    }[place[-1]]  # fmt: skip
    key = {"ticks": "item", "looked": "", "marks": "criterion"}.get(place[-1], "id")
    record[place[-1]] = [{**items, **({key: f"k{n}"} if key else {})} for n in range(most)]
    assert parsed(raw)
    record[place[-1]].append({**items, **({key: "last"} if key else {})})
    with pytest.raises(Fault, match="most|a list of 2001 parts"):
        parsed(raw)

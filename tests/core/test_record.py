"""Frozen records: what changes is checked, what does not is shared."""

import pytest
from pydantic import ValidationError

from ribpatch.core.errors import InvalidValue, ManyFaults, OutOfRange
from ribpatch.core.job import Job, Survey
from ribpatch.core.readings import Tap
from ribpatch.core.record import as_json, evolve, read_as, reader
from ribpatch.core.scheme import Cut, Scheme, Taper
from ribpatch.core.units import Measure


def test_evolve_shares_what_did_not_change(job):
    other = evolve(job, notes="x")
    assert other.zones is job.zones and other.boat is job.boat and other.notes == "x" and job.notes == ""


def test_evolve_checks_ranges_and_leaves_the_old_record():
    taper = Taper()
    with pytest.raises(OutOfRange) as caught:
        evolve(taper, ratio=Measure(si=0.2))
    assert "1 : 1 to 100 : 1" in caught.value.sentence
    assert taper.ratio.si == 12


def test_evolve_tells_every_fault():
    with pytest.raises(ManyFaults) as caught:
        evolve(Cut(), margin=Measure(si=-1), radius=Measure(si=9))
    assert len(caught.value.faults) == 2


def test_records_are_frozen_and_refuse_unknown_fields_and_nan():
    with pytest.raises(AttributeError, match="frozen"):
        Scheme().overlap = Measure(si=1)
    with pytest.raises(ValidationError):
        read_as(Scheme, {"colour": "red"})
    with pytest.raises(ValidationError):
        Measure(si=float("nan"))


def test_model_checks_run_on_evolve():
    survey = Survey(readings=(Tap(id="r1", x=0, y=0, grade="ring"),))
    with pytest.raises(InvalidValue, match="not there"):
        evolve(survey, references=("r9",))


def test_two_zones_of_one_id_are_refused(job):
    with pytest.raises(InvalidValue, match="same id"):
        evolve(job, zones=(job.zones[0], job.zones[0]))


def test_a_waterline_longer_than_the_boat_is_refused(job):
    with pytest.raises(InvalidValue, match="mistyped"):
        evolve(job.boat, waterline=Measure(si=12))


def test_json_round_trip_is_exact(job):
    assert reader(Job).validate_json(as_json(job)) == job


# ---- records from what a person stated ----


def test_built_gives_the_record_or_a_fault_with_its_place():
    from ribpatch.core.errors import ManyFaults, OutOfRange
    from ribpatch.core.record import built
    from ribpatch.core.scheme import SideMargin, Stretch
    from ribpatch.core.units import Measure

    assert built(Stretch, facing="x+", ratio=Measure(si=8)).ratio.si == 8
    with pytest.raises(OutOfRange, match="outside"):
        built(Stretch, facing="x+", ratio=Measure(si=0.1))
    with pytest.raises(ManyFaults) as many:
        built(SideMargin, facing="sideways", margin=Measure(si=99))
    assert len(many.value.faults) == 2

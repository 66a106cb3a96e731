"""What a job names: every fault at once, each with its path, and a near match."""

import pytest
from tests.schemes import a_scheme

from ribpatch.core.errors import ManyFaults, UnknownItem
from ribpatch.core.job import CoreLayer, Job, Own, Survey
from ribpatch.core.materials.fabric_code import fabric_from_code
from ribpatch.core.materials.records import Coupon
from ribpatch.core.plan import plan
from ribpatch.core.readings import Tap
from ribpatch.core.record import evolve, known, read_as, reader
from ribpatch.core.scheme import Backing, Face, MadePart, StackLine
from ribpatch.core.units import Measure


def put(job, **parts):
    """The job with parts of its first zone replaced."""
    return evolve(job, zones=(evolve(job.zones[0], **parts), *job.zones[1:]))


GHOST = (StackLine(fabric="biax-45-60"),)
SIZE = Measure(si=0.2)


@pytest.mark.parametrize(
    ("change", "place"),
    [
        (lambda j: put(j, scheme=a_scheme(plies=GHOST)), "zones.0.scheme.laminate.plies"), (lambda j: put(j, scheme=a_scheme(resin="glue")), "zones.0.scheme.resin.main"),
        (lambda j: put(j, scheme=a_scheme(later_resin="glue")), "zones.0.scheme.resin.later"),
        (lambda j: put(j, scheme=a_scheme(core="oak")), "zones.0.scheme.core.material"),
        (lambda j: put(j, scheme=a_scheme(putty="mud")), "zones.0.scheme.resin.putty"),
        (lambda j: put(j, scheme=a_scheme(preparation="lick")), "zones.0.scheme.bond.preparation"),
        (lambda j: put(j, others=(a_scheme(id="s2", putty="mud"),)), "zones.0.others.0.resin.putty"),
        (lambda j: put(j, scheme=a_scheme(second=Face(plies=GHOST))), "zones.0.scheme.laminate.second.plies"),
        (lambda j: put(j, scheme=a_scheme(backing=Backing(plies=GHOST))), "zones.0.scheme.laminate.backing.plies"),
        (lambda j: put(j, scheme=a_scheme(parts=(MadePart(id="p1", name="a", kind="knee", length=SIZE, width=SIZE, plies=GHOST),))),
         "zones.0.scheme.parts.0.plies"),
        (lambda j: put(j, build=evolve(j.zones[0].build, core=CoreLayer(core="oak", thickness=SIZE))), "zones.0.build.core.core"),
        (lambda j: put(j, build=evolve(j.zones[0].build, outer=evolve(j.zones[0].build.outer, plies=GHOST))), "zones.0.build.outer.plies"),
        (lambda j: put(j, build=evolve(j.zones[0].build, inner=evolve(j.zones[0].build.inner, era="stone"))), "zones.0.build.inner.era"),
        (lambda j: put(j, survey=Survey(readings=(Tap(id="r1", x=0.5, y=0.2, grade="bong"),))), "zones.0.survey.readings.0.grade"),
        (lambda j: evolve(j, own=Own(coupons=(Coupon(id="c1", fabric="x", process="hand", resin="epoxy-5-1-slow", plies=2, thickness=0.002),))),
         "own.coupons.0.fabric"),
        (lambda j: evolve(j, own=Own(fabrics=(evolve(fabric_from_code("1708"), layers=(evolve(fabric_from_code("1708").layers[0], fibre="hay"),)),))),
         "own.fabrics.0.layers.0.fibre"),
    ],
)  # fmt: skip
def test_each_name_that_is_not_there_is_told_by_its_place(job, shelf, change, place):
    with pytest.raises(UnknownItem) as caught:
        plan(change(job), shelf)
    assert caught.value.where == place and caught.value.sentence.startswith(place)


def test_all_faults_come_at_once_and_no_more_than_are_listed(job, shelf):
    two = put(job, scheme=a_scheme(plies=GHOST, resin="epoxy-5-1-slo"))
    with pytest.raises(ManyFaults) as caught:
        plan(two, shelf)
    said = [f.sentence for f in caught.value.faults]
    assert len(said) == 2 and "Did you mean biax-45-600" in said[1] and "epoxy-5-1-slow" in said[0]
    rows = tuple(Tap(id=f"r{n}", x=0.5, y=0.2, grade="bong") for n in range(500))
    with pytest.raises(ManyFaults) as caught:
        plan(put(job, survey=Survey(readings=rows)), shelf)
    assert len(caught.value.faults) == 51 and "and 46 more" in caught.value.sentence


def test_own_items_of_one_id_are_refused(job):
    fabric = fabric_from_code("1708")
    with pytest.raises(ValueError, match="same id, code-1708"):
        own = reader(Own).dump_python(known(Own, fabrics=(fabric, fabric)))
        read_as(Job, {**reader(Job).dump_python(job), "own": own})

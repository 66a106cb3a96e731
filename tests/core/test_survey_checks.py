"""Which remedies a scheme meets by itself."""

import pytest
from tests.bed import bed_job as demo_job

from ribpatch.core.job import CoreLayer
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve
from ribpatch.core.survey_checks import met_checks
from ribpatch.core.units import Measure
from ribpatch.library.shelf import shipped_shelf

SHELF, JOB = shipped_shelf(), demo_job()


def met(zone):
    made = plan(evolve(JOB, zones=(zone,)), SHELF).zones[0]
    return met_checks(made.zone, made.patch)


@pytest.mark.parametrize(("share", "thicker"), [(0.85, False), (1.0, False), (1.05, False), (1.15, True)])
def test_a_laminate_is_thicker_from_a_tenth_on(share, thicker):
    zone = JOB.zone("z4")
    made = plan(JOB, SHELF).zone("z4").patch.stack.thickness
    skin = evolve(zone.build.outer, thickness=Measure(si=made / share))
    assert ("thicker" in met(evolve(zone, build=evolve(zone.build, outer=skin)))) is thicker


@pytest.mark.parametrize(("share", "thicker"), [(0.9, False), (1.05, False), (1.2, True)])
def test_so_is_a_core(share, thicker):
    zone = JOB.zone("z2")
    old = zone.scheme.core.thickness.si / share
    build = evolve(
        zone.build,
        core=CoreLayer(core="ply-marine", thickness=Measure(si=old)),
        inner=evolve(zone.build.inner, thickness=Measure(si=0.1)),
    )
    assert ("thicker" in met(evolve(zone, build=build))) is thicker

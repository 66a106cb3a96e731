"""Where damage starts: bare fittings, edges and seams raise the chance beside them, and nothing else does."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ribpatch.core.edits import add_seam, remove_seam
from ribpatch.core.errors import Fault
from ribpatch.core.job import Seam, Survey
from ribpatch.core.plan import plan
from ribpatch.core.readings import Tap
from ribpatch.core.record import evolve
from ribpatch.core.survey.field import posterior_of
from ribpatch.core.survey.structure import pull_of, starts_of
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()
PLATE = ((0.0, 0.0), (2.0, 0.0), (2.0, 1.0), (0.0, 1.0))


def seam(n=1, x=0.3, y=0.5, to_x=1.7, to_y=0.5):
    return Seam(id=f"l{n}", name="core joint", x=x, y=y, to_x=to_x, to_y=to_y)


def bare(job, *seams):
    return evolve(job.zones[0], outline=PLATE, fittings=(), edges=(), seams=seams)


@given(st.floats(-0.5, 2.5), st.floats(-0.5, 1.5))
def test_the_pull_of_a_seam_falls_with_the_distance_from_its_line(x, y):
    """Against the distance from a segment worked out by its three cases."""
    start = starts_of.function(_Zone((seam(),)), SHELF)
    reach, shift = SHELF.rule("start.reach"), SHELF.rule("start.seam")
    gap = abs(y - 0.5) if 0.3 <= x <= 1.7 else np.hypot(x - (0.3 if x < 0.3 else 1.7), y - 0.5)
    found = float(pull_of(start, np.array([[x, y]]), reach)[0])
    assert found == pytest.approx(shift * np.exp(-0.5 * (gap / reach) ** 2), abs=1e-9)


class _Zone:
    outline, fittings, edges = PLATE, (), ()

    def __init__(self, seams):
        self.seams = seams


def test_damage_is_likelier_along_a_seam_and_as_likely_as_before_away_from_it(job):
    taps = tuple(Tap(id=f"t{n}", x=0.2 + 0.2 * n, y=0.1, grade="ring") for n in range(9))
    survey = Survey(readings=taps)
    with_it, without = (
        posterior_of(survey, PLATE, SHELF, starts_of(zone, SHELF)) for zone in (bare(job, seam()), bare(job))
    )
    along, away = np.array([[1.0, 0.5]]), np.array([[1.0, 0.95]])
    assert with_it.chance_at(along)[0] > 1.2 * without.chance_at(along)[0]
    assert with_it.chance_at(away)[0] == pytest.approx(without.chance_at(away)[0], rel=0.05)


def test_seams_are_added_and_removed_and_told_apart(job):
    added = add_seam("z1", seam()).change(job)
    assert added.zone("z1").seams == (seam(),)
    assert "seam" in {getattr(s, "role", "") for s in _plan_shapes(added)}
    assert remove_seam("z1", "l1").change(added).zone("z1") == job.zone("z1")
    with pytest.raises(Fault, match="two seams"):
        evolve(job.zone("z1"), seams=(seam(), seam()))


def _plan_shapes(job):
    from ribpatch.core.drawing.plan_view import plan_view
    from ribpatch.core.drawing.survey_picture import survey_picture

    made = plan(job, SHELF).zone("z1")
    return plan_view(made.zone, made.patch, survey_picture(made.zone, SHELF), SHELF, "find", "metric", ()).shapes

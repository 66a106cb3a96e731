"""What is drawn and handed on: bent shapes, maps, scans, parts of members, loads of fittings, answers kept."""

from __future__ import annotations

import numpy as np
import pytest
from msgspec.structs import replace
from tests.core.structure.test_checks_by_hand import TRANSOM
from tests.core.structure.test_left_by_hand import one, proved
from tests.core.structure.test_more_by_hand import JOB, SHELF
from tests.core.structure.test_run import model, stringer

from ribpatch.core.drawing.prove_view import GRID, _bent, _grid
from ribpatch.core.drawing.shapes import Callout, Dimension, Line
from ribpatch.core.proof_edits import add_flex, flex_at
from ribpatch.core.record import evolve
from ribpatch.core.said import Answer
from ribpatch.core.structure.cases import cases_of
from ribpatch.core.structure.members import member_parts
from ribpatch.core.structure.plate_elements import gauss, modes
from ribpatch.core.units import Measure, usual


def test_a_map_has_its_places_along_the_longer_side_and_enough_on_the_other() -> None:
    assert _grid(2.0, 1.0) == (GRID, round(GRID / 2)) and _grid(1.0, 2.0) == (round(GRID / 2), GRID)
    assert _grid(0.7, 0.7) == (GRID, GRID) and _grid(10.0, 0.1) == (GRID, 13)


def test_a_bent_shape_is_drawn_down_by_a_round_factor_and_told_at_its_greatest() -> None:
    t = np.linspace(0.0, 2.0, 41)
    w = 0.004 * np.sin(np.pi * t / 2) ** 2 * np.where(t > 1, 1.0, 0.5)
    drawing = _bent({"before": w / 2, "damaged": w}, t, 2.0, "metric", "here")
    factor = float(drawing.note.split()[-1])
    assert factor == 50.0  # 0.35 of half the span over 4 mm is 87.5, and 50 the round number under it
    curves = [s for s in drawing.shapes if isinstance(s, Line)][1:]
    assert np.array(curves[1].points)[:, 1] == pytest.approx(-w * factor)
    told = [s for s in drawing.shapes if isinstance(s, Callout)]
    assert [c.side for c in told] == ["right", "right"]
    assert told[1].at == pytest.approx((float(t[w.argmax()]), -float(w.max()) * factor))
    level = next(s for s in drawing.shapes if isinstance(s, Dimension))
    assert level.start == pytest.approx((0.0, 0.1)) and level.end == pytest.approx((2.0, 0.1))
    left = _bent({"before": w[::-1]}, t, 2.0, "metric", "here")
    assert [s.side for s in left.shapes if isinstance(s, Callout)] == ["left"]
    lifted = _bent({"before": -w}, t, 2.0, "metric", "here")
    assert next(s for s in lifted.shapes if isinstance(s, Dimension)).start[1] == pytest.approx(-0.1)


def test_a_scan_has_its_values_at_its_own_places() -> None:
    field = proved("z1").fields("repaired")[0]
    x, y, parts = field.scan()
    for i, line in enumerate(field.xs[:-1]):
        assert (x[i].min(), x[i].max()) == pytest.approx((line, field.xs[i + 1]))
    inside = (slice(None), slice(None), slice(1, -1), slice(1, -1))
    for part in ("w", "mx", "qy"):
        again = field.at(x[inside], y[inside])[part]  # type: ignore[index]  # a part
        assert parts[part][inside] == pytest.approx(again, rel=1e-7, abs=1e-9)  # type: ignore[index]  # a part


@pytest.mark.parametrize("kind", ["hat", "box", "angle", "I", "flat", "knee"])
def test_members_stand_on_the_panel_and_end_at_their_height(kind: str) -> None:
    size = {"height": usual(0.06), "width": usual(0.05), "wall": usual(0.004), "flange": usual(0.03)}
    member = evolve(JOB.zone("z2").scheme.members[0], kind=kind, **size)
    parts = {p.name: p for p in member_parts(member, TRANSOM.panel.wall, SHELF)}
    for name, part in parts.items():
        assert part.bottom == pytest.approx(0.056 if name == "crown" else 0.0), name
    assert max(p.top for p in parts.values()) == pytest.approx(0.06)


def test_a_fitting_pulls_in_its_own_middle_and_tilts_by_its_height() -> None:
    zone = JOB.zone("z1")
    bollard = evolve(zone.fittings[0], x=0.7, y=0.3)
    moved = evolve(zone, fittings=(bollard, *zone.fittings[1:]))
    panel = proved("z1").panel
    (load,) = next(c for c in cases_of(moved, panel, JOB.boat, SHELF) if c.key.startswith("pull")).loads
    assert load.box.centre == pytest.approx((0.7 - panel.x0, 0.3 - panel.y0))
    assert load.box.size == pytest.approx((0.16, 0.16))
    rise = np.radians(zone.proof.loads.lift.si)
    assert load.force == pytest.approx(-6000 * np.sin(rise))
    assert load.my == pytest.approx(6000 * np.cos(rise) * zone.proof.loads.lever.si)


@pytest.mark.parametrize(("stretch", "weaker"), [((0.0, 0.3), False), ((0.9, 1.3), False), ((0.5, 0.7), True)])
def test_rot_beside_what_stands_there_does_not_weaken_its_bearing(stretch: tuple[float, float], weaker: bool) -> None:
    of = model(stringer(mass=usual(140.0)))
    low, high = of.foot
    assert 0.3 < low < 0.7 < high < 0.9
    here = replace(of, bad_stretches=(stretch,))
    before, damaged = (one(here.checks_in(s), "bearing") for s in ("before", "damaged"))  # type: ignore[arg-type]  # states
    assert (damaged.limit < before.limit) == weaker


def test_a_flex_answers_its_own_finding_and_leaves_the_others() -> None:
    zone = JOB.zone("z4")
    said = (Answer(finding="flexes", said="no"), Answer(finding="weeps", said="yes"))
    zone = evolve(zone, diagnosis=evolve(zone.diagnosis, answers=said))
    job = evolve(JOB, zones=tuple(zone if z.id == "z4" else z for z in JOB.zones))
    flex = flex_at(zone, (0.5, 0.3), Measure(si=400.0), Measure(si=0.004))
    told = add_flex(zone, flex, True).change(job).zone("z4").diagnosis.answers
    assert [(a.finding, a.said) for a in told] == [("weeps", "yes"), ("flexes", "yes")]


@pytest.mark.parametrize("degree", [2, 4, 5, 8])
def test_modes_by_powers_are_the_legendre_ones(degree: int) -> None:
    """(P_n - P_(n-2)) / sqrt(2 (2 n - 1)) after the two ends, by NumPy's own series; slopes by differences."""
    t = np.linspace(0, 1, 41)
    values, slopes = modes(t, degree)
    z = 2 * t - 1
    for n in range(2, degree + 1):
        series = np.zeros(n + 1)
        series[n], series[n - 2] = 1.0, -1.0
        known = np.polynomial.legendre.legval(z, series) / np.sqrt(2 * (2 * n - 1))
        np.testing.assert_allclose(values[:, n], known, atol=1e-12)
    np.testing.assert_allclose(values[:, :2], np.column_stack([1 - t, t]), atol=1e-14)
    step = 1e-6
    ahead, behind = modes(t + step, degree)[0], modes(t - step, degree)[0]
    np.testing.assert_allclose(slopes, (ahead - behind) / (2 * step), atol=1e-6)
    assert modes(np.zeros((3, 4)), degree)[0].shape == (3, 4, degree + 1)


def test_places_and_weights_integrate_a_polynomial_exactly() -> None:
    at, weight = gauss(4)
    for power in range(8):
        assert float(weight @ at**power) == pytest.approx(1 / (power + 1), rel=1e-13)

"""Where things stand in a drawing, by sums of our own: tabbing in section, a run drawn straight."""

from math import cos, hypot, pi, radians, sin, tan

import pytest
from tests.bed import bed_job as demo_job
from tests.strategies import SHELF

from ribpatch.core.drawing.run_view import run_view
from ribpatch.core.drawing.shapes import Area, Badge, Callout, Dimension, Line, Text
from ribpatch.core.drawing.tab_view import tab_view
from ribpatch.core.laminate.stack import stack_up
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve
from ribpatch.core.scheme import StackLine, Tabbing
from ribpatch.core.units import usual

JOB = demo_job()


def flat(points):
    """Places as one row of numbers."""
    return [v for point in points for v in point]


@pytest.mark.parametrize("angle", [60.0, 90.0, 130.0])
def test_a_tabbed_corner_is_drawn_where_its_sizes_say(angle):
    stack = stack_up((StackLine(fabric="biax-45-600", count=3),), "epoxy-5-1-slow", "hand", SHELF)
    r, first, stagger = 0.02, 0.06, 0.015
    tabbing = Tabbing(angle=usual(angle), radius=usual(r), first=usual(first), stagger=usual(stagger))
    view = tab_view(stack, tabbing, SHELF, "metric")
    reach, turn = r / tan(radians(angle) / 2), radians(angle)
    lying, standing, fillet, *plies = (s for s in view.shapes if isinstance(s, Area))
    # The fillet is a circle that touches both parts: every place of its face is r from one middle.
    face = fillet.rings[0][1:]
    assert face[0] == pytest.approx((reach, 0.0), abs=1e-12)
    assert face[-1] == pytest.approx((reach * cos(turn), reach * sin(turn)))
    assert [hypot(x - reach, y - r) for x, y in face] == pytest.approx([r] * len(face))
    # Plies are three times as thick as they are, each further along both parts by the stagger.
    t = stack.plies[0].ply.thickness * 3
    for n, ply in enumerate(plies):
        ring, far = ply.rings[0], reach + first + n * stagger
        half = len(ring) // 2
        inner, outer = ring[:half], ring[half:][::-1]
        assert inner[0] == pytest.approx((far, n * t)) and outer[0] == pytest.approx((far, (n + 1) * t))
        for line, off in ((inner, n * t), (outer, (n + 1) * t)):
            assert line[-1] == pytest.approx((far * cos(turn) + off * sin(turn), far * sin(turn) - off * cos(turn)))
            bend = line[1:-1]
            assert [hypot(x - reach, y - r) for x, y in bend] == pytest.approx([max(r - off, r * 0.05)] * len(bend))
    leg = first + 2 * stagger
    arm = reach + leg * 1.15 + 0.02
    assert flat(lying.rings[0]) == pytest.approx([0, 0, arm, 0, arm, -0.012, -0.012, -0.012])
    assert standing.rings[0][1] == pytest.approx((arm * cos(turn), arm * sin(turn)))
    assert standing.rings[0][3] == pytest.approx((-0.012 * sin(turn), 0.012 * cos(turn)))
    (size,) = (s for s in view.shapes if isinstance(s, Dimension))
    assert (size.start, size.end) == (pytest.approx((reach, -0.0168)), pytest.approx((reach + leg, -0.0168)))
    badges = [s for s in view.shapes if isinstance(s, Badge)]
    assert [b.text for b in badges] == ["1", "2", "3"]
    assert [b.at for b in badges] == [
        pytest.approx((reach + first + n * stagger - 0.006, (n + 0.5) * t)) for n in range(3)
    ]
    count, round_it = (s for s in view.shapes if isinstance(s, Callout))
    assert count.at == pytest.approx((reach + leg / 2, 3 * t)) and "3 plies" in count.text
    assert round_it.at == pytest.approx((reach * 0.4, reach * 0.3)) and "20.0 mm" in round_it.text
    top = (arm * cos(turn), arm * sin(turn))
    assert view.bounds == pytest.approx((min(0, top[0]) - 0.012, -0.024, arm, max(top[1], 0.02)))
    assert pi > turn


def test_a_run_is_drawn_straight_where_its_measures_say():
    zone = JOB.zone("z3")
    made = plan(evolve(JOB, zones=(zone,)), SHELF).zone("z3")
    view = run_view(zone, made.patch, SHELF, "metric", None, ())
    high = 2.6 / 22
    band, *_ = (s for s in view.shapes if isinstance(s, Area))
    assert flat(band.rings[0]) == pytest.approx([0, 0, 2.6, 0, 2.6, high, 0, high])
    (tray,) = (s for s in view.shapes if isinstance(s, Area) and s.role == "fitting")
    x0, x1 = 1.2 - 0.21, 1.2 + 0.21
    low, top = high / 4, 3 * high / 4
    assert flat(tray.rings[0]) == pytest.approx([x0, low, x1, low, x1, top, x0, top])
    (size,) = (s for s in view.shapes if isinstance(s, Dimension))
    assert (size.start, size.end) == (pytest.approx((0, -2.2 * high)), pytest.approx((2.6, -2.2 * high)))
    likely = made.patch.extent.likely
    bad = [s for s in view.shapes if isinstance(s, Line) and s.role == "damage"]
    words = [s for s in view.shapes if isinstance(s, Text) and s.role == "stretch"]
    spans = sorted((p.bounds[0], p.bounds[2]) for p in likely.geoms)
    assert len(bad) == len(words) == len(spans) > 0
    for line, text, (a, b) in zip(bad, words, spans, strict=True):
        assert flat(line.points) == pytest.approx([a, -0.8 * high, b, -0.8 * high])
        assert text.at == pytest.approx(((a + b) / 2, -1.25 * high))
    sure = [s for s in view.shapes if isinstance(s, Line) and s.role == "surely"]
    assert all(s.points[0][1] == pytest.approx(-0.6 * high) for s in sure)
    (lane,) = (s for s in view.shapes if isinstance(s, Line) and s.role == "grid")
    assert flat(lane.points) == pytest.approx([0, 1.7 * high, 2.6, 1.7 * high])
    assert view.bounds == pytest.approx((-0.052, -3.4 * high, 2.6, 2.7 * high))

"""Outlines by tape: exact shapes come back, tape noise is judged as it is, a slip is named; against another solver."""

from math import hypot

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import least_squares

from ribpatch.core.errors import BadOutline, Fault
from ribpatch.core.geometry import polygon_of, ring_fault
from ribpatch.core.taping import (
    FIRST,
    SECOND,
    Span,
    adjusted,
    mirrored,
    offsets_from_text,
    spans_from_text,
    taped_words,
)

INCH = 0.0254
TRUE = {
    FIRST: (0.0, 0.0),
    SECOND: (1.4, 0.0),
    "A": (0.1, 0.15),
    "B": (1.3, 0.2),
    "C": (1.2, 0.9),
    "D": (0.7, 1.1),
    "E": (0.05, 0.8),
}


def spans_of(points, pairs, noise=0.0, seed=0):
    draw = np.random.default_rng(seed)
    return tuple(
        Span(a, b, hypot(points[a][0] - points[b][0], points[a][1] - points[b][1]) + noise * draw.standard_normal())
        for a, b in pairs
    )


FROM_PINS = [(FIRST, SECOND), *((p, n) for n in "ABCDE" for p in (FIRST, SECOND))]
CHECKS = [("A", "B"), ("B", "C"), ("C", "D"), ("D", "E"), ("E", "A"), ("A", "C"), ("B", "D"), ("B", "E")]


def test_exact_measures_give_the_shape_back_and_agree():
    taped = adjusted(spans_of(TRUE, FROM_PINS + CHECKS))
    for name, at in taped.points.items():
        assert at == pytest.approx(TRUE[name], abs=1e-9)
    assert taped.misfit < 1e-9 and not taped.suspect
    assert [p == pytest.approx(TRUE[n], abs=1e-9) for p, n in zip(taped.ring, "ABCDE", strict=True)]


@given(st.integers(0, 10_000))
def test_a_noisy_survey_is_where_another_solver_puts_it(seed):
    spans = spans_of(TRUE, FROM_PINS + CHECKS, 0.003, seed)
    taped = adjusted(spans)
    names = [SECOND, *"ABCDE"]

    def off(free):
        at = {FIRST: (0.0, 0.0), SECOND: (free[0], 0.0)} | {
            n: (free[2 * k + 1], free[2 * k + 2]) for k, n in enumerate("ABCDE")
        }
        return [hypot(at[s.a][0] - at[s.b][0], at[s.a][1] - at[s.b][1]) - s.length for s in spans]

    start = [TRUE[SECOND][0], *(v for n in "ABCDE" for v in TRUE[n])]
    best = least_squares(off, start, xtol=1e-14, ftol=1e-14, gtol=1e-14)
    assert taped.points[names[0]][0] == pytest.approx(best.x[0], abs=1e-6)
    assert [v for n in "ABCDE" for v in taped.points[n]] == pytest.approx(best.x[1:].tolist(), abs=1e-6)
    assert sum(taped.redundancy) == pytest.approx(len(spans) - 11)  # their shares sum to the degrees of freedom


def test_the_misfit_is_the_spread_of_the_tape():
    got = [adjusted(spans_of(TRUE, FROM_PINS + CHECKS, 0.003, seed)).misfit for seed in range(300)]
    assert np.sqrt(np.mean(np.square(got))) == pytest.approx(0.003, rel=0.05)


def test_a_slip_of_the_tape_is_named_and_honest_measures_are_not():
    """A tape hooked a finger's width wrong, on measures that others check; drawn otherwise than the method thinks."""
    draw = np.random.default_rng(7)
    named = called = 0
    for seed in range(200):
        clean = spans_of(TRUE, FROM_PINS + CHECKS, 0.0, seed)
        spans = [Span(s.a, s.b, s.length + draw.uniform(-0.003, 0.003)) for s in clean]
        called += adjusted(tuple(spans)).suspect
        which = int(draw.integers(1, len(spans)))
        wrong = spans[which]
        spans[which] = Span(wrong.a, wrong.b, wrong.length + draw.choice([-1, 1]) * 0.03)
        taped = adjusted(tuple(spans))
        named += taped.suspect and taped.worst is spans[which]
    assert named >= 180 and called <= 6


def test_without_checks_nothing_is_claimed_and_with_one_no_culprit_is_named():
    bare = adjusted(spans_of(TRUE, FROM_PINS))
    assert bare.misfit is None and "Nothing checks" in taped_words(bare, "metric")
    one = adjusted((*spans_of(TRUE, FROM_PINS), Span("A", "C", 1.5)))
    assert one.misfit > 0.01 and one.worst is None and "One more check" in taped_words(one, "metric")


def test_what_is_written_down_is_read_in_either_system_with_checks_and_the_other_side():
    spans, below = spans_from_text("1400\nA 612 1000\nB, 3'3 3/8\", 28.5 in below\nA B 51in\n1 B 39.375in")
    assert [s.name for s in spans[:4]] == ["pin 1 to pin 2", "pin 1 to A", "pin 2 to A", "pin 1 to B"] and below == {
        "B"
    }
    assert spans[3].length == pytest.approx(39.375 * INCH) and (spans[-1].a, spans[-1].b) == (FIRST, "B")
    at = adjusted(spans_from_text("1000\nA 600 800\nB 600 800 below")[0], frozenset({"B"})).points
    assert at["A"] == pytest.approx((0.36, 0.48)) and at["B"] == pytest.approx((0.36, -0.48))


@pytest.mark.parametrize(
    ("text", "says"),
    [("", "distance between the pins"), ("A 600 800", "base is missing"), ("1000\nA 600", "no corner and no check"), ("1000\nA 100 200", "do not meet"),
     ("1000\nA 600 wide", "no number"), ("0\nA 600 800", "no distance"), ("1000\nA -5 800", "no distance"), ("1000\nA 600 800\nA 3", "no corner and no check")],
)  # fmt: skip
def test_what_cannot_be_is_explained(text, says):
    with pytest.raises(Fault, match=says):
        adjusted(*spans_from_text(text))


def test_offsets_make_a_ring_above_the_line_or_between_two():
    ring = offsets_from_text("0 300\n500 450\n1000 200")
    assert polygon_of(ring).area == pytest.approx(0.5 * (0.3 + 0.45) / 2 + 0.5 * (0.45 + 0.2) / 2)  # two trapeziums
    both = offsets_from_text("1000 0 0\n0 -100 300\n500 -50 400")
    assert ring_fault(both) is None and polygon_of(both).bounds == pytest.approx((0.0, -0.1, 1.0, 0.4))
    for text, says in (("0 1 2 3", "not a station"), ("0 300", "fewer than three")):
        with pytest.raises(BadOutline, match=says):
            offsets_from_text(text)


@given(
    st.lists(
        st.tuples(st.floats(0.05, 2.0), st.floats(0.05, 0.9)),
        min_size=2,
        max_size=6,
        unique_by=lambda p: round(p[0], 2),
    )
)
def test_half_a_shape_becomes_twice_its_area_and_alike_on_both_sides(corners):
    corners = sorted(corners)
    half = (*((x, -y) for x, y in corners), (corners[-1][0], 0.0), (corners[0][0], 0.0))
    if ring_fault(half):
        return
    whole = mirrored(half)
    assert polygon_of(whole).area == pytest.approx(2 * polygon_of(half).area, rel=1e-6)
    _, y0, _, y1 = polygon_of(whole).bounds
    assert -y0 == pytest.approx(y1) and polygon_of(whole).centroid.y == pytest.approx(0, abs=1e-9)


def test_a_shape_all_on_the_middle_line_is_no_half():
    with pytest.raises(BadOutline, match="middle line"):
        mirrored(((0.0, 0.0), (1.0, 0.0), (2.0, 0.0)))

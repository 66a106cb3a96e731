"""Sections against closed forms and against slices."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ribpatch.core.errors import BadStructure
from ribpatch.core.structure.section import Section, SectionPart, effective_width, plating


def test_a_rectangle() -> None:
    s = Section((SectionPart("bar", 0.05, 0.1, 0.0, 1e10, 4e9),))
    assert s.neutral == pytest.approx(0.05)
    assert pytest.approx(1e10 * 0.05 * 0.1**3 / 12) == s.EI
    assert s.modulus_at(True) == pytest.approx(0.05 * 0.1**2 / 6)
    assert s.greatest_shear(1000.0) == pytest.approx(1.5 * 1000 / 0.005)
    assert pytest.approx(5 / 6 * 4e9 * 0.005) == s.GA
    assert s.stresses(100.0)[0][1:] == pytest.approx((100 / 8.3333e-5, -100 / 8.3333e-5), rel=1e-3)


def test_two_bonded_bars_of_unlike_stiffness() -> None:
    """Steel under timber, as in any textbook: n = 20."""
    s = Section((SectionPart("steel", 0.1, 0.01, 0.0, 200e9), SectionPart("timber", 0.1, 0.2, 0.01, 10e9)))
    n = 20.0
    z = (n * 0.001 * 0.005 + 0.02 * 0.11) / (n * 0.001 + 0.02)
    inertia = n * (0.1 * 0.01**3 / 12 + 0.001 * (z - 0.005) ** 2) + 0.1 * 0.2**3 / 12 + 0.02 * (0.11 - z) ** 2
    assert s.neutral == pytest.approx(z)
    assert pytest.approx(10e9 * inertia) == s.EI
    assert s.modulus_at(False) == pytest.approx(inertia / (n * z))
    assert s.shear_flow(1000.0, 0.01) == pytest.approx(1000 * 0.02 * (0.11 - z) / inertia)


@given(st.lists(st.tuples(*[st.floats(0.005, 0.2)] * 3, st.floats(1e8, 5e10)), min_size=1, max_size=6))
def test_any_section_against_slices(rows: list[tuple[float, float, float, float]]) -> None:
    s = Section(tuple(SectionPart("p", w, h, b, E) for w, h, b, E in rows))
    z = (np.arange(40_000) + 0.5) / 40_000 * 0.41
    width = sum(np.where((z > b) & (z < b + h), w * E, 0.0) for w, h, b, E in rows)
    neutral = float((width * z).sum() / width.sum())
    assert s.neutral == pytest.approx(neutral, rel=2e-3)
    assert pytest.approx(float((width * (z - neutral) ** 2).sum() * 0.41 / 40_000), rel=5e-3) == s.EI


@given(st.floats(-1e4, 1e4), st.floats(0.0, 0.13))
def test_the_shear_flow_vanishes_at_both_faces(shear: float, level: float) -> None:
    s = Section((plating(0.3, 0.008, 1e10, 4e9), SectionPart("web", 0.01, 0.1, 0.0, 8e9, 3e9)))
    assert s.shear_flow(shear, s.top) == pytest.approx(0.0, abs=1e-9)
    assert s.shear_flow(shear, s.bottom) == pytest.approx(0.0, abs=1e-6 * (1 + abs(shear)))
    assert abs(s.shear_flow(shear, level)) <= abs(s.shear_flow(shear, s.neutral)) + 1e-9
    moment = sum((b + a) / 2 * p.area for (_, a, b), p in zip(s.stresses(100.0), s.parts, strict=True))
    assert moment == pytest.approx(0.0, abs=1e-6)  # a moment alone pulls nothing


def test_the_strip_of_plating_that_works_along() -> None:
    assert effective_width(0.008, 0.1, None) == pytest.approx(0.42)
    assert effective_width(0.008, 0.1, 0.3) == pytest.approx(0.3)


@pytest.mark.parametrize(
    ("parts", "words"),
    [
        ((), "without parts"),
        ((SectionPart("web", 0.0, 0.1, 0, 1e9),), "no size"),
        ((SectionPart("web", 0.1, 0.1, 0, 0.0),), "no stiffness"),
    ],
)
def test_no_section(parts: tuple[SectionPart, ...], words: str) -> None:
    with pytest.raises(BadStructure, match=words):
        Section(parts).check()

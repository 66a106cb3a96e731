"""Beams against closed forms, and what always holds."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ribpatch.core.errors import BadStructure
from ribpatch.core.structure.beam import Beam, BeamLoad, Prop, Stretch, solve_beam

L, EI, F = 2.0, 1000.0, 100.0
ALL, MIDDLE, TIP = BeamLoad(0, L, F), BeamLoad(L / 2, L / 2, F), BeamLoad(L, L, F)


@pytest.mark.parametrize(
    ("beam", "load", "at", "w", "m"),
    [
        (Beam(L, EI), ALL, 1.0, 5 * F * L**3 / 384 / EI, F * L / 8),
        (Beam(L, EI), MIDDLE, 1.0, F * L**3 / 48 / EI, F * L / 4),
        (Beam(L, EI, ("C", "C")), ALL, 1.0, F * L**3 / 384 / EI, F * L / 24),
        (Beam(L, EI, ("C", "C")), ALL, 0.0, 0.0, -F * L / 12),
        (Beam(L, EI, ("C", "C")), MIDDLE, 2.0, 0.0, -F * L / 8),
        (Beam(L, EI, ("C", "F")), TIP, 2.0, F * L**3 / 3 / EI, 0.0),
        (Beam(L, EI, ("C", "F")), ALL, 0.0, 0.0, -F * L / 2),
        (Beam(L, EI, ("C", "S")), ALL, 0.0, 0.0, -F * L / 8),
        (Beam(L, EI, GA=500.0), MIDDLE, 1.0, F * L**3 / 48 / EI + F * L / 4 / 500, F * L / 4),
        # a stretch of another EI over the free half of a cantilever
        (
            Beam(L, EI, ("C", "F"), stretches=(Stretch(1.0, 2.0, EI / 4),)),
            TIP,
            2.0,
            F / (3 * EI) * (L**3 - 1) + F / (3 * EI / 4),
            0.0,
        ),
        (Beam(L, EI, props=(Prop(1.0),)), ALL, 1.0, 0.0, -F / 2 * 1.0 / 8),
    ],
)
def test_closed_forms(beam: Beam, load: BeamLoad, at: float, w: float, m: float) -> None:
    made = solve_beam(beam, (load,), (at,))
    assert made.at(at)[0] == pytest.approx(w, rel=1e-5, abs=1e-9)
    assert made.at(at)[1] == pytest.approx(m, rel=1e-5, abs=1e-4)


def test_what_supports_carry() -> None:
    made = solve_beam(Beam(L, EI, props=(Prop(1.0),)), (ALL,))
    assert made.reactions == pytest.approx([3 / 16 * F, 10 / 16 * F, 3 / 16 * F], rel=1e-6)
    soft = solve_beam(Beam(L, EI, props=(Prop(1.0, 48 * EI / L**3),)), (MIDDLE,))
    assert soft.reactions == pytest.approx([F / 4, F / 2, F / 4], rel=1e-6)
    held = solve_beam(Beam(L, EI, ("C", "S")), (ALL,))
    assert held.reactions == pytest.approx([5 / 8 * F, 3 / 8 * F], rel=1e-6)
    assert held.end_moments == pytest.approx((-F * L / 8, 0.0), abs=1e-5)


def test_a_prop_that_gives_little_is_a_firm_one() -> None:
    firm, stiff = (solve_beam(Beam(L, EI, props=(Prop(0.7, k),)), (ALL,)) for k in (None, 1e10))
    assert stiff.reactions == pytest.approx(firm.reactions, rel=1e-4)


@settings(max_examples=40, deadline=None)
@given(
    st.floats(0, 1), st.floats(0, 1), st.sampled_from([("S", "S"), ("C", "F"), ("C", "S"), ("C", "C")]), st.booleans()
)
def test_reciprocity_balance_and_mirror(a: float, b: float, ends: tuple[str, str], shear: bool) -> None:
    beam = Beam(1.0, 50.0, ends, 400.0 if shear else None, (Stretch(0.2, 0.6, 5.0),))  # type: ignore[arg-type]  # sampled
    first = solve_beam(beam, (BeamLoad(a, a, 1.0),), (a, b))
    second = solve_beam(beam, (BeamLoad(b, b, 1.0),), (a, b))
    assert first.at(b)[0] == pytest.approx(second.at(a)[0], rel=1e-5, abs=1e-10)
    carried = [r for r, e in zip(first.reactions[[0, -1]], ends, strict=True) if e != "F"]
    assert sum(carried) == pytest.approx(1.0, rel=1e-6)
    turned = Beam(1.0, 50.0, ends[::-1], beam.GA, (Stretch(0.4, 0.8, 5.0),))  # type: ignore[arg-type]  # sampled
    other = solve_beam(turned, (BeamLoad(1 - a, 1 - a, 1.0),), (1 - b,))
    assert other.at(1 - b)[0] == pytest.approx(first.at(b)[0], rel=1e-5, abs=1e-10)


@pytest.mark.parametrize(
    ("beam", "load", "words"),
    [
        (Beam(0.0, EI), ALL, "0 m long"),
        (Beam(L, EI, ("S", "F")), ALL, "mechanism"),
        (Beam(L, EI, ("F", "F"), props=(Prop(1.0),)), ALL, "mechanism"),
        (Beam(L, 0.0), ALL, "not above 0"),
        (Beam(L, EI), BeamLoad(1, 3, F), "lies off the beam"),
        (Beam(L, EI, props=(Prop(-1.0),)), ALL, "lies off the beam"),
        (Beam(L, EI), BeamLoad(0, 1, float("nan")), "no number"),
    ],
)
def test_what_cannot_be_worked_out_is_told(beam: Beam, load: BeamLoad, words: str) -> None:
    with pytest.raises(BadStructure, match=words):
        solve_beam(beam, (load,))


def test_a_beam_on_two_props_with_free_ends_holds() -> None:
    made = solve_beam(Beam(2.0, EI, ("F", "F"), props=(Prop(0.5), Prop(1.5))), (BeamLoad(0, 2, 100.0),), (1.0,))
    assert made.at(1.0)[1] == pytest.approx(50 * 1**2 / 8 - 50 * 0.5**2 / 2, abs=1e-5)
    assert np.abs(made.m[[0, -1]]).max() < 1e-6

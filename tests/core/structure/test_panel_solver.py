"""The panel solver against printed coefficients, series, another method, closed forms and what must always hold."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.core.structure.second_calculations import foam_sandwich, kirchhoff, navier, plain, stiffened_sines

from ribpatch.core.errors import BadStructure
from ribpatch.core.structure.beam import Beam, BeamLoad, Stretch, solve_beam
from ribpatch.core.structure.mesh import lines_along
from ribpatch.core.structure.panel_field import PanelField
from ribpatch.core.structure.panel_records import (
    Box,
    Edges,
    Panel,
    PlateLoad,
    PlateSpring,
    PlateStiffener,
    SoftZone,
    Stiffness,
)
from ribpatch.core.structure.panel_solver import solve_panel

CLAMPED = Edges("C", "C", "C", "C")


def pressed(panel: Panel, pressure: float = 1.0) -> PanelField:
    whole = PlateLoad(Box(0, 0, panel.a, panel.b), pressure * panel.a * panel.b)
    return solve_panel(panel, ((whole,),)).field


@pytest.mark.parametrize(
    ("edges", "b", "w", "mx", "my"),
    [
        # Timoshenko and Woinowsky-Krieger, table 8 (supported), table 35 (clamped), section 48 (two sides free)
        (Edges(), 1.0, 0.00406, 0.0479, 0.0479),
        (Edges(), 1.5, 0.00772, 0.0812, 0.0498),
        (Edges(), 2.0, 0.01013, 0.1017, 0.0464),
        (CLAMPED, 1.0, 0.00126, 0.0231, 0.0231),
        (CLAMPED, 2.0, 0.00254, 0.0412, 0.0158),
        (Edges("S", "S", "F", "F"), 1.0, 0.01309, 0.1225, 0.0271),
    ],
)
def test_published_coefficients_of_thin_plates(edges: Edges, b: float, w: float, mx: float, my: float) -> None:
    s = plain(t=0.002)
    at = {k: float(v) for k, v in pressed(Panel(1, b, edges, s)).at(np.array(0.5), np.array(b / 2)).items()}
    assert at["w"] * s.D[0, 0] == pytest.approx(w, rel=5e-3)
    assert at["mx"] == pytest.approx(mx, rel=0.02)
    assert at["my"] == pytest.approx(my, rel=0.02)


def test_moment_at_a_clamped_edge() -> None:
    field = pressed(Panel(1, 1, CLAMPED, plain(t=0.004)))
    assert field.peak("mx", -1).value == pytest.approx(-0.0513, rel=0.02)


@pytest.mark.parametrize("side", [0.02, 0.1, 0.5])
@pytest.mark.parametrize("stiffness", [plain(t=0.001), plain(t=0.1), foam_sandwich()], ids=["thin", "thick", "foam"])
def test_a_patch_anywhere_against_the_series(side: float, stiffness: Stiffness) -> None:
    a, b, u, v = 1.2, 0.9, 0.5, 0.55
    box = (u - side / 2, v - side / 2, u + side / 2, v + side / 2)
    field = solve_panel(Panel(a, b, Edges(), stiffness), ((PlateLoad(Box(*box), 1.0),),)).field
    there = field.at(np.array(u), np.array(v))
    w, mx, my = navier(stiffness, a, b, box, (u, v), terms=500)
    assert float(there["w"]) == pytest.approx(w, rel=5e-3)
    assert float(there["mx"]) == pytest.approx(mx, rel=0.02)
    assert float(there["my"]) == pytest.approx(my, rel=0.02)


@pytest.mark.parametrize(
    "edges", [Edges("C", "C", "C", "F"), Edges("C", "S", "F", "C"), Edges("C", "F", "S", "C"), CLAMPED]
)
def test_mixed_edges_against_plates_without_shear(edges: Edges) -> None:
    s, (a, b) = plain(t=0.002), (1.1, 0.8)
    field = pressed(Panel(a, b, edges, s))
    for at in ((0.55, 0.4), (0.4, 0.6)):
        w, mx, my = kirchhoff(edges, s, a, b, at)
        mine = field.at(*map(np.array, at))
        assert float(mine["w"]) == pytest.approx(w, rel=5e-3)
        assert float(mine["mx"]) == pytest.approx(mx, rel=0.02, abs=2e-4)
        assert float(mine["my"]) == pytest.approx(my, rel=0.02, abs=2e-4)


@pytest.mark.parametrize("beams", [[(0.3, 2e4)], [(0.2, 500.0), (0.45, 8e3)]])
def test_stiffeners_against_sines(beams: list[tuple[float, float]]) -> None:
    s, (a, b) = plain(t=0.004), (1.0, 0.6)
    members = tuple(PlateStiffener("x", y, EI) for y, EI in beams)
    turned = tuple(PlateStiffener("y", y, EI) for y, EI in beams)
    wanted = stiffened_sines(s, a, b, beams)
    along = pressed(Panel(a, b, Edges(), s, stiffeners=members)).at(np.array(a / 2), np.array(b / 2))["w"]
    across = pressed(Panel(b, a, Edges(), s, stiffeners=turned)).at(np.array(b / 2), np.array(a / 2))["w"]
    assert float(along) == pytest.approx(wanted, rel=5e-3)
    assert float(across) == pytest.approx(wanted, rel=5e-3)


def test_a_stiff_member_on_a_soft_core_is_a_support() -> None:
    """Tied to the deflection: the core's shear does not let the panel bypass it (turning along it stays free)."""
    s = foam_sandwich()
    half = pressed(Panel(1, 0.4, Edges(top="C"), s)).at(np.array(0.5), np.array(0.2))["w"]
    whole = pressed(Panel(1, 0.8, Edges(), s, stiffeners=(PlateStiffener("x", 0.4, 1e9),)))
    assert float(whole.at(np.array(0.5), np.array(0.2))["w"]) == pytest.approx(float(half), rel=0.015)
    assert abs(float(whole.at(np.array(0.5), np.array(0.4))["w"])) < 1e-3 * float(half)


@pytest.mark.parametrize("axis", ["x", "y"])
def test_a_strip_with_a_soft_stretch_is_a_beam(axis: str) -> None:
    """Without Poisson's ratio and with two sides free a panel bends as a Timoshenko beam."""
    D, S = 1000.0, 4e4
    s = Stiffness(np.diag([D, D, D / 2]), np.eye(2) * S)
    soft = Stiffness(s.D / 10, s.S / 10)
    beam = Beam(1.0, D * 0.5, ("C", "S"), S * 0.5, (Stretch(0.3, 0.55, D / 10 * 0.5, S / 10 * 0.5),))
    made = solve_beam(beam, (BeamLoad(0.6, 0.7, 100.0),), (0.5,))
    if axis == "x":
        panel = Panel(1.0, 0.5, Edges("C", "S", "F", "F"), s, (SoftZone(Box(0.3, 0, 0.55, 0.5), soft),))
        load, at = Box(0.6, 0, 0.7, 0.5), (0.5, 0.25)
    else:
        panel = Panel(0.5, 1.0, Edges("F", "F", "C", "S"), s, (SoftZone(Box(0, 0.3, 0.5, 0.55), soft),))
        load, at = Box(0, 0.6, 0.5, 0.7), (0.25, 0.5)
    field = solve_panel(panel, ((PlateLoad(load, 100.0),),)).field
    assert float(field.at(*map(np.array, at))["w"]) == pytest.approx(made.at(0.5)[0], rel=1e-4)
    part = "mx" if axis == "x" else "my"
    assert field.peak(part).value * 0.5 == pytest.approx(made.greatest(made.m)[0], rel=2e-3)


def test_a_soft_zone_is_converged() -> None:
    s = foam_sandwich()
    zone = SoftZone(Box(0.4, 0.3, 0.7, 0.5), Stiffness(s.D / 10, s.S / 10))
    panel = Panel(1.2, 0.8, Edges("C", "S", "S", "F"), s, (zone,), (PlateStiffener("y", 0.9, 3e3, 0.0, 0.5),))
    load = ((PlateLoad(Box(0.5, 0.35, 0.524, 0.374), 1.0),),)
    usual = solve_panel(panel, load).field
    lines = [0, 0.4, 0.5, 0.524, 0.7, 0.9], [0, 0.3, 0.35, 0.374, 0.5]
    fine = tuple(lines_along(side, rows, segments=10, growth=1.8) for side, rows in zip((1.2, 0.8), lines, strict=True))
    better = solve_panel(panel, load, 6, (fine[0], fine[1])).field
    assert usual.peak("w").value == pytest.approx(better.peak("w").value, rel=5e-3)
    for part in ("mx", "my"):
        there, here = better.at(np.array(0.51), np.array(0.36)), usual.at(np.array(0.51), np.array(0.36))
        assert float(here[part]) == pytest.approx(float(there[part]), rel=0.02)


def test_a_moment_through_a_plate_is_a_couple() -> None:
    s, box = plain(t=0.01), Box(0.4, 0.25, 0.5, 0.35)
    left, right = PlateLoad(Box(0.4, 0.25, 0.4, 0.35), -1000.0), PlateLoad(Box(0.5, 0.25, 0.5, 0.35), 1000.0)
    panel = Panel(1.0, 0.6, Edges(), s)
    tilted, couple = solve_panel(panel, ((PlateLoad(box, 0.0, my=100.0),), (left, right))).fields
    at = np.array(0.7), np.array(0.3)
    assert float(tilted.at(*at)["w"]) == pytest.approx(float(couple.at(*at)["w"]), rel=0.02)


SPOTS = st.tuples(st.floats(0.05, 0.95), st.floats(0.05, 0.55))


@settings(max_examples=15, deadline=None)
@given(SPOTS, SPOTS, st.sampled_from(["S", "C", "F"]))
def test_what_is_pressed_here_and_read_there_is_the_same_turned_round(
    one: tuple[float, float], other: tuple[float, float], top: str
) -> None:
    s = foam_sandwich()
    zone = SoftZone(Box(0.2, 0.1, 0.5, 0.3), Stiffness(s.D / 5, s.S / 5))
    panel = Panel(1, 0.6, Edges(left="C", top=top), s, (zone,), (PlateStiffener("x", 0.4, 1e3),))  # type: ignore[arg-type]  # sampled

    def pressing(at: tuple[float, float]) -> tuple[PlateLoad, ...]:
        return (PlateLoad(Box(*at, *at), 1.0),)

    first, second = solve_panel(panel, (pressing(one), pressing(other))).fields
    here, there = first.at(*map(np.array, other))["w"], second.at(*map(np.array, one))["w"]
    assert float(here) == pytest.approx(float(there), rel=1e-6)


@settings(max_examples=10, deadline=None)
@given(SPOTS, st.floats(-5, 5), st.floats(0.1, 3))
def test_loads_add_up_and_panels_have_no_left_and_right(spot: tuple[float, float], force: float, width: float) -> None:
    x, y = spot
    box, mirrored = Box(x, y, min(x + 0.05, 1), y + 0.02), Box(1 - min(x + 0.05, 1), y, 1 - x, y + 0.02)
    panel = Panel(1, 0.6, Edges("C", "S", "S", "C"), foam_sandwich())
    one, two = PlateLoad(box, force), PlateLoad(Box(0.1, 0.1, 0.9, 0.5), width)
    a, b, both = solve_panel(panel, ((one,), (two,), (one, two))).fields
    at = np.linspace(0, 1, 9), np.full(9, 0.31)
    assert np.allclose(a.at(*at)["mx"] + b.at(*at)["mx"], both.at(*at)["mx"], rtol=1e-8, atol=1e-9)
    other = Panel(1, 0.6, Edges("S", "C", "S", "C"), foam_sandwich())
    flipped = solve_panel(other, ((PlateLoad(mirrored, force),),)).field
    here, there = a.at(*at)["w"], flipped.at(1 - at[0], at[1])["w"]
    assert np.abs(here - there).max() < 4e-3 * np.abs(here).max() + 1e-15  # its pieces are others


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"edges": Edges("F", "F", "F", "F")}, "mechanism"),
        ({"edges": Edges("S", "F", "F", "F")}, "can turn"),
        ({"a": 0.0}, "length is 0 m"),
        ({"a": 300.0}, "length"),
        ({"b": float("nan")}, "width"),
        ({"zones": (SoftZone(Box(0.5, 0.1, 1.4, 0.2), plain()),)}, "lies off the panel"),
        ({"zones": (SoftZone(Box(0.5, 0.1, 0.5, 0.2), plain()),)}, "no size"),
        ({"stiffeners": (PlateStiffener("x", 0.7, 1.0),)}, "stiffener"),
        ({"stiffeners": (PlateStiffener("x", 0.3, -1.0),)}, "negative"),
        ({"stiffness": Stiffness(np.diag([1.0, -1, 1]), np.eye(2))}, "D is not symmetric and positive"),
    ],
)
def test_what_cannot_be_solved_is_refused_with_what_where_and_how(change: dict[str, object], words: str) -> None:
    whole: dict[str, object] = {"a": 1.0, "b": 0.6, "edges": Edges(), "stiffness": plain(), **change}
    with pytest.raises(BadStructure, match=words):
        solve_panel(Panel(**whole), ((PlateLoad(Box(0.1, 0.1, 0.2, 0.2), 1.0),),))  # type: ignore[arg-type]  # made up


def test_a_load_off_the_panel_is_refused() -> None:
    with pytest.raises(BadStructure, match="a load|A load"):
        solve_panel(Panel(1, 0.6, Edges(), plain()), ((PlateLoad(Box(0.9, 0.1, 1.1, 0.2), 1.0),),))


@settings(max_examples=30, deadline=None)
@given(st.lists(st.floats(0, 1), max_size=6))
def test_break_lines_hold_what_is_stated_and_grow_gently(stated: list[float]) -> None:
    lines = lines_along(1.0, stated)
    assert lines[0] == 0
    assert lines[-1] == 1
    assert (np.diff(lines) > 0).all()
    assert len(lines) <= 42
    for x in stated:
        assert np.abs(lines - x).min() < 3e-4
    if len(lines) < 40:
        sizes = np.diff(lines)
        assert (sizes[1:] / sizes[:-1]).max() < 5.1
        assert (sizes[:-1] / sizes[1:]).max() < 5.1


def test_a_plate_without_shear_may_be_stated_by_any_large_stiffness() -> None:
    D = plain().D
    found = [pressed(Panel(1, 1, Edges(), Stiffness(D, np.eye(2) * S))).peak("w").value for S in (1e11, 1e15, 1e18)]
    assert found == pytest.approx([found[0]] * 3, rel=3e-5)
    assert found[0] * D[0, 0] == pytest.approx(0.0040624, rel=1e-4)


def test_a_member_of_any_large_stiffness_is_a_line_that_does_not_bend() -> None:
    s = plain()
    found = [
        pressed(Panel(1, 1, Edges(), s, (), (PlateStiffener("x", 0.5, EI),))).peak("w").value
        for EI in (1e9, 1e12, 1e18)
    ]
    assert found == pytest.approx([found[0]] * 3, rel=1e-3)
    half = pressed(Panel(1, 0.5, Edges(top="C"), s)).peak("w").value
    assert found[0] == pytest.approx(half, rel=5e-3)


def test_more_pieces_than_memory_holds_are_refused() -> None:
    s = plain()
    zones = tuple(SoftZone(Box(0.02 * i, 0.02 * i, 0.02 * i + 0.013, 0.02 * i + 0.011), s) for i in range(45))
    with pytest.raises(BadStructure, match="pieces"):
        solve_panel(Panel(1, 1, Edges(), s, zones), ((PlateLoad(Box(0, 0, 1, 1), 1.0),),))


@settings(max_examples=6, deadline=None)
@given(st.floats(0.05, 0.9), st.floats(0.05, 0.5))
def test_on_a_grid_and_place_by_place_are_the_same_and_turning_changes_nothing(x: float, y: float) -> None:
    s = foam_sandwich()
    panel = Panel(1, 0.6, Edges("C", "F", "S", "C"), s, (SoftZone(Box(0.2, 0.1, 0.5, 0.3), plain()),))
    field = solve_panel(panel, ((PlateLoad(Box(0.4, 0.2, 0.6, 0.4), 5.0),),)).field
    grid = field.on_grid(np.array([x, 0.77]), np.array([y, 0.11, 0.45]))
    for n, v in enumerate((y, 0.11, 0.45)):
        one = field.at(np.array([x, 0.77]), np.array([v, v]))
        for part, values in grid.items():
            assert values[n] == pytest.approx(one[part], rel=1e-9, abs=1e-12)
    swapped = field.turned.at(np.array(y), np.array(x))
    there = field.at(np.array(x), np.array(y))
    for part, other in (("w", "w"), ("mx", "my"), ("qy", "qx"), ("kxy", "kxy")):
        assert float(swapped[part]) == pytest.approx(float(there[other]), rel=1e-9, abs=1e-12)  # type: ignore[index]  # parts


@pytest.mark.parametrize("axis", ["x", "y"])
def test_a_line_that_holds_is_what_the_method_of_forces_gives(axis: str) -> None:
    """The line as many patches, each with its own reaction: deflection there is reaction over stiffness."""
    a, b, k, count = 1.2, 0.9, 4e5, 24
    side, place = (a, 0.35) if axis == "x" else (b, 0.8)
    edges, s = Edges("S", "S", "C", "F"), foam_sandwich()
    start, end = 0.2, 0.7
    patch = PlateLoad(Box(0.5, 0.3, 0.7, 0.5), 1000.0)
    h = (end - start) / count
    spots = start + h * (np.arange(count) + 0.5)
    at = [(p, place) if axis == "x" else (place, p) for p in spots]
    wide = 0.004
    boxes = [
        Box(x - h / 2, y - wide, x + h / 2, y + wide) if axis == "x" else Box(x - wide, y - h / 2, x + wide, y + h / 2)
        for x, y in at
    ]
    fields = solve_panel(Panel(a, b, edges, s), ((patch,), *((PlateLoad(box, 1.0),) for box in boxes))).fields
    xs, ys = np.array(at).T
    found = np.array([f.at(xs, ys)["w"] for f in fields])
    reactions = np.linalg.solve(found[1:].T + np.eye(count) / (k * h), found[0])
    held = solve_panel(Panel(a, b, edges, s, springs=(PlateSpring(axis, place, k, start, end),)), ((patch,),)).field
    assert reactions.sum() > 100 and side > end
    assert held.at(xs, ys)["w"] * k * h == pytest.approx(reactions, rel=0.02, abs=0.005 * reactions.max())
    there = np.array(0.6), np.array(0.4)
    carried = sum(r * f.at(*there)["w"] for r, f in zip(reactions, fields[1:], strict=True))
    assert float(held.at(*there)["w"]) == pytest.approx(float(fields[0].at(*there)["w"] - carried), rel=5e-3)


@pytest.mark.parametrize("k", [0.0, 1e30])
def test_a_line_that_holds_nothing_is_none_and_one_that_gives_nothing_is_a_support(k: float) -> None:
    """Under an even pressure each half of a panel held along its middle is one clamped there."""
    s = plain(t=0.01)
    whole = pressed(Panel(1.0, 0.8, Edges(), s, springs=(PlateSpring("y", 0.5, k),)))
    same = pressed(Panel(1.0, 0.8, Edges(), s) if k == 0 else Panel(0.5, 0.8, Edges("S", "C", "S", "S"), s))
    assert whole.peak("w").value == pytest.approx(same.peak("w").value, rel=2e-3)


@pytest.mark.parametrize(
    ("spring", "words"),
    [
        (PlateSpring("x", 1.5, 1e5), "line that holds"),
        (PlateSpring("y", 0.5, -1.0), "negative"),
        (PlateSpring("y", 0.5, 1e5, 0.5, 0.4), "no length"),
    ],
)
def test_a_line_that_holds_off_the_panel_or_without_sense_is_refused(spring: PlateSpring, words: str) -> None:
    with pytest.raises(BadStructure, match=words):
        pressed(Panel(1.0, 1.0, Edges(), plain(), springs=(spring,)))


@pytest.mark.parametrize("ratio", [2.0, 4.0, 10.0, 20.0, 80.0])
def test_the_end_of_a_long_clamped_panel_is_held_as_hard_as_theory_says(ratio):
    """Under pressure p, clamped all round: - 0.0571 p b2 at the short ends and - 0.0833 p b2 at the long ones, from twice
    as long as wide on (table 35). Either way round.
    """
    stiff = Stiffness(np.array([[1000.0, 300, 0], [300, 1000, 0], [0, 0, 350]]), np.eye(2) * 1e8)
    edges = Edges("C", "C", "C", "C")
    for a, b in ((ratio, 1.0), (1.0, ratio)):
        load = PlateLoad(Box(0, 0, a, b), 1000.0 * a * b)
        field = solve_panel(Panel(a, b, edges, stiff), ((load,),)).field
        end, side = ("mx", "my") if a > b else ("my", "mx")
        at_end = field.at(*((np.array([0.0]), np.array([b / 2])) if a > b else (np.array([a / 2]), np.array([0.0]))))
        at_side = field.at(*((np.array([a / 2]), np.array([0.0])) if a > b else (np.array([0.0]), np.array([b / 2]))))
        assert float(at_end[end][0]) == pytest.approx(-57.1, rel=0.015)
        assert float(at_side[side][0]) == pytest.approx(-83.3, rel=0.01)

"""What is left of bad laminate, what members unfold to, sections and answers in numbers: each by hand."""

from __future__ import annotations

from itertools import product
from math import pi, sqrt

import numpy as np
import pytest
from msgspec.structs import replace
from tests.core.structure.test_more_by_hand import JOB, SHELF, box_ring, made
from tests.core.structure.test_run import model, stringer

from ribpatch.core.edits import draw_cut, draw_extent
from ribpatch.core.errors import BadStructure
from ribpatch.core.laminate.layup import Layup
from ribpatch.core.proof import Loads
from ribpatch.core.record import built, evolve
from ribpatch.core.remedies import ask_back, ways_of, worked
from ribpatch.core.scheme import Member, Scheme
from ribpatch.core.structure.laminates import Bad, PanelLaminate, bad_laminate, core_left
from ribpatch.core.structure.panel_records import Box, PlateLoad
from ribpatch.core.structure.panel_solver import solve_panel
from ribpatch.core.structure.pressure import aspect_factor
from ribpatch.core.structure.proved import Check, Proved, Shows, _at_stiffeners
from ribpatch.core.structure.section import Section, SectionPart
from ribpatch.core.structure.transom import GRAVITY, clamp_box
from ribpatch.core.structure.trial import reading_at
from ribpatch.core.units import usual

SOLID = SHELF.rule("prove.solid.left")
LOOSE = SHELF.rule("prove.disbond.left")


def proved(zone: str) -> Proved:
    found = made(JOB.zone(zone)).strength.proved
    assert found is not None
    return found


def cored() -> PanelLaminate:
    return proved("z1").panel.laminate


def one(checks: tuple[Check, ...], key: str) -> Check:
    return next(c for c in checks if c.key == key)


# ---- bad laminate


@pytest.mark.parametrize(("end", "times"), [(0, 1.5), (1, 1.0), (2, 0.5)])
def test_solid_laminate_keeps_a_share_with_a_range_unless_one_is_stated(end: int, times: float) -> None:
    layup: Layup = cored().layup
    solid = PanelLaminate(layup)
    assert bad_laminate(solid, "rotted", None, end, SHELF).share == pytest.approx(min(1.0, SOLID * times))
    assert bad_laminate(solid, "rotted", 0.3, end, SHELF).share == pytest.approx(0.3)


def test_a_disbonded_core_passes_on_little_and_at_worst_nothing() -> None:
    shares = [bad_laminate(cored(), "disbonded", None, end, SHELF).sandwich.stiff for end in (0, 1)]  # type: ignore[union-attr]  # cored
    assert shares == pytest.approx([max(LOOSE * 4, 0.005), max(LOOSE, 0.005)])
    worst = bad_laminate(cored(), "disbonded", None, 2, SHELF)
    assert worst.loose and not bad_laminate(cored(), "disbonded", 0.4, 2, SHELF).loose
    stated = bad_laminate(cored(), "disbonded", 0.4, 1, SHELF).sandwich
    assert stated is not None and stated.stiff == pytest.approx(0.4)


@pytest.mark.parametrize("bad", ["wet", "rotted"])
def test_stated_shares_of_a_core_stand_within_nothing_and_whole(bad: Bad) -> None:
    for left, kept in ((0.25, 0.25), (0.0, 0.005), (1.0, 1.0)):
        for end in (0, 1, 2):
            sandwich = bad_laminate(cored(), bad, left, end, SHELF).sandwich
            assert sandwich is not None and sandwich.stiff == pytest.approx(kept)


def test_wet_is_the_better_half_of_the_range_and_rotted_the_worse() -> None:
    assert [core_left((0.2, 0.8), "wet", end) for end in (0, 1, 2)] == pytest.approx([0.8, 0.65, 0.5])
    assert [core_left((0.2, 0.8), "rotted", end) for end in (0, 1, 2)] == pytest.approx([0.5, 0.35, 0.2])


def test_a_bad_core_is_crushed_by_so_much_less() -> None:
    """Under the clamp of an engine, on core that the survey found bad, and on the same core before."""
    whole = proved("z2").panel
    ring = box_ring(whole.x0 + 0.1, whole.y0 + 0.1, whole.x0 + whole.a - 0.1, whole.y0 + whole.b)
    of = made(draw_extent("z2", (ring,)).change(JOB).zone("z2")).strength.proved
    assert of is not None
    x, y = clamp_box(of.zone.proof.engine, of.panel).centre  # type: ignore[arg-type]  # it has one
    core = of.panel.laminate_at("damaged", x, y, SHELF).sandwich
    assert core is not None and core.stiff < 1
    for key in ("washer", "pad"):
        before, damaged = one(of.checks_in("before"), key), one(of.checks_in("damaged"), key)
        assert before.value == pytest.approx(damaged.value)
        assert damaged.limit == pytest.approx(before.limit * core.stiff)
        assert before.limit == pytest.approx(core.core.compressive_strength / SHELF.rule("prove.factor.core"))


# ---- runs


@pytest.mark.parametrize(("kind", "legs"), [("hat", 2), ("angle", 1), ("I", 2), ("box", 0), ("flat", 0)])
def test_plating_works_for_twenty_thicknesses_beyond_the_foot(kind: str, legs: int) -> None:
    wide = model(stringer(kind=kind, spacing=usual(3.0), flange=usual(0.05), crown=usual(0.07)))
    close = model(stringer(kind=kind, spacing=usual(0.2), flange=usual(0.05), crown=usual(0.07)))
    plating = {p.name: p for p in wide.old.parts}["plating"]
    beyond = SHELF.rule("prove.plating")
    assert plating.width == pytest.approx(0.07 + legs * 0.05 + 2 * beyond * 0.009)
    assert plating.height == pytest.approx(0.009)
    flanges = [p.width for p in wide.old.parts if p.name.startswith("flange")]
    assert flanges == pytest.approx([legs * 0.05] if legs else [])
    assert {p.name: p.width for p in close.old.parts}["plating"] == pytest.approx(0.2)


def test_a_limber_hole_takes_the_lower_part_of_webs_and_filling_only() -> None:
    low = 0.04
    whole = {p.name: p for p in model(stringer(counted=True)).old.parts}
    holed = {p.name: p for p in model(stringer(counted=True, limber=usual(low))).old.parts}
    for name in ("webs", "filling"):
        assert holed[name].height == pytest.approx(whole[name].height - low)
        assert holed[name].bottom == pytest.approx(low)
    for name in ("crown", "flanges", "plating"):
        assert (holed[name].height, holed[name].bottom) == pytest.approx((whole[name].height, whole[name].bottom))
    t = whole["crown"].height
    most = {p.name: p for p in model(stringer(limber=usual(0.3))).old.parts}["webs"]
    assert most.height == pytest.approx(1e-3) and most.bottom == pytest.approx(0.18 - t - 1e-3)


def test_a_counted_core_lies_between_the_webs_and_keeps_half_its_range() -> None:
    of = model(stringer(counted=True))
    t, core = of.walls[0].thickness, SHELF.core("ply-marine")
    old, bad = (next(p for p in s.parts if p.name == "filling") for s in (of.old, of.bad))
    assert old.width == pytest.approx(0.038) and old.height == pytest.approx(0.18 - t)
    assert pytest.approx(core.modulus) == old.E and pytest.approx(core.shear_modulus) == old.G
    left = 1 - sum(core.wet_loss) / 2
    assert pytest.approx((core.modulus * left, core.shear_modulus * left)) == (bad.E, bad.G)


def test_a_notch_reaches_three_times_its_depth_and_lies_in_the_middle_unless_stated() -> None:
    of = model(stringer(notch=usual(0.04)))
    middle = of.span / 2
    for off, cut in ((0.0, True), (0.059, True), (-0.059, True), (0.061, False), (-0.061, False)):
        assert (of.section_at("before", middle + off) is of.notched[0]) == cut
    stretch = of.beam("before").stretches[-1]
    assert (stretch.start, stretch.end) == pytest.approx((middle - 0.06, middle + 0.06))
    assert pytest.approx(of.notched[0].EI) == stretch.EI  # type: ignore[union-attr]  # it has one


def test_what_stands_on_a_rotted_stringer_is_borne_by_less() -> None:
    of, core = model(stringer(mass=usual(140.0))), SHELF.core("ply-marine")
    before, damaged = (one(of.checks_in(s), "bearing") for s in ("before", "damaged"))  # type: ignore[arg-type]  # states
    whole = core.compressive_strength / SHELF.rule("prove.factor.core")
    assert before.limit == pytest.approx(whole)
    assert damaged.limit == pytest.approx(whole * (1 - sum(core.wet_loss) / 2))
    wide = next(p.width for p in of.old.parts if p.name == "crown")
    assert damaged.value == pytest.approx(140 * GRAVITY * 3 / (0.42 * wide))


def test_the_bond_to_the_plating_is_shear_flow_over_two_flanges() -> None:
    of = model(stringer())
    check = one(of.checks_in("before"), "bond")
    shear = float(max(abs(of.answers["before"].v).max(), abs(of.answers["before"].v_before).max()))
    above = [p for p in of.old.parts if p.name != "plating"]
    first = sum(p.E * p.width * p.height * (p.bottom + p.height / 2 - of.old.neutral) for p in above)
    assert check.value == pytest.approx(shear * first / of.old.EI / (2 * 0.06), rel=1e-6)
    bare = one(model(stringer(kind="flat", flange=usual(0.0))).checks_in("before"), "bond")
    assert "no flange and no tabbing" in bare.note and "flanges" in check.method


@pytest.mark.parametrize(("ratio", "edge"), [(1.0, 0.0513), (1.2, 0.0639), (1.4, 0.0726), (1.6, 0.0780), (1.8, 0.0812)])
def test_bending_by_the_rule_is_that_of_a_clamped_plate(ratio: float, edge: float) -> None:
    """The greatest moment at the edge of a clamped plate over q b2, as tables print it, times six."""
    for sides in ((ratio, 1.0), (1.0, ratio)):
        assert aspect_factor(*sides) == pytest.approx(6 * edge, rel=0.01)
    assert aspect_factor(5.0, 1.0) == 0.5


def test_a_part_without_any_size_or_stiffness_is_refused() -> None:
    good = SectionPart("web", 0.01, 0.1, 0.0, 1e10, 1e9)
    Section((good, replace(good, G=0.0), replace(good, E=0.5))).check()
    for changes, told in (
        ({"width": 0.0}, "has no size"),
        ({"height": -1.0}, "has no size"),
        ({"E": 0.0}, "stiffness"),
    ):
        with pytest.raises(BadStructure, match=told):
            Section((replace(good, **changes),)).check()
    for changes in ({"G": -1.0}, {"E": float("nan")}):
        with pytest.raises(BadStructure):
            Section((replace(good, **changes),)).check()


@pytest.mark.parametrize("axis", ["x", "y"])
def test_core_shear_is_not_read_under_the_foot_of_a_stiffener(axis: str) -> None:
    of = proved("z4")
    panel = of.panel
    reach = 0.03 + 0.02 + panel.laminate.thickness
    size = {"height": usual(0.05), "width": usual(0.04), "flange": usual(0.03), "place": (0.3 if axis == "x" else 0.7)}
    corner = (panel.x0, panel.y0) if axis == "x" else (panel.y0, panel.x0)
    start, end = corner[0] + 0.2, corner[0] + 0.5
    member = built(Member, id="m9", name="rib", axis=axis, start=start, end=end, **size)
    with_rib = replace(of, panel=replace(panel, new_members=(member,)))
    across, line = 1e-4, float(size["place"]) - corner[1]  # type: ignore[arg-type]  # a number
    points = [
        (0.3, line + reach - across, True),
        (0.3, line - reach - across, False),
        (0.2 - reach + across, line, True),
        (0.2 - reach - across, line, False),
        (0.5 + reach - across, line, True),
        (0.5 + reach + across, line, False),
    ]
    for along, cross, inside in points:
        x, y = (along, cross) if axis == "x" else (cross, along)
        found = _at_stiffeners(with_rib, "repaired", np.array([x]), np.array([y]))
        assert bool(found[0]) == inside
        assert not _at_stiffeners(with_rib, "damaged", np.array([x]), np.array([y]))[0]


# ---- remedies


def amount(zone: str, way: str, value: float) -> Scheme:
    return next(w for w in ways_of(made(JOB.zone(zone))) if w.key == way).make(value)


def test_what_a_stiffener_unfolds_to_is_ordered() -> None:
    old = JOB.zone("z4").scheme
    new = amount("z4", "stiffener", 0.06)
    (member,), (part,) = new.members[len(old.members) :], new.parts[len(old.parts) :]
    assert part.width.si == pytest.approx(0.06 + member.width.si / 2 + member.flange.si)
    assert part.depth == part.width or part.depth.si == pytest.approx(part.width.si)
    xs, ys = zip(*JOB.zone("z4").outline, strict=True)
    side = xs if member.axis == "x" else ys
    assert part.length.si == pytest.approx(max(side) - min(side), abs=1e-4)
    assert (part.kind, part.plies) == ("angle", old.laminate.plies)


def test_two_knees_stand_under_both_sides_of_the_clamp_and_one_under_its_middle() -> None:
    of = proved("z2")
    box, old = clamp_box(of.zone.proof.engine, of.panel), len(of.zone.scheme.members)  # type: ignore[arg-type]  # it has one
    two, single = amount("z2", "knees", 0.15).members[old:], amount("z2", "knee", 0.15).members[old:]
    assert [m.place for m in two] == pytest.approx([of.panel.x0 + box.x0, of.panel.x0 + box.x1], abs=1e-4)
    assert [m.place for m in single] == pytest.approx([of.panel.x0 + box.centre[0]], abs=1e-4)
    assert {m.name for m in two} == {"knee 1", "knee 2"}
    for knee in (*two, *single):
        assert (knee.start, knee.end) == pytest.approx((of.panel.y0, of.panel.y0 + box.y1), abs=1e-4)
        assert (knee.height.si, knee.width.si) == (0.15, 0.04)
    (cap,) = amount("z2", "cap", 0.05).members[old:]
    assert cap.place == pytest.approx(of.panel.y0 + of.panel.b, abs=1e-4) and cap.flange.si == 0


def test_without_an_engine_knees_stand_at_the_thirds() -> None:
    zone = JOB.zone("z2")
    of = made(evolve(zone, proof=evolve(zone.proof, engine=None, loads=Loads(pressure=usual(3000.0)))))
    found = of.strength.proved
    assert found is not None
    ways = {w.key: w for w in ways_of(of)}
    old, panel = len(zone.scheme.members), found.panel
    places = [m.place - panel.x0 for m in ways["knees"].make(0.1).members[old:]]
    assert places == pytest.approx([panel.a / 3, 2 * panel.a / 3], abs=1e-4)
    (knee,) = ways["knee"].make(0.1).members[old:]
    assert knee.place - panel.x0 == pytest.approx(panel.a / 2, abs=1e-4)
    assert knee.end == pytest.approx(panel.y0 + 0.8 * panel.b, abs=1e-4)


def test_plates_for_a_washer_carry_the_same_pull_at_the_limit() -> None:
    zone = JOB.zone("z2")
    engine = evolve(zone.proof.engine, washer=usual(0.03))  # type: ignore[type-var]  # it has one
    of = made(evolve(zone, proof=evolve(zone.proof, engine=engine)))
    check = one(of.strength.proved.checks_in("repaired"), "washer")  # type: ignore[union-attr]  # it has one
    pull = check.value * pi / 4 * (0.03**2 - 0.0125**2)
    ring = pull / check.limit
    said = [
        float(next(w for w in a.words.replace(",", "").split() if w[0].isdigit())) / 1000
        for a in ask_back(of, "washer", "metric")
    ]
    assert said[0] == pytest.approx(sqrt(ring * 4 / pi + 0.0125**2), rel=0.01)
    assert said[1] == pytest.approx(sqrt(ring + pi / 4 * 0.0125**2), rel=0.01)
    assert said[2] == pytest.approx(sqrt(2 * ring), rel=0.01)


def test_a_thicker_core_is_the_old_ones_kind_and_more() -> None:
    zone = JOB.zone("z1")
    core = amount("z1", "core", 0.006).core
    planned = zone.scheme.core
    begin = planned.thickness.si if planned.thickness is not None and planned.material is not None else 0.018
    assert core.material == (planned.material or "balsa-150") and core.thickness is not None
    assert core.thickness.si == pytest.approx(begin + 0.006)
    of = made(zone)
    more = worked(of, amount("z1", "plies", 3)).patch.stack.plies
    assert len(more) == len(of.patch.stack.plies) + 3


@pytest.mark.parametrize(("sides", "axis"), [((1.2, 1.5), "x"), ((1.5, 1.2), "y"), ((1.2, 1.2), "y")])
def test_a_stiffener_crosses_the_shorter_span_through_what_gives_most(sides: tuple[float, float], axis: str) -> None:
    zone = JOB.zone("z1")
    span = evolve(zone.proof.span, length=usual(sides[0]), width=usual(sides[1]))
    of = made(evolve(zone, proof=evolve(zone.proof, span=span)))
    found = of.strength.proved
    assert found is not None
    way = next(w for w in ways_of(of) if w.key == "stiffener")
    member = way.make(0.06).members[-1]
    peak = max((f.peak("w") for f in found.fields("repaired")), key=lambda p: abs(p.value))
    through = found.panel.x0 + peak.x if axis == "y" else found.panel.y0 + peak.y
    assert (member.axis, member.place) == (axis, pytest.approx(through, abs=1e-4))


def test_a_repaired_panel_is_read_with_the_middle_of_what_is_left_bad() -> None:
    """A cut that leaves damage in place: the reading is that of one solve with the middle of the range."""
    job = draw_extent("z1", (box_ring(0.1, 0.4, 0.9, 1.2),)).change(JOB)
    job = draw_cut("z1", (box_ring(0.1, 0.4, 0.4, 1.2),)).change(job)
    of = made(job.zone("z1")).strength.proved
    assert of is not None and of.panel.left_areas
    at = of.panel.left_areas[0].centre
    pad = Box(at[0] - 0.1, at[1] - 0.1, at[0] + 0.1, at[1] + 0.1)
    reads = [
        float(
            solve_panel(of.panel.panel("repaired", SHELF, end), ((PlateLoad(pad, 500.0),),)).field.at(
                *map(np.array, at)
            )["w"]
        )
        for end in (0, 1, 2)
    ]
    assert reads == sorted(reads) and reads[2] > 1.001 * reads[1]
    assert reading_at(of.panel, "repaired", at, 500.0, 0.2, SHELF).value == pytest.approx(reads[1], rel=2e-3)


@pytest.mark.parametrize("shows", ["strain", "shear"])
def test_shares_over_the_panel_are_those_at_its_places(shows: Shows) -> None:
    of = proved("z1")
    for case in of.cases:
        grid = of.shown("repaired", case.key, shows, 5, 4)
        places = product(enumerate(np.linspace(0, of.panel.b, 4)), enumerate(np.linspace(0, of.panel.a, 5)))
        for (j, y), (i, x) in places:
            assert grid[j, i] == pytest.approx(of.share_at("repaired", case.key, shows, (x, y)), rel=1e-6, abs=1e-9)
    strain, shear = (of.shown("repaired", of.cases[0].key, s, 5, 4) for s in ("strain", "shear"))  # type: ignore[arg-type]  # what is shown
    assert not np.allclose(strain, shear)


def test_the_working_says_in_what_way_a_layer_is_used_first() -> None:
    of = proved("z1")
    check = one(of.checks_in("before"), "strain")
    case = next(c for c in of.cases if c.name == check.case)
    parts = of.field("before", case.key).scan()[2]
    uses = of.panel.laminate.strain_use(np.stack([parts[k] for k in ("kx", "ky", "kxy")], -1).reshape(-1, 3))
    n = int(uses.argmax())
    way = of.panel.laminate.strain_way(np.array([parts[k].ravel()[n] for k in ("kx", "ky", "kxy")]))
    assert way and check.method.endswith(f"first {way}")
    assert check.value == pytest.approx(float(uses[n]), rel=0.05)

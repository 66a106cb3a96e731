"""Warnings of Open and Rebuild: each appears for its reason, goes when that is mended, and says how."""

import math

import pytest
from tests.schemes import rescheme
from tests.strategies import SHELF

from ribpatch.core.plan import plan
from ribpatch.core.record import evolve
from ribpatch.core.scheme import Face, StackLine, Tabbing
from ribpatch.core.units import Measure


def m(value):
    return Measure(si=value)


def told(job, zone, **changes):
    """Notices of a zone by their key, with changes of its scheme."""
    wanted = job.zone(zone)
    changed = evolve(wanted, scheme=rescheme(wanted.scheme, **changes))
    made = plan(evolve(job, zones=tuple(changed if z.id == zone else z for z in job.zones)), SHELF)
    return {n.id.removeprefix(f"{zone}."): n for n in made.notices if n.zone == zone}


def lines(fabric, count=4, angle=0.0):
    return (StackLine(fabric=fabric, count=count, angle=angle),)


def test_mat_is_wasted_with_epoxy_and_missed_with_polyester(job):
    assert "mat-epoxy" in told(job, "z4", plies=lines("mat-450", 6))
    assert "mat-missing" in told(job, "z4", plies=lines("biax-45-800", 7), resin="polyester-iso")
    mended = told(job, "z4", plies=(*lines("mat-300", 1), *lines("biax-45-800", 7)), resin="polyester-iso")
    assert "mat-missing" not in mended and "mat-epoxy" not in mended and "secondary" in mended


def test_too_thin_and_too_thick(job):
    assert told(job, "z4", plies=lines("biax-45-800", 3))["thin"].grave
    assert "proud" in told(job, "z4", plies=lines("biax-45-800", 12))
    assert "proud" not in told(job, "z4", plies=lines("biax-45-800", 9), crown=m(0.003))
    assert "no-plies" in told(job, "z4", plies=()) and "no-plies" not in told(job, "z2", plies=(), side="above")


def test_a_laminate_that_pulls_skews_or_is_weak_one_way(job):
    assert "flag.unsymmetric" in told(job, "z4", plies=(*lines("uni-300", 6), *lines("biax-45-800", 4)))
    assert "flag.unbalanced" in told(job, "z4", plies=lines("uni-300", 18, 30.0))
    across = told(job, "z4", plies=lines("uni-300", 18))["flag.weak-across"]
    assert "weak across" in across.text and across.clears
    assert "flag.weak-along" in told(job, "z4", plies=lines("uni-300", 18, 90.0))


def test_weaker_softer_and_hard_spots_name_what_and_by_how_much(job):
    weak = told(job, "z4", plies=lines("biax-45-800", 4))
    assert weak["match.weaker"].grave and "%" in weak["match.weaker"].text and "strength" in weak["match.weaker"].text
    assert "softer" in weak["match.softer"].text
    hard = told(job, "z4", plies=lines("biax-090-800", 10))
    assert "hard spot" in hard["match.spot"].text and "up to" in hard["match.spot"].text


def test_sharp_corners_are_told_and_a_radius_clears_them(job):
    cut = job.zone("z4").scheme.cut
    assert "sharp" in told(job, "z4", cut=evolve(cut, radius=m(0.002)))
    assert "sharp" not in told(job, "z4", cut=evolve(cut, radius=m(0.02)))


def test_overhead_and_sittings(job):
    assert "overhead" in told(job, "z4", plies=lines("biax-45-800", 7), overhead=True)
    assert "overhead" not in told(job, "z4", plies=lines("biax-45-450", 12), overhead=True)
    assert "overhead" not in told(job, "z4", plies=lines("biax-45-800", 7), overhead=False)
    assert "3 sittings" in told(job, "z4", plies=lines("biax-45-800", 7))["sittings"].text
    assert "sittings" not in told(job, "z4", plies=lines("biax-45-450", 3))


def test_a_poor_preparation_and_a_forbidden_pair_are_told(job):
    assert "60%" in told(job, "z4", preparation="peel")["preparation"].text
    assert "preparation" not in told(job, "z4", preparation="ground")
    later = told(job, "z4", later_resin="vinylester")["bond.later"]
    assert later.grave and "tie coat" in later.clears


def test_part_depth_wants_depths_and_above_wants_a_cavity(job):
    assert told(job, "z4", part_depth=True)["no-depth"].grave
    assert "no-above" in told(job, "z1", side="above") and "no-above" not in told(job, "z2", side="above")


def test_tabbing_too_short_and_tabbing_planned_flat(job):
    short = Tabbing(first=m(0.02), stagger=m(0.0))
    assert told(job, "z3", tabbing=short)["short-leg"].grave
    assert "short-leg" not in told(job, "z3", tabbing=Tabbing())
    corner = evolve(job, zones=tuple(evolve(z, kind="tabbing run") if z.id == "z3" else z for z in job.zones))
    assert "flat-tabbing" in told(corner, "z3") and "flat-tabbing" not in told(corner, "z3", tabbing=Tabbing())
    assert not [key for key in told(corner, "z3", tabbing=Tabbing()) if key.startswith("tight")]


def test_a_tight_place_is_cleared_by_a_ratio_of_its_own(job):
    from ribpatch.core.scheme import Stretch, Taper

    assert any(key.startswith("tight") for key in told(job, "z1"))
    least = plan(job, SHELF).zone("z1").patch.band.least_ratio
    fitted = Taper(ratio=m(12), stretches=(Stretch(facing="x+", ratio=m(math.floor(least * 10) / 10)),))
    assert not any(key.startswith("tight") for key in told(job, "z1", taper=fitted))


# ---- what the new laminate stands on ----


def test_a_pit_is_compared_with_what_is_left_of_the_old_laminate(job):
    from ribpatch.core.job import DepthPoint

    zone = job.zone("z4")
    shallow = evolve(
        zone, depths=(DepthPoint(id="d1", x=0.72, y=0.34, depth=m(0.002)),),
        scheme=rescheme(zone.scheme, part_depth=True, plies=lines("biax-45-450", 4)),
    )  # fmt: skip
    made = plan(evolve(job, zones=(shallow,)), SHELF).zone("z4")
    new = made.comparison.skin.new
    assert new.thickness == pytest.approx(0.005 + made.patch.stack.thickness)
    assert made.by_id["match.stiff.along"].value > 0.9
    assert made.by_id["stack.surplus"].value == pytest.approx(made.patch.stack.thickness - 0.002)


def test_both_faces_of_a_solid_laminate_are_one_laminate(job):
    zone = job.zone("z4")
    both = evolve(
        zone, scheme=rescheme(zone.scheme, plies=lines("biax-45-800", 4), second=Face(plies=lines("biax-45-800", 4)))
    )
    comparison = plan(evolve(job, zones=(both,)), SHELF).zone("z4").comparison
    one = (
        plan(evolve(job, zones=(evolve(zone, scheme=rescheme(zone.scheme, plies=lines("biax-45-800", 8))),)), SHELF)
        .zone("z4")
        .comparison
    )
    assert comparison.skin.new.thickness == pytest.approx(one.skin.new.thickness)
    assert comparison.skin.ratio("stiff.along") == pytest.approx(one.skin.ratio("stiff.along"))
    # Mirrored about the middle it does not pull.
    assert abs(comparison.skin.new.plate.B).max() < 1e-6 * comparison.skin.new.plate.A.max()


def test_the_era_and_the_count_decide_what_the_old_laminate_was(job):
    from ribpatch.core.laminate.original import known_by, skin_layup

    skin = job.zone("z4").build.outer
    by_year = {year: skin_layup(skin, year, SHELF) for year in (1970, 1998, 2015, None)}
    assert all(layup.thickness == pytest.approx(0.007) for layup in by_year.values())
    assert {s.name for s in by_year[2015].sheets} == {"mat", "stitched"} and {s.name for s in by_year[1970].sheets} == {
        "mat",
        "woven",
    }
    assert "before 1975" in known_by(skin, 1970, SHELF) and "not known" in known_by(skin, None, SHELF)
    counted = evolve(skin, plies=lines("mat-450", 5), fibre_fraction=m(0.33))
    assert "burn-off" in known_by(counted, 1998, SHELF) and len(skin_layup(counted, 1998, SHELF).sheets) == 5


def test_each_face_is_measured_by_what_is_tapered_there(job):
    zone = job.zone("z4")
    both = evolve(
        zone,
        scheme=rescheme(
            zone.scheme, plies=lines("biax-45-800", 4), second=Face(plies=lines("biax-45-800", 4), share=m(0.4))
        ),
    )
    by_id = plan(evolve(job, zones=(both,)), SHELF).zone("z4").by_id
    assert by_id["face.thickness"].value == pytest.approx(0.6 * 0.007) and by_id[
        "second.thickness"
    ].value == pytest.approx(0.4 * 0.007)
    assert by_id["taper.length"].value == pytest.approx(12 * by_id["face.thickness"].value)
    assert by_id["second.length"].value == pytest.approx(12 * by_id["second.thickness"].value)
    assert by_id["stack.surplus"].value == pytest.approx(by_id["stack.thickness"].value - 0.6 * 0.007)
    named = {g.figure for g in by_id["taper.length"].inputs}
    assert "z4.face.thickness" in named and "z4.skin.thickness" not in named


def test_a_pit_is_tapered_from_its_depth(job):
    from ribpatch.core.job import DepthPoint

    zone = job.zone("z4")
    deep = evolve(
        zone, depths=(DepthPoint(id="d1", x=0.72, y=0.34, depth=m(0.003)),), scheme=rescheme(zone.scheme, part_depth=True),
    )  # fmt: skip
    by_id = plan(evolve(job, zones=(deep,)), SHELF).zone("z4").by_id
    assert by_id["taper.length"].value == pytest.approx(12 * 0.003)
    assert "z4.pit.deepest" in {g.figure for g in by_id["taper.length"].inputs} and "pit" in by_id["taper.dust"].formula


@pytest.mark.parametrize(("short", "told_of"), [(0.0005, False), (0.002, True), (0.05, True)])
def test_a_laminate_a_little_too_thin_is_told(job, short, told_of):
    """Half a thousandth is a rounding; two in a thousand are not."""
    made = plan(job, SHELF).zone("z4").patch.stack.thickness
    notices = told(job, "z4", target=m(made / (1 - short)))
    assert ("thin" in notices) is told_of


@pytest.mark.parametrize(("ratio", "grave"), [(7.9, True), (5.0, True), (8.1, False), (10.0, False)])
def test_a_tight_place_is_grave_below_the_lowest_school(job, ratio, grave):
    """A hatch set so near the cut line that just this ratio fits before it."""
    from ribpatch.core.job import Fitting

    zone = job.zone("z4")
    bare = plan(job, SHELF).zone("z4").patch
    _, y0, x1, y1 = bare.cut.region.bounds
    gap = ratio * bare.band.thickness
    hatch = Fitting(id="f9", name="hatch", x=x1 + gap + 0.05, y=(y0 + y1) / 2, width=m(0.1), height=m(2 * (y1 - y0)))
    near = evolve(zone, fittings=(hatch,))
    made = plan(evolve(job, zones=(near,)), SHELF)
    (notice,) = [n for n in made.notices if ".tight." in n.id]
    assert made.zones[0].patch.band.tight[0].ratio == pytest.approx(ratio, abs=0.06)
    assert notice.grave is grave and "12 : 1 fits" not in notice.text


def test_what_the_old_laminate_left_below_a_pit_weighs_in_the_comparison(job):
    from ribpatch.core.job import DepthPoint
    from ribpatch.core.laminate.stack import skin_weight

    zone = job.zone("z4")
    depths = tuple(DepthPoint(id=f"d{n}", x=x, y=0.34, depth=m(0.003)) for n, x in enumerate((0.66, 0.72, 0.78)))
    pit = evolve(zone, depths=depths, scheme=rescheme(zone.scheme, part_depth=True, plies=lines("biax-45-800", 3)))
    z = plan(evolve(job, zones=(pit,)), SHELF).zones[0]
    old = skin_weight(zone.build.outer, SHELF)
    held = {h.key: h for h in z.comparison.skin.held}
    left = (0.007 - z.patch.pit.deepest) / 0.007
    assert held["weight"].new == pytest.approx(z.patch.stack.weight + left * old)
    assert held["thickness"].new == pytest.approx(z.patch.stack.thickness + left * 0.007)


def test_the_search_allows_the_crown_over_the_surplus(job):
    from ribpatch.core.laminate.suggest import Wanted, question_of

    wanted = Wanted(("biax-45-450",), 12, 3, True)
    flat, proud = (
        question_of(evolve(z, scheme=rescheme(z.scheme, crown=m(c))), 0.007, 1998, SHELF, wanted).limits
        for z, c in ((job.zone("z4"), 0.0), (job.zone("z4"), 0.002))
    )
    assert flat.thin == proud.thin == pytest.approx(0.007) and proud.thick == pytest.approx(flat.thick + 0.002)
    assert flat.symmetric and (flat.plies, flat.cloths) == (12, 3)

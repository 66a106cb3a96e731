"""What a job begins with: proportions, zones true to their kind, what is assumed and which figures lean on it."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ribpatch.core import edits
from ribpatch.core.begin import begun_job, begun_zone, proposed_boat
from ribpatch.core.edits import add_zone, set_outline, set_size, set_value, take_as_assumed
from ribpatch.core.errors import ManyFaults, OutOfRange
from ribpatch.core.facts import boat_facts, zone_facts
from ribpatch.core.geometry import polygon_of, ring_fault
from ribpatch.core.job import Boat, Job, ShedAir
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve
from ribpatch.core.scheme import CoreChoice, Laminate, Scheme, StackLine
from ribpatch.core.units import INCH, Measure
from ribpatch.library.beginnings import crafts, troubles
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()
BY_ID = {t.id: t for t in troubles()}
CRAFT = {c.id: c for c in crafts()}


def begun(craft="open-outboard", wrong=("rotten-transom",), system="metric", length=None):
    parts = proposed_boat(CRAFT[craft], length, system)
    job = Job(
        boat=Boat(name="Small boat", kind=craft, **parts),
        air=ShedAir(temperature=Measure(si=18.0), humidity=Measure(si=0.6)),
    )
    for name in wrong:
        job = add_zone(begun_zone(job, BY_ID[name], CRAFT[craft].outboard, SHELF, system)).change(job)
    return job


# Proportions of eight craft measured off drawings of our own, as length, beam, hull depth (m) and mass (kg) in use.
DRAWN = {
    "open-outboard": (4.3, 1.75, 0.72, 450),
    "runabout": (6.4, 2.4, 1.15, 1500),
    "cabin-launch": (10.0, 3.1, 1.4, 4100),
    "work-launch": (9.6, 2.9, 1.3, 3400),
    "sailing-dinghy": (4.2, 1.6, 0.55, 220),
    "sailing-cruiser": (8.0, 2.75, 1.4, 2700),
    "rowing-boat": (4.2, 1.45, 0.5, 270),
    "canoe": (4.6, 0.82, 0.34, 150),
}


@pytest.mark.parametrize("craft", DRAWN)
def test_proportions_are_those_of_the_kind_within_a_fifth_and_her_mass_within_a_third(craft):
    length, beam, depth, mass = DRAWN[craft]
    got = proposed_boat(CRAFT[craft], length, "metric")
    assert got["length"].si == length
    assert got["beam"].si == pytest.approx(beam, rel=0.2)
    assert got["depth"].si == pytest.approx(depth, rel=0.2)
    assert got["displacement"].si == pytest.approx(mass, rel=0.34)
    assert got["waterline"].si <= length


def test_every_craft_makes_a_boat_at_every_length_and_nothing_of_it_counts_as_stated():
    for craft in crafts():
        assert craft.least <= craft.length <= craft.most
        for length in (None, craft.least, craft.most):
            for system in ("metric", "us"):
                boat = Boat(name="x", **proposed_boat(craft, length, system))
                assert all(f.assumed for f in boat_facts(boat))
                assert 0.1 < boat.beam.si / boat.length.si < 0.9 and boat.depth.si < boat.beam.si


def test_proposals_are_round_in_the_units_of_the_user():
    metric, us = (proposed_boat(CRAFT["runabout"], None, s) for s in ("metric", "us"))
    for name in ("length", "beam", "depth", "waterline"):
        assert metric[name].si / 0.05 == pytest.approx(round(metric[name].si / 0.05))
        assert us[name].si / INCH == pytest.approx(round(us[name].si / INCH))
    zone = begun(system="us").zones[0]
    assert zone.build.outer.thickness.si / (INCH / 32) == pytest.approx(
        round(zone.build.outer.thickness.si / (INCH / 32))
    )
    assert all(v / (INCH / 2) == pytest.approx(round(v / (INCH / 2)), abs=1e-6) for p in zone.outline for v in p)


@pytest.mark.parametrize("trouble", troubles(), ids=lambda t: t.id)
def test_every_trouble_makes_a_sound_zone_on_every_craft(trouble):
    for craft in crafts():
        for length in (craft.least, craft.most):
            job = begun(craft.id, (trouble.id,), length=length)
            zone, boat = job.zones[0], job.boat
            assert ring_fault(zone.outline) is None
            x0, y0, x1, y1 = polygon_of(zone.outline).bounds
            assert x1 - x0 <= (boat.beam.si if zone.is_across else boat.length.si) + 0.02
            assert y1 - y0 <= max(boat.beam.si, boat.depth.si) + 0.02
            assert all(polygon_of(zone.outline).buffer(1e-6).contains(f.shape.centroid) for f in zone.fittings)
            assert zone.wrong == trouble.id and trouble.first
            assert set(zone.assumed) == {"length", "width", "core", "fittings"}
            assert all(f.assumed for f in zone_facts(zone))
            made = plan(job, SHELF)
            assert made.zone(zone.id).figure("zone.area").value > 0 and made.notices is not None


def test_a_foredeck_narrows_as_the_boat_does_and_ends_at_the_middle():
    ring = begun("work-launch", ("soft-deck",)).zones[0].outline
    widths = [y for x, y in sorted(ring) if y > 0]
    assert widths == sorted(widths, reverse=True) and (max(x for x, _ in ring), 0.0) in ring


def test_an_outboard_brings_its_bolts_and_cut_out_only_where_there_is_one():
    with_it, without = begun("open-outboard").zones[0], begun("rowing-boat").zones[0]
    assert [f.name for f in with_it.fittings] == ["outboard bolts", "drain"]
    assert [f.name for f in without.fittings] == ["drain"]
    assert len(with_it.outline) == len(without.outline) + 4


def test_thicker_boats_have_thicker_skins_and_a_core_of_whole_sheets():
    small, large = (begun("open-outboard", ("rotten-transom",), length=n).zones[0].build for n in (3.5, 8.0))
    assert small.outer.thickness.si < large.outer.thickness.si
    sheets = SHELF.core("ply-marine").thicknesses
    for build in (small, large):
        assert any(build.core.thickness.si == pytest.approx(n * s) for s in sheets for n in (1, 2, 3))
    assert small.core.thickness.si == pytest.approx(0.036)


def test_zones_of_one_trouble_are_told_apart_by_name():
    names = [z.name for z in begun(wrong=("soft-deck", "soft-deck", "soft-deck")).zones]
    assert names == ["Soft deck", "Soft deck 2", "Soft deck 3"]


# ---- measuring ----


def assumed_keys(job):
    return {f.key for f in zone_facts(job.zones[0]) if f.assumed}


def test_a_measured_length_stretches_the_outline_with_what_is_assumed_on_it_and_counts_as_stated():
    job = begun()
    zone = job.zones[0]
    x0, _, x1, _ = polygon_of(zone.outline).bounds
    longer = set_size(zone.id, 0, Measure(si=2 * (x1 - x0), typed="x")).change(job)
    after = longer.zones[0]
    assert polygon_of(after.outline).area == pytest.approx(2 * polygon_of(zone.outline).area)
    assert after.fittings[0].x - x0 == pytest.approx(2 * (zone.fittings[0].x - x0))
    assert assumed_keys(job) - assumed_keys(longer) == {"length"}
    same = set_size(zone.id, 1, Measure(si=zone_facts(zone)[1].value)).change(longer)
    assert assumed_keys(longer) - assumed_keys(same) == {"width"}
    again = set_size(zone.id, 0, Measure(si=1.0)).change(edits.remove_fitting(zone.id, "f2").change(longer))
    assert again.zones[0].fittings[0].x == pytest.approx(after.fittings[0].x)  # stated now: it stays where it is


@pytest.mark.parametrize("size", [0.0, 0.019, 61.0, 1e9])
def test_a_length_beyond_all_boats_is_refused(size):
    with pytest.raises(OutOfRange, match="20.0 mm to 60"):
        set_size("z1", 0, Measure(si=size))


def test_what_is_stated_any_way_is_assumed_no_longer():
    job = begun()
    zone = job.zones[0]
    wide = tuple((x * 1.5, y) for x, y in zone.outline)
    moved = tuple((x, y + 0.05 * (n == 2)) for n, (x, y) in enumerate(zone.outline))
    gone = {
        "length": set_outline("z1", wide),
        "core": edits.set_build_core("z1", "foam-pvc-80", None),
        "fittings": edits.remove_fitting("z1", "f1"),
    }
    for key, edit in gone.items():
        assert assumed_keys(job) - assumed_keys(edit.change(job)) == {key}
    assert assumed_keys(job) - assumed_keys(set_outline("z1", moved).change(job)) == {"length", "width"}
    assert assumed_keys(job) - assumed_keys(set_outline("z1", zone.outline[1:]).change(job)) == {"length", "width"}
    path = ("zones", "z1", "fittings", "f1", "width")
    assert "fittings" not in assumed_keys(set_value(path, Measure(si=0.3, typed="300")).change(job))
    path = ("zones", "z1", "build", "outer", "thickness")
    assert "outer" not in assumed_keys(set_value(path, Measure(si=0.004, typed="4 mm")).change(job))
    assert assumed_keys(set_value(("zones", "z1", "name"), "Stern").change(job)) == assumed_keys(job)


def test_every_assumed_fact_can_be_taken_as_it_is_and_no_value_changes():
    job = begun(wrong=("soft-deck",))
    while facts := [f for f in (*boat_facts(job.boat), *zone_facts(job.zones[0])) if f.assumed]:
        after = take_as_assumed(facts[0], "z1", "us").change(job)
        left = [f for f in (*boat_facts(after.boat), *zone_facts(after.zones[0])) if f.assumed]
        assert left == facts[1:]
        assert (
            plan(after, SHELF).zone("z1").figure("zone.area").value
            == plan(job, SHELF).zone("z1").figure("zone.area").value
        )
        job = after


# ---- leaning ----

STATED = Measure(si=0.0, typed="stated")


def worked(trouble):
    """A job whose zone has readings drawn as an extent, plies and a core, so that every group has figures."""
    job = begun("runabout", (trouble,))
    zone = job.zones[0]
    x0, y0, x1, y1 = polygon_of(zone.outline).bounds
    w, h, x, y = (x1 - x0) / 8, (y1 - y0) / 8, (x0 + x1) / 2, (y0 + y1) / 2
    extent = ((x - w, y - h), (x + w, y - h), (x + w, y + h), (x - w, y + h))
    core = zone.build.core
    scheme = Scheme(
        laminate=Laminate(plies=(StackLine(fabric="biax-45-600", count=4),)),
        core=CoreChoice(material=core.core, thickness=Measure(si=core.thickness.si - 0.0015)) if core else CoreChoice(),
    )
    zone = evolve(zone, scheme=scheme, survey=evolve(zone.survey, drawn=(extent,)))
    return evolve(job, zones=(zone,))


def nudged(job, key):
    """The job with one assumed value a tenth larger, or another core, or without fittings; still assumed."""
    zone = job.zones[0]
    build = zone.build

    def more(measure):
        return Measure(si=measure.si * 1.1)

    def put(**changes):
        return evolve(job, zones=(evolve(zone, **changes),))

    if key.startswith(("boat.", "air.")):
        group, name = key.split(".")
        part = getattr(job, group)
        return evolve(job, **{group: evolve(part, **{name: more(getattr(part, name))})})
    if key in ("length", "width"):
        scale = (1.1, 1.0) if key == "length" else (1.0, 1.1)
        return put(outline=tuple((x * scale[0], y * scale[1]) for x, y in zone.outline))
    if key in ("station", "height"):
        return put(place=evolve(zone.place, **{key: more(getattr(zone.place, key))}))
    if key in ("outer", "inner"):
        return put(
            build=evolve(build, **{key: evolve(getattr(build, key), thickness=more(getattr(build, key).thickness))})
        )
    if key == "core.thickness":
        return put(build=evolve(build, core=evolve(build.core, thickness=more(build.core.thickness))))
    if key == "core":
        return put(build=evolve(build, core=evolve(build.core, core="foam-pvc-80") if build.core else None))
    if key == "depth":
        return put(depths=tuple(evolve(d, depth=more(d.depth)) for d in zone.depths))
    assert key == "fittings"
    return put(fittings=(), edges=())


@pytest.mark.parametrize(
    "trouble", ["soft-deck", "holed-hull", "rotten-transom", "rotten-stringer", "loose-tabbing", "blisters"]
)
def test_no_figure_that_changes_with_an_assumed_value_is_told_as_known(trouble):
    job = worked(trouble)
    before = {f.id: f for f in plan(job, SHELF).all_figures}
    made = plan(job, SHELF).zone("z1")
    for fact in made.assumed:
        after = {f.id: f for f in plan(nudged(job, fact.key), SHELF).all_figures}
        changed = [i for i, f in before.items() if i not in after or after[i].value != pytest.approx(f.value, rel=1e-9)]
        silent = [i for i in changed if fact.name not in before[i].leans]
        assert not silent, (fact.key, silent)


def test_nothing_leans_where_everything_is_stated(made):
    assert not any(f.leans for f in made.all_figures)
    assert not any("≈" in f.shown() for f in made.all_figures)


def test_a_figure_that_leans_says_so_wherever_it_is_read():
    figure = plan(begun(), SHELF).zone("z1").figure("zone.area")
    assert figure.shown().startswith("≈ ") and figure.shown("us").startswith("≈ ")
    assert figure.leans_on == "leans on what is assumed: length, width, what stands on it"


@given(st.floats(3.0, 7.9), st.sampled_from(sorted(BY_ID)))
def test_measuring_length_and_width_in_either_order_makes_the_same_outline(length, trouble):
    job = begun("open-outboard", (trouble,), length=length)
    one, two = set_size("z1", 0, Measure(si=1.3)), set_size("z1", 1, Measure(si=0.4))
    for a, b in zip(
        two.change(one.change(job)).zones[0].outline, one.change(two.change(job)).zones[0].outline, strict=True
    ):
        assert a == pytest.approx(b)


def test_a_grid_is_about_a_dozen_readings_along_the_part_and_round():
    assert begun(wrong=("broken-corner",), length=6.0).zones[0].survey.pitch.si == 0.05
    assert begun("work-launch", ("leaking-joint",), length=18.0).zones[0].survey.pitch.si == 0.2
    inches = begun("work-launch", ("soft-deck",), "us", 9.6).zones[0].survey.pitch.si / INCH
    assert inches == pytest.approx(round(inches)) and inches in (2, 4, 6, 8)


def test_what_does_not_hold_is_named_with_its_place_in_the_job():
    with pytest.raises(OutOfRange) as told:
        begun_job(CRAFT["runabout"], {"boat": {"beam": Measure(si=290.0, typed="290 m")}}, "metric")
    assert told.value.where == "boat.beam"
    both = {"boat": {"beam": Measure(si=290.0), "depth": Measure(si=90.0)}, "air": {}}
    with pytest.raises(ManyFaults) as many:
        begun_job(CRAFT["runabout"], both, "metric")
    assert sorted(f.where for f in many.value.faults) == ["boat.beam", "boat.depth"]
    with pytest.raises(OutOfRange) as air:
        begun_job(CRAFT["runabout"], {"air": {"humidity": Measure(si=1.4)}}, "metric")
    assert air.value.where == "air.humidity"
    job = begun_job(CRAFT["canoe"], {"boat": {"name": "", "length": Measure(si=5.0, typed="5 m")}}, "metric")
    assert (job.boat.name, job.boat.length.typed, job.air.temperature.typed) == ("Canoe or kayak", "5 m", "")

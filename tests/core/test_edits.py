"""Edits: each changes what it names and nothing else, or changes nothing and says why."""

import pytest
from tests.schemes import rescheme

from ribpatch.core import edits, survey_edits
from ribpatch.core.errors import BadOutline, Fault, ImpossibleMix, InvalidValue, OutOfRange, OutsideZone, UnknownItem
from ribpatch.core.fields import FIELDS, get_at, spec_of
from ribpatch.core.job import Edge, Fitting
from ribpatch.core.pad_edits import add_pad
from ribpatch.core.proof_edits import add_member
from ribpatch.core.readings import Tap
from ribpatch.core.record import evolve
from ribpatch.core.scheme import StackLine
from ribpatch.core.scheme_edits import add_part, put_depth
from ribpatch.core.survey import entry
from ribpatch.core.units import Measure


def test_every_field_of_the_table_is_there(job):
    whole = add_part(job.zone("z1")).change(put_depth(job.zone("z1"), (0.5, 0.1), Measure(si=0.003)).change(job))
    whole = add_member(whole.zone("z1"), "hat").change(whole)
    whole = add_pad(whole.zone("z1")).change(whole)
    there = evolve(whole.zone("z1"), proof=evolve(whole.zone("z1").proof, members=whole.zone("z1").scheme.members))
    whole = evolve(whole, zones=(there, *whole.zones[1:]))
    first = {"fittings": "f1", "parts": "p1", "depths": "d1", "members": "m1", "flexes": "x1", "pads": "l1"}
    for pattern in FIELDS:
        path = tuple({"zones": "zones", "*": "z1"}.get(p, p) for p in pattern.split("."))
        path = tuple(first.get(path[i - 1], p) if i else p for i, p in enumerate(path))
        get_at(whole, path)
        assert spec_of(path) is FIELDS[pattern]


def test_set_value_names_the_step_and_shares_the_rest(job):
    edit = edits.set_value(("zones", "z1", "scheme", "taper", "ratio"), Measure(si=20, typed="20:1"))
    after = edit.change(job)
    assert edit.name == "set taper ratio"
    assert after.zone("z1").scheme.taper.ratio.typed == "20:1"
    assert after.zone("z1").survey is job.zone("z1").survey and after.zone("z2") is job.zone("z2")


@pytest.mark.parametrize(
    ("path", "value"),
    [
        (("boat", "beam"), Measure(si=290)), (("zones", "z1", "scheme", "taper", "ratio"), Measure(si=0)),
        (("zones", "z1", "build", "core", "thickness"), Measure(si=-0.01)), (("zones", "z1", "scheme", "cut", "margin"), Measure(si=40)),
        (("air", "humidity"), Measure(si=1.4)), (("zones", "z1", "survey", "confidence"), Measure(si=1.0)),
    ],
)  # fmt: skip
def test_absurd_values_are_refused_by_the_fields_own_name(job, path, value):
    with pytest.raises(OutOfRange) as caught:
        edits.set_value(path, value).change(job)
    assert caught.value.sentence.startswith(spec_of(path).name)


@pytest.mark.parametrize(
    ("ring", "reason"),
    [
        (((0, 0), (1, 1), (1, 0), (0, 1)), "crosses"),
        (((0, 0), (1, 0)), "three"),
        (((0, 0), (1e-4, 0), (0, 1e-4)), "no area"),
    ],
)
def test_bad_outlines_change_nothing(job, ring, reason):
    with pytest.raises(BadOutline, match=reason):
        edits.set_outline("z1", ring).change(job)


def test_an_extent_or_cut_outside_the_zone_is_refused(job):
    far = ((50, 50), (51, 50), (51, 51), (50, 51))
    for make in (edits.draw_extent, edits.draw_cut):
        with pytest.raises(OutsideZone, match="outside the zone"):
            make("z1", (far,)).change(job)


def test_drawing_and_going_back(job):
    ring = ((0.5, 0.0), (0.9, 0.0), (0.9, 0.4), (0.5, 0.4))
    drawn = edits.draw_cut("z1", (ring,)).change(job)
    assert drawn.zone("z1").scheme.cut.drawn == (ring,)
    assert edits.draw_cut("z1", None).change(drawn) == job


def test_readings_take_free_ids_and_come_as_one(job):
    new = (Tap(id="r1", x=0.1, y=0.1, grade="dull"), Tap(id="r1", x=0.2, y=0.1, grade="ring"))
    after = survey_edits.add_readings("z1", new).change(job)
    ids = [r.id for r in after.zone("z1").survey.readings]
    assert len(set(ids)) == len(ids) == len(job.zone("z1").survey.readings) + 2


def test_reading_a_place_again_replaces_only_the_same_kind(job):
    first = job.zone("z3").survey.readings[0]
    again = Tap(id="new", x=first.x + 0.001, y=first.y, grade="crunch")
    after = survey_edits.put_reading("z3", again, 0.05).change(job)
    assert len(after.zone("z3").survey.readings) == len(job.zone("z3").survey.readings)
    assert after.zone("z3").survey.readings[0].grade == "crunch"


def test_deleting_a_reference_reading_drops_its_mark(job):
    marked = job.zone("z1").survey.references[0]
    after = survey_edits.remove_readings("z1", frozenset({marked})).change(job)
    assert marked not in after.zone("z1").survey.references


@pytest.mark.parametrize(("kind", "value"), [("moisture", 140), ("moisture", -1)])
def test_readings_off_the_scale_are_refused(shelf, kind, value):
    with pytest.raises(InvalidValue, match="0 to 100"):
        entry.made_reading(kind, shelf, x=0, y=0, value=value)


def test_unknown_tap_words_are_refused(shelf):
    with pytest.raises(UnknownItem):
        entry.made_reading("tap", shelf, x=0, y=0, grade="bong")


def test_fittings_edges_and_core(job):
    fitting = Fitting(id="f9", name="cleat", x=0.4, y=0.4, width=Measure(si=0.1), height=Measure(si=0.0))
    after = edits.add_fitting("z1", fitting).change(job)
    assert edits.remove_fitting("z1", "f9").change(after) == job
    edged = edits.set_edge("z4", Edge(side=1, name="bulkhead")).change(job)
    assert [e.side for e in edged.zone("z4").edges] == [1, 2]
    assert edits.remove_edge("z4", 1).change(edged) == job
    solid = edits.set_build_core("z1", None, None).change(job).zone("z1").build
    assert solid.core is None and solid.inner is None
    cored = edits.set_build_core("z4", "balsa-150", None).change(job).zone("z4").build
    assert cored.core is not None and cored.inner is not None


@pytest.mark.parametrize("parts", [(0, 1), (5, 0), (-1, 1)])
def test_a_mix_of_zero_is_refused(shelf, parts):
    with pytest.raises(ImpossibleMix, match="above zero"):
        edits.set_mix(shelf.resin("vinylester"), *parts)


def test_own_mix_keeps_mass_and_volume_together(job, shelf):
    from ribpatch.core.plan import plan

    resin = shelf.resin("epoxy-5-1-slow")
    made = plan(edits.set_mix(resin, 4, 1).change(job), shelf)
    assert made.by_id["z1.mix.resin.mass"].value == pytest.approx(4 * made.by_id["z1.mix.hardener.mass"].value)


def test_rules_keep_to_their_limits(job, shelf):
    rule = next(r for r in shelf.rules if r.id == "loss.share")
    with pytest.raises(InvalidValue, match="outside"):
        edits.set_rule(rule, 0.9)


@pytest.mark.parametrize(
    "text", ["0 0\n100 0\n100 50\n0 50", "0,0; 100,0; 100,50; 0,50", "0\t0\n100\t0\n100\t50\n0\t50\n0\t0"]
)
def test_corners_from_text(text):
    assert edits.outline_from_text(text) == ((0, 0), (0.1, 0), (0.1, 0.05), (0, 0.05))


@pytest.mark.parametrize("text", ["", "1 2 3\n4 5", "0 0\n1 x\n3 3", "0 0\n100 100\n100 0\n0 100"])
def test_bad_corner_text_is_explained(text):
    with pytest.raises(Fault):
        edits.outline_from_text(text)


def test_choosing_a_core_starts_from_the_old_one_less_the_bedding(job):
    bare = edits.set_value(("zones", "z1", "scheme", "core", "thickness"), None).change(
        edits.set_core("z1", None).change(job)
    )
    chosen = edits.set_core("z1", "balsa-150").change(bare).zone("z1").scheme
    assert chosen.core.thickness.si == pytest.approx(0.018 - 0.0015)


def test_plies_are_replaced_whole(job):
    lines = (StackLine(fabric="mat-300"),)
    assert edits.set_plies("z1", lines).change(job).zone("z1").scheme.laminate.plies == lines


def test_filling_needs_a_ply_to_count(job, shelf):
    from ribpatch.core.record import evolve

    zone = job.zone("z4")
    with pytest.raises(InvalidValue, match="add a ply first"):
        edits.fill_to_thickness(evolve(zone, scheme=rescheme(zone.scheme, plies=())), 0.007, shelf)
    filled = edits.fill_to_thickness(zone, 0.0035, shelf).change(job).zone("z4").scheme.laminate.plies
    assert [line.count for line in filled] == [4]


def test_a_new_stack_begins_with_a_middling_stitched_fabric(shelf):
    fabric = shelf.fabric(shelf.first_fabric)
    assert fabric.layers[0].kind == "stitched" and fabric.weight == pytest.approx(shelf.rule("stack.first"), abs=0.05)


@pytest.mark.parametrize(
    "text", ["0 0\n500 0\n500 300", "0, 0,\n500, 0,\n500, 300,", "0\t0\n500\t0\n500\t300", "0  0\n500   0\n 500 300 "]
)
def test_corners_are_read_with_spaces_commas_tabs_and_what_stands_after_them(text):
    assert edits.outline_from_text(text) == ((0, 0), (0.5, 0), (0.5, 0.3))

"""What must hold for any job: nothing raises, sums add up, units and position do not matter, undo is exact."""

import importlib.util
import sys
from pathlib import Path

import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from tests.bed import bed_job as demo_job

from ribpatch.core.drawing.plan_view import plan_view
from ribpatch.core.drawing.section_view import default_line, section_view
from ribpatch.core.drawing.survey_picture import survey_picture
from ribpatch.core.edits import set_value
from ribpatch.core.errors import Fault
from ribpatch.core.job import Job, Survey
from ribpatch.core.plan import plan
from ribpatch.core.quantity import parse
from ribpatch.core.record import as_json, evolve, reader
from ribpatch.core.units import Kind, Measure
from ribpatch.library.shelf import shipped_shelf

spec = importlib.util.spec_from_file_location("strategies", Path(__file__).parents[1] / "strategies.py")
strategies = importlib.util.module_from_spec(spec)
sys.modules.setdefault("strategies", strategies)
spec.loader.exec_module(strategies)

JOB, SHELF = demo_job(), shipped_shelf()
TOPSIDE = JOB.zone("z4")


def with_zone(zone, job=JOB):
    return evolve(job, zones=(zone,))


def figures(job):
    return {f.id: f.value for f in plan(job, SHELF).figures}


@given(strategies.schemes, st.one_of(st.none(), strategies.boxes()), st.sampled_from(["z1", "z2", "z3", "z4"]))
def test_any_scheme_has_a_whole_plan_and_both_drawings(scheme, extent, name):
    zone = JOB.zone(name)
    survey = Survey(drawn=(extent,)) if extent is not None and name in ("z1", "z4") else zone.survey
    job = with_zone(evolve(zone, scheme=scheme, survey=survey))
    made = plan(job, SHELF).zones[0]
    for figure in made.figures:
        assert (figure.value == figure.value and abs(figure.value) != float("inf")) or figure.id.endswith(
            "taper.available"
        ), figure
    assert (
        made.by_id["weight.off"].value >= 0
        and made.by_id["weight.on"].value >= 0
        and made.by_id["cost.total"].value >= 0
    )
    hull = shapely.Polygon(zone.outline).buffer(1e-6)
    assert hull.covers(made.patch.cut.region) and hull.covers(made.patch.band.outer)
    for outline in made.patch.outlines:
        assert hull.covers(outline.region) and outline.region.area >= made.patch.cut.region.area - 1e-5
    for opened in (True, False):
        assert section_view(made.zone, made.patch, SHELF, default_line(made.zone), opened, "metric").shapes
    assert plan_view(made.zone, made.patch, survey_picture(made.zone, SHELF), SHELF, "rebuild", "us").shapes


@given(st.lists(strategies.any_edit, min_size=1, max_size=8))
def test_any_row_of_edits_holds_or_explains_itself_and_goes_back_exactly(edits):
    history, job = [JOB], JOB
    for edit in edits:
        try:
            after = edit.change(job)
            plan(after, SHELF)
        except Fault as fault:
            assert fault.sentence.endswith((".", "?")) and edit.name
            continue
        job = after
        history.append(job)
    assert reader(Job).validate_json(as_json(job)) == job
    assert history[0] == demo_job()


def test_every_sum_is_the_sum_of_its_inputs():
    checked = 0
    for figure in plan(JOB, SHELF).figures:
        if figure.formula.startswith("sum over") or figure.formula in (
            "sum of the parts",
            "sum of what each purpose takes",
        ):
            numbers = [g.value for g in figure.inputs if isinstance(g.value, float)]
            if (
                figure.inputs
                and len(numbers) == len(figure.inputs)
                and all(g.kind is figure.kind for g in figure.inputs)
            ):
                assert figure.value == pytest.approx(sum(numbers)), figure.id
                checked += 1
    assert checked > 20


def test_every_difference_is_the_difference_of_its_inputs():
    for figure in plan(JOB, SHELF).figures:
        if " − " in figure.formula and len(figure.inputs) == 2 and not {"÷", "×"} & set(figure.formula):
            assert figure.value == pytest.approx(figure.inputs[0].value - figure.inputs[1].value), figure.id


def test_a_figure_that_is_an_input_carries_that_figures_value():
    by_id = plan(JOB, SHELF).by_id
    linked = [(f, g) for f in by_id.values() for g in f.inputs if g.figure]
    assert len(linked) > 150
    for _, given_value in linked:
        assert given_value.value == by_id[given_value.figure].value


moves = st.tuples(st.floats(-20, 20), st.floats(-20, 20))


def moved(ring, dx, dy, turn):
    return tuple((x + dx, y + dy) if not turn else (-y + dx, x + dy) for x, y in ring)


AREAS = (
    "extent.area",
    "cut.area",
    "cut.length",
    "taper.area",
    "taper.dust",
    "resin.net",
    "weight.net",
    "core.area",
    "taper.available",
)


@given(moves, st.booleans())
def test_where_the_zone_lies_and_how_it_is_turned_does_not_matter(move, turn):
    """Moving the zone's own plane, or turning it by a quarter, changes no area, mass or ratio (of a free cut line)."""
    scheme = evolve(TOPSIDE.scheme, cut=evolve(TOPSIDE.scheme.cut, shape="free"))
    plain = evolve(TOPSIDE, scheme=scheme, edges=())
    other = evolve(
        plain,
        outline=moved(plain.outline, *move, turn),
        survey=Survey(drawn=tuple(moved(r, *move, turn) for r in plain.survey.drawn)),
    )
    one, two = figures(with_zone(plain)), figures(with_zone(other))
    for key in AREAS:
        if f"z4.{key}" in one:
            assert two[f"z4.{key}"] == pytest.approx(one[f"z4.{key}"], rel=1e-3), key


@given(st.floats(1, 99), st.floats(0.01, 60))
def test_areas_and_masses_only_grow_with_the_ratio(ratio, more):
    one, two = (
        figures(set_value(("zones", "z4", "scheme", "taper", "ratio"), Measure(si=min(r, 100))).change(JOB))
        for r in (ratio, ratio + more)
    )
    for key in ("taper.length", "taper.area", "taper.dust", "resin.net", "cloth.area", "cost.total"):
        assert two[f"z4.{key}"] >= one[f"z4.{key}"] - 1e-9, key


@given(st.floats(0, 0.3), st.floats(0.001, 0.2))
def test_a_wider_margin_never_cuts_less(margin, more):
    one, two = (
        figures(set_value(("zones", "z1", "scheme", "cut", "margin"), Measure(si=m)).change(JOB))
        for m in (margin, margin + more)
    )
    assert two["z1.cut.area"] >= one["z1.cut.area"] - 1e-9 and two["z1.cut.sound"] >= one["z1.cut.sound"] - 1e-9


@pytest.mark.parametrize(
    ("path", "metric", "us", "kind"),
    [
        (("zones", "z1", "scheme", "cut", "margin"), "50.8 mm", "2 in", Kind.SIZE), (("air", "temperature"), "15 c", "59 f", Kind.TEMPERATURE),
        (("zones", "z1", "build", "core", "thickness"), "19.05 mm", "3/4", Kind.SIZE), (("boat", "displacement"), "3401.9427 kg", "7500 lb", Kind.LOAD),
    ],
)  # fmt: skip
def test_the_same_thing_typed_in_either_system_gives_the_same_plan(path, metric, us, kind):
    one, two = (
        figures(set_value(path, parse(text, kind, system).measure).change(JOB))
        for text, system in ((metric, "metric"), (us, "us"))
    )
    assert two == pytest.approx(one, rel=1e-6)


def test_hotter_sheds_mean_smaller_cups_and_never_fewer():
    counts, sizes = [], []
    for celsius in (12, 18, 24, 30, 36):
        made = figures(set_value(("air", "temperature"), Measure(si=celsius)).change(JOB))
        counts.append(made["z2.cup.count"])
        sizes.append(made["z2.cup.largest"])
    assert counts == sorted(counts) and sizes == sorted(sizes, reverse=True)


def test_a_thicker_old_skin_needs_a_longer_taper_in_proportion():
    thin, thick = (
        figures(set_value(("zones", "z4", "build", "outer", "thickness"), Measure(si=t)).change(JOB))["z4.taper.length"]
        for t in (0.004, 0.008)
    )
    assert thick == pytest.approx(2 * thin)


def test_infusion_is_lighter_and_thinner_than_hand_lay_up():
    hand, infused = (
        figures(set_value(("zones", "z4", "scheme", "laying", "process"), p).change(JOB)) for p in ("hand", "infusion")
    )
    for key in ("stack.thickness", "stack.weight", "resin.plies"):
        assert infused[f"z4.{key}"] < hand[f"z4.{key}"]

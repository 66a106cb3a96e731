"""A first draft: complete, with a reason for every choice, sound by the program's own checks, and cheaper, lighter or
quicker where it says so."""

from __future__ import annotations

import pytest
from tests.core.test_begin import begun, worked

from ribpatch.core import scheme_edits
from ribpatch.core.draft import draft_others, draft_repair, drafted, is_begun
from ribpatch.core.edits import draw_extent, set_value
from ribpatch.core.errors import NothingToDraft
from ribpatch.core.geometry import polygon_of
from ribpatch.core.hours import worked_hours
from ribpatch.core.laminate.stack import skin_thickness
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve, evolve_in
from ribpatch.core.scheme import Scheme
from ribpatch.core.units import Measure
from ribpatch.library.beginnings import troubles
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()


def fresh(trouble, **zone):
    job = worked(trouble)
    return evolve(job, zones=(evolve(job.zones[0], scheme=Scheme(), **zone),))


def drafted_job(job, zone="z1"):
    return draft_repair(plan(job, SHELF).zone(zone), "metric").change(job)


def of(job, choice):
    return next((r for r in job.zones[0].scheme.reasons if r.choice == choice), None)


@pytest.mark.parametrize("trouble", troubles(), ids=lambda t: t.id)
def test_a_draft_is_complete_and_passes_the_checks_of_its_own_choices(trouble):
    job = drafted_job(fresh(trouble.id))
    zone = job.zones[0]
    made = plan(job, SHELF).zone("z1")
    scheme = zone.scheme
    assert {r.choice for r in scheme.reasons} >= {"side", "cut", "resin", "plies"} and all(
        r.why for r in scheme.reasons
    )
    assert scheme.resin.main.startswith("epoxy") and not made.patch.cut.region.is_empty
    if scheme.access.side == "above":
        assert scheme.core.material and scheme.parts and not scheme.laminate.plies
    else:
        aim = made.aim or skin_thickness(zone.rebuilt_skin, SHELF)
        assert made.patch.stack.thickness >= aim - 1e-9
        assert made.patch.outlines
    if zone.build.core is not None:
        room = zone.build.core.thickness.si - scheme.core.bedding.si * (2 if scheme.access.side == "above" else 1)
        poured = SHELF.core(scheme.core.material).poured
        assert scheme.core.thickness.si <= room + (2e-4 if not poured else 0.02)
    grave = {n.id.partition(".")[2] for n in plan(job, SHELF).notices if n.grave and n.stage == "rebuild"}
    assert not grave & {"no-plies", "thin", "short-leg"} and not any("bond." in g for g in grave)


def test_one_press_is_one_step_and_work_begun_stays_beside_it():
    job = fresh("soft-sole")
    once = drafted_job(job)
    assert once.zones[0].others == () and once.zones[0].scheme.id == "s1" and is_begun(once.zones[0].scheme)
    again = drafted_job(once)
    assert [s.id for s in again.zones[0].others] == ["s1"] and again.zones[0].scheme.id == "s2"
    assert again.zones[0].others[0] == once.zones[0].scheme


def test_a_name_a_note_marks_and_a_drawn_line_are_no_scheme_begun_but_kept():
    job = fresh("soft-sole")
    ring = job.zones[0].survey.drawn[0]
    job = evolve(
        job, zones=(evolve(job.zones[0], scheme=evolve_in(Scheme(note="mind the tank"), "cut", drawn=(ring,))),)
    )
    job = scheme_edits.set_mark("z1", "inside", "access", 5).change(job)
    assert not is_begun(job.zones[0].scheme)
    made = drafted_job(job).zones[0].scheme
    assert made.cut.drawn == (ring,) and made.access.marks and of(drafted_job(job), "cut").chosen == "as you drew it"


@pytest.mark.parametrize("trouble", ["soft-sole", "holed-hull", "rotten-transom", "broken-corner", "blisters"])
def test_alternatives_are_what_they_are_called(trouble):
    job = fresh(trouble)
    made = plan(job, SHELF).zone("z1")
    values = {}
    for goal in ("sound", "cheapest", "lightest", "quickest"):
        scheme = drafted(made, goal, "metric")
        zone = plan(evolve(job, zones=(evolve(job.zones[0], scheme=scheme),)), SHELF).zone("z1")
        cost, weight = (zone.figure(k).value for k in ("cost.total", "weight.on"))
        values[goal] = (cost, weight, worked_hours(zone))
    for n, goal in enumerate(("cheapest", "lightest", "quickest")):
        assert values[goal][n] <= min(v[n] for v in values.values()) * 1.1, (goal, values)


def test_a_second_press_puts_two_that_differ_beside_the_first_and_a_third_none():
    job = drafted_job(fresh("holed-hull"))
    more = draft_others(plan(job, SHELF).zone("z1"), "metric").change(job)
    zone = more.zones[0]
    assert zone.scheme == job.zones[0].scheme and len(zone.others) == 2
    assert len({s.name for s in zone.schemes}) == 3 and len({s.id for s in zone.schemes}) == 3
    with pytest.raises(NothingToDraft, match="no other draft differs"):
        for _ in range(2):
            more = draft_others(plan(more, SHELF).zone("z1"), "metric").change(more)


def test_nothing_is_drafted_where_no_damage_is_known():
    job = begun(wrong=("soft-deck",))
    with pytest.raises(NothingToDraft, match=r"no damage is known yet.*Find"):
        draft_repair(plan(job, SHELF).zone("z1"), "metric")


# ---- single choices, against cases reasoned by hand ----


def with_skin(job, thickness):
    path = ("zones", "z1", "build", "outer", "thickness")
    return set_value(path, Measure(si=thickness, typed="x")).change(job)


@pytest.mark.parametrize(
    ("trouble", "skin", "ratio", "words"),
    [("flexing-panel", 0.002, 20.0, "thin skin"), ("flexing-panel", 0.005, 12.0, "usual ratio"), ("broken-corner", 0.01, 12.0, "the bond needs")],
)  # fmt: skip
def test_the_ratio_follows_the_schools(trouble, skin, ratio, words):
    job = fresh(trouble)
    big = tuple((x * 12, y * 12) for x, y in job.zones[0].outline)  # room for any taper
    job = evolve(job, zones=(evolve(job.zones[0], outline=big, fittings=(), edges=()),))
    x0, y0, x1, y1 = polygon_of(big).bounds
    x, y = (x0 + x1) / 2, (y0 + y1) / 2
    job = draw_extent("z1", (((x, y), (x + 0.1, y), (x + 0.1, y + 0.1), (x, y + 0.1)),)).change(job)
    made = drafted_job(with_skin(job, skin))
    assert made.zones[0].scheme.taper.ratio.si == ratio and words in of(made, "taper").why


def test_where_the_usual_ratio_does_not_fit_a_shorter_school_is_taken_and_where_none_fits_that_is_told():
    job = fresh("flexing-panel")
    _, y0, x1, y1 = polygon_of(job.zones[0].outline).bounds
    skin = skin_thickness(job.zones[0].build.outer, SHELF)

    def ending(gap):
        """Damage whose cut, 50 mm further, ends ``gap`` before the panel's edge."""
        at = x1 - 0.05 - gap
        y = (y0 + y1) / 2
        return drafted_job(
            draw_extent("z1", (((at - 0.1, y), (at, y), (at, y + 0.05), (at - 0.1, y + 0.05)),)).change(job)
        )

    tight, none = ending(9.5 * skin), ending(4 * skin)
    assert (
        tight.zones[0].scheme.taper.ratio.si == 8.0 and "fits all round; the bond would want" in of(tight, "taper").why
    )
    assert none.zones[0].scheme.taper.ratio.si == 12.0 and "tightest place" in of(none, "taper").why


def test_rot_is_cut_as_far_again_and_a_dry_break_by_a_margin(job):
    stringer = drafted(plan(job, SHELF).zone("z3"), "sound", "metric")
    assert stringer.cut.rule == "as far again" and "run on" in stringer.reasons[1].why
    assert drafted(plan(job, SHELF).zone("z4"), "sound", "metric").cut.rule == "margin"


@pytest.mark.parametrize(("celsius", "least", "words"), [(8.0, 8.0, "cures soonest"), (22.0, 22.0, "working time")])
def test_the_resin_cures_in_this_shed(celsius, least, words):
    job = fresh("holed-hull")
    cold = set_value(("air", "temperature"), Measure(si=celsius, typed="x")).change(job)
    made = drafted_job(cold)
    assert SHELF.resin(made.zones[0].scheme.resin.main).least_temperature <= least and words in of(made, "resin").why


def test_a_part_deep_hurt_is_ground_and_a_core_that_rotted_gives_way_to_one_that_cannot():
    blisters = drafted_job(fresh("blisters"))
    assert blisters.zones[0].scheme.access.part_depth and of(blisters, "depth") and of(blisters, "backing") is None
    bulkhead = drafted_job(fresh("rotten-bulkhead")).zones[0].scheme
    assert SHELF.core(bulkhead.core.material).faces not in ("end grain", "plywood")


def test_a_cut_that_takes_the_edge_with_it_is_tabbed_there_along_its_length():
    job = fresh("soft-sole")
    x0 = polygon_of(job.zones[0].outline).bounds[0]
    edge = ((x0, -0.2), (x0 + 0.2, -0.2), (x0 + 0.2, 0.2), (x0, 0.2))
    made = drafted_job(draw_extent("z1", (edge,)).change(job)).zones[0].scheme
    (part,) = made.parts
    assert part.kind == "angle" and part.length.si == pytest.approx(0.5, abs=0.08)
    assert not drafted_job(job).zones[0].scheme.parts


def test_the_cheaper_of_two_resins_that_cure_is_taken_whatever_its_time(job):
    from ribpatch.core.edits import set_price

    hurt_hull = fresh("holed-hull")
    price = SHELF.price("epoxy-1-1")
    cheap = set_price(evolve(price, price=price.price - 1)).change(hurt_hull)
    assert drafted_job(cheap).zones[0].scheme.resin.main == "epoxy-1-1"
    assert (
        drafted_job(hurt_hull).zones[0].scheme.resin.main == "epoxy-2-1-slow"
    )  # of like prices the longest to work with


def test_a_cap_is_as_long_as_the_opening_to_a_centimetre():
    made = drafted_job(fresh("rotten-stringer")).zones[0]
    cut = plan(drafted_job(fresh("rotten-stringer")), SHELF).zone("z1").patch.cut.region
    (cap,) = made.scheme.parts
    x0, _, x1, _ = cut.bounds
    assert cap.kind == "end cap" and cap.length.si == pytest.approx(x1 - x0, abs=0.0051)
    assert cap.length.si == round(cap.length.si, 2) and cap.plies[0].count == 4


# ---- what stands beside a draft: the way to it, and cards that fold ----


def test_the_way_to_a_first_plan_from_nothing_to_paper():
    from ribpatch.core.edits import remove_zone, set_done
    from ribpatch.core.way import next_step, way_of

    job = begun(wrong=("soft-sole",))
    made = plan(job, SHELF)
    assert [(s.key, s.done) for s in way_of(made, "z1")] == [
        ("measure", False), ("read", False), ("cause", False), ("draft", False), ("clear", True), ("paper", False),
    ]  # fmt: skip
    assert next_step(way_of(made, "z1")).stage == "boat"
    for stage, following in (("boat", "read"), ("find", "cause"), ("cause", "draft"), ("rebuild", "paper")):
        job = set_done(job.zones[0], stage, True).change(job)
        assert next_step(way_of(plan(job, SHELF), "z1")).key == following
    hurt = plan(fresh("soft-sole"), SHELF)
    steps = {s.key: s for s in way_of(hurt, "z1")}
    assert steps["read"].done and "one press" in steps["draft"].missing and "waits" not in steps["draft"].missing
    assert next(s for s in way_of(made, "z1") if s.key == "draft").missing == "a draft waits for the damage"
    drafted_ = {s.key: s for s in way_of(plan(drafted_job(fresh("soft-sole")), SHELF), "z1")}
    assert drafted_["draft"].done and next_step(tuple(drafted_.values())[-1:]).action == "print_paper"
    assert way_of(plan(remove_zone("z1").change(job), SHELF), "z1")[0].action == "add_zone"


def test_readings_without_damage_are_told_as_such():
    from ribpatch.core.readings import Tap
    from ribpatch.core.way import FEW, way_of

    job = begun(wrong=("soft-sole",))

    def read(count):
        taps = tuple(Tap(id=f"r{n}", x=0.1 + 0.05 * n, y=0.0, grade="ring") for n in range(count))
        zone = job.zones[0]
        changed = evolve(job, zones=(evolve(zone, survey=evolve(zone.survey, readings=taps)),))
        return next(s for s in way_of(plan(changed, SHELF), "z1") if s.key == "read").missing

    assert read(FEW - 1).startswith("read the zone") and f"{FEW} readings show no damage" in read(FEW)


@pytest.mark.parametrize(
    ("stage", "title", "says"),
    [("boat", "Boat", "5.80 m × 2.30 m, 1200 kg; 5 assumed"), ("boat", "Shed air", "18.0 °C, 60 %; 2 assumed"), ("boat", "Measure first", "9 still assumed"),
     ("boat", "This zone", "sole, centre"), ("boat", "Outline", "4 corners"), ("boat", "Original build-up", "PL 12.0 mm"), ("boat", "Fittings", "seat base"),
     ("open", "Before cutting", "5 of 6 still"), ("open", "What the causes ask", "nothing yet"), ("open", "Side to open from", "outside"),
     ("open", "Cut line", "50.0 mm past, squared"), ("open", "Depth of the damage", "right through"), ("open", "Taper", "20 : 1, ground"),
     ("open", "Other face and backing", "one face, no backing"), ("rebuild", "Scheme", "First draft"), ("rebuild", "Plies, deepest first", "biaxial"),
     ("rebuild", "Resin", "slow hardener"), ("rebuild", "New core", "marine plywood 550 kg/m3 10.5 mm"), ("rebuild", "Order of plies", "green window"), ("rebuild", "Tabbing in a corner", "flat"),
     ("rebuild", "Coupons of this shop", "none"), ("rebuild", "no such card", "")],
)  # fmt: skip
def test_a_folded_card_says_what_is_chosen_in_it(stage, title, says):
    from ribpatch.core.card_words import card_words

    made = plan(drafted_job(fresh("soft-sole")), SHELF)
    words = card_words(stage, title, made, made.zone("z1"))
    assert says in words and (words or not says)
    assert card_words("boat", "Boat", made, None).startswith("5.80 m") and card_words("open", "Taper", made, None) == ""


def test_where_nothing_is_assumed_a_card_does_not_speak_of_it(job, made):
    from ribpatch.core.card_words import card_words

    zone = made.zone("z1")
    assert card_words("boat", "Boat", made, zone) == "9.60 m × 2.90 m, 3400 kg"
    assert card_words("boat", "Measure first", made, zone) == "everything of this zone is stated"
    assert card_words("open", "Before cutting", made, zone) == "4 of 6 still to see to"
    assert card_words("rebuild", "Scheme", made, zone).endswith("; 2 others")


# ---- keels, bulkheads and frames as structures ----


def test_water_presses_on_a_keel_and_not_on_a_bulkhead_and_a_frame_is_a_beam_at_one_station():
    keel, bulkhead, frame = (
        plan(worked(t), SHELF).zone("z1") for t in ("struck-keel", "rotten-bulkhead", "cracked-frame")
    )
    assert [c.key for c in keel.strength.proved.cases] == ["pressure"] and bulkhead.strength.proved is None
    run = frame.strength.run
    assert run is not None and keel.strength.run is None
    from ribpatch.core.structure.pressure import design_pressure, size_of

    zone = frame.zone
    sides = (run.span, zone.proof.run.spacing.si)
    place = zone.place.station.si, zone.place.height.si
    assert run.pressure == design_pressure(size_of(frame.boat), "bottom", sides, *place, stiffener=True).value


def test_a_cut_changed_after_the_draft_is_told_as_changed():
    from ribpatch.core.draft_table import draft_table

    drafted = drafted_job(fresh("holed-hull"))
    scheme = drafted.zones[0].scheme
    told = {r.key: r for r in draft_table(plan(drafted, SHELF).zone("z1"), "metric").rows}
    assert not any(r.mark for r in told.values())
    assert told["cut"].cells[1] == of(drafted, "cut").chosen
    wider = evolve_in(scheme, "cut", margin=Measure(si=0.123))
    changed = evolve(drafted, zones=(evolve(drafted.zones[0], scheme=wider),))
    rows = {r.key: r for r in draft_table(plan(changed, SHELF).zone("z1"), "metric").rows}
    assert rows["cut"].mark == "warn"
    assert rows["cut"].cells[1].endswith("; now 123.0 mm past the damage")


def test_the_reason_says_of_how_many_stacks_that_match_it_is_one(made, monkeypatch):
    from ribpatch.core import draft_plies

    zone = made.zone("z4")
    question = []
    real = draft_plies._found
    monkeypatch.setattr(draft_plies, "_found", lambda q, first: question.append(real(q, first)) or question[-1])
    many = draft_plies.plies_for_goal(zone, "lightest", "metric").why
    assert len(question[0]) > 1 and many.startswith(f"one of {len(question[0])} stacks of usual cloths that match the")
    monkeypatch.setattr(draft_plies, "_found", lambda q, first: real(q, first)[:1])
    assert draft_plies.plies_for_goal(zone, "lightest", "metric").why.startswith("the only stack that matches the old")
    monkeypatch.setattr(draft_plies, "_found", lambda q, first: ())
    assert "counted up to" in draft_plies.plies_for_goal(zone, "lightest", "metric").why


# ---- what was chosen stays; a core is no thinner; nothing praises what is not there ----


@pytest.mark.parametrize("side", ["outside", "inside", "above"])
def test_a_side_that_someone_chose_is_drafted_whatever_scores_better(side):
    job = fresh("rotten-transom")
    from ribpatch.core.edits import set_value

    first = plan(job, SHELF).zone("z1")
    assert not first.zone.scheme.access.chosen and first.zone.scheme.access.side == "outside"
    stated = set_value(("zones", "z1", "scheme", "access", "side"), side).change(job)
    assert stated.zones[0].scheme.access.chosen
    made = drafted_job(stated).zones[0].scheme
    assert made.access.side == side and made.access.chosen
    assert next(r for r in made.reasons if r.choice == "side").why == "you chose it"
    best = drafted_job(job).zones[0].scheme
    assert not best.access.chosen and "scores" in next(r for r in best.reasons if r.choice == "side").why


@pytest.mark.parametrize("wrong", ["soft-deck", "soft-sole", "rotten-transom"])
def test_a_drafted_core_fills_the_room_of_the_old_one_to_within_a_millimetre(wrong):
    made = plan(drafted_job(fresh(wrong)), SHELF).zone("z1")
    zone, core = made.zone, made.zone.scheme.core
    if SHELF.core(core.material).poured:
        return
    beds = core.bedding.si * (2 if zone.scheme.access.side == "above" else 1)
    assert (
        zone.build.core.thickness.si - beds - 0.00101 <= core.thickness.si <= zone.build.core.thickness.si - beds + 1e-4
    )
    assert not [n for n in plan(drafted_job(fresh(wrong)), SHELF).notices if n.id.endswith("core-thickness")]


def test_the_way_says_that_no_plan_stands_while_a_grave_warning_is_open():
    from ribpatch.core.edits import set_done
    from ribpatch.core.scheme_edits import tick
    from ribpatch.core.way import next_step, way_of

    job = drafted_job(fresh("soft-sole"))
    for stage in ("boat", "find", "cause"):
        job = set_done(job.zones[0], stage, True).change(job)
    made = plan(job, SHELF)
    grave = [n for n in made.notices_of("z1") if n.grave]
    step = next_step(way_of(made, "z1"))
    assert grave and step.key == "clear" and step.stage == grave[0].stage and grave[0].text in step.missing
    assert ("more" in step.missing) == (len(grave) > 1)
    # What is to be seen to first is ticked; what else is grave would be named in its place.
    for notice in grave:
        if ".before." in notice.id:
            job = tick("z1", notice.id.rpartition("before.")[2], "seen to").change(job)
    left = [n for n in plan(job, SHELF).notices_of("z1") if n.grave]
    assert next_step(way_of(plan(job, SHELF), "z1")).key == ("clear" if left else "paper")

"""The diagnosis of a zone: what the survey answers by itself, what can be, what is asked of the repair, where it
spreads.
"""

import pytest

from ribpatch.core.diagnosis.from_survey import RULES, seen_in
from ribpatch.core.diagnosis.zone import (
    core_kind,
    diagnosis_of,
    places_to_look,
    possible_causes,
    remedies_of,
    said_in,
    sound_as_surveyed,
    summary_of,
    water_reaches,
)
from ribpatch.core.job import Survey
from ribpatch.core.plan import plan
from ribpatch.core.readings import Moisture, SurveySession, Tap
from ribpatch.core.record import evolve
from ribpatch.core.said import Answer, Diagnosis
from ribpatch.core.survey.entry import made_reading
from ribpatch.core.survey.lone import borne_out, lone_readings
from ribpatch.core.survey_checks import asked_of
from ribpatch.core.survey_edits import answer, settle
from ribpatch.core.units import Measure
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()


def with_readings(zone, *rows, references=(), sessions=()):
    numbered = tuple(evolve(r, id=f"r{n}") for n, r in enumerate(rows))
    return evolve(zone, survey=Survey(readings=numbered, references=references, sessions=sessions))


def said(zone):
    return {s.finding: s.there for s in seen_in(zone, SHELF)}


def make(kind, x=0.5, y=0.3, **facts):
    return made_reading(kind, SHELF, x=x, y=y, **facts)


def test_every_rule_of_the_data_exists_and_every_rule_is_used():
    assert {f.auto for f in SHELF.findings if f.auto} == set(RULES)


@pytest.mark.parametrize(
    ("rows", "finding", "there"),
    [
        ([make("tap", grade="dull"), make("tap", 0.7, grade="dull")], "taps-dull", True),
        ([make("tap", 0.1 * n, grade="ring") for n in range(12)], "taps-dull", False),
        ([make("tap", grade="dull")], "taps-dull", None),
        ([make("tap", grade="crunch")], "taps-crunch", None),
        ([make("tap", grade="crunch"), make("tap", 0.56, grade="crunch")], "taps-crunch", True),
        ([make("plug", water="wet", core="soft", bond="torn")], "plug-soft", True),
        ([make("plug", water="wet", core="firm", bond="whole")], "plug-soft", False),
        ([make("plug", water="dry", core="firm", bond="whole")], "plug-wet", None),
        ([make("plug", water="dry", core="firm", bond="clean")], "plug-clean-bond", True),
        ([make("weep", grade="brown")], "brown-water", True), ([make("weep", grade="weeps")], "brown-water", False),
        ([make("weep", grade="damp")], "weeps", None), ([make("weep", grade="dry")], "weeps", False),
        ([make("soap", grade="bubble")], "soap-bubble", True), ([make("soap", 0.1 * n, grade="none") for n in range(3)], "soap-bubble", False),
        ([make("screw", grade="strips")], "screw-loose", True), ([make("smell", grade="musty")], "smell-musty", True),
        ([make("smell", grade="musty")], "smell-sour", False), ([make("pin", value=31)], "wood-wet", True),
        ([make("pin", value=12), make("pin", 0.6, value=14)], "wood-wet", False),
        ([make("sketch", grade="star", points=((0.1, 0.1),))], "crack-star", True), ([], "crack-star", None),
    ],
)  # fmt: skip
def test_the_survey_answers_what_it_can_and_no_more(job, rows, finding, there):
    assert said(with_readings(job.zones[1], *rows)).get(finding) is there


def test_the_meter_answers_only_against_a_reference(job):
    wet = [Moisture(id="x", x=0.1 * n, y=0.3, value=60) for n in range(6)]
    assert "moisture-high" not in said(with_readings(job.zones[1], *wet))
    dry = Moisture(id="x", x=0.9, y=0.5, value=12)
    assert said(with_readings(job.zones[1], dry, *wet, references=("r0",)))["moisture-high"] is True
    low = [evolve(r, value=13) for r in wet]
    assert said(with_readings(job.zones[1], dry, *low, references=("r0",)))["moisture-high"] is False


def test_a_push_softer_than_its_reference_is_a_finding(job):
    sound = make("push", force=200, deflection=0.002)
    soft = [make("push", 0.9 + 0.06 * n, force=200, deflection=0.006) for n in range(3)]
    assert said(with_readings(job.zones[1], sound, *soft, references=("r0",)))["stiffness-lost"] is True
    assert said(with_readings(job.zones[1], sound, soft[0], references=("r0",))).get("stiffness-lost") is None


def test_recorded_taps_count_once_their_references_are_there(job):
    reference = make("strike", frequency=1000, centroid=1500, decay=0.01, contact=4e-4)
    dull = [make("strike", 0.1 * n, frequency=500, centroid=850, decay=0.002, contact=6e-4) for n in range(1, 3)]
    assert "taps-dull" not in said(with_readings(job.zones[1], reference, *dull))
    assert said(with_readings(job.zones[1], reference, *dull, references=("r0",)))["taps-dull"] is True


def test_a_place_that_does_not_dry_is_a_finding(job):
    dates = ("2026-01-01", "2026-01-20", "2026-02-10")
    sessions = tuple(SurveySession(id=f"s{n}", date=d) for n, d in enumerate(dates))
    rows = [Moisture(id="x", x=0.5, y=0.3, value=55 + n, session=f"s{n}") for n in range(3)]
    dry = Moisture(id="x", x=0.9, y=0.5, value=12)
    assert said(with_readings(job.zones[1], dry, *rows, references=("r0",), sessions=sessions))["not-drying"] is True


def test_only_what_can_be_is_considered(job):
    deck, transom, _, topside = job.zones
    assert (core_kind(deck, SHELF), core_kind(topside, SHELF)) == ("wood", "none")
    names = {c.id for c in possible_causes("hull panel", "none", SHELF)}
    assert "rotted-core" not in names and "osmosis" in names and "delamination" in names
    assert "osmosis" not in {c.id for c in possible_causes("deck panel", "wood", SHELF)}
    assert "rotted-core" not in {c.id for c in possible_causes("deck panel", "other", SHELF)}
    assert diagnosis_of(topside, SHELF).chance("rotted-core") == 0.0
    assert diagnosis_of(transom, SHELF).chance("fastener-ingress") > 0.7


def test_the_users_word_goes_before_the_surveys(job):
    zone = job.zones[1]
    assert said(zone)["fitting-unsealed"] is True
    for word, there in (("no", False), ("yes", True)):
        changed = answer("z2", "fitting-unsealed", word).change(job).zone("z2")
        (found,) = [s for s in said_in(changed, SHELF) if s.finding == "fitting-unsealed"]
        assert found.there is there and found.why == "you said so"
    unknown = answer("z2", "fitting-unsealed", "unknown").change(job).zone("z2")
    assert "fitting-unsealed" not in {s.finding for s in said_in(unknown, SHELF)}
    back = answer("z2", "fitting-unsealed", None).change(answer("z2", "fitting-unsealed", "no").change(job))
    assert back.zone("z2").diagnosis == zone.diagnosis


def test_remedies_are_asked_answered_by_the_scheme_planned_or_overruled(job):
    made = plan(job, SHELF)
    standing = {a.remedy.id: a.standing for a in asked_of(job.zones[0], made.zone("z1").patch, made.shelf)}
    assert (
        standing["new-core"] == "answered" and standing["cut-past"] == "answered" and standing["seal-holes"] == "open"
    )
    changed = settle("z1", "seal-holes", "planned", "overdrill and fill").change(job)
    again = plan(changed, SHELF)
    rows = {a.remedy.id: a for a in asked_of(changed.zones[0], again.zone("z1").patch, again.shelf)}
    assert rows["seal-holes"].standing == "planned" and rows["seal-holes"].reason == "overdrill and fill"
    assert "z1.remedy.seal-holes" in {n.id for n in made.notices} - {n.id for n in again.notices}


def test_a_zone_of_which_nothing_is_known_asks_for_nothing(job):
    bare = evolve(job.zones[0], survey=Survey(), fittings=(), edges=())
    bare = evolve(bare, build=evolve(bare.build, inner=evolve(bare.build.inner, thickness=Measure(si=0.0025))))
    assert remedies_of(bare, SHELF, frozenset()) == () and places_to_look(job, bare, SHELF) == ()


def test_water_runs_down_and_aft_to_other_zones(job):
    deck, transom, stringer, topside = job.zones
    assert water_reaches(deck, transom) and water_reaches(deck, stringer) and not water_reaches(stringer, deck)
    assert not water_reaches(evolve(stringer, place=evolve(stringer.place, height=Measure(si=2.0))), topside), (
        "port to starboard"
    )
    places = {p.id for p in places_to_look(job, deck, SHELF)}
    assert {"zone.z2", "zone.z3", "rotted-core.stringers"} <= places


def test_taps_by_ear_alone_never_say_no_too_soon(job):
    few = with_readings(job.zones[0], *[Tap(id="x", x=0.1 * n, y=0, grade="ring") for n in range(5)])
    assert "taps-dull" not in said(few)


@pytest.mark.parametrize(
    ("high", "low", "runs"),
    [("port", "starboard", False), ("starboard", "port", False), ("port", "port", True), ("starboard", "starboard", True),
     ("centre", "port", True), ("port", "centre", True), ("centre", "centre", True)],
)  # fmt: skip
def test_water_never_crosses_from_one_side_to_the_other(job, high, low, runs):
    zone = job.zones[0]
    above = evolve(zone, place=evolve(zone.place, side=high, height=Measure(si=1.2), station=Measure(si=3.0)))
    below = evolve(zone, place=evolve(zone.place, side=low, height=Measure(si=0.3), station=Measure(si=2.0)))
    assert water_reaches(above, below) is runs and not water_reaches(below, above)


@pytest.mark.parametrize(
    ("inner", "outer", "there"), [(2, 5, True), (5, 2, True), (3, 5, False), (5, 3, False), (4, 4, False)]
)
def test_a_skin_is_thin_where_it_is_less_than_half_the_other(job, inner, outer, there):
    zone = job.zones[0]
    skins = {
        n: evolve(getattr(zone.build, n), thickness=Measure(si=t / 1000, typed=f"{t} mm"))
        for n, t in (("inner", inner), ("outer", outer))
    }
    assert said(evolve(zone, build=evolve(zone.build, **skins)))["skin-thin"] is there


def ringing(count=9):
    return [make("tap", 0.1 + 0.22 * i, 0.15 + 0.12 * j, grade="ring") for i in range(count) for j in range(5)]


def metered(high=()):
    return [
        make("moisture", 0.12 + 0.22 * i, 0.2 + 0.24 * j, value=60 if (i, j) in high else 12)
        for i in range(9)
        for j in range(2)
    ]


def test_one_high_reading_among_many_is_no_finding_and_a_cluster_is(job):
    transom = job.zones[1]
    one = with_readings(transom, *ringing(), *metered({(4, 0)}), references=("r45",))
    assert said(one)["moisture-high"] is False
    dull = [make("tap", 0.9 + 0.08 * n, 0.3, grade="dull") for n in range(6)]
    many = with_readings(transom, *metered({(3, 0), (4, 0), (5, 0)}), *dull, references=("r0",))
    assert said(many)["moisture-high"] is True and said(many)["taps-dull"] is True


def test_a_panel_that_rings_all_over_is_sound_as_far_as_surveyed_and_asks_for_nothing(job):
    sound = evolve(with_readings(job.zones[1], *ringing()), diagnosis=Diagnosis())
    assert sound_as_surveyed(sound, SHELF) and remedies_of(sound, SHELF, frozenset()) == ()
    assert summary_of(sound, SHELF).startswith("Sound as far as surveyed")
    assert not sound_as_surveyed(with_readings(job.zones[1], *ringing(1)), SHELF), "five taps are no survey"
    assert not sound_as_surveyed(job.zones[0], SHELF)


def test_a_state_is_told_with_its_reason_only_where_the_one_leads_to_the_other(job):
    zone = evolve(job.zones[0], survey=Survey())
    crazed = zone
    for finding in ("crack-craze", "crack-shallow", "flexes", "support-far", "more-load"):
        crazed = evolve(
            crazed,
            diagnosis=evolve(
                crazed.diagnosis, answers=(*crazed.diagnosis.answers, Answer(finding=finding, said="yes"))
            ),
        )
    made = diagnosis_of(crazed, SHELF)
    first = {role: next(r.cause.id for r in made.ranked if r.role == role) for role in ("state", "primary")}
    assert first == {"state": "crazing", "primary": "overspan"}
    assert "because of" not in summary_of(crazed, SHELF) and "Beside it: span" in summary_of(crazed, SHELF)
    assert "because of water in" in summary_of(job.zones[0], SHELF)


def test_readings_alone_against_those_round_them_are_to_be_taken_again(job):
    rows = ringing()
    rows[22] = evolve(rows[22], grade="drummy")
    zone = with_readings(job.zones[1], *rows)
    assert [r.id for r in lone_readings(zone, SHELF)] == ["r22"]
    assert "r22" not in borne_out(zone, SHELF)
    assert lone_readings(with_readings(job.zones[1], *ringing()), SHELF) == ()


def test_what_no_meter_or_tap_says_is_told_as_none_of_so_many(job):
    """A panel of ringing taps and low readings: their words count them, and name none."""
    from ribpatch.core.diagnosis.from_survey import seen_in
    from ribpatch.core.job import Survey
    from ribpatch.core.readings import Moisture, Tap
    from ribpatch.library.shelf import shipped_shelf

    taps = tuple(Tap(id=f"t{n}", x=0.1 + 0.1 * (n % 12), y=0.1 + 0.1 * (n // 12), grade="ring") for n in range(60))
    meters = tuple(Moisture(id=f"m{n}", x=0.15 + 0.1 * n, y=0.35, value=12 + n % 2) for n in range(12))
    survey = Survey(readings=(*taps, *meters), references=("m0", "m1"))
    zone = evolve(job.zones[0], survey=survey, outline=((0, 0), (1.4, 0), (1.4, 0.7), (0, 0.7)), fittings=(), edges=())
    seen = {s.finding: s for s in seen_in(zone, shipped_shelf())}
    dull = next(s for s in seen.values() if "60 taps" in s.why)
    high = next(s for s in seen.values() if "meter readings" in s.why)
    assert not dull.there and dull.why == "none of 60 taps"
    assert not high.there and high.why == "none of 10 meter readings"

"""What each instrument says, against the words of its data; references, sessions, and what a plug overrules."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ribpatch.core.errors import Fault
from ribpatch.core.job import Survey
from ribpatch.core.readings import Moisture, SurveySession, Tap
from ribpatch.core.record import evolve
from ribpatch.core.survey.entry import made_reading, reading_words
from ribpatch.core.survey.likelihood import STATES
from ribpatch.core.survey.score import levels_of, references_of, scores_of
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()


def make(n, kind, x=0.5, y=0.5, **facts):
    return evolve(made_reading(kind, SHELF, x=x, y=y, **facts), id=f"r{n}")


def only(reading, *others, references=()):
    return scores_of(Survey(readings=(reading, *others), references=references), SHELF)


@pytest.mark.parametrize(
    "card", [c for c in SHELF.instruments if c.grades and c.id not in ("plug", "cut")], ids=lambda c: c.id
)
def test_every_word_of_every_graded_instrument_scores_as_its_data_says(card):
    for grade in card.grades:
        facts = {"points": ((0.5, 0.5),)} if card.id == "sketch" else {}
        scores = only(make(1, card.id, grade=grade.id, **facts))
        if grade.score is None:
            assert scores.left_out == 1 and scores.x.size == 0
            continue
        assert scores.score[0] == grade.score
        assert np.exp(scores.logs[0]) == pytest.approx(grade.says, abs=1e-4)


def test_keys_of_the_words_are_all_different():
    keys = [g.key for c in SHELF.instruments for g in c.grades if g.key]
    assert len(set(keys)) == len(keys) and not {"s", "n"} & set(keys), "S marks a reference, N goes to the next place"


@pytest.mark.parametrize(
    ("facts", "score", "state"),
    [
        ({"water": "dry", "core": "firm", "bond": "whole"}, 0, "sound"),
        ({"water": "wet", "core": "firm", "bond": "whole"}, 1, "wet"),
        ({"water": "wet", "core": "soft", "bond": "torn"}, 1, "rotted"),
        ({"water": "dry", "core": "soft", "bond": "torn"}, 0.85, "rotted"),
        ({"water": "dry", "core": "firm", "bond": "clean"}, 1, "disbonded"),
        ({"water": "dry", "core": "firm", "bond": "torn"}, 0, "sound"),
    ],
)
def test_a_plug_says_what_was_seen(facts, score, state):
    scores = only(make(1, "plug", **facts))
    chance = np.exp(scores.logs[0]) / np.exp(scores.logs[0]).sum()
    assert scores.score[0] == score and scores.rank[0] == 1
    assert chance[STATES.index(state)] > 0.5 and int(chance.argmax()) == STATES.index(state)


def test_wood_pins_need_no_reference_and_run_from_dry_to_wet():
    dry, wet = SHELF.rule("pin.dry"), SHELF.rule("pin.wet")
    values = [only(make(1, "pin", value=v)).score[0] for v in (dry - 5, dry, (dry + wet) / 2, wet, wet + 20)]
    assert values == pytest.approx([0, 0, 0.5, 1, 1])


def test_a_push_is_judged_by_the_stiffness_of_the_sound_place():
    sound = make(1, "push", force=200, deflection=0.002)
    half = make(2, "push", x=0.9, force=200, deflection=0.004)
    assert only(half).left_out == 1
    scores = only(half, sound, references=("r1",))
    assert references_of(Survey(readings=(sound,), references=("r1",)))["push"] == pytest.approx(1e5)
    loss = 0.5 / SHELF.rule("push.loss")
    assert scores.score[0] == pytest.approx(loss) and scores.score[1] == 0


def test_evening_cooling_needs_a_dry_place_to_compare():
    warm, dry = make(1, "infrared", value=21.5), make(2, "infrared", x=0.1, value=20)
    assert only(warm).left_out == 1
    assert only(warm, dry, references=("r2",)).score[0] == pytest.approx(min(1, 1.5 / SHELF.rule("infrared.rise")))


def test_a_test_cut_becomes_places_along_its_line():
    cut = make(1, "cut", x=0, y=0, points=((0, 0), (0.4, 0), (0.8, 0)), states=("sound", "rotted"))
    scores = only(cut)
    assert set(scores.ids) == {"r1"} and scores.x.size == 16
    assert (scores.score[scores.x < 0.4] == 0).all() and (scores.score[scores.x > 0.4] == 1).all()
    assert (scores.logs[scores.x > 0.4].argmax(axis=1) == STATES.index("rotted")).all()


def test_a_plug_overrules_what_contradicts_it_near_by_and_only_there():
    taps = (Tap(id="near", x=0.52, y=0.5, grade="crunch"), Tap(id="far", x=0.7, y=0.5, grade="crunch"))
    agrees = Tap(id="same", x=0.5, y=0.53, grade="ring")
    plug = make(1, "plug", water="dry", core="firm", bond="whole")
    scores = only(plug, *taps, agrees)
    assert scores.overruled == 1 and set(scores.ids) == {"r1", "far", "same"}


def test_a_later_session_takes_the_place_of_the_earlier_one_for_the_same_instrument():
    sessions = (SurveySession(id="s1", date="2026-05-01"), SurveySession(id="s2", date="2026-06-01"))
    rows = (
        Tap(id="a", x=0.5, y=0.5, grade="dull", session="s1"), Tap(id="b", x=0.505, y=0.5, grade="ring", session="s2"),
        Moisture(id="c", x=0.5, y=0.5, value=12, session="s1"), Tap(id="d", x=0.9, y=0.5, grade="dull", session="s1"),
    )  # fmt: skip
    scores = scores_of(Survey(readings=rows, sessions=sessions, references=("c",)), SHELF)
    assert set(scores.ids) == {"b", "c", "d"} and scores.superseded == 1
    assert len(set(scores.group.tolist())) == 3, "a group is an instrument in a session"


@given(st.permutations(range(6)))
def test_the_order_of_entry_never_matters(order):
    rows = [
        make(0, "tap", grade="dull"), make(1, "moisture", x=0.2, value=40), make(2, "moisture", x=0.9, value=12),
        make(3, "plug", x=0.6, water="wet", core="soft", bond="torn"), make(4, "weep", x=0.1, grade="weeps"), make(5, "pin", x=0.3, value=20),
    ]  # fmt: skip
    one = scores_of(Survey(readings=tuple(rows), references=("r2",)), SHELF)
    two = scores_of(Survey(readings=tuple(rows[i] for i in order), references=("r2",)), SHELF)
    a, b = (dict(zip(s.ids, s.score.tolist(), strict=True)) for s in (one, two))
    assert a == b


@pytest.mark.parametrize(
    ("kind", "facts", "said"),
    [
        ("moisture", {"value": 130}, "0 to 100"), ("pin", {"value": -1}, "0 to 200"), ("tap", {"grade": "bong"}, "bong"),
        ("push", {"force": 0, "deflection": 0.01}, "force"), ("plug", {"water": "moist", "core": "firm", "bond": "whole"}, "water"),
        ("cut", {"points": ((0, 0), (1, 0)), "states": ("sound", "wet")}, "1 states, not 2"), ("infrared", {"value": 900}, "−40 to 120"),
        ("strike", {"frequency": -5, "centroid": 1, "decay": 1, "contact": 1}, "frequency"), ("bell", {}, "instrument"),
    ],
)  # fmt: skip
def test_readings_that_cannot_be_are_refused_with_what_is_wrong(kind, facts, said):
    with pytest.raises(Fault, match=said):
        made_reading(kind, SHELF, x=0, y=0, **facts)


def test_levels_and_words_of_readings():
    rows = (make(1, "tap", grade="dull"), make(2, "moisture", value=40), make(3, "push", force=100, deflection=0.0025))
    assert levels_of(Survey(readings=rows), SHELF) == {"r1": 0.8}
    assert [reading_words(r) for r in rows] == ["tap dull", "moisture 40", "push 100 N, 2.5 mm"]
    assert np.isfinite(scores_of(Survey(readings=rows), SHELF).score).all()


def test_a_push_speaks_of_the_bond_only_in_part():
    """40 % softer than its reference, where half is all that counts: rot or a loose skin, hardly water."""
    sound = make(1, "push", 0.2, force=200.0, deflection=0.001)
    soft = make(2, "push", 0.8, force=200.0, deflection=0.001 / 0.6)
    scores = only(sound, soft, references=("r1",))
    loss = 0.4 / SHELF.rule("push.loss")
    at = int(np.argmax(scores.x))
    assert scores.score[at] == pytest.approx(loss)
    sound, wet, rotted, loose = np.exp(scores.logs[at])
    assert rotted > 3 * sound and loose > 3 * sound > wet, "it tells rot and a loose skin from sound, not water"

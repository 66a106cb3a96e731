"""From what was typed or measured to a reading and back into words; what lies in the zone."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.strategies import any_reading

from ribpatch.core.errors import Fault
from ribpatch.core.numerals import general
from ribpatch.core.readings import line_of
from ribpatch.core.record import evolve
from ribpatch.core.survey.acoustics import Measured
from ribpatch.core.survey.entry import METERS, made_reading, reading_words, strike_reading
from ribpatch.core.survey.inside import all_inside
from ribpatch.core.survey.strike_shape import Shape
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()
ZONE = ((0.0, 0.0), (2.0, 0.0), (2.0, 1.0), (0.0, 1.0))

SHAPE = Shape((0.1, 0.2, 0.4, 0.2, 0.05, 0.05), (0.02, 0.01, 0.004), 0.4, 1800.0)


def make(kind, x=0.5, y=0.5, **facts):
    return made_reading(kind, SHELF, x=x, y=y, **facts)


@pytest.mark.parametrize("kind", METERS)
def test_a_meter_takes_its_whole_scale_and_nothing_beyond(kind):
    card = SHELF.instrument(kind)
    assert (make(kind, value=card.low).value, make(kind, value=card.high).value) == (card.low, card.high)
    for beyond in (card.low - 0.1, card.high + 0.1):
        with pytest.raises(Fault, match=f"{general(card.low)} to {general(card.high)}"):
            make(kind, value=beyond)


@pytest.mark.parametrize("kind", ["tap", "soap", "screw", "weep", "smell"])
def test_words_are_taken_in_any_case_with_spaces_round_them(kind):
    for grade in SHELF.instrument(kind).grades:
        assert make(kind, grade=f" {grade.id.upper()} ").grade == grade.id


@pytest.mark.parametrize(
    ("kind", "facts", "words"),
    [
        ("weep", {"grade": "brown"}, "weep brown"), ("pin", {"value": 27.5}, "pin 27.5 %"), ("infrared", {"value": -3}, "infrared −3.0 °C"),
        ("plug", {"water": "wet", "core": "soft", "bond": "torn"}, "plug wet, core soft, bond torn"),
        ("strike", {"frequency": 812.4, "centroid": 900, "decay": 0.0123, "contact": 0.001}, "strike 812 Hz, decay 12.3 ms"),
        ("cut", {"points": ((0.1, 0.1), (0.2, 0.1), (0.3, 0.1), (0.4, 0.1)), "states": ("sound", "wet", "sound")}, "test cut sound, wet"),
        ("sketch", {"grade": "star", "points": ((0.1, 0.1),)}, "sketch star"),
    ],
)  # fmt: skip
def test_a_reading_in_words(kind, facts, words):
    assert reading_words(make(kind, **facts)) == words


def test_a_measured_strike_keeps_its_figures_and_its_recording():
    measured = Measured(
        start=0.4, frequency=900.0, centroid=1100.0, decay=0.01, contact=0.0012, over_noise=25.0, shape=SHAPE
    )
    made = strike_reading(measured, (0.3, 0.2), "abc.wav", SHELF)
    assert (made.x, made.y, made.recording, made.start) == (0.3, 0.2, "abc.wav", 0.4)
    assert (made.frequency, made.centroid, made.decay, made.contact) == (900.0, 1100.0, 0.01, 0.0012)


@pytest.mark.parametrize(
    ("x", "y", "inside"), [(1, 0.5, True), (0, 0, True), (2.0009, 0.5, True), (2.01, 0.5, False), (1, -0.01, False)]
)
def test_a_place_a_millimetre_over_the_edge_counts_as_in(x, y, inside):
    assert all_inside((make("tap", x, y, grade="ring"),), ZONE).tolist() == [inside]


def test_a_line_is_inside_only_with_all_its_points():
    lines = [
        make("sketch", grade="star", points=p) for p in (((0.1, 0.1), (1.9, 0.9)), ((0.1, 0.1), (2.1, 0.9)), ((1, 1),))
    ]
    assert all_inside(lines, ZONE).tolist() == [True, False, True]
    assert all_inside((), ZONE).tolist() == []


@given(st.lists(any_reading, max_size=8))
def test_many_at_once_are_judged_as_each_alone(rows):
    rows = [evolve(r, id=f"r{n}") for n, r in enumerate(rows)]
    assert all_inside(rows, ZONE).tolist() == [bool(all_inside((r,), ZONE)[0]) for r in rows]
    assert all(line_of(r) for r in rows)


@given(st.text(max_size=20), st.sampled_from(["tap", "soap", "screw", "weep", "smell", "sketch"]))
def test_any_word_is_one_of_the_instruments_or_a_plain_sentence(word, kind):
    try:
        points = {"points": ((0.1, 0.1),)} if kind == "sketch" else {}
        assert make(kind, grade=word, **points).grade in {g.id for g in SHELF.instrument(kind).grades}
    except Fault as fault:
        assert fault.sentence

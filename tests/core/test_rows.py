"""Rows of results: only what is new in a row is worked out, and what comes out is what would be worked out anew."""

from hypothesis import given
from hypothesis import strategies as st

from ribpatch.core.memo import Rows
from ribpatch.core.readings import Moisture, Tap
from ribpatch.core.record import evolve
from ribpatch.core.survey.score import levels_of, scores_of


class Item:
    def __init__(self, number):
        self.number = number


def test_an_item_more_is_all_that_is_worked_out():
    rows, asked = Rows(), []

    def work(items):
        asked.append(len(items))
        return [i.number for i in items]

    items = tuple(Item(n) for n in range(100))
    assert rows.of(items, "a", work) == list(range(100))
    more = (*items, Item(100))
    assert rows.of(more, "a", work) == list(range(101))
    changed = (*more[:50], Item(-1), *more[51:])
    assert rows.of(changed, "a", work)[50] == -1
    assert rows.of(changed, "b", work) == [i.number for i in changed]
    assert asked == [100, 1, 1, 101]


POOL = [Item(n) for n in range(12)]
rows_of_items = st.lists(st.sampled_from(POOL), max_size=14).map(tuple)


@given(st.lists(st.tuples(rows_of_items, st.sampled_from("ab")), min_size=1, max_size=12))
def test_whatever_the_history_the_results_are_those_of_the_row(history):
    rows = Rows()
    for items, facts in history:
        assert rows.of(items, facts, lambda some, f=facts: [(f, i.number) for i in some]) == [
            (facts, i.number) for i in items
        ]


places = st.floats(0.05, 1.9).map(lambda v: round(v, 2))
taps = st.builds(
    lambda x, y, g: Tap(id="r1", x=x, y=y - 1, grade=g), places, places, st.sampled_from(["ring", "dull", "crunch"])
)
meters = st.builds(lambda x, y, v: Moisture(id="r1", x=x, y=y - 1, value=v), places, places, st.floats(0, 100))


edits = st.lists(st.tuples(taps | meters, st.integers(-30, 14), st.booleans()), min_size=1, max_size=12)


@given(edits)
def test_scores_after_many_edits_are_those_of_a_survey_read_at_once(job, shelf, edits):
    survey = evolve(job.zones[1].survey, references=())
    survey = evolve(survey, readings=())
    for number, (reading, gone, mark) in enumerate(edits, 1):
        rows = (*survey.readings, evolve(reading, id=f"r{number}"))
        if 0 <= gone < len(rows):
            rows = rows[:gone] + rows[gone + 1 :]
        survey = evolve(evolve(survey, references=()), readings=rows)
        if mark:
            survey = evolve(survey, references=tuple(r.id for r in rows if r.kind == "moisture")[:1])
        scores_of(survey, shelf)
    fresh = evolve(survey, readings=tuple(type(r)(**vars(r)) for r in survey.readings))
    assert levels_of(survey, shelf) == levels_of(fresh, shelf)
    one, other = scores_of(survey, shelf), scores_of(fresh, shelf)
    assert one.score.tolist() == other.score.tolist() and one.group.tolist() == other.group.tolist()
    assert (one.left_out, one.superseded, one.overruled) == (other.left_out, other.superseded, other.overruled)

"""Remembering by identity."""

import sys
from threading import Thread

import pytest

from ribpatch.core.diagnosis.from_survey import seen_in
from ribpatch.core.diagnosis.zone import cause_figures, diagnosis_of, said_in
from ribpatch.core.drawing.survey_picture import marks_to_test
from ribpatch.core.memo import remembered
from ribpatch.core.record import evolve
from ribpatch.core.said import Answer
from ribpatch.core.survey.field import field_of, kind_fields, posterior_of
from ribpatch.core.survey.figures import kind_figures, survey_figures
from ribpatch.core.survey.next_test import next_tests
from ribpatch.core.survey.score import levels_of, scores_of
from ribpatch.core.survey.way_in import ways_in
from ribpatch.core.units import Measure


def test_same_objects_are_not_worked_out_again_and_equal_ones_are():
    calls = []

    @remembered(4)
    def size(items, factor):
        calls.append(1)
        return len(items) * factor

    first, second = [1, 2], [1, 2]
    assert size(first, 3) == size(first, 3) == 6
    assert len(calls) == 1
    assert size(second, 3) == 6
    assert len(calls) == 2
    assert size(first, 4) == 8
    assert len(calls) == 3


def test_it_forgets_the_oldest():
    made = []

    @remembered(2)
    def same(item):
        made.append(item)
        return item

    a, b, c = object(), object(), object()
    for item in (a, b, c, c, b):
        same(item)
    assert made == [a, b, c]
    same(a)
    assert made == [a, b, c, a]


def test_a_function_that_reads_some_parts_of_a_document_is_not_asked_again_when_another_changes(job, shelf):
    zone = job.zones[0]
    other = evolve(zone, scheme=evolve(zone.scheme, note="another way"), name="Fore deck")
    assert survey_figures(zone, shelf, "z1") is survey_figures(other, shelf, "z1")
    assert diagnosis_of(zone, shelf) is diagnosis_of(other, shelf)
    moved = evolve(zone, survey=evolve(zone.survey, confidence=Measure(si=0.8)))
    assert survey_figures(zone, shelf, "z1") is not survey_figures(moved, shelf, "z1")
    answered = evolve(zone, diagnosis=evolve(zone.diagnosis, answers=(Answer(finding="smell-musty", said="no"),)))
    assert diagnosis_of(zone, shelf) is not diagnosis_of(answered, shelf)


class OnlyThese:
    """A zone that lets its named parts be seen and nothing else."""

    def __init__(self, zone, parts):
        self._zone, self._parts = zone, parts
        self.read = set()

    def __getattr__(self, name):
        worked_out = getattr(type(self._zone), name, None)
        if isinstance(worked_out, property):
            return worked_out.fget(self)
        assert name in self._parts, f"reads {name}, which it does not say"
        self.read.add(name)
        return getattr(self._zone, name)


@pytest.mark.parametrize(
    ("ask", "more"),
    [(survey_figures, ("z1",)), (kind_figures, ("z1",)), (cause_figures, ("z1",)), (said_in, ()), (diagnosis_of, ()),
     (seen_in, ()), (marks_to_test, ())],
)  # fmt: skip
def test_what_is_remembered_by_parts_reads_no_other_part(job, shelf, ask, more):
    read = set()
    for zone in job.zones:
        seen = OnlyThese(zone, ask.parts["zone"])
        ask.function(seen, shelf, *more)
        read |= seen.read
    assert read, "it reads something of what it names"
    assert read <= set(ask.parts["zone"])


@pytest.mark.parametrize("ask", [posterior_of, field_of, kind_fields, next_tests])
def test_how_sure_one_wants_to_be_and_what_is_drawn_do_not_work_the_field_out_again(job, shelf, ask):
    for zone in job.zones[:3]:
        survey = zone.survey
        ask.function(OnlyThese(survey, ask.parts["survey"]), zone.outline, shelf)
        surer = evolve(survey, confidence=Measure(si=0.97), drawn=(((0.1, 0.1), (0.3, 0.1), (0.2, 0.15)),))
        assert ask(surer, zone.outline, shelf) is ask(survey, zone.outline, shelf)
    fewer = evolve(survey, readings=survey.readings[1:])
    assert ask(fewer, zone.outline, shelf) is not ask(survey, zone.outline, shelf)


def test_scores_read_no_part_of_a_survey_that_they_do_not_name(job, shelf):
    for ask in (scores_of, levels_of):
        for zone in job.zones:
            seen = OnlyThese(zone.survey, ask.parts["survey"])
            assert ask.function(seen, shelf) is not None
            assert "readings" in seen.read and seen.read <= set(ask.parts["survey"])


def test_the_ways_in_read_no_part_that_they_do_not_name(job, shelf):
    for zone in job.zones:
        seen = OnlyThese(zone, ways_in.parts["zone"])
        assert ways_in.function(seen, 1998, 2026, shelf) == ways_in(zone, 1998, 2026, shelf)
        assert seen.read and seen.read <= set(ways_in.parts["zone"])


def test_numbers_that_are_equal_but_of_another_kind_are_not_mixed_up():
    @remembered(4)
    def kind(value):
        return type(value)

    assert [kind(1), kind(1.0), kind(True)] == [int, float, bool]


def test_threads_that_ask_at_once_get_one_object_and_nothing_breaks():
    @remembered(3)
    def made(item):
        return object()

    items = [object() for _ in range(6)]
    wrong = []

    def ask():
        try:
            for n in range(20_000):
                made(items[n % 6])
        except Exception as error:
            wrong.append(error)

    threads = [Thread(target=ask) for _ in range(4)]
    old = sys.getswitchinterval()
    sys.setswitchinterval(1e-6)
    try:
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
    finally:
        sys.setswitchinterval(old)
    assert wrong == [] and made(items[0]) is made(items[0]) and len(made._known) == 3


def test_what_was_worked_out_of_a_job_is_forgotten_with_it():
    from weakref import ref

    from ribpatch.core.memo import forget_all

    class Zone:
        """Something large."""

    @remembered(8)
    def of_zone(zone):
        return [zone]

    zone = Zone()
    gone, first = ref(zone), of_zone(zone)
    assert of_zone(zone) is first
    del zone, first
    assert gone() is not None
    forget_all()
    assert gone() is None

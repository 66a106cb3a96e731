"""Work beside the window: one answer each, in the window's thread, unless it was called off or the window is gone."""

import gc
import os
import threading
import time
import weakref

import pytest
from PySide6.QtCore import QThread
from PySide6.QtWidgets import QApplication

from ribpatch.ui.tasks import PAUSE, Cancelled, Steps, Tasks, _Work
from ribpatch.ui.widgets.busy_line import BusyLine


@pytest.fixture
def tasks(qapp):
    made = Tasks()
    yield made
    made.close()


def test_the_answer_comes_once_and_in_the_windows_thread(tasks, qtbot):
    here, answers = QThread.currentThread(), []
    worked_in = []

    def work():
        worked_in.append(threading.get_ident())
        return 42

    tasks.run("counting", work, lambda result, error: answers.append((result, error, QThread.currentThread() is here)))
    assert answers == [], "nothing comes before the window is back in its own loop"
    qtbot.waitUntil(lambda: bool(answers))
    assert answers == [(42, None, True)] and worked_in != [threading.get_ident()]


def test_an_error_comes_as_an_error_and_the_next_work_still_runs(tasks, qtbot):
    answers = []
    tasks.run("dividing", lambda: 1 / 0, lambda result, error: answers.append((result, type(error))))
    tasks.run("adding", lambda: 1 + 1, lambda result, error: answers.append((result, type(error))))
    qtbot.waitUntil(lambda: len(answers) == 2)
    assert answers == [(None, ZeroDivisionError), (2, type(None))]


def test_what_was_asked_for_and_answered_is_let_go(tasks, qtbot):
    class Plan:
        """Something large."""

    kept, answers = [], []
    for _ in range(3):
        plan = Plan()
        kept.append(weakref.ref(plan))
        tasks.run("", lambda p=plan: p, lambda result, _error, p=plan: answers.append(result is p))
        tasks.run_steps("", lambda steps, p=plan: None, lambda *_, p=plan: answers.append(True))
        del plan
    qtbot.waitUntil(lambda: len(answers) == 6)
    assert all(answers)
    # The thread that worked lets go a moment after it has told.
    qtbot.waitUntil(lambda: gc.collect() >= 0 and [ref() for ref in kept] == [None] * 3)


def test_work_runs_one_after_the_other_in_the_order_asked(tasks, qtbot):
    order = []
    for n in range(6):
        tasks.run("", lambda n=n: order.append(n), lambda *_: None)
    tasks.wait()
    assert order == list(range(6))


def test_what_is_busy_is_told_by_name_and_goes_when_it_is_done(tasks, qtbot):
    gate, told = threading.Event(), []
    tasks.busy.connect(told.append)
    tasks.run("reading taps.csv", gate.wait, lambda *_: None)
    tasks.run("", lambda: None, lambda *_: None)
    assert told[-1] == "reading taps.csv", "a recovery copy is not shown as busy"
    gate.set()
    qtbot.waitUntil(lambda: told[-1] == "")


def test_work_in_steps_tells_its_share_and_stops_where_it_is_called_off(tasks, qtbot):
    answers, passed, halfway = [], [], threading.Event()

    def work(steps: Steps):
        for n in range(1000):
            steps(n / 1000)
            passed.append(n)
            if n == 500:
                halfway.set()
                time.sleep(0.05)
            time.sleep(0.0005)

    told = []
    tasks.busy.connect(told.append)
    tasks.run_steps("reading", work, lambda *answer: answers.append(answer))
    assert tasks.can_cancel
    assert halfway.wait(10)
    tasks.cancel()
    qtbot.waitUntil(lambda: not tasks.can_cancel)
    assert answers == [] and 500 < len(passed) < 1000, "called off work has no answer"
    assert told[-1] == "" and told[0] == "reading 0%"


def test_work_that_is_called_off_before_its_turn_is_not_begun(tasks, qtbot):
    gate, begun, off = threading.Event(), [], []
    tasks.run("saving", gate.wait, lambda *_answer: None)
    steps = tasks.run_steps("making", begun.append, lambda *_answer: None, lambda: off.append(True))
    steps.cancel()
    gate.set()
    qtbot.waitUntil(lambda: off == [True])
    assert begun == []


def test_work_that_cannot_be_called_off_goes_on(tasks, qtbot):
    gate, answers = threading.Event(), []
    tasks.run("saving", gate.wait, lambda result, _error: answers.append(result))
    assert not tasks.can_cancel
    tasks.cancel()
    gate.set()
    qtbot.waitUntil(lambda: answers == [True])


def test_steps_raise_only_after_they_were_called_off():
    steps = Steps()
    steps(0.25)
    assert steps.share == 0.25
    steps.cancel()
    with pytest.raises(Cancelled):
        steps(0.5)
    assert steps.share == 0.25


def test_a_closed_window_gets_no_answers(qtbot, qapp):
    made, answers, gate = Tasks(), [], threading.Event()
    made.run("slow", lambda: gate.wait(5), lambda *answer: answers.append(answer))
    gate.set()
    made.close()
    QApplication.processEvents()
    assert answers == []


def test_work_that_is_done_before_it_was_handed_over_wholly_is_let_go_too(tasks, qtbot):
    """As happens to short work on a busy machine: here both threads share one core."""
    cores, answers = os.sched_getaffinity(0), []
    os.sched_setaffinity(0, {min(cores)})
    try:
        for _ in range(400):
            tasks.run("", lambda: None, lambda *_: answers.append(True))
        tasks.wait()
    finally:
        os.sched_setaffinity(0, cores)
    qtbot.waitUntil(lambda: len(answers) == 400)
    gc.collect()
    assert not [o for o in gc.get_objects() if isinstance(o, _Work)]


def test_what_is_being_written_is_finished_before_the_window_goes_and_the_rest_is_not(qapp):
    made, ended, going = Tasks(), [], threading.Barrier(3)

    def work(name):
        def steps_of(steps):
            going.wait(5)
            for n in range(60):
                steps(n / 60)
                time.sleep(0.005)
            ended.append(name)

        return steps_of

    made.run_steps("writing", work("written"), lambda *_answer: None, finish=True)
    made.run_steps("searching", work("searched"), lambda *_answer: None, aside=True)
    going.wait(5)
    made.close()
    assert ended == ["written"]


def test_the_busy_line_is_hidden_while_nothing_runs_and_stops_only_what_can_be_stopped(qtbot):
    line = BusyLine()
    qtbot.addWidget(line)
    line.show_busy("reading taps.csv 40%", True)
    assert line.isVisible() and line.stop.isVisible() and line.words.text().startswith("reading taps.csv 40%")
    line.show_busy("saving", False)
    assert line.isVisible() and not line.stop.isVisible()
    line.show_busy("", False)
    assert not line.isVisible() and line.words.text() == ""


def test_what_is_asked_for_at_each_of_many_changes_begins_at_once_and_then_when_they_pause(tasks, qtbot):
    begun, answers = [], []
    steps = None
    for n in range(5):
        if steps is not None:
            steps.cancel()
        steps = tasks.run_steps("", lambda s, n=n: begun.append(n), lambda *_, n=n: answers.append(n), pause=True)
    tasks.run("", lambda: begun.append("other"), lambda *_: answers.append("other"))
    qtbot.waitUntil(lambda: "other" in answers, timeout=PAUSE // 2)
    assert set(begun) <= {0, "other"}, "the first may have been called off before its turn; no later one is begun"
    qtbot.waitUntil(lambda: answers[-1:] == [4], timeout=10 * PAUSE)
    assert [n for n in begun if n not in (0, "other")] == [4]
    qtbot.wait(PAUSE + 50)
    tasks.run_steps("", lambda s: begun.append(5), lambda *_: answers.append(5), pause=True)
    qtbot.waitUntil(lambda: answers[-1] == 5, timeout=PAUSE // 2)


def test_one_who_waits_for_all_work_waits_for_what_is_held_back_too(tasks, qtbot):
    begun = []
    for n in range(3):
        tasks.run_steps("", lambda s, n=n: begun.append(n), lambda *_: None, pause=True)
    tasks.wait()
    assert begun == [0, 1, 2]


def test_what_is_held_back_does_not_begin_once_the_window_goes(qapp):
    tasks, begun = Tasks(), []
    for n in range(2):
        tasks.run_steps("", lambda s, n=n: begun.append(n), lambda *_: None, pause=True)
    tasks.close()
    assert 1 not in begun


def test_work_that_is_not_shown_is_not_called_off_by_the_user(tasks, qtbot):
    gate, answers = threading.Event(), []

    def work(steps: Steps):
        gate.wait(10)
        steps(0.5)
        return 1

    tasks.run_steps("", work, lambda result, _error: answers.append(result))
    assert not tasks.can_cancel
    tasks.cancel()
    gate.set()
    qtbot.waitUntil(lambda: answers == [1])

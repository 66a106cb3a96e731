"""Remembering by identity."""

import sys
from threading import Thread

from ribpatch.core.memo import remembered


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
    @remembered(2)
    def same(item):
        return item

    a, b, c = object(), object(), object()
    for item in (a, b, c, c, b):
        same(item)
    assert same.computed == 3
    same(a)
    assert same.computed == 4


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

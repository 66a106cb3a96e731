"""Remembering by identity."""

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

"""How the columns of a table share its width: figures keep theirs, words give way down to their longest word."""

from __future__ import annotations


def shared_width(room: int, whole: list[int], least: list[int], gives: list[bool], extra: int | None) -> list[int]:
    """The width of each column in pixels.

    ``whole`` is what a column wants, ``least`` what it can do with where it ``gives`` way; what is left over goes to
    the column ``extra``. Where even the least is too much for the room the table is wider than it, and scrolls.
    """
    low = [min(a, b) if g else b for a, b, g in zip(least, whole, gives, strict=True)]
    needs = [b - a for a, b in zip(low, whole, strict=True)]
    left, need = room - sum(low), sum(needs)
    if left <= 0:
        return low
    if need <= left:
        made = list(whole)
        if extra is not None:
            made[extra] += left - need
        return made
    return [a + left * n // need for a, n in zip(low, needs, strict=True)]

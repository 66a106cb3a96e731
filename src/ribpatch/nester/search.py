"""A search for shorter layouts: starts the process that searches, settles what it finds, and stops it.

What is handed back is sound and no longer than what was known before, whatever becomes of the process.
"""

from __future__ import annotations

import json
from time import monotonic
from typing import TYPE_CHECKING

from ribpatch.beside import lines_of
from ribpatch.core.supply.nesting.nest import (
    SHRUNK,
    all_boxes,
    by_boxes,
    in_a_row,
    nest,
    shorter,
    smaller,
    those_beside,
    turns_to_try,
)
from ribpatch.core.supply.nesting.settle import settled
from ribpatch.core.supply.nesting.shape import Lying, Nested, Shape
from ribpatch.core.supply.packing import tries_in

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator, Sequence

SECONDS = 20.0
SPARE = 10.0  # s beyond the time given after which a process is ended
SEEDS = 2  # searches one after the other, the time shared
BOXES = 0.5  # of the time, for other orders of pieces that are boxes


def searched(
    shapes: Sequence[Shape],
    width: float,
    seconds: float = SECONDS,
    known: Nested | None = None,
    go_on: Callable[[float, Nested], bool] | None = None,
) -> Nested:
    """The shortest layout found in about ``seconds``; ``go_on(share, best)`` stops it by answering False.

    Raises InvalidValue where a piece has no outline or is wider than the roll however it lies.
    """
    best = known if known is not None else nest(shapes, width)
    beside = those_beside(shapes, width)
    began, shrunk, whole = monotonic(), SHRUNK, seconds
    if all_boxes(shapes) and not best.proven:

        def until(_: float) -> bool:
            told = (monotonic() - began) / max(seconds, 1e-9)
            return told < BOXES and (go_on is None or go_on(told, best))

        best = shorter(best, by_boxes(shapes, width, tries_in(seconds * BOXES, len(shapes)), until))
        seconds = seconds * (1 - BOXES)
    for seed in range(1, SEEDS + 1):
        if best.proven or len(beside) < 2:
            return best
        sound = False
        for offer in _offers(shapes, beside, width, max(2, int(seconds / SEEDS)), seed, shrunk):
            made = settled(shapes, offer, width, best.bound) if offer is not None else None
            best, sound = shorter(best, made), sound or made is not None
            told = min((monotonic() - began) / max(whole, 1e-9), 1.0)
            if best.proven or (go_on is not None and not go_on(told, best)):
                return best
        shrunk = SHRUNK if sound else 0.0  # where the hair is what it fitted by
    return best


def _offers(
    shapes: Sequence[Shape], beside: tuple[int, ...], width: float, seconds: int, seed: int, shrunk: float
) -> Iterator[tuple[Lying, ...] | None]:
    """What a search finds, as it finds it; None now and then in between."""
    free = seed % 2 == 0  # a search at any turn finds less than one among the turns that lay an edge along
    rows = [
        [smaller(s, width, shrunk), None if s.turns is None and free else turns_to_try(s, width)]
        for s in (shapes[n] for n in beside)
    ]
    task = json.dumps({"pieces": rows, "width": width, "seconds": seconds, "seed": seed})
    for lines in lines_of("ribpatch.nester", task.encode(), seconds + SPARE):
        if lines is None:
            yield None
            continue
        # Of several the last is the shortest.
        found = {n: Lying(x, y, turn) for n, x, y, turn in json.loads(lines[-1])["placed"]}
        yield in_a_row(shapes, width, {beside[n]: p for n, p in found.items()})

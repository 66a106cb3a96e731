"""The shortest layout of pieces that was found: by their boxes, by their shapes, and by what a search offers.

By boxes is quick; a constructive layout by shapes comes next where shapes are no boxes; a search elsewhere hands in
layouts of its own, nearly right, which are settled here before any of them counts. Source: [33].
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.supply.nesting.joining import taken_apart, wholes_of
from ribpatch.core.supply.nesting.settle import settled
from ribpatch.core.supply.nesting.shape import (
    Lying,
    Nested,
    Shape,
    area_of,
    checked,
    extent,
    is_box,
    least_length,
    placed,
    turned,
    turns_that_fit,
)
from ribpatch.core.supply.nesting.sound import is_sound
from ribpatch.core.supply.packing import Rect, asked, pack

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    import spyrrow

    from ribpatch.core.geometry import Ring

SHRUNK = 2e-4  # of a piece, by which it is made smaller for a search that counts touching as overlap
NEARLY = 0.97  # of its box, that a piece fills where nothing lies in its corners
TIGHT = 0.01  # of the width, that a piece leaves at least for a search
SQUARE = 1e-6  # m, that an edge may be off the way of the roll


def nest(
    shapes: Sequence[Shape], width: float, tries: int | None = None, go_on: Callable[[float], bool] | None = None
) -> Nested:
    """The shorter of a layout by boxes and one by shapes on a roll ``width`` m wide; the same for the same pieces.

    ``go_on(share)`` is asked as it goes, and stops it by answering False: the best so far is what there is then.
    Raises InvalidValue where a piece has no outline or is wider than the roll however it lies.
    """
    checked(shapes, width)
    best = by_boxes(shapes, width, tries, go_on)
    if best.proven or all_boxes(shapes):
        return best
    best = shorter(best, joined(shapes, width, best.bound, tries, go_on))
    if best.proven or not asked(go_on):
        return best
    best = shorter(best, settled(shapes, best.lying, width, best.bound))
    built = None if best.proven or not asked(go_on) else constructed(shapes, width)
    return best if built is None else shorter(best, settled(shapes, built, width, best.bound))


def joined(
    shapes: Sequence[Shape], width: float, bound: float, tries: int | None, go_on: Callable[[float], bool] | None = None
) -> Nested | None:
    """A layout on a roll ``width`` m wide of pieces that make convex ones together; None where none do."""
    wholes = wholes_of(shapes, width)
    if len(wholes) == len(shapes):
        return None
    unjoined = {w.parts[0][0] for w in wholes if len(w.parts) == 1}
    together = [shapes[w.parts[0][0]] if w.parts[0][0] in unjoined else Shape(w.ring, w.turns) for w in wholes]
    made = nest(together, width, tries, go_on)
    lying = taken_apart(wholes, made.lying)
    return Nested(lying, made.length, bound) if is_sound(shapes, lying, width) else None


def all_boxes(shapes: Sequence[Shape]) -> bool:
    """Whether every piece fills its box however it may lie."""
    return all(s.turns is not None and is_box(s.ring) for s in shapes)


def shorter(known: Nested, other: Nested | None) -> Nested:
    """The shorter of two; the first where they are alike."""
    return known if other is None or other.length >= known.length - 1e-9 else other


def by_boxes(
    shapes: Sequence[Shape], width: float, tries: int | None = None, go_on: Callable[[float], bool] | None = None
) -> Nested:
    """The layout of the box round each piece, turned as that is smallest, on a roll ``width`` m wide."""
    rects, first = [], []
    for shape in shapes:
        turns = turns_that_fit(shape, width)
        turn = smallest_box(shape, width)
        size = extent(turned(shape.ring, turn))
        quarter = next((t for t in turns if abs((t - turn) % 180.0 - 90.0) < 1e-9), None)
        rects.append(Rect(float(size[0]), min(float(size[1]), width), quarter is not None))
        first.append((turn, quarter))
    made = pack(rects, width, tries, go_on)
    lying = []
    for put, (turn, quarter), shape in zip(made.puts, first, shapes, strict=True):
        at = quarter if put.turned and quarter is not None else turn
        low = turned(shape.ring, at).min(axis=0)
        lying.append(Lying(put.x - float(low[0]), put.y - float(low[1]), at))
    return Nested(tuple(lying), made.length, least_length(shapes, width))


def constructed(shapes: Sequence[Shape], width: float) -> tuple[Lying, ...] | None:
    """A layout by shapes on a roll ``width`` m wide, one piece after the other, not yet settled; always the same.
    None where the library that lays them gives up.
    """
    import spyrrow

    beside = those_beside(shapes, width)
    if len(beside) < 2:
        return in_a_row(shapes, width, {})
    settings = spyrrow.StripPackingConfig(
        total_computation_time=None, exploration_time=0, compression_time=0, num_workers=1, seed=1
    )
    try:
        made = instance_of([shapes[n] for n in beside], width).solve(settings)
    except BaseException as error:  # it panics, as its language has it, where a piece hardly fits
        if type(error).__name__ != "PanicException":
            raise
        return None
    found = {}
    for item in made.placed_items:
        x, y = item.translation
        found[beside[int(item.id)]] = Lying(float(x), float(y), float(item.rotation))
    return in_a_row(shapes, width, found)


def those_beside(shapes: Sequence[Shape], width: float) -> tuple[int, ...]:
    """The pieces that another may go beside on a roll ``width`` m wide; what nearly fills its box and leaves less than
    the narrowest takes lies by itself across it.
    """
    across = [min(float(extent(turned(s.ring, t))[1]) for t in turns_that_fit(s, width)) for s in shapes]
    least = sorted(across)[:2]
    if len(least) < 2:
        return ()
    return tuple(
        n
        for n, a in enumerate(across)
        if a + least[a == least[0]] <= width + SQUARE or area_of(shapes[n].ring) < NEARLY * _box_area(shapes[n], width)
    )


def _box_area(shape: Shape, width: float) -> float:
    return min(float(np.prod(extent(turned(shape.ring, t)))) for t in turns_that_fit(shape, width))


def in_a_row(shapes: Sequence[Shape], width: float, found: dict[int, Lying]) -> tuple[Lying, ...]:
    """A layout of some pieces with all others behind it, one after the other along a roll ``width`` m wide."""
    end = max((float(placed(shapes[n], p)[:, 0].max()) for n, p in found.items()), default=0.0)
    lying = dict(found)
    for n, shape in enumerate(shapes):
        if n not in lying:
            turn = min(turns_that_fit(shape, width), key=lambda t: float(extent(turned(shape.ring, t))[0]))
            corners = turned(shape.ring, turn)
            low = corners.min(axis=0)
            lying[n] = Lying(end - float(low[0]), -float(low[1]), turn)
            end += float(extent(corners)[0])
    return tuple(lying[n] for n in range(len(shapes)))


def instance_of(shapes: Sequence[Shape], width: float) -> spyrrow.StripPackingInstance:
    """The pieces as the search wants them: a hair smaller, each by its number, at the turns at which it fits."""
    import spyrrow

    items = []
    for number, shape in enumerate(shapes):
        items.append(spyrrow.Item(str(number), smaller(shape, width), 1, list(turns_to_try(shape, width))))
    return spyrrow.StripPackingInstance("roll", width, items)


def smallest_box(shape: Shape, width: float) -> float:
    """The turn, degrees, at which the box round a piece is smallest on a roll ``width`` m wide; of several the one with
    most of its edges square to it, then the one that is shortest along.
    """

    def rank(turn: float) -> tuple[float, float, float]:
        corners = turned(shape.ring, turn)
        edges = np.abs(np.roll(corners, -1, axis=0) - corners)
        square = edges.sum(axis=1)[edges.min(axis=1) < SQUARE].sum()
        size = extent(corners)
        return round(float(np.prod(size)), 9), -round(float(square), 9), round(float(size[0]), 9)

    return min(turns_that_fit(shape, width), key=rank)


def turns_to_try(shape: Shape, width: float) -> tuple[float, ...]:
    """The turns, degrees, that a search tries on a roll ``width`` m wide: all that fit, and of any those square to the
    smallest box.
    """
    fit = turns_that_fit(shape, width)
    if shape.turns is not None:
        return fit
    first = smallest_box(shape, width)
    return tuple(t for t in fit if abs((t - first + 45.0) % 90.0 - 45.0) < 1e-9)


def smaller(shape: Shape, width: float, shrunk: float = SHRUNK) -> Ring:
    """An outline made smaller about the middle of its box by a share; by more where it hardly goes on a roll ``width``
    m wide, so that a search which tries places at random finds one for it.
    """
    across = min(float(extent(turned(shape.ring, t))[1]) for t in turns_to_try(shape, width))
    shrunk = max(shrunk, TIGHT - (width - across) / width)
    corners = np.array(shape.ring, float)
    centre = (corners.min(axis=0) + corners.max(axis=0)) / 2
    return tuple((float(x), float(y)) for x, y in centre + (corners - centre) * (1 - shrunk))


def area_used(shapes: Sequence[Shape], made: Nested, width: float) -> float:
    """Share of the length cut off a roll ``width`` m wide that is pieces."""
    return sum(area_of(s.ring) for s in shapes) / (made.length * width) if made.length > 0 else 0.0

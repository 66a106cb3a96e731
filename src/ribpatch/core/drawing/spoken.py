"""A drawing in words: what stands in it and where, for those who listen to it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.drawing.shapes import Badge, Callout, Dimension, Spot, Text

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.drawing.shapes import Drawing
    from ribpatch.core.geometry import Point

MOST = 400  # items that are told one by one
BADGES = {"next": "place to test", "photo": "photograph", "ply-number": "ply", "piece": "piece", "depth": "depth"}


def spoken(drawing: Drawing, said_of: Callable[[str], str] = lambda _key: "") -> list[tuple[str, Point]]:
    """What a drawing says, each with its place in m: words, sizes, marks, readings by ``said_of(key)``.

    The first ``MOST`` are told one by one, how many more there are as the last.
    """
    made: dict[tuple[str, Point], None] = {}
    for shape in drawing.shapes:
        if isinstance(shape, Text | Callout) and shape.text:
            made[shape.text, shape.at] = None
        elif isinstance(shape, Dimension) and shape.text:
            (ax, ay), (bx, by) = shape.start, shape.end
            made[shape.text, ((ax + bx) / 2, (ay + by) / 2)] = None
        elif isinstance(shape, Badge):
            made[f"{BADGES.get(shape.role, shape.role)} {shape.text}", shape.at] = None
        elif isinstance(shape, Spot):
            words = said_of(shape.key) or shape.code or shape.shape
            made[f"{words}, reference" if shape.reference else words, shape.at] = None
    rows = [(words, at) for words, at in made]
    if len(rows) <= MOST:
        return rows
    return [*rows[:MOST], (f"and {len(rows) - MOST} more", rows[MOST][1])]

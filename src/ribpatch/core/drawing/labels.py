"""Placing words so that they do not collide. Boxes are (x, y, width, height) in the painter's units."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

Box = tuple[float, float, float, float]


def overlaps(a: Box, b: Box) -> bool:
    """Whether two boxes share more than an edge."""
    return a[0] < b[0] + b[2] and b[0] < a[0] + a[2] and a[1] < b[1] + b[3] and b[1] < a[1] + a[3]


def free_box(x: float, y: float, width: float, height: float, taken: Iterable[Box], room: Box) -> Box | None:
    """The nearest free box for words at a point: right, left, above, below, then further off; None where none is
    free.
    """
    taken = tuple(taken)
    for gap in (6.0, 16.0, 30.0, 48.0):
        for box in (
            (x + gap, y - height / 2, width, height),
            (x - gap - width, y - height / 2, width, height),
            (x - width / 2, y - gap - height, width, height),
            (x - width / 2, y + gap, width, height),
            (x + gap, y - gap - height, width, height),
            (x + gap, y + gap, width, height),
            (x - gap - width, y - gap - height, width, height),
            (x - gap - width, y + gap, width, height),
        ):
            inside = (
                room[0] <= box[0]
                and box[0] + width <= room[0] + room[2]
                and room[1] <= box[1]
                and box[1] + height <= room[1] + room[3]
            )
            if inside and not any(overlaps(box, other) for other in taken):
                return box
    return None


def spread(wanted: Sequence[float], height: float, low: float, high: float) -> list[float]:
    """Middles for lines of text of one height, as near to ``wanted`` as they can be without touching."""
    order = sorted(range(len(wanted)), key=lambda i: wanted[i])
    placed: list[float] = []
    for i in order:
        least = placed[-1] + height if placed else low + height / 2
        placed.append(max(wanted[i], least))
    limit = high - height / 2
    for k in range(len(placed) - 1, -1, -1):
        placed[k] = min(placed[k], limit)
        limit = placed[k] - height
    result = [0.0] * len(wanted)
    for place, i in zip(placed, order, strict=True):
        result[i] = place
    return result

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
    around = (
        place
        for gap in (6.0, 16.0, 30.0, 48.0)
        for place in (
            (x + gap, y - height / 2),
            (x - gap - width, y - height / 2),
            (x - width / 2, y - gap - height),
            (x - width / 2, y + gap),
            (x + gap, y - gap - height),
            (x + gap, y + gap),
            (x - gap - width, y - gap - height),
            (x - gap - width, y + gap),
        )
    )
    return first_free(((left, top, width, height) for left, top in around), taken, room)


def first_free(boxes: Iterable[Box], taken: Iterable[Box], room: Box) -> Box | None:
    """The first box that lies inside the room and over nothing that is taken; None where there is none."""
    taken = tuple(taken)
    return next((b for b in boxes if _inside(b, room) and not any(overlaps(b, other) for other in taken)), None)


def _inside(box: Box, room: Box) -> bool:
    across = room[0] <= box[0] and box[0] + box[2] <= room[0] + room[2]
    return across and room[1] <= box[1] and box[1] + box[3] <= room[1] + room[3]


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

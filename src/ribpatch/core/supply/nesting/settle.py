"""A layout pushed together: every piece as it is turned, moved so that the length is least while each stays on its own
side of each neighbour.

Two convex parts that do not overlap have an edge of one of them that parts them. With the edge kept that parts them by
most, the least length is a linear programme in the places; then the edges are chosen anew. What lies over another by a
hair is moved off it, where there is room. Source: [32].
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.supply.nesting.convex import convex_parts
from ribpatch.core.supply.nesting.shape import Lying, Nested, extent, turned

if TYPE_CHECKING:
    from collections.abc import Sequence

    from ribpatch.core.geometry import Floats
    from ribpatch.core.supply.nesting.shape import Shape

ROUNDS = 12
GAIN = 1e-4  # of the length; a round that gains less is the last
REACH = 0.2  # of the width, that pieces may come nearer by in a round
OVER = 1e-7  # m, that pieces may lie over each other by rounding


class _Piece(Struct, frozen=True, eq=False):
    """A piece as it is turned: its convex parts with their outer normals and how far these lie out, and its box."""

    parts: tuple[tuple[Floats, Floats, Floats], ...]
    low: Floats
    high: Floats


def settled(shapes: Sequence[Shape], lying: Sequence[Lying], width: float, bound: float) -> Nested | None:
    """The layout pushed together, none of it over another or off the roll (m); None where it cannot be mended so."""
    pieces = [_piece(s, p.turn) for s, p in zip(shapes, lying, strict=True)]
    at = np.array([(p.x, p.y) for p in lying], float)
    length, over = np.inf, np.inf
    for n in range(ROUNDS):
        made = _pushed(pieces, at, width)
        if made is None:
            break
        moved, now, over = made
        gained = length - now
        at, length = moved, now
        if over <= OVER and n and gained <= GAIN * length:
            break
    if over > OVER:
        return None
    at = at - (min(float(at[k, 0] + p.low[0]) for k, p in enumerate(pieces)), 0.0)
    length = max(float(at[k, 0] + p.high[0]) for k, p in enumerate(pieces))
    return Nested(tuple(Lying(float(x), float(y), p.turn) for (x, y), p in zip(at, lying, strict=True)), length, bound)


def _piece(shape: Shape, turn: float) -> _Piece:
    parts = []
    for part in convex_parts(shape.ring):
        corners = turned(tuple(map(tuple, part)), turn)
        edges = np.roll(corners, -1, axis=0) - corners
        sizes = np.hypot(*edges.T)
        normals = np.stack([edges[:, 1], -edges[:, 0]], axis=1)[sizes > 0] / sizes[sizes > 0, None]
        parts.append((corners, normals, (normals @ corners.T).max(axis=1)))
    every = turned(shape.ring, turn)
    assert extent(every).min() > 0
    return _Piece(tuple(parts), every.min(axis=0), every.max(axis=0))


def _apart(a: _Piece, b: _Piece, between: Floats) -> list[tuple[Floats, float]]:
    """For each part of a and of b the direction that parts them by most and how far b must be moved along it at least;
    ``between`` is where b lies, seen from a.
    """
    made = []
    for corners, normals, out in a.parts:
        for others, other_normals, other_out in b.parts:
            # Along an edge's normal of a, then of b, which faces the other way.
            ours = (normals @ others.T).min(axis=1) - out
            theirs = (-other_normals @ corners.T).max(axis=1) + other_out
            gaps = np.concatenate([ours + normals @ between, -theirs - other_normals @ between])
            k = int(gaps.argmax())
            if k < len(normals):
                made.append((normals[k], -float(ours[k])))
            else:
                k -= len(normals)
                made.append((-other_normals[k], float(theirs[k])))
    return made


def _pushed(pieces: list[_Piece], at: Floats, width: float) -> tuple[Floats, float, float] | None:
    """One round: the places, the length, and how far any lie over each other still, m."""
    from scipy.optimize import linprog
    from scipy.sparse import csr_array

    count, reach = len(pieces), REACH * width
    lows, highs = np.array([p.low for p in pieces]) + at, np.array([p.high for p in pieces]) + at
    rows: list[tuple[int, int, float]] = []  # row, column, value
    limits: list[float] = []
    for i in range(count):
        near = (lows[i + 1 :] < highs[i] + 2 * reach).all(axis=1) & (highs[i + 1 :] > lows[i] - 2 * reach).all(axis=1)
        for j in (np.flatnonzero(near) + i + 1).tolist():
            for (nx, ny), least in _apart(pieces[i], pieces[j], at[j] - at[i]):
                r = len(limits)
                rows += [(r, 2 * i, nx), (r, 2 * i + 1, ny), (r, 2 * j, -nx), (r, 2 * j + 1, -ny)]
                rows.append((r, 2 * count + 1, -1.0))
                limits.append(-least)
    for i, p in enumerate(pieces):
        rows += [(len(limits), 2 * i, 1.0), (len(limits), 2 * count, -1.0)]
        limits.append(-float(p.high[0]))
    where, column, value = np.array(rows).T
    table = csr_array((value, (where.astype(int), column.astype(int))), shape=(len(limits), 2 * count + 2))
    spans = []
    for i, p in enumerate(pieces):
        for axis, (least, most) in enumerate(((0.0, np.inf), (0.0, width))):
            low, high = least - p.low[axis], max(most - p.high[axis], least - p.low[axis])
            spans.append((max(low, min(at[i, axis] - reach, high)), min(high, max(at[i, axis] + reach, low))))
    total = sum(float(extent(np.array([p.low, p.high]))[0]) for p in pieces)
    cost = np.zeros(2 * count + 2)
    cost[-2:] = 1.0, 1000.0  # the length, and what still lies over another
    made = linprog(cost, A_ub=table, b_ub=limits, bounds=[*spans, (0.0, 2 * total), (0.0, None)], method="highs")
    if made.status != 0:
        return None
    return made.x[: 2 * count].reshape(count, 2), float(made.x[-2]), float(made.x[-1])

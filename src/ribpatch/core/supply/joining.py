"""Rectangles that have a side in common joined to larger ones, again and again: what a sheet was sawn into goes
together again, and pieces of one length lie in one row. Metres.

A side that just two have is joined before one that more have. Each join keeps where its parts lie, so that a layout of
the joined ones is a layout of all. The same rectangles give the same.
"""

from __future__ import annotations

from itertools import combinations
from math import inf
from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.supply.packing import EXACT, Packed, Put, Rect

if TYPE_CHECKING:
    from collections.abc import Sequence

KEY = 1e-6  # m, to which sides are rounded to be found again
ALIKE = 1e-7  # m, by which two sides may differ and count as one
MOST = 300  # rectangles that are joined; more have too many pairs


class Block(Struct, frozen=True):
    """A rectangle made of others: along, across, if it may be turned, and its parts as they lie in it."""

    long: float
    wide: float
    turns: bool
    parts: tuple[Put, ...]


def blocks_of(rects: Sequence[Rect], width: float, length: float = inf) -> tuple[Block, ...]:
    """The rectangles as they are joined, none wider than ``width`` m or longer than ``length`` m however it lies."""
    blocks = [Block(r.long, r.wide, r.turns, (Put(n, 0.0, 0.0, r.long, r.wide, False),)) for n, r in enumerate(rects)]
    while len(rects) <= MOST:
        found = _pair(blocks, (length, width))
        if found is None:
            break
        i, j, made = found
        blocks = [*(b for n, b in enumerate(blocks) if n not in (i, j)), made]
    return tuple(blocks)


def _pair(blocks: list[Block], room: tuple[float, float]) -> tuple[int, int, Block] | None:
    """The two that are joined next: of a side that fewest have, the longest such side first."""
    having: dict[int, set[int]] = {}
    for n, block in enumerate(blocks):
        for side in (block.long, block.wide):
            having.setdefault(round(side / KEY), set()).add(n)
    best, rank = None, (0, 0)
    for key, here in having.items():
        found = sorted(here | having.get(key + 1, set()))  # two that are alike may be rounded to either side
        if len(found) < 2 or (best is not None and (len(found), -key) >= rank):
            continue
        for i, j in combinations(found, 2):
            made = _join(blocks[i], blocks[j], room)
            # A side as the room's is that of pieces of any sheet: only two that fill one are surely meant.
            if made is not None and (not any(abs(key * KEY - r) < 2 * KEY for r in room) or _fills(made, room)):
                best, rank = (i, j, made), (len(found), -key)
                break
    return best


def _fills(made: Block, room: tuple[float, float]) -> bool:
    """Whether a join is all of the room."""
    return abs(made.long * made.wide - room[0] * room[1]) < ALIKE if room[0] < inf else False


def _join(a: Block, b: Block, room: tuple[float, float]) -> Block | None:
    """Two with a side in common as one; None where they have none or are too large together."""
    for one in (a, _turned(a)) if a.turns else (a,):
        for other in (b, _turned(b)) if b.turns else (b,):
            turns = a.turns and b.turns
            if abs(one.long - other.long) < ALIKE and _fits(one.long, one.wide + other.wide, turns, room):
                parts = (*one.parts, *_moved(other.parts, 0.0, one.wide))
                return Block(max(one.long, other.long), one.wide + other.wide, turns, parts)
            if abs(one.wide - other.wide) < ALIKE and _fits(one.long + other.long, one.wide, turns, room):
                parts = (*one.parts, *_moved(other.parts, one.long, 0.0))
                return Block(one.long + other.long, max(one.wide, other.wide), turns, parts)
    return None


def _fits(long: float, wide: float, turns: bool, room: tuple[float, float]) -> bool:
    length, width = room[0] + EXACT, room[1] + EXACT
    return (long <= length and wide <= width) or (turns and wide <= length and long <= width)


def _turned(block: Block) -> Block:
    parts = tuple(Put(p.number, p.y, p.x, p.wide, p.long, not p.turned) for p in block.parts)
    return Block(block.wide, block.long, block.turns, parts)


def _moved(parts: tuple[Put, ...], x: float, y: float) -> tuple[Put, ...]:
    return tuple(Put(p.number, p.x + x, p.y + y, p.long, p.wide, p.turned) for p in parts)


def taken_apart(blocks: Sequence[Block], packed: Packed, bound: float) -> Packed:
    """A layout of blocks as one of the rectangles that they are made of."""
    puts: list[Put] = []
    for put in packed.puts:
        block = blocks[put.number]
        puts += _moved((_turned(block) if put.turned else block).parts, put.x, put.y)
    length = max((p.x + p.long for p in puts), default=0.0)
    return Packed(tuple(sorted(puts, key=lambda p: p.number)), length, bound)

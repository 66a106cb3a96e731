"""Schedules that match the old laminate: every stack of the chosen cloths within the stated limits, best first.

Exact: all counts of at most ``cloths`` different cloths and ``plies`` plies are formed at once. Thickness, weight, cost
and A do not depend on the order of the plies, so they rule out most; for the rest, in the order of rank, every order of
laying is evaluated for D and pull until enough have been found. A stack is offered only if it keeps every stated limit.
Work: at most C(8,3) C(15,3) counts and 12!/(4!)3 orders of one of them. SI. Source: [15] for A and D.
"""

from __future__ import annotations

from functools import lru_cache
from itertools import combinations
from typing import TYPE_CHECKING, Literal

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from ribpatch.core.laminate.layup import Layup, Sheet
from ribpatch.core.laminate.plate import plate, turned
from ribpatch.core.scheme import StackLine

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from ribpatch.core.geometry import Floats
    from ribpatch.core.materials.records import Fabric

Rank = Literal["weight", "plies", "price"]
Counts = NDArray[np.int8]
MOST_ORDERS = 40_000  # 12 plies of three cloths, four of each, have 34,650


class Cloth(Struct, frozen=True, eq=False):
    """A fabric at an angle as one choice: its cured layers, weight kg/m2, price a square metre with its resin."""

    fabric: Fabric
    angle: float
    sheets: tuple[Sheet, ...]
    weight: float
    price: float

    @property
    def thickness(self) -> float:
        """Cured thickness in m."""
        return sum(s.thickness for s in self.sheets)


class Limits(Struct, frozen=True):
    """What every offered stack keeps. Thickness in m; ratios are new over old, stretching and bending, both ways."""

    thin: float
    thick: float
    least: float
    most: float
    plies: int = 12
    cloths: int = 3
    pull: float = 1.0  # most B x 2 / (A t)
    symmetric: bool = False


class Found(Struct, frozen=True, eq=False):
    """One schedule: its lines deepest first, with what it comes to."""

    lines: tuple[StackLine, ...]
    plies: int
    thickness: float
    weight: float
    price: float
    stretch: tuple[float, float]
    bend: tuple[float, float]
    pull: float


class Stopped(Exception):
    """The search was stopped."""


def search(
    cloths: tuple[Cloth, ...],
    old: Layup,
    limits: Limits,
    wanted: int = 12,
    go_on: Callable[[float], bool] = lambda _share: True,
    first: Rank = "weight",
) -> tuple[Found, ...]:
    """The best ``wanted`` schedules, fewer where fewer keep the limits: by weight, then plies, then price, or with
    ``plies`` or ``price`` put first.

    ``go_on(share)`` is told how far the search is and stops it by answering False (raises Stopped). At most 8 cloths
    (16 cloth-angles) and 12 plies are foreseen. An empty result means that no stack keeps the limits.
    """
    if not cloths:
        return ()
    goal = old.plate
    aim = np.array([goal.A[0, 0], goal.A[1, 1]])
    aim_bend = goal.bending
    one = _properties(cloths)
    counts = _counts(len(cloths), min(limits.cloths, len(cloths)), limits.plies)
    counts = counts[_fits(counts, one, aim, limits)]
    counts = counts[_can_bend(counts, cloths, aim_bend, limits)]
    keys = {"price": counts @ one.price, "plies": counts.sum(axis=1), "weight": np.round(counts @ one.weight, 6)}
    rank = np.lexsort((*keys.values(), keys[first]))
    found: list[Found] = []
    for done, row in enumerate(counts[rank]):
        if done % 8 == 0 and not go_on(done / max(len(counts), 1)):
            raise Stopped
        best = _best_order(row, cloths, aim, aim_bend, limits)
        if best is not None:
            found.append(best)
        if len(found) >= wanted:
            break
    return tuple(found)


class _One(Struct, frozen=True, eq=False):
    """Properties of one ply of each cloth: thickness (n,), weight (n,), price (n,), A along and across (n, 2)."""

    thickness: Floats
    weight: Floats
    price: Floats
    stretch: Floats


@lru_cache(8)
def _counts(cloths: int, different: int, plies: int) -> Counts:
    """All counts of at most ``different`` cloths with 1 to ``plies`` plies in all, shape (k, cloths)."""
    rows = [np.zeros((0, cloths), dtype=np.int8)]
    for used in range(1, different + 1):
        shares = _shares(used, plies)
        for chosen in combinations(range(cloths), used):
            block = np.zeros((len(shares), cloths), dtype=np.int8)
            block[:, list(chosen)] = shares
            rows.append(block)
    return np.concatenate(rows)


def _shares(used: int, plies: int) -> Counts:
    """All ways to share up to ``plies`` plies among ``used`` cloths, each at least once."""
    grid = np.stack(np.meshgrid(*[np.arange(1, plies + 1)] * used, indexing="ij"), axis=-1).reshape(-1, used)
    kept: Counts = grid[grid.sum(axis=1) <= plies].astype(np.int8)
    return kept


def _stiff(cloth: Cloth) -> Floats:
    """Turned stiffness of a cloth's layers, Pa, shape (n, 3, 3)."""
    layup = Layup(cloth.sheets)
    return turned(layup.stiffness, layup.angles)


def _properties(cloths: tuple[Cloth, ...]) -> _One:
    stretch = [np.einsum("n,nij->ij", Layup(c.sheets).thicknesses, _stiff(c)) for c in cloths]
    return _One(
        np.array([c.thickness for c in cloths]),
        np.array([c.weight for c in cloths]),
        np.array([c.price for c in cloths]),
        np.array([(a[0, 0], a[1, 1]) for a in stretch]),
    )


def _fits(counts: Counts, one: _One, aim: Floats, limits: Limits) -> NDArray[np.bool_]:
    thick = counts @ one.thickness
    ratios = (counts @ one.stretch) / aim
    inside = (ratios >= limits.least) & (ratios <= limits.most)
    return np.asarray((thick >= limits.thin) & (thick <= limits.thick) & inside.all(axis=1))


def _can_bend(counts: Counts, cloths: tuple[Cloth, ...], aim: Floats, limits: Limits) -> NDArray[np.bool_]:
    """Whether any order can be stiff enough: with the stiffest layers outermost D is the most that it can be."""
    can = np.ones(len(counts), dtype=bool)
    for way in (0, 1):
        layers = [
            (i, q[way, way], s.thickness)
            for i, c in enumerate(cloths)
            for q, s in zip(_stiff(c), c.sheets, strict=True)
        ]
        layers.sort(key=lambda layer: layer[1])
        thick = counts[:, [i for i, *_ in layers]] * np.array([t for *_, t in layers])
        out = np.cumsum(thick, axis=1) / 2
        cubes = out**3 - (out - thick / 2) ** 3
        can &= 2 / 3 * cubes @ np.array([q for _, q, _ in layers]) >= limits.least * aim[way]
    return can


def _orders(counts: Counts, symmetric: bool) -> NDArray[np.int8]:
    """Every order of laying that gives these counts, shape (k, plies)."""
    kinds = [(i, int(n)) for i, n in enumerate(counts) if n]
    if not symmetric:
        return _arranged(tuple(kinds))
    odd = [i for i, n in kinds if n % 2]
    if len(odd) > 1:
        return np.zeros((0, int(counts.sum())), dtype=np.int8)
    half = _arranged(tuple((i, n // 2) for i, n in kinds if n > 1))
    middle = np.full((len(half), len(odd)), odd[0] if odd else 0, dtype=np.int8)
    return np.concatenate([half, middle, half[:, ::-1]], axis=1)


@lru_cache(32)  # the largest is 400 kB
def _arranged(kinds: tuple[tuple[int, int], ...]) -> NDArray[np.int8]:
    """All arrangements of so many of each kind: places of the last kind are chosen among the arrangements of the
    rest.
    """
    if not kinds:
        return np.zeros((1, 0), dtype=np.int8)
    kind, count = kinds[-1]
    rest = _arranged(kinds[:-1])
    total = rest.shape[1] + count
    blocks = []
    for places in combinations(range(total), count):
        block = np.empty((len(rest), total), dtype=np.int8)
        block[:, list(places)] = kind
        block[:, [p for p in range(total) if p not in places]] = rest
        blocks.append(block)
    return np.concatenate(blocks)


def _best_order(
    counts: Counts, cloths: tuple[Cloth, ...], aim: Floats, aim_bend: Floats, limits: Limits
) -> Found | None:
    """The order that pulls least among those that keep the limits of bending; None where none does."""
    orders = _orders(counts, limits.symmetric)[:MOST_ORDERS]
    if not len(orders):
        return None
    q, thick = _layers(orders, cloths)
    p = plate(q, thick)
    bend = p.bending / aim_bend
    largest = np.diagonal(p.A, axis1=-2, axis2=-1).max(axis=-1)
    pull = np.abs(p.B).max(axis=(-2, -1)) * 2 / (largest * p.thickness)
    keeps = ((bend >= limits.least) & (bend <= limits.most)).all(axis=1) & (pull <= limits.pull)
    if not keeps.any():
        return None
    at = int(np.where(keeps, np.round(pull, 9), np.inf).argmin())
    stretch = np.diagonal(p.A[at])[:2] / aim
    weight, price = (float(sum(getattr(cloths[i], name) for i in orders[at])) for name in ("weight", "price"))
    return Found(
        _lines(orders[at], cloths),
        int(counts.sum()),
        float(p.thickness[at]),
        weight,
        price,
        (float(stretch[0]), float(stretch[1])),
        (float(bend[at, 0]), float(bend[at, 1])),
        float(pull[at]),
    )


def _layers(orders: NDArray[np.int8], cloths: tuple[Cloth, ...]) -> tuple[Floats, Floats]:
    """Stiffness (k, layers, 3, 3) and thickness (k, layers) of the layers of each order; short cloths are padded with
    none.
    """
    most = max(len(c.sheets) for c in cloths)
    stiff = np.zeros((len(cloths), most, 3, 3))
    thick = np.zeros((len(cloths), most))
    for i, cloth in enumerate(cloths):
        stiff[i, : len(cloth.sheets)] = _stiff(cloth)
        thick[i, : len(cloth.sheets)] = [s.thickness for s in cloth.sheets]
    k, n = orders.shape
    return stiff[orders].reshape(k, n * most, 3, 3), thick[orders].reshape(k, n * most)


def _lines(order: NDArray[np.int8], cloths: tuple[Cloth, ...]) -> tuple[StackLine, ...]:
    return tuple(StackLine(fabric=cloths[i].fabric.id, count=count, angle=cloths[i].angle) for i, count in _runs(order))


def _runs(order: NDArray[np.int8]) -> Iterator[tuple[int, int]]:
    breaks = np.flatnonzero(np.diff(order)) + 1
    for run in np.split(order, breaks):
        yield int(run[0]), len(run)

"""What is cut off each roll and off-cut for the whole job, and how it lies there: every strip of every ply by itself,
by its own shape. Metres.

A piece is a part of a ply with its trim all round; what is wider than the roll, or larger than can be handled, is
strips that lap, their laps apart from ply to ply. A selvedge gets no trim. Off-cuts in stock are used up first: the
smallest first, each filled with the largest pieces that still go on it. The rest comes off the roll. A layout kept in
the job is used as long as it is of the same pieces. Source: [3].
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np
import shapely
from msgspec import Struct
from shapely import affinity

from ribpatch.core.geometry import clean
from ribpatch.core.memo import Known
from ribpatch.core.patch.strips import strips_in, strips_of_blanks
from ribpatch.core.supply.nesting.nest import area_used, by_boxes, nest
from ribpatch.core.supply.nesting.shape import (
    Lying,
    Nested,
    Shape,
    extent,
    is_box,
    least_length,
    placed,
    turned,
    turns_that_fit,
)
from ribpatch.core.supply.nesting.sound import is_sound

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable, Sequence

    from shapely.geometry import Polygon
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.geometry import Ring
    from ribpatch.core.job import Job, Zone
    from ribpatch.core.materials.records import Fabric
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.made_parts import PartMade
    from ribpatch.core.patch.plies import PlyOutline
    from ribpatch.core.patch.repair import Patch
    from ribpatch.core.stock import KeptLayout

    Told = Callable[[float], None] | None

PLAIN = 0.001  # m, by which an outline may be plainer than the ply with its trim
MOST_TRIED = 80  # pieces that are tried on an off-cut
USEFUL = 0.15  # m; what is shorter or narrower is no off-cut to keep

_KNOWN: Known[tuple[tuple[Shape, ...], float], Nested] = Known(64)


class Cut(Struct, frozen=True):
    """One piece to cut: whose, which ply, which of how many pieces of it, and its outline along and across the roll."""

    zone: str
    ply: str
    piece: int
    of: int
    shape: Shape

    @property
    def name(self) -> str:
        """What is written on it."""
        part = f" {self.piece}/{self.of}" if self.of > 1 else ""
        return f"{self.zone}, {self.ply}{part}"


FabricCuts = tuple["Fabric", tuple[Cut, ...]]


class Length(Struct, frozen=True):
    """A length of cloth to cut from: a roll, or an off-cut of a length and width, m, in stock."""

    name: str
    width: float
    long: float | None = None


class Roll(Struct, frozen=True, eq=False, dict=True):
    """All that is cut off one length of a fabric, and how it lies; ``kept`` where that is a layout of the job's own."""

    fabric: Fabric
    cloth: Length
    cuts: tuple[Cut, ...]
    made: Nested
    kept: bool = False

    @property
    def shapes(self) -> tuple[Shape, ...]:
        """The outlines of the pieces."""
        return tuple(c.shape for c in self.cuts)

    @property
    def mark(self) -> str:
        """By which the same pieces on the same width are known again."""
        return mark_of(self.shapes, self.cloth.width)

    @property
    def used(self) -> float:
        """Share of the length cut off that is pieces."""
        return area_used(self.shapes, self.made, self.cloth.width)

    @property
    def left(self) -> float | None:
        """What is left of its length, m; None where it is not stated how long it is."""
        return None if self.cloth.long is None else self.cloth.long - self.made.length

    @property
    def rings(self) -> tuple[Ring, ...]:
        """The outline of every piece where it lies, m."""
        return tuple(
            tuple((float(x), float(y)) for x, y in placed(c.shape, p))
            for c, p in zip(self.cuts, self.made.lying, strict=True)
        )


def cuts_of(zone: Zone, patch: Patch, parts: tuple[PartMade, ...], shelf: Shelf) -> tuple[FabricCuts, ...]:
    """The pieces of a zone's repair, by fabric in the order first used."""
    trim = shelf.rule("cloth.trim")
    second = patch.second.outlines if patch.second else ()
    rows = [
        ("backing, ", patch.backing.outlines if patch.backing else (), trim),
        ("", patch.outlines, trim),
        ("other face, ", second, trim),
        *((f"{p.pad.name}, ", p.outlines, trim) for p in patch.pads),
        *((f"{p.part.name}, ", p.outlines, 0.0) for p in parts),  # blanks have their trim in their shape
    ]
    made: dict[str, tuple[Fabric, list[Cut]]] = {}
    for name, outlines, around in rows:
        strips = strips_in(zone, outlines, shelf) if around else strips_of_blanks(outlines, shelf)
        for outline, strip in zip(outlines, strips, strict=True):
            fabric = outline.laid.ply.fabric
            shapes = [s for p in strip.pieces for s in _shapes(p, outline, around)]
            found = made.setdefault(fabric.id, (fabric, []))[1]
            label = f"{name}ply {outline.laid.number}"
            found += [Cut(zone.name, label, n, len(shapes), s) for n, s in enumerate(shapes, 1)]
    return tuple((fabric, tuple(cuts)) for fabric, cuts in made.values())


def _shapes(part: Polygon, outline: PlyOutline, trim: float) -> list[Shape]:
    """A strip in the roll's own axes with its trim; none over a selvedge."""
    fabric = outline.laid.ply.fabric
    flat: BaseGeometry = affinity.rotate(part, -outline.laid.angle, origin=(0, 0))
    if trim:
        flat = shapely.buffer(flat, trim, join_style="mitre", mitre_limit=2.0)
    x0, y0, x1, y1 = flat.bounds
    if y1 - y0 > fabric.roll_width and (fabric.turn != 90 or x1 - x0 > fabric.roll_width):
        middle = (y0 + y1) / 2
        flat = flat.intersection(shapely.box(x0, middle - fabric.roll_width / 2, x1, middle + fabric.roll_width / 2))
    made = []
    for piece in clean(flat).geoms:
        plain = shapely.Polygon(piece.exterior).simplify(min(PLAIN, trim))
        corners = shapely.get_coordinates(shapely.orient_polygons(plain))[:-1]
        ring = tuple((float(x), float(y)) for x, y in (corners - corners.min(axis=0)).round(6))
        made.append(Shape(ring, turns_of(fabric, ring)))
    return made


def turns_of(fabric: Fabric, ring: Ring) -> tuple[float, ...] | None:
    """How a piece may be turned on a roll of a fabric: a mat any way, other cloth as it says. None is turned over."""
    if fabric.turn == 180:
        return (0.0, 180.0)
    if fabric.turn == 0:
        return (0.0,)
    mat = all(layer.kind == "mat" for layer in fabric.layers)
    return None if mat and not is_box(ring) else (0.0, 90.0, 180.0, 270.0)


def rolls_of(
    cuts: Iterable[FabricCuts],
    stock: dict[str, tuple[Length, ...]],
    kept: Sequence[KeptLayout] = (),
    quick: bool = False,
    told: Told = None,
) -> tuple[Roll, ...]:
    """Every fabric of a job with its pieces laid out, in the order first used: on its off-cuts, then on its roll.
    ``quick`` is the first layout that comes. ``told(share)`` is called now and then with how far one search is; what it
    raises gives all up.
    """
    grouped: dict[str, tuple[Fabric, list[Cut]]] = {}
    for fabric, pieces in cuts:
        grouped.setdefault(fabric.id, (fabric, []))[1].extend(pieces)
    return tuple(
        roll
        for fabric, pieces in grouped.values()
        if pieces
        for roll in _of_fabric(fabric, tuple(pieces), stock.get(fabric.id, ()), kept, quick, told)
    )


def _of_fabric(
    fabric: Fabric,
    cuts: tuple[Cut, ...],
    stock: tuple[Length, ...],
    kept: Sequence[KeptLayout],
    quick: bool,
    told: Told,
) -> list[Roll]:
    made, left = [], list(cuts)
    off_cuts = [p for p in stock if p.long is not None and p.name]
    for piece in sorted(off_cuts, key=lambda p: (p.width * (p.long or 0.0), p.name)):
        chosen = _fitting(left, piece)
        if chosen:
            made.append(_roll(fabric, piece, tuple(chosen), (), quick, told))
            left = [c for c in left if c not in chosen]
    if left:
        whole = next((p for p in stock if not p.name), Length("", fabric.roll_width))
        made.append(_roll(fabric, whole, tuple(left), kept, quick, told))
    return made


def _fitting(cuts: list[Cut], piece: Length) -> list[Cut]:
    """The pieces that go on an off-cut: the largest first, each that still goes on it."""
    chosen: list[Cut] = []
    assert piece.long is not None
    by_size = sorted(cuts, key=lambda c: -float(np.prod(extent(turned(c.shape.ring, 0.0)))))
    for cut in by_size[:MOST_TRIED]:
        shapes = [c.shape for c in (*chosen, cut)]
        if not turns_that_fit(cut.shape, piece.width) or least_length(shapes, piece.width) > piece.long:
            continue
        if by_boxes(shapes, piece.width, 0).length <= piece.long + 1e-9:
            chosen.append(cut)
    return chosen


def _roll(
    fabric: Fabric, cloth: Length, cuts: tuple[Cut, ...], kept: Sequence[KeptLayout], quick: bool, told: Told
) -> Roll:
    shapes, width = tuple(c.shape for c in cuts), cloth.width
    own = next((k for k in kept if k.fabric == fabric.id and k.pieces == mark_of(shapes, width)), None)
    if own is not None:
        lying = tuple(Lying(*row) for row in own.lying)
        bound = least_length(shapes, width)
        if is_sound(shapes, lying, width):
            length = max(float(placed(s, p)[:, 0].max()) for s, p in zip(shapes, lying, strict=True))
            return Roll(fabric, cloth, cuts, Nested(lying, length, bound), True)
    if quick:
        return Roll(fabric, cloth, cuts, by_boxes(shapes, width, 0))

    def go_on(share: float) -> bool:
        if told is not None:
            told(share)
        return True

    go_on(0.0)
    return Roll(fabric, cloth, cuts, _KNOWN.of((shapes, width), lambda: nest(shapes, width, go_on=go_on)))


def mark_of(shapes: Sequence[Shape], width: float) -> str:
    """A short mark by which the same pieces on the same width are known again."""
    from hashlib import sha256

    text = repr((round(width, 4), [([(round(x, 4), round(y, 4)) for x, y in s.ring], s.turns) for s in shapes]))
    return sha256(text.encode()).hexdigest()[:16]


def cloth_in_stock(job: Job, shelf: Shelf) -> dict[str, tuple[Length, ...]]:
    """Rolls and off-cuts of each fabric in stock; an off-cut is told by its name."""
    made: dict[str, tuple[Length, ...]] = {}
    fabrics: dict[str, Any] = {f.id: f for f in shelf.fabrics}
    for item in job.stock:
        fabric = fabrics.get(item.material)
        if fabric is None or item.amount.si <= 0:
            continue
        known = made.get(fabric.id, ())
        if item.width is not None:
            made[fabric.id] = (*known, Length(f"off-cut {item.id}", item.width.si, item.amount.si))
        else:
            whole = next((p for p in known if not p.name), None)
            rest = tuple(p for p in known if p.name)
            long = item.amount.si + (whole.long or 0.0 if whole else 0.0)
            made[fabric.id] = (*rest, Length("", fabric.roll_width, long))
    return made

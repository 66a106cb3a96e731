"""Parts laminated on a plug or a flat bench and bonded in: developed size, weight, bond, steps. Metres, kg.

An angle: two legs round a radius. A knee: a right triangle with two flanges of ``depth``, laid flat and folded wet on a
plug, or a flat plate on a bench. A backing plate: flat. An end cap: a box lid, its corners cut out.
"""

from __future__ import annotations

from math import pi
from typing import TYPE_CHECKING

import shapely
from msgspec import Struct
from shapely.geometry import MultiPolygon, Polygon

from ribpatch.core.geometry import polygons
from ribpatch.core.laminate.stack import StackUp, stack_up
from ribpatch.core.memo import remembered
from ribpatch.core.patch.plies import PlyOutline

if TYPE_CHECKING:
    from ribpatch.core.materials.records import Process
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.scheme import MadePart


class PartMade(Struct, frozen=True, eq=False):
    """One made part (of ``part.count`` like ones): flat shape with trim, finished area, bond area m2, putty m3, weight
    kg, steps.
    """

    part: MadePart
    stack: StackUp
    blank: Polygon
    area: float
    bond: float
    bed: float
    weight: float
    steps: tuple[str, ...]

    @property
    def size(self) -> tuple[float, float]:
        """Length and width of the flat cloth, m."""
        x0, y0, x1, y1 = self.blank.bounds
        return x1 - x0, y1 - y0

    @property
    def outlines(self) -> tuple[PlyOutline, ...]:
        """Every ply of every like part, for cloth and resin."""
        region = MultiPolygon([self.blank])
        return tuple(PlyOutline(laid, 0.0, 0.0, region) for _ in range(self.part.count) for laid in self.stack.plies)


def developed(part: MadePart, thickness: float) -> Polygon:
    """The part laid flat along its middle surface, without trim; legs and depths are outside measures."""
    length, width, depth = part.length.si, part.width.si, part.depth.si
    if part.kind == "angle":
        return shapely.box(0, 0, length, unfolded(width, depth, part.radius.si, thickness))
    if part.kind == "backing plate":
        return shapely.box(0, 0, length, width)
    if part.kind == "knee":
        triangle = Polygon([(0, 0), (length, 0), (0, width)])
        if part.former == "flat bench":
            return triangle
        return Polygon([(-depth, -depth), (length, -depth), (length, 0), (0, width), (-depth, width)])
    lid = shapely.box(-depth, -depth, length + depth, width + depth)
    corners = [shapely.box(x, y, x + depth, y + depth) for x in (-depth, length) for y in (-depth, width)]
    return polygons(lid.difference(shapely.union_all(corners)))[0]


def unfolded(a: float, b: float, radius: float, thickness: float) -> float:
    """Flat width of a right-angled section with legs ``a`` and ``b`` over an inner radius, m, along its middle
    surface.
    """
    middle = radius + thickness / 2
    outer = radius + thickness
    return max(a - outer, 0.0) + max(b - outer, 0.0) + pi / 2 * middle


def bond_area(part: MadePart) -> float:
    """Area that is bonded in, m2: both legs of an angle, the flanges of a knee, one face of a plate, the rim of a
    cap.
    """
    length, width, depth = part.length.si, part.width.si, part.depth.si
    if part.kind == "angle":
        return length * (width + depth)
    if part.kind == "knee":
        return depth * (length + width) if part.former == "plug" else 0.02 * (length + width)
    if part.kind == "backing plate":
        return length * width
    return 2 * depth * (length + width)


@remembered(256)
def part_made(part: MadePart, resin: str, process: Process, shelf: Shelf) -> PartMade:
    """Everything about one made part."""
    stack = stack_up(part.plies, resin, process, shelf)
    flat = developed(part, stack.thickness)
    bond = bond_area(part)
    bed = bond * shelf.rule("part.bed")
    blank = Polygon(flat.buffer(shelf.rule("part.trim"), join_style="mitre").exterior)
    return PartMade(part, stack, blank, flat.area, bond, bed, flat.area * stack.weight, _steps(part))


_FIXING = {
    "putty": (
        "Bond in with structural putty: stiff, carries load as soon as it is hard, but peels where the hull bends "
        "away from it; fillet its edge."
    ),
    "adhesive": (
        "Bond in with elastic adhesive sealant: takes movement and peel, carries little load and gives under "
        "it; keep its full thickness with spacers."
    ),
}


def _steps(part: MadePart) -> tuple[str, ...]:
    if part.kind == "backing plate" or part.former == "flat bench":
        release = (
            f"Cover {'the bench' if part.former == 'flat bench' else 'the plug'} with release film or waxed glass."
        )
    else:
        release = (
            "Wax the plug in three coats and put on a release film; round every corner to the inner radius stated."
        )
    return (
        release,
        "Lay the plies past the line by the trim allowance, peel ply on the face to be bonded.",
        "Let it cure until it is stiff; warm it where the shed is cold.",
        "Release, trim to the line, round the edges. Caution: glass dust; mask, extraction, gloves.",
        "Dry fit. Degrease first, then grind both bond faces, then dust off.",
        _FIXING[part.fixing],
    )

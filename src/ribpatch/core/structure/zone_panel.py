"""A zone as a rectangular panel: between which lines, how held, where it is bad and where it is rebuilt. SI.

An outline that is no rectangle is enclosed in one (which is longer, so softer and more strained) or holds one. Bad and
rebuilt areas are rectangles of the same area, middle and proportions as the box round each.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, get_args

from msgspec import Struct

from ribpatch.core.geometry import polygon_of, polygons
from ribpatch.core.memo import remembered
from ribpatch.core.structure.laminates import Bad, PanelLaminate, bad_laminate
from ribpatch.core.structure.members import plate_stiffeners
from ribpatch.core.structure.panel_records import Box, Edges, Held, Panel, SoftZone, Stiffness
from ribpatch.core.structure.transom import well_lines

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.job import Zone
    from ribpatch.core.laminate.layup import Layup
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.repair import Patch
    from ribpatch.core.proof import EdgeHold, Well
    from ribpatch.core.scheme import Member
    from ribpatch.core.structure.panel_records import PlateSpring

State = Literal["before", "damaged", "repaired"]
STATES: tuple[State, ...] = get_args(State)
STATE_NAMES: dict[State, str] = {
    "before": "before the damage",
    "damaged": "damaged as surveyed",
    "repaired": "repaired as planned",
}
MOST_AREAS = 4  # bad or rebuilt rectangles, the largest
_RECTANGULAR = 0.985  # share of its box that an outline fills to count as a rectangle
_HOLE = 2e-3  # share of stiffness of a hole in the panel
_LEAST_BOX = 0.01  # m
_SLIVER = 0.03  # of a side: a strip of sound panel at its edge narrower than this is counted as bad, or as rebuilt
_HELD: dict[EdgeHold, Held] = {"free": "F", "supported": "S", "clamped": "C"}
# How sides are held where nobody says: left, right, bottom, top.
USUAL: dict[str, tuple[EdgeHold, EdgeHold, EdgeHold, EdgeHold]] = {
    "transom": ("supported", "supported", "supported", "free"),
    "hull panel": ("clamped", "clamped", "clamped", "clamped"),
    "keel": ("clamped", "clamped", "clamped", "clamped"),
}
_SUPPORTED: tuple[EdgeHold, EdgeHold, EdgeHold, EdgeHold] = ("supported",) * 4
SIDES: tuple[Literal["left", "right", "bottom", "top"], ...] = ("left", "right", "bottom", "top")


class ZonePanel(Struct, frozen=True, eq=False, dict=True):
    """The panel of a zone; boxes are in the panel's own axes, whose origin lies at ``x0``, ``y0`` of the zone's."""

    x0: float
    y0: float
    a: float
    b: float
    edges: Edges
    assumed: tuple[str, ...]  # sides whose hold nobody stated
    outline: str  # how the rectangle follows from the outline, in words
    laminate: PanelLaminate
    rebuilt: PanelLaminate | None
    bad: Bad
    bad_areas: tuple[Box, ...]
    left_areas: tuple[Box, ...]  # bad, and not cut out
    new_areas: tuple[Box, ...]
    openings: tuple[Box, ...]
    old_members: tuple[Member, ...]
    new_members: tuple[Member, ...]
    wall: Layup
    left: float | None
    well: Well | None = None

    @property
    def span(self) -> float:
        """The span that a deflection is held against, m: the shorter between held sides, else twice the reach."""
        e = self.edges
        spans = []
        for first, second, side in ((e.left, e.right, self.a), (e.bottom, e.top, self.b)):
            if first != "F" and second != "F":
                spans.append(side)
            elif first != "F" or second != "F":
                spans.append(2 * side)
        return min(spans) if spans else max(self.a, self.b)

    def inside(self, x: float, y: float) -> tuple[float, float]:
        """A place of the zone in the panel's own axes, drawn onto the panel, m."""
        return min(max(x - self.x0, 0.0), self.a), min(max(y - self.y0, 0.0), self.b)

    def box_round(self, at: tuple[float, float], size: tuple[float, float]) -> Box:
        """A box of a size round a place, moved onto the panel and no larger than it; panel axes, m."""
        w, h = min(size[0], self.a), min(size[1], self.b)
        x, y = min(max(at[0], w / 2), self.a - w / 2), min(max(at[1], h / 2), self.b - h / 2)
        return Box(x - w / 2, y - h / 2, x + w / 2, y + h / 2)

    def panel(self, state: State, shelf: Shelf, end: int = 1) -> Panel:
        """The panel in a state; ``end`` says which end of the range of what is left of bad material counts."""
        zones: list[SoftZone] = []
        bad = bad_laminate(self.laminate, self.bad, self.left, end, shelf).stiffness
        if state == "damaged":
            zones = [SoftZone(box, bad) for box in self.bad_areas]
        elif state == "repaired" and self.rebuilt is not None:
            zones = [SoftZone(box, bad) for box in self.left_areas]
            zones += [SoftZone(box, self.rebuilt.stiffness) for box in self.new_areas]
        hole = Stiffness(self.laminate.stiffness.D * _HOLE, self.laminate.stiffness.S * _HOLE)
        zones += [SoftZone(box, hole) for box in self.openings]
        members = (*self.old_members, *(self.new_members if state == "repaired" else ()))
        box = (self.x0, self.y0, self.x0 + self.a, self.y0 + self.b)
        stiffeners = tuple(s for m in members for s in plate_stiffeners(m, self.laminate, self.wall, box, shelf))
        return Panel(
            self.a, self.b, self.edges, self.laminate.stiffness, tuple(zones), stiffeners, self.held_by_well(shelf)
        )

    def held_by_well(self, shelf: Shelf) -> tuple[PlateSpring, ...]:
        """The lines along which a well holds the panel. Raises BadStructure where it does not stand on it."""
        return well_lines(self.well, self, shelf) if self.well is not None else ()

    def laminate_at(self, state: State, x: float, y: float, shelf: Shelf, end: int = 1) -> PanelLaminate:
        """What lies at a place of the panel in a state."""
        if state == "repaired" and self.rebuilt is not None:
            if any(_holds(box, x, y) for box in self.new_areas):
                return self.rebuilt
            if any(_holds(box, x, y) for box in self.left_areas):
                return bad_laminate(self.laminate, self.bad, self.left, end, shelf)
        elif state == "damaged" and any(_holds(box, x, y) for box in self.bad_areas):
            return bad_laminate(self.laminate, self.bad, self.left, end, shelf)
        return self.laminate


def _holds(box: Box, x: float, y: float) -> bool:
    return box.x0 <= x <= box.x1 and box.y0 <= y <= box.y1


@remembered(64, zone=("outline", "proof", "kind", "fittings"))
def panel_box(zone: Zone) -> tuple[float, float, float, float, str]:
    """Lower corner, length and width of the panel, m, and how they follow, in words."""
    shape = polygon_of(zone.outline)
    x0, y0, x1, y1 = shape.bounds
    a, b, span = x1 - x0, y1 - y0, zone.proof.span
    words = "the outline is a rectangle"
    if shape.area < _RECTANGULAR * a * b:
        words = "the outline is no rectangle: enclosed in one, which is softer and more strained than it is"
        if span.outline == "inscribed":
            x0, y0, a, b = _inscribed(shape)
            words = "the outline is no rectangle: the largest of its box's proportions within it, stiffer than it is"
    if span.length is not None or span.width is not None:
        length = span.length.si if span.length is not None else a
        width = span.width.si if span.width is not None else b
        x0, y0, a, b = x0 + (a - length) / 2, y0 + (b - width) / 2, length, width
        words = "spans as stated"
    return x0, y0, a, b, words


def _inscribed(shape: BaseGeometry) -> tuple[float, float, float, float]:
    """The largest rectangle of the box's proportions round a place well inside, that the shape holds."""
    from shapely.geometry import box

    x0, y0, x1, y1 = shape.bounds
    middle = shape.centroid if shape.contains(shape.centroid) else shape.representative_point()
    low, high = 0.0, 1.0
    for _ in range(30):
        share = (low + high) / 2
        w, h = (x1 - x0) * share / 2, (y1 - y0) * share / 2
        fits = shape.buffer(1e-9).contains(box(middle.x - w, middle.y - h, middle.x + w, middle.y + h))
        low, high = (share, high) if fits else (low, share)
    w, h = (x1 - x0) * low / 2, (y1 - y0) * low / 2
    return middle.x - w, middle.y - h, 2 * w, 2 * h


def usual_hold(zone: Zone, side: str) -> EdgeHold:
    """How a side of a zone of its kind is held where nobody says."""
    return USUAL.get(zone.kind, _SUPPORTED)[SIDES.index(side)]


def edges_of(zone: Zone) -> tuple[Edges, tuple[str, ...]]:
    """How the sides are held, and which of them nobody stated."""
    usual = USUAL.get(zone.kind, _SUPPORTED)
    stated = [getattr(zone.proof.span, side) for side in SIDES]
    held = [_HELD[s or u] for s, u in zip(stated, usual, strict=True)]
    return Edges(*held), tuple(side for side, s in zip(SIDES, stated, strict=True) if s is None)


def boxes_of(region: BaseGeometry, corner: tuple[float, float], size: tuple[float, float]) -> tuple[Box, ...]:
    """A region's largest parts as rectangles on a panel, m: each of the part's area, middle and proportions."""
    (x0, y0), (a, b) = corner, size
    made = []
    for part in sorted(polygons(region), key=lambda p: -p.area)[:MOST_AREAS]:
        left, low, right, high = part.bounds
        w, h = right - left, high - low
        share = (part.area / (w * h)) ** 0.5 if w * h > 0 else 0.0
        cx, cy = part.centroid.x - x0, part.centroid.y - y0
        x_from, x_to = _caught(cx - w * share / 2, cx + w * share / 2, a)
        y_from, y_to = _caught(cy - h * share / 2, cy + h * share / 2, b)
        box = Box(x_from, y_from, x_to, y_to)
        if min(box.size) >= _LEAST_BOX:
            made.append(box)
    return tuple(made)


def _caught(low: float, high: float, side: float) -> tuple[float, float]:
    """Both ends within the panel; a strip beside its edge too narrow to matter is taken in."""
    near = _SLIVER * side
    return (0.0 if low < near else low), (side if high > side - near else high)


def zone_panel(
    zone: Zone, patch: Patch, laminate: PanelLaminate, rebuilt: PanelLaminate | None, wall: Layup, bad: Bad
) -> ZonePanel:
    """The panel of a zone with its repair."""
    x0, y0, a, b, words = panel_box(zone)
    edges, assumed = edges_of(zone)
    corner, size = (x0, y0), (a, b)
    holes = tuple(
        box for f in zone.fittings if f.opening for box in boxes_of(f.shape.envelope, corner, size) if _fits(box, size)
    )
    extent, cut = patch.extent.likely, patch.cut.region
    return ZonePanel(
        x0,
        y0,
        a,
        b,
        edges,
        assumed,
        words,
        laminate,
        rebuilt,
        bad,
        boxes_of(extent, corner, size),
        boxes_of(extent.difference(cut), corner, size) if rebuilt is not None else (),
        boxes_of(cut, corner, size) if rebuilt is not None else (),
        holes,
        zone.proof.members,
        zone.scheme.members,
        wall,
        zone.proof.left.si if zone.proof.left is not None else None,
        zone.proof.well if zone.kind == "transom" else None,
    )


def _fits(box: Box, size: tuple[float, float]) -> bool:
    """Whether a hole leaves anything of the panel."""
    return box.size[0] < 0.95 * size[0] or box.size[1] < 0.95 * size[1]

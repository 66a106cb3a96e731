"""The plan of a zone: outline, field, extent, readings, fittings, cut line, plies, and where the taper is tight."""

from __future__ import annotations

from itertools import pairwise
from typing import TYPE_CHECKING, Literal

from msgspec import Struct

from ribpatch.core.drawing.shapes import Area, Badge, Callout, Dimension, Drawing, Line, Raster, Shape, Spot
from ribpatch.core.drawing.unsurveyed import unsurveyed_lines
from ribpatch.core.geometry import Point, polygon_of, rings_of
from ribpatch.core.memo import Rows, remembered
from ribpatch.core.patch.access.proving_cut import proving_cut
from ribpatch.core.patch.strips import strips_in
from ribpatch.core.patch.taper import NO_TAPER
from ribpatch.core.readings import Moisture, Reading, Sketch, Tap, TestCut
from ribpatch.core.survey.score import levels_of, standards_of
from ribpatch.core.text import counted
from ribpatch.core.units import Kind, System, number_text, shown
from ribpatch.core.zone_axes import AXES, facing_words

if TYPE_CHECKING:
    from collections.abc import Callable

    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.drawing.survey_picture import Picture
    from ribpatch.core.job import Survey, Zone
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.repair import Patch

Depth = Literal["boat", "find", "open", "rebuild"]
OPENED: tuple[Depth, ...] = ("open", "rebuild")  # where cut, taper and plies are shown


@remembered(24)
def plan_view(
    zone: Zone,
    patch: Patch,
    picture: Picture | None,
    shelf: Shelf,
    depth: Depth,
    system: System,
    marks: tuple[Shape, ...] = (),
) -> Drawing:
    """The plan at one stage: each stage adds to the one before. ``picture`` lies behind the readings."""
    shapes: list[Shape] = [Area((zone.outline,), "zone")]
    if depth != "boat":
        shapes += _survey(zone, patch, picture, shelf, depth)
    shapes += _edges(zone)
    shapes += _seams(zone)
    shapes += _fittings(zone)
    if depth in OPENED:
        shapes += _opening(zone, patch, depth, shelf, system)
        shapes += _depths(zone, patch, depth, system)
        shapes += _spots(zone, depth, system)
        if depth == "open":
            shapes += _proving(zone, patch, shelf)
    shapes += _dimensions(zone, system)
    shapes += marks
    x0, y0, x1, y1 = polygon_of(zone.outline).bounds
    along, up = AXES[zone.kind]
    return Drawing(zone.name, f"x {along}, y {up}", (x0, y0, x1, y1), tuple(shapes), 0.055)


def _lines(region: BaseGeometry, role: str, key: str = "") -> list[Shape]:
    return [Line(ring, role, True, key) for rings in rings_of(region) for ring in rings]


def _survey(zone: Zone, patch: Patch, picture: Picture | None, shelf: Shelf, depth: Depth) -> list[Shape]:
    shapes: list[Shape] = []
    if picture is not None:
        shapes.append(Raster(picture.low, picture.high, picture.values, (zone.outline,), picture.ramp, picture.words))
        if depth == "find":
            shapes += unsurveyed_lines(patch.extent, zone.outline)
    shapes += _lines(patch.extent.likely, "extent", "extent")
    if depth == "find":
        shapes += _lines(patch.extent.surely, "surely") if patch.extent.from_readings else []
        shapes += marks_of(zone.survey, shelf, as_it_lies)
    return shapes


class Codes(Struct, frozen=True, eq=False):
    """What the marks of a survey's readings need: their damage scores, letter codes and which are references."""

    levels: dict[str, float]
    codes: dict[str, str]
    references: frozenset[str]


def codes_of(survey: Survey, shelf: Shelf) -> Codes:
    """Codes for a survey."""
    codes = {card.id: card.code for card in shelf.instruments}
    return Codes(levels_of(survey, shelf), codes, frozenset(survey.references))


MARKS: dict[type, Literal["circle", "square"]] = {Tap: "circle", Moisture: "square"}  # the rest are tags with letters


def spot_of(r: Reading, at: Point, codes: Codes) -> Spot:
    """The mark of a reading at a place of the drawing. Without a reference a meter's scale stands for its score."""
    level = codes.levels.get(r.id)
    if level is None:
        level = r.value / 100 if isinstance(r, Moisture) else 0.0
    return Spot(at, MARKS.get(type(r), "tag"), level, r.id in codes.references, r.id, codes.codes[r.kind])


def marks_of(
    survey: Survey, shelf: Shelf, place: Callable[[Reading, Point], Point], where: object = None
) -> list[Shape]:
    """The marks of all readings, each point (m) put where ``place`` says: spots, test cuts by what was seen, cracks as
    lines.
    """
    codes = codes_of(survey, shelf)

    def mark(r: Reading) -> tuple[Shape, ...]:
        if isinstance(r, TestCut):
            line = pairwise(place(r, p) for p in r.points)
            roles = ("cut-sound" if state == "sound" else "cut-bad" for state in r.states)
            return tuple(Line(pair, role, key=r.id) for pair, role in zip(line, roles, strict=True))
        if isinstance(r, Sketch) and len(r.points) > 1:
            return (Line(tuple(place(r, p) for p in r.points), "crack", key=r.id),)
        return (spot_of(r, place(r, (r.x, r.y)), codes),)

    # How a mark looks follows from its reading and from what it is judged by; ``where`` tells one way of placing from
    # another.
    facts = (shelf, standards_of(survey), codes.references, where)
    found = _MARKS.of(survey.readings, facts, lambda readings: [mark(r) for r in readings])
    return [shape for shapes in found for shape in shapes]


_MARKS: Rows[Reading, tuple[Shape, ...]] = Rows()


def as_it_lies(_reading: Reading, at: Point) -> Point:
    """A mark stands where its reading was taken, m."""
    return at


def _edges(zone: Zone) -> list[Shape]:
    shapes: list[Shape] = []
    count = len(zone.outline)
    for edge in zone.edges:
        if edge.side >= count:
            continue
        a, b = zone.outline[edge.side], zone.outline[(edge.side + 1) % count]
        shapes.append(Line((a, b), "edge-name"))
        unsealed = ", unsealed" if edge.sealed is False else ""
        shapes.append(Callout(((a[0] + b[0]) / 2, (a[1] + b[1]) / 2), edge.name + unsealed, "right"))
    return shapes


def _seams(zone: Zone) -> list[Shape]:
    shapes: list[Shape] = []
    for seam in zone.seams:
        a, b = seam.ends
        shapes.append(Line((a, b), "seam"))
        shapes.append(Callout(((a[0] + b[0]) / 2, (a[1] + b[1]) / 2), seam.name, "right"))
    return shapes


def _fittings(zone: Zone) -> list[Shape]:
    shapes: list[Shape] = []
    for fitting in zone.fittings:
        rings = rings_of(fitting.shape)
        if rings:
            shapes.append(Area(rings[0], "fitting", "fitting", fitting.id))
        unsealed = ", unsealed" if fitting.sealed is False else ""
        shapes.append(Callout((fitting.x, fitting.y), fitting.name + unsealed, "right"))
    return shapes


def _opening(zone: Zone, patch: Patch, depth: Depth, shelf: Shelf, system: System) -> list[Shape]:
    shapes: list[Shape] = []
    if depth == "rebuild":
        for outline in patch.outlines:
            shapes += _lines(outline.region, "ply-line")
        shapes += _joints(zone, patch, shelf)
    shapes += _lines(patch.band.outer, "band")
    if patch.second is not None:
        shapes += _lines(patch.second.band.outer, "band-second")
    if patch.backing is not None:
        shapes += _lines(patch.backing.region, "backing")
    shapes += _lines(patch.cut.region, "cut", "cut")
    for piece in patch.saved.pieces if patch.saved else ():
        shapes += _lines(piece.region, "piece")
        at = piece.region.representative_point()
        shapes.append(Badge((at.x, at.y), str(piece.number), "piece"))
    for pad in patch.pads if depth == "rebuild" else ():
        for outline in pad.outlines:
            shapes += _lines(outline.region, "backing")
        shapes.append(
            Callout((pad.pad.x, pad.pad.y), f"{pad.pad.name}, {counted(len(pad.outlines), 'ply', 'plies')}", "right")
        )
    for tight in patch.band.tight[:4]:
        none = tight.ratio < NO_TAPER
        words = "no taper fits here" if none else f"only {shown(tight.ratio, Kind.RATIO, system)} fits"
        shapes.append(Line(tight.path if len(tight.path) > 1 else (tight.at, tight.at), "tight"))
        shapes.append(Callout(tight.at, words, "right", "tight"))
    return shapes


def _joints(zone: Zone, patch: Patch, shelf: Shelf) -> list[Shape]:
    """Where the strips of plies wider than their roll lap, with the ply's number: no two together."""
    shapes: list[Shape] = []
    for strips in strips_in(zone, patch.outlines, shelf):
        for line in strips.lines:
            shapes += [Line(line, "joint"), Badge(line[0], str(strips.number), "ply-number", 1.0)]
    return shapes


def _depths(zone: Zone, patch: Patch, depth: Depth, system: System) -> list[Shape]:
    """Depths noted at their places, and the pit between them in steps of a millimetre."""
    if not zone.scheme.access.part_depth:
        return []
    pit, step = patch.pit, 0.001
    count = int(pit.deepest / step) if pit else 0
    if pit is not None and depth == "open":
        lines = [
            line for k in range(1, min(count, 12) + 1) for line in _lines(pit.deeper(k * step - 1e-6), "depth-line")
        ]
        return [*lines, *_depth_marks(zone, system)]
    return _depth_marks(zone, system)


def _depth_marks(zone: Zone, system: System) -> list[Shape]:
    return [Badge((d.x, d.y), number_text(d.depth.si, Kind.SIZE, system), "depth") for d in zone.depths]


def _spots(zone: Zone, depth: Depth, system: System) -> list[Shape]:
    """High and low spots at their places, once it is rebuilt."""
    if depth != "rebuild":
        return []
    return [
        Badge((s.x, s.y), f"{'+' if s.height.si > 0 else ''}{number_text(s.height.si, Kind.SIZE, system)}", "depth")
        for s in zone.finish.spots
    ]


def _proving(zone: Zone, patch: Patch, shelf: Shelf) -> list[Shape]:
    """The test cut that would tell most, across the side with most doubt."""
    cut = proving_cut(zone, patch.cut, shelf)
    if cut is None:
        return []
    words = f"test cut: {facing_words(zone.kind)[cut.facing]} most in doubt"
    return [Line((cut.start, cut.end), "proving"), Callout(cut.start, words, "right")]


def _dimensions(zone: Zone, system: System) -> list[Shape]:
    x0, y0, x1, y1 = polygon_of(zone.outline).bounds
    return [
        Dimension((x0, y0), (x1, y0), shown(x1 - x0, Kind.LENGTH, system)),
        Dimension((x0, y0), (x0, y1), shown(y1 - y0, Kind.LENGTH, system)),
    ]

"""A panel under load: its three states as maps on one scale, and the shape that each is bent to. Places in m.

A map lies on the plan of its zone: what is worked out is a rectangle, and the zone's outline, its fittings, the damage
as surveyed and the cut as planned are drawn over it where they are.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import shapely
from msgspec import Struct

from ribpatch.core.drawing.shapes import Area, Callout, Dimension, Drawing, Line, Raster, Shape, Text
from ribpatch.core.drawing.survey_picture import Picture
from ribpatch.core.geometry import polygon_of, rings_of
from ribpatch.core.memo import remembered
from ribpatch.core.numerals import general
from ribpatch.core.patch.repair import patch_of
from ribpatch.core.structure.zone_panel import STATE_NAMES, State
from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.geometry import Floats, Point, Ring
    from ribpatch.core.scheme import Member
    from ribpatch.core.structure.panel_records import Box
    from ribpatch.core.structure.proved import Proved, Shows
    from ribpatch.core.structure.run import RunModel
    from ribpatch.core.units import System

GRID = 61  # places along the longer side of a map
GAP = 0.1  # between maps, share of a side
LIFT = 0.06  # of a map's words over it, share of its longer side
TALLEST = 0.35  # height of the bent shapes over the span
NAMES: dict[Shows, str] = {"deflection": "deflection", "strain": "strain in the faces", "shear": "shear in the core"}
_BENT: dict[State, str] = {"before": "bent-before", "damaged": "bent-damaged", "repaired": "bent-repaired"}
_EDGE = {"S": "edge-supported", "C": "edge-clamped", "F": "edge-free"}
HOLDS = "edges: heavy clamped, thin supported, dashed free"


class Maps(Struct, frozen=True, eq=False):
    """The maps as a drawing; where each state lies in it (m), the scale's legend and the greatest value."""

    drawing: Drawing
    corners: tuple[tuple[State, Point], ...]
    legend: Picture
    most: float

    def place(self, at: Point, size: tuple[float, float]) -> tuple[State, Point] | None:
        """The state and the place in its panel that a place of the drawing is; None between the maps."""
        for state, (x, y) in self.corners:
            if x <= at[0] <= x + size[0] and y <= at[1] <= y + size[1]:
                return state, (at[0] - x, at[1] - y)
        return None


@remembered(24)
def prove_maps(made: Proved, case: str, shows: Shows, system: System, room: float) -> Maps:
    """Every state side by side, or one over another where that is larger in a ``room`` so many times as wide as high.

    Raises BadStructure.
    """
    a, b = made.panel.a, made.panel.b
    nx, ny = _grid(a, b)
    values = {state: np.abs(made.shown(state, case, shows, nx, ny)) for state in made.states}
    most = max(float(v.max()) for v in values.values()) or 1.0
    corners = _corners(made, room)
    shapes: list[Shape] = []
    for state, corner in corners:
        shapes += _map(made, state, case, corner, values[state] / most)
        x, y = corner
        peak = _said(float(values[state].max()), shows, system)
        shapes.append(Text((x, y + frame_of(made)[3] + LIFT * max(a, b)), f"{state} {peak}", "label"))
    words = ("none", _said(most, shows, system))
    legend = Picture((0.0, 0.0), (a, b), values[made.states[0]] / most, "damage", words)
    _, y0, x1, y1 = frame_of(made)
    right = max(x for _, (x, _) in corners) + x1
    low, high = min(y for _, (_, y) in corners) + y0, max(y for _, (_, y) in corners) + y1 + 1.5 * LIFT * max(a, b)
    name = next(c.short for c in made.cases if c.key == case)
    title = f"{NAMES[shows][0].upper()}{NAMES[shows][1:]}: {name[0].lower()}{name[1:]}"
    return Maps(Drawing(title, HOLDS, (0.0, low, right, high), tuple(shapes)), corners, legend, most)


def frame_of(made: Proved) -> tuple[float, float, float, float]:
    """The box round the panel and the outline of its zone, in the panel's own axes, m: x0, y0, x1, y1."""
    panel = made.panel
    x0, y0, x1, y1 = polygon_of(made.zone.outline).bounds
    low = min(x0 - panel.x0, 0.0), min(y0 - panel.y0, 0.0)
    return (*low, max(x1 - panel.x0, panel.a), max(y1 - panel.y0, panel.b))


def told_at(made: Proved, state: State, case: str, shows: Shows, at: Point, system: System) -> str:
    """What the panel does at a place (its own axes, m), in words."""
    parts = {k: float(v) for k, v in made.field(state, case).at(np.array(at[0]), np.array(at[1])).items()}
    where = ", ".join(shown(v, Kind.SIZE, system) for v in at)
    words = [
        f"deflection {shown(parts['w'], Kind.SIZE, system)}",
        f"moment along {shown(parts['mx'], Kind.MOMENT, system)}",
        f"across {shown(parts['my'], Kind.MOMENT, system)}",
    ]
    if shows != "deflection":
        words.append(f"{NAMES[shows]} {shown(made.share_at(state, case, shows, at), Kind.PERCENT, system)}")
    return f"{STATE_NAMES[state]} at {where}: {', '.join(words)}"


def _grid(a: float, b: float) -> tuple[int, int]:
    longer = max(a, b)
    return max(round(GRID * a / longer), 13), max(round(GRID * b / longer), 13)


def _said(value: float, shows: Shows, system: System) -> str:
    return shown(value, Kind.SIZE if shows == "deflection" else Kind.PERCENT, system)


def _corners(made: Proved, room: float) -> tuple[tuple[State, Point], ...]:
    """Lower left corners of the maps: in a row or in a column, whichever is larger."""
    x0, y0, x1, y1 = frame_of(made)
    a, b, n = x1 - x0, y1 - y0, len(made.states)
    row = min(room / (a * (n + GAP * (n - 1))), 1 / (b * (1 + GAP)))
    column = min(room / a, 1 / ((b + 2 * LIFT * max(a, b)) * n))
    if row >= column:
        return tuple((state, (k * a * (1 + GAP) - x0, -y0)) for k, state in enumerate(made.states))
    return tuple((state, (-x0, -k * (b + 2 * LIFT * max(a, b)) - y0)) for k, state in enumerate(made.states))


def _map(made: Proved, state: State, case: str, corner: Point, values: Floats) -> list[Shape]:
    x, y = corner
    panel = made.panel
    a, b = panel.a, panel.b
    outline: Ring = ((x, y), (x + a, y), (x + a, y + b), (x, y + b))
    shapes: list[Shape] = [Raster((x, y), (x + a, y + b), values, (outline,), "damage")]
    sides = (((x, y), (x, y + b)), ((x + a, y), (x + a, y + b)), ((x, y), (x + a, y)), ((x, y + b), (x + a, y + b)))
    for held, ends in zip(panel.edges.all, sides, strict=True):
        shapes.append(Line(ends, _EDGE[held]))
    if state == "damaged":
        shapes += [Line(_ring(box, corner), "extent", True) for box in panel.bad_areas]
    if state == "repaired":
        shapes += [Line(_ring(box, corner), "cut", True) for box in panel.new_areas]
        shapes += [Line(_ring(box, corner), "extent", True) for box in panel.left_areas]
    shapes += [Area((_ring(box, corner),), "zone") for box in panel.openings]
    shapes += _as_it_lies(made, state, corner)
    members = (*panel.old_members, *(panel.new_members if state == "repaired" else ()))
    for member in members:
        shapes.append(Line(member_ends(made, member, corner), "stiffener"))
    for line in panel.held_by_well(made.shelf):
        (low, high), place = (line.start or 0.0, line.end or 0.0), line.place
        ends = ((low, place), (high, place)) if line.axis == "x" else ((place, low), (place, high))
        shapes.append(Line(tuple((x + u, y + v) for u, v in ends), "stiffener"))
    for load in next(c for c in made.cases if c.key == case).loads:
        w, h = load.box.size
        if w * h < 0.9 * a * b:
            shapes.append(Line(_ring(load.box, corner), "pad", True))
    return shapes


def _as_it_lies(made: Proved, state: State, corner: Point) -> list[Shape]:
    """What the panel is a rectangle of: the zone's outline and fittings, its damage as surveyed, its cut as planned."""
    zone = made.zone
    shift = [corner[0] - made.panel.x0, corner[1] - made.panel.y0]
    lines: list[tuple[BaseGeometry, str]] = [(polygon_of(zone.outline), "zone-patch")]
    lines += [(fitting.shape, "fitting") for fitting in zone.fittings]
    patch = patch_of(zone, made.shelf)
    if state == "damaged":
        lines.append((patch.extent.likely, "surely"))
    if state == "repaired":
        lines.append((patch.cut.region, "band"))
    moved = ((shapely.transform(region, lambda at: at + shift), role) for region, role in lines)
    return [Line(ring, role, True) for region, role in moved for rings in rings_of(region) for ring in rings]


def member_ends(made: Proved, member: Member, corner: Point) -> Ring:
    """Both ends of a stiffener on a map, m."""
    panel, (x, y) = made.panel, corner
    low, high = (0.0, panel.a) if member.axis == "x" else (0.0, panel.b)
    foot, across = (panel.x0, panel.y0) if member.axis == "x" else (panel.y0, panel.x0)
    start = low if member.start is None else min(max(member.start - foot, low), high)
    end = high if member.end is None else min(max(member.end - foot, low), high)
    place = member.place - across
    if member.axis == "x":
        return (x + start, y + place), (x + end, y + place)
    return (x + place, y + start), (x + place, y + end)


def _ring(box: Box, corner: Point) -> Ring:
    x, y = corner
    return (
        (x + box.x0, y + box.y0),
        (x + box.x1, y + box.y0),
        (x + box.x1, y + box.y1),
        (x + box.x0, y + box.y1),
    )


@remembered(24)
def bent_shapes(made: Proved, case: str, system: System) -> Drawing:
    """The shape of every state along the line through the greatest deflection, on one exaggerated scale."""
    fields = {state: made.field(state, case) for state in made.states}
    last, (a, b) = fields[made.states[-1]], (made.panel.a, made.panel.b)
    along, span = ("x", a) if a >= b else ("y", b)
    t = np.linspace(0, span, 121)
    # The line through the greatest deflection, to a hundredth of the side that it crosses.
    x, y = np.linspace(0, a, 101), np.linspace(0, b, 101)
    row, column = np.unravel_index(int(np.abs(last.on_grid(x, y)["w"]).argmax()), (101, 101))
    one = (y[row] if along == "x" else x[column]) * np.ones(1)
    curves = {s: f.on_grid(*((t, one) if along == "x" else (one, t)))["w"].ravel() for s, f in fields.items()}
    return _bent(curves, t, span, system, f"along {along}, through the greatest deflection")


@remembered(24)
def bent_run(model: RunModel, system: System) -> Drawing:
    """The shape of a run in every state, over what it stands on. Raises BadStructure."""
    answers = model.answers
    x = answers[model.states[0]].x
    even = np.linspace(0, model.span, 121)
    curves = {state: np.interp(even, made.x, made.w) for state, made in answers.items()}
    drawing = _bent(curves, even, model.span, system, "under pressure and what stands on it")
    props = [Text((p.place, 0.0), "▲", "label") for p in model.beam(model.states[-1]).props]
    assert x[0] == 0
    return Drawing(drawing.title, drawing.note, drawing.bounds, (*drawing.shapes, *props))


def _bent(curves: dict[State, Floats], t: Floats, span: float, system: System, where: str) -> Drawing:
    most = max(float(np.abs(w).max()) for w in curves.values()) or 1.0
    factor = TALLEST * span / 2 / most
    factor = _round(factor)
    shapes: list[Shape] = [Line(((0.0, 0.0), (span, 0.0)), "dimension")]
    low, high = 0.0, 0.0
    for state, w in curves.items():
        y = -w * factor
        shapes.append(Line(tuple(zip(t.tolist(), y.tolist(), strict=True)), _BENT[state]))
        n = int(np.argmax(np.abs(w)))
        words = f"{STATE_NAMES[state]} {shown(abs(float(w[n])), Kind.SIZE, system)}"
        shapes.append(Callout((float(t[n]), float(y[n])), words, "right" if t[n] > span / 2 else "left"))
        low, high = min(low, float(y.min())), max(high, float(y.max()))
    level = high + 0.05 * span if high < 0.01 * span else low - 0.05 * span
    shapes.append(Dimension((0.0, level), (span, level), shown(span, Kind.LENGTH, system)))
    title = f"Bent shape {where}"
    bounds = (0.0, min(low, level) - 0.02 * span, span, max(high, level) + 0.04 * span)
    return Drawing(title, f"deflection × {general(factor)}", bounds, tuple(shapes))


def _round(factor: float) -> float:
    """A round number at or under a factor: 1, 2 or 5 times a power of ten."""
    power = 10.0 ** np.floor(np.log10(factor))
    return float(power * max(k for k in (1, 2, 5) if k * power <= factor * 1.0001))

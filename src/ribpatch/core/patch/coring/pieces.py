"""A new core cut in pieces that a sheet is large enough for, and where their seams run. Metres, in the zone's plane.

A core thicker than any sheet is layers, glued flat, their seams apart. A seam is straight across the cut. Plywood is
scarfed, other cores interlock; either takes a lap. No seam lies on the centreline of a transom, under an engine's clamp
or within reach of a fitting. Of the two ways that a sheet may lie the one with fewer pieces is taken. A gap for putty
is left round the core.
"""

from __future__ import annotations

from itertools import pairwise
from math import ceil
from typing import TYPE_CHECKING

import shapely
from msgspec import Struct

from ribpatch.core.geometry import clean, offset, polygons

if TYPE_CHECKING:
    from shapely.geometry import Polygon
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.job import Zone
    from ribpatch.core.materials.records import Core
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.repair import Patch

Span = tuple[float, float]
MOST_SEAMS = 40
ASIDE = 0.25  # of a piece, by which the seams of every other layer are moved
STEP = 0.005  # m between places that are tried for a seam


class CoreLayer(Struct, frozen=True, eq=False):
    """One layer of a core: its pieces and the seams between them, ``x`` across the zone's length, ``y`` across its
    width, m; ``bad`` where a seam had to lie although none should.
    """

    pieces: tuple[Polygon, ...]
    x: tuple[float, ...]
    y: tuple[float, ...]
    bad: bool


class CorePieces(Struct, frozen=True, eq=False):
    """A zone's new core in layers of sheets, the lap of its seams and how they are joined. Lengths in m."""

    core: Core
    sheet: float  # thickness of the sheets that the layers are cut from
    layers: tuple[CoreLayer, ...]
    lap: float
    joint: str

    @property
    def pieces(self) -> tuple[Polygon, ...]:
        """The pieces of all layers."""
        return tuple(p for layer in self.layers for p in layer.pieces)

    @property
    def bad(self) -> bool:
        """Whether a seam lies where none should."""
        return any(layer.bad for layer in self.layers)

    @property
    def sizes(self) -> tuple[tuple[float, float], ...]:
        """Length and width of the box round each piece, m."""
        return tuple((p.bounds[2] - p.bounds[0], p.bounds[3] - p.bounds[1]) for p in self.pieces)


def core_pieces(zone: Zone, patch: Patch, shelf: Shelf) -> CorePieces | None:
    """How a zone's new core is cut; None where none is renewed, or it is poured."""
    scheme = zone.scheme.core
    if not scheme.material or scheme.thickness is None or zone.scheme.access.part_depth or zone.build.core is None:
        return None
    core = shelf.core(scheme.material)
    region = offset(patch.cut.region, -shelf.rule("core.gap"))
    if core.poured or region.is_empty:
        return None
    ply = core.faces == "plywood"
    lap = shelf.rule("seam.scarf") * scheme.thickness.si if ply else shelf.rule("seam.lock")
    joint = "scarfed" if ply else "interlocking"
    count, sheet = layers_of(core, scheme.thickness.si)
    layers = []
    for n in range(count):
        aside = ASIDE if n % 2 else 0.0
        ways = [_cut(region, way, (lap, aside), zone, shelf) for way in (core.sheet, core.sheet[::-1])]
        layers.append(min(ways, key=lambda w: (w.bad, len(w.pieces))))
    return CorePieces(core, sheet, tuple(layers), lap, joint)


def layers_of(core: Core, thickness: float) -> tuple[int, float]:
    """How many layers of sheet a core of a thickness is, and the sheet that each is cut (or planed) from, m."""
    if not core.thicknesses:
        return 1, thickness
    count = ceil(thickness / max(core.thicknesses) - 1e-6)
    return count, min((t for t in core.thicknesses if t >= thickness / count - 1e-6), default=max(core.thicknesses))


def _cut(region: BaseGeometry, sheet: Span, seam: Span, zone: Zone, shelf: Shelf) -> CoreLayer:
    """A region as pieces that a sheet lying along the zone is large enough for; a seam's lap, m, and how far it is put
    aside of an even share.
    """
    lap, aside = seam
    x0, y0, x1, y1 = region.bounds
    clear = shelf.rule("seam.clear")
    x, x_bad = seams_between((x0, x1), sheet[0], lap, kept_clear(zone, region, 0, clear), aside)
    y, y_bad = seams_between((y0, y1), sheet[1], lap, kept_clear(zone, region, 1, clear), aside)
    made: list[Polygon] = []
    for low, high in pairwise((x0, *x, x1)):
        for bottom, top in pairwise((y0, *y, y1)):
            # The lap lies half on each side of the seam.
            left, right = low - lap / 2 * (low > x0), high + lap / 2 * (high < x1)
            down, up = bottom - lap / 2 * (bottom > y0), top + lap / 2 * (top < y1)
            made += polygons(clean(region.intersection(shapely.box(left, down, right, up))))
    return CoreLayer(tuple(made), x, y, x_bad or y_bad)


def kept_clear(zone: Zone, region: BaseGeometry, axis: int, clear: float) -> tuple[Span, ...]:
    """Stretches along an axis (0: the zone's length, 1: its width) in which no seam may lie, m."""
    spans = []
    corners = [c[axis] for c in zone.outline]
    if zone.kind == "transom" and axis == 0:
        middle = (min(corners) + max(corners)) / 2
        spans.append((middle - clear, middle + clear))
    engine = zone.proof.engine
    if zone.kind == "transom" and engine is not None:
        across = [c[0] for c in zone.outline]
        up = [c[1] for c in zone.outline]
        place = (
            engine.x if engine.x is not None else (min(across) + max(across)) / 2,
            min(up) + engine.height.si if engine.height is not None else max(up) - engine.clamp_height.si / 2,
        )[axis]
        half = (engine.clamp_width, engine.clamp_height)[axis].si / 2 + clear
        spans.append((place - half, place + half))
    for fitting in zone.fittings:
        if fitting.shape.intersects(region):
            low, high = fitting.shape.bounds[axis], fitting.shape.bounds[axis + 2]
            spans.append((low - clear, high + clear))
    return tuple(spans)


def seams_between(
    span: Span, side: float, lap: float, clear: tuple[Span, ...], aside: float = 0.0
) -> tuple[tuple[float, ...], bool]:
    """Places of the fewest seams that leave no piece, with its laps, longer than a sheet's side; whether one of them
    lies where none may. As even as the places that must be kept clear allow, or ``aside`` of that by a share of a
    piece.
    """
    low, high = span
    if high - low <= side + 1e-9:
        return (), False
    first, most = side - lap / 2, max(side - lap, STEP)  # the end pieces have one lap, the others two halves
    fewest = 1 + max(ceil((high - low - 2 * first) / most - 1e-9), 0)
    for count in range(fewest, min(fewest + 4, MOST_SEAMS) + 1):
        even = [low + (high - low) * (k - aside) / (count + 1) for k in range(1, count + 1)]
        made = _near(even, span, (first, most), clear)
        if made is not None:
            return made, False
    count = min(fewest, MOST_SEAMS)
    return tuple(low + (high - low) * k / (count + 1) for k in range(1, count + 1)), True


def _near(
    even: list[float], span: Span, longest: tuple[float, float], clear: tuple[Span, ...]
) -> tuple[float, ...] | None:
    """Places near even ones, from which the end is reached; None where there are none."""
    first, most = longest
    made: list[float] = []
    at = span[0]
    for k, wanted in enumerate(even):
        reach = at + (first if k == 0 else most)
        left = len(even) - k - 1
        least = span[1] - first - left * most  # or the rest would not reach the end
        steps = range(round((reach - at) / STEP) + 2)
        tries = [t for n in steps for t in (wanted - n * STEP, wanted + n * STEP)]
        tries += [e for c in clear for e in c]
        good = [t for t in tries if max(at, least) - 1e-9 < t <= reach + 1e-9 and t < span[1]]
        good = [t for t in good if t > at and not any(a + 1e-9 < t < b - 1e-9 for a, b in clear)]
        if not good:
            return None
        at = min(good, key=lambda t: abs(t - wanted))
        made.append(at)
    return tuple(made)

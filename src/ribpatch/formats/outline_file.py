"""Outlines out of SVG and DXF: every closed line in a file as a ring, its largest first; m, y up.

Lines and arcs that meet are joined. An SVG states its size, or its units are taken as millimetres; a DXF states its
units in its header, or they are taken as millimetres. Curves become chords that stand off them by a few
hundredths of a millimetre.
"""

from __future__ import annotations

import re
from io import BytesIO, StringIO
from itertools import pairwise
from math import isfinite
from typing import TYPE_CHECKING, Any

import numpy as np
import shapely
from msgspec import Struct

from ribpatch.core.errors import BadDrawing
from ribpatch.core.geometry import ring_fault
from ribpatch.formats.whole_file import read_whole

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable, Iterator
    from pathlib import Path

    from ribpatch.core.geometry import Point, Ring

    Told = Callable[[float], object]

NamedLine = tuple[str, list["Point"]]  # with the name of its layer
MOST_BYTES = 20 * 2**20
MOST_POINTS = 400_000
MOST_SHAPES = 60
MOST_NESTED = 60  # blocks within blocks
MOST_CORNERS = 1900
MOST_DRAWN = 50_000  # things drawn, once blocks and copies are put in
CHORD_OFF = 0.00002  # m
CHORD_SHARE = 1e-6  # of the size of what is drawn, where that is more
JOIN = 0.0002  # m between two ends that are one
FINE = 0.00003  # m that an outline may be simplified by
UNITS = {1: 0.0254, 2: 0.3048, 4: 0.001, 5: 0.01, 6: 1.0, 10: 0.9144, 14: 0.1}  # DXF's $INSUNITS in m
_SIZED = re.compile(r"^\s*[\d.]+\s*(mm|cm|in|pt|pc|q)\s*$", re.IGNORECASE)


class Drawn(Struct, frozen=True):
    """Closed lines of a file, largest first, m, each with the name of its layer; whether the file states its units."""

    rings: tuple[tuple[str, Ring], ...]
    stated: bool


def read_outlines(path: Path, told: Told = lambda _share: None) -> Drawn:
    """The outlines of an SVG or DXF, by its name; ``told(share)`` is called as it is read. Raises BadDrawing.

    For a process of its own (``outlines.outlines_of``): what a foreign parser takes of time and memory is only limited
    as far as it can be counted before.
    """
    raw = read_whole(path, MOST_BYTES, BadDrawing, "Save it with fewer curves, or smaller.")
    read = {".svg": _svg, ".dxf": _dxf}.get(path.suffix.lower())
    if read is None:
        raise BadDrawing(path.name, reason="is neither SVG nor DXF", advice="Save it as one of the two.")
    lines, stated = read(raw, path.name, told)
    told(0.8)
    rings = _rings(lines)
    if not rings:
        raise BadDrawing(
            path.name,
            reason="holds no closed line",
            advice="Close the outline in the program that drew it, and save it as lines, arcs or paths.",
        )
    return Drawn(rings, stated)


# ---- SVG ---------------------------------------------------------------------------------------------------------


def _svg(raw: bytes, name: str, told: Told) -> tuple[list[NamedLine], bool]:
    if b"<!ENTITY" in raw:
        raise BadDrawing(name, reason="defines entities", advice="Save it as plain SVG.")
    _check_copies(raw, name)
    from svgelements import SVG, Path, Shape

    def lines(document: Any) -> Iterator[NamedLine]:
        for element in document.elements():
            if isinstance(element, Shape) and element.values.get("visibility") != "hidden":
                for part in abs(Path(element)).as_subpaths():
                    yield _layer(element), _flattened(Path(part))

    try:
        # A unit of the program is a millimetre: 25.4 pixels to the inch.
        document = SVG.parse(BytesIO(raw), ppi=25.4, reify=True)
        told(0.4)
        found = _counted(lines(document), name)
    except Exception as error:  # what a parser of foreign files may raise is not listed anywhere
        raise _unread(name, error, "Save it as plain SVG.") from None
    return found, bool(_SIZED.match(str(document.values.get("width", ""))))


def _check_copies(raw: bytes, name: str) -> None:
    """Raise BadDrawing where copies of copies would draw far too much, before any of it is drawn."""
    import xml.etree.ElementTree as ET

    try:
        root = ET.fromstring(raw)
    except ET.ParseError as error:
        raise BadDrawing(name, reason=f"is no SVG ({error})", advice="Save it as plain SVG.") from None
    named = {str(e.get("id")): e for e in root.iter() if e.get("id")}
    counts = _Counts(name)

    def drawn(element: ET.Element) -> int:
        link = element.get("href") or element.get("{http://www.w3.org/1999/xlink}href") or ""
        copied = named.get(link[1:]) if element.tag.endswith("use") and link.startswith("#") else None
        within = sum(counts.of(id(child), lambda c=child: drawn(c)) for child in element)  # type: ignore[misc]
        return 1 + within + (counts.of(id(copied), lambda: drawn(copied)) if copied is not None else 0)

    counts.of(id(root), lambda: drawn(root))


class _Counts:
    """How many things each part of a drawing draws, each part counted once. Raises BadDrawing where it is too many, or
    a part holds itself.
    """

    def __init__(self, name: str) -> None:
        self._name = name
        self._known: dict[object, int] = {}
        self._open: set[object] = set()

    def of(self, key: object, count: Callable[[], int]) -> int:
        """The count of a part."""
        if key in self._open or len(self._open) > MOST_NESTED:
            advice = "Dissolve blocks and copies in the program that drew it, and save it again."
            reason = "holds a block that holds itself" if key in self._open else "is nested far too deeply"
            raise BadDrawing(self._name, reason=reason, advice=advice)
        if key not in self._known:
            self._open.add(key)
            self._known[key] = self.checked(count())
            self._open.discard(key)
        return self._known[key]

    def checked(self, count: int) -> int:
        """A count that is not too large."""
        if count > MOST_DRAWN:
            words = f"draws over {MOST_DRAWN:,} things once its blocks and copies are put in".replace(",", " ")
            raise BadDrawing(self._name, reason=words, advice="Save only the outline that is wanted.")
        return count


def _layer(element: Any) -> str:
    """The name of the group or element."""
    values = element.values
    for key in ("{http://www.inkscape.org/namespaces/inkscape}label", "id"):
        if values.get(key):
            return str(values[key])[:60]
    return ""


def _flattened(path: Any) -> list[Point]:
    """A path's points in m, y up: straight lines by their ends, curves by chords."""
    from svgelements import Close, Line, Move

    points: list[Point] = []
    for segment in path:
        if isinstance(segment, Move | Line | Close):
            if segment.end is not None:
                points.append((float(segment.end.x) / 1000, -float(segment.end.y) / 1000))
            continue
        count = min(int(_longest(segment) / 0.7) + 16, 1500)
        places = segment.npoint(np.arange(1, count + 1) / count)
        points += [(float(x) / 1000, -float(y) / 1000) for x, y in places]
    return points


def _longest(segment: Any) -> float:
    """A length that a curve does not exceed: round its ellipse, or along its control points."""
    from svgelements import Arc

    if isinstance(segment, Arc):
        return float(abs(segment.sweep) * max(segment.rx, segment.ry))
    corners = [p for p in segment if p is not None]
    return float(sum(abs(complex(b) - complex(a)) for a, b in pairwise(corners)))


# ---- DXF ---------------------------------------------------------------------------------------------------------


def _dxf(raw: bytes, name: str, told: Told) -> tuple[list[NamedLine], bool]:
    if raw.startswith(b"AutoCAD Binary DXF"):
        raise BadDrawing(name, reason="is a binary DXF", advice="Save it as text (ASCII) DXF.")
    import ezdxf
    from ezdxf.disassemble import recursive_decompose
    from ezdxf.path import make_path

    def lines(document: Any, metres: float) -> Iterator[NamedLine]:
        for entity in recursive_decompose(document.modelspace()):
            try:
                path = make_path(entity)
            except TypeError:
                continue  # text, points, hatches: nothing with a line
            for part in path.sub_paths() if path.has_sub_paths else (path,):
                flat = part.flattening(max(CHORD_OFF / metres, CHORD_SHARE * _size(part)), segments=4)
                yield str(entity.dxf.layer)[:60], [(p.x * metres, p.y * metres) for p in flat]

    try:
        document = ezdxf.read(StringIO(raw.decode("utf-8", errors="surrogateescape")))  # type: ignore[attr-defined]
        told(0.3)
        _check_blocks(document, name)
        unit = UNITS.get(int(document.header.get("$INSUNITS", 0)))
        found = _counted(lines(document, unit or 0.001), name)
    except Exception as error:  # what a parser of foreign files may raise is not listed anywhere
        raise _unread(name, error, "Save it as DXF R2010.") from None
    return found, unit is not None


def _size(path: Any) -> float:
    """The longer side of the box round a path's control points, in the drawing's units."""
    points = np.array([(p.x, p.y) for p in path.control_vertices()])
    return float(np.ptp(points, axis=0).max()) if len(points) else 0.0


def _check_blocks(document: Any, name: str) -> None:
    """Raise BadDrawing where blocks within blocks would draw far too much, before any of it is drawn."""
    counts = _Counts(name)

    def drawn(entity: Any) -> int:
        kind = entity.dxftype()
        if kind == "INSERT":
            rows, columns = (max(int(entity.dxf.get(k, 1)), 1) for k in ("row_count", "column_count"))
            return counts.checked(rows * columns * (1 + block(str(entity.dxf.get("name", "")))))
        if kind == "DIMENSION":
            return 1 + block(str(entity.dxf.get("geometry", "")))
        return 1

    def block(called: str) -> int:
        layout = document.blocks.get(called)
        return 0 if layout is None else counts.of(called.lower(), lambda: sum(map(drawn, layout)))

    counts.checked(sum(map(drawn, document.modelspace())))


def _counted(lines: Iterator[NamedLine], name: str) -> list[NamedLine]:
    """All lines, as long as they are not far too many."""
    found, points = [], 0
    for line in lines:
        found.append(line)
        points += len(line[1])
        if points > MOST_POINTS:
            raise BadDrawing(name, reason="holds far too many points", advice="Save only the outline that is wanted.")
    return found


def _unread(name: str, error: Exception, advice: str) -> BadDrawing:
    if isinstance(error, BadDrawing):
        return error
    return BadDrawing(name, reason=f"cannot be read ({type(error).__name__})", advice=advice)


# ---- rings -------------------------------------------------------------------------------------------------------


def _rings(lines: list[NamedLine]) -> tuple[tuple[str, Ring], ...]:
    """Closed lines by themselves, and what open ones enclose together; each once, largest first."""
    found: list[tuple[str, Ring]] = []
    loose: list[list[Point]] = []
    for layer, points in lines:
        clean = [p for p in points if all(map(isfinite, p))]
        if len(clean) > 3 and _near(clean[0], clean[-1]):
            found += _as_ring(layer, clean[:-1])
        elif len(clean) > 1:
            loose.append(clean)
    found += [ring for polygon in _enclosed(loose) for ring in _as_ring("joined lines", polygon)]
    unique: dict[tuple[float, ...], tuple[str, Ring]] = {}
    for layer, ring in found:
        polygon = shapely.Polygon(ring)
        unique.setdefault(tuple(round(v, 4) for v in (*polygon.bounds, polygon.area)), (layer, ring))
    ordered = sorted(unique.values(), key=lambda r: -shapely.Polygon(r[1]).area)
    return tuple(ordered[:MOST_SHAPES])


def _near(a: Point, b: Point) -> bool:
    return (a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2 <= JOIN**2


def _as_ring(layer: str, points: Iterable[Point]) -> list[tuple[str, Ring]]:
    """A ring of no more corners than an outline may have; nothing where it is none."""
    polygon = shapely.Polygon([(round(x, 6), round(y, 6)) for x, y in points])
    fine = FINE
    corners = _simple(polygon, fine)
    while len(corners) > MOST_CORNERS:
        fine *= 2
        corners = _simple(polygon, fine)
    ring = tuple((round(x, 5), round(y, 5)) for x, y in corners)
    return [] if ring_fault(ring) else [(layer, ring)]


def _simple(polygon: shapely.Polygon, fine: float) -> list[Point]:
    simple = polygon.simplify(fine)
    return _corners(simple) if isinstance(simple, shapely.Polygon) and not simple.is_empty else []


def _corners(polygon: shapely.Polygon) -> list[Point]:
    return [(float(x), float(y)) for x, y, *_ in polygon.exterior.coords[:-1]]


def _enclosed(loose: list[list[Point]]) -> list[list[Point]]:
    """What open lines enclose where their ends meet."""
    if not loose:
        return []
    grid = shapely.set_precision(shapely.MultiLineString(loose), JOIN)
    parts = shapely.get_parts(shapely.polygonize([shapely.node(grid)]))
    whole = list(shapely.get_parts(shapely.union_all(parts))) if len(parts) > 1 else []
    return [_corners(p) for p in (*parts, *whole) if isinstance(p, shapely.Polygon)]


def laid_at_origin(ring: Ring) -> Ring:
    """The ring with its box's lower left corner at the zone's origin, m."""
    x0, y0 = min(x for x, _ in ring), min(y for _, y in ring)
    return tuple((round(x - x0, 5), round(y - y0, 5)) for x, y in ring)

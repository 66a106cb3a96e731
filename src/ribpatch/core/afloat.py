"""What the repairs of a job do to how she floats: figures, and a plain sentence."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.drawing.boat_view import stringer_off
from ribpatch.core.figure import Figure, FigureBook, Given, Origin, fact
from ribpatch.core.geometry import polygon_of
from ribpatch.core.numerals import fixed
from ribpatch.core.supply.floating import Change, Floating, floating, waterplane
from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

    from ribpatch.core.job import Boat, Zone
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.repair import Patch
    from ribpatch.core.units import System

SHARES = {"hull panel": 0.48, "keel": 0.0, "deck panel": 0.25, "sole": 0.2}  # of the beam, off the middle
RULES = ("float.beam", "float.transom", "float.widest", "float.bow", "float.lowered", "water.density")
UNWEIGHED = 1e-6  # kg; less is nothing
UNSEEN = 2e-5  # m; less is nothing


def changed_at(zone: Zone, patch: Patch, boat: Boat, mass: float) -> Change:
    """A zone's net change of mass where its cut lies, by its place on the boat, its kind and its side."""
    region = patch.cut.region if not patch.cut.region.is_empty else polygon_of(zone.outline)
    x0, y0, x1, y1 = polygon_of(zone.outline).bounds
    at, up = region.centroid.x, region.centroid.y
    station, side = zone.place.station.si, {"port": 1.0, "centre": 0.0, "starboard": -1.0}[zone.place.side]
    aside = side * SHARES.get(zone.kind, 0.3) * boat.beam.si
    if zone.kind == "stringer run":  # as it is drawn on the boat
        aside = side * float(stringer_off(boat, np.array(station + at - x0)))
    if zone.is_across:
        return Change(mass, station, (x0 + x1) / 2 - at if side == 0 else aside)
    across = up - (y0 + y1) / 2 if zone.is_walked_on else 0.0
    return Change(mass, station + at - x0, aside + across)


def changes_of(zones: Iterable[tuple[Zone, Patch, float]], boat: Boat) -> tuple[tuple[str, Change], ...]:
    """The changes of mass, kg, of zones with their repairs, by the zone's name."""
    return tuple((zone.name, changed_at(zone, patch, boat, mass)) for zone, patch, mass in zones)


def _moved(named: Sequence[tuple[str, Change]]) -> bool:
    """Whether anything is heavier or lighter."""
    return any(abs(c.mass) > UNWEIGHED for _, c in named)


def afloat(boat: Boat, changes: Sequence[Change], shelf: Shelf) -> Floating:
    """How she floats after the changes."""
    rule = shelf.rule
    plane = waterplane(
        boat.waterline.si,
        rule("float.beam") * boat.beam.si,
        rule("float.transom"),
        rule("float.widest"),
        rule("float.bow"),
    )
    return floating(plane, boat.displacement.si, changes, rule("water.density"), rule("float.lowered") * boat.depth.si)


def afloat_figures(boat: Boat, changes: Iterable[tuple[str, Change]], shelf: Shelf) -> tuple[Figure, ...]:
    """Figures of it; none where nothing is changed."""
    named = tuple(changes)
    if not _moved(named):
        return ()
    made, book = afloat(boat, [c for _, c in named], shelf), FigureBook("job")
    inputs = (
        *(Given(name, c.mass, Kind.MASS, Origin.WORKED, note=f"{fixed(c.x, 2)} m from the stern") for name, c in named),
        fact("displacement", boat.displacement, Kind.LOAD),
        fact("waterline length", boat.waterline, Kind.LENGTH),
        fact("beam", boat.beam, Kind.LENGTH),
        *(shelf.given(r) for r in RULES),
    )
    valid = "small changes; where a zone lies across the boat follows from its side; fuel, stores and crew unchanged"
    rows: list[tuple[str, str, float, Kind, str]] = [
        ("trim.sinkage", "sinks by", made.sinkage, Kind.SIZE, "mass ÷ (water density × waterplane)"),
        ("trim.transom", "deeper at the transom", made.transom, Kind.SIZE, "sinkage − turn × its distance"),
        ("trim.stem", "deeper at the stem", made.stem, Kind.SIZE, "sinkage + turn × its distance"),
    ]
    if made.heel is not None:
        rows.append(("trim.heel", "heels to port", made.heel, Kind.ANGLE, "moment across ÷ (displacement × GM)"))
    for key, name, value, kind, formula in rows:
        book.add(key, name, value, kind, formula, inputs, source="[29]", valid=valid)
    return book.figures


def told_afloat(boat: Boat, named: Sequence[tuple[str, Change]], shelf: Shelf, system: System) -> str:
    """How she floats after the changes, in a sentence; nothing where her mass stays."""
    return afloat_words(afloat(boat, [c for _, c in named], shelf), system) if _moved(named) else ""


def afloat_words(made: Floating, system: System) -> str:
    """How she floats, in a sentence."""
    net = shown(abs(made.mass), Kind.MASS, system)
    parts = [f"She is {net} {'heavier' if made.mass >= 0 else 'lighter'}"]
    for where, deeper in (("the transom", made.transom), ("the stem", made.stem)):
        if abs(deeper) > UNSEEN:
            parts.append(
                f"floats {shown(abs(deeper), Kind.SIZE, system)} {'deeper' if deeper > 0 else 'higher'} at {where}"
            )
    if made.heel is None:
        parts.append("how she heels cannot be told from these measures")
    elif abs(made.heel) >= 0.01:
        parts.append(f"heels {fixed(abs(made.heel), 2)}° to {'port' if made.heel > 0 else 'starboard'}")
    return f"{', '.join(parts[:-1])} and {parts[-1]}." if len(parts) > 1 else f"{parts[0]}."

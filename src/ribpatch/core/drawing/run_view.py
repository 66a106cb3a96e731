"""A run (a joint, a line of tabbing, a stringer, a row of fasteners) drawn straight: only the distance along it counts.

The run lies as a band with the chance of damage along it; over it each instrument has a lane of its own, under it the
bad stretches stand with where they begin and end. Distances along are true; the height means nothing and says so.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.drawing.plan_view import marks_of
from ribpatch.core.drawing.shapes import Area, Badge, Callout, Dimension, Drawing, Line, Raster, Shape, Text
from ribpatch.core.geometry import Point, Ring, polygon_of
from ribpatch.core.memo import remembered
from ribpatch.core.survey.extent import stretches_of
from ribpatch.core.units import Kind, System, shown

if TYPE_CHECKING:
    from ribpatch.core.drawing.survey_picture import Picture
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.repair import Patch

BAND = 1 / 22  # height of the band and of a lane, share of the run's length


def band_height(zone: Zone) -> float:
    """Height of the band in the drawing, m."""
    x0, _, x1, _ = polygon_of(zone.outline).bounds
    return (x1 - x0) * BAND


def to_run(zone: Zone, place: Point) -> Point:
    """A place of the zone in the drawing: on the middle of the band."""
    return place[0], band_height(zone) / 2


def from_run(zone: Zone, at: Point) -> Point:
    """A place of the drawing in the zone: on the middle line of the run."""
    _, y0, _, y1 = polygon_of(zone.outline).bounds
    return at[0], (y0 + y1) / 2


@remembered(32)
def run_view(
    zone: Zone, patch: Patch, shelf: Shelf, system: System, picture: Picture | None, marks: tuple[Shape, ...]
) -> Drawing:
    """The run with its readings by lane and its bad stretches."""
    x0, _, x1, _ = polygon_of(zone.outline).bounds
    high = band_height(zone)
    band: Ring = ((x0, 0.0), (x1, 0.0), (x1, high), (x0, high))
    shapes: list[Shape] = [Area((band,), "zone")]
    if picture is not None:
        # One value along the run: across it the band is only drawn wide enough to see.
        along = (
            np.nanmean(picture.values, axis=0, keepdims=True)
            if np.isfinite(picture.values).any()
            else picture.values[:1]
        )
        shapes.append(
            Raster(
                (picture.low[0], 0.0),
                (picture.high[0], high),
                np.repeat(along, 3, axis=0),
                (band,),
                picture.ramp,
                picture.words,
            )
        )
    shapes += _stretches(patch, high, system)
    lanes, top = _lanes(zone, shelf, x0, high)
    shapes += lanes
    for fitting in zone.fittings:
        half = max(fitting.width.si / 2, 0.004)
        ring: Ring = (
            (fitting.x - half, 0.25 * high),
            (fitting.x + half, 0.25 * high),
            (fitting.x + half, 0.75 * high),
            (fitting.x - half, 0.75 * high),
        )
        shapes += [
            Area((ring,), "fitting", "fitting", fitting.id),
            Callout((fitting.x, 0.5 * high), fitting.name, "right"),
        ]
    shapes.append(Dimension((x0, -2.2 * high), (x1, -2.2 * high), shown(x1 - x0, Kind.LENGTH, system)))
    shapes += [Badge((m.at[0], -0.35 * high), m.text, m.role) for m in marks if isinstance(m, Badge)]
    bounds = (x0 - 0.02 * (x1 - x0), -3.4 * high, x1, top)
    return Drawing(zone.name, "drawn straight: only the distance along counts", bounds, tuple(shapes), 0.03)


def _stretches(patch: Patch, high: float, system: System) -> list[Shape]:
    shapes: list[Shape] = []
    for a, b in stretches_of(patch.extent.likely):
        shapes.append(Line(((a, -0.8 * high), (b, -0.8 * high)), "damage", key="extent"))
        words = f"{shown(a, Kind.LENGTH, system)} to {shown(b, Kind.LENGTH, system)}"
        shapes.append(Text(((a + b) / 2, -1.25 * high), words, "stretch"))
    for a, b in stretches_of(patch.extent.surely) if patch.extent.from_readings else ():
        shapes.append(Line(((a, -0.6 * high), (b, -0.6 * high)), "surely"))
    return shapes


def _lanes(zone: Zone, shelf: Shelf, x0: float, high: float) -> tuple[list[Shape], float]:
    """A lane for each instrument in use, and the top of the highest."""
    shapes: list[Shape] = []
    names = {card.id: card.name for card in shelf.instruments}
    used = tuple(dict.fromkeys(r.kind for r in zone.survey.readings))
    lane = {kind: (1.7 + 1.1 * n) * high for n, kind in enumerate(used)}
    x1 = polygon_of(zone.outline).bounds[2]
    for kind, y in lane.items():
        shapes += [Line(((x0, y), (x1, y)), "grid"), Callout((x0, y), names[kind], "left")]
    shapes += marks_of(zone.survey, shelf, lambda reading, at: (at[0], lane[reading.kind]), lane)
    return shapes, (1.7 + 1.1 * max(len(used) - 1, 0) + 1.0) * high

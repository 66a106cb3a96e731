"""``ribpatch calc straighten``, ``tapes`` and ``trace``: where things lie, from a picture, tapes or typed sides. SI."""

from __future__ import annotations

from typing import Annotated, Any

import numpy as np

from ribpatch.core.record import Limits, Record
from ribpatch.core.set_straight import How

Metres = Annotated[float, Limits(ge=-200, le=200, description="m")]
Length = Annotated[float, Limits(gt=0, le=200, description="m")]
Share = Annotated[float, Limits(ge=-1, le=6, description="of the picture's width, from its upper left corner")]
Spot = tuple[Share, Share]
Edge = Annotated[tuple[Spot, ...], Limits(min_length=3, max_length=200)]
Name = Annotated[str, Limits(min_length=1, max_length=20)]


class CalcCheck(Record):
    """Two places of the picture, and what was measured between them."""

    a: Spot
    b: Spot
    length: Length


class StraightenInput(Record):
    """Marks in a picture and what was measured between them; places to read out of it."""

    how: How = "rectangle"
    marks: Annotated[tuple[Spot, ...], Limits(min_length=4, max_length=4)]
    sizes: Annotated[tuple[Length, ...], Limits(min_length=2, max_length=6)]
    shape: Annotated[float, Limits(ge=0.05, le=20, description="height of the picture over its width")]
    x: Metres = 0.0
    y: Metres = 0.0
    turn: Annotated[float, Limits(ge=-360, le=360, description="degrees")] = 0.0
    edges: Annotated[tuple[Edge, ...], Limits(max_length=40)] = ()
    checks: Annotated[tuple[CalcCheck, ...], Limits(max_length=100)] = ()
    places: Annotated[tuple[Spot, ...], Limits(max_length=10_000)] = ()


class CalcSpan(Record):
    """One measured distance between two named points; the pins are called 1 and 2."""

    a: Name
    b: Name
    length: Length


class TapesInput(Record):
    """Distances: first that of the pins, then corners from both pins, then checks between any two."""

    spans: Annotated[tuple[CalcSpan, ...], Limits(min_length=3, max_length=400)]
    below: Annotated[tuple[Name, ...], Limits(max_length=200)] = ()


class CalcSide(Record):
    """A side: its length, its turn from straight on (to the left), the rise of its arc (to the left)."""

    length: Length
    turn: Annotated[float, Limits(ge=-360, le=360, description="degrees")] = 0.0
    rise: Metres = 0.0


class TraceInput(Record):
    """Sides one after the other from a first corner; ``rise`` is that of the side that closes the shape."""

    x: Metres = 0.0
    y: Metres = 0.0
    sides: Annotated[tuple[CalcSide, ...], Limits(min_length=2, max_length=2000)]
    rise: Metres = 0.0


def straighten(given: StraightenInput) -> dict[str, Any]:
    """Places in m, how far off each may be read, and how well the marks agree."""
    from ribpatch.core.photo.straightened import straightened
    from ribpatch.core.record import built
    from ribpatch.core.set_straight import Checked, Straight
    from ribpatch.core.units import Measure

    stated = built(
        Straight,
        how=given.how,
        marks=given.marks,
        sizes=tuple(Measure(si=v) for v in given.sizes),
        shape=given.shape,
        x=given.x,
        y=given.y,
        turn=Measure(si=given.turn),
        edges=given.edges,
        checks=tuple(built(Checked, a=c.a, b=c.b, length=Measure(si=c.length)) for c in given.checks),
    )
    made = straightened(stated)
    places = made.to_zone(np.array(given.places)) if given.places else np.zeros((0, 2))
    return {
        "places": [None if np.isnan(p).any() else [float(v) for v in p] for p in places],
        "spread": [None if np.isnan(s) else float(s) for s in (made.spread(places) if len(places) else ())],
        "camera_misfit": made.camera,
        "distance_misfit": made.misfit,
        "bow": made.bow,
        "off_straight": made.straight,
        "off_straight_before": made.bowed,
        "checks": [{"measured": c.measured, "read": c.read} for c in made.checks],
        "seen_from_behind": made.mirrored,
        "suspect": made.suspect,
    }


def tapes(given: TapesInput) -> dict[str, Any]:
    """Adjusted corners, residuals, misfit, and the worst measure."""
    from ribpatch.core.taping import FIRST, SECOND, Span, adjusted

    pins = {"1": FIRST, "2": SECOND}
    spans = tuple(Span(pins.get(s.a, s.a), pins.get(s.b, s.b), s.length) for s in given.spans)
    made = adjusted(spans, frozenset(given.below))
    back = {v: k for k, v in pins.items()}
    worst = () if made.worst is None else (made.worst.a, made.worst.b)
    return {
        "points": {back.get(name, name): list(at) for name, at in made.points.items()},
        "residuals": list(made.residuals),
        "misfit": made.misfit,
        "worst": [back.get(name, name) for name in worst] or None,
        "suspect": made.suspect,
    }


def trace(given: TraceInput) -> dict[str, Any]:
    """The ring with its arcs as chords, its area and its length round."""
    from ribpatch.core.geometry import polygon_of
    from ribpatch.core.tracing import Trace

    made = Trace().put((given.x, given.y))
    for side in given.sides:
        made = made.put(made.on(side.length, side.turn), side.rise)
    ring = made.closed(given.rise)
    return {"ring": [list(p) for p in ring], "area": polygon_of(ring).area, "round": polygon_of(ring).length}

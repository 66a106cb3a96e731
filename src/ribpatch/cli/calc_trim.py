"""``ribpatch calc trim``: how a boat floats after changes of mass. What it reads and what it answers; SI, degrees."""

from __future__ import annotations

from typing import Annotated, Any

import numpy as np

from ribpatch.core.record import Limits, Record

Breadth = Annotated[float, Limits(ge=0, le=50, description="m, half breadth")]


class CalcChange(Record):
    """Mass put on or taken off at a place: x forward of the transom, y to port."""

    mass: Annotated[float, Limits(ge=-1e6, le=1e6, description="kg; less than 0 is taken off")]
    x: Annotated[float, Limits(ge=-100, le=200, description="m")]
    y: Annotated[float, Limits(ge=-50, le=50, description="m")] = 0.0


class TrimInput(Record):
    """A waterplane, by its shape or by half breadths at the middles of even stretches from aft; and what is changed."""

    length: Annotated[float, Limits(gt=0, le=200, description="m, of the waterline")]
    beam: Annotated[float, Limits(gt=0, le=50, description="m, of the waterplane")]
    transom: Annotated[float, Limits(ge=0, le=1, description="width at the transom over the greatest")] = 0.85
    widest: Annotated[float, Limits(ge=0, le=1, description="share of the length where the bow's curve begins")] = 0.45
    bow: Annotated[float, Limits(ge=0.5, le=20, description="power of that curve")] = 2.0
    half_breadths: Annotated[tuple[Breadth, ...], Limits(max_length=2000, description="go before the shape")] = ()
    displacement: Annotated[float, Limits(gt=0, le=1e7, description="kg")]
    water: Annotated[float, Limits(gt=500, le=1500, description="kg/m3")] = 1000.0
    lowered: Annotated[float, Limits(ge=-20, le=20, description="m, centre of mass over that of buoyancy")] = 0.0
    changes: Annotated[tuple[CalcChange, ...], Limits(min_length=1, max_length=1000)]

    def check(self) -> None:
        """A waterplane has an area."""
        if self.half_breadths and max(self.half_breadths) <= 0:
            raise ValueError("every half breadth is 0: the waterplane has no area")


def trim(given: TrimInput) -> dict[str, Any]:
    """Sinkage, trim and heel."""
    from ribpatch.core.supply.floating import Change, floating, planform, waterplane

    if given.half_breadths:
        half = np.array(given.half_breadths)
        plane = planform((np.arange(len(half)) + 0.5) * given.length / len(half), half, given.length)
    else:
        plane = waterplane(given.length, given.beam, given.transom, given.widest, given.bow)
    changes = tuple(Change(c.mass, c.x, c.y) for c in given.changes)
    made = floating(plane, given.displacement, changes, given.water, given.lowered)
    volume = given.displacement / given.water
    return {
        "area": plane.area,
        "centre_of_flotation": plane.centre,
        "second_moment_along": plane.along,
        "second_moment_across": plane.across,
        "height_along": plane.along / volume,
        "height_across": plane.across / volume - given.lowered,
        "mass": made.mass,
        "centre": [made.x, made.y],
        "sinkage": made.sinkage,
        "deeper_at_transom": made.transom,
        "deeper_at_stem": made.stem,
        "heel_to_port": made.heel,
    }

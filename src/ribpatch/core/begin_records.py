"""What a job is begun with: kinds of craft with their usual proportions, and what may be wrong with a part of one."""

from __future__ import annotations

from typing import Annotated, Literal

from ribpatch.core.job import ZoneKind
from ribpatch.core.materials.records import Id
from ribpatch.core.record import Limits, Record

Metres = Annotated[float, Limits(gt=0, le=60)]
Share = Annotated[float, Limits(gt=0, le=2)]
Along = Annotated[float, Limits(ge=0, le=1)]
Shape = Literal["foredeck", "sole", "transom", "panel", "strip", "rib", "bulkhead", "keel", "corner"]


class Craft(Record):
    """A kind of small craft: lengths that are usual for it, m, and its proportions.

    ``beam`` holds a and b of beam = a x length^b; ``depth`` is a share of the beam, ``waterline`` of the length;
    ``fullness`` is her mass over length x beam x depth, kg/m3.
    """

    id: Id
    name: str
    said: str
    length: Metres
    least: Metres
    most: Metres
    beam: tuple[float, float]
    depth: Share
    waterline: Share
    fullness: Annotated[float, Limits(gt=10, le=400)]
    outboard: bool = False
    reason: str


class TroubleFitting(Record):
    """Something that usually stands there: its place as shares of the outline's box, its size in m."""

    name: str
    x: Annotated[float, Limits(ge=0, le=1)]
    y: Annotated[float, Limits(ge=0, le=1)]
    width: Metres
    height: Annotated[float, Limits(ge=0, le=5)] = 0.0
    holes: Annotated[int, Limits(ge=0, le=50)] = 0
    hole: Annotated[float, Limits(gt=0, le=0.2)] = 0.01
    outboard: bool = False  # only on a craft that carries one


class TroubleEdge(Record):
    """What usually lies along a side of its outline."""

    side: Annotated[int, Limits(ge=0, le=40)]
    name: str


class Trouble(Record):
    """Something that is wrong, and the part of the boat that it is usually found in.

    ``along`` is a share of the length overall (of the beam for what stands across), ``across`` of the beam for what
    lies flat, of the hull's depth for what stands; of a strip it is its width in m. Skins are shares of the basic shell
    thickness by the empirical number; the core is as thick as ``core_share`` of it, within the sheets that are sold.
    """

    id: Id
    name: str
    said: str
    kind: ZoneKind
    shape: Shape
    along: Share
    across: Share
    station: Along
    height: Along
    side: Literal["port", "centre", "starboard"] = "centre"
    outer: Share
    core: str = ""
    core_share: Annotated[float, Limits(ge=0, le=12)] = 0.0
    core_least: Annotated[float, Limits(ge=0, le=0.1)] = 0.0
    inner: Annotated[float, Limits(ge=0, le=2)] = 0.0
    fittings: tuple[TroubleFitting, ...] = ()
    edges: tuple[TroubleEdge, ...] = ()
    first: tuple[str, ...]
    depth: Annotated[float, Limits(ge=0, lt=1)] = 0.0  # of the laminate, where the damage does not go through
    reason: str

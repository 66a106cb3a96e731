"""What acts on a zone's panel, case by case. SI; deflection counts along the load, pulls lift it."""

from __future__ import annotations

from math import cos, radians, sin
from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.numerals import general
from ribpatch.core.structure.panel_records import Box, PlateLoad
from ribpatch.core.structure.pressure import area_of, design_pressure, size_of
from ribpatch.core.structure.transom import engine_cases

if TYPE_CHECKING:
    from ribpatch.core.job import Boat, Fitting, Zone
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.structure.zone_panel import ZonePanel

MOST_PULLS = 3


class Case(Struct, frozen=True):
    """One load case; ``limited`` says whether its deflection is held against a limit, ``pad`` what presses, m2.

    ``stiff`` marks what presses through a stiff base, ``all_over`` pressure on the whole panel.
    """

    key: str
    name: str
    loads: tuple[PlateLoad, ...]
    how: str
    limited: bool = False
    pad: float = 0.0
    stiff: bool = False
    all_over: bool = False
    short: str = ""

    @property
    def force(self) -> float:
        """All of it along the deflection, N."""
        return sum(load.force for load in self.loads)


def spot_of(zone: Zone, panel: ZonePanel) -> tuple[float, float]:
    """Where a person stands, in the panel's axes, m: as stated, else on the largest bad area, else the middle."""
    loads = zone.proof.loads
    if loads.x is not None and loads.y is not None:
        return panel.inside(loads.x, loads.y)
    return panel.bad_areas[0].centre if panel.bad_areas else (panel.a / 2, panel.b / 2)


def cases_of(zone: Zone, panel: ZonePanel, boat: Boat, shelf: Shelf) -> tuple[Case, ...]:
    """The load cases of a zone, by its kind and by what is stated."""
    made: list[Case] = []
    loads = zone.proof.loads
    if zone.is_walked_on:
        foot = shelf.rule("prove.foot")
        pad = panel.box_round(spot_of(zone, panel), (foot, foot))
        area = pad.size[0] * pad.size[1]
        person = loads.person.si
        made.append(
            Case("stand", "a person standing", (PlateLoad(pad, person),), "on both feet", True, area, short="Standing")
        )
        made.append(
            Case(
                "jump",
                "a landing",
                (PlateLoad(pad, person * loads.jump.si),),
                f"{general(loads.jump.si)} times",
                False,
                area,
                short="Landing",
            )
        )
    pulled = [f for f in zone.fittings if f.pull is not None and not f.opening]
    for fitting in sorted(pulled, key=lambda f: -(f.pull.si if f.pull else 0.0))[:MOST_PULLS]:
        made.append(_pull(zone, panel, fitting))
    if zone.is_shell or loads.pressure is not None:
        made.append(_pressed(zone, panel, boat))
    if zone.kind == "transom" and zone.proof.engine is not None:
        made += [
            Case(e.key, e.name, e.loads, e.how, e.key == "thrust", e.pad, stiff=True, short=e.key.capitalize())
            for e in engine_cases(zone.proof.engine, panel, shelf)
        ]
    return tuple(made)


def _pull(zone: Zone, panel: ZonePanel, fitting: Fitting) -> Case:
    """The pull of a fitting's line: it lifts by its rise, and tilts the base by its height over the panel."""
    loads = zone.proof.loads
    force = fitting.pull.si if fitting.pull is not None else 0.0
    rise = radians(loads.lift.si)
    x0, y0, x1, y1 = fitting.shape.bounds
    at = panel.inside((x0 + x1) / 2, (y0 + y1) / 2)
    box = panel.box_round(at, (max(x1 - x0, 0.02), max(y1 - y0, 0.02)))
    load = PlateLoad(box, -force * sin(rise), my=force * cos(rise) * loads.lever.si)
    how = f"its line {general(loads.lift.si)}° up, at the height stated"
    return Case(
        f"pull.{fitting.id}", f"pull on {fitting.name}", (load,), how, stiff=True, short=f"Pull: {fitting.name}"
    )


def _pressed(zone: Zone, panel: ZonePanel, boat: Boat) -> Case:
    stated = zone.proof.loads.pressure
    if stated is not None:
        value, how = stated.si, "as stated"
    else:
        value, how = zone_pressure(zone, panel, boat), "by the pressure rule"
    whole = Box(0, 0, panel.a, panel.b)
    return Case(
        "pressure",
        "pressure",
        (PlateLoad(whole, value * panel.a * panel.b),),
        how,
        True,
        all_over=True,
        short="Pressure",
    )


def zone_pressure(zone: Zone, panel: ZonePanel, boat: Boat) -> float:
    """Design pressure of a zone's panel by the rule, Pa."""
    station = zone.place.station.si + (0.0 if zone.is_across else panel.a / 2)
    height = zone.place.height.si + (0.0 if zone.is_walked_on else panel.b / 2)
    return design_pressure(size_of(boat), area_of(zone, boat), (panel.a, panel.b), station, height).value

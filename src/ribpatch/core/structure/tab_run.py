"""Tabbing along a joint: what the panel behind hands on a metre, against its legs and its plies. SI. Source: [21].

Half the pressure on each side of the joint goes through it, shared by a tab on either side. Valid for straight joints
whose load is even along them; at hard ends it is more.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.laminate.strength import failures
from ribpatch.core.structure.pressure import design_pressure, size_of
from ribpatch.core.structure.proved import Check
from ribpatch.core.structure.zone_panel import STATES, State
from ribpatch.core.units import Kind

if TYPE_CHECKING:
    from ribpatch.core.job import Boat, Zone
    from ribpatch.core.laminate.layup import Layup
    from ribpatch.core.materials.shelf import Shelf

TAB = "line load ÷ both tabs, against the bond and the plies [21]"


class TabRun(Struct, frozen=True, eq=False):
    """A tabbed joint: the old and the new tab (none where no plies are chosen), legs m, line load N/m."""

    zone: Zone
    shelf: Shelf
    old: Layup
    new: Layup | None
    old_leg: float
    new_leg: float
    load: float
    length: float
    bad: float  # of it, m

    @property
    def states(self) -> tuple[State, ...]:
        """The states that there are."""
        return STATES if self.new is not None else STATES[:2]

    def layup(self, state: State) -> Layup:
        """The tab in a state."""
        return self.new if state == "repaired" and self.new is not None else self.old

    def mat_only(self, state: State) -> bool:
        """Whether there is nothing but mat in it."""
        return all(s.name == "mat" for s in self.layup(state).sheets)

    def checks_in(self, state: State) -> tuple[Check, ...]:
        """Legs and plies; over its bad length the joint carries nothing."""
        layup, scheme, shelf = self.layup(state), self.zone.scheme, self.shelf
        leg = self.new_leg if state == "repaired" else self.old_leg
        resin, how = shelf.resin(scheme.resin.main), shelf.preparation(scheme.bond.preparation)
        limit = resin.bond_shear * how.factor / scheme.bond.factor.si
        # What is bad carries nothing: what is left of the joint takes all of it.
        load = self.load * (self.length / max(self.length - self.bad, 0.02 * self.length) if state == "damaged" else 1)
        breaks = next(f.breaks for f in failures(layup) if f.load == "tension across")
        factor = shelf.rule("prove.factor.strain")
        note = (
            "nothing but mat: a third of its weight is glass, and it cracks first at the corner"
            if self.mat_only(state)
            else ""
        )
        least = max(shelf.rule("tab.times") * layup.thickness, shelf.rule("tab.least"))
        return (
            Check("bond", "bond of the legs", load / (2 * leg), limit, Kind.STRESS, "pressure", TAB),
            Check("plies", "pull in the plies", load / 2, breaks / factor, Kind.TENSION, "pressure", TAB, note),
            Check(
                "leg",
                "thickness over leg",
                layup.thickness / leg,
                layup.thickness / least,
                Kind.FACTOR,
                "rule of practice",
                "the longest leg against 10 thicknesses and 50 mm",
            ),
        )


def tab_run(
    zone: Zone, layups: tuple[Layup, Layup | None], leg: float, lengths: tuple[float, float], boat: Boat, shelf: Shelf
) -> TabRun:
    """The joint of a zone: ``leg`` is the longest of the new tab, ``lengths`` are the joint's and its bad part's, m."""
    stated, spacing = zone.proof.loads.pressure, zone.proof.run.spacing.si
    station, height = zone.place.station.si, zone.place.height.si
    pressure = (
        stated.si
        if stated is not None
        else design_pressure(size_of(boat), "side", (1.0, spacing), station, height, stiffener=True).value
    )
    least = shelf.rule("tab.least")
    return TabRun(zone, shelf, layups[0], layups[1], least, max(leg, least * 0.1), pressure * spacing, *lengths)

"""What stands for a zone: a panel or a beam with its loads, and all that is worked out of it, when it is asked for."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.errors import BadStructure
from ribpatch.core.geometry import polygon_of
from ribpatch.core.structure.cases import cases_of, spot_of
from ribpatch.core.structure.laminates import Bad, built_laminate, rebuilt_laminate
from ribpatch.core.structure.proved import Proved
from ribpatch.core.structure.run import RunModel, run_model
from ribpatch.core.structure.trial import Expected, Explained, explain, reading_at
from ribpatch.core.structure.zone_panel import State, panel_box, zone_panel
from ribpatch.core.survey.extent import stretches_of

if TYPE_CHECKING:
    from ribpatch.core.figure import Figure
    from ribpatch.core.job import Boat, Zone
    from ribpatch.core.laminate.comparison import LaminateComparison
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.repair import Patch
    from ribpatch.core.structure.tab_run import TabRun

BETWEEN = (1.0, 0.5)  # m, a usual panel between stiffeners, for the parts of the boat that the zone is not


class ZoneStrength(Struct, frozen=True, eq=False, dict=True):
    """A zone as a structure. What cannot be worked out raises BadStructure where it is asked for."""

    zone: Zone
    boat: Boat
    patch: Patch
    comparison: LaminateComparison | None
    shelf: Shelf

    @cached_property
    def bad(self) -> Bad:
        """What most of the damage is, by the survey; rotted (the worst for a core) where nothing tells."""
        from ribpatch.core.survey.figures import kind_figures

        areas = {f.id.rpartition(".")[2]: f.value for f in kind_figures(self.zone, self.shelf, self.zone.id)}
        kinds: tuple[Bad, ...] = ("rotted", "wet", "disbonded")
        most = max(kinds, key=lambda kind: areas.get(kind, 0.0))
        return most if areas.get(most, 0.0) > 0 else "rotted"

    @cached_property
    def proved(self) -> Proved | None:
        """The panel under its loads; None for a run, or where nothing loads it."""
        zone, held = self.zone, self.comparison
        if zone.is_run:
            return None
        old = built_laminate(zone.rebuilt_skin, zone.other_skin, zone.build.core, self.boat.year, self.shelf)
        new = rebuilt_laminate(held.new_sandwich, held.skin.new) if held is not None else None
        wall = held.skin.new if held is not None else old.layup if old.sandwich is None else old.sandwich.above
        panel = zone_panel(zone, self.patch, old, new, wall, self.bad)
        cases = cases_of(zone, panel, self.boat, self.shelf)
        return Proved(zone, panel, cases, self.shelf) if cases else None

    @cached_property
    def run(self) -> RunModel | None:
        """The zone as a beam; None where it is no stringer."""
        from ribpatch.core.laminate.original import skin_layup

        zone, held = self.zone, self.comparison
        if not zone.is_beam:
            return None
        old = skin_layup(zone.rebuilt_skin, self.boat.year, self.shelf)
        core = self.shelf.core(zone.scheme.core.material) if zone.scheme.core.material else None
        walls = (old, held.skin.new if held is not None else old)
        return run_model(zone, self.patch, walls, core, self.boat, self.shelf)

    @cached_property
    def tab(self) -> TabRun | None:
        """The zone as a tabbed joint; None where it is none."""
        from ribpatch.core.laminate.original import skin_layup
        from ribpatch.core.patch.tabbing import tab_section
        from ribpatch.core.structure.tab_run import tab_run

        zone, held, rule = self.zone, self.comparison, self.shelf.rule
        if not zone.is_tabbed:
            return None
        tabbing, leg = zone.scheme.laminate.tabbing, rule("tab.least")
        if tabbing is not None:
            leg = tab_section(self.patch.stack, tabbing, rule("tab.times"), rule("tab.least")).leg
        old = skin_layup(zone.rebuilt_skin, self.boat.year, self.shelf)
        x0, _, x1, _ = polygon_of(zone.outline).bounds
        lengths = x1 - x0, sum(b - a for a, b in stretches_of(self.patch.extent.likely))
        return tab_run(zone, (old, held.skin.new if held is not None else None), leg, lengths, self.boat, self.shelf)

    @property
    def model(self) -> Proved | RunModel | TabRun | None:
        """The panel, the beam or the joint, or nothing."""
        return (self.run or self.tab) if self.zone.is_run else self.proved

    @cached_property
    def fault(self) -> str:
        """Why it cannot be worked out, in words; empty where it can."""
        try:
            model = self.model
            if isinstance(model, Proved):
                model.fields(model.states[-1])
            elif model is not None:
                model.checks_in(model.states[-1])
        except BadStructure as fault:
            return fault.sentence
        return ""

    @cached_property
    def trial_place(self) -> tuple[float, float]:
        """Where the load test presses, in the panel's axes, m."""
        trial, proved = self.zone.proof.trial, self.proved
        assert proved is not None
        if trial.x is not None and trial.y is not None:
            return proved.panel.inside(trial.x, trial.y)
        return spot_of(self.zone, proved.panel)

    @cached_property
    def expected(self) -> dict[State, Expected]:
        """What the load test should read in every state; nothing where the zone is no panel."""
        if self.fault or self.proved is None:
            return {}
        trial, panel = self.zone.proof.trial, self.proved.panel
        force, pad = trial.force.si, trial.pad.si
        return {s: reading_at(panel, s, self.trial_place, force, pad, self.shelf) for s in self.proved.states}

    @cached_property
    def explained(self) -> dict[str, Explained]:
        """What every measured flex says, by its id."""
        if self.fault or self.proved is None:
            return {}
        return {f.id: explain(self.proved.panel, f, self.shelf) for f in self.zone.proof.flexes}

    @property
    def between(self) -> tuple[float, float]:
        """The panel between stiffeners that the pressure rule is asked for on the zone's own part of the boat, m."""
        if self.zone.is_run:
            return max(BETWEEN[0], self.zone.proof.run.spacing.si), self.zone.proof.run.spacing.si
        _, _, a, b, _ = panel_box(self.zone)
        return a, b

    @cached_property
    def figures(self) -> tuple[Figure, ...]:
        """Every figure of the zone's strength."""
        from ribpatch.core.structure.figures import prove_figures

        return prove_figures(self, self.zone.id)

    @cached_property
    def by_id(self) -> dict[str, Figure]:
        """Figures by their id without prefix."""
        return {f.id.removeprefix(f"{self.zone.id}.prove."): f for f in self.figures}

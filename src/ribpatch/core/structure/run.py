"""A stringer, frame, floor or beam: its section on the plating, its span and what it carries, in three states. SI.

The walls are the laminate that the zone states, the new ones that of the scheme. What fills them counts only where it
is stated to: a former carries nothing. Bad stretches lose the filling's stiffness; a splice is as strong as its taper
lets the bond be. Source: [24], [25].
"""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.geometry import polygon_of
from ribpatch.core.numerals import fixed, general
from ribpatch.core.patch.access.sides import from_above
from ribpatch.core.patch.bonding.shear_lag import Glue, bond_use, mean_stresses
from ribpatch.core.record import evolve, evolve_in
from ribpatch.core.structure.beam import Beam, BeamAnswer, BeamLoad, End, Prop, Stretch, solve_beam
from ribpatch.core.structure.members import moduli
from ribpatch.core.structure.panel_records import refusal
from ribpatch.core.structure.pressure import Area, area_of, design_pressure, size_of
from ribpatch.core.structure.proved import Check
from ribpatch.core.structure.scantlings import shell_thickness
from ribpatch.core.structure.section import Section, SectionPart, effective_width
from ribpatch.core.structure.transom import GRAVITY
from ribpatch.core.structure.zone_panel import STATES, State
from ribpatch.core.survey.extent import stretches_of
from ribpatch.core.units import Kind, usual

if TYPE_CHECKING:
    from ribpatch.core.job import Boat, Zone
    from ribpatch.core.laminate.layup import Layup
    from ribpatch.core.materials.records import Core
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.repair import Patch
    from ribpatch.core.scheme import Timber
    from ribpatch.core.units import Measure

_ENDS: dict[str, End] = {"supported": "S", "clamped": "C"}
GIVEN = 1000.0  # N, under which a beam on posts is stated to give
BEAM = "beam with shear, integrated along [24]; section on effective plating [25]"


class RunModel(Struct, frozen=True, eq=False, dict=True):
    """A run as a beam: where it begins along the zone, its span, sections by state, bad and rebuilt stretches, m."""

    zone: Zone
    boat: Boat
    shelf: Shelf
    start: float
    span: float
    old: Section
    bad: Section
    new: Section | None
    bad_stretches: tuple[tuple[float, float], ...]
    new_stretches: tuple[tuple[float, float], ...]
    walls: tuple[Layup, Layup]  # old, new
    plating: float
    assumed: tuple[str, ...]
    notched: tuple[Section, Section] | None = None  # as it stands, and with a strip beside it
    beside: tuple[Section, Section] | None = None  # what is kept and what is bad, with a strip beside it

    @property
    def kept(self) -> Section:
        """What the repair leaves of the run, m."""
        return self.old if self.beside is None else self.beside[0]

    @property
    def left_bad(self) -> Section:
        """What it leaves where the run is bad."""
        return self.bad if self.beside is None else self.beside[1]

    @property
    def states(self) -> tuple[State, ...]:
        """The states that there are."""
        return STATES if self.new is not None else STATES[:2]

    @cached_property
    def load(self) -> tuple[BeamLoad, ...]:
        """Pressure over its spacing, and the mass that stands on it."""
        run = self.zone.proof.run
        made = [BeamLoad(0.0, self.span, self.pressure * run.spacing.si * self.span)]
        if run.mass is not None and run.mass.si > 0:
            low, high = self.foot
            made.append(BeamLoad(low, high, run.mass.si * GRAVITY * run.factor.si))
        return tuple(made)

    @property
    def foot(self) -> tuple[float, float]:
        """Where the mass stands along the span, m: under the widest fitting, else on the middle third."""
        tray = max(self.zone.fittings, key=lambda f: f.width.si, default=None)
        if tray is None:
            return self.span / 3, 2 * self.span / 3
        x0, _, x1, _ = tray.shape.bounds
        low, high = (min(max(v - self.start, 0.0), self.span) for v in (x0, x1))
        return (low, high) if high > low else (self.span / 3, 2 * self.span / 3)

    @property
    def pressure(self) -> float:
        """On the plating, Pa: as stated, else by the rule for a stiffener."""
        stated = self.zone.proof.loads.pressure
        if stated is not None:
            return stated.si
        area: Area = "bottom" if self.zone.is_beam else area_of(self.zone, self.boat)
        station = self.zone.place.station.si + (0.0 if self.zone.is_across else self.start + self.span / 2)
        sides = (self.span, self.zone.proof.run.spacing.si)
        return design_pressure(
            size_of(self.boat), area, sides, station, self.zone.place.height.si, stiffener=True
        ).value

    def beam(self, state: State) -> Beam:
        """The beam in a state."""
        run, support, repaired = self.zone.proof.run, self.zone.scheme.support, state == "repaired"
        rows: list[Stretch] = []
        if state != "before":
            bad = self.left_bad if repaired else self.bad
            rows += [_stretch(bad, *s) for s in self.bad_stretches]
        if repaired and self.new is not None:
            rows += [_stretch(self.new, *s) for s in self.new_stretches]
        if self.notched is not None and run.notch is not None:
            at = self.span / 2 if run.notch_at is None else run.notch_at - self.start
            low, high = max(at - 1.5 * run.notch.si, 0.0), min(at + 1.5 * run.notch.si, self.span)
            rows.append(_stretch(self.notched[repaired], low, high))
        props = [Prop(run.prop - self.start)] if run.prop is not None else []
        if repaired and support.post is not None:
            props.append(Prop(support.post - self.start, GIVEN / self.gives if self.gives > 0 else None))
        ends = (_ENDS[run.first], _ENDS[run.last])
        base = self.kept if repaired else self.old
        return Beam(self.span, base.EI, ends, _finite(base.GA), tuple(rows), tuple(props))

    @property
    def gives(self) -> float:
        """How much a beam on posts gives under ``GIVEN``, m: its posts as stated, and its timber by its section."""
        support = self.zone.scheme.support
        bends = timber_gives(support.timber, self.shelf.rule("beam.modulus")) if support.timber is not None else 0.0
        return support.gives.si + bends

    @cached_property
    def answers(self) -> dict[State, BeamAnswer]:
        """The beam solved in every state. Raises BadStructure."""
        return {state: solve_beam(self.beam(state), self.load) for state in self.states}

    def section_at(self, state: State, x: float) -> Section:
        """The section at a place along the span, m."""
        run = self.zone.proof.run
        if self.notched is not None and run.notch is not None:
            at = self.span / 2 if run.notch_at is None else run.notch_at - self.start
            if abs(x - at) <= 1.5 * run.notch.si:
                return self.notched[state == "repaired"]
        if state == "repaired" and self.new is not None and any(a <= x <= b for a, b in self.new_stretches):
            return self.new
        whole, bad = (self.kept, self.left_bad) if state == "repaired" else (self.old, self.bad)
        return bad if state != "before" and any(a <= x <= b for a, b in self.bad_stretches) else whole

    def checks_in(self, state: State) -> tuple[Check, ...]:
        """Every check in one state."""
        return _checks(self, state)


def _finite(value: float) -> float | None:
    return value if np.isfinite(value) else None


def _stretch(section: Section, start: float, end: float) -> Stretch:
    return Stretch(start, end, section.EI, _finite(section.GA))


def timber_gives(timber: Timber, modulus: float) -> float:
    """How much a timber beam bends under ``GIVEN`` at its middle, m; its ends turn freely on the posts."""
    b, h, L = timber.width.si, timber.height.si, timber.span.si
    # Its shear too: G of timber along the grain is a sixteenth of E.
    return GIVEN * L**3 / (4 * modulus * b * h**3) + GIVEN * L * 1.2 * 16 / (4 * modulus * b * h)


def run_model(
    zone: Zone, patch: Patch, walls: tuple[Layup, Layup], core: Core | None, boat: Boat, shelf: Shelf
) -> RunModel:
    """The beam of a run: ``walls`` as they are and as rebuilt; ``core`` the new one. Raises BadStructure."""
    run = zone.proof.run
    x0, _, x1, _ = polygon_of(zone.outline).bounds
    length = x1 - x0
    span = min(run.span.si, length * 4) if run.span is not None else length
    start = x0 + (length - span) / 2
    assumed = tuple(
        name
        for name, stated in (("span", run.span), ("plating", run.plating), ("height", run.height), ("crown", run.crown))
        if stated is None
    )
    if run.prop is not None and not start < run.prop < start + span:
        raise refusal(
            "the post stands outside the span", f"place it between {general(start)} and {general(start + span)} m"
        )
    plating = run.plating.si if run.plating is not None else shell_thickness(boat)
    filling = shelf.core(zone.build.core.core) if zone.build.core is not None else None
    old = run_section(zone, walls[0], filling, 1.0, plating, shelf)
    left = _left(filling) if filling is not None else 1.0
    bad = run_section(zone, walls[0], filling, left, plating, shelf)
    # From above the walls stand: the new core alone makes it another beam.
    support, changed = zone.scheme.support, walls[1] is not walls[0] or (from_above(zone) and patch.renews_core(zone))
    if support.post is not None and not start < support.post < start + span:
        raise refusal(
            "the beam on posts lies outside the span",
            f"place it between {general(start)} and {general(start + span)} m",
        )
    beside = None
    if support.sister is not None:
        beside = (
            run_section(zone, walls[0], filling, 1.0, plating, shelf, support.sister),
            run_section(zone, walls[0], filling, left, plating, shelf, support.sister),
        )
    new = None
    if changed or support.stated:
        put_in = core or filling if changed else filling
        new = run_section(zone, walls[1], put_in, 1.0, plating, shelf, support.sister)
    inside = _within(stretches_of(patch.extent.likely), start, span)
    cut = _within(stretches_of(patch.cut.region), start, span) if changed else ()
    notched = None
    if run.notch is not None:
        if run.notch_at is not None and not start < run.notch_at < start + span:
            raise refusal(
                "the notch lies outside the span", f"place it between {general(start)} and {general(start + span)} m"
            )
        lower = evolve_in(zone.proof, "run", height=usual(max(_height(zone) - run.notch.si, 4 * walls[0].thickness)))
        cut_down = evolve(zone, proof=lower)
        alone, with_strip = (
            run_section(cut_down, walls[0], filling, 1.0, plating, shelf, sister) for sister in (None, support.sister)
        )
        notched = alone, with_strip
    return RunModel(
        zone, boat, shelf, start, span, old, bad, new, inside, cut, walls, plating, assumed, notched, beside
    )


def _left(core: Core) -> float:
    """Share of a core's stiffness that is left where it is wet to rotted: the middle of its range."""
    return 1 - sum(core.wet_loss) / 2


def _height(zone: Zone) -> float:
    """Height of the section, m: as stated, else the zone's."""
    _, y0, _, y1 = polygon_of(zone.outline).bounds
    return zone.proof.run.height.si if zone.proof.run.height is not None else y1 - y0


def _within(stretches: tuple[tuple[float, float], ...], start: float, span: float) -> tuple[tuple[float, float], ...]:
    clipped = ((min(max(a - start, 0.0), span), min(max(b - start, 0.0), span)) for a, b in stretches)
    return tuple((a, b) for a, b in clipped if b - a > 1e-4)


def run_section(
    zone: Zone,
    wall: Layup,
    filling: Core | None,
    left: float,
    plating: float,
    shelf: Shelf,
    sister: Measure | None = None,
) -> Section:
    """The section of a run on the plating that works with it; heights from the plating up.

    A hat and a box have two webs round what fills them, the others one; a flat is all wall. ``sister`` is a strip of
    the wall's laminate beside it.
    """
    run, t = zone.proof.run, wall.thickness
    inner = zone.build.core.thickness.si if zone.build.core is not None else 0.0
    height = _height(zone)
    crown = run.crown.si if run.crown is not None else inner + 2 * t
    height, crown = max(height, 2 * t), max(crown, 2 * t)
    E, G = moduli(wall, "x")
    low = min(run.limber.si, height - t - 1e-3) if run.limber.si > 0 else 0.0
    flange = run.flange.si if run.kind != "box" else 0.0
    legs = {"angle": 1, "flat": 0, "box": 0}.get(run.kind, 2)
    width = effective_width(plating, crown + legs * flange, run.spacing.si, shelf.rule("prove.plating"))
    parts = [SectionPart("plating", width, plating, -plating, E, 0.0)]
    if run.kind == "flat":
        parts.append(SectionPart("web", crown, height - low, low, E, G))
    else:
        webs = 2 if run.kind in ("hat", "box") else 1
        parts.append(SectionPart("webs" if webs == 2 else "web", webs * t, height - t - low, low, E, G))
        parts.append(SectionPart("crown", crown, t, height - t, E, 0.0))
    if legs and flange > 0:
        parts.append(SectionPart("flanges" if legs == 2 else "flange", legs * flange, t, 0.0, E, 0.0))
    if run.counted and filling is not None and crown > 2 * t and run.kind in ("hat", "box"):
        E_core, G_core = filling.modulus * left, filling.shear_modulus * left
        parts.append(SectionPart("filling", crown - 2 * t, height - t - low, low, E_core, G_core))
    if sister is not None:
        parts.append(SectionPart("sister", sister.si, height - low, low, E, G))
    made = Section(tuple(parts))
    made.check()
    return made


def _checks(model: RunModel, state: State) -> tuple[Check, ...]:
    answer, shelf = model.answers[state], model.shelf
    w, _ = answer.greatest(answer.w)
    limit = model.span * shelf.rule("prove.limit.run")
    found = [Check("deflection.run", "deflection", w, limit, Kind.SIZE, "pressure and what stands on it", BEAM)]
    factor = shelf.rule("prove.factor.strain")
    strains = np.array(
        [
            abs(m) / s.EI * max(s.top - s.neutral, s.neutral - s.bottom)
            for m, s in zip(answer.m, (model.section_at(state, float(x)) for x in answer.x), strict=True)
        ]
    )
    wall = model.walls[1] if state == "repaired" else model.walls[0]
    least = float(wall.limits[:, :2].min())
    found.append(
        Check(
            "strain",
            "strain at crown or plating",
            float(strains.max()) / least,
            1 / factor,
            Kind.PERCENT,
            "moment",
            "moment × distance from the neutral axis ÷ EI, against the least strain limit along the run [25]",
        )
    )
    shear = np.maximum(np.abs(answer.v), np.abs(answer.v_before))
    n = int(shear.argmax())
    section = model.section_at(state, float(answer.x[n]))
    _, G = moduli(wall, "x")
    web = section.greatest_shear(float(shear[n])) / G / float(wall.limits[:, 4].min())
    found.append(Check("web", "shear in the webs", web, 1 / factor, Kind.PERCENT, "shear force", "V S ÷ (EI b), [25]"))
    found.append(_bond(model, section, float(shear[n])))
    found += [c for c in (_splice(model, state), _bearing(model, state), _timber(model, state)) if c is not None]
    return tuple(found)


def _timber(model: RunModel, state: State) -> Check | None:
    """The timber beam on posts in bending, under what the run hands on to it."""
    support, shelf = model.zone.scheme.support, model.shelf
    timber = support.timber
    if state != "repaired" or support.post is None or timber is None:
        return None
    answer = model.answers[state]
    handed = abs(float(np.interp(support.post - model.start, answer.x, answer.w))) / model.gives * GIVEN
    stress = handed * timber.span.si / 4 / (timber.width.si * timber.height.si**2 / 6)
    method = f"{fixed(handed, 0)} N at its middle: F L ÷ 4 over b h² ÷ 6 [24]"
    limit = shelf.rule("beam.strength")
    return Check("timber", "bending of the beam on posts", stress, limit, Kind.STRESS, "what the run hands on", method)


def _splice(model: RunModel, state: State) -> Check | None:
    """The scarf where new meets old: the stress in the crown there, along its slope."""
    run, scheme, shelf = model.zone.proof.run, model.zone.scheme, model.shelf
    if state != "repaired" or run.scarfed is None or model.new is None or not model.new_stretches:
        return None
    answer = model.answers[state]
    ends = [x for stretch in model.new_stretches for x in stretch if 0 < x < model.span]
    moment = max((abs(float(np.interp(x, answer.x, answer.m))) for x in ends), default=0.0)
    E, _ = moduli(model.walls[1], "x")
    stress = moment / model.new.EI * E * max(model.new.top - model.new.neutral, model.new.neutral)
    shear, peel = mean_stresses(np.array([run.scarfed.si]), stress)
    resin, how = shelf.resin(scheme.resin.main), shelf.preparation(scheme.bond.preparation)
    glue = Glue(resin.bond_shear * how.factor, resin.bond_peel * how.factor, resin.shear_modulus, 1e-3)
    used = float(bond_use(shear, peel, glue)[0])
    method = "mean shear and peel on the scarf's slope at the stress where it begins and ends [18]"
    return Check("splice", "bond of the splice", used, 1 / scheme.bond.factor.si, Kind.PERCENT, "moment", method)


def _bearing(model: RunModel, state: State) -> Check | None:
    """What stands on the crown, on the core under it where that is soft."""
    run, build = model.zone.proof.run, model.zone.build
    if run.mass is None or run.mass.si <= 0 or build.core is None:
        return None
    chosen = model.zone.scheme.core.material if state == "repaired" else None
    core = model.shelf.core(chosen or build.core.core)
    low, high = model.foot
    crown = model.section_at(state, (low + high) / 2)
    wide = next((p.width for p in crown.parts if p.name in ("crown", "web")), 0.05)
    pressure = run.mass.si * GRAVITY * run.factor.si / max((high - low) * wide, 1e-4)
    bad = state == "damaged" and any(a < high and b > low for a, b in model.bad_stretches)
    left = _left(core) if bad else 1.0
    limit = core.compressive_strength * left / model.shelf.rule("prove.factor.core")
    method = "weight × pounding over the bearing pad, as long as what stands there and as wide as the crown"
    return Check("bearing", "bearing on the core", pressure, limit, Kind.PRESSURE, "what stands on it", method)


def _bond(model: RunModel, section: Section, shear: float) -> Check:
    """The shear flow from the plating into flanges, or tabbing where the scheme has it."""
    scheme, shelf = model.zone.scheme, model.shelf
    resin, how = shelf.resin(scheme.resin.main), shelf.preparation(scheme.bond.preparation)
    tabbing = scheme.laminate.tabbing
    width = 2 * (tabbing.first.si if tabbing is not None else model.zone.proof.run.flange.si)
    flow = abs(section.shear_flow(shear, 0.0))
    stress = flow / max(width, 2e-3)
    limit = resin.bond_shear * how.factor / scheme.bond.factor.si
    legs = "first legs of the tabbing" if tabbing is not None else "flanges"
    note = "" if width > 2e-3 else "no flange and no tabbing: nothing but the edge of the web holds it"
    return Check(
        "bond", "bond to the plating", stress, limit, Kind.STRESS, "shear force", f"V S ÷ EI over both {legs}", note
    )

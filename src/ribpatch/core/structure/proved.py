"""A zone's panel solved in its three states under every case, and what each check makes of it. SI.

Each check is a value held against a limit; its margin is the limit over the value, and 1.0 or more means that the
method finds it carried. Screening figures: they approve nothing.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

import numpy as np
from msgspec import Struct

from ribpatch.core.memo import remembered
from ribpatch.core.numerals import fixed
from ribpatch.core.structure.laminates import bad_laminate
from ribpatch.core.structure.panel_solver import solved_before
from ribpatch.core.structure.plate_elements import DEGREE
from ribpatch.core.structure.transom import bolt_tension, engine_cases, pad_pressure, washer_pressure
from ribpatch.core.structure.zone_panel import STATES, State, ZonePanel
from ribpatch.core.units import Kind

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from ribpatch.core.geometry import Floats
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.structure.cases import Case
    from ribpatch.core.structure.laminates import PanelLaminate
    from ribpatch.core.structure.panel_field import PanelField, Part, Scan
    from ribpatch.core.structure.panel_solver import Solved

    Mask = NDArray[np.bool_]

Shows = Literal["deflection", "strain", "shear"]
LIMIT_RULE = {"transom": "prove.limit.transom", "hull panel": "prove.limit.hull", "keel": "prove.limit.hull"}
SOLVER = "shear-deformable plate by hierarchic polynomials [22], [23]"
_NONE = 1e-12


class Check(Struct, frozen=True):
    """One thing held against its limit, in one state under its governing case."""

    key: str
    name: str
    value: float
    limit: float
    kind: Kind
    case: str
    method: str
    note: str = ""

    @property
    def local(self) -> bool:
        """Whether it is the crushing under something, which a plate under it answers."""
        return self.key in ("crushing", "washer", "pad")

    @property
    def margin(self) -> float:
        """Limit over value."""
        return self.limit / max(abs(self.value), _NONE)


class Proved(Struct, frozen=True, eq=False, dict=True):
    """A zone's panel with its cases; each state is solved when it is first asked for."""

    zone: Zone
    panel: ZonePanel
    cases: tuple[Case, ...]
    shelf: Shelf
    draft: bool = False  # coarser, while something is dragged: deflections within 1 %

    @property
    def states(self) -> tuple[State, ...]:
        """The states that there are: the repaired one only where the scheme says with what."""
        return STATES if self.panel.rebuilt is not None else STATES[:2]

    def fields(self, state: State, end: int = 1) -> tuple[PanelField, ...]:
        """The solved panel under each case."""
        if self.draft:
            panel, loads = self.panel.panel(state, self.shelf, end), tuple(c.loads for c in self.cases)
            return solved_before(panel, loads, DEGREE - 1).fields
        return solved(self.panel, state, end, self.cases, self.shelf).fields

    def foot(self, state: State) -> tuple[float, str]:
        """The greatest moment that a knee hands on at its foot, N m, and under which case; 0 without knees."""
        made = solved(self.panel, state, 1, self.cases, self.shelf)
        footed = [n for n, s in enumerate(made.panel.stiffeners) if s.footed]
        if not footed:
            return 0.0, ""
        feet = np.abs(made.feet[footed]).max(axis=0)
        return float(feet.max()), self.cases[int(feet.argmax())].name

    def well(self, state: State) -> tuple[float, float, str]:
        """What a well's floor and sides hold: the greatest force a length, N/m, all that they push and pull, N, and
        under which case; 0 without a well.
        """
        lines, best = self.panel.held_by_well(self.shelf), (0.0, 0.0, "")
        for case, field in zip(self.cases, self.fields(state) if lines else (), strict=False):
            flow, force = 0.0, 0.0
            for line in lines:
                assert line.start is not None and line.end is not None
                along = np.linspace(line.start, line.end, 41)
                across = np.full(41, line.place)
                held = line.k * field.at(*((along, across) if line.axis == "x" else (across, along)))["w"]
                flow = max(flow, float(np.abs(held).max()))
                force += float(np.abs(held[1:] + held[:-1]).sum()) / 2 * (along[1] - along[0])
            best = max(best, (flow, force, case.name))
        return best

    def field(self, state: State, case: str) -> PanelField:
        """The solved panel under one case."""
        return self.fields(state)[next(n for n, c in enumerate(self.cases) if c.key == case)]

    def checks_in(self, state: State) -> tuple[Check, ...]:
        """Every check in one state."""
        return checks_of(self, state)

    def shown(self, state: State, case: str, shows: Shows, nx: int, ny: int) -> Floats:
        """What a map shows on an even grid, shape (ny, nx): m, share of strain limit, share of core shear strength."""
        field = self.field(state, case)
        a, b = field.sides
        across, up = np.linspace(0, a, nx), np.linspace(0, b, ny)
        parts = field.on_grid(across, up)
        if shows == "deflection":
            return parts["w"]
        x, y = np.meshgrid(across, up)
        acting = next(c for c in self.cases if c.key == case)
        share = _strain_share(self, state, acting, x, y, parts) if shows == "strain" else None
        return _shear_share(self, state, acting, x, y, parts) if share is None else share

    def share_at(self, state: State, case: str, shows: Shows, at: tuple[float, float]) -> float:
        """Share of a limit in use at a place of the panel, m."""
        x, y = (np.array([v]) for v in at)
        parts = self.field(state, case).at(x, y)
        acting = next(c for c in self.cases if c.key == case)
        work = _strain_share if shows == "strain" else _shear_share
        return float(work(self, state, acting, x, y, parts)[0])

    def capacity(self, state: State, x: Floats, y: Floats) -> Floats:
        """Transverse shear force a width at which the core shears at places, N/m, shape of ``x``."""
        made = np.full(x.shape, self.panel.laminate.core_capacity())
        for mask, laminate in regions(self.panel, state, x, y, self.shelf):
            made[mask] = laminate.core_capacity()
        return made


def solved(panel: ZonePanel, state: State, end: int, cases: tuple[Case, ...], shelf: Shelf) -> Solved:
    """The panel of a zone solved under all its cases; one solved before is found by its values. Raises BadStructure."""
    stiff, loads = panel.panel(state, shelf, end), tuple(c.loads for c in cases)
    return solved_before(stiff, loads)


def regions(
    panel: ZonePanel, state: State, x: Floats, y: Floats, shelf: Shelf, end: int = 1
) -> list[tuple[Mask, PanelLaminate]]:
    """Masks of places with what lies there, later ones over earlier ones."""
    made: list[tuple[Mask, PanelLaminate]] = [(np.ones(x.shape, np.bool_), panel.laminate)]
    bad = bad_laminate(panel.laminate, panel.bad, panel.left, end, shelf)
    boxes = {"before": (), "damaged": panel.bad_areas, "repaired": panel.left_areas}[state]
    rows = [(box, bad) for box in boxes]
    if state == "repaired" and panel.rebuilt is not None:
        rows += [(box, panel.rebuilt) for box in panel.new_areas]
    for box, laminate in rows:
        made.append(((x > box.x0) & (x < box.x1) & (y > box.y0) & (y < box.y1), laminate))
    return made


def strain_shares(made: Proved, state: State, x: Floats, y: Floats, curvature: Floats) -> Floats:
    """Share of the first-ply strain limit at places, shape of ``x``; curvatures (..., 3) in 1/m."""
    shares = np.zeros(x.shape)
    for mask, laminate in regions(made.panel, state, x, y, made.shelf):
        if mask.any():
            shares[mask] = laminate.strain_use(curvature[mask])
    return shares


@remembered(48)
def checks_of(made: Proved, state: State) -> tuple[Check, ...]:
    """Every check of a zone's panel in a state. Raises BadStructure."""
    found: list[Check] = []
    fields = made.fields(state)
    scans = [field.scan() for field in fields]
    limit = made.panel.span * _share(made)
    for case, field, scan in zip(made.cases, fields, scans, strict=True):
        if case.limited:
            peak = field.peak("w", scan=scan)
            found.append(Check(f"deflection.{case.key}", "deflection", peak.value, limit, Kind.SIZE, case.name, SOLVER))
    some = (_strain(made, state, scans), _shear(made, state, scans), _edges(made, state), _crushing(made, state))
    found += [c for c in some if c is not None]
    return (*found, *_well(made, state), *_bolts(made, state))


def _share(made: Proved) -> float:
    stated = made.zone.proof.loads.limit
    if stated is not None:
        return 1 / stated.si
    return made.shelf.rule(LIMIT_RULE.get(made.zone.kind, "prove.limit.deck"))


def _strain(made: Proved, state: State, scans: list[Scan]) -> Check | None:
    """The worst first-ply strain of all cases."""
    best: tuple[float, str, str] = (0.0, "", "")
    for case, (x, y, parts) in zip(made.cases, scans, strict=True):
        share = _strain_share(made, state, case, x, y, parts)
        n = int(share.argmax())
        if share.flat[n] > best[0]:
            laminate = made.panel.laminate_at(state, float(x.flat[n]), float(y.flat[n]), made.shelf)
            way = laminate.strain_way(np.array([parts[k].flat[n] for k in ("kx", "ky", "kxy")]))
            best = float(share.flat[n]), case.name, way
    if not best[1]:
        return None
    limit = 1 / made.shelf.rule("prove.factor.strain")
    method = "curvature × distance from the neutral axis in every layer, against its first-ply limit [15]; first "
    return Check("strain", "strain in the faces", best[0], limit, Kind.PERCENT, best[1], method + best[2])


def _shear(made: Proved, state: State, scans: list[Scan]) -> Check | None:
    """The worst shear in the core of all cases."""
    if made.panel.laminate.sandwich is None:
        return None
    best: tuple[float, str] = (0.0, "")
    for case, (x, y, parts) in zip(made.cases, scans, strict=True):
        best = max(best, (float(_shear_share(made, state, case, x, y, parts).max()), case.name))
    limit = 1 / made.shelf.rule("prove.factor.core")
    method = (
        "shear force a width over core strength × distance between the skins' middles [17], from a panel's thickness "
        "beyond what presses"
    )
    return Check("shear", "shear in the core", best[0], limit, Kind.PERCENT, best[1], method) if best[1] else None


def _strain_share(made: Proved, state: State, case: Case, x: Floats, y: Floats, parts: dict[Part, Floats]) -> Floats:
    """Share of the first-ply limit, none under a stiff base, shape of ``x``."""
    share = strain_shares(made, state, x, y, np.stack([parts["kx"], parts["ky"], parts["kxy"]], axis=-1))
    return np.where(_under(case, x, y), 0.0, share) if case.stiff else share


def _shear_share(made: Proved, state: State, case: Case, x: Floats, y: Floats, parts: dict[Part, Floats]) -> Floats:
    """Share of the core's shear strength, none where what presses or a stiffener's foot spreads it."""
    share = np.hypot(parts["qx"], parts["qy"]) / made.capacity(state, x, y)
    spread = _under(case, x, y, made.panel.laminate.thickness) | _at_stiffeners(made, state, x, y)
    return np.where(spread, 0.0, share)


def _edges(made: Proved, state: State) -> Check | None:
    """What the held edges hand on to tabbing and neighbours, away from the corners."""
    best: tuple[float, str] = (0.0, "")
    panel, scheme = made.panel, made.zone.scheme
    t = np.linspace(0.1, 0.9, 33)
    for case, field in zip(made.cases, made.fields(state), strict=True):
        upright = field.on_grid(np.array([0.0, panel.a]), t * panel.b)["qx"]
        level = field.on_grid(t * panel.a, np.array([0.0, panel.b]))["qy"]
        flows = (upright[:, 0], upright[:, 1], level[0], level[1])
        held = [np.abs(flow).max() for flow, hold in zip(flows, panel.edges.all, strict=True) if hold != "F"]
        best = max(best, (float(max(held)), case.name))
    if not best[1]:
        return None
    tabbing = scheme.laminate.tabbing
    leg = tabbing.first.si if tabbing is not None else made.shelf.rule("tab.least")
    limit = _bond_limit(made)
    words = "the first leg of the tabbing" if tabbing is not None else "a leg of 50 mm on each side, assumed"
    method = f"shear force a width at the held edges ÷ {words}, against the bond's strength"
    return Check("edge", "bond of the edges", best[0] / (2 * leg), limit, Kind.STRESS, best[1], method)


def _bond_limit(made: Proved) -> float:
    """Strength of the scheme's resin on what it is bonded to, with the scheme's factor, Pa."""
    scheme = made.zone.scheme
    resin, how = made.shelf.resin(scheme.resin.main), made.shelf.preparation(scheme.bond.preparation)
    return resin.bond_shear * how.factor / scheme.bond.factor.si


def _well(made: Proved, state: State) -> tuple[Check, ...]:
    """What a well's floor and sides pull at their tabbing on the transom."""
    flow, force, case = made.well(state)
    well = made.panel.well
    if well is None or not case:
        return ()
    method = (
        f"k × deflection along floor and sides, {fixed(force, 0)} N of push and pull, on a leg on each face against "
        "the bond's strength; k = E × thickness ÷ length, by the share that the forward end holds"
    )
    value = flow / (2 * well.leg.si)
    return (Check("well", "bond of the well", value, _bond_limit(made), Kind.STRESS, case, method),)


def _under(case: Case, x: Floats, y: Floats, beyond: float = 0.0) -> Mask:
    """Places under what presses and ``beyond`` m round it, but for pressure all over: a base, foot or clamp carries
    the shear there, and the panel spreads it over its own thickness.
    """
    made = np.zeros(x.shape, np.bool_)
    for load in case.loads:
        b = load.box
        if not case.all_over:
            along = (x > b.x0 - beyond) & (x < b.x1 + beyond)
            made |= along & (y > b.y0 - beyond) & (y < b.y1 + beyond)
    return made


def _at_stiffeners(made: Proved, state: State, x: Floats, y: Floats) -> Mask:
    """Places within half a stiffener's foot and the panel's thickness of it: a line has no foot, and no limit there."""
    found = np.zeros(x.shape, np.bool_)
    members = (*made.panel.old_members, *(made.panel.new_members if state == "repaired" else ()))
    for member in members:
        reach = member.flange.si + member.width.si / 2 + made.panel.laminate.thickness
        along, across = (x, y) if member.axis == "x" else (y, x)
        low, foot = (made.panel.x0, made.panel.y0) if member.axis == "x" else (made.panel.y0, made.panel.x0)
        start = -np.inf if member.start is None else member.start - low
        end = np.inf if member.end is None else member.end - low
        beyond = np.maximum(np.maximum(start - along, along - end), 0.0)
        found |= np.hypot(beyond, across - (member.place - foot)) < reach
    for line in made.panel.held_by_well(made.shelf):
        assert line.start is not None and line.end is not None and made.panel.well is not None
        along, across = (x, y) if line.axis == "x" else (y, x)
        beyond = np.maximum(np.maximum(line.start - along, along - line.end), 0.0)
        reach = made.panel.well.leg.si + made.panel.laminate.thickness
        found |= np.hypot(beyond, across - line.place) < reach
    return found


def _crushing(made: Proved, state: State) -> Check | None:
    """The core under the smallest pad that presses on it."""
    sandwich = made.panel.laminate.sandwich
    rows = [(case.force / case.pad, case) for case in made.cases if case.pad > 0 and case.key != "pull"]
    if sandwich is None or not rows or made.zone.kind == "transom":
        return None
    pressure, case = max(rows, key=lambda row: row[0])
    x, y = case.loads[0].box.centre
    laminate = made.panel.laminate_at(state, x, y, made.shelf)
    core = laminate.sandwich
    if core is None:
        return None
    limit = core.core.compressive_strength * core.stiff / made.shelf.rule("prove.factor.core")
    method = "pressure under the pad, the skin's spread left out, against the core's compressive strength"
    return Check("crushing", "crushing of the core", pressure, limit, Kind.PRESSURE, case.name, method)


def _bolts(made: Proved, state: State) -> tuple[Check, ...]:
    """Washers and lower pad of an engine's clamp on the core behind the skin."""
    engine, sandwich = made.zone.proof.engine, made.panel.laminate.sandwich
    if engine is None or sandwich is None or made.zone.kind != "transom":
        return ()
    cases = engine_cases(engine, made.panel, made.shelf)
    x, y = cases[0].loads[0].box.centre
    core = made.panel.laminate_at(state, x, y, made.shelf).sandwich
    if core is None:
        return ()
    limit = core.core.compressive_strength * core.stiff / made.shelf.rule("prove.factor.core")
    washers = max((washer_pressure(engine, bolt_tension(engine, c)), c.name) for c in cases)
    pads = max((pad_pressure(c, engine), c.name) for c in cases)
    note = "a backing plate spreads it" if washers[0] > limit else ""
    method = "bolt tension from the moment over the pattern, on the washer's ring, against the core's strength"
    return (
        Check("washer", "crushing under the washers", washers[0], limit, Kind.PRESSURE, washers[1], method, note),
        Check(
            "pad", "crushing under the clamp", pads[0], limit, Kind.PRESSURE, pads[1], "moment over the clamp's height"
        ),
    )

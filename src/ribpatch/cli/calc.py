"""``ribpatch calc NAME``: one method, checked by anyone. JSON on standard input, JSON on standard output, SI."""

from __future__ import annotations

import json
import sys
from typing import TYPE_CHECKING, Any

import numpy as np

from ribpatch.cli import (
    calc_clock,
    calc_mix,
    calc_nest,
    calc_outline,
    calc_resin,
    calc_schedule,
    calc_sheets,
    calc_trim,
)
from ribpatch.cli import calc_inputs as inputs
from ribpatch.core.errors import Fault, InvalidValue, ManyFaults
from ribpatch.core.record import Record, faults_of, read_as, reader

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.laminate.plate import Plate
    from ribpatch.core.structure.panel_field import PanelField
    from ribpatch.core.structure.panel_records import Stiffness

MOST_READ = 4_000_000  # signs of one input
SCREENING = (
    "Screening figures in SI. Local codes, data sheets, a licensed surveyor or naval architect decide; a figure is no "
    "approval."
)


def calculate(name: str, text: str) -> dict[str, Any]:
    """The answer of a method to JSON text. Raises Fault where it cannot be read or worked out."""
    model, work = METHODS[name]
    given = _read(model, text)
    try:
        with np.errstate(all="ignore"):
            answer = work(given)
    except (ArithmeticError, np.linalg.LinAlgError, ValueError, IndexError) as error:
        raise _too_far(error) from None
    if not _finite(answer):
        raise _too_far(None)
    return {"method": name, **answer, "note": SCREENING}


def _too_far(error: Exception | None) -> Fault:
    said = f" ({error})" if error is not None and str(error) else ""
    return Fault(reason=f"The numbers given are too small, too large or too far apart to be worked out{said}.")


def schema(name: str) -> dict[str, Any]:
    """The JSON Schema of what a method reads."""
    return reader(METHODS[name][0]).json_schema()


def _read(model: type[Record], text: str) -> Record:
    from pydantic import ValidationError

    if len(text) > MOST_READ:
        raise InvalidValue("the input", reason=f"the text is longer than {MOST_READ} signs")
    try:
        value = json.loads(text, parse_constant=_no_constant)
    except RecursionError:
        raise InvalidValue("the input", reason="the JSON is nested too deeply") from None
    except ValueError as error:
        raise InvalidValue("the input", reason=f"this is no JSON: {error}") from None
    if not isinstance(value, dict):
        raise InvalidValue("the input", reason="give one JSON object; --schema tells its fields")
    try:
        return read_as(model, value)
    except ValidationError as error:
        faults = faults_of(error)
        raise faults[0] if len(faults) == 1 else ManyFaults(faults) from None


def _no_constant(name: str) -> float:
    raise ValueError(f"{name} is no number")


def stiffness_of_layers(layers: tuple[inputs.CalcLayer, ...]) -> tuple[Plate, Stiffness]:
    """The plate of layers and its stiffness about its neutral axes; a core alone gives the transverse shear."""
    from ribpatch.core.laminate.plate import plate, reduced, turned
    from ribpatch.core.structure.panel_records import Stiffness
    from ribpatch.core.structure.stiffness import bending_about_neutral, layered_shear, sandwich_shear

    e1 = np.array([x.E1 for x in layers])
    e2 = np.array([x.E2 or x.E1 for x in layers])
    nu = np.array([x.nu12 for x in layers])
    g12 = np.array([x.G12 or x.E1 / (2 * (1 + x.nu12)) for x in layers])
    if (nu**2 * e2 / e1 >= 1).any():
        raise InvalidValue("layers", reason="nu12 is too large for E1 and E2: no material is so")
    t, angles = np.array([x.thickness for x in layers]), np.array([x.angle for x in layers])
    whole = plate(turned(reduced(e1, e2, g12, nu), angles), t)
    g13 = np.array([x.G13 or g for x, g in zip(layers, g12, strict=True)])
    g23 = np.array([x.G23 or g for x, g in zip(layers, g13, strict=True)])
    cores = np.array([x.core for x in layers])
    shear = sandwich_shear(t, angles, g13, g23, cores) if cores.any() else layered_shear(t, angles, g13, g23)
    return whole, Stiffness(bending_about_neutral(whole), shear)


def _stiffness(stated: inputs.CalcStiffness) -> Stiffness:
    from ribpatch.core.structure.panel_records import Stiffness

    if stated.D is None:
        return stiffness_of_layers(stated.stack)[1]
    return Stiffness(np.array(stated.D, float), np.array(stated.S, float))


def _panel(given: inputs.PanelInput) -> dict[str, Any]:
    from ribpatch.core.structure.mesh import FINE, mesh_of
    from ribpatch.core.structure.panel_records import (
        Box,
        Edges,
        Panel,
        PlateLoad,
        PlateSpring,
        PlateStiffener,
        SoftZone,
    )
    from ribpatch.core.structure.panel_solver import solve_panel
    from ribpatch.core.structure.plate_elements import DEGREE

    e = given.edges
    panel = Panel(
        given.a,
        given.b,
        Edges(e.left, e.right, e.bottom, e.top),
        _stiffness(given.stiffness),
        tuple(SoftZone(Box(z.x0, z.y0, z.x1, z.y1), _stiffness(z)) for z in given.zones),
        tuple(PlateStiffener(s.axis, s.place, s.EI, s.start, s.end) for s in given.stiffeners),
        tuple(PlateSpring(s.axis, s.place, s.k, s.start, s.end) for s in given.springs),
    )
    loads = []
    for x in given.loads:
        area = (x.x1 - x.x0) * (x.y1 - x.y0)
        force = x.force if x.force is not None else (x.pressure or 0.0) * area
        loads.append(PlateLoad(Box(x.x0, x.y0, x.x1, x.y1), force, x.mx, x.my))
    off = [p for p in given.points if p[0] > given.a * (1 + 1e-9) or p[1] > given.b * (1 + 1e-9)]
    if off:
        raise InvalidValue("points", reason=f"({off[0][0]:g}, {off[0][1]:g}) lies off the panel")
    every = tuple(loads)
    panel.check(every)
    field = solve_panel(panel, (every,), DEGREE, mesh_of(panel, every, *FINE)).field
    return {"force": sum(x.force for x in loads), "max": _peaks(field), "points": _points(field, given.points)}


UNITS = {"w": "m", "m": "N m/m", "q": "N/m", "k": "1/m"}


def _peaks(field: PanelField) -> dict[str, Any]:
    from ribpatch.core.structure.panel_field import PARTS

    made: dict[str, Any] = {}
    for part in PARTS:
        peak = field.peak(part)
        made[part] = {"value": peak.value, "unit": UNITS[part[0]], "x": peak.x, "y": peak.y}
        if part[0] == "m":
            made[part] |= {"most": field.peak(part, 1).value, "least": field.peak(part, -1).value}
    return made


def _points(field: PanelField, points: tuple[tuple[float, float], ...]) -> list[dict[str, float]]:
    if not points:
        return []
    x, y = np.array(points).T
    parts = field.at(x, y)
    return [{"x": a, "y": b, **{k: float(v[n]) for k, v in parts.items()}} for n, (a, b) in enumerate(points)]


def _beam(given: inputs.BeamInput) -> dict[str, Any]:
    from ribpatch.core.structure.beam import Beam, BeamLoad, Prop, Stretch, solve_beam

    beam = Beam(
        given.length,
        given.EI,
        given.ends,
        given.GA,
        tuple(Stretch(s.start, s.end, s.EI, s.GA) for s in given.stretches),
        tuple(Prop(p.place, p.stiffness) for p in given.props),
    )
    if any(p > given.length for p in given.points):
        raise InvalidValue("points", reason="one lies off the beam")
    made = solve_beam(beam, tuple(BeamLoad(x.start, x.end, x.force) for x in given.loads), given.points)
    (w, wx), (m, mx) = made.greatest(made.w), made.greatest(made.m)
    return {
        "deflection": {"value": w, "unit": "m", "x": wx},
        "moment": {"value": m, "unit": "N m", "x": mx},
        "end_moments": list(made.end_moments),
        "reactions": made.reactions.tolist(),
        "points": [{"x": p, "w": made.at(p)[0], "m": made.at(p)[1]} for p in given.points],
    }


def _section(given: inputs.SectionInput) -> dict[str, Any]:
    from ribpatch.core.structure.section import Section, SectionPart

    section = Section(tuple(SectionPart(p.name, p.width, p.height, p.bottom, p.E, p.G) for p in given.parts))
    section.check()
    return {
        "neutral_axis": section.neutral,
        "EI": section.EI,
        "EA": section.EA,
        "GA": section.GA if np.isfinite(section.GA) else None,
        "section_modulus": {"crown": section.modulus_at(True), "foot": section.modulus_at(False)},
        "stresses": [{"part": n, "foot": a, "head": b} for n, a, b in section.stresses(given.moment)],
        "shear_flow": [{"level": z, "value": section.shear_flow(given.shear, z)} for z in given.levels],
        "shear_stress": section.greatest_shear(given.shear),
    }


def _ply(given: inputs.PlyInput) -> dict[str, Any]:
    from ribpatch.core.laminate.elastic import fibre_volume
    from ribpatch.core.laminate.ply import cured_thickness, resin_in

    w, f, voids = given.weight, given.fibre_fraction, given.voids
    resin = resin_in(w, f)
    return {
        "thickness": cured_thickness(w, f, given.fibre_density, given.resin_density, voids),
        "resin": resin,
        "weight": w + resin,
        "fibre_volume": fibre_volume(f, given.fibre_density, given.resin_density, voids),
    }


def _stack(given: inputs.StackInput) -> dict[str, Any]:
    made, stiffness = stiffness_of_layers(given.layers)
    ex, ey, gxy = (float(v) for v in made.in_plane)
    return {
        "thickness": float(made.thickness),
        "A": made.A.tolist(),
        "B": made.B.tolist(),
        "D": made.D.tolist(),
        "Ex": ex,
        "Ey": ey,
        "Gxy": gxy,
        "Ex_bending": float(made.flexural[0]),
        "Ey_bending": float(made.flexural[1]),
        "neutral_axis": made.neutral.tolist(),
        "D_neutral": stiffness.D.tolist(),
        "S": stiffness.S.tolist(),
    }


def _scarf(given: inputs.ScarfInput) -> dict[str, Any]:
    from ribpatch.core.patch.bonding.shear_lag import Glue, Scarf, bond_curve, ratio_for

    glue = Glue(given.shear_strength, given.peel_strength, given.glue_modulus, given.glue_thickness)
    scarf = Scarf(given.old_modulus, given.new_modulus, given.thickness, given.stress, given.steps)
    made = bond_curve(np.array([given.ratio]), scarf, glue)
    needed = ratio_for(1.0, scarf, glue)
    return {
        "length": given.ratio * given.thickness,
        "shear": float(made.shear[0]),
        "peel": float(made.peel[0]),
        "used": float(made.used[0]),
        "peak_over_mean": float(made.peak[0]),
        "used_at_peak": float(made.used_peak[0]),
        "ratio_for_full_strength": needed if np.isfinite(needed) else None,
    }


METHODS: dict[str, tuple[type[Record], Callable[[Any], dict[str, Any]]]] = {
    "panel": (inputs.PanelInput, _panel),
    "beam": (inputs.BeamInput, _beam),
    "section": (inputs.SectionInput, _section),
    "ply": (inputs.PlyInput, _ply),
    "stack": (inputs.StackInput, _stack),
    "scarf": (inputs.ScarfInput, _scarf),
    "cup": (calc_resin.CupInput, calc_resin.cup),
    "slab": (calc_resin.SlabInput, calc_resin.slab),
    "mix": (calc_mix.MixInput, calc_mix.mix),
    "offset": (calc_mix.OffsetInput, calc_mix.offset),
    "trim": (calc_trim.TrimInput, calc_trim.trim),
    "nest": (calc_nest.NestInput, calc_nest.nest),
    "sheets": (calc_sheets.SheetsInput, calc_sheets.sheets),
    "clock": (calc_clock.ClockInput, calc_clock.clock),
    "schedule": (calc_schedule.ScheduleInput, calc_schedule.schedule),
    "straighten": (calc_outline.StraightenInput, calc_outline.straighten),
    "tapes": (calc_outline.TapesInput, calc_outline.tapes),
    "trace": (calc_outline.TraceInput, calc_outline.trace),
}


def run(name: str, wants_schema: bool) -> None:
    """Answer on standard output."""
    if wants_schema:
        print(json.dumps(schema(name), indent=1))
        return
    try:
        text = sys.stdin.read(MOST_READ + 1)
    except UnicodeDecodeError:
        raise InvalidValue("the input", reason="it is no UTF-8 text") from None
    print(json.dumps(calculate(name, text), indent=1, allow_nan=False))


def _finite(value: object) -> bool:
    if isinstance(value, dict):
        return all(map(_finite, value.values()))
    if isinstance(value, list | tuple):
        return all(map(_finite, value))
    return not isinstance(value, float) or bool(np.isfinite(value))

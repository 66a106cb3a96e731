"""An engine on a transom: thrust, its arm, weight and overhang as loads on the clamp, and what its bolts press. SI.

Static bollard thrust from rated power unless stated; weight at its overhang with dynamic factors for slamming and for
the trailer. Thrust below the clamp presses its lower pad and pulls its upper bolts. A bracket moves the engine aft and
up or down, and hangs with half its length. A well's floor and sides stand edge on to the transom and hold it by their
stiffness in their own plane, as far as what they end at holds them. Source: judgement, rules prove.*.
"""

from __future__ import annotations

from math import cos, pi, radians, sin
from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.numerals import general
from ribpatch.core.structure.members import moduli
from ribpatch.core.structure.panel_records import Box, PlateLoad, PlateSpring, refusal

if TYPE_CHECKING:
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.proof import Engine, Well
    from ribpatch.core.structure.zone_panel import ZonePanel

GRAVITY = 9.80665
PAD_SHARE = 0.25  # of the clamp's height that its lower pad presses on


class EngineCase(Struct, frozen=True):
    """One load case of an engine: force along the boat and tilting moment on the clamp, N and N m."""

    key: str
    name: str
    loads: tuple[PlateLoad, ...]
    how: str
    force: float
    moment: float
    pad: float


def thrust_of(engine: Engine, shelf: Shelf) -> float:
    """Static thrust, N."""
    return engine.thrust.si if engine.thrust is not None else engine.power.si * shelf.rule("prove.thrust")


def clamp_box(engine: Engine, panel: ZonePanel) -> Box:
    """Where the clamp sits on the panel, m: as stated, else in the middle of the top edge."""
    x = panel.a / 2 if engine.x is None else engine.x - panel.x0
    y = panel.b if engine.height is None else engine.height.si
    return panel.box_round((x, y), (engine.clamp_width.si, engine.clamp_height.si))


def engine_cases(engine: Engine, panel: ZonePanel, shelf: Shelf) -> tuple[EngineCase, ...]:
    """Full thrust, astern, a slam at full thrust, and the trailer."""
    box = clamp_box(engine, panel)
    thrust, trim = thrust_of(engine, shelf), radians(engine.trim.si)
    weight, arm = engine.mass.si * GRAVITY, engine.overhang.si + engine.setback.si
    # Trimmed out, the thrust lifts too: its upward share acts at the overhang.
    below = engine.thrust_below.si - engine.bracket_raise.si
    ahead = (thrust * cos(trim), thrust * (cos(trim) * below - sin(trim) * arm))
    hung = weight * arm + engine.bracket_mass.si * GRAVITY * engine.setback.si / 2
    slam, trailer = shelf.rule("prove.slam"), shelf.rule("prove.trailer")
    astern = shelf.rule("prove.astern")
    rows = (
        ("thrust", "full thrust", ahead[0], ahead[1] + hung, "thrust below the clamp, weight at its overhang"),
        ("astern", "astern", -astern * ahead[0], -astern * ahead[1] + hung, f"{astern:.0%} of the thrust"),
        ("slam", "slam at full thrust", ahead[0], ahead[1] + slam * hung, f"weight {general(slam)} times"),
        ("trailer", "on the trailer", 0.0, trailer * hung, f"weight {general(trailer)} times, engine not propped"),
    )
    pad = box.size[0] * box.size[1] * PAD_SHARE
    # What tilts the engine aft presses the clamp's lower edge: less pressure higher up.
    return tuple(
        EngineCase(key, name, (PlateLoad(box, force, mx=-moment),), how, force, moment, pad)
        for key, name, force, moment, how in rows
    )


def well_lines(well: Well, panel: ZonePanel, shelf: Shelf) -> tuple[PlateSpring, ...]:
    """The lines along which a well's floor and sides hold the transom, on the panel, N/m2. Raises BadStructure."""
    middle = panel.a / 2 if well.x is None else well.x - panel.x0
    left, right = middle - well.width.si / 2, middle + well.width.si / 2
    if left < 0 or right > panel.a or well.floor.si >= panel.b:
        raise refusal(
            "the well is wider than the transom, beside it or over its top",
            "give its width, its middle and how high its floor lies over the transom's lowest edge",
        )
    k = shelf.rule("prove.well") * moduli(panel.wall, "x")[0] * well.wall.si / well.length.si
    floor = (PlateSpring("x", well.floor.si, k, left, right),)
    return (*floor, *(PlateSpring("y", x, k, well.floor.si, panel.b) for x in (left, right)))


def bolt_tension(engine: Engine, case: EngineCase) -> float:
    """Tension of one upper bolt, N: the moment over the pattern's height, shared by the upper half of the bolts."""
    height = max(engine.clamp_height.si * (1 - PAD_SHARE / 2), 0.02)
    pulled = abs(case.moment) / height - max(case.force, 0.0) / 2
    return max(pulled, 0.0) / max(engine.bolts // 2, 1)


def washer_pressure(engine: Engine, tension: float) -> float:
    """Pressure under a bolt's washer, Pa: its ring without the hole."""
    area = pi / 4 * (engine.washer.si**2 - engine.bolt.si**2)
    return tension / max(area, 1e-6)


def pad_pressure(case: EngineCase, engine: Engine) -> float:
    """Pressure under the clamp's lower pad, Pa."""
    pushed = abs(case.moment) / max(engine.clamp_height.si * (1 - PAD_SHARE / 2), 0.02) + max(case.force, 0.0) / 2
    return pushed / case.pad

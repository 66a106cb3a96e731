"""What a draft chose and why, beside what stands there now."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.draft import cut_words
from ribpatch.core.laminate.stack_text import named_text
from ribpatch.core.numerals import general
from ribpatch.core.table import Row, Table
from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from ribpatch.core.units import System
    from ribpatch.core.zone_plan import ZonePlan

NAMES = {
    "side": "open from",
    "depth": "how deep",
    "cut": "cut",
    "resin": "resin",
    "laying": "laid",
    "tabbing": "tabbing",
    "core": "new core",
    "plies": "plies, deepest first",
    "taper": "taper",
    "backing": "backing",
    "ends": "ends",
}

DEPTHS = {True: "ground to sound and filled", False: "cut through"}


def draft_table(made: ZonePlan, system: System) -> Table:
    """Every choice of the draft that the chosen scheme began as; one that is otherwise now says so."""
    rows = []
    for reason in made.zone.scheme.reasons:
        now = now_words(reason.choice, made, system)
        other = bool(now) and now != reason.chosen
        chosen = f"{reason.chosen}; now {now}" if other else reason.chosen
        rows.append(
            Row(reason.choice, (NAMES.get(reason.choice, reason.choice), chosen, reason.why), "warn" if other else "")
        )
    none = "No draft yet. Read the zone, or draw the extent, then press Draft the repair."
    return Table(("choice", "drafted", "why"), tuple(rows), "", "", none)


def now_words(choice: str, made: ZonePlan, system: System) -> str:
    """What a choice is now, in the words of a draft; empty where it is not told in one word. Sizes in m."""
    zone, shelf = made.zone, made.shelf
    scheme = zone.scheme
    if choice == "side":
        return "" if zone.is_tabbed else scheme.access.side
    if choice == "cut":
        return cut_words(scheme, system)
    if choice == "depth":
        return DEPTHS[scheme.access.part_depth]
    if choice == "laying":
        return "overhead" if scheme.laying.overhead else "not overhead"
    if choice == "resin":
        return shelf.resin(scheme.resin.main).name
    if choice == "taper":
        return f"{general(scheme.taper.ratio.si)} : 1, {scheme.taper.form}"
    if choice == "plies":
        return named_text(scheme.laminate.plies, shelf) or "none on the skins"
    if choice == "core" and scheme.core.material and scheme.core.thickness:
        core = shelf.core(scheme.core.material)
        return core.name if core.poured else f"{core.name}, {shown(scheme.core.thickness.si, Kind.SIZE, system)}"
    if choice == "core":
        return "the old core stays"
    return ""

"""The tables and charts of a zone, each worked out when it is first looked at or asked for.

Window, paper and command line show the same ones: what a page below the plan or a page of the work pack tabulates is
asked for here by its name. Their figures show their working like any other.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.memo import remembered

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.chart import Chart
    from ribpatch.core.table import Table
    from ribpatch.core.units import System
    from ribpatch.core.zone_plan import ZonePlan


def _match(made: ZonePlan, system: System) -> Table | None:
    from ribpatch.core.laminate.comparison_figures import match_table

    return match_table(made.comparison, made.by_id, made.shelf) if made.comparison else None


def _strength(made: ZonePlan, system: System) -> Table | None:
    from ribpatch.core.laminate.comparison_figures import strength_table

    return strength_table(made.by_id) if made.comparison else None


def _stiffness(made: ZonePlan, system: System) -> Table | None:
    from ribpatch.core.laminate.comparison_figures import stiffness_table

    return stiffness_table(made.comparison.skin.new, made.by_id, made.shelf) if made.comparison else None


def _schools(made: ZonePlan, system: System) -> Table | None:
    from ribpatch.core.patch.bonding.figures import school_table

    zone = made.zone
    if made.joint is None:
        return None
    return school_table(made.joint, made.patch, zone.scheme, zone.outline, made.shelf, zone.id)


def _tight(made: ZonePlan, system: System) -> Table | None:
    from ribpatch.core.patch.bonding.figures import tight_table

    return tight_table(made.patch, made.joint, made.zone.id)


def _cores(made: ZonePlan, system: System) -> Table | None:
    from ribpatch.core.patch.coring.choice import core_table

    choices = made.core_choices
    return core_table(choices, made.zone, made.shelf, made.zone.id)


def _core_work(made: ZonePlan, system: System) -> Table | None:
    from ribpatch.core.patch.coring.table import work_table
    from ribpatch.core.patch.coring.work import core_work

    work = core_work(made.zone, made.patch, made.shelf)
    return work_table(work, made.zone.id, made.shelf, system) if work else None


def _bonds(made: ZonePlan, system: System) -> Table | None:
    from ribpatch.core.patch.bonding.protocol import plan_table

    return plan_table(made.interfaces)


def _parts(made: ZonePlan, system: System) -> Table | None:
    from ribpatch.core.patch.part_table import part_table

    return part_table(made.parts, made.zone.id)


def _tabbing(made: ZonePlan, system: System) -> Table | None:
    from ribpatch.core.patch.tab_table import tab_table

    tabbing = made.zone.scheme.laminate.tabbing
    return tab_table(made.patch.stack, tabbing, made.shelf, made.zone.id) if tabbing else None


def _schemes(made: ZonePlan, system: System) -> Table | None:
    from ribpatch.core.compare import compared_schemes, scheme_table

    rows = compared_schemes(made.zone, made.air, made.boat, made.shelf, system)
    return scheme_table(rows, made.zone.scheme.id, system)


def _margins(made: ZonePlan, system: System) -> Table | None:
    from ribpatch.core.structure.tables import margin_table

    return margin_table(made.strength, system)


def _remedies(made: ZonePlan, system: System) -> Table | None:
    from ribpatch.core.remedies import remedy_table

    return remedy_table(made, system)


def _scantlings(made: ZonePlan, system: System) -> Table | None:
    from ribpatch.core.structure.tables import scantling_table

    return scantling_table(made.strength, system)


def _trial(made: ZonePlan, system: System) -> Table | None:
    from ribpatch.core.structure.tables import trial_table

    return trial_table(made.strength, system)


def _pads(made: ZonePlan, system: System) -> Table | None:
    from ribpatch.core.patch.pad_table import pad_table

    return pad_table(made.patch.pads, made.zone.id)


def _finish(made: ZonePlan, system: System) -> Table | None:
    from ribpatch.core.supply.finish import finish_table

    return finish_table(made.zone, made.needs, made.by_id, system)


TABLES: dict[str, Callable[[ZonePlan, System], Table | None]] = {
    "match": _match,
    "strength": _strength,
    "stiffness": _stiffness,
    "ratios": _schools,
    "tight": _tight,
    "cores": _cores,
    "core work": _core_work,
    "bonds": _bonds,
    "parts": _parts,
    "tabbing": _tabbing,
    "schemes": _schemes,
    "margins": _margins,
    "remedies": _remedies,
    "scantlings": _scantlings,
    "trial": _trial,
    "finish": _finish,
    "pads": _pads,
}


@remembered(48)
def zone_table(made: ZonePlan, name: str, system: System) -> Table | None:
    """The table of that name; None where there is nothing that it could tell."""
    return TABLES[name](made, system)


@remembered(24)
def laminate_chart(made: ZonePlan) -> Chart | None:
    """New over old laminate as bars."""
    from ribpatch.core.laminate.comparison_figures import match_chart

    return match_chart(made.comparison.skin, made.shelf) if made.comparison else None


@remembered(24)
def cup_curve(made: ZonePlan, system: System) -> Chart | None:
    """How long a mix can be worked against how much is mixed."""
    from ribpatch.core.mixing import cup_chart

    return cup_chart(made, system)


@remembered(24)
def bond_curve(made: ZonePlan) -> Chart | None:
    """Use of the bond against the taper's ratio."""
    from ribpatch.core.patch.bonding.figures import bond_chart

    return bond_chart(made.joint, made.zone.scheme) if made.joint else None

"""A plan as plain values: figures, warnings, tables."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.tables import TABLES, zone_table
from ribpatch.core.units import si_unit

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan
    from ribpatch.core.table import Cell
    from ribpatch.core.units import System


def plan_json(made: Plan) -> dict[str, object]:
    """Every figure, warning and table of a job, SI, with the text shown in the plan's units."""
    rows = [
        {
            "id": f.id,
            "name": f.name,
            "value": f.value,
            "kind": f.kind.value,
            "unit": si_unit(f.kind),
            "shown": f.shown(made.system),
            "warnings": list(f.warnings),
            "leans": list(f.leans),
        }
        for f in made.all_figures
    ]
    notices = [
        {"id": n.id, "zone": n.zone, "stage": n.stage, "grave": n.grave, "text": n.text, "clears": n.clears}
        for n in made.all_notices
    ]
    return {"boat": made.job.boat.name, "figures": rows, "warnings": notices, "tables": _tables(made)}


def _tables(made: Plan) -> list[dict[str, object]]:
    """Every table of every zone: words as text, figures with their value (SI)."""
    found: list[dict[str, object]] = []
    for zone in made.zones:
        for name in TABLES:
            table = zone_table(zone, name, made.system)
            if table is not None and table.rows:
                rows = [[_cell(cell, made.system) for cell in row.cells] for row in table.rows]
                found.append({"zone": zone.zone.id, "table": name, "columns": list(table.columns), "rows": rows})
    return found


def _cell(cell: Cell, system: System) -> object:
    if isinstance(cell, str):
        return cell
    return {"id": cell.id, "value": cell.value, "unit": si_unit(cell.kind), "shown": cell.shown(system)}

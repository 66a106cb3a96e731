"""Ordering: the quantities of each zone; the shopping list and the cups of the whole job."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ribpatch.core.drawing.cut_view import cut_rows, cut_view, roll_words
from ribpatch.core.drawing.sheet_view import core_words, sheet_rows, sheet_view, sheet_words
from ribpatch.core.mixing import mixing_words
from ribpatch.core.supply.figures import batch_prefix
from ribpatch.report.order_list import order_table
from ribpatch.report.page import HEAD, SMALL, SUB, WARN, figure_table, paragraph, table
from ribpatch.report.paint import DrawingFlowable

if TYPE_CHECKING:
    from ribpatch.core.plan import Plan
    from ribpatch.core.units import System
    from ribpatch.core.zone_plan import ZonePlan

FIGURES = (
    "stack.thickness",
    "stack.surplus",
    "cloth.area",
    "resin.net",
    "resin.mixed",
    "mix.resin.mass",
    "mix.hardener.mass",
    "mix.resin.volume",
    "mix.hardener.volume",
    "cup.all",
    "cup.each",
    "cup.working",
    "cup.every",
    "cup.peak",
    "putty.total",
    "core.area",
    "core.sheets",
    "weight.off",
    "weight.on",
    "weight.net",
    "cost.total",
)
OF_BATCH = ("mixed", "mix.resin.mass", "mix.hardener.mass", "cup.count", "cup.each", "cup.working")


def zone_pages(made: ZonePlan, plan: Plan, system: System, width: float) -> list[Any]:
    """What one zone uses and weighs."""
    more = (f"{batch_prefix(n)}{key}" for n in range(2, len(made.needs.batches) + 1) for key in OF_BATCH)
    figures = [made.by_id[k] for k in (*FIGURES, *more) if k in made.by_id]
    return [paragraph("Quantities", SUB), figure_table(figures, system, width)]


def job_pages(plan: Plan, system: System, width: float) -> list[Any]:
    """The shopping list and the cups."""
    total = plan.by_id["cost.total"]
    story: list[Any] = [paragraph("Shopping list", HEAD), *order_table(plan, system, width)]
    story += [paragraph(w, WARN) for w in total.warnings]
    story += [paragraph(f"{i.name}: {i.note}.", SMALL) for i in plan.items if i.group == "resin" and i.note]
    cups = [["zone", "resin", "cups", "each", "of it resin", "hardener", "working time", "next after", "if left"]]
    keys = ("count", "each", "resin", "hardener", "working", "every", "peak")
    for made, number, batch in ((z, n, b) for z in plan.zones for n, b in enumerate(z.needs.batches, 1)):
        if not batch.cups.count:
            continue
        # Below the least temperature none is foretold.
        known = [made.by_id.get(f"{batch_prefix(number)}cup.{key}") for key in keys]
        figures = [figure.shown(system) if figure else "–" for figure in known]
        cups.append([made.zone.name, batch.resin.name, *figures])
    cup_shares = (0.15, 0.21, 0.06, 0.1, 0.1, 0.1, 0.1, 0.09, 0.09)
    notes = [
        paragraph(f"{made.zone.name}: {' '.join(words)}", SMALL)
        for made in plan.zones
        if (words := mixing_words(made, system))
    ]
    if plan.rolls:
        drawing = cut_view(plan.rolls, system)
        story += [paragraph("Cut plan of the cloth", SUB), DrawingFlowable(drawing, width, 420, drawing.note)]
        story += [paragraph(f"{roll_words(roll, system)}.", SMALL) for roll in plan.rolls]
        cut_widths = [width * s for s in (0.08, 0.3, 0.34, 0.14, 0.14)]
        rows = [["no.", "cloth", "mark", "along", "across"], *cut_rows(plan.rolls, system)]
        story.append(table(rows, cut_widths, (0, 3, 4)))
    story += _core_pages(plan, system, width)
    return [*story, paragraph("Cups", SUB), table(cups, [width * s for s in cup_shares], (2, 3, 4, 5, 6, 7, 8)), *notes]


def _core_pages(plan: Plan, system: System, width: float) -> list[Any]:
    """The sheets of core with all that is sawn from them, and how each zone's core is made up."""
    if not plan.core_sheets:
        return []
    drawing = sheet_view(plan.core_sheets, system)
    story: list[Any] = [paragraph("Core on sheets", SUB), DrawingFlowable(drawing, width, 420, drawing.note)]
    story += [paragraph(f"{sheet_words(s, system)}.", SMALL) for s in plan.core_sheets]
    made = [(z.zone.name, z.core_pieces) for z in plan.zones]
    story += [paragraph(core_words(name, pieces, system), SMALL) for name, pieces in made if pieces is not None]
    rows = [["no.", "core", "mark", "along", "across"], *sheet_rows(plan.core_sheets, system)]
    return [*story, table(rows, [width * s for s in (0.08, 0.3, 0.34, 0.14, 0.14)], (0, 3, 4))]

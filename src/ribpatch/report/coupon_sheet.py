"""The sheet of a set of bond coupons: how they are made, a line for each to write on, and what to look for."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from reportlab.platypus import Spacer

from ribpatch.core.cautions import LIMITS
from ribpatch.core.coupon_words import over_words, row_name
from ribpatch.core.logged import COUPON_KINDS, MODES
from ribpatch.core.numerals import general
from ribpatch.report.page import HEAD, SMALL, SUB, Paper, built, fonts, page_width, paragraph, table

if TYPE_CHECKING:
    from ribpatch.core.logged import CouponSet
    from ribpatch.core.plan import Plan

MAKE = (
    "Lay one flat laminate as the old one is, or cut pieces of it that came out of the boat; cure it as long as the "
    "job will be old.",
    "Make each row ready as it says, by whoever will do it on the boat, with the same cloths, solvent and paper.",
    "Lay the same plies over all rows at once, the first 60 mm parted by release film; cure as the job will.",
    "Saw strips 25 mm wide, number them, and part them from the free end. Look at both faces in good light.",
    "Fibres torn: glass of the old laminate on the new face. Clean: the old face looks as it did. Mixed: both.",
)


def coupon_pdf(plan: Plan, of: CouponSet, paper: Paper) -> bytes:
    """The sheet as PDF; the same set gives the same bytes."""
    fonts()
    width, boat = page_width(paper), plan.job.boat.name
    story: list[Any] = [paragraph(f"{boat}: coupons, {of.name}", HEAD), paragraph(f"Each {COUPON_KINDS[of.kind]}.")]
    story.append(paragraph("Making them", SUB))
    story += [paragraph(f"{n}. {words}") for n, words in enumerate(MAKE, 1)]
    for row in of.rows:
        preparation = next((p for p in plan.shelf.preparations if p.id == row.preparation), None)
        story.append(paragraph(f"{row.id}: {row_name(row, plan.shelf)}", SUB))
        if over := over_words(row, plan.shelf):
            story.append(paragraph(f"Laid over with {over}.", SMALL))
        if preparation is not None:
            story.append(paragraph(" ".join(f"{n}. {s}" for n, s in enumerate(preparation.steps, 1)), SMALL))
        cells = [["coupon", "load", *MODES.values(), "remark"]]
        for n in range(max(of.each, len(row.results))):
            read = row.results[n] if n < len(row.results) else None
            load = f"{general(read.load.si)} N" if read is not None and read.load is not None else ""
            marks = ["x" if read is not None and read.mode == m else "" for m in MODES]
            cells.append([f"{row.id}.{n + 1}", load, *marks, ""])
        story.append(table(cells, [width * s for s in (0.14, 0.16, 0.14, 0.1, 0.1, 0.36)]))
    story += [Spacer(1, 10), paragraph(LIMITS, SMALL)]
    return built(story, f"{boat}: coupons", f"{boat}, coupons {of.name}", paper)

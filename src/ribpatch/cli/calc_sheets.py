"""``ribpatch calc sheets``: rectangles on sheets of core. What it reads and what it answers; m."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from ribpatch.core.record import Limits, Record

Side = Annotated[float, Limits(gt=0, le=100, description="m")]


class CalcSheet(Record):
    """A sheet, or an off-cut of one."""

    long: Side
    wide: Side


class CalcBoard(Record):
    """A piece to saw, so many times."""

    long: Side
    wide: Side
    turn: Annotated[Literal[0, 90], Limits(description="degrees by which it may be turned")] = 90
    count: Annotated[int, Limits(ge=1, le=500)] = 1


class SheetsInput(Record):
    """Sheets of one size, off-cuts to use up first, and the pieces."""

    sheet: CalcSheet
    kerf: Annotated[float, Limits(ge=0, le=0.1, description="m, width of the saw cut between pieces")] = 0.0
    pieces: Annotated[tuple[CalcBoard, ...], Limits(min_length=1, max_length=500)]
    off_cuts: Annotated[tuple[CalcSheet, ...], Limits(max_length=100)] = ()
    tries: Annotated[int, Limits(ge=0, le=100_000, description="orders to try, or by the pieces")] | None = None

    def check(self) -> None:
        """Not more pieces than can be laid."""
        if sum(p.count for p in self.pieces) > 1000:
            raise ValueError("more than 1000 pieces; lay them out in parts")


def sheets(given: SheetsInput) -> dict[str, Any]:
    """How many sheets, where each piece lies, and the fewest that any layout could need."""
    from ribpatch.core.supply.packing import Rect
    from ribpatch.core.supply.sheets import Sheet, on_sheets

    every = [(n, p) for n, p in enumerate(given.pieces, 1) for _ in range(p.count)]
    rects = [Rect(p.long, p.wide, p.turn == 90) for _, p in every]
    spare = [Sheet(s.long, s.wide) for s in given.off_cuts]
    made = on_sheets(rects, Sheet(given.sheet.long, given.sheet.wide), given.kerf, spare, given.tries)
    rows = []
    for number, laid in enumerate(made.laid, 1):
        for p in laid.puts:
            where = {"x": p.x, "y": p.y, "long": p.long, "wide": p.wide, "turned": p.turned}
            rows.append({"sheet": number, "piece": every[p.number][0], **where})
    return {
        "sheets": made.whole,
        "off_cuts_used": len(made.laid) - made.whole,
        "bound": made.bound if not spare else None,
        "proven": made.proven if not spare else None,
        "utilisation": made.used,
        "rest": [laid.rest for laid in made.laid],
        "pieces": rows,
    }

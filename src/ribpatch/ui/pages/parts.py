"""Made parts: a table, and the facts and steps of the part looked at."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.scheme_edits import add_part, remove_part, set_part_plies
from ribpatch.ui.pages.pick_page import PickPage

if TYPE_CHECKING:
    from ribpatch.core.edits import Edit
    from ribpatch.core.job import Zone
    from ribpatch.core.scheme import Stack
    from ribpatch.core.zone_plan import ZonePlan

KINDS = ("angle", "knee", "backing plate", "end cap")


class PartsPage(PickPage):
    """Size, former, fixing and plies of each, and how it is made."""

    title = "Parts"
    kind, table_name, where = "parts", "made parts", "kind of part to add"
    facts = ("name", "length", "width", "depth", "radius", "count")
    choices = (
        ("former", ("plug", "flat bench"), "Laid on"),
        ("fixing", ("putty", "adhesive"), "Bonded in with"),
    )

    def build(self) -> None:
        super().build()
        self.what.addItems(KINDS)

    def added(self, zone: Zone) -> Edit:
        return add_part(zone, self.what.currentText())

    def removed(self, zone: str, here: str) -> Edit:
        return remove_part(zone, here)

    def plied(self, zone: str, here: str, lines: Stack, name: str) -> Edit:
        return set_part_plies(zone, here, lines, name)

    def words(self, made: ZonePlan, here: str) -> str:
        steps = next((p.steps for p in made.parts if p.part.id == here), ())
        return "  ".join(f"{n}. {s}" for n, s in enumerate(steps, 1))


PAGE = PartsPage

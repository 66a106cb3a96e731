"""Local plies: extra plies over areas of their own, under fittings or where they are put."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.pad_edits import add_pad, remove_pad, set_pad_plies
from ribpatch.ui.pages.pick_page import PickPage
from ribpatch.ui.widgets.combo import show_items

if TYPE_CHECKING:
    from ribpatch.core.edits import Edit
    from ribpatch.core.job import Zone
    from ribpatch.core.plan import Plan
    from ribpatch.core.scheme import Stack
    from ribpatch.core.zone_plan import ZonePlan


class PadsPage(PickPage):
    """Place, size and plies of each; added in the middle or under a fitting."""

    title = "Local plies"
    kind, table_name, where = "pads", "local plies", "where to add"
    facts = ("name", "x", "y", "width", "height", "step")

    def added(self, zone: Zone) -> Edit:
        wanted = self.what.currentData()
        return add_pad(zone, next((f for f in zone.fittings if f.id == wanted), None))

    def removed(self, zone: str, here: str) -> Edit:
        return remove_pad(zone, here)

    def plied(self, zone: str, here: str, lines: Stack, name: str) -> Edit:
        return set_pad_plies(zone, here, lines, name)

    def show_zone(self, zone: Zone, made: ZonePlan, plan: Plan) -> None:
        show_items(self.what, (("", "in the middle"), *((f.id, f"under {f.name}") for f in zone.fittings)))
        super().show_zone(zone, made, plan)


PAGE = PadsPage

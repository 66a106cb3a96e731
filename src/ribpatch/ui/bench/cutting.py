"""The cut by hand: merge, split along the section line, note depths by a click; what corners snap to."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.errors import Fault
from ribpatch.core.units import Kind, Measure, shown

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.edits import Edit
    from ribpatch.core.geometry import Point, Ring
    from ribpatch.core.job import Zone
    from ribpatch.ui.bench.zone_bench import ZoneBench
    from ribpatch.ui.session import Session

NEAR = 0.02  # m: a depth noted this near another replaces it


class CuttingDesk:
    """Carries out what the Open stage asks of the plan."""

    def __init__(self, session: Session, bench: ZoneBench) -> None:
        self._session, self._bench = session, bench

    def _rings(self, zone: Zone) -> tuple[Ring, ...]:
        return self._bench.cut_rings(zone, self._session.plan.zone(zone.id))

    def merge(self) -> None:
        """Make one cut of several."""
        from ribpatch.core.scheme_edits import merge_cut

        zone = self._session.zone
        if zone is not None:
            self._try(lambda: merge_cut(zone, self._rings(zone)))

    def split(self) -> None:
        """Part the cut along the section line."""
        from ribpatch.core.scheme_edits import split_cut

        zone, line = self._session.zone, self._bench.section.line
        if zone is not None and line is not None:
            self._try(lambda: split_cut(zone, self._rings(zone), line))

    def _try(self, make: Callable[[], Edit]) -> None:
        try:
            self._session.try_apply(make())
        except Fault as fault:
            self._bench.say(fault.sentence)

    def note_depth(self, depth: Measure) -> None:
        """Note a depth at the next place clicked."""
        from ribpatch.core.scheme_edits import put_depth

        def put(_key: str, at: Point) -> None:
            zone = self._session.zone
            if zone is not None:
                self._try(lambda: put_depth(zone, at, depth, NEAR))

        self._bench.pick_place(put)
        size = shown(depth.si, Kind.SIZE, self._session.system)
        self._bench.say(f"Click on the plan where the damage is {size} deep; Esc leaves it.")

    def show_page(self, name: str) -> None:
        """Show a page below the plan."""
        self._bench.below.show_page(name)

"""What a click on the plan does: enter a reading of one instrument, read a simulated one, mark a reference, delete."""

from __future__ import annotations

from typing import Any

from msgspec import Struct

LINES = ("cut", "sketch")
SIMULATED = {"sim-ear": "tap by ear", "sim-moisture": "meter", "sim-strike": "recorded tap", "sim-plug": "plug"}


class Brush(Struct, frozen=True):
    """``kind`` is an instrument, a simulated one, ``reference``, ``erase`` or nothing; ``facts`` are the reading's."""

    kind: str = ""
    facts: tuple[tuple[str, Any], ...] = ()

    @property
    def words(self) -> str:
        """What a click does, in words."""
        if not self.kind:
            return ""
        if self.kind in SIMULATED:
            return f"Click on the plan: the simulated {SIMULATED[self.kind]} reads there"
        if self.kind in LINES:
            return "Click point by point along the line; Enter ends it, Backspace takes a point back, Esc drops it"
        said = " ".join(str(v) for _, v in self.facts)
        return f"Click on the plan: {self.kind} {said}".rstrip()


NONE = Brush()

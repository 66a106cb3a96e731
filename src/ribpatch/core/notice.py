"""A warning beside the choice that caused it, with what would clear it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

if TYPE_CHECKING:
    from ribpatch.core.units import System


class Notice(Struct, frozen=True):
    """``about`` names the decision it stands beside; ``grave`` ones must be answered before work starts."""

    id: str
    stage: str  # the id of a stage
    about: str
    text: str
    clears: str
    grave: bool = False
    zone: str = ""


class NoticeBuilder(Struct, frozen=True):
    """Makes the notices of one zone; ``system`` chooses the units in their words."""

    zone: str
    system: System

    def add(self, stage: str, about: str, key: str, text: str, clears: str, grave: bool = False) -> Notice:
        """A notice of this zone."""
        return Notice(f"{self.zone}.{key}" if self.zone else key, stage, about, text, clears, grave, self.zone)

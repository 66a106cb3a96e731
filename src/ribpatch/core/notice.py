"""A warning beside the choice that caused it, with what would clear it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping, Sequence

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


def warning_lines(notices: Iterable[Notice], names: Mapping[str, str]) -> tuple[str, ...]:
    """Warnings as lines, those of a zone that the same deed clears in one; ``names`` are the zones' by their ids."""
    groups: dict[tuple[str, bool, str], list[str]] = {}
    for n in notices:
        groups.setdefault((names.get(n.zone, "Boat"), n.grave, n.clears), []).append(n.text)
    return tuple(
        f"{'!' if grave else '-'} {zone}: {_joined(texts)} {clears}" for (zone, grave, clears), texts in groups.items()
    )


def _joined(texts: Sequence[str]) -> str:
    """Sentences in a row; what several begin with is said once."""
    rows: dict[str, list[str]] = {}
    for text in texts:
        head, colon, rest = text.partition(": ")
        rows.setdefault(head if colon else text, []).append(rest if colon else "")
    return " ".join(
        f"{head}: {'; '.join(r.rstrip('.') for r in rest)}." if any(rest) else head for head, rest in rows.items()
    )


class NoticeBuilder(Struct, frozen=True):
    """Makes the notices of one zone; ``system`` chooses the units in their words."""

    zone: str
    system: System

    def add(self, stage: str, about: str, key: str, text: str, clears: str, grave: bool = False) -> Notice:
        """A notice of this zone."""
        return Notice(f"{self.zone}.{key}" if self.zone else key, stage, about, text, clears, grave, self.zone)

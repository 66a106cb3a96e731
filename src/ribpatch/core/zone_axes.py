"""What the ways along and across a zone are called, by its kind: forward and aft, up and down, port and starboard."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ribpatch.core.job import ZoneKind
    from ribpatch.core.scheme import Facing


AXES: dict[ZoneKind, tuple[str, str]] = {
    "deck panel": ("forward", "port"),
    "sole": ("forward", "port"),
    "hull panel": ("forward", "up"),
    "keel": ("forward", "up"),
    "transom": ("to starboard", "up"),
    "bulkhead": ("to starboard", "up"),
    "stringer run": ("forward", "up"),
    "frame": ("to starboard", "up"),
    "tabbing run": ("along", "up"),
    "joint run": ("along", "up"),
    "fastener run": ("along", "across"),
}
_OTHER_WAY = {
    "forward": "aft",
    "port": "starboard",
    "up": "down",
    "to starboard": "to port",
    "along": "back",
    "across": "the other way",
}


def facing_words(kind: ZoneKind) -> dict[Facing, str]:
    """What each facing is called in a zone of this kind."""
    along, up = AXES[kind]
    return {"x-": _OTHER_WAY[along], "x+": along, "y-": _OTHER_WAY[up], "y+": up}

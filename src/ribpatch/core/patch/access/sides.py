"""The side a zone is opened from: which skin is then rebuilt, and how the sides compare.

From outside the outer skin is cut, from inside the inner one (on a solid laminate the same laminate is ground from
within). From above a cavity is emptied between two skins that stay: a transom or stringer with its cap off; on a deck
above is outside.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ribpatch.core.job import Zone

INTERIOR = ("stringer run", "frame", "sole", "bulkhead", "tabbing run")  # kinds that lie inside the boat
CAVITIES = ("transom", "stringer run", "frame")  # kinds that can be emptied from above between standing skins


def skin_word(zone: Zone) -> str:
    """What the rebuilt skin is called."""
    return "inner" if zone.rebuilt_skin is zone.build.inner else "outer"


def from_above(zone: Zone) -> bool:
    """Whether both skins stay and the core is dug out between them."""
    return zone.scheme.access.side == "above" and zone.kind in CAVITIES and zone.build.core is not None


def is_inside(zone: Zone) -> bool:
    """Whether a zone is worked on inside the boat."""
    return zone.kind in INTERIOR or zone.scheme.access.side == "inside"

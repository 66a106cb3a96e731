"""What lies along a section line: which places are cut, bad or covered, and the heights of the faces. Metres."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats


class Profile(Struct, frozen=True, eq=False):
    """Along the line, each (n,): s in m; inside zone, cut, skin opening, bad (0 or 1); share of the taper out; depth of
    a pit.
    """

    s: Floats
    zone: Floats
    cut: Floats
    open: Floats
    bad: Floats
    share: Floats
    second: Floats
    pit: Floats
    covered: tuple[Floats, ...]
    covered_second: tuple[Floats, ...]
    backed: Floats


class Levels(Struct, frozen=True):
    """Heights of the faces in m over the underside, true depth: other skin, core, then the skin being rebuilt."""

    core: float
    skin: float
    top: float
    floor: float  # of the new plies in the cut
    bedding: float
    middle: float  # where the two tapers of a solid laminate meet; the skin's underside otherwise

"""True-to-kind outlines of parts of a boat, from her own dimensions: what is drawn until the part is measured.

Metres, in the part's own plane; each begins at x = 0 with its lowest or starboard side first, corners in order.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.drawing.boat_view import TRANSOM_SHARE, half_breadth

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.begin_records import Trouble
    from ribpatch.core.geometry import Ring
    from ribpatch.core.job import Boat

RISE = 0.18  # of a section's half breadth: how far the bottom rises from the keel to the bilge
PLACES = (0.0, 0.3, 0.6, 0.85)  # along a deck, where its edge has corners


def outline_of(trouble: Trouble, boat: Boat, station: float, outboard: bool) -> Ring:
    """The usual outline of the part where a trouble is found, ``station`` m from the stern."""
    return SHAPES[trouble.shape](trouble, boat, station, outboard)


def _foredeck(trouble: Trouble, boat: Boat, station: float, _outboard: bool) -> Ring:
    """A deck that runs to the stem: it narrows as the boat does."""
    length = trouble.along * boat.length.si
    at = np.array(PLACES) * length
    half = trouble.across * half_breadth(boat, station + at)
    starboard = [(float(x), -float(h)) for x, h in zip(at, half, strict=True)]
    return (*starboard, (length, 0.0), *((x, -y) for x, y in reversed(starboard)))


def _sole(trouble: Trouble, boat: Boat, station: float, _outboard: bool) -> Ring:
    length = trouble.along * boat.length.si
    aft, fore = (trouble.across * float(half_breadth(boat, np.array(station + d))) for d in (0.0, length))
    return ((0.0, -aft), (length, -fore), (length, fore), (0.0, aft))


def _transom(trouble: Trouble, boat: Boat, _station: float, outboard: bool) -> Ring:
    """Wider at the sheer than at the bilge, with a V below; a cut-out where an outboard hangs."""
    top, deep = TRANSOM_SHARE * boat.beam.si, trouble.across * boat.depth.si
    low, rise = 0.88 * top, RISE * top / 2
    inset = (top - low) / 2
    ring = [(top / 2, 0.0), (top - inset, rise), (top, deep)]
    if outboard:
        half, down = min(0.3, 0.2 * top), 0.16 * deep
        ring += [(top / 2 + half, deep), (top / 2 + half - 0.05, deep - down)]
        ring += [(top / 2 - half + 0.05, deep - down), (top / 2 - half, deep)]
    return (*ring, (0.0, deep), (inset, rise))


def _box(length: float, height: float) -> Ring:
    return ((0.0, 0.0), (length, 0.0), (length, height), (0.0, height))


def _panel(trouble: Trouble, boat: Boat, _station: float, _outboard: bool) -> Ring:
    return _box(trouble.along * boat.length.si, trouble.across * boat.depth.si)


def _strip(trouble: Trouble, boat: Boat, _station: float, _outboard: bool) -> Ring:
    return _box(trouble.along * boat.length.si, trouble.across)


def _rib(trouble: Trouble, boat: Boat, _station: float, _outboard: bool) -> Ring:
    return _box(trouble.along * boat.beam.si, trouble.across)


def _bulkhead(trouble: Trouble, boat: Boat, station: float, _outboard: bool) -> Ring:
    """A section of the hull: V below, sides that flare a little."""
    wide = trouble.along * 2 * float(half_breadth(boat, np.array(station)))
    deep, inset = trouble.across * boat.depth.si, 0.07 * wide
    rise = RISE * wide / 2
    return ((wide / 2, 0.0), (wide - inset, rise), (wide, deep), (0.0, deep), (inset, rise))


def _keel(trouble: Trouble, boat: Boat, _station: float, _outboard: bool) -> Ring:
    """Longer at its root than at its foot."""
    length, deep = trouble.along * boat.length.si, trouble.across * boat.depth.si
    return ((0.06 * length, 0.0), (0.84 * length, 0.0), (length, deep), (0.0, deep))


def _corner(trouble: Trouble, boat: Boat, _station: float, _outboard: bool) -> Ring:
    """A corner of the deck, its outer corner rounded off."""
    length, width = trouble.along * boat.length.si, trouble.across * boat.beam.si
    off = 0.25 * min(length, width)
    return ((off, 0.0), (length, 0.0), (length, width), (0.0, width), (0.0, off))


SHAPES: dict[str, Callable[[Trouble, Boat, float, bool], Ring]] = {
    "foredeck": _foredeck,
    "sole": _sole,
    "transom": _transom,
    "panel": _panel,
    "strip": _strip,
    "rib": _rib,
    "bulkhead": _bulkhead,
    "keel": _keel,
    "corner": _corner,
}

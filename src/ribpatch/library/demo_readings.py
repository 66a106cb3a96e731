"""Readings of the demo job's survey.

Taps are written as they would be called out, row by row from port to starboard: r ring, f flat, d dull, m drummy,
c crunch, a point for a place not read.
"""

from __future__ import annotations

from ribpatch.core.geometry import Ring, polygon_of
from ribpatch.core.readings import Moisture, Reading, Tap

_GRADES = {"r": "ring", "f": "flat", "d": "dull", "m": "drummy", "c": "crunch"}

FOREDECK_TAPS = (
    "rrrrr.........",
    "rrrrrrr.......",
    "rrrrrrrrr.....",
    "rrrrrrrrrr....",
    "rrfrrrrrrrr...",
    "rrrdfrrrrrrr..",
    "rrrfmdfrrrrrr.",
    "rrrrdcmdrrrrrr",
    "rrrrrdmfrrrrr.",
    "rrrrrrfrrrrr..",
    "rrrrrrrrrrr...",
    "rrrrrrrrrr....",
    "rrrrrrrrr.....",
    "rrrrrrr.......",
    "rrrrr.........",
)
FOREDECK_WET = (
    (0.25, 0.75, 12),
    (0.25, -0.75, 11),
    (0.55, -0.60, 13),
    (1.60, 0.30, 14),
    (0.55, 0.45, 15),
    (0.70, 0.28, 34),
    (0.85, 0.15, 52),
    (1.00, 0.00, 61),
    (1.15, 0.12, 38),
    (1.10, -0.15, 36),
    (0.85, -0.15, 22),
    (1.30, 0.00, 17),
    (0.50, 0.15, 15),
    (1.00, 0.45, 13),
    (1.00, -0.45, 12),
    (1.45, -0.30, 13),
)
TRANSOM_WET = (
    (0.15, 0.65, 11),
    (2.15, 0.65, 12),
    (0.15, 0.40, 13),
    (2.15, 0.30, 13),
    (0.60, 0.65, 12),
    (1.70, 0.65, 13),
    (0.48, 0.08, 58),
    (0.62, 0.12, 47),
    (0.30, 0.18, 19),
    (0.75, 0.20, 38),
    (0.60, 0.28, 22),
    (0.95, 0.20, 44),
    (1.02, 0.36, 53),
    (1.28, 0.36, 47),
    (1.15, 0.25, 50),
    (1.15, 0.45, 30),
    (0.82, 0.40, 17),
    (1.45, 0.40, 16),
    (1.45, 0.22, 18),
    (1.70, 0.20, 13),
    (1.70, 0.40, 12),
    (0.45, 0.42, 13),
    (1.00, 0.58, 15),
    (1.30, 0.58, 14),
    (0.15, 0.20, 13),
    (1.95, 0.12, 12),
    (1.15, 0.08, 27),
    (1.40, 0.08, 16),
)
STRINGER_TAPS = ("rrrrrrdmmdrrrrrr", "rrrrrrddmmdrrrrr")


def taps_read(rows: tuple[str, ...], x0: float, y0: float, step: float, rise: float, outline: Ring) -> list[Reading]:
    """Taps of rows of letters from a first place on, in m, as far as they lie in an outline."""
    zone = polygon_of(outline)
    found: list[Reading] = []
    for i, row in enumerate(rows):
        for j, letter in enumerate(row):
            x, y = round(x0 + j * step, 4), round(y0 - i * rise, 4)
            if letter != "." and zone.intersects(polygon_of(((x - 1e-3, y), (x, y + 1e-3), (x + 1e-3, y)))):
                found.append(Tap(id=f"r{len(found) + 1}", x=x, y=y, grade=_GRADES[letter]))
    return found


def wet_read(rows: tuple[tuple[float, float, float], ...], first: int) -> list[Reading]:
    """Meter readings of places and values."""
    return [Moisture(id=f"r{first + i}", x=x, y=y, value=value) for i, (x, y, value) in enumerate(rows)]

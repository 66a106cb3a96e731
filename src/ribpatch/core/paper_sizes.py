"""Sheets and rolls that papers are printed on."""

from __future__ import annotations

# mm: width and height; a roll is as long as it has to be.
PAPERS: dict[str, tuple[float, float]] = {
    "A4": (210, 297),
    "Letter": (215.9, 279.4),
    "A3": (297, 420),
    "Tabloid": (279.4, 431.8),
    "A2": (420, 594),
    "A1": (594, 841),
    "A0": (841, 1189),
    "roll-610": (610, 0),
    "roll-914": (914, 0),
}

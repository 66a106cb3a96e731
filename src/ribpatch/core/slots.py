"""How the calendar counts time: in slots of a quarter of an hour."""

from __future__ import annotations

SLOT = 900.0  # s
HOUR_SLOTS, DAY_SLOTS = 4, 96

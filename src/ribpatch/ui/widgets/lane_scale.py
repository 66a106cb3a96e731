"""Where hours and steps lie in the lanes of the days, in usual pixels: nights are narrow."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from PySide6.QtCore import QRectF

if TYPE_CHECKING:
    from ribpatch.core.day_lanes import Bar, Lane, Lanes

ROW, HEAD, GAP, NAMES = 24, 40, 10, 128
NIGHT = 0.12  # of the width of an hour in which someone is there
SLOTS = 4  # of an hour
LEAST_BAR = 4.0


class LaneScale:
    """Lanes laid out with so many pixels an hour; their upper left corner is the origin."""

    def __init__(self, lanes: Lanes | None, hour: float) -> None:
        self.hour = hour
        self._at, self._tops, self.high = np.zeros(1), {}, 0.0
        if lanes is None:
            return
        wide = np.full(int(lanes.hours * SLOTS) + 1, hour / SLOTS)
        for a, b in lanes.closed:
            wide[int(a * SLOTS) : int(b * SLOTS)] *= NIGHT
        self._at = np.concatenate([[0.0], np.cumsum(wide)])
        for lane in lanes.lanes:
            self._tops[lane.key] = self.high
            self.high += lane.rows * ROW + GAP

    @property
    def wide(self) -> float:
        """Pixels of all hours."""
        return float(self._at[-1])

    def x(self, hours: float) -> float:
        """Where an hour lies."""
        return float(np.interp(hours * SLOTS, np.arange(len(self._at)), self._at))

    def hours(self, x: float) -> float:
        """The hour of a place."""
        return float(np.interp(x, self._at, np.arange(len(self._at)))) / SLOTS

    def top(self, lane: Lane) -> float:
        """Where a lane begins."""
        return self._tops[lane.key]

    def box(self, bar: Bar, lane: Lane) -> QRectF:
        """The box of a step."""
        left, right = self.x(bar.start), self.x(bar.end)
        return QRectF(left, self.top(lane) + bar.row * ROW + 2, max(right - left, LEAST_BAR), ROW - 5)

"""A shape drawn side by side: typed lengths and turns, arcs by their rise, placed corners; m and degrees.

A side goes on from the last corner. Its turn is counted from straight on along the side before it, to the left above
nothing; that of the first side is counted from the zone's x. An arc is told by its rise: how far its middle stands off
the straight line between its ends, to the left above nothing, as it is measured with a straightedge and a rule.
"""

from __future__ import annotations

from math import atan2, ceil, cos, degrees, hypot, pi, radians, sin
from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.errors import BadOutline
from ribpatch.core.geometry import check_ring

if TYPE_CHECKING:
    from ribpatch.core.geometry import Point, Ring

SQUARE = 90.0  # the turn that is meant where none is given
CHORD_OFF = 0.0005  # m that the chords of an arc may stand off it
MOST_CHORDS = 90
NEAR = 1e-4  # m: two corners nearer than this are one


class Trace(Struct, frozen=True):
    """What is drawn so far: every corner with the rise of the arc that leads to it, 0 where the side is straight."""

    corners: tuple[Point, ...] = ()
    rises: tuple[float, ...] = ()

    @property
    def points(self) -> Ring:
        """All its points, with arcs as chords."""
        found: list[Point] = list(self.corners[:1])
        for k in range(1, len(self.corners)):
            found += arc(self.corners[k - 1], self.corners[k], self.rises[k])
        return tuple(found)

    @property
    def heading(self) -> float:
        """The way that it arrives at its last corner, degrees from x; an arc arrives along its end."""
        if len(self.corners) < 2:
            return 0.0
        (ax, ay), (bx, by) = self.points[-2:]
        if self.rises[-1]:
            (ax, ay), (bx, by) = self.corners[-2:]
            half = 2 * atan2(2 * self.rises[-1], hypot(bx - ax, by - ay))
            return degrees(atan2(by - ay, bx - ax) - half)
        return degrees(atan2(by - ay, bx - ax))

    def put(self, corner: Point, rise: float = 0.0) -> Trace:
        """With one more corner; the same place again is passed over. Raises BadOutline where the rise is too much."""
        place = (round(corner[0], 5), round(corner[1], 5))
        if self.corners:
            away = hypot(place[0] - self.corners[-1][0], place[1] - self.corners[-1][1])
            if away < NEAR:
                return self
            check_rise(away, rise)
        return Trace((*self.corners, place), (*self.rises, rise if self.corners else 0.0))

    def on(self, length: float, turn: float | None = None) -> Point:
        """Where a side of ``length`` m ends; without a turn it goes square to the left, the first side along x."""
        if not self.corners:
            raise BadOutline("side", reason="there is no corner to go on from", advice="Put the first corner.")
        usual = SQUARE if len(self.corners) > 1 else 0.0
        way = radians(self.heading + (usual if turn is None else turn))
        x, y = self.corners[-1]
        return x + length * cos(way), y + length * sin(way)

    def back(self) -> Trace:
        """Without its last corner."""
        return Trace(self.corners[:-1], self.rises[:-1])

    def side_to(self, place: Point) -> tuple[float, float]:
        """Length (m) and turn (degrees, -180 to 180) of a side to a place."""
        if not self.corners:
            return 0.0, 0.0
        dx, dy = place[0] - self.corners[-1][0], place[1] - self.corners[-1][1]
        turn = degrees(atan2(dy, dx)) - self.heading
        return hypot(dx, dy), (turn + 180) % 360 - 180

    def closed(self, rise: float = 0.0) -> Ring:
        """The shape as a ring, its last side an arc where ``rise`` says so. Raises BadOutline where it is no shape."""
        points = list(self.points)
        if rise and len(self.corners) > 1:
            check_rise(hypot(*(a - b for a, b in zip(self.corners[0], self.corners[-1], strict=True))), rise)
            points += arc(self.corners[-1], self.corners[0], rise)[:-1]
        if len(points) > 1 and hypot(points[0][0] - points[-1][0], points[0][1] - points[-1][1]) < NEAR:
            points.pop()
        ring = tuple((round(x, 5), round(y, 5)) for x, y in points)
        check_ring(ring, "drawn shape")
        return ring


def check_rise(chord: float, rise: float) -> None:
    """Raise BadOutline where an arc would be more than half a circle."""
    if abs(rise) > chord / 2 + 1e-9:
        raise BadOutline(
            "rise",
            reason="an arc rises by no more than half the distance between its ends",
            advice="Put a corner between, and draw it as two arcs.",
        )


def arc(a: Point, b: Point, rise: float) -> list[Point]:
    """The points of an arc from ``a`` to ``b`` after ``a``, its middle ``rise`` m off the chord, to the left above
    nothing: chords that stand off it by no more than half a millimetre.
    """
    chord = hypot(b[0] - a[0], b[1] - a[1])
    if abs(rise) < NEAR or chord < NEAR:
        return [b]
    radius = (chord**2 / 4 + rise**2) / (2 * abs(rise))
    angle = 4 * atan2(2 * abs(rise), chord)  # that it sweeps
    each = 2 * (2 * CHORD_OFF / radius) ** 0.5  # a chord of angle t stands r t^2 / 8 off
    count = min(max(ceil(angle / each), 2), MOST_CHORDS)
    along = atan2(b[1] - a[1], b[0] - a[0])
    side = 1.0 if rise > 0 else -1.0
    off = abs(rise) - radius  # of the middle of the circle from the chord, to the side of the arc
    cx = (a[0] + b[0]) / 2 - side * off * sin(along)
    cy = (a[1] + b[1]) / 2 + side * off * cos(along)
    start = along + side * (pi / 2 + angle / 2)
    points = [
        (cx + radius * cos(start - side * angle * k / count), cy + radius * sin(start - side * angle * k / count))
        for k in range(1, count)
    ]
    return [*points, b]

"""What a panel is to the solver: sides, edges, stiffness, zones of another stiffness, stiffeners and loads. SI.

The panel lies from (0, 0) to (a, b) in m. Deflection counts along the load.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

import numpy as np
from msgspec import Struct

from ribpatch.core.errors import BadStructure
from ribpatch.core.numerals import general

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats

Held = Literal["S", "C", "F"]  # simply supported, clamped, free
Axis = Literal["x", "y"]
AXES: tuple[Axis, ...] = ("x", "y")
LEAST, MOST = 1e-3, 100.0  # m, sides that the solver takes
_SLENDER = 200.0  # longest over shortest side
_NEAR = 1e-9  # of a side: what counts as on the line


def refusal(reason: str, how: str) -> BadStructure:
    """The fault of something that cannot be worked out: what and where, and how to mend it."""
    return BadStructure(reason=reason[0].upper() + reason[1:], how=how[0].upper() + how[1:])


class Stiffness(Struct, frozen=True, eq=False):
    """Of a plate: D (3, 3) N m about its neutral axes, S (2, 2) N/m in transverse shear."""

    D: Floats
    S: Floats

    @property
    def key(self) -> tuple[bytes, bytes]:
        """Its values, by which equal ones are told."""
        return self.D.tobytes(), self.S.tobytes()


class Edges(Struct, frozen=True):
    """How each side of the panel is held: x = 0, x = a, y = 0, y = b."""

    left: Held = "S"
    right: Held = "S"
    bottom: Held = "S"
    top: Held = "S"

    @property
    def all(self) -> tuple[Held, Held, Held, Held]:
        """In the order left, right, bottom, top."""
        return self.left, self.right, self.bottom, self.top


class Box(Struct, frozen=True):
    """A rectangle, m."""

    x0: float
    y0: float
    x1: float
    y1: float

    @property
    def size(self) -> tuple[float, float]:
        """Its sides, m."""
        return self.x1 - self.x0, self.y1 - self.y0

    @property
    def centre(self) -> tuple[float, float]:
        """Its middle, m."""
        return (self.x0 + self.x1) / 2, (self.y0 + self.y1) / 2


class SoftZone(Struct, frozen=True, eq=False):
    """A rectangle of another stiffness: damage, a repair, a doubler, a hole. Later ones lie over earlier ones."""

    box: Box
    stiffness: Stiffness


class PlateStiffener(Struct, frozen=True):
    """A straight member tied to the deflection of the panel, along ``axis`` at ``place`` m, of ``EI`` N m2 by itself.

    It runs from ``start`` to ``end`` m, the whole panel by default. ``footed`` does not let it turn where it starts.
    """

    axis: Axis
    place: float
    EI: float
    start: float | None = None
    end: float | None = None
    footed: bool = False


class PlateSpring(Struct, frozen=True):
    """A line along ``axis`` at ``place`` m that holds against the deflection: ``k`` N/m2, force a length over it.

    It runs from ``start`` to ``end`` m, the whole panel by default.
    """

    axis: Axis
    place: float
    k: float
    start: float | None = None
    end: float | None = None


class PlateLoad(Struct, frozen=True):
    """Force on a rectangle, N along the deflection, spread evenly; ``mx`` and ``my`` in N m tilt it.

    ``my`` > 0 presses more at greater x, ``mx`` > 0 more at greater y. A rectangle of no size is a point.
    """

    box: Box
    force: float
    mx: float = 0.0
    my: float = 0.0


class Panel(Struct, frozen=True, eq=False):
    """A rectangular panel, all that its stiffness depends on."""

    a: float
    b: float
    edges: Edges
    stiffness: Stiffness
    zones: tuple[SoftZone, ...] = ()
    stiffeners: tuple[PlateStiffener, ...] = ()
    springs: tuple[PlateSpring, ...] = ()

    @property
    def key(self) -> tuple[object, ...]:
        """Its values, by which equal panels are told."""
        zones = tuple((z.box, z.stiffness.key) for z in self.zones)
        return self.a, self.b, self.edges, self.stiffness.key, zones, self.stiffeners, self.springs

    def check(self, loads: tuple[PlateLoad, ...]) -> None:
        """Refuse what cannot be solved. Raises BadStructure, with what, where and how to mend it."""
        for name, side in (("length", self.a), ("width", self.b)):
            if not LEAST <= side <= MOST:
                raise refusal(
                    f"the panel's {name} is {general(side)} m",
                    f"give the span between supports, {general(LEAST)} to {general(MOST)} m",
                )
        if max(self.a, self.b) > _SLENDER * min(self.a, self.b):
            raise refusal("the panel is over 200 times as long as wide", "work it out as a beam")
        self._check_held()
        for stiffness in (self.stiffness, *(z.stiffness for z in self.zones)):
            _check_stiffness(stiffness)
        for zone in self.zones:
            self._check_inside(zone.box, "a zone of another stiffness", point=False)
        for load in loads:
            self._check_inside(load.box, "a load", point=True)
            if not np.isfinite([load.force, load.mx, load.my]).all():
                raise refusal("a load is no number", "give its force in N")
            if not all(load.box.size) and (load.mx or load.my):
                raise refusal("a moment acts on a point", "give the size of the plate that it acts through")
        self._check_lines()

    def _check_lines(self) -> None:
        for member in self.stiffeners:
            self._check_line(member, "a stiffener")
            if not (np.isfinite(member.EI) and member.EI >= 0):
                raise refusal("a stiffener's EI is negative or no number", "give EI in N m2, 0 or more")
        for spring in self.springs:
            self._check_line(spring, "a line that holds")
            if not (np.isfinite(spring.k) and spring.k >= 0):
                raise refusal("the stiffness of a line that holds is negative or no number", "give k in N/m2")

    def _check_held(self) -> None:
        held = [e for e in self.edges.all if e != "F"]
        if not held or held == ["S"]:
            what = "all edges are free" if not held else "only one edge is held, and it can turn"
            raise refusal(f"{what}: the panel is a mechanism", "support a second edge, or clamp one")

    def _check_inside(self, box: Box, what: str, point: bool) -> None:
        slack = _NEAR * max(self.a, self.b)
        w, h = box.size
        if not np.isfinite([box.x0, box.y0, box.x1, box.y1]).all() or w < 0 or h < 0 or (not point and w * h <= 0):
            raise refusal(f"{what} has no size", "give its lower and upper corner")
        if box.x0 < -slack or box.y0 < -slack or box.x1 > self.a + slack or box.y1 > self.b + slack:
            raise refusal(
                f"{what} from ({general(box.x0)}, {general(box.y0)}) to ({general(box.x1)}, {general(box.y1)}) m lies "
                f"off the panel of {general(self.a)} × {general(self.b)} m",
                "move it onto the panel, make it smaller, or enlarge the panel",
            )

    def _check_line(self, member: PlateStiffener | PlateSpring, what: str) -> None:
        across, along = (self.b, self.a) if member.axis == "x" else (self.a, self.b)
        start = 0.0 if member.start is None else member.start
        end = along if member.end is None else member.end
        slack = _NEAR * max(self.a, self.b)
        if not (-slack <= member.place <= across + slack and -slack <= start < end <= along + slack):
            raise refusal(
                f"{what} along {member.axis} at {general(member.place)} m lies off the panel or has no length",
                f"place it between 0 and {general(across)} m, from 0 to {general(along)} m",
            )


def _check_stiffness(stiffness: Stiffness) -> None:
    D, S = np.asarray(stiffness.D, float), np.asarray(stiffness.S, float)
    if D.shape != (3, 3) or S.shape != (2, 2) or not (np.isfinite(D).all() and np.isfinite(S).all()):
        raise refusal("a stiffness matrix is not 3 by 3 (D) or 2 by 2 (S)", "give D in N m and S in N/m")
    for name, matrix in (("D", D), ("S", S)):
        if abs(matrix - matrix.T).max() > 1e-6 * abs(matrix).max() or np.linalg.eigvalsh(matrix)[0] <= 0:
            raise refusal(f"{name} is not symmetric and positive", "check its terms: no plate is so")


_SWAP = np.array([1, 0, 2])


def _turned_stiffness(stiffness: Stiffness) -> Stiffness:
    return Stiffness(stiffness.D[np.ix_(_SWAP, _SWAP)], stiffness.S[::-1, ::-1])


def _turned_box(box: Box) -> Box:
    return Box(box.y0, box.x0, box.y1, box.x1)


def turned_load(load: PlateLoad) -> PlateLoad:
    """The load with x and y in each other's place."""
    return PlateLoad(_turned_box(load.box), load.force, load.my, load.mx)


def turned_panel(panel: Panel) -> Panel:
    """The panel with x and y in each other's place."""
    left, right, bottom, top = panel.edges.all
    return Panel(
        panel.b,
        panel.a,
        Edges(bottom, top, left, right),
        _turned_stiffness(panel.stiffness),
        tuple(SoftZone(_turned_box(z.box), _turned_stiffness(z.stiffness)) for z in panel.zones),
        tuple(
            PlateStiffener("y" if s.axis == "x" else "x", s.place, s.EI, s.start, s.end, s.footed)
            for s in panel.stiffeners
        ),
        tuple(PlateSpring("y" if s.axis == "x" else "x", s.place, s.k, s.start, s.end) for s in panel.springs),
    )

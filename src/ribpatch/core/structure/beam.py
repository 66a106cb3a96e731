"""Beams of any number of stretches, on any supports: exact Timoshenko members between breaks. SI. Source: [24].

Deflection counts along the loads, moments are positive where they stretch the side away from the loads (sagging).
Valid for small deflections and straight beams; shear is left out where no shear stiffness is given.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

import numpy as np
from msgspec import Struct

from ribpatch.core.series import distinct
from ribpatch.core.structure.panel_records import refusal

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats

End = Literal["S", "C", "F"]
STATIONS = 121  # places where the beam is looked at, beside all breaks
_NEAR = 1e-9


class Stretch(Struct, frozen=True):
    """From ``start`` to ``end`` m the beam has this EI (N m2) and shear stiffness GA (N, none for no shear)."""

    start: float
    end: float
    EI: float
    GA: float | None = None


class BeamLoad(Struct, frozen=True):
    """Force in N, spread evenly from ``start`` to ``end`` m, or at one place where they are equal."""

    start: float
    end: float
    force: float


class Prop(Struct, frozen=True):
    """A support between the ends at ``place`` m: it holds the deflection, or gives by its stiffness in N/m."""

    place: float
    stiffness: float | None = None


class Beam(Struct, frozen=True):
    """A beam of ``length`` m. Later stretches lie over earlier ones; the first should cover the whole."""

    length: float
    EI: float
    ends: tuple[End, End] = ("S", "S")
    GA: float | None = None
    stretches: tuple[Stretch, ...] = ()
    props: tuple[Prop, ...] = ()

    def check(self, loads: tuple[BeamLoad, ...]) -> None:
        """Refuse what cannot be worked out. Raises BadStructure."""
        if not (np.isfinite(self.length) and 0 < self.length <= 1000):
            raise refusal(f"the beam is {self.length:g} m long", "give its span, more than 0 m")
        for EI, GA in ((self.EI, self.GA), *((s.EI, s.GA) for s in self.stretches)):
            if not (np.isfinite(EI) and EI > 0) or (GA is not None and not (np.isfinite(GA) and GA > 0)):
                raise refusal("a bending or shear stiffness of the beam is not above 0", "give EI in N m2, GA in N")
        firm = sum(p.stiffness is None or p.stiffness > 0 for p in self.props)
        held = firm + sum(e == "S" for e in self.ends)
        if "C" not in self.ends and held < 2:
            raise refusal("the beam is a mechanism: nothing holds it", "support it twice, or clamp an end")
        spans = [(s.start, s.end, "a stretch") for s in self.stretches] + [(x.start, x.end, "a load") for x in loads]
        for start, end, what in (*spans, *((p.place, p.place, "a support") for p in self.props)):
            if not (-_NEAR <= start <= end <= self.length * (1 + _NEAR)):
                raise refusal(
                    f"{what} from {start:g} to {end:g} m lies off the beam of {self.length:g} m",
                    "move it onto the beam",
                )
        if not all(np.isfinite(x.force) for x in loads):
            raise refusal("a load is no number", "give its force in N")


class BeamAnswer(Struct, frozen=True, eq=False):
    """Along the beam at ``x`` m: deflection ``w`` m, moment ``m`` N m, shear ``v`` N (just after each place, and before
    it in ``v_before``); what each end and each prop carries along the beam, N, and the moments at its ends, N m.
    """

    x: Floats
    w: Floats
    m: Floats
    v: Floats
    v_before: Floats
    reactions: Floats
    end_moments: tuple[float, float]

    def at(self, place: float) -> tuple[float, float]:
        """Deflection and moment at a place that is one of the stations."""
        n = int(np.argmin(np.abs(self.x - place)))
        return float(self.w[n]), float(self.m[n])

    def greatest(self, values: Floats) -> tuple[float, float]:
        """The greatest of ``values`` by size, with its sign, and where, m."""
        n = int(np.argmax(np.abs(values)))
        return float(values[n]), float(self.x[n])


def solve_beam(beam: Beam, loads: tuple[BeamLoad, ...], asked: tuple[float, ...] = ()) -> BeamAnswer:
    """The beam under all loads together, looked at in ``asked`` places (m) too. Raises BadStructure."""
    beam.check(loads)
    breaks = [v for s in beam.stretches for v in (s.start, s.end)] + [v for x in loads for v in (x.start, x.end)]
    breaks += [p.place for p in beam.props] + list(asked)
    x = distinct(np.round(np.clip([*np.linspace(0, beam.length, STATIONS), *breaks], 0, beam.length), 12))
    x = x[np.concatenate([[True], np.diff(x) > 1e-10 * beam.length])]
    h, middle = np.diff(x), (x[:-1] + x[1:]) / 2
    EI, flex = _along(beam, middle)
    K, F = _assembled(h, EI, flex, _spread(loads, middle, h), len(x))
    for load in loads:
        if load.end - load.start <= _NEAR:
            F[2 * int(np.argmin(np.abs(x - load.start)))] += load.force
    springs = {int(np.argmin(np.abs(x - p.place))): p.stiffness for p in beam.props}
    whole = K.copy()
    for n, stiffness in springs.items():
        if stiffness is not None:
            K[2 * n, 2 * n] += stiffness
    held = _held(beam, len(x), springs)
    free = np.setdiff1d(np.arange(2 * len(x)), held)
    u = np.zeros(2 * len(x))
    u[free] = np.linalg.solve(K[np.ix_(free, free)], F[free])
    return _answer(beam, loads, x, u, whole @ u - F, springs)


def _along(beam: Beam, middle: Floats) -> tuple[Floats, Floats]:
    """EI (N m2) and shear flexibility 1 / GA (1/N) of every member."""
    EI = np.full(len(middle), beam.EI)
    flex = np.full(len(middle), 1 / beam.GA if beam.GA else 0.0)
    for s in beam.stretches:
        inside = (middle > s.start) & (middle < s.end)
        EI[inside], flex[inside] = s.EI, 1 / s.GA if s.GA else 0.0
    return EI, flex


def _spread(loads: tuple[BeamLoad, ...], middle: Floats, h: Floats) -> Floats:
    """Even load on every member, N/m."""
    q = np.zeros_like(h)
    for load in loads:
        if load.end - load.start > _NEAR:
            inside = (middle > load.start) & (middle < load.end)
            q[inside] += load.force / (load.end - load.start)
    return q


def _assembled(h: Floats, EI: Floats, flex: Floats, q: Floats, count: int) -> tuple[Floats, Floats]:
    """Stiffness and forces of deflections and slopes of all stations."""
    phi = 12 * EI * flex / h**2
    scale = EI / (h**3 * (1 + phi))
    one = np.ones_like(h)
    rows = [
        [12 * one, 6 * h, -12 * one, 6 * h],
        [6 * h, (4 + phi) * h**2, -6 * h, (2 - phi) * h**2],
        [-12 * one, -6 * h, 12 * one, -6 * h],
        [6 * h, (2 - phi) * h**2, -6 * h, (4 + phi) * h**2],
    ]
    member = scale[:, None, None] * np.moveaxis(np.array(rows), -1, 0)
    forces = q[:, None] * np.stack([h / 2, h**2 / 12, h / 2, -(h**2) / 12], axis=1)
    K, F = np.zeros((2 * count, 2 * count)), np.zeros(2 * count)
    at = 2 * np.arange(count - 1)[:, None] + np.arange(4)
    np.add.at(K, (at[:, :, None], at[:, None, :]), member)
    np.add.at(F, at, forces)
    return K, F


def _held(beam: Beam, count: int, springs: dict[int, float | None]) -> list[int]:
    held = [2 * n for n, stiffness in springs.items() if stiffness is None]
    for end, n in zip(beam.ends, (0, count - 1), strict=True):
        held += {"S": [2 * n], "C": [2 * n, 2 * n + 1], "F": []}[end]
    return held


def _answer(
    beam: Beam, loads: tuple[BeamLoad, ...], x: Floats, u: Floats, left: Floats, springs: dict[int, float | None]
) -> BeamAnswer:
    """Shear by adding up what acts along the beam, moments by adding up the shear; ``left`` is what supports add."""
    h = np.diff(x)
    support = np.where([_is_held(beam, n, len(x), springs) for n in range(len(x))], -left[::2], 0.0)
    for n, stiffness in springs.items():
        if stiffness is not None:
            support[n] = stiffness * u[2 * n]
    q = _spread(loads, (x[:-1] + x[1:]) / 2, h)
    points = np.zeros_like(x)
    for load in loads:
        if load.end - load.start <= _NEAR:
            points[int(np.argmin(np.abs(x - load.start)))] += load.force
    jumps = support - points
    spread = np.concatenate([[0.0], np.cumsum(q * h)])
    after = np.cumsum(jumps) - spread
    before = after - jumps
    start = float(left[1]) if beam.ends[0] == "C" else 0.0
    end = -float(left[-1]) if beam.ends[1] == "C" else 0.0
    m = start + np.concatenate([[0.0], np.cumsum((after[:-1] + before[1:]) / 2 * h)])
    at = (0, *sorted(springs), len(x) - 1)
    return BeamAnswer(x, u[::2], m, after, before, support[list(dict.fromkeys(at))], (start, end))


def _is_held(beam: Beam, n: int, count: int, springs: dict[int, float | None]) -> bool:
    if n in springs and springs[n] is None:
        return True
    return (n == 0 and beam.ends[0] != "F") or (n == count - 1 and beam.ends[1] != "F")

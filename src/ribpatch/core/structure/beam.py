"""Beams of any number of stretches, on any supports, with shear: integrated exactly along. SI. Source: [24].

Deflection counts along the loads, moments are positive where they stretch the side away from the loads (sagging).
Valid for small deflections and straight beams; shear is left out where no shear stiffness is given.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

import numpy as np
from msgspec import Struct

from ribpatch.core.numerals import general
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
            raise refusal(f"the beam is {general(self.length)} m long", "give its span, more than 0 m")
        for EI, GA in ((self.EI, self.GA), *((s.EI, s.GA) for s in self.stretches)):
            if not (np.isfinite(EI) and EI > 0) or (GA is not None and not (np.isfinite(GA) and GA > 0)):
                raise refusal("a bending or shear stiffness of the beam is not above 0", "give EI in N m2, GA in N")
        firm = sum(p.stiffness is None or p.stiffness > 0 for p in self.props)
        held = firm + sum(e == "S" for e in self.ends)
        if "C" not in self.ends and held < 2:
            raise refusal("the beam is a mechanism: nothing holds it", "support it twice, or clamp an end")
        held_at = [x for x, e in zip((0.0, self.length), self.ends, strict=True) if e != "F"]
        places = [*held_at, *(p.place for p in self.props)]
        if len(places) != len({round(p / self.length, 6) for p in places}):
            raise refusal("two supports of the beam stand at one place", "take one of them away, or move it")
        spans = [(s.start, s.end, "a stretch") for s in self.stretches] + [(x.start, x.end, "a load") for x in loads]
        for start, end, what in (*spans, *((p.place, p.place, "a support") for p in self.props)):
            if not (-_NEAR <= start <= end <= self.length * (1 + _NEAR)):
                raise refusal(
                    f"{what} from {general(start)} to {general(end)} m lies off the beam of {general(self.length)} m",
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
    """The beam under all loads together, looked at in ``asked`` places (m) too. Raises BadStructure.

    Shear, moment, slope and deflection are carried on from the first end, exactly, for the loads and for every unknown
    by itself; the unknowns are what makes the supports hold.
    """
    beam.check(loads)
    breaks = [v for s in beam.stretches for v in (s.start, s.end)] + [v for x in loads for v in (x.start, x.end)]
    breaks += [p.place for p in beam.props] + list(asked)
    x = distinct(np.clip([*np.linspace(0, beam.length, STATIONS), *breaks], 0, beam.length))
    begins = _BEGINS[beam.ends[0]]
    props = [int(np.searchsorted(x, p.place)) for p in beam.props]
    before, after = _carried(beam, loads, x, begins, props)
    rows, right = _conditions(beam, before, after, props, len(begins))
    # What makes the supports hold, each condition and unknown in its own measure.
    by_row = np.abs(rows).max(axis=1, keepdims=True)
    rows, right = rows / by_row, right / by_row[:, 0]
    by_column = np.abs(rows).max(axis=0)
    unknown = np.linalg.solve(rows / by_column, right) / by_column
    mix = np.concatenate([[1.0], unknown])
    before, after = before @ mix, after @ mix
    reactions = dict(zip(props, unknown[len(begins) :], strict=True))
    first = _support(beam, 0, before, after) + reactions.get(0, 0.0)
    last = _support(beam, -1, before, after) + reactions.get(len(x) - 1, 0.0)
    inner = [r for n, r in sorted(reactions.items()) if 0 < n < len(x) - 1]
    return BeamAnswer(
        x,
        after[:, _W],
        after[:, _M],
        after[:, _V],
        before[:, _V],
        np.array([first, *inner, last]),
        (float(after[0, _M]) if beam.ends[0] == "C" else 0.0, float(before[-1, _M]) if beam.ends[1] == "C" else 0.0),
    )


_W, _T, _M, _V = range(4)  # deflection, slope of the section, moment, shear force
_BEGINS: dict[End, tuple[int, ...]] = {"S": (_T, _V), "C": (_M, _V), "F": (_W, _T)}
_ENDS: dict[End, tuple[int, int]] = {"S": (_W, _M), "C": (_W, _T), "F": (_M, _V)}


def _along(beam: Beam, middle: Floats) -> tuple[Floats, Floats]:
    """EI (N m2) and shear flexibility 1 / GA (1/N) between stations."""
    EI = np.full(len(middle), beam.EI)
    flex = np.full(len(middle), 1 / beam.GA if beam.GA else 0.0)
    for s in beam.stretches:
        inside = (middle > s.start) & (middle < s.end)
        EI[inside], flex[inside] = s.EI, 1 / s.GA if s.GA else 0.0
    return EI, flex


def _spread(loads: tuple[BeamLoad, ...], x: Floats) -> tuple[Floats, Floats]:
    """Even load between stations, N/m, and point loads at them, N."""
    middle = (x[:-1] + x[1:]) / 2
    q, points = np.zeros(len(middle)), np.zeros(len(x))
    for load in loads:
        if load.end - load.start > _NEAR:
            q[(middle > load.start) & (middle < load.end)] += load.force / (load.end - load.start)
        else:
            points[int(np.searchsorted(x, min(load.start, x[-1])))] += load.force
    return q, points


def _carried(
    beam: Beam, loads: tuple[BeamLoad, ...], x: Floats, begins: tuple[int, ...], props: list[int]
) -> tuple[Floats, Floats]:
    """State just before and just after every station, shape (stations, 4, 1 + unknowns): of the loads, then of each
    unknown by itself, first those at the beginning and then what each prop carries.
    """
    h = np.diff(x)
    EI, flex = _along(beam, (x[:-1] + x[1:]) / 2)
    q, points = _spread(loads, x)
    count = 1 + len(begins) + len(props)
    before, after = np.zeros((len(x), 4, count)), np.zeros((len(x), 4, count))
    for k, part in enumerate(begins, 1):
        before[0, part, k] = 1.0
    for n in range(len(x)):
        if n:
            before[n] = _stepped(after[n - 1], float(h[n - 1]), float(EI[n - 1]), float(flex[n - 1]), float(q[n - 1]))
        after[n] = before[n]
        after[n, _V, 0] -= points[n]
        for k, at in enumerate(props, 1 + len(begins)):
            if at == n:
                after[n, _V, k] += 1.0
    return before, after


def _stepped(state: Floats, h: float, EI: float, flex: float, q: float) -> Floats:
    """The state ``h`` m further on, where only the first column carries the even load ``q``."""
    w, t, m, v = state
    load = np.zeros_like(w)
    load[0] = q
    return np.stack(
        [
            w + t * h - (m * h**2 / 2 + v * h**3 / 6 - load * h**4 / 24) / EI + (v * h - load * h**2 / 2) * flex,
            t - (m * h + v * h**2 / 2 - load * h**3 / 6) / EI,
            m + v * h - load * h**2 / 2,
            v - load * h,
        ]
    )


def _conditions(beam: Beam, before: Floats, after: Floats, props: list[int], begins: int) -> tuple[Floats, Floats]:
    """What the last end and the props ask of the unknowns: rows and right side."""
    rows, right = [], []
    last = after if beam.ends[1] == "F" else before  # at a free end nothing is left; a support takes what comes
    for part in _ENDS[beam.ends[1]]:
        rows.append(last[-1, part, 1:])
        right.append(-last[-1, part, 0])
    for k, (n, prop) in enumerate(zip(props, beam.props, strict=True)):
        row = before[n, _W, 1:].copy()
        right.append(-before[n, _W, 0])
        if prop.stiffness is not None:
            row[begins + k] -= 1 / prop.stiffness
        rows.append(row)
    return np.array(rows), np.array(right)


def _support(beam: Beam, end: int, before: Floats, after: Floats) -> float:
    """What a held end carries, N."""
    if beam.ends[end] == "F":
        return 0.0
    return float(before[0, _V]) if end == 0 else -float(after[-1, _V])

"""Numbers of a panel's unknowns by columns of pieces, and the stiffeners among them. SI.

A stiffener's deflection is the panel's, its rotation its own: so a soft core's shear does not let the panel bypass it.
"""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.structure.plate_elements import FIELDS, modes, products

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from ribpatch.core.geometry import Floats
    from ribpatch.core.structure.panel_records import Axis, Panel, PlateSpring, PlateStiffener

    Ints = NDArray[np.intp]

RIGID = 1e7  # times D × side: a member stiffer than that is a line that does not bend
FIRM = 1e8  # times D / side3: a line that holds firmer than that does not give
BEAM_SHEAR = 1e6  # of EI / side2: a member's own shear is left out, and so stiff that it does not show


class Layout(Struct, frozen=True):
    """Numbers of the unknowns of one column of pieces: those on its left line, on its right line, and between."""

    nx: int
    ny: int
    degree: int
    along: tuple[Axis, ...] = ()  # the ways in which stiffeners run: each has a field for their rotation

    @property
    def fields(self) -> int:
        """Fields of the plate, and of stiffeners' rotations."""
        return FIELDS + len(self.along)

    def field_of(self, axis: Axis) -> int:
        """The field of the rotation of stiffeners that run one way."""
        return FIELDS + self.along.index(axis)

    @property
    def bubbles(self) -> int:
        """Modes of a piece's side that vanish at its ends."""
        return self.degree - 1

    @property
    def on_line(self) -> int:
        """Unknowns of one field on a line along y."""
        return self.ny + 1 + self.ny * self.bubbles

    @property
    def between(self) -> int:
        """Unknowns of one field between two lines."""
        return (self.ny + 1) * self.bubbles

    @property
    def line(self) -> int:
        """Unknowns of a line along y."""
        return self.fields * self.on_line

    @property
    def own(self) -> int:
        """Unknowns of a column between its lines."""
        return self.fields * self.between

    @property
    def size(self) -> int:
        """All unknowns of a column."""
        return 2 * self.line + self.own

    def right(self, index: Ints) -> Ints:
        """The same place on the right line."""
        return index + self.line

    def vertical(self, field: int, j: int) -> Ints:
        """Unknowns of a field along piece ``j`` of the left line: its two ends, then the inner modes."""
        first = field * self.on_line
        inner = first + self.ny + 1 + j * self.bubbles + np.arange(self.bubbles)
        return np.concatenate([[first + j, first + j + 1], inner])

    def across(self, field: int, j: int) -> Ints:
        """Unknowns of a field along the piece of line y = ``j`` in this column: its two ends, then the inner modes."""
        end = field * self.on_line + j
        inner = 2 * self.line + field * self.between + j * self.bubbles + np.arange(self.bubbles)
        return np.concatenate([[end, end + self.line], inner])

    def piece(self, j: int) -> Ints:
        """Unknowns of piece ``j`` without those inside it, in the order of ``_split``."""
        return _piece(self, j)


@lru_cache(maxsize=400)
def _piece(layout: Layout, j: int) -> Ints:
    n = layout.degree + 1
    rows = []
    for field in range(FIELDS):
        left = layout.vertical(field, j)
        low, high = layout.across(field, j)[2:], layout.across(field, j + 1)[2:]
        whole = np.full((n, n), -1)
        whole[0], whole[1] = left, layout.right(left)
        whole[2:, 0], whole[2:, 1] = low, high
        rows.append(whole.ravel())
    flat = np.concatenate(rows)
    return flat[flat >= 0]


def add_beams(
    K: Floats, beams: tuple[PlateStiffener, ...], xs: Floats, ys: Floats, layout: Layout, panel_D: float
) -> None:
    """Add every stiffener's bending: its deflection is the panel's, its rotation its own."""
    for beam in beams:
        rows, along = (ys, xs) if beam.axis == "x" else (xs, ys)
        line = _line_of(beam, rows)
        side = float(along[-1])
        EI = min(beam.EI, RIGID * panel_D * side)
        stiff = min(BEAM_SHEAR * EI / side**2, 10 * RIGID * panel_D / side)
        for piece in _spanned(beam, along).tolist():
            h = float(along[piece + 1] - along[piece])
            if beam.axis == "x":
                at = np.concatenate([layout.across(0, line), layout.across(layout.field_of("x"), line)])
                _add_beam(K[piece], at, EI, h, stiff, layout.degree)
            else:
                at = np.concatenate([layout.vertical(0, piece), layout.vertical(layout.field_of("y"), piece)])
                at = layout.right(at) if line == layout.nx else at
                _add_beam(K[min(line, layout.nx - 1)], at, EI, h, stiff, layout.degree)


def add_springs(
    K: Floats, springs: tuple[PlateSpring, ...], xs: Floats, ys: Floats, layout: Layout, panel_D: float
) -> None:
    """Add every line that holds: force a length against the panel's deflection on it."""
    product = products(layout.degree)[0, 0]
    for spring in springs:
        rows, along = (ys, xs) if spring.axis == "x" else (xs, ys)
        line = _line_of(spring, rows)
        k = min(spring.k, FIRM * panel_D / float(along[-1]) ** 3)
        for piece in _spanned(spring, along).tolist():
            h = float(along[piece + 1] - along[piece])
            if spring.axis == "x":
                column, at = piece, layout.across(0, line)
            else:
                column, at = min(line, layout.nx - 1), layout.vertical(0, piece)
                at = layout.right(at) if line == layout.nx else at
            K[column][np.ix_(at, at)] += k * h * product


def _line_of(beam: PlateStiffener | PlateSpring, rows: Floats) -> int:
    """The line of pieces that a member stands on."""
    return int(np.argmin(np.abs(rows - beam.place)))


def _spanned(beam: PlateStiffener | PlateSpring, along: Floats) -> Ints:
    """The pieces that a line runs over."""
    start = along[0] if beam.start is None else beam.start
    end = along[-1] if beam.end is None else beam.end
    middle = (along[:-1] + along[1:]) / 2
    return np.flatnonzero((middle > start) & (middle < end))


def _add_beam(K: Floats, at: Ints, EI: float, h: float, GA: float, degree: int) -> None:
    line, n = products(degree), degree + 1
    made = np.zeros((2 * n, 2 * n))
    made[:n, :n] = GA / h * line[1, 1]
    made[:n, n:] = GA * line[1, 0]
    made[n:, :n] = made[:n, n:].T
    made[n:, n:] = EI / h * line[1, 1] + GA * h * line[0, 0]
    K[np.ix_(at, at)] += made


def foot_moments(columns: Floats, panel: Panel, xs: Floats, ys: Floats, layout: Layout) -> Floats:
    """Moment in each stiffener where it starts, N m, shape (stiffeners, cases); ``columns`` as solved."""
    made = np.zeros((len(panel.stiffeners), columns.shape[2]))
    _, slopes = modes(np.zeros(1), layout.degree)
    for k, beam in enumerate(panel.stiffeners):
        rows, along = (ys, xs) if beam.axis == "x" else (xs, ys)
        at, pieces = _line_of(beam, rows), _spanned(beam, along)
        if not len(pieces) or beam.EI <= 0:
            continue
        first, field = int(pieces[0]), layout.field_of(beam.axis)
        index = layout.across(field, at) if beam.axis == "x" else layout.vertical(field, first)
        column = first if beam.axis == "x" else min(at, layout.nx - 1)
        index = layout.right(index) if beam.axis == "y" and at == layout.nx else index
        made[k] = beam.EI / float(along[first + 1] - along[first]) * (slopes[0] @ columns[column, index])
    return made


def hold_beams(held: NDArray[np.bool_], panel: Panel, xs: Floats, ys: Floats, layout: Layout) -> None:
    """Unknowns of stiffeners exist only where one runs; one that ends at a clamped edge does not turn there."""
    free = np.zeros_like(held)
    for beam in panel.stiffeners:
        rows, along = (ys, xs) if beam.axis == "x" else (xs, ys)
        at = _line_of(beam, rows)
        for n in _spanned(beam, along) if beam.EI > 0 else ():
            if beam.axis == "x":
                free[n, layout.across(layout.field_of("x"), at)] = True
            else:
                index = layout.vertical(layout.field_of("y"), n)
                if at < layout.nx:
                    free[at, index] = True
                if at > 0:
                    free[at - 1, layout.right(index)] = True
    right_line = slice(layout.line, 2 * layout.line)
    both = free[1:, : layout.line] | free[:-1, right_line]
    free[1:, : layout.line] = free[:-1, right_line] = both
    _hold_ends(free, panel, xs, ys, layout)
    for field in range(FIELDS, layout.fields):
        for start, size in (
            (field * layout.on_line, layout.on_line),
            (layout.line + field * layout.on_line, layout.on_line),
            (2 * layout.line + field * layout.between, layout.between),
        ):
            held[:, start : start + size] |= ~free[:, start : start + size]


def _hold_ends(free: NDArray[np.bool_], panel: Panel, xs: Floats, ys: Floats, layout: Layout) -> None:
    """Stiffeners do not turn at their feet, nor at clamped edges."""
    left, right, bottom, top = panel.edges.all
    for beam in panel.stiffeners:
        if beam.footed:
            _foot(free, beam, xs, ys, layout)
    if "x" in layout.along:
        ends = layout.field_of("x") * layout.on_line + np.arange(layout.ny + 1)
        if left == "C":
            free[0, ends] = False
        if right == "C":
            free[-1, layout.right(ends)] = False
    for how, j in ((bottom, 0), (top, layout.ny)):
        if how == "C" and "y" in layout.along:
            place = np.array([layout.field_of("y") * layout.on_line + j])
            free[:, place] = free[:, layout.right(place)] = False


def _foot(free: NDArray[np.bool_], beam: PlateStiffener, xs: Floats, ys: Floats, layout: Layout) -> None:
    """A stiffener does not turn where it starts."""
    rows, along = (ys, xs) if beam.axis == "x" else (xs, ys)
    at = _line_of(beam, rows)
    first = int(_spanned(beam, along)[0])
    field = layout.field_of(beam.axis) * layout.on_line
    line, index = (first, np.array([field + at])) if beam.axis == "x" else (at, np.array([field + first]))
    if line < layout.nx:
        free[line, index] = False
    if line > 0:
        free[line - 1, layout.right(index)] = False

"""Solves a panel: pieces, their inner unknowns taken out, then line by line across the panel. NumPy only.

The unknowns inside a piece meet nothing else and go first, all pieces at once; then those between two lines along y;
what is left couples each line to its neighbours only, so the whole is solved line by line. SI. Source: [22], [23].
"""

from __future__ import annotations

from functools import lru_cache
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.memo import Known
from ribpatch.core.structure.mesh import mesh_of
from ribpatch.core.structure.panel_field import PanelField
from ribpatch.core.structure.panel_layout import Layout, add_beams, add_springs, foot_moments, hold_beams
from ribpatch.core.structure.panel_records import AXES, refusal, turned_load, turned_panel
from ribpatch.core.structure.plate_elements import DEGREE, FIELDS, gauss, modes, stiffness_of

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from ribpatch.core.geometry import Floats
    from ribpatch.core.structure.panel_records import Box, Panel, PlateLoad, Stiffness

    Ints = NDArray[np.intp]

NO_SHEAR = 1e8  # times D / side2: a shear stiffness beyond it is as good as none of the shear
MOST_PIECES = 1500
_MANY = 7  # break lines each way, beyond which a degree less does as well


class Solved(Struct, frozen=True, eq=False):
    """The panel under each of its loads by itself, in their order."""

    panel: Panel
    fields: tuple[PanelField, ...]
    feet: Floats  # moment in each stiffener where it starts, N m, shape (stiffeners, cases)

    @property
    def field(self) -> PanelField:
        """Under the first load."""
        return self.fields[0]


def solve_panel(
    panel: Panel,
    cases: tuple[tuple[PlateLoad, ...], ...],
    degree: int | None = None,
    mesh: tuple[Floats, Floats] | None = None,
) -> Solved:
    """Deflection and rotations under each load case; ``mesh`` gives the break lines, m. Raises BadStructure.

    Degree 5, or 4 where there are many pieces anyway: deflections within 0.5 % and moments within 2 % of what finer
    pieces give (`docs/CONVERGENCE.md`), but for the corners where theory has moments without end.
    """
    every = tuple(load for case in cases for load in case)
    panel.check(every)
    xs, ys = mesh_of(panel, every) if mesh is None else mesh
    if (len(xs) - 1) * (len(ys) - 1) > MOST_PIECES:
        raise refusal(
            f"the borders of zones, loads and stiffeners cut the panel into {len(xs) - 1} by {len(ys) - 1} pieces",
            f"let borders fall together, or leave small ones out: at most {MOST_PIECES} pieces",
        )
    chosen = (DEGREE if min(len(xs), len(ys)) <= _MANY else DEGREE - 1) if degree is None else degree
    if len(ys) > len(xs):  # the lines that couple are the shorter ones
        fields, feet = _solved(turned_panel(panel), tuple(tuple(map(turned_load, c)) for c in cases), chosen, (ys, xs))
        return Solved(panel, tuple(field.turned for field in fields), feet)
    return Solved(panel, *_solved(panel, cases, chosen, (xs, ys)))


_SOLVED: Known[tuple[object, ...], Solved] = Known(24)


def solved_before(panel: Panel, cases: tuple[tuple[PlateLoad, ...], ...], degree: int | None = None) -> Solved:
    """The panel under each case; one that was solved before is found by its values. Raises BadStructure."""
    return _SOLVED.of((panel.key, cases, degree), lambda: solve_panel(panel, cases, degree))


def _solved(
    panel: Panel, cases: tuple[tuple[PlateLoad, ...], ...], degree: int, mesh: tuple[Floats, Floats]
) -> tuple[tuple[PanelField, ...], Floats]:
    xs, ys = mesh
    beams = panel.stiffeners
    along = tuple(axis for axis in AXES if any(b.axis == axis for b in beams))
    layout = Layout(len(xs) - 1, len(ys) - 1, degree, along)
    strains = _strains(panel, xs, ys)
    hx, hy = np.repeat(np.diff(xs), layout.ny), np.tile(np.diff(ys), layout.nx)
    inner = _condensed(strains, hx, hy, _forces(cases, xs, ys, degree), degree)
    K, F = _columns(inner.outer, inner.load, layout)
    add_beams(K, beams, xs, ys, layout, float(np.trace(panel.stiffness.D)))
    add_springs(K, panel.springs, xs, ys, layout, float(np.trace(panel.stiffness.D)))
    held = _hold(K, F, panel, xs, ys, layout)
    columns = _by_lines(K, F, held, layout)
    return _fields(columns, inner, xs, ys, strains, layout), foot_moments(columns, panel, xs, ys, layout)


class _Condensed(Struct, frozen=True, eq=False):
    """Pieces without their inner unknowns: ``outer`` (e, k, k), ``load`` (e, k, cases); how the inner ones follow."""

    outer: Floats
    load: Floats
    pull: Floats
    own: Floats


def _condensed(strains: Floats, hx: Floats, hy: Floats, forces: Floats, degree: int) -> _Condensed:
    """Take the inner unknowns out; pieces that are alike are worked out once."""
    alike = np.concatenate([np.round(np.stack([hx, hy], axis=1), 12), strains.reshape(len(hx), -1)], axis=1)
    _, first, which = np.unique(alike, axis=0, return_index=True, return_inverse=True)
    which = which.ravel()
    whole = stiffness_of(strains[first], hx[first], hy[first], degree)
    kept, inner = _split(degree)
    coupled = _picked(whole, inner, kept)
    inverse = np.linalg.inv(_picked(whole, inner, inner))
    pull = inverse @ coupled
    outer = _picked(whole, kept, kept) - np.swapaxes(coupled, 1, 2) @ pull
    load = forces[:, kept] - np.swapaxes(pull, 1, 2)[which] @ forces[:, inner]
    return _Condensed(outer[which], load, pull[which], inverse[which] @ forces[:, inner])


def _picked(matrices: Floats, rows: Ints, columns: Ints) -> Floats:
    """Some rows and columns of square matrices (e, n, n): by one list of places, in half the time of two."""
    count = matrices.shape[-1]
    places = (rows[:, None] * count + columns).ravel()
    return np.asarray(matrices.reshape(len(matrices), -1).take(places, axis=1).reshape(-1, rows.size, columns.size))


def _strains(panel: Panel, xs: Floats, ys: Floats) -> Floats:
    """D over S of every piece, shape (nx ny, 5, 5): that of the last zone that its middle lies in."""

    side = min(panel.a, panel.b)

    def both(stiffness: Stiffness) -> Floats:
        made = np.zeros((5, 5))
        # Stiffer in shear than that shows nowhere, and numbers would lose their places.
        most = NO_SHEAR * float(np.trace(stiffness.D)) / side**2
        made[:3, :3], made[3:, 3:] = stiffness.D, stiffness.S * min(1.0, most / float(stiffness.S.diagonal().max()))
        return made

    mx, my = (xs[:-1] + xs[1:]) / 2, (ys[:-1] + ys[1:]) / 2
    made = np.broadcast_to(both(panel.stiffness), (len(mx), len(my), 5, 5)).copy()
    for zone in panel.zones:
        b = zone.box
        made[np.ix_((mx > b.x0) & (mx < b.x1), (my > b.y0) & (my < b.y1))] = both(zone.stiffness)
    return made.reshape(-1, 5, 5)


@lru_cache(maxsize=8)
def _split(degree: int) -> tuple[Ints, Ints]:
    """Modes of a piece on its border, and those inside it, of all fields."""
    n = degree + 1
    a, b = np.divmod(np.arange(n * n), n)
    inside = np.flatnonzero((a > 1) & (b > 1))
    border = np.flatnonzero((a < 2) | (b < 2))
    shift = (np.arange(FIELDS) * n * n)[:, None]
    return (shift + border).ravel(), (shift + inside).ravel()


def _forces(cases: tuple[tuple[PlateLoad, ...], ...], xs: Floats, ys: Floats, degree: int) -> Floats:
    """Work of the loads on every mode, shape (pieces, 3 n2, cases)."""
    n2 = (degree + 1) ** 2
    made = np.zeros((len(xs) - 1, len(ys) - 1, FIELDS * n2, len(cases)))
    for k, case in enumerate(cases):
        for load in case:
            made[:, :, :n2, k] += _force(load, xs, ys, degree)
    return made.reshape(-1, FIELDS * n2, len(cases))


def _force(load: PlateLoad, xs: Floats, ys: Floats, degree: int) -> Floats:
    """Work of one load on the deflection's modes, shape (nx, ny, n2); exact on any mesh."""
    box: Box = load.box
    (x0, x1), (y0, y1) = _moments(box.x0, box.x1, xs, degree), _moments(box.y0, box.y1, ys, degree)
    w, h = box.size
    work = load.force * np.einsum("ia,jb->ijab", x0, y0)
    if load.my:
        work += load.my * 12 / w**2 * np.einsum("ia,jb->ijab", x1, y0)
    if load.mx:
        work += load.mx * 12 / h**2 * np.einsum("ia,jb->ijab", x0, y1)
    return np.asarray(work.reshape(len(xs) - 1, len(ys) - 1, -1))


def _moments(low: float, high: float, lines: Floats, degree: int) -> tuple[Floats, Floats]:
    """Mean over low..high of each mode, and of each mode times the distance from the middle (m); (pieces, n) each."""
    n = len(lines) - 1
    mean, tilt = np.zeros((n, degree + 1)), np.zeros((n, degree + 1))
    span, h = high - low, np.diff(lines)
    if span <= 0:
        i = min(max(int(np.searchsorted(lines, low, "right")) - 1, 0), n - 1)
        mean[i] = modes(np.array([(low - lines[i]) / h[i]]), degree)[0][0]
        return mean, tilt
    share, weight = gauss(degree + 1)
    starts, ends = np.maximum(lines[:-1], low), np.minimum(lines[1:], high)
    piece = np.flatnonzero(ends > starts)
    reach = (ends - starts)[piece, None]
    at = starts[piece, None] + reach * share
    values = modes((at - lines[piece, None]) / h[piece, None], degree)[0]
    part = (weight * reach / span)[:, None, :]
    mean[piece] = (part @ values)[:, 0]
    tilt[piece] = ((part * (at - (low + high) / 2)[:, None, :]) @ values)[:, 0]
    return mean, tilt


def _columns(outer: Floats, load: Floats, layout: Layout) -> tuple[Floats, Floats]:
    """Stiffness and forces of every column of pieces, shape (nx, n, n) and (nx, n, cases)."""
    nx, ny = layout.nx, layout.ny
    K, F = np.zeros((nx, layout.size, layout.size)), np.zeros((nx, layout.size, load.shape[2]))
    outer, load = outer.reshape(nx, ny, *outer.shape[1:]), load.reshape(nx, ny, *load.shape[1:])
    flat = K.reshape(nx, -1)
    for j in range(ny):
        at = layout.piece(j)
        flat[:, (at[:, None] * layout.size + at).ravel()] += outer[:, j].reshape(nx, -1)
        F[:, at] += load[:, j]
    # A line shared by two columns takes its loads from the pieces of both: nothing is counted twice.
    return K, F


def _hold(K: Floats, F: Floats, panel: Panel, xs: Floats, ys: Floats, layout: Layout) -> NDArray[np.bool_]:
    """Take out what the edges hold: deflection and turning along a supported edge, all turning at a clamped one.

    Returns what is held, shape (nx, n).
    """
    held = np.zeros((layout.nx, layout.size), bool)
    left, right, bottom, top = panel.edges.all
    line = np.arange(layout.on_line)
    for how, column, side in ((left, 0, line), (right, -1, layout.right(line))):
        for field in {"S": (0, 2), "C": (0, 1, 2), "F": ()}[how]:
            held[column, field * layout.on_line + side] = True
    for how, j in ((bottom, 0), (top, layout.ny)):
        for field in {"S": (0, 1), "C": (0, 1, 2), "F": ()}[how]:
            held[:, layout.across(field, j)] = True
    if panel.stiffeners:
        hold_beams(held, panel, xs, ys, layout)
    # What two columns share is held in both.
    right_line = slice(layout.line, 2 * layout.line)
    shared = held[1:, : layout.line] | held[:-1, right_line]
    held[1:, : layout.line] = held[:-1, right_line] = shared
    for column in range(layout.nx):
        out = np.flatnonzero(held[column])
        K[column, out] = 0.0
        K[column, :, out] = 0.0
        K[column, out, out] = 1.0
        F[column, out] = 0.0
    return held


def _by_lines(K: Floats, F: Floats, held: NDArray[np.bool_], layout: Layout) -> Floats:
    """The unknowns of every column, shape (nx, n, cases); what is held everywhere takes no part."""
    a, n = layout.line, 2 * layout.line
    on_line = np.flatnonzero(~(held[:, :a].all(axis=0) & held[-1, a:n]))
    kept = np.concatenate([on_line, a + on_line, n + np.flatnonzero(~held[:, n:].all(axis=0))])
    K, whole = _picked(K, kept, kept), np.zeros_like(F)
    F = F[:, kept]
    ends = 2 * len(on_line)
    coupled = K[:, ends:, :ends]
    pull = np.linalg.solve(K[:, ends:, ends:], np.concatenate([coupled, F[:, ends:]], axis=2))
    back = np.swapaxes(coupled, 1, 2)
    lines = K[:, :ends, :ends] - back @ pull[..., :ends]
    load = F[:, :ends] - back @ pull[..., ends:]
    solved = _tridiagonal(lines, load, len(on_line))
    both = np.concatenate([solved[:-1], solved[1:]], axis=1)
    whole[:, kept] = np.concatenate([both, pull[..., ends:] - pull[..., :ends] @ both], axis=1)
    return whole


def _tridiagonal(lines: Floats, load: Floats, n: int) -> Floats:
    """Blocks coupled to their neighbours: the unknowns of every line, shape (nx + 1, n, cases)."""
    count = len(lines) + 1
    diagonal, right = np.zeros((count, n, n)), np.zeros((count, n, load.shape[2]))
    diagonal[:-1], right[:-1] = lines[:, :n, :n], load[:, :n]
    diagonal[1:] += lines[:, n:, n:]
    right[1:] += load[:, n:]
    upper = lines[:, :n, n:]
    ahead = np.zeros((count - 1, n, n))
    for k in range(count - 1):
        made = np.linalg.solve(diagonal[k], np.concatenate([upper[k], right[k]], axis=1))
        ahead[k], right[k] = made[:, :n], made[:, n:]
        diagonal[k + 1] -= upper[k].T @ made[:, :n]
        right[k + 1] -= upper[k].T @ made[:, n:]
    right[-1] = np.linalg.solve(diagonal[-1], right[-1])
    for k in range(count - 2, -1, -1):
        right[k] -= ahead[k] @ right[k + 1]
    return right


def _fields(
    columns: Floats, condensed: _Condensed, xs: Floats, ys: Floats, strains: Floats, layout: Layout
) -> tuple[PanelField, ...]:
    """Unfold every piece's modes, its inner ones too."""
    kept, inner = _split(layout.degree)
    n2 = (layout.degree + 1) ** 2
    cases = columns.shape[2]
    border = np.stack([columns[:, layout.piece(j)] for j in range(layout.ny)], axis=1)
    border = border.reshape(layout.nx * layout.ny, len(kept), cases)
    whole = np.zeros((len(border), FIELDS * n2, cases))
    whole[:, kept] = border
    whole[:, inner] = condensed.own - condensed.pull @ border
    shape = (layout.nx, layout.ny, FIELDS, layout.degree + 1, layout.degree + 1)
    return tuple(PanelField(xs, ys, whole[..., k].reshape(shape), strains) for k in range(cases))

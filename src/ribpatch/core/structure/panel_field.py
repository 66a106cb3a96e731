"""What a solved panel does at any place: deflection, curvature, moments, shear; and where each is greatest. SI."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

import numpy as np
from msgspec import Struct

from ribpatch.core.structure.plate_elements import modes

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from ribpatch.core.geometry import Floats

    Ints = NDArray[np.intp]
    Scan = tuple[Floats, Floats, dict["Part", Floats]]  # places along and across, m, and the parts there

Part = Literal["w", "mx", "my", "mxy", "qx", "qy", "kx", "ky", "kxy"]
PARTS: tuple[Part, ...] = ("w", "kx", "ky", "kxy", "mx", "my", "mxy", "qx", "qy")
PER = 6  # places each way on a piece where maxima are first looked for, its borders among them
_SWAP = np.array([1, 0, 2, 4, 3])
ROUNDS = 3  # of looking nearer


class Peak(Struct, frozen=True):
    """The greatest value (with its sign) and where, m."""

    value: float
    x: float
    y: float


class PanelField(Struct, frozen=True, eq=False):
    """One load case. ``modes`` is (nx, ny, 3, n, n): the modes of w, tx, ty of every piece; ``strains`` (nx ny, 5, 5)
    D over S of it.
    """

    xs: Floats
    ys: Floats
    modes: Floats
    strains: Floats

    @property
    def sides(self) -> tuple[float, float]:
        """Length and width, m."""
        return float(self.xs[-1]), float(self.ys[-1])

    @property
    def turned(self) -> PanelField:
        """The same with x and y in each other's place."""
        shape = (len(self.xs) - 1, len(self.ys) - 1, 5, 5)
        strains = self.strains.reshape(shape)[:, :, _SWAP[:, None], _SWAP].transpose(1, 0, 2, 3).reshape(-1, 5, 5)
        return PanelField(self.ys, self.xs, self.modes.transpose(1, 0, 2, 4, 3)[:, :, [0, 2, 1]], strains)

    def at(self, x: Floats, y: Floats) -> dict[Part, Floats]:
        """Every part at places ``x``, ``y`` (m, any one shape). On a border between pieces: of the one after it."""
        x, y = np.broadcast_arrays(np.asarray(x, float), np.asarray(y, float))
        i = np.clip(np.searchsorted(self.xs, x, "right") - 1, 0, len(self.xs) - 2)
        j = np.clip(np.searchsorted(self.ys, y, "right") - 1, 0, len(self.ys) - 2)
        return self._on(i, j, x, y)

    def _on(self, i: Ints, j: Ints, x: Floats, y: Floats) -> dict[Part, Floats]:
        hx, hy = np.diff(self.xs)[i], np.diff(self.ys)[j]
        degree = self.modes.shape[-1] - 1
        nx, dx = modes((x - self.xs[i]) / hx, degree)
        ny, dy = modes((y - self.ys[j]) / hy, degree)
        mine = self.modes[i, j]
        dx, dy = dx / hx[..., None], dy / hy[..., None]
        value = np.einsum("...a,...b,...fab->...f", nx, ny, mine, optimize=True)
        along = np.einsum("...a,...b,...fab->...f", dx, ny, mine, optimize=True)
        across = np.einsum("...a,...b,...fab->...f", nx, dy, mine, optimize=True)
        k = np.stack([along[..., 1], across[..., 2], across[..., 1] + along[..., 2]], axis=-1)
        g = np.stack([along[..., 0] + value[..., 1], across[..., 0] + value[..., 2]], axis=-1)
        D = self.strains.reshape(len(self.xs) - 1, len(self.ys) - 1, 5, 5)[i, j]
        m = np.einsum("...ij,...j->...i", D[..., :3, :3], k)
        q = np.einsum("...ij,...j->...i", D[..., 3:, 3:], g)
        rows = (value[..., 0], *np.moveaxis(k, -1, 0), *np.moveaxis(m, -1, 0), *np.moveaxis(q, -1, 0))
        return dict(zip(PARTS, rows, strict=True))

    def scan(self) -> Scan:
        """Every part on a grid of every piece, shape (nx, ny, PER, PER); not kept, for it is large."""
        t = np.linspace(0, 1, PER)
        x = self.xs[:-1, None] + np.diff(self.xs)[:, None] * t
        y = self.ys[:-1, None] + np.diff(self.ys)[:, None] * t
        degree = self.modes.shape[-1] - 1
        n, d = modes(t, degree)
        hx, hy = np.diff(self.xs)[:, None, None, None, None], np.diff(self.ys)[None, :, None, None, None]
        value = np.einsum("pa,ijfab,qb->ijfpq", n, self.modes, n, optimize=True)
        along = np.einsum("pa,ijfab,qb->ijfpq", d, self.modes, n, optimize=True) / hx
        across = np.einsum("pa,ijfab,qb->ijfpq", n, self.modes, d, optimize=True) / hy
        k = np.stack([along[:, :, 1], across[:, :, 2], across[:, :, 1] + along[:, :, 2]], axis=2)
        g = np.stack([along[:, :, 0] + value[:, :, 1], across[:, :, 0] + value[:, :, 2]], axis=2)
        D = self.strains.reshape(len(self.xs) - 1, len(self.ys) - 1, 5, 5)
        m = np.einsum("ijkl,ijlpq->ijkpq", D[..., :3, :3], k)
        q = np.einsum("ijkl,ijlpq->ijkpq", D[..., 3:, 3:], g)
        rows = (value[:, :, 0], *np.moveaxis(k, 2, 0), *np.moveaxis(m, 2, 0), *np.moveaxis(q, 2, 0))
        shape = (len(x), len(y), PER, PER)
        grid_x = np.broadcast_to(x[:, None, :, None], shape)
        grid_y = np.broadcast_to(y[None, :, None, :], shape)
        return grid_x, grid_y, dict(zip(PARTS, rows, strict=True))

    def peak(self, part: Part, sign: int = 0, scan: Scan | None = None) -> Peak:
        """Where a part is greatest: of either sign, or the most positive (1) or negative (-1)."""
        x, y, parts = self.scan() if scan is None else scan

        def weigh(values: Floats) -> Floats:
            return np.asarray(np.abs(values) if sign == 0 else sign * values)

        best = np.unravel_index(int(np.argmax(weigh(parts[part]))), parts[part].shape)
        i, j = int(best[0]), int(best[1])
        found = Peak(float(parts[part][best]), float(x[best]), float(y[best]))
        wx, wy = float(np.diff(self.xs)[i]) / (PER - 1), float(np.diff(self.ys)[j]) / (PER - 1)
        for _ in range(ROUNDS):
            gx = np.clip(found.x + wx * np.linspace(-1, 1, 7), self.xs[i], self.xs[i + 1])
            gy = np.clip(found.y + wy * np.linspace(-1, 1, 7), self.ys[j], self.ys[j + 1])
            near = np.meshgrid(gx, gy, indexing="ij")
            values = self._on(np.full((7, 7), i), np.full((7, 7), j), *near)[part]
            at = np.unravel_index(int(np.argmax(weigh(values))), values.shape)
            if weigh(values)[at] >= float(weigh(np.array(found.value))):
                found = Peak(float(values[at]), float(near[0][at]), float(near[1][at]))
            wx, wy = wx / 3, wy / 3
        return found

    def on_grid(self, x: Floats, y: Floats) -> dict[Part, Floats]:
        """Every part on the grid of ``x`` and ``y`` (m, each (n,)), shape (y, x): sums over lines, not over places."""
        i, nx, dx = _lines_of(self.xs, x, self.modes.shape[-1] - 1)
        j, ny, dy = _lines_of(self.ys, y, self.modes.shape[-1] - 1)
        count = self.modes.shape[-1]
        # Rows: piece and mode along x; columns: piece and mode along y.
        whole = self.modes.transpose(2, 0, 3, 1, 4).reshape(3, (len(self.xs) - 1) * count, (len(self.ys) - 1) * count)
        values, along, across = (q @ np.swapaxes(r @ whole, 1, 2) for q, r in ((ny, nx), (ny, dx), (dy, nx)))
        k = np.stack([along[1], across[2], across[1] + along[2]], axis=-1)
        g = np.stack([along[0] + values[1], across[0] + values[2]], axis=-1)
        D = self.strains.reshape(len(self.xs) - 1, len(self.ys) - 1, 5, 5)[i[None, :], j[:, None]]
        m = np.einsum("yxij,yxj->yxi", D[..., :3, :3], k)
        q = np.einsum("yxij,yxj->yxi", D[..., 3:, 3:], g)
        rows = (values[0], *np.moveaxis(k, -1, 0), *np.moveaxis(m, -1, 0), *np.moveaxis(q, -1, 0))
        return dict(zip(PARTS, rows, strict=True))


def _lines_of(lines: Floats, at: Floats, degree: int) -> tuple[Ints, Floats, Floats]:
    """The piece of each place on a line, and the modes of all pieces there with their slopes, (n, pieces * modes)."""
    piece = np.clip(np.searchsorted(lines, at, "right") - 1, 0, len(lines) - 2)
    h = np.diff(lines)[piece]
    values, slopes = modes((at - lines[piece]) / h, degree)
    made = np.zeros((2, len(at), len(lines) - 1, degree + 1))
    row = np.arange(len(at))
    made[0, row, piece], made[1, row, piece] = values, slopes / h[:, None]
    flat = made.reshape(2, len(at), -1)
    return piece, flat[0], flat[1]

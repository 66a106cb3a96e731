"""Templates for plies: where each ply lies wholly within the next one, one template with stepped lines serves them all.

SI. A ply of several pieces makes as many templates; plies that only overlap keep one each.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.geometry import polygons

if TYPE_CHECKING:
    from shapely.geometry import Polygon

    from ribpatch.core.patch.plies import PlyOutline

SLACK = 1e-6  # m
MOST_LINES = 12  # on one template; more cannot be told apart


class Template(Struct, frozen=True, eq=False):
    """One template: the piece that it is as large as, and its lines from the smallest out, each with its ply."""

    lines: tuple[tuple[PlyOutline, Polygon], ...]
    piece: int = 1  # of so many of the largest ply
    of: int = 1

    @property
    def largest(self) -> Polygon:
        """The outermost line."""
        return self.lines[-1][1]

    @property
    def name(self) -> str:
        """The plies that it serves."""
        numbers = sorted(outline.laid.number for outline, _ in self.lines)
        plies = f"ply {numbers[0]}" if len(numbers) == 1 else f"plies {', '.join(map(str, numbers))}"
        return plies + (f", piece {self.piece} of {self.of}" if self.of > 1 else "")


def templates_of(outlines: tuple[PlyOutline, ...]) -> tuple[Template, ...]:
    """The templates of a patch: as few as serve every ply, each line of them one ply's."""
    whole = [(outline, polygons(outline.region)) for outline in outlines]
    single = [(outline, pieces[0]) for outline, pieces in whole if len(pieces) == 1]
    found: list[list[tuple[PlyOutline, Polygon]]] = []
    for outline, piece in sorted(single, key=lambda one: one[1].area):
        for group in found:
            if len(group) < MOST_LINES and _steps_out(group[-1][1], piece):
                group.append((outline, piece))
                break
        else:
            found.append([(outline, piece)])
    made = [Template(tuple(group)) for group in found]
    for outline, pieces in whole:
        if len(pieces) > 1:
            made += [Template(((outline, p),), n, len(pieces)) for n, p in enumerate(pieces, 1)]
    return tuple(sorted(made, key=lambda t: (min(o.laid.number for o, _ in t.lines), t.piece)))


def _steps_out(inner: Polygon, outer: Polygon) -> bool:
    """Whether one piece lies within the next, with no hole in its way."""
    return not inner.interiors and not outer.interiors and bool(outer.buffer(SLACK).covers(inner))

"""The laminate bench of one zone: the new stack and the old skin as layups, alone and in the sandwich."""

from __future__ import annotations

from dataclasses import dataclass

from ribpatch.core.job import CoreLayer, Skin
from ribpatch.core.laminate.layup import Layup, joined, layup_of, scaled
from ribpatch.core.laminate.match import Match, match_of
from ribpatch.core.laminate.original import known_by, skin_layup
from ribpatch.core.laminate.sandwich import Sandwich
from ribpatch.core.laminate.stack import StackUp, skin_weight
from ribpatch.core.materials.records import Core
from ribpatch.core.materials.shelf import Shelf
from ribpatch.core.memo import remembered


@dataclass(frozen=True, eq=False)
class Bench:
    """New against old, of the skin and of the whole sandwich where there is a core; how the old one is known."""

    skin: Match
    known: str
    old_sandwich: Sandwich | None
    new_sandwich: Sandwich | None
    panel: Match | None


@remembered(256)
def bench_of(
    stack: StackUp, resin: str, skin: Skin, target: float | None, left: float, second: StackUp | None, year: int | None, shelf: Shelf
) -> Match | None:  # fmt: skip
    """The new stack against the old skin, drawn to ``target`` m where one is set; None without plies.

    The new laminate stands on ``left`` m of old laminate where the damage was ground out to a depth, and on the mirrored plies
    of the other face where a solid laminate is repaired from both.
    """
    if not stack.plies:
        return None
    old = skin_layup(skin, year, shelf)
    weight = skin_weight(skin, shelf)
    new, new_weight = layup_of(stack, shelf.resin(resin), shelf), stack.weight
    if left > 0:
        new, new_weight = joined(scaled(old, left), new), new_weight + weight * left / old.thickness
    if second is not None and second.plies:
        other = layup_of(second, shelf.resin(resin), shelf)
        new, new_weight = joined(Layup(other.sheets[::-1]), new), new_weight + second.weight
    if target is not None:
        weight *= target / old.thickness
        old = scaled(old, target)
    return match_of(new, old, new_weight, weight)


def sandwiches(
    match: Match, behind: Layup, old: tuple[Core, float], new: tuple[Core, float]
) -> tuple[Sandwich, Sandwich, Match]:
    """The panel as it was and as it will be: the skin ``behind`` stays; cores with their thickness in m."""
    before = Sandwich(behind, old[0], old[1], match.old)
    after = Sandwich(behind, new[0], new[1], match.new)
    weights = [s.core.density * s.c for s in (after, before)]
    skins = [next(h for h in match.held if h.key == "weight").new, next(h for h in match.held if h.key == "weight").old]
    return before, after, match_of(after.layup, before.layup, weights[0] + skins[0], weights[1] + skins[1])


@remembered(256)
def whole_bench(
    match: Match, skin: Skin, behind: Skin | None, old: CoreLayer | None, core: str | None, thickness: float,
    year: int | None, shelf: Shelf,
) -> Bench:  # fmt: skip
    """The bench of a zone; without a core or a skin behind it there is no sandwich. ``core`` None keeps the old one."""
    known = known_by(skin, year, shelf)
    if behind is None or old is None:
        return Bench(match, known, None, None, None)
    before = (shelf.core(old.core), old.thickness.si)
    after = (shelf.core(core), thickness) if core else before
    return Bench(match, known, *sandwiches(match, skin_layup(behind, year, shelf), before, after))

"""The laminate bench of one zone: the new stack and the old skin as layups, alone and in the sandwich."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.laminate.layup import Layup, bed_sheet, joined, layup_of, scaled
from ribpatch.core.laminate.match import Match, match_of
from ribpatch.core.laminate.original import known_by, skin_layup
from ribpatch.core.laminate.sandwich import NO_BED, Sandwich
from ribpatch.core.laminate.stack import StackUp, skin_weight
from ribpatch.core.memo import remembered

if TYPE_CHECKING:
    from ribpatch.core.job import CoreLayer, Skin
    from ribpatch.core.materials.records import Core, Putty
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.scheme import Scheme


class LaminateComparison(Struct, frozen=True, eq=False):
    """New against old, of the skin and of the whole sandwich where there is a core; how the old one is known."""

    skin: Match
    known: str
    old_sandwich: Sandwich | None
    new_sandwich: Sandwich | None
    panel: Match | None

    @property
    def standing(self) -> bool:
        """Whether the skin stays as it is: no ply is laid on it."""
        return self.skin.new is self.skin.old


@remembered(96)
def skin_comparison(
    stack: StackUp,
    resin: str,
    skin: Skin,
    target: float | None,
    under: tuple[float, StackUp | None],
    year: int | None,
    shelf: Shelf,
) -> Match | None:
    """The new stack against the old skin, drawn to ``target`` m where one is set; None without plies.

    ``under`` is what the new laminate stands on: m of old laminate where the damage was ground out to a depth, and the
    plies of the other face, mirrored, where a solid laminate is repaired from both.
    """
    left, second = under
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


@remembered(32)
def standing_skin(skin: Skin, year: int | None, shelf: Shelf) -> Match:
    """A skin that stays, against itself."""
    old, weight = skin_layup(skin, year, shelf), skin_weight(skin, shelf)
    return match_of(old, old, weight, weight)


class NewCore(Struct, frozen=True):
    """The new core of a scheme: its kind, thickness and what lies between it and each skin that stays, m.

    ``shim`` makes up what a thinner core leaves free; ``beds`` is how many faces are bedded (two between standing
    skins). ``prime`` is the mass of the prime coats on core and skins, kg/m2.
    """

    core: Core
    thickness: float
    bedding: float
    shim: float
    beds: int
    prime: float
    putty: Putty

    @property
    def under(self) -> Layup:
        """Bed and shim below the core."""
        return _bed(self.putty, self.bedding + self.shim)

    @property
    def over(self) -> Layup:
        """The bed above the core, where that skin stays too."""
        return _bed(self.putty, self.bedding if self.beds > 1 else 0.0)

    @property
    def weight(self) -> float:
        """Core, beds and prime coats, kg/m2."""
        putty = (self.under.thickness + self.over.thickness) * self.putty.density
        return self.core.density * self.thickness + putty + self.prime

    def panel(self, below: Layup, above: Layup) -> Sandwich:
        """The panel with these skins."""
        return Sandwich(below, self.core, self.thickness, above, under=self.under, over=self.over)


def _bed(putty: Putty, thickness: float) -> Layup:
    return Layup((bed_sheet(putty, thickness),)) if thickness > 0 else NO_BED


@remembered(96)
def new_core(scheme: Scheme, core: str, thickness: float, room: float, between: bool, shelf: Shelf) -> NewCore:
    """A core of ``thickness`` m in the ``room`` m that the old one took; ``between`` standing skins it has two beds.

    A poured core wets its own bed: it has neither bed nor shim, and only the skins are primed.
    """
    kind = shelf.core(core)
    beds = 2 if between else 1
    bedding = bed_of(scheme, kind)
    shim = 0.0 if kind.poured else max(room - beds * bedding - thickness, 0.0)
    prime = 2 * shelf.rule("prime.laminate")  # both skins, or the far one and the core under the new plies
    if not kind.poured:
        prime += 2 * shelf.rule(prime_rule(kind))
    return NewCore(kind, thickness, bedding, shim, beds, prime, shelf.putty(scheme.resin.putty))


def bed_of(scheme: Scheme, core: Core) -> float:
    """Thickness of one bed, m; a core that is poured has none."""
    return 0.0 if core.poured else scheme.core.bedding.si


def prime_rule(core: Core) -> str:
    """The rule that says how much resin a face of this core drinks."""
    return "prime." + core.faces.replace(" ", "-")


def sandwiches(
    match: Match, behind: Layup, behind_weight: float, old: tuple[Core, float], new: NewCore | None
) -> tuple[Sandwich, Sandwich, Match]:
    """The panel as it was and as it will be: the skin ``behind`` (kg/m2) stays; the old core with its thickness in m.
    ``new`` None keeps it.
    """
    before = Sandwich(behind, old[0], old[1], match.old)
    after = new.panel(behind, match.new) if new else Sandwich(behind, old[0], old[1], match.new)
    core = old[0].density * old[1]
    left = behind_weight + (new.weight if new else core)
    skins = next(h for h in match.held if h.key == "weight")
    return (
        before,
        after,
        match_of(after.layup, before.layup, left + skins.new, behind_weight + core + skins.old),
    )


@remembered(96)
def whole_comparison(
    match: Match,
    skin: Skin,
    behind: Skin | None,
    old: CoreLayer | None,
    new: NewCore | None,
    year: int | None,
    shelf: Shelf,
) -> LaminateComparison:
    """The bench of a zone; without a core or a skin behind it there is no sandwich. ``new`` None keeps the old core."""
    known = known_by(skin, year, shelf)
    if behind is None or old is None:
        return LaminateComparison(match, known, None, None, None)
    before = (shelf.core(old.core), old.thickness.si)
    layup, weight = skin_layup(behind, year, shelf), skin_weight(behind, shelf)
    return LaminateComparison(match, known, *sandwiches(match, layup, weight, before, new))

"""What is used up beside the material, by rate: so much a cup, a square metre laid or ground, a metre of cut, a zone.

Every rate is a rule that the user may set. Each zone counts with its fraction; what is bought is rounded up over all.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from msgspec import Struct

from ribpatch.core.units import Kind

if TYPE_CHECKING:
    from ribpatch.core.materials.shelf import Shelf

Basis = Literal["cup", "laid", "ground", "edge", "bagged", "zone"]
BASES: dict[Basis, tuple[str, Kind]] = {
    "cup": ("cups", Kind.COUNT),
    "laid": ("area of all plies", Kind.AREA),
    "ground": ("area ground", Kind.AREA),
    "edge": ("length of cut", Kind.SIZE),
    "bagged": ("area under the bag", Kind.AREA),
    "zone": ("zones", Kind.COUNT),
}


class Consumable(Struct, frozen=True):
    """One thing used up: the id of its price and the name of its rate, what it is counted as, and by what."""

    id: str
    name: str
    kind: Kind
    basis: Basis

    @property
    def rule(self) -> str:
        """The id of its rate."""
        return f"use.{self.id}"


CONSUMABLES = (
    Consumable("gloves", "pair of gloves", Kind.COUNT, "cup"),
    Consumable("roller", "roller sleeve", Kind.COUNT, "laid"),
    Consumable("fin", "finned roller", Kind.COUNT, "laid"),
    Consumable("brush", "brush", Kind.COUNT, "laid"),
    Consumable("solvent", "solvent for cleaning", Kind.MASS, "ground"),
    Consumable("disc-coarse", "grinding disc, grit 40", Kind.COUNT, "ground"),
    Consumable("disc-fine", "sanding disc, grit 80", Kind.COUNT, "ground"),
    Consumable("tape", "masking tape, roll", Kind.COUNT, "edge"),
    Consumable("filter", "pair of filters for a respirator", Kind.COUNT, "ground"),
    Consumable("suit", "overall, throw-away", Kind.COUNT, "zone"),
    Consumable("film", "bagging film", Kind.AREA, "bagged"),
    Consumable("breather", "breather cloth", Kind.AREA, "bagged"),
    Consumable("bag-tape", "bag sealing tape, roll", Kind.COUNT, "bagged"),
)


class Used(Struct, frozen=True):
    """So much of one thing for a zone."""

    what: Consumable
    amount: float


def used_up(bases: dict[Basis, float], shelf: Shelf) -> tuple[Used, ...]:
    """What a zone uses up, from how much of each basis there is (m2, m, pieces); nothing of what comes to nothing."""
    made = (Used(c, bases[c.basis] * shelf.rule(c.rule)) for c in CONSUMABLES)
    return tuple(u for u in made if u.amount > 0)

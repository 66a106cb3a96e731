"""Putty by the cup: for every recipe its use, its volumes, grams to a cup, how it looks and sands, how deep at once."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.numerals import general, in_words
from ribpatch.core.table import Row, Table
from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from collections.abc import Iterable

    from ribpatch.core.materials.records import Putty
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.supply.needs import Needs
    from ribpatch.core.units import System

CUP = 0.2  # kg of mixed resin, that recipes are told for
COLUMNS = ("putty", "for", "volumes", "filler", "looks like", "sanding", "at once", "needed")


def filler_in(cup: float, putty: Putty) -> float:
    """Filler to a cup of mixed resin, kg: by the share of resin of the recipe."""
    return cup * (1 - putty.resin_share) / putty.resin_share


def putty_table(needs: Iterable[Needs], shelf: Shelf, system: System) -> Table:
    """All recipes, those that the job takes with how much."""
    wanted: dict[str, float] = {}
    for use in (use for zone in needs for use in zone.putties):
        wanted[use.recipe.id] = wanted.get(use.recipe.id, 0.0) + use.mass
    rows = []
    for putty in shelf.putties:
        mass = wanted.get(putty.id, 0.0)
        carries = "" if putty.load_bearing else " Does not carry."
        rows.append(
            Row(
                putty.id,
                (
                    putty.name,
                    putty.purpose,
                    f"{general(putty.filler_volumes)} : 1",
                    shown(filler_in(CUP, putty), Kind.MASS, system),
                    putty.texture,
                    putty.sands,
                    shown(putty.lift, Kind.SIZE, system) if putty.lift else "",
                    shown(mass, Kind.MASS, system) if mass else "",
                ),
                "chosen" if mass else "",
                f"{in_words(putty.reason)}.{carries}",
            )
        )
    cup = shown(CUP, Kind.MASS, system)
    note = (
        f"Filler is for a cup of {cup} of mixed resin: stir resin and hardener first, then the filler in; volumes are "
        "of loose filler to one of mixed resin. Deeper than what goes in at once: in lifts, each cool before the next."
    )
    return Table(COLUMNS, tuple(rows), note)

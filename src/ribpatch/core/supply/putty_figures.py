"""Figures of putty: what each purpose takes, of which recipe."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.figure import FigureBook, Given, Origin, stated
from ribpatch.core.units import Kind

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.records import Putty
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.supply.needs import Needs


def putty_figures(book: FigureBook, zone: Zone, needs: Needs, shelf: Shelf) -> None:
    """Add the putty of each purpose, all of it, and the filler in it."""
    spots = Given("spots read", len(zone.finish.spots), Kind.COUNT, Origin.WORKED)
    left = (
        "what the plies leave unfilled" if zone.scheme.access.part_depth else "what lies under fair between the spots"
    )
    known = {
        "bedding": (
            stated("bedding thickness", zone.scheme.core.bedding, Kind.SIZE),
            "cut area × bedding thickness × density, for each face that is bedded",
        ),
        "shim": (
            stated("new core", zone.scheme.core.thickness or zone.scheme.core.bedding, Kind.SIZE),
            "cut area × (old core − beds − new core) × density",
        ),
        "gap": (shelf.given("core.gap"), "length of cut × core thickness × gap × density"),
        "holes": (shelf.given("hole.oversize"), "holes × π/4 × (oversize × fastener)² × build-up × density"),
        "fairing": (
            shelf.given("fair.skim" if zone.finish.way == "wet" else "fair.depth"),
            "area of cut and taper × depth × density",
        ),
        "kerfs": (shelf.given("kerf.share"), "cut area × core thickness × share × density"),
        "fillet": (
            Given("fillet", "as the section says", None, Origin.YOURS),
            "length of the joint × r² (cot(a/2) − (π − a)/2) × density",
        ),
        "pads": (
            Given("slope", "as stated for each fitting", None, Origin.YOURS),
            "length² × tan(slope) × width ÷ 2 × density",
        ),
        "parts": (shelf.given("part.bed"), "bond area of the parts fixed with putty × thickness × density"),
        "saved": (
            stated("bedding thickness", zone.scheme.core.bedding, Kind.SIZE),
            "area of the pieces × bedding × density",
        ),
        "laps": (shelf.given("lap.bed"), "area of the laps × thickness × density"),
        "fill.deep": (shelf.given("fill.deep"), f"{left}, summed where it is deeper"),
        "fill.middling": (shelf.given("fill.deep"), f"{left}, summed where it is between"),
        "fill.scratches": (shelf.given("fill.shallow"), f"{left}, summed where it is shallower"),
    }
    parts = []
    for use in needs.putties:
        given, words = known[use.key]
        more = (spots,) if use.key.startswith("fill.") and zone.finish.spots else ()
        inputs = (given, _density(use.recipe, shelf), *more)
        parts.append(book.add(f"putty.{use.key}", f"putty: {use.name}", use.mass, Kind.MASS, words, inputs).given())
    book.add("putty.total", "putty", sum(u.mass for u in needs.putties), Kind.MASS, "sum over purposes", tuple(parts))
    filler = sum(u.filler for u in needs.putties)
    shares = {u.recipe.id: u.recipe for u in needs.putties}.values()
    given_shares = tuple(
        Given(f"resin in {p.name}", p.resin_share, Kind.PERCENT, shelf.origin(p.id), note=p.reason) for p in shares
    )
    book.add(
        "putty.filler", "filler in it", filler, Kind.MASS, "putty × (1 − its share of resin)", (*parts, *given_shares)
    )


def _density(putty: Putty, shelf: Shelf) -> Given:
    return Given(f"density of {putty.name}", putty.density, Kind.DENSITY, shelf.origin(putty.id), note=putty.reason)

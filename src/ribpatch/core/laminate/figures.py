"""Figures of the rebuild: the stack against the old skin, and the plies."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.figure import Figure, FigureBook, Given, Origin, stated
from ribpatch.core.laminate.stack import StackUp, plies_for
from ribpatch.core.units import Kind

if TYPE_CHECKING:
    from ribpatch.core.materials.records import Process
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.scheme import Scheme

THICKNESS = "cured thickness t = w [1/ρf + (1−ψ)/(ψ ρr)] / (1−v), source [2]"


def stack_figures(scheme: Scheme, stack: StackUp, old: Figure, shelf: Shelf, prefix: str) -> tuple[Figure, ...]:
    """All figures of a stack. ``old`` is the figure of the old skin's thickness."""
    book = FigureBook(prefix)
    resin = shelf.resin(scheme.resin.main)
    density = Given(f"density of {resin.name}", resin.density, Kind.DENSITY, shelf.origin(resin.id), note=resin.reason)
    plies = tuple(Given(f"ply {laid.number}", laid.ply.fabric.name, None, Origin.YOURS) for laid in stack.plies)
    fractions = psi_inputs(stack, scheme.laying.process, shelf)
    count = book.add("stack.plies", "plies", len(stack.plies), Kind.COUNT, "plies in the stack", plies)
    thickness = book.add(
        "stack.thickness",
        "new laminate",
        stack.thickness,
        Kind.SIZE,
        "sum of the cured thickness of the plies",
        (count.given(), density, *fractions, shelf.given("voids")),
        source=THICKNESS,
        valid="0.1 < ψ < 0.8",
    )
    book.add(
        "stack.weight",
        "weight of the new laminate",
        stack.weight,
        Kind.AREAL,
        "sum over plies of dry weight ÷ fibre mass fraction",
        (count.given(), *fractions),
        source="[2]",
    )
    aim = stated("thickness to reach", scheme.laminate.target, Kind.SIZE) if scheme.laminate.target else old.given()
    wanted = scheme.laminate.target.si if scheme.laminate.target else old.value
    book.add(
        "stack.surplus",
        "over the thickness to reach",
        stack.thickness - wanted,
        Kind.SIZE,
        "new laminate − thickness to reach",
        (thickness.given(), aim),
    )
    if stack.plies:
        top = stack.plies[-1].ply
        origin = Origin.YOURS if shelf.coupon(top.fabric.id, scheme.laying.process) else Origin.DEFAULT
        fraction = tuple(Given(f"ψ of {layer.kind}", share, Kind.PERCENT, origin) for layer, share, _ in top.layers)
        one = book.add(
            "ply.thickness",
            f"one ply of {top.fabric.name}",
            top.thickness,
            Kind.SIZE,
            "sum over the fabric's layers",
            (Given("dry weight", top.fabric.weight, top.fabric.kind, shelf.origin(top.fabric.id)), density, *fraction),
            source=THICKNESS,
            valid="0.1 < ψ < 0.8",
        )
        needed = plies_for(wanted, top.thickness)
        book.add(
            "ply.needed",
            "plies of it for the thickness",
            needed,
            Kind.COUNT,
            "thickness to reach ÷ thickness of one ply, rounded up",
            (aim, one.given()),
        )
    return book.figures


def psi_inputs(stack: StackUp, process: Process, shelf: Shelf) -> tuple[Given, ...]:
    """The fibre mass fractions that a stack stands on: measured by a coupon of this shop, else usual by kind."""
    fabrics = {laid.ply.fabric.id: laid.ply for laid in stack.plies}
    own = [ply for ply in fabrics.values() if shelf.coupon(ply.fabric.id, process)]
    kinds = sorted({layer.kind for ply in fabrics.values() if ply not in own for layer in ply.fabric.layers})
    measured = (
        Given(
            f"coupon of {ply.fabric.name}",
            ply.fibre_fraction,
            Kind.PERCENT,
            Origin.YOURS,
            note="fibre mass fraction from its measured thickness",
        )
        for ply in own
    )
    return (*measured, *(shelf.given(f"psi.{process}.{kind}") for kind in kinds))

"""Hours of work by kind from areas and rates, and the estimate for a customer that follows from them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.figure import Figure, FigureBook, Given, Origin, stated
from ribpatch.core.units import Kind

if TYPE_CHECKING:
    from collections.abc import Sequence

    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.stock import Buying
    from ribpatch.core.zone_plan import ZonePlan


def hours_of(made: ZonePlan) -> tuple[tuple[str, float], ...]:
    """Hours of work by kind, s: the sums of the steps."""
    sums: dict[str, float] = {}
    for row in made.steps.rows:
        name = GROUPS.get(row.kind.id, row.kind.name)
        sums[name] = sums.get(name, 0.0) + row.hours
    return tuple((name, hours) for name, hours in sums.items() if hours)


# Kinds of steps that are told as one.
GROUPS = {
    "strip": "stripping out",
    "open": "cutting open",
    "grind": "grinding",
    "clean": "cleaning and dry fit",
    "fit": "cleaning and dry fit",
    "prime": "laminating",
    "lay": "laminating",
    "part": "made parts",
    "bed": "core",
    "pour": "core",
    "join": "made parts",
    "knee": "made parts",
    "peel": "fairing",
    "scrape": "fairing",
    "fair": "fairing",
    "sand": "fairing",
    "pinholes": "fairing",
    "coat": "coats",
    "refit": "refitting and test",
    "test": "refitting and test",
}


def worked_hours(made: ZonePlan) -> float:
    """All hours of work, s."""
    return sum(value for _, value in hours_of(made))


def estimate_figures(zones: Sequence[ZonePlan], materials: Figure, buying: Buying, shelf: Shelf) -> tuple[Figure, ...]:
    """Hours of the whole job and, where an hour has a price, what the work and all of it come to, as a range."""
    book = FigureBook("job")
    rows = tuple(Given(z.zone.name, worked_hours(z), Kind.HOURS, Origin.WORKED) for z in zones)
    hours = book.add(
        "hours",
        "hours of work",
        sum(float(r.value) for r in rows),
        Kind.HOURS,
        "sum over the zones of areas ÷ rates",
        rows,
        valid="a first estimate; waiting for cure is not in it",
    )
    if buying.hour is None:
        return book.figures
    each = stated("an hour of work", buying.hour, Kind.MONEY)
    labour = book.add(
        "labour",
        "cost of the work",
        hours.value / 3600 * buying.hour.si,
        Kind.MONEY,
        "hours × price",
        (hours.given(), each),
    )
    spread = (
        stated("off by", buying.spread, Kind.PERCENT) if buying.spread is not None else shelf.given("estimate.spread")
    )
    middle = labour.value + materials.value
    inputs = (labour.given(), materials.given(), spread)
    for key, name, sign in (("low", "estimate, from", -1), ("high", "estimate, to", 1)):
        book.add(
            f"estimate.{key}",
            name,
            middle * (1 + sign * float(spread.value)),
            Kind.MONEY,
            f"(work + materials) × (1 {'+' if sign > 0 else '−'} spread)",
            inputs,
            valid="no tax; what is found once it is opened may change it",
        )
    return book.figures

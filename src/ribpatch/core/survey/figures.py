"""Figures of the survey: what was read and what it says."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import shapely

from ribpatch.core.figure import Figure, FigureBook, Given, Origin, stated
from ribpatch.core.geometry import polygon_of
from ribpatch.core.memo import remembered
from ribpatch.core.numerals import general
from ribpatch.core.survey.extent import Extent, extent_of, stretches_of
from ribpatch.core.survey.field import kind_fields, posterior_of
from ribpatch.core.survey.score import Scores, scores_of
from ribpatch.core.survey.structure import starts_of
from ribpatch.core.units import Kind

if TYPE_CHECKING:
    from ribpatch.core.job import Survey, Zone
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.survey.posterior import Posterior

FIELD_SOURCE = (
    "Gaussian field over zero, expectation propagation [4]; screening: the extent is never known until it is opened"
)


@remembered(96, zone=("kind", "outline", "survey", "fittings", "edges", "seams"))
def survey_figures(zone: Zone, shelf: Shelf, prefix: str) -> tuple[Figure, ...]:
    """All figures of a zone's survey."""
    book = FigureBook(prefix)
    survey = zone.survey
    scores = scores_of(survey, shelf)
    starts = starts_of(zone, shelf)
    made = posterior_of(survey, zone.outline, shelf, starts)
    extent = extent_of(survey, zone.outline, shelf, starts)
    book.add(
        "zone.area",
        "zone",
        polygon_of(zone.outline).area,
        Kind.AREA,
        "exact area of the zone's outline",
        (Given("corners of the outline", str(len(zone.outline)), None, Origin.YOURS),),
    )
    count = book.add("survey.readings", "readings", len(survey.readings), Kind.COUNT, "readings entered in this zone")
    if scores.reference is not None:
        used = Given("readings marked as sound reference", str(len(survey.references)), None, Origin.YOURS)
        book.add(
            "survey.reference",
            "sound reference of the meter",
            scores.reference,
            Kind.NUMBER,
            "mean of the moisture readings marked as sound",
            (used,),
            valid="relative scale 0 to 100 of this meter only",
        )
    if made is not None:
        _field_figures(book, made, count, shelf)
    _extent_figures(book, extent, survey, scores, shelf, count)
    if zone.is_run:
        book.add(
            "extent.run",
            "bad length, not ruled out",
            sum(b - a for a, b in stretches_of(extent.likely)),
            Kind.LENGTH,
            "sum of the stretches along the run that the bad area covers",
            (book.figures[-1].given(),),
        )
    return book.figures


@remembered(64, zone=("outline", "survey", "fittings", "edges", "seams"))
def kind_figures(zone: Zone, shelf: Shelf, prefix: str) -> tuple[Figure, ...]:
    """The area of each kind of damage; three more fields, so worked out only where it is looked at."""
    book = FigureBook(prefix)
    survey = zone.survey
    readings = Given("readings", len(survey.readings), Kind.COUNT, Origin.MEASURED)
    for kind, made in kind_fields(survey, zone.outline, shelf, starts_of(zone, shelf)).items():
        x, y = np.meshgrid(made.x, made.y)
        inside = shapely.contains_xy(polygon_of(zone.outline), x, y)
        share = float(made.chance[inside].mean()) if inside.any() else 0.0
        book.add(
            f"extent.{kind}",
            f"{kind} area, expected",
            share * polygon_of(zone.outline).area,
            Kind.AREA,
            f"sum of area × chance of damage × share of {kind} among the damage round there",
            (readings, shelf.given("kind.reach")),
            source=FIELD_SOURCE,
        )
    return book.figures


def _field_figures(book: FigureBook, made: Posterior, count: Figure, shelf: Shelf) -> None:
    lengths = tuple(
        Given(
            f"alike over {general(p.scales[0])} m along, {general(p.scales[1])} m across",
            p.weight,
            Kind.PERCENT,
            Origin.WORKED,
        )
        for p in made.parts
    )
    book.add(
        "survey.length",
        "length over which damage is alike",
        made.length,
        Kind.SIZE,
        "mean of the lengths by the weight that the readings give them; it does not follow their spacing",
        (count.given(), *lengths),
        source=FIELD_SOURCE,
    )
    near = tuple(Given("likelier near", s.name, None, Origin.YOURS) for s in made.starts)
    known = (shelf.given("damage.none"), shelf.given("damage.prior"), *near)
    book.add(
        "survey.any",
        "chance of any damage",
        made.any_damage,
        Kind.PERCENT,
        "chance of the readings with damage against their chance on a sound panel, as it stood before",
        (count.given(), *known),
        source=FIELD_SOURCE,
    )
    for kind, drift in sorted(made.drift.items()):
        book.add(
            f"survey.drift.{kind}",
            f"{kind}: off its reference on sound places",
            drift,
            Kind.PERCENT,
            "mean level where the other readings call it dry, in parts of the rise that counts as bad; taken off",
            (count.given(),),
        )


def _extent_figures(
    book: FigureBook, extent: Extent, survey: Survey, scores: Scores, shelf: Shelf, count: Figure
) -> None:
    if not extent.from_readings:
        drawn = Given("outlines drawn", str(len(survey.drawn or ())), None, Origin.YOURS)
        book.add(
            "extent.area",
            "bad area",
            extent.likely.area,
            Kind.AREA,
            "exact area of the extent as drawn, inside the zone",
            (drawn,),
        )
        return
    confidence = stated("confidence", survey.confidence, Kind.PERCENT)
    inputs = (
        count.given(),
        confidence,
        Given("least chance of damage in it", extent.least, Kind.PERCENT, Origin.WORKED),
        shelf.given("damage.prior"),
        shelf.given("damage.none"),
        shelf.given("extent.floor"),
        shelf.given("survey.vouches"),
    )
    warning = "" if scores.x.size else "No reading can be scored yet."
    book.add(
        "extent.area",
        "bad area, not ruled out",
        extent.likely.area,
        Kind.AREA,
        "the least area expected to hold the confidence's share of the damage, of what was surveyed",
        inputs,
        source=FIELD_SOURCE,
        warning=warning,
    )
    book.add(
        "extent.surely",
        "bad area, nearly certain",
        extent.surely.area,
        Kind.AREA,
        "area where the chance of damage is at least the confidence, inside the area not ruled out",
        inputs,
        source=FIELD_SOURCE,
    )
    book.add(
        "extent.expected",
        "bad area, expected",
        extent.expected_area,
        Kind.AREA,
        "sum of area times chance of damage over what is surveyed",
        inputs,
        source=FIELD_SOURCE,
    )
    book.add(
        "extent.unsurveyed",
        "not surveyed",
        extent.unsurveyed_area,
        Kind.AREA,
        "area further from every reading than one vouches for, where nothing speaks of damage, and what was left open",
        (shelf.given("survey.vouches"), count.given()),
    )
    book.add(
        "extent.open",
        "of it read, but left open",
        extent.left_open.area,
        Kind.AREA,
        "area that was read, has more than a settled chance of damage yet, and lies away from what is suspect",
        (shelf.given("extent.settled"), shelf.given("extent.suspect"), count.given()),
        source=FIELD_SOURCE,
    )
    if scores.left_out:
        book.add(
            "survey.left_out",
            "readings left out",
            scores.left_out,
            Kind.COUNT,
            "moisture readings with no sound reference to judge them by",
        )

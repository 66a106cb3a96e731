"""Figures of the survey: what was read and what it says."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import shapely

from ribpatch.core.figure import Figure, FigureBook, Given, Origin, stated
from ribpatch.core.geometry import polygon_of
from ribpatch.core.memo import remembered
from ribpatch.core.survey.field import Extent, Field, extent_of, field_of, kind_fields, stretches_of
from ribpatch.core.survey.score import Scores, scores_of
from ribpatch.core.units import Kind

if TYPE_CHECKING:
    from ribpatch.core.job import Survey, Zone
    from ribpatch.core.materials.shelf import Shelf

GP_SOURCE = "Gaussian process regression [4]; screening: the extent is never known until it is opened"


@remembered(96, zone=("kind", "outline", "survey"))
def survey_figures(zone: Zone, shelf: Shelf, prefix: str) -> tuple[Figure, ...]:
    """All figures of a zone's survey."""
    book = FigureBook(prefix)
    survey = zone.survey
    scores = scores_of(survey, shelf)
    field = field_of(survey, zone.outline, shelf)
    extent = extent_of(survey, zone.outline, shelf)
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
    if field is not None:
        book.add(
            "survey.length",
            "reach of one reading",
            field.length,
            Kind.SIZE,
            "correlation length with the highest likelihood among multiples of the spacing of the readings",
            (count.given(),),
            source=GP_SOURCE,
        )
    _extent_figures(book, extent, survey, scores, field, shelf, count)
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


@remembered(64, zone=("outline", "survey"))
def kind_figures(zone: Zone, shelf: Shelf, prefix: str) -> tuple[Figure, ...]:
    """The area of each kind of damage; three more fields, so worked out only where it is looked at."""
    book = FigureBook(prefix)
    survey = zone.survey
    readings = Given("readings", len(survey.readings), Kind.COUNT, Origin.MEASURED)
    for kind, made in kind_fields(survey, zone.outline, shelf).items():
        x, y = np.meshgrid(made.x, made.y)
        inside = shapely.contains_xy(polygon_of(zone.outline), x, y)
        share = float((made.chance[inside] > 0.5).mean()) if inside.any() else 0.0
        book.add(
            f"extent.{kind}",
            f"{kind} area, likelier than not",
            share * polygon_of(zone.outline).area,
            Kind.AREA,
            f"area where the chance of {kind} is over one half, from the readings that speak of it",
            (readings, shelf.given("field.threshold")),
            source=GP_SOURCE,
        )
    return book.figures


def _extent_figures(
    book: FigureBook, extent: Extent, survey: Survey, scores: Scores, field: Field | None, shelf: Shelf, count: Figure
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
        shelf.given("field.threshold"),
        shelf.given("field.prior"),
        shelf.given("tap.noise"),
        shelf.given("moisture.noise"),
    )
    warning = "" if field else "No reading can be scored yet."
    book.add(
        "extent.area",
        "bad area, not ruled out",
        extent.likely.area,
        Kind.AREA,
        "area where the chance of damage is at least 1 minus the confidence and the readings lean to bad",
        inputs,
        source=GP_SOURCE,
        warning=warning,
    )
    book.add(
        "extent.surely",
        "bad area, nearly certain",
        extent.surely.area,
        Kind.AREA,
        "area where the chance of damage is at least the confidence",
        inputs,
        source=GP_SOURCE,
    )
    book.add(
        "extent.expected",
        "bad area, expected",
        extent.expected_area,
        Kind.AREA,
        "sum of area times chance of damage over what is surveyed",
        inputs,
        source=GP_SOURCE,
    )
    book.add(
        "extent.unsurveyed",
        "not surveyed",
        extent.unsurveyed_area,
        Kind.AREA,
        "area where damage cannot be ruled out only for want of readings: none near it leans to bad",
        (shelf.given("field.lean"), confidence, count.given()),
    )
    if scores.left_out:
        book.add(
            "survey.left_out",
            "readings left out",
            scores.left_out,
            Kind.COUNT,
            "moisture readings with no sound reference to judge them by",
        )

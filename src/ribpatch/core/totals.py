"""Figures of the job as a whole: the boat and her shed as stated, and sums over the zones."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.figure import Figure, FigureBook, fact
from ribpatch.core.resin.air import dew_point
from ribpatch.core.units import Kind

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping

    from ribpatch.core.job import Boat, ShedAir
    from ribpatch.core.materials.shelf import Shelf


def boat_figures(boat: Boat, air: ShedAir, shelf: Shelf) -> tuple[Figure, ...]:
    """Figures of the boat and the shed."""
    book = FigureBook("")
    for key, name, measure, kind in (
        ("boat.length", "length overall", boat.length, Kind.LENGTH),
        ("boat.waterline", "waterline length", boat.waterline, Kind.LENGTH),
        ("boat.beam", "beam", boat.beam, Kind.LENGTH),
        ("boat.depth", "hull depth", boat.depth, Kind.LENGTH),
        ("boat.displacement", "displacement", boat.displacement, Kind.LOAD),
    ):
        book.add(key, name, measure.si, kind, "as stated", (fact(name, measure, kind),))
    temperature = fact("shed temperature", air.temperature, Kind.TEMPERATURE, measured=True)
    humidity = fact("relative humidity", air.humidity, Kind.PERCENT, measured=True)
    book.add("air.temperature", "shed temperature", air.temperature.si, Kind.TEMPERATURE, "as measured", (temperature,))
    book.add("air.humidity", "relative humidity", air.humidity.si, Kind.PERCENT, "as measured", (humidity,))
    dew = book.add(
        "air.dew",
        "dew point",
        dew_point(air.temperature.si, air.humidity.si),
        Kind.TEMPERATURE,
        "Magnus formula over water",
        (temperature, humidity),
        source="[5]",
        valid="−45 to 60 °C",
    )
    if air.surface is not None:
        surface = fact("laminate surface", air.surface, Kind.TEMPERATURE, measured=True)
        book.add(
            "air.margin",
            "laminate over dew point",
            air.surface.si - dew.value,
            Kind.DIFFERENCE,
            "laminate surface − dew point; at least the margin is wanted",
            (surface, dew.given(), shelf.given("dew.margin")),
            limit=shelf.rule("dew.margin"),
        )
    return book.figures


_SUMMED = (
    ("cloth.area", "cloth"),
    ("resin.mixed", "resin to mix"),
    ("cup.all", "cups"),
    ("putty.total", "putty"),
    ("core.area", "core to buy"),
    ("weight.off", "weight off"),
    ("weight.on", "weight on"),
    ("weight.net", "net weight"),
    ("cut.area", "cut"),
)


def job_totals(zones: Iterable[tuple[str, Mapping[str, Figure]]]) -> tuple[Figure, ...]:
    """Sums over the zones of a job, each by its name and its figures by their key."""
    zones = tuple(zones)
    book = FigureBook("job")
    for key, name in _SUMMED:
        parts = [(zone, figures[key]) for zone, figures in zones if key in figures]
        usual = {"cup.all": Kind.COUNT}.get(key, Kind.AREA if key.endswith("area") else Kind.MASS)
        kind = parts[0][1].kind if parts else usual
        inputs = tuple(figure.given(zone) for zone, figure in parts)
        book.add(key, name, sum(figure.value for _, figure in parts), kind, "sum over the zones", inputs)
    return book.figures

"""What the plan of a survey can show behind its readings: chance, doubt, one kind of damage, or change between
sessions.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

import numpy as np
from msgspec import Struct

from ribpatch.core.drawing.shapes import Area, Badge, Shape
from ribpatch.core.geometry import Floats, Point, rings_of
from ribpatch.core.memo import remembered
from ribpatch.core.survey.field import field_of, kind_fields
from ribpatch.core.survey.structure import starts_of

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.readings import Reading
    from ribpatch.core.survey.next_test import NextTest

Shows = Literal["chance", "doubt", "wet", "rotted", "disbonded", "change"]
SHOWS: tuple[tuple[str, Shows], ...] = (
    ("damage", "chance"),
    ("doubt", "doubt"),
    ("wet", "wet"),
    ("rotted", "rotted"),
    ("disbonded", "disbonded"),
    ("change", "change"),
)
MOST_LONE, COVERS = 20, 0.08  # lone readings marked on the plan; m round a numbered place
WORDS: dict[Shows, tuple[str, str]] = {
    "chance": ("chance of damage  0", "1"),
    "doubt": ("doubt  none", "as if unread"),
    "wet": ("chance of wet  0", "1"),
    "rotted": ("chance of rot  0", "1"),
    "disbonded": ("chance of disbond  0", "1"),
    "change": ("since then  better", "worse"),
}


class Picture(Struct, frozen=True, eq=False):
    """Values 0 to 1 (nan where nothing can be said) on a grid from ``low`` to ``high`` (m), their ramp and its end
    words.
    """

    low: Point
    high: Point
    values: Floats
    ramp: Literal["damage", "change"]
    words: tuple[str, str]


@remembered(24, zone=("survey", "outline", "fittings", "edges", "seams"))
def survey_picture(
    zone: Zone, shelf: Shelf, shows: Shows = "chance", older: str = "", newer: str = ""
) -> Picture | None:
    """The picture asked for, or None where the readings say nothing of it or the extent is drawn by hand. ``older`` and
    ``newer`` are the sessions to compare.
    """
    from ribpatch.core.survey.panel import DAMAGE
    from ribpatch.core.survey.sessions import change_between

    survey, outline = zone.survey, zone.outline
    if survey.drawn is not None:
        return None
    if shows == "change":
        made = change_between(survey, older, newer, outline, shelf) if older and newer else None
        if made is None:
            return None
        field, change = made
        values = 0.5 + 0.5 * np.clip(change, -1, 1)
    else:
        starts = starts_of(zone, shelf)
        found = (
            kind_fields(survey, outline, shelf, starts).get(shows)
            if shows in DAMAGE
            else field_of(survey, outline, shelf, starts)
        )
        if found is None:
            return None
        field, values = found, found.doubt if shows == "doubt" else found.chance
    low, high = (float(field.x[0]), float(field.y[0])), (float(field.x[-1]), float(field.y[-1]))
    return Picture(low, high, values, "change" if shows == "change" else "damage", WORDS[shows])


def _apart(reading: Reading, tests: tuple[NextTest, ...]) -> bool:
    """Whether no numbered place lies over a reading: that one is taken again anyway."""
    return all((reading.x - t.at[0]) ** 2 + (reading.y - t.at[1]) ** 2 > COVERS**2 for t in tests)


def survey_marks(zone: Zone, shelf: Shelf) -> tuple[Shape, ...]:
    """What is marked on a survey: what is known of the zone, and where to test."""
    return (*known_marks(zone), *marks_to_test(zone, shelf))


@remembered(64, zone=("outline", "survey", "practice"))
def known_marks(zone: Zone) -> tuple[Shape, ...]:
    """Pins of photographs, and the truth of a practice panel that was revealed."""
    from ribpatch.core.survey.panel import DAMAGE, truth_of

    shapes: list[Shape] = []
    if zone.practice is not None and zone.practice.revealed:
        truth = truth_of(zone.practice, zone.outline)
        for state in DAMAGE:
            shapes += [Area(rings, f"truth-{state}") for rings in rings_of(truth.regions[state])]
    shapes += [
        Badge((p.x, p.y), f"P{n}", "photo")
        for n, p in enumerate(zone.survey.photographs, 1)
        if p.x is not None and p.y is not None
    ]
    return tuple(shapes)


@remembered(64, zone=("outline", "survey", "practice", "fittings", "edges", "seams"))
def marks_to_test(zone: Zone, shelf: Shelf) -> tuple[Shape, ...]:
    """Numbered places to test next, and readings to be taken again."""
    from ribpatch.core.survey.lone import lone_readings
    from ribpatch.core.survey.next_test import next_tests

    if zone.survey.drawn is not None or (zone.practice is not None and zone.practice.revealed):
        return ()
    tests = next_tests(zone.survey, zone.outline, shelf, starts_of(zone, shelf))
    again = (r for r in lone_readings(zone, shelf)[:MOST_LONE] if _apart(r, tests))
    numbered = (Badge(t.at, str(n), "next") for n, t in enumerate(tests, 1))
    return (*numbered, *(Badge((r.x, r.y), "?", "next") for r in again))

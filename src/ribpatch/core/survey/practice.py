"""Scoring a survey against a known truth: rot missed, sound area cut, readings used, and what to do better."""

from __future__ import annotations

from typing import TYPE_CHECKING

import shapely
from msgspec import Struct

from ribpatch.core.readings import Moisture, Plug, Strike
from ribpatch.core.survey.heard import heard
from ribpatch.core.survey.score import scores_of
from ribpatch.core.survey.strikes import UNLIKE, UNTOLD
from ribpatch.core.text import counted

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.geometry import Point
    from ribpatch.core.job import Survey
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.survey.panel import Truth

TOLD = {
    "sound": "sound",
    "wet": "dull",
    "rotted": "dull",
    "disbonded": "drummy",
}  # what a recorded tap should be told as


class Ears(Struct, frozen=True):
    """How many recorded taps were told rightly, wrongly, and not told: between two, or unlike any."""

    right: int
    wrong: int
    untold: int


class Result(Struct, frozen=True):
    """How a survey of a practice panel went. Areas in m2, points 0 to 100; ``unsurveyed`` is what the survey itself
    says it did not look at or left open, ``missed_there`` what was missed in it; ``alone`` counts readings that stand
    alone and were not taken again.
    """

    damaged: float
    missed: float
    sound: float
    cut: float
    readings: int
    plugs: int
    points: float
    unsurveyed: float
    missed_there: float
    alone: int
    ears: Ears
    advice: tuple[str, ...]


def score_practice(
    survey: Survey, extent: BaseGeometry, unsurveyed: BaseGeometry, truth: Truth, shelf: Shelf, alone: int = 0
) -> Result:
    """Score an extent against the truth, with what the survey calls not surveyed and how many readings stand alone."""
    damaged = truth.damaged
    sound = truth.outline.area - damaged.area
    missed = damaged.difference(extent)
    cut = extent.difference(damaged).area
    used = len(survey.readings)
    lost = shelf.rule("practice.missed") * (missed.area / damaged.area if damaged.area > 1e-4 else 0.0)
    lost += shelf.rule("practice.cut") * (cut / sound if sound > 1e-4 else 0.0)
    lost += shelf.rule("practice.reading") * max(0.0, used - shelf.rule("practice.free"))
    there, ears = missed.intersection(unsurveyed).area, _ears(survey, truth, shelf)
    return Result(
        damaged=damaged.area,
        missed=missed.area,
        sound=sound,
        cut=cut,
        readings=used,
        plugs=sum(isinstance(r, Plug) for r in survey.readings),
        points=max(0.0, 100 - lost),
        unsurveyed=unsurveyed.area,
        missed_there=there,
        alone=alone,
        ears=ears,
        advice=(*_of_damage(survey, missed, there, truth), *_of_readings(survey, cut, alone, truth, shelf))
        or ("Nothing to add: well found.",),
    )


def _ears(survey: Survey, truth: Truth, shelf: Shelf) -> Ears:
    """Recorded taps against the truth; those that serve as references are not counted."""
    marked, told = set(survey.references), heard(survey, shelf)
    right = wrong = untold = 0
    for reading in survey.readings:
        verdict = told.get(reading.id)
        if not isinstance(reading, Strike) or verdict is None or reading.id in marked:
            continue
        if verdict.id in (UNLIKE, UNTOLD):
            untold += 1
        elif verdict.id == TOLD[truth.state((reading.x, reading.y))]:
            right += 1
        else:
            wrong += 1
    return Ears(right, wrong, untold)


def _of_damage(survey: Survey, missed: BaseGeometry, there: float, truth: Truth) -> list[str]:
    """What to do better about what was missed."""
    damaged = truth.damaged.area
    if damaged <= 1e-4 or missed.area <= 0.1 * damaged:
        return []
    if there > 0.5 * missed.area:
        return [
            "Most of what was missed lies where the survey itself says not surveyed: take the next tests that it "
            "proposes there before you stop."
        ]
    places = [(r.x, r.y) for r in survey.readings]
    if _unread(places, missed) > 0.5:
        return ["Most of what was missed was never read: walk the whole panel once before going into detail."]
    return ["The missed part lies beside what was found: read closer along the edge of the bad area."]


def _of_readings(survey: Survey, cut: float, alone: int, truth: Truth, shelf: Shelf) -> list[str]:
    """What to do better about the readings."""
    told: list[str] = []
    if cut > 0.15 * truth.outline.area:
        told.append("Much sound area was cut: read more along the edge, or plug where the instruments disagree.")
    if alone:
        verb = "stands alone and was" if alone == 1 else "stand alone and were"
        told.append(f"{counted(alone, 'reading', 'readings')} {verb} not taken again: marked ? on the plan.")
    if scores_of(survey, shelf).left_out:
        told.append("Meter readings without a sound reference were of no use: read dry places first.")
    metered = [r for r in survey.readings if isinstance(r, Moisture)]
    if any(shapely.contains_xy(truth.behind, r.x, r.y) and truth.state((r.x, r.y)) == "sound" for r in metered):
        told.append("The meter was fooled by metal or a tank behind the panel: tap or plug where it is high alone.")
    if not any(isinstance(r, Plug) for r in survey.readings):
        told.append("No plug was taken: one in the doubtful edge settles more than many taps.")
    return told


def _unread(places: list[Point], region: BaseGeometry) -> float:
    """Share of a region that lies more than 120 mm from every place that was read, m."""
    if not places:
        return 1.0
    seen = shapely.union_all(shapely.points(places)).buffer(0.12)
    return float(region.difference(seen).area / max(region.area, 1e-9))

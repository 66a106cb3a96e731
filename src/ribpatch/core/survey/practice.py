"""Scoring a survey against a known truth: rot missed, sound area cut, readings used, and what to do better."""

from __future__ import annotations

from typing import TYPE_CHECKING

import shapely
from msgspec import Struct

from ribpatch.core.readings import Moisture, Plug
from ribpatch.core.survey.score import scores_of

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry

    from ribpatch.core.geometry import Floats
    from ribpatch.core.job import Survey
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.survey.panel import Truth


class Result(Struct, frozen=True):
    """How a survey of a practice panel went. Areas in m2, points 0 to 100."""

    damaged: float
    missed: float
    sound: float
    cut: float
    readings: int
    plugs: int
    points: float
    advice: tuple[str, ...]


def score_practice(survey: Survey, extent: BaseGeometry, truth: Truth, shelf: Shelf) -> Result:
    """Score an extent against the truth."""
    damaged = truth.damaged
    sound = truth.outline.area - damaged.area
    missed = damaged.difference(extent).area
    cut = extent.difference(damaged).area
    plugs = sum(isinstance(r, Plug) for r in survey.readings)
    used = len(survey.readings)
    lost = shelf.rule("practice.missed") * (missed / damaged.area if damaged.area > 1e-4 else 0.0)
    lost += shelf.rule("practice.cut") * (cut / sound if sound > 1e-4 else 0.0)
    lost += shelf.rule("practice.reading") * max(0.0, used - shelf.rule("practice.free"))
    return Result(
        damaged.area, missed, sound, cut, used, plugs, max(0.0, 100 - lost), _advice(survey, extent, truth, shelf)
    )


def _advice(survey: Survey, extent: BaseGeometry, truth: Truth, shelf: Shelf) -> tuple[str, ...]:
    scores = scores_of(survey, shelf)
    damaged = truth.damaged
    missed, cut = damaged.difference(extent), extent.difference(damaged).area
    told: list[str] = []
    if damaged.area > 1e-4 and missed.area / damaged.area > 0.1:
        far = _unread(scores.x, scores.y, missed)
        told.append(
            "Most of what was missed was never read: walk the whole panel once before going into detail."
            if far > 0.5
            else "The missed part lies beside what was found: read closer along the edge of the bad area."
        )
    if cut > 0.15 * truth.outline.area:
        told.append("Much sound area was cut: read more along the edge, or plug where the instruments disagree.")
    if scores.left_out:
        told.append("Meter readings without a sound reference were of no use: read dry places first.")
    metered = [r for r in survey.readings if isinstance(r, Moisture)]
    fooled = [r for r in metered if shapely.contains_xy(truth.behind, r.x, r.y) and truth.state((r.x, r.y)) == "sound"]
    if fooled:
        told.append("The meter was fooled by metal or a tank behind the panel: tap or plug where it is high alone.")
    if not any(isinstance(r, Plug) for r in survey.readings):
        told.append("No plug was taken: one in the doubtful edge settles more than many taps.")
    return tuple(told) or ("Nothing to add: well found.",)


def _unread(x: Floats, y: Floats, region: BaseGeometry) -> float:
    """Share of a region that lies more than 120 mm from every reading."""
    if x.size == 0:
        return 1.0
    seen = shapely.union_all(shapely.points(x, y)).buffer(0.12)
    return float(region.difference(seen).area / max(region.area, 1e-9))

"""Readings as damage scores: 0 sound, 1 bad, with the scatter of each instrument.

Moisture is judged only against the panel's own sound reference: without one it says nothing, and nothing is
invented. A tap grade carries its own score.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ribpatch.core.geometry import Floats
from ribpatch.core.job import Moisture, Survey, Tap
from ribpatch.core.materials.shelf import Shelf
from ribpatch.core.memo import remembered


@dataclass(frozen=True, eq=False)
class Scores:
    """Scored readings: x, y (m), score (0 to 1) and its standard deviation, each of shape (n,)."""

    x: Floats
    y: Floats
    score: Floats
    scatter: Floats
    reference: float | None  # mean of the meter on sound places
    left_out: int  # moisture readings with no reference to judge them by


@remembered(256)
def scores_of(survey: Survey, shelf: Shelf) -> Scores:
    """Score every reading of a survey."""
    references = set(survey.references)
    wet = [r.value for r in survey.readings if isinstance(r, Moisture) and r.id in references]
    reference = float(np.mean(wet)) if wet else None
    grades = {grade.id: grade.score for grade in shelf.taps}
    rise = shelf.rule("moisture.rise")
    noise = {"tap": shelf.rule("tap.noise"), "moisture": shelf.rule("moisture.noise")}
    rows: list[tuple[float, float, float, float]] = []
    left_out = 0
    for reading in survey.readings:
        if isinstance(reading, Tap):
            score = grades.get(reading.grade)
        else:
            score = None if reference is None else min(1.0, max(0.0, (reading.value - reference) / rise))
        if score is None:
            left_out += 1
            continue
        rows.append((reading.x, reading.y, score, noise[reading.kind]))
    table = np.array(rows, dtype=float).reshape(-1, 4)
    return Scores(table[:, 0], table[:, 1], table[:, 2], table[:, 3], reference, left_out)

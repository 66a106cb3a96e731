"""What the recorded taps of a survey are told as: one verdict a strike, the same everywhere."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.memo import remembered
from ribpatch.core.survey.score import standards_of, strikes_by_place
from ribpatch.core.survey.strikes import verdict_of
from ribpatch.core.text import percent

if TYPE_CHECKING:
    from ribpatch.core.job import Survey
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.survey.strikes import Verdict

NO_REFERENCE = "no reference: nothing is said"


@remembered(24, survey=("readings", "references"))
def heard(survey: Survey, shelf: Shelf) -> dict[str, Verdict | None]:
    """The verdict on each recorded tap by id, several at one place by their middle; None without references."""
    _, known = standards_of(survey)
    several = strikes_by_place(survey, shelf)
    return {
        r.id: verdict_of(np.array(several[r.id]) if r.id in several else r, known, shelf)
        for r in survey.readings
        if r.kind == "strike"
    }


def heard_words(verdict: Verdict | None) -> str:
    """A verdict in words, with the chance that it is right where it names one: ``drummy (84 %)``."""
    if verdict is None:
        return NO_REFERENCE
    return f"{verdict.name} ({percent(verdict.margin)})" if verdict.margin else verdict.name

"""Readings under a load: what to expect before and after, what a measured flex says, and whether a test went well.

A prediction carries a band: edges that give, thickness by hand, an extent by readings. A measured flex is explained by
the share of stiffness that the bad area keeps; its uncertainty is the band's. SI. Method: the panel solver.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

import numpy as np
from msgspec import Struct

from ribpatch.core.memo import remembered
from ribpatch.core.structure.laminates import bad_laminate
from ribpatch.core.structure.panel_records import PlateLoad, SoftZone
from ribpatch.core.structure.panel_solver import solve_panel, solved_before

if TYPE_CHECKING:
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.proof import Flex, Trial
    from ribpatch.core.structure.zone_panel import State, ZonePanel

Verdict = Literal["as expected", "look again", "stop"]
SHARES = (1.0, 0.7, 0.5, 0.35, 0.2, 0.1, 0.05, 0.02, 0.01)
STOP = 2.0  # times the expected reading, from which on a test ends


class Expected(Struct, frozen=True):
    """A predicted reading with its band, m."""

    value: float
    low: float
    high: float


@remembered(48)
def reading_at(
    panel: ZonePanel, state: State, at: tuple[float, float], force: float, side: float, shelf: Shelf
) -> Expected:
    """What a dial at a place (panel axes, m) reads under a force on a square pad, N and m. Raises BadStructure."""
    pad = panel.box_round(at, (side, side))
    found = []
    for end in (0, 1, 2) if state == "damaged" else (1,):
        field = solved_before(panel.panel(state, shelf, end), ((PlateLoad(pad, force),),)).field
        x, y = pad.centre
        found.append(float(field.at(np.array(x), np.array(y))["w"]))
    band = shelf.rule("prove.band.after" if state == "repaired" else "prove.band.before")
    middle = found[len(found) // 2]
    return Expected(middle, min(found) * (1 - band), max(found) * (1 + band))


class Explained(Struct, frozen=True):
    """What a measured flex says: the share of stiffness left that explains it, with its range, and words.

    ``share`` is None where no loss explains the reading: it is as stiff as built, or stiffer.
    """

    measured: float
    whole: Expected
    surveyed: Expected
    share: float | None
    low: float
    high: float
    agrees: bool
    words: str

    @property
    def softer(self) -> bool | None:
        """Whether it is softer than it was built; None where it is stiffer than it should be, and tells nothing."""
        if self.measured < self.whole.low:
            return None
        return self.measured > self.whole.high


def explain(panel: ZonePanel, flex: Flex, shelf: Shelf) -> Explained:
    """The stiffness lost that explains a push and its reading. Raises BadStructure."""
    at, force, read = panel.inside(flex.x, flex.y), flex.force.si, flex.read.si
    whole = reading_at(panel, "before", at, force, flex.pad.si, shelf)
    surveyed = reading_at(panel, "damaged", at, force, flex.pad.si, shelf)
    curve = flex_curve(panel, at, flex.pad.si, shelf) * force
    band = shelf.rule("prove.band.before")
    share, low, high = (_share(curve, read * k) for k in (1.0, 1 + band, 1 - band))
    agrees = surveyed.low <= read <= surveyed.high
    if read <= whole.high and read >= whole.low:
        words = "as stiff as it was built, within what can be told"
    elif read < whole.low:
        words = "stiffer than it was built as stated: check thicknesses, spans and the dial"
    elif share <= 1.05 * SHARES[-1]:
        words = "softer than any loss in the bad area explains: it is larger, or an edge gives"
    else:
        words = f"explained by {share:.0%} of the core's stiffness left ({low:.0%} to {high:.0%})"
    if read >= whole.low:
        words += "; agrees with the survey" if agrees else "; does not agree with the survey"
        if not agrees:
            words += ", which expects more" if read < surveyed.low else ", which expects less"
    return Explained(read, whole, surveyed, share if read > whole.value else None, low, high, agrees, words)


@remembered(48)
def flex_curve(panel: ZonePanel, at: tuple[float, float], side: float, shelf: Shelf) -> np.ndarray:
    """Reading in m for each newton against the share of stiffness left in the bad area, shape of ``SHARES``."""
    pad = panel.box_round(at, (side, side))
    x, y = (np.array(v) for v in pad.centre)
    made = []
    for share in SHARES:
        base = panel.panel("before", shelf)
        soft = bad_laminate(panel.laminate, panel.bad, share, 1, shelf).stiffness
        areas = panel.bad_areas or (panel.box_round(at, (4 * side, 4 * side)),)
        zones = (*(SoftZone(box, soft) for box in areas), *base.zones)
        changed = type(base)(base.a, base.b, base.edges, base.stiffness, zones, base.stiffeners, base.springs)
        made.append(float(solve_panel(changed, ((PlateLoad(pad, 1.0),),)).field.at(x, y)["w"]))
    return np.array(made)


def _share(curve: np.ndarray, read: float) -> float:
    """The share at which the curve reads so, between the tabled ones by their logarithms."""
    logs = np.log(np.array(SHARES))
    order = np.argsort(curve)
    return float(np.exp(np.interp(read, curve[order], logs[order])))


def judge(trial: Trial, before: Expected | None, after: Expected | None) -> tuple[Verdict, str] | None:
    """What a reading of a load test says, with its reason; None where nothing was read yet."""
    if trial.heard:
        return "stop", "a noise was heard: take the load off, sound the area, look at bonds and tabbing"
    read, expected = (trial.after, after) if trial.after is not None else (trial.before, before)
    if read is None or expected is None:
        return None
    value = read.si
    if value > STOP * expected.high / (1 + 1e-9):
        return "stop", "it gives more than twice what the band allows: take the load off and find out why"
    if value > expected.high:
        return "look again", "softer than expected: an edge gives, the damage is larger, or a bond did not take"
    if value < expected.low:
        return "look again", "stiffer than expected: check the load, the dial and where the panel is held"
    return "as expected", "within the band of the prediction; the test says nothing about strength"

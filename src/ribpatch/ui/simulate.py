"""Reading a practice panel with the simulated instruments: through the same records, sounds and edits as real ones."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.errors import InvalidValue
from ribpatch.core.readings import Moisture, Plug, Reading
from ribpatch.core.survey.acoustics import strikes_in
from ribpatch.core.survey.entry import strike_reading
from ribpatch.core.survey.hammer import RATE
from ribpatch.core.survey.panel import Truth, read_ear, read_hammer, read_meter, read_plug, truth_of
from ribpatch.formats.recordings import read_wave, wave_bytes

if TYPE_CHECKING:
    from ribpatch.core.geometry import Point
    from ribpatch.core.job import Zone
    from ribpatch.ui.session import Session


def simulated_reading(session: Session, zone: Zone, kind: str, at: Point) -> Reading:
    """A reading of a simulated instrument at a place; raises Fault where it cannot be had."""
    if zone.practice is None:
        raise InvalidValue("simulated instrument", reason="this zone is no practice panel")
    if zone.practice.revealed:
        raise InvalidValue("practice panel", reason="its truth is revealed; begin a new one to survey again")
    truth = truth_of(zone.practice, zone.outline)
    nth = sum((r.x - at[0]) ** 2 + (r.y - at[1]) ** 2 < 1e-6 for r in zone.survey.readings)
    if kind == "sim-moisture":
        return read_meter(truth, at, nth, sum(isinstance(r, Moisture) for r in zone.survey.readings))
    if kind == "sim-ear":
        return read_ear(truth, at, nth)
    if kind == "sim-plug":
        used = sum(isinstance(r, Plug) for r in zone.survey.readings)
        if used >= zone.practice.plugs:
            raise InvalidValue("plugs", reason=f"all {zone.practice.plugs} are used")
        return read_plug(truth, at)
    return _strike(session, truth, at, nth)


def _strike(session: Session, truth: Truth, at: Point, nth: int) -> Reading:
    """Strike, record, write a WAV, read it back, measure it: the way of a real recording."""
    raw = wave_bytes(read_hammer(truth, at, nth), RATE)
    member = session.album.add("recordings/", raw, ".wav")
    samples, rate = read_wave(raw, "simulated strike")
    found = strikes_in(samples, rate, "simulated strike")
    first = max(found, key=lambda s: s.over_noise)
    return strike_reading(first, at, member, session.plan.shelf)

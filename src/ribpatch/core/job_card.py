"""What a list of jobs shows of one: the boat from above with her zones as plain outlines, and how far the work is."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ribpatch.core.drawing.boat_view import hull_ring, zone_patch
from ribpatch.core.geometry import rings_of
from ribpatch.core.text import counted

if TYPE_CHECKING:
    from ribpatch.core.job import Job, Zone

MOST_ZONES = 12  # drawn
_PLACES = 3  # millimetres


def job_card(job: Job) -> dict[str, Any]:
    """Name, words, hull and zones (rings in m, and whether each is planned) of a job, as plain values for a file."""
    zones = job.zones[:MOST_ZONES]
    return {
        "name": job.boat.name,
        "words": _words(job),
        "hull": _rounded(hull_ring(job.boat)),
        "zones": [[_rounded(r) for rings in rings_of(zone_patch(job.boat, z)) for r in rings[:1]] for z in zones],
        "planned": [_planned(z) for z in zones],
    }


def _rounded(ring: tuple[tuple[float, float], ...]) -> list[list[float]]:
    return [[round(x, _PLACES), round(y, _PLACES)] for x, y in ring]


def _planned(zone: Zone) -> bool:
    scheme = zone.scheme
    return bool(scheme.laminate.plies or scheme.core.material)


def _words(job: Job) -> str:
    zones = len(job.zones)
    if not zones:
        return "no zone yet"
    planned = sum(_planned(z) for z in job.zones)
    parts = [counted(zones, "zone", "zones"), f"{planned} planned"]
    if job.log.entries:
        parts.append(f"{counted(len(job.log.entries), 'entry', 'entries')} logged")
    elif job.timetable.kept is not None:
        parts.append("days planned")
    return ", ".join(parts)

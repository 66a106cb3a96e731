"""A practice panel as a job of its own: a cored deck panel with a hidden truth, to survey with simulated
instruments.
"""

from __future__ import annotations

from ribpatch.core.job import Boat, BuildUp, CoreLayer, Fitting, Job, Place, Practice, ShedAir, Skin, Survey, Zone
from ribpatch.core.units import Measure

OUTLINE = ((0.0, 0.0), (1.6, 0.0), (1.6, 1.0), (0.0, 1.0))


def practice_job(seed: int, plugs: int = 3) -> Job:
    """A job with one practice panel whose truth follows from ``seed``."""

    def m(value: float) -> Measure:
        return Measure(si=value)

    zone = Zone(
        id="z1",
        name="Practice panel",
        kind="deck panel",
        place=Place(station=m(1.0), height=m(0.8)),
        outline=OUTLINE,
        build=BuildUp(
            outer=Skin(thickness=m(0.004)),
            core=CoreLayer(core="balsa-150", thickness=m(0.018)),
            inner=Skin(thickness=m(0.0025)),
        ),
        fittings=(
            Fitting(id="f1", name="cleat", x=0.4, y=0.75, width=m(0.15), height=m(0.04), holes=2, hole=m(0.008)),
        ),
        survey=Survey(pitch=m(0.1)),
        practice=Practice(seed=seed, plugs=plugs),
    )
    boat = Boat(
        name="Practice",
        length=m(5.0),
        waterline=m(4.6),
        beam=m(2.0),
        depth=m(0.8),
        displacement=m(700),
        use="a simulated panel on a bench",
    )
    return Job(boat=boat, air=ShedAir(temperature=m(18.0), humidity=m(0.6)), zones=(zone,))

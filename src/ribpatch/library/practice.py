"""A practice panel as a job of its own: a cored deck panel with a hidden truth, to survey with simulated
instruments.
"""

from __future__ import annotations

from ribpatch.core.job import Boat, BuildUp, CoreLayer, Fitting, Job, Place, Practice, ShedAir, Skin, Survey, Zone
from ribpatch.core.numerals import plainly
from ribpatch.core.units import Kind, Measure, shown

OUTLINE = ((0.0, 0.0), (1.6, 0.0), (1.6, 1.0), (0.0, 1.0))


def practice_job(seed: int, plugs: int = 3) -> Job:
    """A job with one practice panel whose truth follows from ``seed``."""

    def m(value: float, kind: Kind = Kind.SIZE) -> Measure:
        """A size of the simulated panel: known, since it was made so."""
        with plainly():
            return Measure(si=value, typed=shown(value, kind))

    zone = Zone(
        id="z1",
        name="Practice panel",
        kind="deck panel",
        place=Place(station=m(1.0, Kind.LENGTH), height=m(0.8, Kind.LENGTH)),
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
        length=m(5.0, Kind.LENGTH),
        waterline=m(4.6, Kind.LENGTH),
        beam=m(2.0, Kind.LENGTH),
        depth=m(0.8, Kind.LENGTH),
        displacement=m(700, Kind.LOAD),
        use="a simulated panel on a bench",
    )
    air = ShedAir(temperature=m(18.0, Kind.TEMPERATURE), humidity=m(0.6, Kind.PERCENT))
    return Job(boat=boat, air=air, zones=(zone,))

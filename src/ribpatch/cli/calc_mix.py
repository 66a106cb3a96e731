"""``ribpatch calc mix`` and ``offset``: what a mix weighs, and an outline grown or shrunk. SI."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from ribpatch.core.record import Limits, Record

Density = Annotated[float, Limits(gt=10, le=20_000, description="kg/m3")]
Mass = Annotated[float, Limits(gt=0, le=1e6, description="parts by mass")]
Metres = Annotated[float, Limits(ge=-1000, le=1000, description="m")]


class CalcLiquid(Record):
    """One part of a mixed resin."""

    mass: Mass
    density: Density


class CalcFiller(Record):
    """A filler: volumes as poured per volume of mixed resin, its density as poured and as a solid."""

    volumes: Annotated[float, Limits(gt=0, le=50)]
    bulk: Annotated[float, Limits(gt=1, le=20_000, description="kg/m3, as poured")]
    true: Density


class MixInput(Record):
    """Liquids mixed by mass, and a filler stirred in."""

    liquids: Annotated[tuple[CalcLiquid, ...], Limits(min_length=1, max_length=10)]
    filler: CalcFiller | None = None

    def check(self) -> None:
        """A filler is no lighter as a solid than as poured."""
        if self.filler is not None and self.filler.true < self.filler.bulk:
            raise ValueError("the filler is lighter as a solid than as poured: change the two densities round")


class OffsetInput(Record):
    """A ring and how far it is grown (less than 0: shrunk); how corners are kept."""

    ring: Annotated[tuple[tuple[Metres, Metres], ...], Limits(min_length=3, max_length=2000)]
    distance: Annotated[float, Limits(ge=-100, le=100, description="m")]
    corners: Literal["round", "mitre"] = "round"


def mix(given: MixInput) -> dict[str, Any]:
    """Density of the mix, its parts by volume, and what a filler makes of it."""
    from ribpatch.core.resin.mix import filled, mixed_density, volume_parts

    masses, densities = [x.mass for x in given.liquids], [x.density for x in given.liquids]
    resin = mixed_density(masses, densities)
    made = {"density": resin, "volume_parts": list(volume_parts(masses, densities))}
    if given.filler is None:
        return made
    f = given.filler
    putty = filled(resin, f.volumes, f.bulk, f.true)
    return {**made, "filled": {"density": putty.density, "resin_share": putty.resin_share, "volume": putty.volume}}


def offset(given: OffsetInput) -> dict[str, Any]:
    """Every ring of the outline grown or shrunk, its area and its length round; none where nothing is left."""
    from ribpatch.core.geometry import check_ring, clean, mitred, polygon_of, rings_of
    from ribpatch.core.geometry import offset as rounded_off

    check_ring(given.ring, "the ring")
    grow = mitred if given.corners == "mitre" else rounded_off
    made = clean(grow(polygon_of(given.ring), given.distance))
    rings = [[[list(p) for p in ring] for ring in rings] for rings in rings_of(made)]
    return {"shapes": rings, "area": float(made.area), "round": float(made.length)}

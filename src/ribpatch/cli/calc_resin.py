"""``ribpatch calc cup`` and ``slab``: resin that makes heat. What each reads and what it answers; SI, degC."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import numpy as np

from ribpatch.core.record import Limits, Record, known

Warmth = Annotated[float, Limits(ge=-50, le=200, description="degC")]
Loss = Annotated[float, Limits(ge=0, le=1e5, description="W/(m2 K)")]
FINE = 400  # steps of a cup
FINE_CELLS = 40  # of a slab


class CalcKinetics(Record):
    """da/dt = k(T) (seed + a) (1 - a)^order, k(T) = rate exp[(Ea/R) (1/298.15 - 1/T)]; give the rate at 25 degC, or a
    pot life that the rate follows from: how long a stated mass can be worked in the cup given, in air of 25 degC.
    """

    rate: Annotated[float, Limits(gt=0, le=10, description="1/s at 25 degC")] | None = None
    pot_life: Annotated[float, Limits(gt=1, le=1e6, description="s at 25 degC")] | None = None
    pot_mass: Annotated[float, Limits(gt=0, le=100, description="kg, that the pot life is stated for")] = 0.1
    activation: Annotated[float, Limits(ge=0, le=3e5, description="J/mol")] = 55_000.0
    heat: Annotated[float, Limits(ge=0, le=2e6, description="J/kg of mix, of the whole cure")] = 330_000.0
    heat_capacity: Annotated[float, Limits(gt=100, le=10_000, description="J/(kg K)")] = 1900.0
    seed: Annotated[float, Limits(gt=0, le=1e6)] = 0.08
    order: Annotated[float, Limits(ge=0, le=6)] = 2.0

    def check(self) -> None:
        """One of the two."""
        if (self.rate is None) == (self.pot_life is None):
            raise ValueError("give either rate (1/s at 25 degC) or pot_life (s)")


class CupInput(Record):
    """A mass of mixed resin in a vessel."""

    kinetics: CalcKinetics
    mass: Annotated[float, Limits(gt=0, le=1000, description="kg")]
    density: Annotated[float, Limits(gt=100, le=5000, description="kg/m3")] = 1150.0
    vessel: Literal["cup", "tray", "pan"] = "cup"
    tall: Annotated[float, Limits(gt=0, le=100, description="height over width of a cup")] = 1.2
    depth: Annotated[float, Limits(gt=0, le=1, description="m, of the mix in a tray or pan")] = 0.012
    area: Annotated[float, Limits(ge=0, le=1000, description="m2 that lose heat; by the vessel if left out")] | None = (
        None
    )
    loss: Loss = 11.0
    mixed: Warmth = 25.0
    air: Warmth = 25.0
    hot: Annotated[float, Limits(ge=-50, le=400, description="degC at which it is worked no longer")] = 40.0
    cured: Annotated[float, Limits(gt=0, lt=0.95, description="share cured at which it is worked no longer")] = 0.2


class CalcMaterial(Record):
    """What leads heat."""

    conductivity: Annotated[float, Limits(gt=0, le=1000, description="W/(m K)")]
    density: Annotated[float, Limits(gt=1, le=20_000, description="kg/m3")]
    heat_capacity: Annotated[float, Limits(gt=10, le=10_000, description="J/(kg K)")]


class CalcBase(CalcMaterial):
    """A layer under the lay-up."""

    thickness: Annotated[float, Limits(gt=0, le=2, description="m")]


class SlabInput(Record):
    """A lay-up on a base, from the lay-up down."""

    kinetics: CalcKinetics
    thickness: Annotated[float, Limits(gt=0, le=0.5, description="m")]
    material: CalcMaterial = known(CalcMaterial, conductivity=0.3, density=1500.0, heat_capacity=1300.0)
    resin_share: Annotated[float, Limits(gt=0, le=1, description="of the mass")] = 0.55
    base: Annotated[tuple[CalcBase, ...], Limits(max_length=8)] = ()
    loss: Annotated[float, Limits(gt=0, le=1e6, description="W/(m2 K), upper face")] = 11.0
    loss_below: Annotated[float, Limits(gt=0, le=1e6, description="W/(m2 K), far side of the base")] = 11.0
    laid: Warmth = 20.0
    air: Warmth = 20.0
    hot: Annotated[float, Limits(ge=-50, le=400, description="degC to give the time to")] = 40.0


def _area(mass: float, given: CupInput) -> float:
    """Face of a mass that loses heat, m2."""
    from ribpatch.core.resin.vessel import face_of

    if given.area is not None:
        return given.area
    volume = np.array([mass / given.density])
    return float(face_of(volume, given.tall if given.vessel == "cup" else None, given.depth)[0])


def _rate(given: CupInput | None, stated: CalcKinetics) -> float:
    """Rate at 25 degC: as stated, or by the pot life in a cup of the same kind, or in a usual one."""
    from ribpatch.core.resin.vessel import rate_by_pot_life

    if stated.rate is not None:
        return stated.rate
    cup = given if given is not None else CupInput(kinetics=stated, mass=stated.pot_mass)
    assert stated.pot_life is not None
    face = _area(stated.pot_mass, cup)
    loss = cup.loss * face / stated.pot_mass
    return rate_by_pot_life(stated.pot_life, _kinetics(stated, 1.0), loss, cup.hot, cup.cured)


def _kinetics(stated: CalcKinetics, rate: float) -> Any:
    from ribpatch.core.resin.cure import Kinetics

    return Kinetics(rate, stated.activation, stated.heat, stated.heat_capacity, stated.seed, stated.order)


def cup(given: CupInput) -> dict[str, Any]:
    """How long it can be worked and how hot it gets if it is left."""
    from ribpatch.core.resin.cure import course

    rate, area = _rate(given, given.kinetics), _area(given.mass, given)
    made = course(
        _kinetics(given.kinetics, rate), np.array([given.loss * area / given.mass]), given.mixed, given.air, steps=FINE
    )
    hot, cured = float(made.time_to(given.hot)[0]), float(made.time_cured(given.cured)[0])
    n = int(made.temperature[:, 0].argmax())
    return {
        "rate": rate,
        "area": area,
        "time_to_hot": hot if np.isfinite(hot) else None,
        "time_to_cured": cured,
        "working_time": min(hot, cured),
        "peak": float(made.temperature[n, 0]),
        "time_of_peak": float(made.time[n, 0]),
        "adiabatic_rise": given.kinetics.heat / given.kinetics.heat_capacity,
    }


def slab(given: SlabInput) -> dict[str, Any]:
    """How hot a lay-up gets."""
    from ribpatch.core.resin.slab import Layer, Material, Slab, slab_course

    rate, m = _rate(None, given.kinetics), given.material
    base = tuple(Layer(b.thickness, Material(b.conductivity, b.density, b.heat_capacity)) for b in given.base)
    laid = Slab(
        given.thickness,
        Material(m.conductivity, m.density, m.heat_capacity),
        given.resin_share,
        base,
        given.loss,
        given.loss_below,
    )
    made = slab_course(laid, _kinetics(given.kinetics, rate), given.laid, given.air, FINE_CELLS)
    hot, n = made.time_to(given.hot), int(made.hottest.argmax())
    return {
        "rate": rate,
        "time_to_hot": hot if np.isfinite(hot) else None,
        "peak": made.peak,
        "time_of_peak": float(made.time[n]),
        "followed_for": float(made.time[-1]),
        "least_cured": float(made.cured[-1]),
    }

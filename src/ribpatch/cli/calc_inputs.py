"""What ``ribpatch calc`` reads, by method. SI throughout: m, N, Pa, N m, kg/m2, degrees for angles, shares 0..1."""

from __future__ import annotations

from typing import Annotated, Literal

from ribpatch.core.record import Limits, Record, known

Size = Annotated[float, Limits(gt=0, le=1000, description="m, above 0")]
Place = Annotated[float, Limits(ge=-1e-9, le=1000, description="m, from the lower left corner or the first end")]
Modulus = Annotated[float, Limits(gt=0, description="Pa")]
Number = Annotated[float, Limits(description="SI")]
Matrix = Annotated[
    tuple[tuple[Number, ...], ...], Limits(min_length=2, max_length=3, description="symmetric, rows of SI numbers")
]
Hold = Annotated[Literal["S", "C", "F"], Limits(description="S simply supported, C clamped, F free")]


class CalcLayer(Record):
    """One layer of a stack, from the bottom up: its constants in Pa in its own axes, thickness m, angle degrees."""

    thickness: Size
    E1: Modulus
    E2: Annotated[float, Limits(gt=0, description="Pa; as E1 where it is left out")] | None = None
    G12: Annotated[float, Limits(gt=0, description="Pa; E1 / (2 (1 + nu12)) where it is left out")] | None = None
    nu12: Annotated[float, Limits(ge=0, lt=1)] = 0.3
    angle: Annotated[float, Limits(ge=-180, le=180, description="degrees from x")] = 0.0
    G13: Annotated[float, Limits(gt=0, description="Pa, transverse shear along 1; as G12 if left out")] | None = None
    G23: Annotated[float, Limits(gt=0, description="Pa, transverse shear along 2; as G13 if left out")] | None = None
    core: Annotated[bool, Limits(description="the core of a sandwich: it alone gives the transverse shear")] = False


class CalcStiffness(Record):
    """Stiffness of a plate: D (N m) with S (N/m), or the layers that they follow from."""

    D: Matrix | None = None
    S: Matrix | None = None
    stack: Annotated[tuple[CalcLayer, ...], Limits(max_length=200)] = ()

    def check(self) -> None:
        """One of the two ways, whole."""
        if bool(self.stack) == (self.D is not None):
            raise ValueError("give either D and S, or a stack of layers")
        if (self.D is None) != (self.S is None):
            raise ValueError("give D (3 by 3, N m) and S (2 by 2, N/m) together")
        if self.D is not None and self.S is not None:
            _square(self.D, 3, "D")
            _square(self.S, 2, "S")


def _square(matrix: tuple[tuple[float, ...], ...], size: int, name: str) -> None:
    if len(matrix) != size or any(len(row) != size for row in matrix):
        raise ValueError(f"{name} is {size} by {size}: give {size} rows of {size} numbers")


class CalcZone(CalcStiffness):
    """A rectangle of another stiffness."""

    x0: Place
    y0: Place
    x1: Place
    y1: Place


class CalcLoad(Record):
    """A load on a rectangle: pressure in Pa or force in N along the deflection, with moments in N m."""

    x0: Place
    y0: Place
    x1: Place
    y1: Place
    pressure: Annotated[float, Limits(description="Pa")] | None = None
    force: Annotated[float, Limits(description="N")] | None = None
    mx: Annotated[float, Limits(description="N m, presses more at greater y")] = 0.0
    my: Annotated[float, Limits(description="N m, presses more at greater x")] = 0.0

    def check(self) -> None:
        """One of the two."""
        if (self.pressure is None) == (self.force is None):
            raise ValueError("give either pressure (Pa) or force (N)")
        if self.pressure is not None and (self.x1 <= self.x0 or self.y1 <= self.y0):
            raise ValueError("a pressure acts on no area: give a rectangle, or a force in N")


class CalcStiffener(Record):
    """A straight member of its own EI, N m2, along an axis at a place, m."""

    axis: Annotated[Literal["x", "y"], Limits(description="the way it runs")]
    place: Place
    EI: Annotated[float, Limits(ge=0, description="N m2, by itself")]
    start: Place | None = None
    end: Place | None = None


class CalcSpring(Record):
    """A line along an axis at a place, m, that gives way to the deflection: k N/m2."""

    axis: Annotated[Literal["x", "y"], Limits(description="the way it runs")]
    place: Place
    k: Annotated[float, Limits(ge=0, description="N/m2, force a length over deflection")]
    start: Place | None = None
    end: Place | None = None


class CalcEdges(Record):
    """How each side is held: x = 0, x = a, y = 0, y = b."""

    left: Hold = "S"
    right: Hold = "S"
    bottom: Hold = "S"
    top: Hold = "S"


class PanelInput(Record):
    """A rectangular panel from (0, 0) to (a, b)."""

    a: Size
    b: Size
    edges: CalcEdges = known(CalcEdges)
    stiffness: CalcStiffness
    loads: Annotated[tuple[CalcLoad, ...], Limits(min_length=1, max_length=100)]
    zones: Annotated[tuple[CalcZone, ...], Limits(max_length=50)] = ()
    stiffeners: Annotated[tuple[CalcStiffener, ...], Limits(max_length=30)] = ()
    springs: Annotated[tuple[CalcSpring, ...], Limits(max_length=30)] = ()
    points: Annotated[
        tuple[tuple[Place, Place], ...], Limits(max_length=10_000, description="places to answer at, (x, y) m")
    ] = ()


class CalcStretch(Record):
    """A stretch of another EI, N m2 (and GA, N)."""

    start: Place
    end: Place
    EI: Annotated[float, Limits(gt=0, description="N m2")]
    GA: Annotated[float, Limits(gt=0, description="N")] | None = None


class CalcBeamLoad(Record):
    """A force in N spread from start to end, or at a point where they are equal."""

    start: Place
    end: Place
    force: Annotated[float, Limits(description="N, along the deflection")]


class CalcProp(Record):
    """A support between the ends: firm, or a spring in N/m."""

    place: Place
    stiffness: Annotated[float, Limits(gt=0, description="N/m")] | None = None


class BeamInput(Record):
    """A straight beam."""

    length: Size
    EI: Annotated[float, Limits(gt=0, description="N m2")]
    GA: Annotated[float, Limits(gt=0, description="N; shear is left out without it")] | None = None
    ends: Annotated[tuple[Hold, Hold], Limits(description="first and last end")] = ("S", "S")
    stretches: Annotated[tuple[CalcStretch, ...], Limits(max_length=50)] = ()
    props: Annotated[tuple[CalcProp, ...], Limits(max_length=50)] = ()
    loads: Annotated[tuple[CalcBeamLoad, ...], Limits(min_length=1, max_length=100)]
    points: Annotated[tuple[Place, ...], Limits(max_length=1000, description="places to answer at, m")] = ()


class CalcPart(Record):
    """A rectangle of a section; leaning ones by their horizontal width. Heights count upwards."""

    name: Annotated[str, Limits(min_length=1, max_length=80)]
    width: Size
    height: Size
    bottom: Annotated[float, Limits(description="m, height of its lower edge")]
    E: Modulus
    G: Annotated[float, Limits(ge=0, description="Pa; 0 carries no shear")] = 0.0


class SectionInput(Record):
    """A section of several materials under a moment and a shear force."""

    parts: Annotated[tuple[CalcPart, ...], Limits(min_length=1, max_length=200)]
    moment: Annotated[float, Limits(description="N m, stretches what lies below the neutral axis")] = 0.0
    shear: Annotated[float, Limits(description="N")] = 0.0
    levels: Annotated[
        tuple[float, ...], Limits(max_length=200, description="heights of cuts to give the shear flow at, m")
    ] = ()


class PlyInput(Record):
    """One cured layer: dry weight kg/m2, fibre mass fraction, densities kg/m3, share of voids."""

    weight: Annotated[float, Limits(gt=0, le=20, description="kg/m2, dry")]
    fibre_fraction: Annotated[float, Limits(gt=0.1, lt=0.8, description="fibre mass fraction")]
    fibre_density: Annotated[float, Limits(gt=100, lt=10_000, description="kg/m3")] = 2560.0
    resin_density: Annotated[float, Limits(gt=100, lt=10_000, description="kg/m3")] = 1150.0
    voids: Annotated[float, Limits(ge=0, lt=0.5)] = 0.0


class StackInput(Record):
    """Layers from the bottom up."""

    layers: Annotated[tuple[CalcLayer, ...], Limits(min_length=1, max_length=200)]


class ScarfInput(Record):
    """A tapered bond: ratio to 1, laminate thickness m, membrane stress Pa, strengths and moduli Pa."""

    ratio: Annotated[float, Limits(ge=1, le=1000, description="length over thickness")]
    thickness: Size
    stress: Annotated[float, Limits(gt=0, description="Pa, in the laminate")]
    old_modulus: Modulus = 10e9
    new_modulus: Modulus = 10e9
    steps: Annotated[int, Limits(ge=0, le=200, description="flat steps; 0 is ground")] = 0
    shear_strength: Modulus = 10e6
    peel_strength: Modulus = 6e6
    glue_modulus: Modulus = 1.2e9
    glue_thickness: Size = 0.0003

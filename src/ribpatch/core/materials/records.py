"""Materials as plain records. SI: kg/m2, kg/m3, m, s, degC, shares as 0..1.

Every shipped value is a judgement or a published typical figure; ``reason`` says which, and the user may replace it.
"""

from __future__ import annotations

from typing import Annotated, Literal

from ribpatch.core.record import Limits, Record
from ribpatch.core.units import Kind

LayerKind = Literal["mat", "woven", "unidirectional", "stitched", "light"]
Process = Literal["hand", "bag", "infusion"]
TrueNumber = Annotated[float, Limits(strict=True)]  # neither true nor "1"
Positive = Annotated[float, Limits(gt=0)]
Share = Annotated[float, Limits(ge=0, le=1)]
Id = Annotated[str, Limits(min_length=1, max_length=64, pattern=r"^[a-z0-9][a-z0-9._-]*$")]


Name = Annotated[str, Limits(min_length=1, max_length=200)]
Reason = Annotated[str, Limits(max_length=4000)]
Strain = Annotated[float, Limits(gt=0, lt=0.2)]
Seconds = Annotated[float, Limits(gt=0, le=1e8)] | None
Modulus = Annotated[float, Limits(gt=1e6, lt=1e12)]


class Fibre(Record):
    """A reinforcing fibre: density in kg/m3, moduli in Pa, and the strains at which a ply of it is taken to fail.

    ``tension`` and ``compression`` are along the fibres, ``transverse`` across them; mats have limits of their own.
    """

    id: Id
    name: Name
    density: Annotated[float, Limits(gt=500, lt=5000)]
    modulus: Modulus
    modulus_across: Modulus
    shear_modulus: Modulus
    poisson: Annotated[float, Limits(ge=0, lt=0.5)]
    tension: Strain
    compression: Strain
    transverse: Strain
    transverse_compression: Strain
    shear: Strain
    mat_tension: Strain
    mat_compression: Strain
    mat_shear: Strain
    reason: Reason


class Layer(Record):
    """One layer of a fabric: angle in degrees from the roll's length, dry weight in kg/m2."""

    angle: Annotated[float, Limits(ge=-90, le=90)]
    weight: Annotated[float, Limits(gt=0, le=5)]
    kind: LayerKind
    fibre: Id = "e-glass"


class Fabric(Record):
    """A cloth as bought: one or more layers on one roll."""

    id: Id
    name: Name
    code: Annotated[str, Limits(max_length=60)]
    layers: Annotated[tuple[Layer, ...], Limits(min_length=1, max_length=20)]
    roll_width: Annotated[float, Limits(gt=0.02, le=5)]
    turn: Literal[0, 90, 180]
    reason: Reason = ""

    @property
    def weight(self) -> float:
        """Dry areal weight in kg/m2."""
        return sum(layer.weight for layer in self.layers)

    @property
    def kind(self) -> Kind:
        """How its weight is spoken of: mat per square foot, all else per square yard."""
        return Kind.AREAL_MAT if all(layer.kind == "mat" for layer in self.layers) else Kind.AREAL


class Resin(Record):
    """A resin with its hardener or catalyst. Parts are as on the can.

    ``bond_shear`` and ``bond_peel`` are the design strengths, Pa, of its bond to well ground old laminate.
    """

    id: Id
    name: Name
    family: Literal["epoxy", "vinylester", "polyester"]
    density: Annotated[float, Limits(gt=800, lt=2000)]
    resin_density: Annotated[float, Limits(gt=800, lt=2000)]
    hardener_density: Annotated[float, Limits(gt=800, lt=2000)]
    mass_parts: tuple[float, float]
    volume_parts: tuple[float, float]
    pot_life: Positive  # s at 25 degC
    pot_mass: Positive  # kg, the mass that pot life is stated for
    activation: Annotated[float, Limits(gt=1e4, lt=2e5)]  # J/mol
    least_temperature: float  # degC
    most_humidity: Share
    blushes: bool
    mat_binder: bool  # dissolves the binder of powder or emulsion mat
    modulus: Modulus
    poisson: Annotated[float, Limits(ge=0, lt=0.5)]
    bond_shear: Annotated[float, Limits(gt=1e5, lt=1e8)]
    bond_peel: Annotated[float, Limits(gt=1e5, lt=1e8)]
    heat: Annotated[float, Limits(gt=1e4, lt=1e6)] = 330_000.0  # J/kg of mix
    heat_capacity: Annotated[float, Limits(gt=500, lt=5000)] = 1900.0  # J/(kg K)
    seed: Annotated[float, Limits(gt=0, le=10)] = 0.08  # how much of the cure needs no cured resin to go on
    order: Annotated[float, Limits(ge=0.5, le=4)] = 2.0
    viscosity: Annotated[float, Limits(gt=0.01, lt=50)] = 0.9  # of the fresh mix at 25 degC, Pa s
    thinning: Annotated[float, Limits(ge=0, lt=2e5)] = 45_000.0  # J/mol, how it thins with warmth
    gel: Seconds = None  # of a thin film at 25 degC, as all of these
    green_from: Seconds = None  # the next ply bonds without sanding from here
    green_to: Seconds = None
    recoat: Seconds = None  # the last time for a coat without sanding
    sandable: Seconds = None
    unclamp: Seconds = None
    service: Seconds = None
    inhibited: bool = False  # air keeps its face from curing: it wants wax or film to be sanded
    reason: Reason

    @property
    def shear_modulus(self) -> float:
        """Shear modulus of the cured resin, Pa, as of an isotropic solid."""
        return self.modulus / (2 * (1 + self.poisson))

    def check(self) -> None:
        """Both parts of the mix must be there."""
        if min(*self.mass_parts, *self.volume_parts) <= 0:
            raise ValueError(
                f"{self.name}: a mix ratio with a part of zero makes no cured resin; give both parts above zero"
            )


class Core(Record):
    """A core material. Water in kg/m3 is what a thoroughly wet core holds; moduli and strengths in Pa, ``modulus`` in
    the panel's plane. ``shear_modulus`` and ``shear_strength`` are through the thickness, as a panel in bending shears
    its core; ``shear_in_plane`` is in the panel's own plane, and the same where it is not given. ``annulus``: a
    fastener needs a ring of putty or a solid insert. ``wet_loss`` is the share of its stiffness that a wet to rotted
    core has lost. A poured core has no sheets.
    """

    id: Id
    name: Name
    code: Annotated[str, Limits(max_length=60)]
    density: Annotated[float, Limits(gt=20, lt=2000)]
    faces: Literal["end grain", "open cells", "plywood", "dense"]
    water: Annotated[float, Limits(ge=0, le=1000)]
    sheet: tuple[Positive, Positive]
    modulus: Modulus
    modulus_through: Modulus
    shear_modulus: Modulus
    shear_in_plane: Modulus | None = None
    shear_strength: Annotated[float, Limits(gt=1e4, lt=1e9)]
    compressive_strength: Annotated[float, Limits(gt=1e4, lt=1e9)]
    temperature: Annotated[float, Limits(ge=30, le=300)]
    screws: Reason
    annulus: bool
    wet_loss: tuple[Share, Share]
    thicknesses: tuple[Positive, ...] = ()
    poured: bool = False
    reason: Reason


class Putty(Record):
    """A filler recipe: volumes of filler per volume of mixed resin; ``resin_share`` is by mass of the putty.

    ``filler_bulk`` and ``filler_true`` are the filler's densities as poured and as a solid, kg/m3; density and share of
    resin follow from them. ``modulus`` is the cured putty's, Pa, for a bed of it in a sandwich.
    """

    id: Id
    name: Name
    filler_volumes: Annotated[float, Limits(gt=0, le=10)]
    density: Annotated[float, Limits(gt=100, lt=3000)]
    resin_share: Annotated[float, Limits(gt=0, lt=1)]
    texture: Reason
    load_bearing: bool
    filler_bulk: Annotated[float, Limits(gt=1, lt=3000)] | None = None
    filler_true: Annotated[float, Limits(gt=10, lt=5000)] | None = None
    modulus: Modulus = 3.0e9
    purpose: Reason = ""
    sands: Reason = ""
    lift: Annotated[float, Limits(gt=0, le=0.2)] | None = None  # m laid at once, or it gets too hot
    reason: Reason


class Rule(Record):
    """A default that is a judgement: its value (SI), kind, limits and reason. Users may set their own."""

    id: Id
    name: Name
    value: TrueNumber
    kind: Kind
    low: TrueNumber
    high: TrueNumber
    reason: Reason


class Coupon(Record):
    """A test laminate of this shop: so many plies of a fabric by a process came out at a measured thickness, m."""

    id: Id
    fabric: Id
    process: Process
    resin: Id
    plies: Annotated[int, Limits(ge=1, le=100)]
    thickness: Annotated[float, Limits(gt=1e-5, le=0.2)]
    note: Annotated[str, Limits(max_length=400)] = ""


class Era(Record):
    """How hulls and decks of a span of years were usually laid up: a pattern of fabrics, inside first, that repeats."""

    id: Id
    name: Name
    first: int
    last: int
    pattern: Annotated[tuple[Id, ...], Limits(min_length=1)]
    resin: Id
    reason: Reason


class Preparation(Record):
    """How an old surface is made ready to bond to: its steps in order, and the share of the bond's strength that it
    keeps.
    """

    id: Id
    name: Name
    factor: Annotated[float, Limits(gt=0, le=1)]
    old: bool = True  # one to choose for old laminate
    steps: Annotated[tuple[str, ...], Limits(min_length=1)]
    reason: Reason


class Pack(Record):
    """A size that something is sold in: kg, m2 or pieces as its price is per (m of a roll of cloth), and what the pack
    costs where that is not the amount times the price.
    """

    size: Annotated[float, Limits(gt=0, le=1e5)]
    price: Annotated[float, Limits(ge=0, le=1e6)] | None = None


class Price(Record):
    """A price: per kg, per m2 or each, in the currency of the list; the packs that it is sold in, none for any amount;
    how many days it takes to come, and how many months it keeps once it is opened.
    """

    id: Id
    name: Name
    price: Annotated[float, Limits(ge=0, le=1e6)]
    per: Literal["kg", "m2", "each"]
    packs: Annotated[tuple[Pack, ...], Limits(max_length=20)] = ()
    lead: Annotated[float, Limits(ge=0, le=400)] | None = None
    keeps: Annotated[float, Limits(gt=0, le=600)] | None = None
    reason: Reason = ""


class Grade(Record):
    """One word of an instrument: its key, its damage score from 0 (sound) to 1 (bad) for the mark on the plan, and how
    often it is said where the material is sound, wet, rotted and disbonded. None says nothing.
    """

    id: Id
    name: Name
    key: Annotated[str, Limits(max_length=1)] = ""
    score: Share | None
    says: tuple[Share, Share, Share, Share] | None = None
    reason: Reason


class Level(Record):
    """How far over its sound reference an instrument reads where the material is so, in the rise that counts as bad."""

    state: Literal["sound", "wet", "rotted", "disbonded"]
    mean: float
    scatter: Annotated[float, Limits(gt=0)]


class InstrumentCard(Record):
    """One way of looking at a place: its scale, whether it needs a sound reference, what can fool it."""

    id: Id
    name: Name
    code: Annotated[str, Limits(max_length=2)] = ""
    scale: Reason
    unit: str = ""
    low: float = 0.0
    high: float = 0.0
    reference: bool = False
    rank: Annotated[int, Limits(ge=0, le=1)] = 0  # 1 outranks the rest where it looked
    how: Reason
    fooled: tuple[str, ...] = ()
    reason: Reason
    grades: tuple[Grade, ...] = ()
    levels: tuple[Level, ...] = ()  # a state that is not listed reads as sound does
    wrong: Share = 0.0  # of its readings that are plainly wrong, whatever is there


Weight = Annotated[float, Limits(ge=-100, le=100)]


class StrikeClass(Record):
    """How the sound of one state of the material is told: the weights of a constant, of the differences from the
    panel's reference strikes (natural logarithms over their spreads) and of their sizes, for all features of a strike
    and for the first few; and its damage score. Several states can share a verdict.
    """

    id: Literal["sound", "wet", "rotted", "disbonded"]
    verdict: Id
    name: Name
    weights: Annotated[tuple[Weight, ...], Limits(min_length=31, max_length=31)]
    few: Annotated[tuple[Weight, ...], Limits(min_length=9, max_length=9)]
    score: Share
    reason: Reason


class Caution(Record):
    """A caution: the step it belongs to, the fact under which it applies (``always`` or another), its words."""

    id: Id
    step: str
    when: str
    text: Reason

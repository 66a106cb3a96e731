"""Figures, curve and schools of the bond along the taper."""

from __future__ import annotations

from math import floor
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.chart import Chart, Curve, Mark
from ribpatch.core.figure import Figure, FigureBook, Given, Origin, stated
from ribpatch.core.memo import remembered
from ribpatch.core.numerals import general
from ribpatch.core.patch.bonding.shear_lag import (
    TRUST,
    BondCurve,
    Glue,
    Scarf,
    bond_curve,
    bond_use,
    mean_stresses,
    ratio_for,
)
from ribpatch.core.patch.taper import NO_TAPER, band_of
from ribpatch.core.record import known
from ribpatch.core.scheme import SCHOOLS, Scheme, Taper
from ribpatch.core.table import Row, Table
from ribpatch.core.units import Kind, number_text, usual

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats
    from ribpatch.core.laminate.match import Match
    from ribpatch.core.materials.records import Preparation
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.repair import Patch

LOW, HIGH = 3.0, 30.0
STEPPED = "elastic peaks at the steps of a stepped joint are local and foretell no strength"


class Joint(Struct, frozen=True, eq=False):
    """The scarf of a zone's main face along and across, each judged by itself; the glue, and how it is prepared."""

    along: Scarf
    across: Scarf
    glue: Glue
    preparation: Preparation
    strain: float

    @property
    def ways(self) -> tuple[tuple[str, Scarf], ...]:
        """Both ways by their names."""
        return ("along", self.along), ("across", self.across)

    @property
    def stiffer(self) -> Scarf:
        """The way with the greater stress: it sets the mean."""
        return max((self.along, self.across), key=lambda s: s.stress)

    def curves(self, ratio: Floats) -> dict[str, BondCurve]:
        """The curve of each way over taper ratios (n,), length over thickness."""
        return {way: bond_curve(ratio, scarf, self.glue) for way, scarf in self.ways}

    def used(self, ratio: Floats) -> Floats:
        """Share of the bond's strength used at the mean, the worse way, by taper ratio, (n,)."""
        return bond_use(*mean_stresses(ratio, self.stiffer.stress), self.glue)

    def used_peak(self, ratio: Floats) -> Floats:
        """Share of the bond's strength used at the peak, the worse way, by taper ratio, (n,)."""
        return np.asarray(np.maximum(*(c.used_peak for c in self.curves(ratio).values())))


@remembered(128)
def joint_of(match: Match, patch: Patch, scheme: Scheme, shelf: Shelf) -> Joint | None:
    """The joint, or None where no skin is tapered. A stepped taper of n plies laps on n - 1 steps: the deepest ply
    butts.
    """
    band = patch.band
    if band.thickness <= 0 or not patch.outlines:
        return None
    resin, how = shelf.resin(scheme.resin.main), shelf.preparation(scheme.bond.preparation)
    strain = shelf.rule("bond.strain")
    steps = max(len(patch.stack.plies) - 1, 1) if band.stepped else 0
    along, across = (
        Scarf(float(old), float(new), band.thickness, float(old) * strain, steps)
        for old, new in zip(match.old.plate.in_plane[:2], match.new.plate.in_plane[:2], strict=True)
    )
    glue = Glue(
        resin.bond_shear * how.factor, resin.bond_peel * how.factor, resin.shear_modulus, shelf.rule("bond.layer")
    )
    return Joint(along, across, glue, how, strain)


def least_ratio(taper: Taper) -> float:
    """The shortest ratio of all sides: where the bond carries most."""
    return min((taper.ratio.si, *(s.ratio.si for s in taper.stretches)))


def bond_figures(joint: Joint, scheme: Scheme, shelf: Shelf, prefix: str) -> tuple[Figure, ...]:
    """Figures of the bond at the ratio chosen, on the side where it is least."""
    book = FigureBook(prefix)
    resin, least = shelf.resin(scheme.resin.main), least_ratio(scheme.taper)
    ratio = stated("taper ratio", scheme.taper.ratio, Kind.RATIO)
    if least < scheme.taper.ratio.si:
        ratio = Given("taper ratio of the side where it is least", least, Kind.RATIO, Origin.YOURS)
    curves = joint.curves(np.array([least]))
    worst = max(curves.values(), key=lambda c: float(c.used[0]))
    stiff = Given(
        "modulus of the old laminate, stiffer way", joint.stiffer.stress / joint.strain, Kind.MODULUS, Origin.WORKED
    )
    stress = book.add(
        "bond.stress",
        "stress in the laminate at its design strain",
        joint.stiffer.stress,
        Kind.STRESS,
        "modulus × design strain",
        (stiff, shelf.given("bond.strain")),
    )
    shear = book.add(
        "bond.shear",
        "mean shear along the taper",
        float(worst.shear[0]),
        Kind.STRESS,
        "stress × sin α × cos α with α = atan(1 ÷ ratio)",
        (stress.given(), ratio),
        source="[18]",
    )
    peel = book.add(
        "bond.peel",
        "mean peel across the taper",
        float(worst.peel[0]),
        Kind.STRESS,
        "stress × sin² α",
        (stress.given(), ratio),
        source="[18]",
    )
    strength = (
        Given(
            f"shear strength with {resin.name}, {joint.preparation.name}",
            joint.glue.shear,
            Kind.STRESS,
            shelf.origin(resin.id),
        ),
        Given("peel strength", joint.glue.peel, Kind.STRESS, shelf.origin(resin.id)),
        Given("preparation keeps", joint.preparation.factor, Kind.PERCENT, note=joint.preparation.reason),
    )
    book.add(
        "bond.used",
        "bond used, mean",
        float(worst.used[0]),
        Kind.PERCENT,
        "root of (shear ÷ shear strength)² + (peel ÷ peel strength)²",
        (shear.given(), peel.given(), *strength),
        source="[18]",
        valid="screening; design strengths are declared, test a coupon of yours",
    )
    _peaks(book, joint, curves, ratio, shelf)
    factor = stated("factor wanted", scheme.bond.factor, Kind.RATIO)
    need = ratio_for(scheme.bond.factor.si, joint.stiffer, joint.glue)
    book.add(
        "bond.ratio",
        "ratio for your factor",
        min(need, 999.0),
        Kind.RATIO,
        "least ratio at which the mean use × factor is 1",
        (stress.given(), factor, *strength),
        source="[18]",
        warning="No ratio up to 100 reaches it." if need > 100 else "",
        valid="a longer taper lowers the mean; the peak tends to the ratio of the moduli, so matching stiffness "
        "matters as much",
    )
    return book.figures


def _peaks(book: FigureBook, joint: Joint, curves: dict[str, BondCurve], ratio: Given, shelf: Shelf) -> None:
    """Peaks along and across, each by its own moduli, and the worse of the two."""
    trust = TRUST + (f"; {STEPPED}" if joint.along.steps else "")
    peaks, uses = [], []
    for way, scarf in joint.ways:
        moduli = (
            Given(f"old modulus {way}", scarf.old, Kind.MODULUS, Origin.WORKED),
            Given(f"new modulus {way}", scarf.new, Kind.MODULUS, Origin.WORKED),
        )
        peaks.append(
            book.add(
                f"bond.peak.{way}",
                f"peak over mean, {way}",
                float(curves[way].peak[0]),
                Kind.RATIO,
                "numeric shear lag along the taper",
                (*moduli, shelf.given("bond.layer"), ratio),
                source="[19]",
                valid=trust,
            )
        )
        uses.append(
            book.add(
                f"bond.used.{way}",
                f"bond used at the peak, {way}",
                float(curves[way].used_peak[0]),
                Kind.PERCENT,
                "use at this way's own stress × its peak over mean",
                (peaks[-1].given(),),
                source="[19]",
                valid=TRUST,
            )
        )
    book.add(
        "bond.peak",
        "peak over mean",
        max(p.value for p in peaks),
        Kind.RATIO,
        "the worse of along and across",
        tuple(p.given() for p in peaks),
        source="[19]",
        valid=trust,
    )
    book.add(
        "bond.used.peak",
        "bond used, at the peak",
        max(u.value for u in uses),
        Kind.PERCENT,
        "the worse of along and across",
        tuple(u.given() for u in uses),
        source="[19]",
        valid=TRUST,
    )


def bond_chart(joint: Joint, scheme: Scheme) -> Chart:
    """Use of the bond against the ratio, with the schools, the choice and the ratio for the factor marked."""
    ratios = np.linspace(LOW, HIGH, 55)
    curves = [Curve("mean", tuple(zip(ratios.tolist(), joint.used(ratios).tolist(), strict=True)))]
    if not joint.along.steps:
        curves.append(
            Curve("at the peak", tuple(zip(ratios.tolist(), joint.used_peak(ratios).tolist(), strict=True)), "second")
        )
    chosen = scheme.taper.ratio.si
    marks = [Mark(r, f"{general(r)}:1") for r in SCHOOLS if abs(r - chosen) > 1.2]
    if LOW <= chosen <= HIGH:
        marks.append(Mark(chosen, f"{general(chosen)}:1", True))
    limit = (1 / scheme.bond.factor.si, f"your factor {number_text(scheme.bond.factor.si, Kind.RATIO)}")
    return Chart(
        "taper ratio", "bond used", tuple(curves), tuple(marks), limits=(limit, (1.0, "design strength")), top=2.0
    )


def school_table(
    joint: Joint, patch: Patch, scheme: Scheme, zone_ring: tuple[tuple[float, float], ...], shelf: Shelf, prefix: str
) -> Table:
    """What each school's ratio costs: bond used, sound laminate lost, dust, hours of grinding, and whether it fits."""
    need = ratio_for(scheme.bond.factor.si, joint.stiffer, joint.glue)
    ratios = sorted({*SCHOOLS, scheme.taper.ratio.si, *([round(need + 0.05, 1)] if need <= 100 else [])})
    rows = []
    for ratio in ratios:
        chosen = ratio == scheme.taper.ratio.si
        # The chosen row is the taper as it is, with each side's own ratio; the others are that ratio all round.
        taper = scheme.taper if chosen else known(Taper, ratio=usual(ratio), form=scheme.taper.form)
        at = np.array([least_ratio(taper)])
        band = band_of(
            patch.face.opening,
            taper,
            patch.band.thickness,
            len(patch.stack.plies),
            shelf.rule("step.least"),
            zone_ring,
            (),
        )
        book = FigureBook(f"{prefix}.school.{ratio:g}")
        given = (Given("taper ratio", ratio, Kind.RATIO),)
        dust = band.ground_volume * shelf.rule("old.skin.density")
        fits = (not patch.band.tight) if chosen else patch.band.least_ratio >= ratio - 1e-6
        cells = (
            book.add(
                "used",
                "bond used, mean",
                float(joint.used(at)[0]),
                Kind.PERCENT,
                "as at the ratio chosen",
                given,
                source="[18]",
            ),
            book.add(
                "peak",
                "bond used, at the peak",
                float(joint.used_peak(at)[0]),
                Kind.PERCENT,
                "as at the ratio chosen",
                given,
                source="[19]",
                valid=TRUST,
            ),
            book.add(
                "lost", "sound laminate ground away", band.region.area, Kind.AREA, "area of the taper band", given
            ),
            book.add("dust", "dust", dust, Kind.MASS, "volume ground off × density", given),
            book.add(
                "hours",
                "grinding",
                dust / shelf.rule("grind.rate") * 3600,
                Kind.HOURS,
                "dust ÷ grinding rate",
                (*given, shelf.given("grind.rate")),
            ),
        )
        names = (
            [n for n, r in (("for the factor", round(need + 0.05, 1)),) if r == ratio]
            + (["chosen"] if chosen else [])
            + (["with a ratio of its own on some sides"] if chosen and taper.stretches else [])
        )
        label = f"{general(ratio)}:1" + (f" ({', '.join(names)})" if names else "")
        rows.append(
            Row(
                f"{ratio:g}",
                (label, *cells, "all round" if fits else "not all round"),
                "chosen" if chosen else "",
            )
        )
    note = (
        "8:1 lightly loaded or thick laminate, 12:1 usual, 20:1 and more thin or highly loaded. "
        f"{TRUST[0].upper()}{TRUST[1:]}."
    )
    return Table(("ratio", "bond", "at ends", "ground", "dust", "hours", "fits"), tuple(rows), note, "Use")


def tight_table(patch: Patch, joint: Joint | None, prefix: str) -> Table:
    """Where the chosen ratio does not fit, what fits, how much of the bond that uses, and what can be done."""
    rows = []
    for number, tight in enumerate(patch.band.tight, 1):
        book = FigureBook(f"{prefix}.tight.{number}")
        how = "room ÷ old skin thickness"
        none = tight.ratio < NO_TAPER
        fits = "none" if none else book.add("ratio", "ratio that fits", tight.ratio, Kind.RATIO, how)
        run = book.add("run", "over", tight.length, Kind.LENGTH, "length of the stretch")
        used = ""
        if joint is not None and tight.ratio >= 1:
            share = joint.used(np.array([tight.ratio]))[0]
            used = f"{share:.0%}"
        rows.append(
            Row(
                f"{tight.facing}:{floor(tight.ratio * 10) / 10:g}",
                (f"against {tight.against}", fits, run, used or "–", _cure(tight.ratio, tight.against)),
            )
        )
    return Table(
        ("where", "fits", "over", "bond used", "what can be done"),
        tuple(rows),
        take="Use the ratio that fits on that side",
        empty="The chosen ratio fits all round.",
    )


def _cure(ratio: float, against: str) -> str:
    edge = against == "the zone's edge"
    if ratio < 1:
        return "move the cut line in, or cut the edge out with it" if edge else "move the fitting, or cut round it"
    move = "taper the other face here" if edge else "move the fitting"
    if ratio >= 6:
        return f"use the ratio that fits on this side (Enter), step it, or {move}"
    return f"{move}, or use the ratio that fits and add a local doubler over it"

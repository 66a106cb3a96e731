"""Figures, curve and schools of the bond along the taper."""

from __future__ import annotations

from dataclasses import dataclass
from math import floor

import numpy as np

from ribpatch.core.chart import Chart, Curve, Mark
from ribpatch.core.figure import Figure, FigureBook, Given, Origin, stated
from ribpatch.core.laminate.match import Match
from ribpatch.core.materials.records import Preparation
from ribpatch.core.materials.shelf import Shelf
from ribpatch.core.memo import remembered
from ribpatch.core.patch.bond import TRUST, Glue, Scarf, bond_curve, ratio_for
from ribpatch.core.patch.repair import Patch
from ribpatch.core.patch.taper import band_of
from ribpatch.core.scheme import Scheme, Taper
from ribpatch.core.table import Row, Table
from ribpatch.core.units import Kind, Measure, number_text

SCHOOLS = (8.0, 12.0, 20.0)
LOW, HIGH = 3.0, 30.0
STEPPED = "elastic peaks at the steps of a stepped joint are local and foretell no strength"


@dataclass(frozen=True, eq=False)
class Joint:
    """The scarf of a zone's main face: laminates and glue, and how it is prepared."""

    scarf: Scarf
    glue: Glue
    preparation: Preparation
    strain: float


@remembered(128)
def joint_of(match: Match, patch: Patch, scheme: Scheme, shelf: Shelf) -> Joint | None:
    """The joint, or None where no skin is tapered."""
    band = patch.band
    if band.thickness <= 0 or not patch.outlines:
        return None
    resin, how = shelf.resin(scheme.resin), shelf.preparation(scheme.preparation)
    strain = shelf.rule("bond.strain")
    old, new = float(min(match.old.plate.in_plane[:2])), float(min(match.new.plate.in_plane[:2]))
    stiff = float(max(match.old.plate.in_plane[:2]))
    steps = len(patch.stack.plies) if band.stepped else 0
    scarf = Scarf(old, new, band.thickness, stiff * strain, steps)
    glue = Glue(
        resin.bond_shear * how.factor, resin.bond_peel * how.factor, resin.shear_modulus, shelf.rule("bond.layer")
    )
    return Joint(scarf, glue, how, strain)


def bond_figures(joint: Joint, scheme: Scheme, shelf: Shelf, prefix: str) -> tuple[Figure, ...]:
    """Figures of the bond at the ratio chosen."""
    book = FigureBook(prefix)
    resin, ratio = shelf.resin(scheme.resin), stated("taper ratio", scheme.taper.ratio, Kind.RATIO)
    curve = bond_curve(np.array([scheme.taper.ratio.si]), joint.scarf, joint.glue)
    stiff = Given(
        "modulus of the old laminate, stiffer way", joint.scarf.stress / joint.strain, Kind.MODULUS, Origin.WORKED
    )
    stress = book.add("bond.stress", "stress in the laminate at its design strain", joint.scarf.stress, Kind.STRESS,
                      "modulus × design strain", (stiff, shelf.given("bond.strain")))  # fmt: skip
    shear = book.add("bond.shear", "mean shear along the taper", float(curve.shear[0]), Kind.STRESS,
                     "stress × sin α × cos α with α = atan(1 ÷ ratio)", (stress.given(), ratio), source="[18]")  # fmt: skip
    peel = book.add("bond.peel", "mean peel across the taper", float(curve.peel[0]), Kind.STRESS, "stress × sin² α",
                    (stress.given(), ratio), source="[18]")  # fmt: skip
    strength = (
        Given(f"shear strength with {resin.name}, {joint.preparation.name}", joint.glue.shear, Kind.STRESS, shelf.origin(resin.id)),
        Given("peel strength", joint.glue.peel, Kind.STRESS, shelf.origin(resin.id)),
        Given("preparation keeps", joint.preparation.factor, Kind.PERCENT, note=joint.preparation.reason),
    )  # fmt: skip
    used = book.add("bond.used", "bond used, mean", float(curve.used[0]), Kind.PERCENT,
                    "root of (shear ÷ shear strength)² + (peel ÷ peel strength)²", (shear.given(), peel.given(), *strength),
                    source="[18]", valid="screening; design strengths are declared, test a coupon of yours")  # fmt: skip
    modulus = (
        Given("old modulus", joint.scarf.old, Kind.MODULUS, Origin.WORKED),
        Given("new modulus", joint.scarf.new, Kind.MODULUS, Origin.WORKED),
    )
    peak = book.add("bond.peak", "peak over mean", float(curve.peak[0]), Kind.RATIO, "numeric shear lag along the taper",
                    (*modulus, shelf.given("bond.layer"), ratio), source="[19]", valid=TRUST + (f"; {STEPPED}" if joint.scarf.steps else ""))  # fmt: skip
    book.add("bond.used.peak", "bond used, at the peak", float(curve.used_peak[0]), Kind.PERCENT, "bond used × peak over mean",
             (used.given(), peak.given()), source="[19]", valid=TRUST)  # fmt: skip
    factor = stated("factor wanted", scheme.factor, Kind.RATIO)
    need = ratio_for(scheme.factor.si, joint.scarf, joint.glue)
    book.add("bond.ratio", "ratio for your factor", min(need, 999.0), Kind.RATIO, "least ratio at which the mean use × factor is 1",
             (stress.given(), factor, *strength), source="[18]", warning="No ratio up to 100 reaches it." if need > 100 else "",
             valid="a longer taper lowers the mean; the peak tends to the ratio of the moduli, so matching stiffness matters as much")  # fmt: skip
    return book.figures


def bond_chart(joint: Joint, scheme: Scheme) -> Chart:
    """Use of the bond against the ratio, with the schools, the choice and the ratio for the factor marked."""
    ratios = np.linspace(LOW, HIGH, 55)
    curve = bond_curve(ratios, joint.scarf, joint.glue)
    curves = [Curve("mean", tuple(zip(ratios.tolist(), curve.used.tolist(), strict=True)))]
    if not joint.scarf.steps:
        curves.append(
            Curve("at the peak", tuple(zip(ratios.tolist(), curve.used_peak.tolist(), strict=True)), "second")
        )
    chosen = scheme.taper.ratio.si
    marks = [Mark(r, f"{r:g}:1") for r in SCHOOLS if abs(r - chosen) > 1.2]
    if LOW <= chosen <= HIGH:
        marks.append(Mark(chosen, f"{chosen:g}:1", True))
    limit = (1 / scheme.factor.si, f"your factor {number_text(scheme.factor.si, Kind.RATIO)}")
    return Chart(
        "taper ratio", "bond used", tuple(curves), tuple(marks), limits=(limit, (1.0, "design strength")), top=2.0
    )


def school_table(
    joint: Joint, patch: Patch, scheme: Scheme, zone_ring: tuple[tuple[float, float], ...], shelf: Shelf, prefix: str
) -> Table:
    """What each school's ratio costs: bond used, sound laminate lost, dust, hours of grinding, and whether it fits."""
    need = ratio_for(scheme.factor.si, joint.scarf, joint.glue)
    ratios = sorted({*SCHOOLS, scheme.taper.ratio.si, *([round(need + 0.05, 1)] if need <= 100 else [])})
    rows = []
    for ratio in ratios:
        taper = Taper(ratio=Measure(si=ratio), form=scheme.taper.form)
        band = band_of(
            patch.face.opening,
            taper,
            patch.band.thickness,
            len(patch.stack.plies),
            shelf.rule("step.least"),
            zone_ring,
            (),
        )
        curve = bond_curve(np.array([ratio]), joint.scarf, joint.glue)
        book = FigureBook(f"{prefix}.school.{ratio:g}")
        given = (Given("taper ratio", ratio, Kind.RATIO),)
        dust = band.ground_volume * shelf.rule("old.skin.density")
        fits = "all round" if patch.band.least_ratio >= ratio - 1e-6 else "not all round"
        cells = (
            book.add("used", "bond used, mean", float(curve.used[0]), Kind.PERCENT, "as at the ratio chosen", given, source="[18]"),
            book.add("peak", "bond used, at the peak", float(curve.used_peak[0]), Kind.PERCENT, "as at the ratio chosen", given, source="[19]",
                     valid=TRUST),
            book.add("lost", "sound laminate ground away", band.region.area, Kind.AREA, "area of the taper band", given),
            book.add("dust", "dust", dust, Kind.MASS, "volume ground off × density", given),
            book.add("hours", "grinding", dust / shelf.rule("grind.rate") * 3600, Kind.HOURS, "dust ÷ grinding rate", (*given, shelf.given("grind.rate"))),
        )  # fmt: skip
        names = [n for n, r in (("for the factor", round(need + 0.05, 1)),) if r == ratio] + (
            ["chosen"] if ratio == scheme.taper.ratio.si else []
        )
        label = f"{ratio:g}:1" + (f" ({', '.join(names)})" if names else "")
        mark = "chosen" if ratio == scheme.taper.ratio.si else ""
        rows.append(Row(f"{ratio:g}", (label, *cells, fits), mark))
    note = f"8:1 lightly loaded or thick laminate, 12:1 usual, 20:1 and more thin or highly loaded. {TRUST[0].upper()}{TRUST[1:]}."
    return Table(("ratio", "bond", "at peak", "lost", "dust", "hours", "fits"), tuple(rows), note, "Use")


def tight_table(patch: Patch, joint: Joint | None, prefix: str) -> Table:
    """Where the chosen ratio does not fit, what fits, how much of the bond that uses, and what can be done."""
    rows = []
    for number, tight in enumerate(patch.band.tight, 1):
        book = FigureBook(f"{prefix}.tight.{number}")
        fits = book.add("ratio", "ratio that fits", tight.ratio, Kind.RATIO, "room ÷ old skin thickness")
        run = book.add("run", "over", tight.length, Kind.LENGTH, "length of the stretch")
        used = ""
        if joint is not None and tight.ratio >= 1:
            share = bond_curve(np.array([tight.ratio]), joint.scarf, joint.glue).used[0]
            used = f"{share:.0%}"
        rows.append(
            Row(
                f"{tight.facing}:{floor(tight.ratio * 10) / 10:g}",
                (f"against {tight.against}", fits, run, used or "–", _cure(tight.ratio, tight.against)),
            )
        )
    return Table(("where", "fits", "over", "bond used", "what can be done"), tuple(rows), take="Use the ratio that fits on that side",
                 empty="The chosen ratio fits all round.")  # fmt: skip


def _cure(ratio: float, against: str) -> str:
    edge = against == "the zone's edge"
    if ratio < 1:
        return "move the cut line in, or cut the edge out with it" if edge else "move the fitting, or cut round it"
    move = "taper the other face here" if edge else "move the fitting"
    if ratio >= 6:
        return f"use the ratio that fits on this side (Enter), step it, or {move}"
    return f"{move}, or use the ratio that fits and add a local doubler over it"

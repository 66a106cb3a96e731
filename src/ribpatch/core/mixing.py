"""Words and a chart for the mixing table: how large a cup, from what vessel, how warm, and how hot a lay-up gets."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.chart import Chart, Curve, Mark
from ribpatch.core.numerals import fixed
from ribpatch.core.resin.catalyst import DROP
from ribpatch.core.resin.cup import TOO_COLD, largest_cup, needed_time, working_curve
from ribpatch.core.resin.cure import time_factor
from ribpatch.core.resin.vessel import VESSELS
from ribpatch.core.supply.laid import laid_heat
from ribpatch.core.supply.needs import mixing_of
from ribpatch.core.text import counted
from ribpatch.core.units import Kind, shown, to_shown

if TYPE_CHECKING:
    from ribpatch.core.materials.records import Resin
    from ribpatch.core.units import System
    from ribpatch.core.zone_plan import ZonePlan

THICK = 1.5  # Pa s: a mix thicker than that wets cloth slowly
WARM = 25.0  # degC of a warm box
LEAST_GAIN = 1.2  # times as much that another vessel must take to be worth telling


def viscosity_at(resin: Resin, temperature: float) -> float:
    """Viscosity of the fresh mix at a temperature, Pa s, thinning as Arrhenius has it."""
    return resin.viscosity * time_factor(temperature, resin.thinning)


def cup_chart(made: ZonePlan, system: System) -> Chart | None:
    """Working time against the mass that is mixed, over the time that it takes with its margin; None when too cold."""
    cups, resin, shelf = made.needs.cups, made.needs.resin, made.shelf
    mixing = mixing_of(made.zone.scheme, made.air.temperature.si)
    if not cups.count or cups.limited == TOO_COLD:
        return None
    curve = working_curve(resin, mixing, shelf)
    mass = [to_shown(m, Kind.MASS, system) for m in curve.mass.tolist()]
    wanted = shelf.rule("cup.margin") * np.asarray(needed_time(curve.mass, shelf))
    rows = (("can be worked", curve.time, "main"), ("it takes, with margin", wanted, "second"))
    curves = tuple(
        Curve(name, tuple(zip(mass, (np.asarray(t) / 60).tolist(), strict=True)), role) for name, t, role in rows
    )
    marks = (Mark(to_shown(cups.each, Kind.MASS, system), shown(cups.each, Kind.MASS, system), True),)
    unit = shown(1.0, Kind.MASS, system).split()[-1]
    return Chart(f"mixed at once, {unit}", "minutes", curves, marks, share=False)


def mixing_words(made: ZonePlan, system: System) -> tuple[str, ...]:
    """What to do at the mixing table of a zone, a sentence each."""
    if not made.needs.cups.count:
        return ()
    if made.needs.cups.limited == TOO_COLD:
        return (f"Limited by {TOO_COLD}.",)
    return (
        *_catalyst_words(made, system),
        *_vessel_words(made, system),
        *_warmth_words(made, system),
        *_laid_words(made, system),
    )


def several_resins(made: ZonePlan) -> str:
    """Which resin the parts of a mix are told for, where there are several; nothing where there is one."""
    first, *others = made.needs.batches
    if not others:
        return ""
    names = ", ".join(b.resin.name for b in others)
    return f"Resin and hardener are of {first.resin.name}; those of {names} stand under Cups and in the work pack."


def _catalyst_words(made: ZonePlan, system: System) -> list[str]:
    """How much catalyst goes to each cup in this shed."""
    told = []
    for batch in made.needs.batches:
        resin, a = batch.resin, batch.resin.mass_parts[0]
        if resin.family == "epoxy" or not batch.cups.count:
            continue
        share = resin.mass_parts[1] / a
        volume = batch.cups.each * share / (1 + share) / resin.hardener_density
        drops = f"{fixed(volume * 1e6, 1)} ml or about {round(volume / DROP)} drops to a cup"
        amount = f"{fixed(100 * share, 1)} % by mass, {drops}"
        warmth = shown(made.air.temperature.si, Kind.TEMPERATURE, system)
        told.append(f"Catalyst for {resin.name} at {warmth}: {amount}.")
    return told


def _vessel_words(made: ZonePlan, system: System) -> list[str]:
    cups, shelf, resin = made.needs.cups, made.shelf, made.needs.resin
    mixing = mixing_of(made.zone.scheme, made.air.temperature.si)
    told = [f"Limited by {cups.limited}."]
    if cups.count > 1:
        every = shown(cups.every, Kind.TIME, system)
        told.append(f"{counted(cups.count, 'mix', 'mixes')}, the next begun {every} after the last.")
    for vessel, name in VESSELS.items():
        other = type(mixing)(vessel, mixing.mixed, mixing.air)
        largest = largest_cup(resin, other, shelf)[0]
        if vessel != mixing.vessel and largest > LEAST_GAIN * cups.largest:
            told.append(f"From a {name} {shown(largest, Kind.MASS, system)} could be mixed at a time.")
    return told


def _warmth_words(made: ZonePlan, system: System) -> list[str]:
    resin, mixing = made.needs.resin, mixing_of(made.zone.scheme, made.air.temperature.si)
    if viscosity_at(resin, mixing.mixed) <= THICK:
        return []
    times = viscosity_at(resin, mixing.mixed) / viscosity_at(resin, WARM)
    warm = shown(WARM, Kind.TEMPERATURE, system)
    return [
        f"At {shown(mixing.mixed, Kind.TEMPERATURE, system)} the mix is {fixed(times, 1)} times as thick as at {warm} "
        f"and wets cloth slowly: keep the cans in a warm box at {warm}, and mix less at a time."
    ]


def _laid_words(made: ZonePlan, system: System) -> list[str]:
    heat = laid_heat(made.patch.stack, made.zone, made.air.temperature.si, made.shelf)
    if heat is None:
        return []
    limit = made.shelf.rule("layup.peak")
    peak, most = (shown(t, Kind.TEMPERATURE, system) for t in (heat.peak, limit))
    plies = "One ply" if heat.plies == 1 else f"All {heat.plies} plies at once"
    first = f"{plies} ({shown(heat.thickness, Kind.SIZE, system)} on {heat.base}) get up to {peak}"
    if heat.plies == 1:
        first = first.replace(" get ", " gets ")
    if heat.most >= heat.plies:
        return [f"{first}."]
    allowed = f"lay {counted(heat.most, 'ply', 'plies')} at a sitting" if heat.most else "lay them in a cooler shed"
    return [f"⚠ {first}, over your {most}: {allowed}, and let each cool before the next."]

"""What resin is mixed and worked from: how much heat a mass in it loses, how long it can be worked, how hot it gets.

A cup is round and so much higher than wide; a tray and a roller pan hold the mix at a stated depth. All lose heat to
the air over the whole of their faces. The working time ends where the mix is at the stated warmth or has cured so far
that it wets nothing, whichever is first. The pot life that is stated of a resin is the working time of the stated mass
in a cup, in air and from cans of 25 degC: that gives the rate of its cure. kg, m, s, degC. Source: [27], judgement.
"""

from __future__ import annotations

from math import pi
from typing import TYPE_CHECKING, Literal

import numpy as np
from msgspec import Struct

from ribpatch.core.memo import remembered
from ribpatch.core.resin.cure import Kinetics, course, kinetics_of

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats
    from ribpatch.core.materials.records import Resin
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.resin.cure import Course

Vessel = Literal["cup", "tray", "pan"]
VESSELS: dict[Vessel, str] = {"cup": "tall cup", "tray": "flat tray", "pan": "roller pan"}
STATED = 25.0  # degC, at which a pot life is stated
LEAST_TIME = 1e-3  # s; what is mixed too warm cannot be worked at all
RATES = np.geomspace(0.05, 200, 56)  # over the pot life: of any resin that can be worked


class Worked(Struct, frozen=True, eq=False):
    """Masses in a vessel (kg): how long each can be worked (s) and how hot it gets if it is left (degC), (k,) each."""

    mass: Floats
    time: Floats
    peak: Floats


def face_of(volume: Floats, tall: float | None, depth: float) -> Floats:
    """Face of a mix that loses heat, m2, (k,): a round cup ``tall`` times as high as wide, else spread out square and
    ``depth`` m deep.
    """
    if tall is not None:
        wide = (4 * volume / (pi * tall)) ** (1 / 3)
        return np.asarray(pi * wide**2 * (tall + 0.5))
    flat = volume / depth
    return np.asarray(2 * flat + 4 * np.sqrt(flat) * depth)


def loss_of(mass: Floats, vessel: Vessel, density: float, shelf: Shelf) -> Floats:
    """Heat that masses in a vessel lose to the air, W/(K kg), (k,)."""
    tall, depth = (shelf.rule("cup.tall"), 0.0) if vessel == "cup" else (None, shelf.rule(f"{vessel}.depth"))
    return np.asarray(shelf.rule("vessel.loss") * face_of(np.asarray(mass) / density, tall, depth) / mass)


def _worked(made: Course, hot: float, cured: float) -> Floats:
    """How long each mass of a course can be worked, s."""
    return np.minimum(made.time_to(hot), made.time_cured(cured))


def rate_by_pot_life(pot_life: float, k: Kinetics, loss: float, hot: float, cured: float) -> float:
    """Rate of cure at 25 degC, 1/s, with which a mass that loses ``loss`` W/(K kg) can be worked for a pot life, s."""
    rates = RATES / pot_life
    made = course(k, np.full(rates.size, loss), STATED, STATED, rates)
    time = np.maximum(_worked(made, hot, cured), LEAST_TIME)
    return float(np.exp(np.interp(-np.log(pot_life), -np.log(time), np.log(rates))))


@remembered(24)
def rate_of(resin: Resin, shelf: Shelf) -> float:
    """Rate of cure at 25 degC, 1/s, that gives the pot life stated of a resin."""
    loss = float(loss_of(np.array([resin.pot_mass]), "cup", resin.density, shelf)[0])
    ends = shelf.rule("work.hot"), shelf.rule("work.cured")
    return rate_by_pot_life(resin.pot_life, kinetics_of(resin, 1.0), loss, *ends)


def kinetics(resin: Resin, shelf: Shelf) -> Kinetics:
    """How a resin cures, as its stated pot life has it."""
    return kinetics_of(resin, rate_of(resin, shelf))


def in_vessel(mass: Floats, vessel: Vessel, resin: Resin, mixed: float, air: float, shelf: Shelf) -> Worked:
    """Masses (k,) in a vessel: mixed of cans at ``mixed`` degC, standing in air of ``air`` degC."""
    made = course(kinetics(resin, shelf), loss_of(mass, vessel, resin.density, shelf), mixed, air)
    return Worked(mass, _worked(made, shelf.rule("work.hot"), shelf.rule("work.cured")), made.peak)

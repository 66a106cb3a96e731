"""Cup sizes by a stated pot-life rule.

Pot life of a mass m at temperature T: t = t_ref a(T) (m_ref / m)^n, with a(T) = exp[(Ea/R)(1/T - 1/298.15)] and n =
1/3, since heat made grows with volume and heat lost with surface. The largest cup is the one whose pot life is still
the margin times the time to mix it and lay it. Below the least temperature that the resin is stated for nothing is
foretold. Valid as a screening rule for cups of 0.05 to 1 kg; source: [6].
"""

from __future__ import annotations

from math import ceil, exp
from typing import TYPE_CHECKING

from msgspec import Struct

if TYPE_CHECKING:
    from ribpatch.core.materials.records import Resin
    from ribpatch.core.materials.shelf import Shelf

GAS = 8.314462618  # J/(mol K)
T_REFERENCE = 298.15  # K
TOO_COLD = "what can be stirred well: below the least temperature of the resin no pot life is foretold"


class Cups(Struct, frozen=True):
    """The mixes: how many, kg of mixed resin in each, pot life in s of that cup (None where none can be foretold), kg
    mixed in all.
    """

    count: int
    each: float
    pot_life: float | None
    total: float
    largest: float
    limited: str


def time_factor(temperature: float, activation: float) -> float:
    """How many times longer cure takes at ``temperature`` degC than at 25 degC; activation energy in J/mol."""
    return exp(activation / GAS * (1 / (temperature + 273.15) - 1 / T_REFERENCE))


def pot_life(mass: float, temperature: float, resin: Resin, exponent: float) -> float:
    """Pot life in s of ``mass`` kg at ``temperature`` degC."""
    return float(resin.pot_life * time_factor(temperature, resin.activation) * (resin.pot_mass / mass) ** exponent)


def working_time(mass: float, shelf: Shelf) -> float:
    """Time in s to mix ``mass`` kg and lay it."""
    return shelf.rule("cup.mixing") + mass / shelf.rule("cup.rate") * 60


def largest_cup(temperature: float, resin: Resin, shelf: Shelf) -> tuple[float, str]:
    """The largest cup in kg, to 10 g below, and what limits it."""
    most, least = shelf.rule("cup.most"), shelf.rule("cup.least")
    if temperature < resin.least_temperature:
        return most, TOO_COLD
    margin, exponent = shelf.rule("cup.margin"), shelf.rule("cup.exponent")

    def fits(mass: float) -> bool:
        return pot_life(mass, temperature, resin, exponent) >= margin * working_time(mass, shelf)

    if fits(most):
        return most, "what can be stirred well"
    low, high = 0.0, most
    for _ in range(40):
        middle = (low + high) / 2
        low, high = (middle, high) if fits(middle) else (low, middle)
    rounded = int(low * 100) / 100
    if rounded < least:
        return least, "too short a pot life even for the smallest cup"
    return rounded, "pot life"


def cups_for(net: float, temperature: float, resin: Resin, shelf: Shelf) -> Cups:
    """Cups that together lay ``net`` kg of resin, each losing its share and what stays in it."""
    largest, limited = largest_cup(temperature, resin, shelf)
    if net <= 0:
        return Cups(0, 0.0, None, 0.0, largest, limited)
    each_loss = shelf.rule("loss.cup")
    wanted = net * (1 + shelf.rule("loss.share"))
    count = ceil(wanted / max(largest - each_loss, 1e-3) - 1e-9)
    total = wanted + count * each_loss
    each = total / count
    cold = temperature < resin.least_temperature
    life = None if cold else pot_life(each, temperature, resin, shelf.rule("cup.exponent"))
    return Cups(count, each, life, total, largest, limited)

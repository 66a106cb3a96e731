"""Catalyst of polyester and vinylester by the temperature of the shed: more when it is cold, within limits.

The share by mass follows a straight line through what is usual at 20 degC. The cure goes about as fast as there is
catalyst, so that the pot life stated at one share is longer with less. Epoxies keep their ratio. Source: [27].
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.memo import remembered
from ribpatch.core.record import evolve

if TYPE_CHECKING:
    from ribpatch.core.materials.records import Resin
    from ribpatch.core.materials.shelf import Shelf

USUAL = 20.0  # degC
LEAST_OFF = 1e-6  # share by which a mix is another than the usual one
DROP = 0.04e-6  # m3 of a drop from a dropper


def share_at(temperature: float, shelf: Shelf) -> float:
    """Catalyst by mass of the resin at a temperature, degC."""
    wanted = shelf.rule("catalyst.usual") + shelf.rule("catalyst.degree") * (USUAL - temperature)
    return min(max(wanted, shelf.rule("catalyst.least")), shelf.rule("catalyst.most"))


@remembered(32)
def as_mixed(resin: Resin, temperature: float, shelf: Shelf) -> Resin:
    """A resin as it is mixed at a temperature, degC: an epoxy, or one whose mix the user set, as it is."""
    stated = resin.mass_parts[1] / resin.mass_parts[0]
    own_mix = resin.id in shelf.own and abs(stated - shelf.rule("catalyst.usual")) > LEAST_OFF
    if resin.family == "epoxy" or own_mix:
        return resin
    share = share_at(temperature, shelf)
    volume = share * resin.resin_density / resin.hardener_density
    return evolve(
        resin,
        mass_parts=(100.0, 100.0 * share),
        volume_parts=(100.0, 100.0 * volume),
        pot_life=resin.pot_life * stated / share,
    )

"""Whether all that a job names is there: materials, words of instruments, and rules within their limits.

One walk over the document lists every fault with its path, so that a job that cannot be planned is told whole at once.
"""

from __future__ import annotations

from itertools import islice
from typing import TYPE_CHECKING

from ribpatch.core.errors import Fault, InvalidValue, ManyFaults, UnknownItem
from ribpatch.core.materials.shelf import Shelf, near_ids
from ribpatch.core.memo import Rows
from ribpatch.core.numerals import general
from ribpatch.core.readings import GradedReading, Reading
from ribpatch.core.record import MOST_FAULTS
from ribpatch.core.scheme import Face, Scheme, Stack, fabrics_in
from ribpatch.core.units import Kind, shown, shown_beside

if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator

    from ribpatch.core.job import Job, Own, Skin, Zone
    from ribpatch.core.materials.records import Rule

Ids = frozenset[str]


def raise_all(found: Iterable[Fault]) -> None:
    """Raise the faults found, if any, up to a few more than are ever listed."""
    faults = tuple(islice(found, MOST_FAULTS + 1))
    if faults:
        raise faults[0] if len(faults) == 1 else ManyFaults(faults)


def reference_faults(job: Job, shipped: Shelf, shelf: Shelf) -> Iterator[Fault]:
    """Every fault in what a job names, with its path in the document."""
    yield from own_faults(job.own, shipped, shelf)
    for n, zone in enumerate(job.zones):
        yield from zone_faults(zone, shelf, f"zones.{n}")


def shelf_faults(shelf: Shelf, shipped: Shelf) -> Iterator[Fault]:
    """Faults in what the materials of a shelf name, and in rules put over the ``shipped`` ones."""
    fibres, fabrics, resins = _ids(shelf.fibres), _ids(shelf.fabrics), _ids(shelf.resins)
    for fabric in shelf.fabrics:
        for layer in fabric.layers:
            yield from _known(layer.fibre, fibres, "fibre", f"fabric {fabric.id}")
    for era in shelf.eras:
        for wanted in era.pattern:
            yield from _known(wanted, fabrics, "fabric", f"era {era.id}")
        yield from _known(era.resin, resins, "resin", f"era {era.id}")
    rules = {rule.id: rule for rule in shipped.rules}
    for rule in shelf.rules:
        if rule is not rules.get(rule.id):
            yield from _rule(rule, rules, f"rule {rule.id}")


def own_faults(own: Own, shipped: Shelf, shelf: Shelf) -> Iterator[Fault]:
    """Faults in the job's own materials and rules."""
    fibres, fabrics, resins = _ids(shelf.fibres), _ids(shelf.fabrics), _ids(shelf.resins)
    for n, fabric in enumerate(own.fabrics):
        for k, layer in enumerate(fabric.layers):
            yield from _known(layer.fibre, fibres, "fibre", f"own.fabrics.{n}.layers.{k}.fibre")
    rules = {rule.id: rule for rule in shipped.rules}
    for n, rule in enumerate(own.rules):
        yield from _rule(rule, rules, f"own.rules.{n}")
    for n, coupon in enumerate(own.coupons):
        yield from _known(coupon.fabric, fabrics, "fabric", f"own.coupons.{n}.fabric")
        yield from _known(coupon.resin, resins, "resin", f"own.coupons.{n}.resin")


def _rule(rule: Rule, known: dict[str, Rule], place: str) -> Iterator[Fault]:
    """A rule of the job's own stands in for a shipped one of its id and kind, within that one's limits."""
    yield from _known(rule.id, frozenset(known), "rule", f"{place}.id")
    usual = known.get(rule.id)
    if usual is None:
        return
    if rule.kind is not usual.kind:
        yield InvalidValue(f"{place}.kind", reason=f"{usual.name} is a {usual.kind.value}, not a {rule.kind.value}")
    else:
        reason = rule_fault(usual, rule.value)
        if reason:
            yield InvalidValue(f"{place}.value", reason=reason)


def rule_fault(rule: Rule, value: float) -> str:
    """Why a rule cannot have a value (SI), in words; empty where it can."""
    if not rule.low <= value <= rule.high:
        limits = f"{shown(rule.low, rule.kind)} to {shown(rule.high, rule.kind)}"
        near = rule.low if value < rule.low else rule.high
        return f"{shown_beside(value, near, rule.kind)} is outside {limits}"
    if rule.kind is Kind.COUNT and value != round(value):
        return f"{general(value)} is no whole number"
    return ""


def zone_faults(zone: Zone, shelf: Shelf, place: str) -> Iterator[Fault]:
    """Faults in what one zone names."""
    cores, build = _ids(shelf.cores), zone.build
    yield from _skin(build.outer, shelf, f"{place}.build.outer")
    if build.core is not None:
        yield from _known(build.core.core, cores, "core", f"{place}.build.core.core")
    if build.inner is not None:
        yield from _skin(build.inner, shelf, f"{place}.build.inner")
    if zone.finish.system is not None:
        yield from _known(zone.finish.system, _ids(shelf.finishes), "finish", f"{place}.finish.system")
    yield from _scheme(zone.scheme, shelf, f"{place}.scheme")
    for n, other in enumerate(zone.others):
        yield from _scheme(other, shelf, f"{place}.others.{n}")
    yield from _readings(zone.survey.readings, shelf, f"{place}.survey.readings")


def _skin(skin: Skin, shelf: Shelf, place: str) -> Iterator[Fault]:
    yield from _stack(skin.plies, shelf, f"{place}.plies")
    yield from _known(skin.resin, _ids(shelf.resins), "resin", f"{place}.resin")
    if skin.era is not None:
        yield from _known(skin.era, _ids(shelf.eras), "era", f"{place}.era")


def _stack(stack: Stack, shelf: Shelf, place: str) -> Iterator[Fault]:
    known = _ids(shelf.fabrics)
    for fabric in fabrics_in(stack):
        yield from _known(fabric, known, "fabric", place)


def _scheme(scheme: Scheme, shelf: Shelf, place: str) -> Iterator[Fault]:
    resins = _ids(shelf.resins)
    named: tuple[tuple[str, str | None, Ids, str], ...] = (
        ("resin.main", scheme.resin.main, resins, "resin"),
        ("resin.later", scheme.resin.later, resins, "resin"),
        ("resin.bedding", scheme.resin.bedding, resins, "resin"),
        *((f"resin.sittings.{n}.resin", s.resin, resins, "resin") for n, s in enumerate(scheme.resin.sittings)),
        ("bond.preparation", scheme.bond.preparation, _ids(shelf.preparations), "preparation"),
        ("core.material", scheme.core.material, _ids(shelf.cores), "core"),
        ("resin.putty", scheme.resin.putty, _ids(shelf.putties), "putty"),
    )
    for field, wanted, known, what in named:
        if wanted is not None:
            yield from _known(wanted, known, what, f"{place}.{field}")
    stacks: list[tuple[str, Stack]] = [("laminate.plies", scheme.laminate.plies)]
    stacks += [(f"{name}.plies", part.plies) for name, part in _parts(scheme)]
    stacks += [(f"parts.{n}.plies", part.plies) for n, part in enumerate(scheme.parts)]
    stacks += [(f"pads.{n}.plies", pad.plies) for n, pad in enumerate(scheme.pads)]
    for field, stack in stacks:
        yield from _stack(stack, shelf, f"{place}.{field}")


def _parts(scheme: Scheme) -> Iterable[tuple[str, Face]]:
    found = (("laminate.second", scheme.laminate.second), ("laminate.backing", scheme.laminate.backing))
    return [(name, part) for name, part in found if part is not None]  # type: ignore[misc]  # both have plies


_WORDS: Rows[Reading, bool] = Rows()


def _readings(readings: tuple[Reading, ...], shelf: Shelf, place: str) -> Iterator[Fault]:
    words = {card.id: _ids(card.grades) for card in shelf.instruments}

    def known_words(some: tuple[Reading, ...]) -> list[bool]:
        return [not isinstance(r, GradedReading) or r.grade in words.get(r.kind, ()) for r in some]

    if all(_WORDS.of(readings, shelf, known_words)):
        return
    for n, reading in enumerate(readings):
        if isinstance(reading, GradedReading):
            known = words.get(reading.kind, frozenset())
            if reading.grade not in known:
                yield from _known(reading.grade, known, f"{reading.kind} grade", f"{place}.{n}.grade")


def _known(wanted: str, known: Ids, what: str, place: str) -> Iterator[Fault]:
    if wanted not in known:
        yield UnknownItem(place, what=what, name=wanted, near=near_ids(wanted, known))


def _ids(items: Iterable[object]) -> Ids:
    return frozenset(item.id for item in items)  # type: ignore[attr-defined]  # every record of a shelf has an id

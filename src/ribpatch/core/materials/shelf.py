"""The shelf: every material, rule and price that a plan may use, shipped and the user's own together."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING, Protocol, TypeVar

from msgspec import Struct
from msgspec.structs import replace

from ribpatch.core.errors import UnknownItem
from ribpatch.core.figure import Given, Origin

if TYPE_CHECKING:
    from collections.abc import Iterable

    from ribpatch.core.materials.cause_records import CauseCard, FindingCard
    from ribpatch.core.materials.finish_records import FinishSystem
    from ribpatch.core.materials.records import (
        Caution,
        Core,
        Coupon,
        Era,
        Fabric,
        Fibre,
        Grade,
        InstrumentCard,
        Preparation,
        Price,
        Process,
        Putty,
        Resin,
        Rule,
        StrikeClass,
    )
    from ribpatch.core.materials.repair_records import BeforeItem, Compatibility, SideCriterion, ZoneRank
    from ribpatch.core.materials.step_records import StepKind


class _Named(Protocol):
    @property
    def id(self) -> str: ...


N = TypeVar("N", bound=_Named)


def pick(items: Iterable[N], wanted: str, what: str) -> N:
    """The item of that id; raises UnknownItem with the nearest ids."""
    items = tuple(items)
    for item in items:
        if item.id == wanted:
            return item
    raise UnknownItem(what=what, name=wanted, near=near_ids(wanted, [i.id for i in items]))


def near_ids(wanted: str, known: Iterable[str]) -> str:
    """What may have been meant, in words."""
    from difflib import get_close_matches

    near = get_close_matches(wanted, sorted(known), n=2)
    return f"Did you mean {' or '.join(near)}?" if near else "Choose one from the list."


class Shelf(Struct, frozen=True, eq=False, dict=True):
    """Materials, rules and prices by id. ``own`` names the ids that the user set."""

    fibres: tuple[Fibre, ...]
    fabrics: tuple[Fabric, ...]
    resins: tuple[Resin, ...]
    cores: tuple[Core, ...]
    putties: tuple[Putty, ...]
    rules: tuple[Rule, ...]
    prices: tuple[Price, ...]
    instruments: tuple[InstrumentCard, ...]
    strikes: tuple[StrikeClass, ...]
    causes: tuple[CauseCard, ...]
    findings: tuple[FindingCard, ...]
    cautions: tuple[Caution, ...]
    eras: tuple[Era, ...]
    preparations: tuple[Preparation, ...]
    sides: tuple[SideCriterion, ...]
    before: tuple[BeforeItem, ...]
    zone_order: tuple[ZoneRank, ...]
    compatibility: tuple[Compatibility, ...]
    finishes: tuple[FinishSystem, ...]
    steps: tuple[StepKind, ...]
    coupons: tuple[Coupon, ...] = ()
    own: frozenset[str] = frozenset()

    @cached_property
    def _rules(self) -> dict[str, Rule]:
        return {rule.id: rule for rule in self.rules}

    def fibre(self, wanted: str) -> Fibre:
        """The fibre of that id."""
        return pick(self.fibres, wanted, "fibre")

    def fabric(self, wanted: str) -> Fabric:
        """The fabric of that id."""
        return pick(self.fabrics, wanted, "fabric")

    @property
    def first_fabric(self) -> str:
        """The fabric that a new stack begins with: the stitched one nearest the usual weight, else whatever there
        is.
        """
        stitched = [f for f in self.fabrics if f.layers[0].kind == "stitched"]
        return min(stitched or list(self.fabrics), key=lambda f: abs(f.weight - self.rule("stack.first"))).id

    def resin(self, wanted: str) -> Resin:
        """The resin of that id."""
        return pick(self.resins, wanted, "resin")

    def core(self, wanted: str) -> Core:
        """The core of that id."""
        return pick(self.cores, wanted, "core")

    def putty(self, wanted: str) -> Putty:
        """The putty of that id."""
        return pick(self.putties, wanted, "putty")

    def finish(self, wanted: str) -> FinishSystem:
        """The system of coats of that id."""
        return pick(self.finishes, wanted, "finish")

    def instrument(self, wanted: str) -> InstrumentCard:
        """The instrument of that id."""
        return pick(self.instruments, wanted, "instrument")

    def grade(self, instrument: str, wanted: str) -> Grade:
        """A word of an instrument."""
        card = self.instrument(instrument)
        return pick(card.grades, wanted, f"{'tap' if instrument == 'tap' else card.name} grade")

    def coupon(self, fabric: str, process: Process) -> Coupon | None:
        """The latest coupon of a fabric by a process, or None."""
        return next((c for c in reversed(self.coupons) if c.fabric == fabric and c.process == process), None)

    def era(self, wanted: str | None, year: int | None) -> Era:
        """The era of that id, else the one that a year falls in, else the one for an age not known."""
        if wanted is not None:
            return pick(self.eras, wanted, "era")
        return next((e for e in self.eras if year is not None and e.first <= year <= e.last), self.eras[-1])

    def step(self, wanted: str) -> StepKind:
        """The kind of step of that id."""
        return pick(self.steps, wanted, "kind of step")

    def preparation(self, wanted: str) -> Preparation:
        """The preparation of that id."""
        return pick(self.preparations, wanted, "preparation")

    def price(self, wanted: str) -> Price | None:
        """The price of an item, or None where the list has none."""
        return next((p for p in self.prices if p.id == wanted), None)

    def rule(self, wanted: str) -> float:
        """The value of a rule (SI)."""
        return self._rules[wanted].value

    def given(self, wanted: str) -> Given:
        """A rule as an input of a figure, with its reason and whether it is the user's own."""
        rule = self._rules[wanted]
        origin = Origin.YOURS if wanted in self.own else Origin.DEFAULT
        return Given(rule.name, rule.value, rule.kind, origin, note=rule.reason)

    def origin(self, wanted: str) -> Origin:
        """Whether an item is the user's own or shipped."""
        return Origin.YOURS if wanted in self.own else Origin.DEFAULT


def merged(shelf: Shelf, **own: Iterable[_Named]) -> Shelf:
    """The shelf with the user's own items put over the shipped ones of the same id."""
    changes: dict[str, tuple[_Named, ...]] = {}
    names = set(shelf.own)
    for field, items in own.items():
        mine = {item.id: item for item in items}
        names |= set(mine)
        kept = tuple(mine.pop(item.id, item) for item in getattr(shelf, field))
        changes[field] = kept + tuple(mine.values())
    return replace(shelf, own=frozenset(names), **changes)

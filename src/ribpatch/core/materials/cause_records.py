"""Causes and findings of the diagnosis as plain records: every probability carries its reason, and users may set their
own.
"""

from __future__ import annotations

from typing import Annotated, Literal

from ribpatch.core.materials.records import Id
from ribpatch.core.record import Limits, Record

Odds = Annotated[float, Limits(gt=0, lt=1)]
Cost = Literal["minute", "hole", "day"]


class Shows(Record):
    """The chance that a cause, when it holds, brings a finding about."""

    finding: Id
    p: Odds
    reason: str


class Leads(Record):
    """The chance that an origin, when it holds, brings a state of the material about."""

    cause: Id
    p: Odds
    reason: str


class Remedy(Record):
    """What a cause asks of the repair. ``answered`` names the check of the scheme that answers it by itself, if there
    is one.
    """

    id: Id
    stage: Literal["open", "rebuild"]
    answered: Literal["", "cut", "core", "replaced", "stack", "thicker"]
    text: str


class Spread(Record):
    """Where else to look when a cause holds: what, and which way from here."""

    where: str
    way: Id


class CauseCard(Record):
    """A cause: an origin (why it failed) or a state (what is wrong with the material), with its prior chance.

    ``zones`` limits it to kinds of zone, ``core`` to panels with any core or a core of wood. A state holds only where
    none of those in ``yields`` does, at one place.
    """

    id: Id
    name: str
    kind: Literal["origin", "state"]
    prior: Odds
    reason: str
    means: str
    zones: tuple[str, ...] = ()
    core: Literal["", "any", "wood"] = ""
    shows: tuple[Shows, ...]
    leads: tuple[Leads, ...] = ()
    yields: tuple[Id, ...] = ()
    remedies: tuple[Remedy, ...] = ()
    spread: tuple[Spread, ...] = ()


class FindingCard(Record):
    """A finding: its question, how it is looked for and at what cost, and how often it is there without any cause
    listed.

    ``auto`` names the rule by which the survey answers it.
    """

    id: Id
    name: str
    ask: str
    auto: str = ""
    cost: Cost
    leak: Odds
    reason: str
    how: str = ""

"""The diagnosis in plain sentences, for the window and for papers."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.diagnosis.diagnose import NO_DAMAGE, in_words
from ribpatch.core.text import percent, upper

if TYPE_CHECKING:
    from collections.abc import Mapping

    from ribpatch.core.diagnosis.diagnose import Diagnosis, Ranked

ROLES = {"primary": "why it failed", "contributing": "contributes", "state": "what is wrong", "unlikely": ""}

ALONE = frozenset({"crazing"})  # states of the gelcoat only: what else is wrong stands beside them, it is no reason
EITHER = 0.6  # times as likely as the likeliest: a state that excludes it is told beside it
ENOUGH = 3  # findings that are not there, before a panel is called sound


def summary(made: Diagnosis, places: Mapping[str, str] | None = None, damaged: bool = False) -> str:
    """The diagnosis in a sentence or two; ``places`` says where a state was found, by its id; ``damaged`` that there is
    damage, whatever was found.
    """
    if not made.said:
        return (
            "Nothing found yet: these are the chances before anything is known. Answer a question, or read the zone "
            "in Find."
        )
    told = _states_told(made)
    origins = [r for r in made.ranked if r.role == "primary" and r.raised]
    also = [r for r in made.ranked if r.role == "contributing" and r.raised]
    what = upper(_what(made, told, places or {}))
    if told and told[0].cause.id in NO_DAMAGE:
        return f"{what}. {told[0].cause.means}"
    if not origins:
        if what:
            return f"{what}; why is still open."
        if not damaged and made.sound > 0.5 and _looked(made):
            return f"Nothing found speaks of damage: sound ({in_words(made.sound)}), as far as was looked."
        return "No cause stands out yet."
    why = f"{origins[0].cause.name} ({origins[0].words})"
    beside = f", with {' and '.join(r.cause.name for r in also)}" if also else ""
    if not what:
        return f"{upper(why)}{beside}."
    # Only what can lead to a state is told as its reason.
    leads = {leads.cause for leads in origins[0].cause.leads} - ALONE
    if leads & {r.cause.id for r in told}:
        return f"{what}, because of {why}{beside}."
    return f"{what}. Beside it: {why}{beside}."


def _states_told(made: Diagnosis) -> list[Ranked]:
    """The states that the sentence tells: the likeliest that something speaks for; beside it those that the survey
    tells apart by place, or one that excludes it and is nearly as likely.
    """
    states = [r for r in made.ranked if r.role == "state" and r.raised]
    if not states or states[0].cause.id in ALONE | NO_DAMAGE:
        return states[:1]
    apart = {state for state, _ in made.placed}
    if states[0].cause.id in apart:
        return [states[0], *(r for r in states[1:] if r.cause.id in apart)]
    return [states[0], *(r for r in states[1:] if _excludes(states[0], r) and r.chance > EITHER * states[0].chance)]


def _excludes(one: Ranked, other: Ranked) -> bool:
    return one.cause.id in other.cause.yields or other.cause.id in one.cause.yields


def _what(made: Diagnosis, told: list[Ranked], places: Mapping[str, str]) -> str:
    """The states told, each with its place, or as one or the other."""
    if len(told) > 1 and not made.placed:
        return f"{' or '.join(r.cause.name for r in told)} ({in_words(sum(r.chance for r in told))} one of them)"
    where = {r.cause.id: places.get(r.cause.id, "") for r in told}
    return ", ".join(f"{r.cause.name} {where[r.cause.id]}".rstrip() + f" ({r.words})" for r in told)


def _looked(made: Diagnosis) -> bool:
    """Whether enough was looked for that would show what is wrong, and nothing of it is there."""
    shows = {s.finding for c in made.network.causes if c.kind == "state" for s in c.shows}
    there = [p > 0.5 for finding, p in made.said if finding in shows]
    return len(there) >= ENOUGH and not any(there)


def band(ranked: Ranked) -> str:
    """The band of a cause."""
    low, high = percent(ranked.low), percent(ranked.high)
    return low if low == high else f"{low} to {high}"

"""The diagnosis in plain sentences, for the window and for papers."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ribpatch.core.diagnosis.diagnose import Diagnosis, Ranked

ROLES = {"primary": "why it failed", "contributing": "contributes", "state": "what is wrong", "unlikely": ""}

ALONE = frozenset({"crazing"})  # states of the gelcoat only: what else is wrong stands beside them, it is no reason


def summary(made: Diagnosis) -> str:
    """The diagnosis in a sentence."""
    if not made.said:
        return (
            "Nothing found yet: these are the chances before anything is known. Answer a question, or read the zone "
            "in Find."
        )
    states = [r for r in made.ranked if r.role == "state"]
    origins = [r for r in made.ranked if r.role == "primary"]
    also = [r for r in made.ranked if r.role == "contributing"]
    what = states[0].cause.name if states else ""
    if origins:
        why = f"{origins[0].cause.name} ({origins[0].words})"
        beside = f", with {' and '.join(r.cause.name for r in also)}" if also else ""
        if not what:
            return f"{upper(why)}{beside}."
        # Only what can lead to the state is told as its reason.
        leads = {leads.cause for leads in origins[0].cause.leads} - ALONE
        if states[0].cause.id in leads:
            return f"{upper(what)} ({states[0].words}), because of {why}{beside}."
        return f"{upper(what)} ({states[0].words}). Beside it: {why}{beside}."
    return f"{upper(what)} ({states[0].words}); why is still open." if what else "No cause stands out yet."


def upper(text: str) -> str:
    """The text with a capital."""
    return text[:1].upper() + text[1:]


def percent(chance: float) -> str:
    """A chance that is neither certain nor impossible, and never reads as if it were."""
    return "over 99 %" if chance > 0.99 else "under 1 %" if chance < 0.01 else f"{chance:.0%}".replace("%", " %")


def band(ranked: Ranked) -> str:
    """The band of a cause."""
    low, high = percent(ranked.low), percent(ranked.high)
    return low if low == high else f"{low} to {high}"

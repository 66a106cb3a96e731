"""What the user says about causes, remedies and spread; nothing derived."""

from __future__ import annotations

from typing import Annotated, Literal

from ribpatch.core.materials.records import Id
from ribpatch.core.readings import Text
from ribpatch.core.record import Limits, Record


class Answer(Record):
    """What the user says about a finding of the diagnosis."""

    finding: Id
    said: Literal["yes", "no", "unknown"]


class Settled(Record):
    """A remedy that the scheme answers in the user's own words, or that they overrule with a reason."""

    remedy: Id
    how: Literal["planned", "overruled"]
    reason: Annotated[str, Limits(min_length=3, max_length=400)]


class Looked(Record):
    """A place where the damage may have spread to, looked at."""

    place: Annotated[str, Limits(min_length=1, max_length=120)]
    found: Literal["sound", "bad", "not reachable"]
    note: Text = ""


class Diagnosis(Record):
    """What the user says about causes, remedies and spread."""

    answers: Annotated[tuple[Answer, ...], Limits(max_length=400)] = ()
    settled: Annotated[tuple[Settled, ...], Limits(max_length=400)] = ()
    looked: Annotated[tuple[Looked, ...], Limits(max_length=400)] = ()

    def check(self) -> None:
        """One answer a finding, one word on a remedy."""
        if len({a.finding for a in self.answers}) != len(self.answers):
            raise ValueError("a finding is answered twice")
        if len({s.remedy for s in self.settled}) != len(self.settled):
            raise ValueError("a remedy is settled twice")

"""Everything that can be wrong with what a person gave us, one class per reason.

A fault carries fields; the sentence is made from the class's own template, so every shell says the same thing.
``where`` names the place (a field, a file, a line), ``mend`` says how to put it right.
"""

from __future__ import annotations

from typing import ClassVar

SHOWN = 5  # of several faults, in one sentence; each can still be listed


class Fault(Exception):
    """Base of every fault that is told to the user in one plain sentence."""

    says: ClassVar[str] = "{reason}"
    mend: ClassVar[str] = ""

    def __init__(self, where: str = "", **fields: object) -> None:
        self.where = where
        self.fields = fields
        super().__init__(self.sentence)

    @property
    def sentence(self) -> str:
        """What is wrong, where, and how to mend it."""
        said = self.says.format(where=self.where, **self.fields)
        mend = self.mend.format(where=self.where, **self.fields)
        place = f"{self.where}: " if self.where and "{where}" not in self.says else ""
        return f"{place}{said}" + (f" {mend}" if mend else "")


class InvalidValue(Fault):
    """A value of the wrong type or shape in a document."""

    says = "{reason}."


class OutOfRange(Fault):
    """A quantity that is absurd for its place."""

    says = "{value} is outside {low} to {high}."
    mend = "Check the unit and the decimal point."


class UnreadableQuantity(Fault):
    """Typed text that is no quantity."""

    says = "“{text}” was not understood: {reason}."
    mend = "Write it like {example}."


class WrongDimension(Fault):
    """A quantity with a unit of another kind."""

    says = "“{text}” is not a {wanted}."
    mend = "Write it like {example}."


class BadOutline(Fault):
    """An outline that is no area."""

    says = "{reason}."
    mend = "{advice}"


class OutsideZone(Fault):
    """Something placed outside the zone's outline."""

    says = "{what} lies outside the zone's outline."
    mend = "Move it inside, or enlarge the outline in Boat."


class NothingToDraft(Fault):
    """A repair cannot be drafted, or no other draft differs."""

    says = "{what}."
    mend = "{how}"

    def __init__(self, where: str = "", others: bool = False) -> None:
        what = "no other draft differs from what stands there" if others else "no damage is known yet to draft from"
        how = "Change a choice by hand." if others else "Read the zone in Find, or draw the extent there."
        super().__init__(where, what=what, how=how)


class BadStructure(Fault):
    """A panel, beam, section or load that cannot be worked out."""

    says = "{reason}."
    mend = "{how}."


class UnknownItem(Fault):
    """A name or id that is not there."""

    says = "there is no {what} “{name}”."
    mend = "{near}"


class BadFabricCode(Fault):
    """A trade code that cannot be read."""

    says = "“{code}” is not a fabric code of the pattern NNMM."
    mend = "Write 1708 for 17 oz/yd² of stitched biaxial with 0.8 oz/ft² of mat."


class ImpossibleMix(Fault):
    """A mix ratio that makes no resin."""

    says = "{resin}: a mix of {resin_parts} to {hardener_parts} makes no cured resin."
    mend = "Give both parts above zero, as on the can."


class ImpossibleCoupon(Fault):
    """A coupon whose thickness no laminate of that fabric can have."""

    says = "{fabric} at {one} cannot be: {why}."
    mend = "Check the count of plies and the measured thickness."


class UnreadableStack(Fault):
    """Typed text that is no stack of plies."""

    says = "“{text}” was not understood: {reason}."
    mend = "Write it like 2 x biax 600, 3 x (mat 300, 0/90 600), woven 200 @ 45."


class FileProblem(Fault):
    """A file that could not be read or written."""

    says = "{where}: {reason}."
    mend = "{advice}"


class DamagedJob(FileProblem):
    """A job file that is not one, or is damaged."""


class NewerJob(FileProblem):
    """A job file from a later version of the program."""


class JobInUse(FileProblem):
    """Another program has the same job open."""


class ManyFaults(Fault):
    """Several faults found in one go; each keeps its own place."""

    def __init__(self, faults: tuple[Fault, ...]) -> None:
        self.faults = faults
        first = "; ".join(f.sentence for f in faults[:SHOWN])
        super().__init__(reason=f"{first}; and {len(faults) - SHOWN} more" if len(faults) > SHOWN else first)


class BadRecording(FileProblem):
    """A recording of taps that cannot be trusted."""


class BadDrawing(FileProblem):
    """A drawing that no outline can be read from."""


class BadPhotograph(FileProblem):
    """A photograph that cannot be read."""

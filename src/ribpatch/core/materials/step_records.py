"""Records of the steps of a repair: what each takes, who may do it, and why it is done."""

from __future__ import annotations

from typing import Annotated, Literal

from ribpatch.core.materials.records import Id, Name, Reason
from ribpatch.core.record import Limits, Record

StepHours = Annotated[float, Limits(ge=0, le=100)]


class StepKind(Record):
    """One kind of step. Hours of work are the amount in ``unit`` times ``hours``, or over what a rule says is done in
    an hour, times ``pace``, with set-up and clean-up; more people share it from ``more_from`` hours on. ``split`` work
    goes on over nights; ``skill`` is who may do it; ``lays`` needs air to lay in; ``dust`` must not settle on what is
    wet.
    """

    id: Id
    name: Name
    unit: Literal["zone", "m2", "m", "kg", "each", "hours"]
    hours: StepHours = 0.0
    set_up: StepHours = 0.0
    clean_up: StepHours = 0.0
    pace: Annotated[float, Limits(gt=0.05, le=20)] = 1.0  # of this shop, over the usual
    people: Annotated[int, Limits(ge=0, le=6)] = 1
    more_from: StepHours = 100.0
    split: bool = False
    skill: Literal["", "lay", "paint", "lift"] = ""
    lays: bool = False
    dust: bool = False
    caution: Name | None = None  # the step of the cautions that belong to it
    lay_out: Reason = ""  # what to have at hand
    reason: Reason

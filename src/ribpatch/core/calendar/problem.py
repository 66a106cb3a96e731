"""A schedule as a question and as an answer: steps, what waits for what, people, and when what is done.

Time is counted in slots of ``slot`` seconds from the midnight at which the calendar begins; an end is the slot after
the last one worked. Work that may be split goes on over a night or a day off with the same people; the rest is done in
one go. Everything here is plain, so that it goes to the process that searches, and back.
"""

from __future__ import annotations

from functools import cached_property

from msgspec import Struct

HOUR = 3600.0


class Worker(Struct, frozen=True):
    """Someone who works: ``shifts`` as (from, to, late) in slots, one after the other, and what they may do."""

    name: str
    shifts: tuple[tuple[int, int, bool], ...]
    skills: tuple[str, ...] = ()


class Task(Struct, frozen=True):
    """One step: ``work`` slots by ``people`` at once. ``people`` 0 is a wait. ``air`` names the kind of air it needs
    (an entry of ``Problem.air``), ``wet`` the block of wet work that it belongs to: from a block's first step to its
    last, one person at least is tied to it. ``dust`` must not fly in its ``zone`` nor in a near one while anything is
    wet there (until ``hard`` after its end), nor anywhere else in the shed until that has gelled (``gel``).
    """

    id: str
    name: str
    work: int
    people: int = 1
    skill: str = ""
    split: bool = False
    air: str = ""
    wet: str = ""
    earliest: int = 0
    latest: int | None = None  # the slot by which it ends
    at: int | None = None  # where it was put by hand
    by: tuple[str, ...] = ()  # only these people; empty: whoever may
    zone: str = ""
    dust: bool = False
    gel: Wait | None = None
    hard: Wait | None = None


class Wait(Struct, frozen=True):
    """How long: ``hours`` by the wall, s, or ``worth`` by the clock of ``clock`` (an entry of ``Problem.clocks``), s at
    25 degC.
    """

    hours: float | None = None
    worth: float | None = None
    clock: str = ""


class Missed(Struct, frozen=True):
    """What happens after a missed window: so many slots more of work, and the wait before it can be done at all."""

    work: int
    least: Wait | None = None


class Lag(Struct, frozen=True):
    """``after`` begins at least ``least`` and at most ``most`` after the end of ``before``; ``most`` may be missed
    where ``missed`` tells what follows. ``why`` is the reason in words.
    """

    before: str
    after: str
    least: Wait | None = None
    most: Wait | None = None
    missed: Missed | None = None
    why: str = ""


class Air(Struct, frozen=True):
    """Slots in which some work may not be done, as (from, to), and why in words."""

    blocked: tuple[tuple[int, int], ...]
    why: str = ""


class Clock(Struct, frozen=True):
    """What the time up to each slot is worth, s at 25 degC: to the safe side for what must have cured (``slow``), and
    for what must not have (``fast``). (slots + 1,) each.
    """

    slow: tuple[float, ...]
    fast: tuple[float, ...]


class Problem(Struct, frozen=True):
    """All that a schedule is worked out from."""

    slot: float  # s
    slots: int
    tasks: tuple[Task, ...]
    lags: tuple[Lag, ...]
    crew: tuple[Worker, ...]
    air: dict[str, Air] = {}
    clocks: dict[str, Clock] = {}
    near: dict[str, tuple[str, ...]] = {}  # zones that share a room or an open side with each, itself among them

    def task(self, wanted: str) -> Task:
        """The step of that id."""
        return next(t for t in self.tasks if t.id == wanted)

    def check(self) -> None:
        """Raise ValueError where the parts do not fit together."""
        ids = [t.id for t in self.tasks]
        twice = next((i for i in ids if ids.count(i) > 1), None)
        if twice is not None:
            raise ValueError(f"two steps carry the same id, {twice}")
        known = set(ids)
        for lag in self.lags:
            lost = next((i for i in (lag.before, lag.after) if i not in known), None)
            if lost is not None:
                raise ValueError(f"a wait names {lost}, and there is no such step")
            if lag.before == lag.after:
                raise ValueError(f"{lag.before} waits for itself")
        circle = in_a_circle(self)
        if circle:
            raise ValueError(f"these wait for each other in a circle: {', '.join(circle)}")
        for task in self.tasks:
            if task.air and task.air not in self.air:
                raise ValueError(f"{task.id} wants air that is not told, {task.air}")


def in_a_circle(problem: Problem) -> tuple[str, ...]:
    """Steps that wait for each other in a circle; none where none do."""
    left = {t.id for t in problem.tasks}
    before: dict[str, set[str]] = {i: set() for i in left}
    for lag in problem.lags:
        before[lag.after].add(lag.before)
    while True:
        free = {i for i in left if not before[i] & left}
        if not free:
            return tuple(t.id for t in problem.tasks if t.id in left)
        left -= free


class Placed(Struct, frozen=True):
    """One step as planned: from, to in slots, who does it, and whether its window was missed."""

    id: str
    start: int
    end: int
    who: tuple[str, ...] = ()
    missed: bool = False


class Schedule(Struct, frozen=True, dict=True):
    """An answer: every step, the slot in which all is done, and the least that any answer could need (``bound``)."""

    placed: tuple[Placed, ...]
    finish: int
    bound: int = 0
    sandings: int = 0
    late: int = 0
    proven: bool = False  # no schedule is done earlier
    best: bool = False  # nor with fewer sandings, nor with fewer late hours

    @cached_property
    def by_id(self) -> dict[str, Placed]:
        """Each step by its id."""
        return {p.id: p for p in self.placed}


class Ruling(Struct, frozen=True):
    """Something that a schedule keeps to and that might be let go: ``at`` (put by hand), ``latest``, ``earliest``,
    ``window`` (the most that ``step`` may come after ``before``), ``air`` (of a kind), ``people``, ``skill``, ``by``,
    ``one go``, ``dust`` (near what is wet). ``slot`` tells how far it must be let go, where that was found out.
    """

    kind: str
    step: str = ""
    before: str = ""
    slot: int | None = None


class Clash(Struct, frozen=True):
    """Why there is no schedule: what cannot all be kept, and what of it would free it, each by itself."""

    against: tuple[Ruling, ...]
    frees: tuple[Ruling, ...] = ()

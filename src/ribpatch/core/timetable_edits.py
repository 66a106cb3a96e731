"""Edits of when the work is done: people, aids, air, steps, and the schedule that is kept."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ribpatch.core.edits import Edit, next_id
from ribpatch.core.errors import InvalidValue
from ribpatch.core.record import built, evolve
from ribpatch.core.timetable import AidKept, DaySpan, Forecast, OwnStep, Person, StepChange, root_of

if TYPE_CHECKING:
    from ribpatch.core.job import Job
    from ribpatch.core.timetable import KeptSchedule

PLAIN = ("hours", "people", "who", "at", "name", "skipped", "parts", "joined")


def _table(name: str, **changes: Any) -> Edit:
    return Edit(name, lambda job: evolve(job, timetable=evolve(job.timetable, **changes)))


def add_person(job: Job, name: str, hours: tuple[DaySpan, ...], **more: Any) -> Edit:
    """Someone more, told by what they are."""
    people = job.timetable.people
    made = built(Person, id=next_id("p", (p.id for p in people)), name=name, hours=hours, **more)
    return _table(f"add {name} to the crew", people=(*people, made))


def change_person(job: Job, person: str, **changes: Any) -> Edit:
    """Other hours, days or skills of someone."""
    name = next(p.name for p in job.timetable.people if p.id == person)
    people = tuple(evolve(p, **changes) if p.id == person else p for p in job.timetable.people)
    return _table(f"change {name}", people=people)


def remove_person(job: Job, person: str) -> Edit:
    """Someone comes no more; steps that were theirs only are for whoever may do them."""
    name = next(p.name for p in job.timetable.people if p.id == person)
    people = tuple(p for p in job.timetable.people if p.id != person)
    changes = _kept(evolve(c, who=tuple(w for w in c.who if w != person)) for c in job.timetable.changes)
    return _table(f"take {name} off the crew", people=people, changes=changes)


def add_aid(job: Job, **stated: Any) -> Edit:
    """A heater or the like."""
    aids = job.timetable.aids
    made = built(AidKept, id=next_id("a", (a.id for a in aids)), **stated)
    return _table(f"set up a {made.kind}", aids=(*aids, made))


def remove_aid(job: Job, aid: str) -> Edit:
    """A heater or the like goes."""
    kind = next(a.kind for a in job.timetable.aids if a.id == aid)
    return _table(f"take the {kind} away", aids=tuple(a for a in job.timetable.aids if a.id != aid))


def set_forecast(forecast: Forecast | None) -> Edit:
    """Air by the hour, or none: then the shed's stated air goes on."""
    return _table("take the forecast" if forecast is not None else "forget the forecast", forecast=forecast)


def change_step(job: Job, step: str, name: str, **changes: Any) -> Edit:
    """Change a step that comes from the schemes, or one of the user's own; ``name`` is the step's."""
    known = job.timetable.change_of(step) or StepChange(step=step)
    made = evolve(known, **changes)
    others = [c for c in job.timetable.changes if c.step != step]
    words = {"at": f"put {name} by hand" if changes.get("at") else f"let {name} find its place"}
    key = next(iter(changes), "")
    said = words.get(key, f"skip {name}" if key == "skipped" and changes[key] else f"change {name}")
    return _table(said, changes=_kept((*others, made)))


def _kept(changes: Any) -> tuple[StepChange, ...]:
    """Those that change anything."""
    return tuple(c for c in changes if c != StepChange(step=c.step))


def as_usual(job: Job, step: str, name: str) -> Edit:
    """A step as it comes from the schemes, its parts with it."""
    left = (c for c in job.timetable.changes if step not in (c.step, root_of(c.step)))
    return _table(f"{name} as usual", changes=tuple(left))


def all_free(job: Job) -> Edit:
    """Every step that was put by hand finds its own place again."""
    return _table("let all steps find their place", changes=_kept(evolve(c, at="") for c in job.timetable.changes))


def none_skipped(job: Job) -> Edit:
    """Every step that was skipped is done again."""
    return _table("take skipped steps back", changes=_kept(evolve(c, skipped="") for c in job.timetable.changes))


def add_step(job: Job, **stated: Any) -> Edit:
    """A step of the user's own."""
    made = built(OwnStep, id=next_id("own", (s.id for s in job.timetable.added)), **stated)
    return _table(f"add the step {made.name}", added=(*job.timetable.added, made))


def remove_step(job: Job, step: str) -> Edit:
    """A step of the user's own goes."""
    found = next((s for s in job.timetable.added if s.id == step), None)
    if found is None:
        raise InvalidValue("step", reason="only steps that you added are taken away; skip the others with a reason")
    changes = tuple(c for c in job.timetable.changes if c.step != step)
    return _table(
        f"take the step {found.name} away",
        added=tuple(s for s in job.timetable.added if s.id != step),
        changes=changes,
    )


def keep_schedule(found: KeptSchedule | None) -> Edit:
    """Keep the schedule that was found, or forget it."""
    return _table("keep the schedule" if found is not None else "forget the schedule", kept=found)

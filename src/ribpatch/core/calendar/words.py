"""What a schedule keeps to, and what would free it, in words."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.calendar.problem import Problem, Ruling

    When = Callable[[int], str]


def ruling_words(ruling: Ruling, problem: Problem, when: When) -> str:
    """What is to be kept, as part of a clash."""
    if ruling.kind == "air":
        return f"the air to lay in ({problem.air[ruling.step].why})"
    if ruling.kind == "people":
        return "the people that there are"
    if ruling.kind == "dust":
        return "no cutting, grinding or sanding near what is wet"
    if ruling.kind == "days":
        return "the days of the calendar"
    task = problem.task(ruling.step)
    if ruling.kind == "window":
        why = next((x.why for x in problem.lags if (x.before, x.after) == (ruling.before, ruling.step)), "")
        said = f": {why}" if why else ""
        return f"“{task.name}” must follow “{problem.task(ruling.before).name}” in time{said}"
    return {
        "place": f"“{task.name}” has no place at all",
        "at": f"“{task.name}” was put at {when(task.at or 0)}",
        "latest": f"“{task.name}” must be done by {when(task.latest or 0)}",
        "earliest": f"“{task.name}” cannot begin before {when(task.earliest)}",
        "by": f"“{task.name}” is for {', '.join(task.by)} only",
        "skill": f"“{task.name}” is for who can: {task.skill}",
        "one go": f"“{task.name}” is done in one go",
    }[ruling.kind]


def freeing_words(ruling: Ruling, problem: Problem, when: When) -> str:
    """What would free it."""
    if ruling.kind == "air":
        return "heat, a tent or drier air, so that there are hours to lay in"
    if ruling.kind == "people":
        return "more people, or longer hours"
    if ruling.kind == "dust":
        return "a curtain that keeps the dust off what is wet, or dusty work put on another day"
    if ruling.kind == "days":
        return "a longer calendar, or more people"
    task = problem.task(ruling.step)
    if ruling.kind == "window":
        return f"a slower resin or cooler shed, so that “{task.name}” may come later, or let its window go"
    by = f" {when(ruling.slot)} would do" if ruling.slot is not None else ""
    return {
        "at": f"let “{task.name}” find a place of its own",
        "latest": f"let “{task.name}” be done later:{by}" if by else f"let “{task.name}” be done later",
        "earliest": f"have what “{task.name}” waits for earlier",
        "by": f"let others do “{task.name}”",
        "skill": f"someone more who can do “{task.name}”",
        "one go": f"split “{task.name}”: in one go it is longer than anyone is there",
    }[ruling.kind]

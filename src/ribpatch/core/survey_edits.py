"""Edits of a survey and of what was said about causes: named pure functions from job to job, as in ``edits``."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from ribpatch.core.edits import Edit, in_zone, next_id, number_in
from ribpatch.core.errors import InvalidValue
from ribpatch.core.memo import Rows
from ribpatch.core.readings import Photograph, Reading, SurveySession
from ribpatch.core.record import evolve
from ribpatch.core.said import Answer, Looked, Settled
from ribpatch.core.survey.entry import reading_words
from ribpatch.core.survey.sessions import latest_session
from ribpatch.core.text import counted

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable

    from ribpatch.core.geometry import Point
    from ribpatch.core.job import Practice, Survey, Zone
    from ribpatch.core.set_straight import Straight

Said = Literal["yes", "no", "unknown"]
Found = Literal["sound", "bad", "not reachable"]
How = Literal["planned", "overruled"]


def _in_survey(name: str, zone: str, change: Callable[[Survey], Survey]) -> Edit:
    return in_zone(name, zone, lambda z: evolve(z, survey=change(z.survey)))


_NUMBERS: Rows[Reading, int] = Rows()


def _numbered(survey: Survey, readings: Iterable[Reading]) -> tuple[Reading, ...]:
    """Readings with the next free ids; those of no session belong to the one that is open."""
    taken = _NUMBERS.of(survey.readings, "r", lambda rows: [number_in(r.id, "r") for r in rows])
    first, now = max(taken, default=0) + 1, latest_session(survey)
    return tuple(evolve(r, id=f"r{first + i}", session=r.session or now) for i, r in enumerate(readings))


def _added(survey: Survey, new: tuple[Reading, ...], references: Iterable[str] = ()) -> Survey:
    whole = evolve(survey, readings=(*survey.readings, *new))
    marked = {*survey.references, *references}
    return whole if marked == set(survey.references) else evolve(whole, references=tuple(sorted(marked)))


def add_readings(zone: str, readings: tuple[Reading, ...], name: str = "", reference: bool = False) -> Edit:
    """Add readings, as sound reference where they are one; each takes the next free id, whatever id it came with."""

    def change(survey: Survey) -> Survey:
        new = _numbered(survey, readings)
        return _added(survey, new, (r.id for r in new) if reference else ())

    return _in_survey(name or f"add {len(readings)} reading{'s' if len(readings) != 1 else ''}", zone, change)


def put_reading(zone: str, reading: Reading, near: float) -> Edit:
    """Enter a reading at a place; it replaces one of the same kind within ``near`` m, as when a square is read
    again.
    """

    def change(survey: Survey) -> Survey:
        now = reading.session or latest_session(survey)
        low, high = reading.x - near, reading.x + near
        beside = [r for r in survey.readings if low <= r.x <= high and abs(r.y - reading.y) <= near]
        like = (r for r in beside if (r.kind, r.session) == (reading.kind, now))
        there = next((r for r in like if (r.x - reading.x) ** 2 + (r.y - reading.y) ** 2 <= near**2), None)
        if there is None:
            return _added(survey, _numbered(survey, (reading,)))
        new = evolve(reading, id=there.id, session=now)
        return evolve(survey, readings=tuple(new if r is there else r for r in survey.readings))

    return _in_survey(f"read {reading_words(reading)}", zone, change)


def remove_readings(zone: str, ids: frozenset[str]) -> Edit:
    """Delete readings, and their marks as reference."""

    def change(survey: Survey) -> Survey:
        kept = tuple(r for r in survey.readings if r.id not in ids)
        # References go with their readings in one change, so that the record is whole at every step.
        bare = evolve(survey, references=tuple(r for r in survey.references if r not in ids))
        return evolve(bare, readings=kept)

    return _in_survey("delete readings" if len(ids) > 1 else "delete reading", zone, change)


def set_references(zone: str, ids: Iterable[str]) -> Edit:
    """Set which readings are the sound reference."""
    wanted = tuple(sorted(set(ids)))
    return _in_survey("set sound reference", zone, lambda survey: evolve(survey, references=wanted))


# ---- sessions --------------------------------------------------------------------------------------------------


def begin_session(zone: str, date: str, who: str = "", note: str = "") -> Edit:
    """Begin a new session; readings entered from now on belong to it. Earlier ones without a session become the first.

    Raises Fault where the date is none.
    """
    told = evolve(SurveySession(id="s1"), date=date, who=who, note=note)

    def change(survey: Survey) -> Survey:
        sessions, readings = survey.sessions, survey.readings
        if not sessions and readings:
            sessions = (SurveySession(id="s1", note="before sessions were kept"),)
            readings = tuple(evolve(r, session="s1") for r in readings)
        made = evolve(told, id=next_id("s", (s.id for s in sessions)))
        return evolve(evolve(survey, sessions=(*sessions, made)), readings=readings)

    return _in_survey("begin a session", zone, change)


def set_session(zone: str, session: str, **given: str) -> Edit:
    """Correct a session's ``date``, ``who`` or ``note``."""

    def change(survey: Survey) -> Survey:
        return evolve(survey, sessions=tuple(evolve(s, **given) if s.id == session else s for s in survey.sessions))

    return _in_survey("correct a session", zone, change)


def annotate_reading(zone: str, reading: str, **given: str) -> Edit:
    """Write beside a reading a ``note``, ``who`` read it (a role), or when (``at``)."""

    def change(survey: Survey) -> Survey:
        return evolve(survey, readings=tuple(evolve(r, **given) if r.id == reading else r for r in survey.readings))

    return _in_survey("note on a reading", zone, change)


# ---- photographs -----------------------------------------------------------------------------------------------


def add_photograph(zone: str, member: str, caption: str, at: Point | None = None, reading: str = "") -> Edit:
    """Add a photograph that the album keeps as ``member``, pinned to a place (m) or tied to a reading where given."""

    def change(survey: Survey) -> Survey:
        made = Photograph(
            id=next_id("p", (p.id for p in survey.photographs)),
            member=member,
            caption=caption[:120],
            x=at[0] if at else None,
            y=at[1] if at else None,
            session=latest_session(survey),
        )
        whole = evolve(survey, photographs=(*survey.photographs, made))
        if not reading:
            return whole
        tied = (evolve(r, photographs=(*r.photographs, made.id)) if r.id == reading else r for r in whole.readings)
        return evolve(whole, readings=tuple(tied))

    return _in_survey("add a photograph", zone, change)


def set_photograph(zone: str, photograph: str, caption: str | None = None, at: Point | None = None) -> Edit:
    """Change a photograph's caption or pin it to a place."""

    def change(survey: Survey) -> Survey:
        def one(p: Photograph) -> Photograph:
            words = p.caption if caption is None else caption
            return evolve(p, caption=words, x=p.x if at is None else at[0], y=p.y if at is None else at[1])

        return evolve(survey, photographs=tuple(one(p) if p.id == photograph else p for p in survey.photographs))

    return _in_survey("change a photograph", zone, change)


def set_straight(zone: str, photograph: str, straight: Straight | None) -> Edit:
    """State how a photograph lies in the zone, or forget it."""

    def change(survey: Survey) -> Survey:
        rows = (evolve(p, straight=straight) if p.id == photograph else p for p in survey.photographs)
        return evolve(survey, photographs=tuple(rows))

    return _in_survey("set a photograph straight" if straight else "forget how a photograph lies", zone, change)


def remove_photograph(zone: str, photograph: str) -> Edit:
    """Remove a photograph; undo brings it back."""

    def change(survey: Survey) -> Survey:
        loose = tuple(
            evolve(r, photographs=tuple(p for p in r.photographs if p != photograph))
            if photograph in r.photographs
            else r
            for r in survey.readings
        )
        bare = evolve(survey, readings=loose)
        return evolve(bare, photographs=tuple(p for p in survey.photographs if p.id != photograph))

    return _in_survey("delete photograph", zone, change)


# ---- practice panels -------------------------------------------------------------------------------------------


def set_practice(zone: str, practice: Practice | None, name: str) -> Edit:
    """Make a zone a practice panel, change its truth, or reveal it."""
    return in_zone(name, zone, lambda z: evolve(z, practice=practice))


# ---- causes ----------------------------------------------------------------------------------------------------


def answer(zone: str, finding: str, said: Said | None) -> Edit:
    """Answer a finding's question; None leaves it to the survey again."""

    def change(z: Zone) -> Zone:
        kept = tuple(a for a in z.diagnosis.answers if a.finding != finding)
        given = () if said is None else (Answer(finding=finding, said=said),)
        return evolve(z, diagnosis=evolve(z.diagnosis, answers=(*kept, *given)))

    return in_zone("answer a question" if said else "leave it to the survey", zone, change)


def settle(zone: str, remedy: str, how: How | None, reason: str = "") -> Edit:
    """Say how the scheme answers a remedy, overrule it with a reason, or (None) open it again."""
    if how is not None and len(reason.strip()) < 3:
        raise InvalidValue(
            "Reason",
            reason="say in a few words how the scheme does it" if how == "planned" else "say in a few words why not",
        )

    def change(z: Zone) -> Zone:
        kept = tuple(s for s in z.diagnosis.settled if s.remedy != remedy)
        given = () if how is None else (Settled(remedy=remedy, how=how, reason=reason.strip()),)
        return evolve(z, diagnosis=evolve(z.diagnosis, settled=(*kept, *given)))

    return in_zone(
        {"planned": "plan a remedy", "overruled": "overrule a remedy", None: "open a remedy again"}[how], zone, change
    )


def look_at(zone: str, place: str, found: Found | None, note: str = "") -> Edit:
    """Say what was found at a place where the damage may have spread to; None forgets it."""

    def change(z: Zone) -> Zone:
        kept = tuple(p for p in z.diagnosis.looked if p.place != place)
        given = () if found is None else (Looked(place=place, found=found, note=note),)
        return evolve(z, diagnosis=evolve(z.diagnosis, looked=(*kept, *given)))

    return in_zone("note where it may have spread", zone, change)


# ---- readings from a file --------------------------------------------------------------------------------------


def import_survey(
    zone: str, readings: tuple[Reading, ...], sessions: tuple[SurveySession, ...] = (), references: tuple[int, ...] = ()
) -> Edit:
    """Add readings from a file with the sessions that they name; ``references`` are places among the readings.

    A session that is already there is used, another gets a free id. Photographs that this zone does not have are
    dropped.
    """

    def change(survey: Survey) -> Survey:
        names, whole = _merged_sessions(survey, sessions)
        pictures = {p.id for p in survey.photographs}
        told = (
            evolve(r, session=names.get(r.session, ""), photographs=tuple(p for p in r.photographs if p in pictures))
            for r in readings
        )
        new = _numbered(evolve(survey, sessions=whole), told)
        return _added(evolve(survey, sessions=whole), new, (new[n].id for n in references))

    return _in_survey(f"import {counted(len(readings), 'reading', 'readings')}", zone, change)


def _merged_sessions(
    survey: Survey, told: tuple[SurveySession, ...]
) -> tuple[dict[str, str], tuple[SurveySession, ...]]:
    """What each told session is called here, and all sessions together."""
    names: dict[str, str] = {}
    whole = survey.sessions
    for session in told:
        same = next((s for s in whole if (s.date, s.who, s.note) == (session.date, session.who, session.note)), None)
        if same is None:
            free = session.id if all(s.id != session.id for s in whole) else next_id("s", (s.id for s in whole))
            same = evolve(session, id=free)
            whole = (*whole, same)
        names[session.id] = same.id
    return names, whole

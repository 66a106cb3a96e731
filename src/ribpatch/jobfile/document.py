"""From the bytes of a ``job.json`` to a job: limits first, then piece by piece, so that no file costs much to refuse.

Faults are collected with their place up to a stated number; then reading stops. Readings, of which there can be many,
are checked in batches whose raw form is let go at once.
"""

from __future__ import annotations

import json
from typing import TYPE_CHECKING, Any, NoReturn

from ribpatch.core.errors import DamagedJob, Fault, ManyFaults, NewerJob
from ribpatch.core.job import FORMAT, MOST_READINGS, MOST_ZONES, VERSION, Job, Zone
from ribpatch.core.readings import Reading
from ribpatch.core.record import MOST_FAULTS, faults_of, read_as, reader
from ribpatch.jobfile.migrations import migrated

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping

    from pydantic import ValidationError

MOST_DEPTH = 24  # a job of ours nests 12 deep
MOST_FIELDS, MOST_IN_LIST = 100, 2000  # of a record; of a list beside readings
MOST_PARTS = 250_000  # lists and records beside readings
MOST_CONTAINERS, MOST_COMMAS = 1_200_000, 4_000_000  # of the whole text; a reading has one or two, and about ten
_BATCH = 500
KEPT = "The file was not changed. The save before may be beside it, with ~ after its name."


def parse_job(raw: bytes, where: str) -> Job:
    """The job in the bytes of a ``job.json``; raises a Fault that lists what is wrong with its place."""
    _check_size(raw, where)
    document = _document(raw, where)
    if document.get("format") != FORMAT:
        raise DamagedJob(where, reason="is JSON, but no Rib Patch job", advice="Open a .ribpatch file.")
    version = document.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise DamagedJob(where, reason="does not say which version it is", advice=KEPT)
    if version > VERSION:
        raise NewerJob(
            where,
            reason=f"was written by a later Rib Patch (file version {version}, this one reads up to {VERSION})",
            advice="Update Rib Patch to open it. The file was not changed.",
        )
    _check_shape(document, where)
    try:
        return _job_of(migrated(document, VERSION), where)
    except (KeyError, TypeError, ValueError, AttributeError) as error:
        raise DamagedJob(
            where, reason=f"could not be brought up from version {version} ({error})", advice=KEPT
        ) from None


def _check_size(raw: bytes, where: str) -> None:
    # A batch of readings is let go once it is checked, but the text is taken apart in one go: its parts are counted
    # first.
    if raw.count(b",") > MOST_COMMAS or raw.count(b"[") + raw.count(b"{") > MOST_CONTAINERS:
        raise DamagedJob(where, reason="holds far more parts than a job can", advice=KEPT)


def _no_constant(text: str) -> NoReturn:
    raise ValueError(f"{text} is no number")


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    if len(pairs) > MOST_FIELDS:
        raise ValueError(f"one record of {len(pairs)} parts")
    made = dict(pairs)
    if len(made) != len(pairs):
        names = [name for name, _ in pairs]
        twice = next(name for name in names if names.count(name) > 1)
        raise ValueError(f"“{twice[:40]}” is given twice in one place")
    return made


def _document(raw: bytes, where: str) -> dict[str, Any]:
    try:
        document = json.loads(raw, parse_constant=_no_constant, object_pairs_hook=_once)
    except RecursionError:
        raise DamagedJob(where, reason=f"is nested more than {MOST_DEPTH} deep", advice=KEPT) from None
    except ValueError as error:
        why = "a number of thousands of digits" if "digits" in str(error) else str(error)
        raise DamagedJob(where, reason=f"holds no readable job ({why})", advice=KEPT) from None
    if not isinstance(document, dict):
        raise DamagedJob(where, reason="holds no job", advice=KEPT)
    return document


def _readings(document: Mapping[str, Any]) -> Iterator[list[Any]]:
    """The lists of readings of a document, where they have the usual shape."""
    return _surveys(document, "readings")


def _surveys(document: Mapping[str, Any], field: str) -> Iterator[list[Any]]:
    zones = document.get("zones")
    for zone in zones if isinstance(zones, list) else ():
        survey = zone.get("survey") if isinstance(zone, dict) else None
        rows = survey.get(field) if isinstance(survey, dict) else None
        if isinstance(rows, list):
            yield rows


def _check_shape(document: dict[str, Any], where: str) -> None:
    """How many readings, how deep, how many parts: without looking into the readings, which are checked in batches."""
    long = {id(rows) for rows in _readings(document)}
    long |= {id(rows) for rows in _surveys(document, "references")}
    if sum(len(rows) for rows in _readings(document)) > MOST_READINGS:
        raise DamagedJob(where, reason=f"holds more than {MOST_READINGS} readings", advice=KEPT)
    parts, level = 0, [document]
    for _ in range(MOST_DEPTH):
        inside: list[Any] = []
        for item in level:
            if id(item) not in long:
                if len(item) > (MOST_FIELDS if isinstance(item, dict) else MOST_IN_LIST):
                    what = "record" if isinstance(item, dict) else "list"
                    raise DamagedJob(where, reason=f"holds a {what} of {len(item)} parts", advice=KEPT)
                inside.extend(
                    v for v in (item.values() if isinstance(item, dict) else item) if isinstance(v, dict | list)
                )
        parts += len(inside)
        if parts > MOST_PARTS:
            raise DamagedJob(where, reason=f"holds more than {MOST_PARTS} parts beside its readings", advice=KEPT)
        if not inside:
            return
        level = inside
    raise DamagedJob(where, reason=f"is nested more than {MOST_DEPTH} deep", advice=KEPT)


def _job_of(document: dict[str, Any], where: str) -> Job:
    faults: list[Fault] = []
    zones = document.get("zones", [])
    made: list[Zone] = []
    if not isinstance(zones, list):
        faults.append(_named(where, "zones", "must be a list"))
    elif len(zones) > MOST_ZONES:
        faults.append(_named(where, "zones", f"holds {len(zones)} zones; {MOST_ZONES} are the most"))
    else:
        for number, zone in enumerate(zones):
            if len(faults) < MOST_FAULTS:
                made.extend(_zone_of(zone, f"zones.{number}", where, faults))
    from pydantic import ValidationError

    job: Job | None = None
    if len(faults) < MOST_FAULTS:
        try:
            job = read_as(Job, {**document, "zones": tuple(made)})
        except ValidationError as error:
            faults.extend(_all(where, "", error))
    if faults or job is None:
        raise _listed(where, faults)
    return job


def _zone_of(zone: Any, place: str, where: str, faults: list[Fault]) -> list[Zone]:
    """The zone as a record, or none and its faults noted."""
    from pydantic import ValidationError

    before = len(faults)
    survey = zone.get("survey") if isinstance(zone, dict) else None
    rows = survey.get("readings") if isinstance(survey, dict) else None
    if isinstance(rows, list):
        _read_rows(rows, f"{place}.survey.readings", where, faults)
    if len(faults) > before:
        # The rest of the zone is looked at all the same, without its readings and what hangs on them.
        zone = {**zone, "survey": {**survey, "readings": (), "references": ()}}  # type: ignore[dict-item]  # is a dict
    try:
        made = read_as(Zone, zone)
    except ValidationError as error:
        faults.extend(_all(where, place, error))
        return []
    return [made] if len(faults) == before else []


def _read_rows(rows: list[Any], place: str, where: str, faults: list[Fault]) -> None:
    """Put records in place of the raw readings, batch by batch."""
    from pydantic import ValidationError

    rows_reader = reader(tuple[Reading, ...])
    for start in range(0, len(rows), _BATCH):
        try:
            rows[start : start + _BATCH] = rows_reader.validate_python(rows[start : start + _BATCH])
        except ValidationError as error:
            for fault in faults_of(error):
                number, _, rest = fault.where.partition(".")
                at = f"{place}.{start + int(number)}" if number.isdigit() else place
                faults.append(_named(where, f"{at}.{rest}" if rest else at, _reason(fault)))
        if len(faults) >= MOST_FAULTS:
            return


def _all(where: str, place: str, error: ValidationError) -> list[Fault]:
    return [_named(where, f.where, _reason(f)) for f in faults_of(error, place)]


def _named(where: str, place: str, reason: str) -> DamagedJob:
    return DamagedJob(f"{where}, {place or 'job'}", reason=reason, advice="")


def _reason(fault: Fault) -> str:
    return fault.sentence.removeprefix(f"{fault.where}: ").rstrip(".")


def _listed(where: str, faults: list[Fault]) -> Fault:
    if len(faults) == 1:
        return faults[0]
    if len(faults) <= MOST_FAULTS:
        return ManyFaults(tuple(faults))
    rest = DamagedJob(where, reason=f"{MOST_FAULTS} faults are shown; there are more", advice=KEPT)
    return ManyFaults((*faults[:MOST_FAULTS], rest))

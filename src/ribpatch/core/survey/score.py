"""Readings as damage scores, 0 sound to 1 bad, and how likely each is by state of the material.

Instruments that need a sound reference are judged only against this panel's own: without one they say nothing, and
nothing is invented. A reading of a later session takes the place of the same instrument's earlier one there. What a
plug or test cut showed outranks other readings beside it. Every default is a rule with its reason.
"""

from __future__ import annotations

from collections import deque
from itertools import pairwise
from math import hypot, nan
from typing import TYPE_CHECKING

import numpy as np
import shapely
from msgspec import Struct
from numpy.typing import NDArray

from ribpatch.core.geometry import Floats, Point
from ribpatch.core.memo import Rows, remembered
from ribpatch.core.readings import (
    GradedReading,
    Infrared,
    Moisture,
    Pin,
    Plug,
    Push,
    Reading,
    Sketch,
    Strike,
    Tap,
    TestCut,
    line_of,
)
from ribpatch.core.survey.likelihood import SILENT, STATES, Logs, kind_levels, level_logs, spreads_of, words_of
from ribpatch.core.survey.strikes import by_place, strike_says

if TYPE_CHECKING:
    from ribpatch.core.job import Survey
    from ribpatch.core.materials.shelf import Shelf

Bools = NDArray[np.bool_]
FEW_PAIRS = 200_000
# What of a survey its readings are judged by: not how sure one wants to be, what is drawn over it, nor its pictures.
READ = ("readings", "references", "sessions", "pitch")
KINDS = STATES[1:]


Group = tuple[str, str, str]  # instrument, session, who


class Scores(Struct, frozen=True, eq=False):
    """Scored readings, each array of shape (n,) unless said: x, y (m), score (0 to 1), log-likelihood by state (n, 4),
    number of a tap's word (-1 where it is none), level of a meter over its reference (nan where it has none), number of
    its group, and whether it outranks others. A group is what one person read with one instrument in one session.
    """

    x: Floats
    y: Floats
    score: Floats
    logs: Floats
    word: NDArray[np.intp]
    level: Floats
    group: NDArray[np.intp]
    rank: Floats
    ids: tuple[str, ...]
    groups: tuple[Group, ...]
    references: dict[str, float]  # instrument: mean of its marked readings
    left_out: int  # readings with no reference to judge them by, or whose word is unknown
    superseded: int  # read again there in a later session
    overruled: int  # contradicted by a plug or test cut beside them

    @property
    def kinds(self) -> Floats:
        """Of each kind of damage, its chance against sound by the reading alone, (n, 3); nan where it tells nothing."""
        return kind_levels(self.logs)

    @property
    def reference(self) -> float | None:
        """Mean of the moisture meter on sound places."""
        return self.references.get("moisture")


Judged = Moisture | Infrared | Push  # said only against a sound reference


def value_of(reading: Judged) -> float:
    """The number of a reading that is judged against a reference: its scale value, or stiffness in N/m."""
    return reading.force / reading.deflection if isinstance(reading, Push) else reading.value


@remembered(256, survey=("readings", "references"))
def references_of(survey: Survey) -> dict[str, float]:
    """Mean value of the readings marked as sound reference, by instrument; push in N/m."""
    marked = set(survey.references)
    found: dict[str, list[float]] = {}
    for reading in survey.readings:
        if reading.id in marked and isinstance(reading, Judged):
            found.setdefault(reading.kind, []).append(value_of(reading))
    return {kind: float(np.mean(values)) for kind, values in found.items()}


@remembered(24, survey=("readings", "references"))
def standards_of(survey: Survey) -> tuple[dict[str, float], tuple[Strike, ...]]:
    """What the readings of a survey are judged by: the references of its meters and the strikes marked as sound."""
    marked = set(survey.references)
    return references_of(survey), tuple(r for r in survey.readings if r.id in marked and isinstance(r, Strike))


@remembered(24, survey=("readings",))
def strikes_by_place(survey: Survey, shelf: Shelf) -> dict[str, tuple[float, ...]]:
    """The middle of the features of recorded taps at one place, by id; only where there are several."""
    # Not isinstance, which asks an abstract class and takes ten times as long over thousands of readings.
    strikes = (r for r in survey.readings if r.kind == "strike")
    return by_place(strikes, shelf.rule("place.size"))


def _clip(value: float) -> float:
    return min(1.0, max(0.0, value))


class Said(Struct, frozen=True):
    """What a reading says: its score, its log-likelihoods by state, its level over the reference (nan: has none)."""

    score: float
    logs: Logs
    level: float = nan


NOTHING = Said(nan, SILENT)
_Words = dict[tuple[str, str], Said]


@remembered(16)
def _words(shelf: Shelf) -> _Words:
    """What every word of every graded instrument says."""
    logs = words_of(shelf)
    return {
        (card.id, g.id): NOTHING if g.score is None else Said(g.score, logs[card.id, g.id])
        for card in shelf.instruments
        for g in card.grades
    }


def _plug(plug: Plug, words: _Words) -> Said:
    """The worst of what was seen in a plug; water, core and bond each speak for themselves."""
    parts = [words["plug", word] for word in (plug.water, plug.core, plug.bond)]
    logs = [sum(values) for values in zip(*(p.logs for p in parts), strict=True)]
    return Said(max(p.score for p in parts if p.score == p.score), (logs[0], logs[1], logs[2], logs[3]))


def _level_of(reading: Judged | Pin, reference: dict[str, float], shelf: Shelf) -> float | None:
    """The level over the sound reference in rises that count as bad; None where there is no reference."""
    if isinstance(reading, Pin):
        dry, wet = shelf.rule("pin.dry"), shelf.rule("pin.wet")
        return (reading.value - dry) / max(wet - dry, 1e-6)
    base = reference.get(reading.kind)
    if base is None:
        return None
    if isinstance(reading, Push):
        return (1 - value_of(reading) / base) / shelf.rule("push.loss")
    return (value_of(reading) - base) / shelf.rule(f"{reading.kind}.rise")


def _meter_says(reading: Judged | Pin, reference: dict[str, float], shelf: Shelf) -> Said:
    """What a meter or a push says; nothing where it needs a reference that is not there."""
    level = _level_of(reading, reference, shelf)
    return NOTHING if level is None else Said(_clip(level), level_logs(level, spreads_of(shelf)[reading.kind]), level)


Spoken = tuple[Reading, Point, Said]
_SPOKEN: Rows[Reading, tuple[Spoken, ...]] = Rows()


def _spoken(survey: Survey, shelf: Shelf) -> list[tuple[Spoken, ...]]:
    """Of every reading its places and what it says there; lines become points along them."""
    words, (references, known) = _words(shelf), standards_of(survey)
    several = strikes_by_place(survey, shelf)

    def said(reading: Reading) -> tuple[Spoken, ...]:
        if isinstance(reading, TestCut | Sketch):
            return tuple(_of_line(reading, words, shelf.rule("cut.step")))
        if isinstance(reading, GradedReading):
            says = words.get((reading.kind, reading.grade), NOTHING)
        elif isinstance(reading, Plug):
            says = _plug(reading, words)
        elif isinstance(reading, Strike):
            shared = several.get(reading.id)
            judged = strike_says(reading if shared is None else np.array(shared), known, shelf)
            says = NOTHING if judged is None else Said(*judged)
        else:
            says = _meter_says(reading, references, shelf)
        return ((reading, (reading.x, reading.y), says),)

    facts = (shelf, references, known, several)
    return _SPOKEN.of(survey.readings, facts, lambda readings: [said(r) for r in readings])


def _of_line(reading: TestCut | Sketch, words: _Words, step: float) -> list[Spoken]:
    line = line_of(reading)
    if isinstance(reading, TestCut):
        pairs = zip(pairwise(line), reading.states, strict=True)
        return [(reading, place, words["cut", state]) for (a, b), state in pairs for place in _along(a, b, step)]
    says = words.get(("sketch", reading.grade), NOTHING)
    further = [place for a, b in pairwise(line) for place in _along(a, b, 2 * step)[1:]]
    return [(reading, place, says) for place in (line[0], *further)]


def _along(a: Point, b: Point, step: float) -> list[Point]:
    """Points along a stretch, half a step in from its ends, so that a change of state falls between two."""
    count = max(1, round(hypot(b[0] - a[0], b[1] - a[1]) / step))
    share = (np.arange(count) + 0.5) / count
    return [(a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t) for t in share.tolist()]


@remembered(24, survey=READ)
def levels_of(survey: Survey, shelf: Shelf) -> dict[str, float]:
    """Damage score of each reading by id, at its first place; not there where it says nothing."""
    return {row[0][0]: row[0][2][SCORE] for row in _rows(survey, shelf) if row}


# Of one place where a reading speaks: its id, its group, and the numbers of the table.
Row = tuple[tuple[str, Group, tuple[float, ...]], ...]
_ROWS: Rows[tuple[Spoken, ...], Row] = Rows()
X, Y, SCORE, GROUP, RANK, SESSION, WORD, LEVEL = range(8)
LOGS = slice(8, 12)
_COLUMNS = 12


def _rows(survey: Survey, shelf: Shelf) -> list[Row]:
    """Of every reading its rows, with the columns named above; the group's number is set later."""
    order = {session.id: n for n, session in enumerate(survey.sessions, 1)}
    ranks = {card.id: card.rank for card in shelf.instruments}
    tap = {g.id: n for n, g in enumerate(g for g in shelf.instrument("tap").grades if g.says is not None)}

    def row(spoken: tuple[Spoken, ...]) -> Row:
        r = spoken[0][0]
        word = tap.get(r.grade, -1) if isinstance(r, Tap) else -1
        told = (0.0, ranks[r.kind], order.get(r.session, 0), word)
        return tuple(
            (r.id, (r.kind, r.session, r.who), (x, y, s.score, *told, s.level, *s.logs))
            for _, (x, y), s in spoken
            if s.score == s.score
        )

    return _ROWS.of(tuple(_spoken(survey, shelf)), (shelf, order), lambda some: [row(s) for s in some])


class Tabled(Struct, frozen=True, eq=False):
    """The rows of a survey as one table, shape (n, 12), with the reading of each and the numbers of its groups."""

    rows: list[Row]
    ids: list[str]
    groups: dict[Group, int]
    table: Floats


_TABLED: deque[Tabled] = deque(maxlen=3)  # the last ones: a survey with readings more goes on from the one without


def _tabled(rows: list[Row]) -> Tabled:
    begun = [t for t in tuple(_TABLED) if rows[: len(t.rows)] == t.rows]
    before = max(begun, key=lambda t: len(t.rows), default=None)
    known = before.rows if before is not None else []
    groups = dict(before.groups) if before is not None else {}
    new = [place for row in rows[len(known) :] for place in row]
    numbers = np.array([place[2] for place in new], dtype=float).reshape(-1, _COLUMNS)
    numbers[:, GROUP] = [groups.setdefault(name, len(groups)) for _, name, _ in new]
    ids = [identity for identity, _, _ in new]
    if before is not None:
        ids, numbers = [*before.ids, *ids], np.concatenate([before.table, numbers])
    made = Tabled(rows, ids, groups, numbers)
    _TABLED.appendleft(made)
    return made


@remembered(24, survey=READ)
def scores_of(survey: Survey, shelf: Shelf) -> Scores:
    """Score every reading of a survey."""
    rows = _rows(survey, shelf)
    left_out = sum(not row for row in rows)
    made = _tabled(rows)
    table, ids, groups = made.table, made.ids, made.groups
    kept, superseded = _latest(table, list(groups), survey.one_place, len(survey.sessions))
    overruled = _overruled(table, kept, shelf.rule("plug.reach"), shelf.rule("plug.contradicts"))
    kept &= ~overruled
    t = table[kept]
    return Scores(
        t[:, X],
        t[:, Y],
        t[:, SCORE],
        t[:, LOGS],
        t[:, WORD].astype(np.intp),
        t[:, LEVEL],
        t[:, GROUP].astype(np.intp),
        t[:, RANK],
        tuple(i for i, k in zip(ids, kept.tolist(), strict=True) if k),
        tuple(groups),
        references_of(survey),
        left_out,
        superseded,
        int(overruled.sum()),
    )


def _close(these: Floats, those: Floats, within: float) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """Index pairs of places (n, 2) and (m, 2) that lie within a distance in m of each other."""
    if len(these) * len(those) < FEW_PAIRS:  # cheaper than making points and a tree of them
        apart = (these[:, None, 0] - those[None, :, 0]) ** 2 + (these[:, None, 1] - those[None, :, 1]) ** 2
        left, right = np.nonzero(apart <= within**2)
        return left, right
    made = np.asarray(shapely.points(those), dtype=object)
    found = shapely.STRtree(list(made)).query(shapely.points(these), predicate="dwithin", distance=within)
    return found[0], found[1]


def _latest(table: Floats, groups: list[Group], near: float, sessions: int) -> tuple[Bools, int]:
    """Which rows stand: not those that the same instrument read again within ``near`` m in a later session."""
    kept = np.ones(len(table), dtype=bool)
    if sessions < 2 or len(table) < 2:
        return kept, 0
    names = {name: n for n, name in enumerate(dict.fromkeys(g[0] for g in groups))}
    instrument = np.array([names[groups[int(g)][0]] for g in table[:, GROUP]])
    left, right = _close(table[:, :2], table[:, :2], near)
    again = (instrument[left] == instrument[right]) & (table[right, SESSION] > table[left, SESSION])
    kept[left[again]] = False
    return kept, int((~kept).sum())


def _overruled(table: Floats, kept: Bools, reach: float, more: float) -> Bools:
    """Rows that a plug or test cut within ``reach`` m contradicts by more than ``more`` of the score."""
    out = np.zeros(len(table), dtype=bool)
    seen = np.flatnonzero((table[:, RANK] > 0) & kept)
    others = np.flatnonzero((table[:, RANK] == 0) & kept)
    if seen.size == 0 or others.size == 0:
        return out
    found, by = _close(table[others, :2], table[seen, :2], reach)
    against = np.abs(table[others[found], SCORE] - table[seen[by], SCORE]) > more
    out[others[found[against]]] = True
    return out

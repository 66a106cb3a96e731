"""Several surveys of one place over time: what each session read, what changed between two, and how places dry.

Drying is first order: y(t) = reference + A exp(-k t). Over a grid of half-lives each with its best A (its spread by
linear regression) the readings weigh every half-life; the forecast is the weighted spread of the day on which the place
comes within a stated distance of the reference. A share of the prior says that it does not dry at all. Source: [14].
"""

from __future__ import annotations

from datetime import date, datetime, timedelta
from math import floor
from typing import TYPE_CHECKING, Literal

import numpy as np
from msgspec import Struct

from ribpatch.core.dates import long_day, short_day
from ribpatch.core.memo import remembered
from ribpatch.core.normal import NODES
from ribpatch.core.numerals import fixed
from ribpatch.core.readings import Moisture, Pin
from ribpatch.core.record import evolve
from ribpatch.core.survey.field import Field, field_of
from ribpatch.core.survey.score import references_of
from ribpatch.core.units import System, place_words

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats, Point, Ring
    from ribpatch.core.job import Survey
    from ribpatch.core.materials.shelf import Shelf

HALF_LIVES = np.geomspace(1.0, 3000.0, 160)  # days
Word = Literal["dry", "drying", "not drying", "too few dates"]


@remembered(128)
def only_session(survey: Survey, session: str) -> Survey:
    """The survey with the readings of one session only; references of other sessions stay to judge them by."""
    marked = set(survey.references)
    kept = tuple(r for r in survey.readings if r.session == session or r.id in marked)
    return evolve(survey, readings=kept, drawn=None)


@remembered(64)
def change_between(survey: Survey, first: str, second: str, outline: Ring, shelf: Shelf) -> tuple[Field, Floats] | None:
    """Chance of damage after the second session less that after the first on a grid, nan where either says nothing;
    None without both.
    """
    old, new = (field_of(only_session(survey, s), outline, shelf) for s in (first, second))
    if old is None or new is None:
        return None
    unseen = (old.doubt > 0.9) | (new.doubt > 0.9)
    return new, np.where(unseen, np.nan, new.chance - old.chance)


class Drying(Struct, frozen=True, eq=False):
    """How one place dries: days since its first reading and scale points over the reference, each (n,), and the
    forecast.

    ``height`` is the fitted excess at the first reading, ``half_life`` in days; ``still`` the chance that it does not
    dry.

    ``dates`` are the days at which it has come within reach of the reference with one chance in ten, one in two, nine
    in ten; None where it does not get there in the time that the method covers.
    """

    at: Point
    kind: str
    begun: date
    days: Floats
    over: Floats
    says: Word
    still: float
    half_life: float
    height: float
    dates: tuple[date | None, date | None, date | None]


def fitted(curve: Drying, days: Floats) -> Floats:
    """The fitted excess over the reference at days since the first reading, scale points; level where it does not
    dry.
    """
    if curve.says == "not drying":
        return np.full(days.shape, float(curve.over.mean()))
    return np.asarray(curve.height * 0.5 ** (days / curve.half_life))


def moment_of(survey: Survey, reading: Moisture | Pin) -> datetime | None:
    """When a reading was taken: its own time, else its session's date."""
    text = reading.at or next((s.date for s in survey.sessions if s.id == reading.session), "")
    return datetime.fromisoformat(text).replace(tzinfo=None) if text else None


@remembered(128)
def drying_curves(survey: Survey, shelf: Shelf) -> tuple[Drying, ...]:
    """The drying of every place that a meter read on more than one day and that was wet at first."""
    dated_sessions = {s.id for s in survey.sessions if s.date}
    marked = set(survey.references)
    dated = [
        (moment, r)
        for r in survey.readings
        if (r.at or r.session in dated_sessions)
        and isinstance(r, Moisture | Pin)
        and r.id not in marked
        and (moment := moment_of(survey, r)) is not None
    ]
    if len({moment.date() for moment, _ in dated}) < 2:
        return ()
    base: dict[str, float] = {**references_of(survey), "pin": shelf.rule("pin.dry")}
    curves = (
        forecast(group, base[group[0][1].kind], shelf)
        for group in _by_place(dated, survey.one_place)
        if group[0][1].kind in base and len({m.date() for m, _ in group}) > 1
    )
    return tuple(c for c in curves if c.over[0] > shelf.rule("drying.within"))


Dated = tuple[datetime, Moisture | Pin]


def _by_place(dated: list[Dated], near: float) -> list[list[Dated]]:
    """Readings of one instrument within ``near`` m of the first one there, in order of time."""
    groups: list[list[Dated]] = []
    # Groups by the square of side ``near`` that their first reading lies in: only the nine about a place can hold its
    # own.
    squares: dict[tuple[str, int, int], list[list[Dated]]] = {}
    for moment, reading in sorted(dated, key=lambda row: (row[0], row[1].id)):
        i, j = floor(reading.x / near), floor(reading.y / near)
        about = ((reading.kind, i + di, j + dj) for di in (-1, 0, 1) for dj in (-1, 0, 1))
        group = next((g for s in about for g in squares.get(s, ()) if _same_place(g[0][1], reading, near)), None)
        if group is None:
            group = []
            groups.append(group)
            squares.setdefault((reading.kind, i, j), []).append(group)
        group.append((moment, reading))
    return groups


def _same_place(a: Moisture | Pin, b: Moisture | Pin, near: float) -> bool:
    return (a.x - b.x) ** 2 + (a.y - b.y) ** 2 <= near**2


def forecast(group: list[Dated], reference: float, shelf: Shelf) -> Drying:
    """The forecast of one place from its dated readings, in order of time."""
    start = group[0][0]
    days = np.array([(m - start).total_seconds() / 86400 for m, _ in group])
    over = np.array([r.value - reference for _, r in group])
    scatter, within = shelf.rule("drying.scatter"), shelf.rule("drying.within")
    first = group[0][1]
    weight, size, spread = _weights(days, over, scatter, shelf.rule("drying.still"))
    slow = shelf.rule("drying.slow")
    still = float(weight[-1] + weight[:-1][slow < HALF_LIVES].sum())
    known = weight[:-1] / max(weight[:-1].sum(), 1e-12)
    half = float(np.exp((known * np.log(HALF_LIVES)).sum()))
    decay = 0.5 ** (days / half)
    height = float((decay * over).sum() / (decay**2).sum())
    if over[-1] <= within:
        says: Word = "dry"
    elif days[-1] < 1:
        says = "too few dates"
    else:
        says = "not drying" if still > 0.5 else "drying"
    dates = _dates(start.date(), weight, size, spread, within) if says == "drying" else (None, None, None)
    return Drying((first.x, first.y), first.kind, start.date(), days, over, says, still, half, height, dates)


def _weights(days: Floats, over: Floats, scatter: float, still: float) -> tuple[Floats, Floats, Floats]:
    """Posterior weight of each half-life (the last entry: none at all), with A's mean and deviation for each, (m +
    1,).
    """
    rate = np.append(np.log(2) / HALF_LIVES, 0.0)
    shape = np.exp(-rate[:, None] * days)
    vague = 1 / 100.0**2  # A is somewhere within a meter's scale
    inner = (shape**2).sum(axis=1) / scatter**2 + vague
    size = (shape @ over) / scatter**2 / inner
    misfit = ((over - size[:, None] * shape) ** 2).sum(axis=1) / scatter**2 + vague * size**2
    fit = -0.5 * misfit - 0.5 * np.log(inner)
    prior = np.append(np.full(HALF_LIVES.size, (1 - still) / HALF_LIVES.size), still)
    weight = prior * np.exp(fit - fit.max())
    return weight / weight.sum(), size, 1 / np.sqrt(inner)


def _dates(
    start: date, weight: Floats, size: Floats, spread: Floats, within: float
) -> tuple[date | None, date | None, date | None]:
    """Days with one chance in ten, one in two, nine in ten that the place has come within reach of the reference."""
    times: list[Floats] = []
    shares: list[Floats] = []
    for node, share in NODES:
        height = np.maximum(size[:-1] + node * spread[:-1], within)
        times.append(HALF_LIVES / np.log(2) * np.log(height / within))
        shares.append(weight[:-1] * share)
    at, mass = np.concatenate(times), np.concatenate(shares)
    order = np.argsort(at)
    gone = np.cumsum(mass[order])

    def day(chance: float) -> date | None:
        index = int(np.searchsorted(gone, chance))
        return start + timedelta(days=float(at[order][index])) if index < at.size else None

    return day(0.1), day(0.5), day(0.9)


def drying_words(curve: Drying, system: System = "metric") -> str:
    """One place's drying in a line."""
    place = place_words(curve.at, system)
    told = (
        f"{place}: {curve.over[0]:+.0f} to {curve.over[-1]:+.0f} over the reference in {fixed(curve.days[-1], 0)} days"
    )
    early, middle, late = curve.dates
    if curve.says == "dry":
        return f"{told}; at the reference."
    if curve.says == "not drying":
        return f"{told}; not drying: look for the source."
    if middle is None:
        return f"{told}; too few dates to say."
    span = (
        f"{short_day(early.isoformat())} to {long_day(late.isoformat())}, 4 in 5"
        if early and late
        else f"from {short_day(early.isoformat())}, open end"
        if early
        else ""
    )
    return f"{told}; at the reference about {long_day(middle.isoformat())}" + (f" ({span})." if span else ".")


def latest_session(survey: Survey) -> str:
    """The session that new readings belong to: the last one begun, or none."""
    return survey.sessions[-1].id if survey.sessions else ""


def read_in(survey: Survey, session: str) -> int:
    """How many readings a session holds; a test cut is one."""
    return sum(r.session == session for r in survey.readings)

"""What can be added to a repair so that it carries more: what each does, and how much of it a check wants.

Each remedy is a scheme like the chosen one but for what it adds, worked out whole: stiffness, weight, cost, hours.
"""

from __future__ import annotations

from math import pi
from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.figure import FigureBook, Given, Origin
from ribpatch.core.geometry import polygon_of
from ribpatch.core.hours import worked_hours
from ribpatch.core.memo import remembered
from ribpatch.core.numerals import fixed
from ribpatch.core.plan import zone_plan
from ribpatch.core.record import built, evolve, evolve_in, known
from ribpatch.core.scheme import MadePart, Member, Scheme, StackLine, Timber
from ribpatch.core.table import Row, Table
from ribpatch.core.units import Kind, Measure, shown, usual

if TYPE_CHECKING:
    from collections.abc import Callable

    from ribpatch.core.job import Zone
    from ribpatch.core.structure.proved import Check, Proved
    from ribpatch.core.structure.run import RunModel
    from ribpatch.core.units import System
    from ribpatch.core.zone_plan import ZonePlan

STRIP = "strip"  # the part that is laid beside a run
STRIPS = tuple(range(1, 9))  # strips of the scheme's plies on one another
BEAMS = tuple(n * 1e-3 for n in (45, 70, 95, 120, 145, 170, 195, 220))  # heights of timber, m
PLIES = tuple(range(1, 13))
CORES = tuple(n * 1e-3 for n in (2, 4, 6, 8, 10, 12, 15, 18, 21, 25, 30, 35, 40))
HEIGHTS = tuple(n * 1e-3 for n in (20, 30, 40, 50, 60, 75, 90, 110, 130, 160, 200, 250))
NAMES = ("core", "plies", "other-core", "cap", "stiffener", "knee", "knees", "sister", "post")


class Way(Struct, frozen=True):
    """A way to strengthen: its key and name, the amounts to try (more is stiffer), and the scheme that an amount
    makes.
    """

    key: str
    name: Callable[[float, System], str]
    amounts: tuple[float, ...]
    make: Callable[[float], Scheme]
    usual: float


class Remedy(Struct, frozen=True, eq=False):
    """One remedy, worked out."""

    key: str
    name: str
    scheme: Scheme
    made: ZonePlan


def ways_of(made: ZonePlan) -> tuple[Way, ...]:
    """The ways that fit a zone."""
    zone, scheme = made.zone, made.zone.scheme
    found: list[Way] = []
    strength = made.strength
    if zone.is_beam:
        return _run_ways(made)
    if zone.is_run or strength.fault or strength.proved is None or not scheme.laminate.plies:
        return ()
    found.append(Way("plies", _plies_name, PLIES, lambda n: _with_plies(scheme, int(n)), 2))
    if zone.build.core is not None and not scheme.access.part_depth:
        found.append(Way("core", _sized("core {} thicker"), CORES, lambda d: _with_core(zone, d), 0.006))
        other = _stiffer_core(made)
        if other:
            name = made.shelf.core(other).name
            found.append(Way("other-core", lambda _a, _s: name, (0.0,), lambda _a: _other_core(zone, other), 0.0))
    if zone.kind == "transom":
        found.append(Way("cap", _sized("cap on the top edge, {} deep"), HEIGHTS, lambda h: _with_cap(made, h), 0.06))
        found.append(Way("knee", _sized("one knee, {} deep"), HEIGHTS, lambda h: _with_knees(made, h, 1), 0.2))
        found.append(Way("knees", _sized("two knees, {} deep"), HEIGHTS, lambda h: _with_knees(made, h, 2), 0.2))
    else:
        found.append(
            Way("stiffener", _sized("hat stiffener, {} high"), HEIGHTS, lambda h: _with_stiffener(made, h), 0.06)
        )
    return tuple(found)


def _run_ways(made: ZonePlan) -> tuple[Way, ...]:
    """What a run can be carried by besides like for like: more plies, a strip beside it, a beam on posts."""
    scheme, run = made.zone.scheme, None if made.strength.fault else made.strength.run
    if run is None:
        return ()
    found: list[Way] = []
    if scheme.laminate.plies:
        found.append(Way("plies", _plies_name, PLIES, lambda n: _with_plies(scheme, int(n)), 2))
        name = _sized("strip beside it, {} more" if scheme.support.sister is not None else "strip beside it, {} thick")
        one = round(max(made.patch.stack.thickness, 1e-3), 6)
        strips = tuple(one * n for n in STRIPS)
        found.append(Way("sister", name, strips, lambda t: _with_sister(made, t, round(t / one)), strips[0]))
    if scheme.support.post is None:
        name = _sized("beam on posts, of timber {} high")
        found.append(Way("post", name, BEAMS, lambda h: _with_post(made, h), 0.145))
    return tuple(found)


def _with_sister(made: ZonePlan, thickness: float, strips: int) -> Scheme:
    """The scheme with more strips of its own plies beside the run, and with them as parts to be laid."""
    scheme, run = made.zone.scheme, made.strength.run
    assert run is not None
    web = next(p for p in run.kept.parts if p.name in ("webs", "web"))
    part = known(
        MadePart,
        id=STRIP,
        name="strip beside the run, laid",
        kind="backing plate",
        length=usual(round(run.span, 4)),
        width=usual(round(max(web.height, 0.02), 4)),
        count=strips + sum(p.count for p in scheme.parts if p.id == STRIP),
        plies=scheme.laminate.plies,
    )
    others = tuple(p for p in scheme.parts if p.id != STRIP)
    there = scheme.support.sister.si if scheme.support.sister is not None else 0.0
    support = evolve(scheme.support, sister=Measure(si=round(min(there + thickness, 0.2), 6)))
    return evolve(scheme, support=support, parts=(*others, part))


def _with_post(made: ZonePlan, height: float) -> Scheme:
    """The scheme with a timber beam on posts under the place that gives most; posts stand firm."""
    run = made.strength.run
    assert run is not None
    answer = run.answers[run.states[-1]]
    low, high = 0.05 * run.span, 0.95 * run.span
    place = run.start + min(max(float(answer.x[int(abs(answer.w).argmax())]), low), high)
    timber = built(Timber, height=Measure(si=height))
    support = evolve(made.zone.scheme.support, post=round(place, 4), timber=timber)
    return evolve(made.zone.scheme, support=support)


def _plies_name(n: float, system: System) -> str:
    return f"{n:.0f} more {'ply' if n == 1 else 'plies'}"


def _sized(words: str) -> Callable[[float, System], str]:
    """A name with its amount as a size in it."""
    return lambda size, system: words.format(shown(size, Kind.SIZE, system))


def _with_plies(scheme: Scheme, count: int) -> Scheme:
    """The chosen scheme with more plies of its last fabric."""
    last = [line for line in scheme.laminate.plies if isinstance(line, StackLine)]
    fabric = last[-1].fabric if last else next(iter(scheme.laminate.plies)).lines[-1].fabric  # type: ignore[union-attr]  # a Repeat
    angle = last[-1].angle if last else 0.0
    more = StackLine(fabric=fabric, count=count, angle=angle)
    return evolve_in(scheme, "laminate", plies=(*scheme.laminate.plies, more))


def _with_core(zone: Zone, more: float) -> Scheme:
    core, old = zone.scheme.core, zone.build.core
    assert old is not None
    thickness = core.thickness.si if core.thickness is not None and core.material is not None else old.thickness.si
    material = core.material or old.core
    return evolve_in(zone.scheme, "core", material=material, thickness=Measure(si=round(thickness + more, 6)))


def _stiffer_core(made: ZonePlan) -> str:
    """The core of the shelf that is stiffest in shear, where it is not chosen already."""
    zone = made.zone
    now = zone.scheme.core.material or (zone.build.core.core if zone.build.core is not None else "")
    best = max((c for c in made.shelf.cores if not c.poured), key=lambda c: c.shear_modulus)
    return best.id if best.id != now and best.shear_modulus > made.shelf.core(now).shear_modulus else ""


def _other_core(zone: Zone, core: str) -> Scheme:
    return evolve_in(_with_core(zone, 0.0), "core", material=core)


def _member(made: ZonePlan, **stated: object) -> Member:
    """A stiffener of the scheme's own plies."""
    wall = max(made.patch.stack.thickness, 0.002)
    return built(Member, **{"wall": Measure(si=round(wall, 5)), **stated})


def _with_members(made: ZonePlan, members: tuple[Member, ...], kind: str) -> Scheme:
    """The scheme with stiffeners, and with what they are made of as made parts: laid flat, as wide as they unfold."""
    scheme = made.zone.scheme
    x0, y0, x1, y1 = polygon_of(made.zone.outline).bounds
    parts = []
    for member in members:
        low, high = (x0, x1) if member.axis == "x" else (y0, y1)
        length = (member.end if member.end is not None else high) - (member.start if member.start is not None else low)
        wide = member.height.si + member.width.si / 2 + member.flange.si
        part = known(
            MadePart,
            id=f"{member.id}p",
            name=f"{member.name}, laid",
            kind="knee" if kind == "knee" else "angle",
            length=usual(round(length, 4)),
            width=usual(round(max(wide, 0.02), 4)),
            depth=usual(round(member.width.si if kind == "knee" else max(wide, 0.02), 4)),
            plies=scheme.laminate.plies,
        )
        parts.append(part)
    return evolve(scheme, members=(*scheme.members, *members), parts=(*scheme.parts, *parts))


def _free_id(made: ZonePlan, n: int) -> str:
    taken = {m.id for m in (*made.zone.scheme.members, *made.zone.proof.members)}
    taken |= {p.id.removesuffix("p") for p in made.zone.scheme.parts}
    return [f"m{k}" for k in range(1, 60) if f"m{k}" not in taken][n]


def _with_stiffener(made: ZonePlan, height: float) -> Scheme:
    """A hat across the shorter held span, through the place that gives most."""
    proved = made.strength.proved
    assert proved is not None
    panel = proved.panel
    peak = max((f.peak("w") for f in proved.fields("repaired")), key=lambda p: abs(p.value))
    axis = "y" if panel.b <= panel.a else "x"
    place = panel.x0 + peak.x if axis == "y" else panel.y0 + peak.y
    h = Measure(si=height)
    member = _member(made, id=_free_id(made, 0), name="hat stiffener", axis=axis, place=round(place, 4), height=h)
    return _with_members(made, (member,), "hat")


def _with_cap(made: ZonePlan, depth: float) -> Scheme:
    """A doubler along the top edge, as deep as it stands off."""
    proved = made.strength.proved
    assert proved is not None
    panel = proved.panel
    member = _member(
        made,
        id=_free_id(made, 0),
        name="cap",
        kind="box",
        axis="x",
        place=round(panel.y0 + panel.b, 4),
        height=Measure(si=depth),
        flange=Measure(si=0.0),
    )
    return _with_members(made, (member,), "cap")


def _with_knees(made: ZonePlan, depth: float, count: int) -> Scheme:
    """Knees from the bottom up to the clamp: one behind the middle of the engine, or one each side of it."""
    from ribpatch.core.structure.transom import clamp_box

    proved, engine = made.strength.proved, made.zone.proof.engine
    assert proved is not None
    panel = proved.panel
    if engine is not None:
        box = clamp_box(engine, panel)
        places, top = ((box.x0, box.x1) if count == 2 else ((box.x0 + box.x1) / 2,)), box.y1
    else:
        places, top = ((panel.a / 3, 2 * panel.a / 3) if count == 2 else (panel.a / 2,)), panel.b * 0.8
    members = tuple(
        _member(
            made,
            id=_free_id(made, n),
            name=f"knee {n + 1}" if count == 2 else "knee",
            kind="knee",
            axis="y",
            place=round(panel.x0 + x, 4),
            start=round(panel.y0, 4),
            end=round(panel.y0 + top, 4),
            height=Measure(si=depth),
            width=Measure(si=0.04),
        )
        for n, x in enumerate(places)
    )
    return _with_members(made, members, "knee")


@remembered(24)
def worked(made: ZonePlan, scheme: Scheme) -> ZonePlan:
    """The zone as it would be with another scheme."""
    return zone_plan(evolve(made.zone, scheme=scheme, others=()), made.air, made.boat, made.shelf)


@remembered(8)
def remedies_of(made: ZonePlan, system: System) -> tuple[Remedy, ...]:
    """Every way at its usual amount, worked out."""
    found = []
    for way in ways_of(made):
        scheme = way.make(way.usual)
        found.append(Remedy(way.key, way.name(way.usual, system), scheme, worked(made, scheme)))
    return tuple(found)


def remedy_table(made: ZonePlan, system: System) -> Table | None:
    """What each remedy does to deflection, the least margin, weight, cost and hours."""
    model = _judged(made)
    if model is None or (not made.zone.is_beam and "repaired" not in model.states):
        return None
    rows = [_row(made, Remedy("now", "as planned", made.zone.scheme, made), system)]
    rows += [_row(made, r, system) for r in remedies_of(made, system)]
    note = "Each is a scheme like the chosen one but for what it adds; weight, cost and hours are differences."
    columns = ("remedy", "deflection", "least margin", "weight", "cost", "hours")
    return Table(columns, tuple(rows), note, "Begin as a scheme")


def _judged(made: ZonePlan) -> Proved | RunModel | None:
    """The panel or the run that remedies are for; None where there is none or it cannot be worked out."""
    strength = made.strength
    return None if strength.fault else strength.proved or strength.run


def _checks_of(made: ZonePlan) -> tuple[Check, ...]:
    """What the repair comes to; of a run that nothing is done to, what is left of it."""
    model = _judged(made)
    return model.checks_in(model.states[-1]) if model is not None else ()


def _row(made: ZonePlan, remedy: Remedy, system: System) -> Row:
    other = remedy.made
    checks = _checks_of(other)
    if not checks:
        return Row(remedy.key, (remedy.name, "–", "–", "–", "–", "–"), "warn", other.strength.fault)
    book = FigureBook(f"{made.zone.id}.remedy.{remedy.key}")
    given = (Given("remedy", remedy.name, None, Origin.WORKED),)
    worst = min((c for c in checks if not c.local), key=lambda c: c.margin, default=checks[0])
    cells: list[object] = [remedy.name]
    gives = [c for c in checks if c.key.startswith("deflection")]
    if gives:
        most = max(gives, key=lambda c: abs(c.value))
        cells.append(book.add("deflection", f"deflection, {most.case}", abs(most.value), Kind.SIZE, most.method, given))
    else:
        cells.append("–")
    cells.append(book.add("margin", f"least margin: {worst.name}", worst.margin, Kind.FACTOR, "limit ÷ value", given))
    for key, kind in (("weight.net", Kind.MASS), ("cost.total", Kind.MONEY)):
        a, b = other.figure(key), made.figure(key)
        more = a.value - b.value if a is not None and b is not None else 0.0
        name = key.replace(".", " ")
        cells.append(book.add(key, name + ", more than planned", more, kind, "with the remedy − without", given))
    hours = worked_hours(other) - worked_hours(made)
    cells.append(book.add("hours", "hours, more than planned", hours, Kind.HOURS, "with − without", given))
    mark = "chosen" if remedy.key == "now" else "warn" if worst.margin < 1 else ""
    return Row(remedy.key, tuple(cells), mark, f"least: {worst.name}")  # type: ignore[arg-type]  # words and figures


class Answer(Struct, frozen=True, eq=False):
    """How much of one way brings a check to 1.0: the scheme that does, or that none tried does."""

    way: str
    words: str
    margin: float
    scheme: Scheme | None


@remembered(16)
def ask_back(made: ZonePlan, check: str, system: System) -> tuple[Answer, ...]:
    """What must be added to bring a check to 1.0, by every way that fits: the least amount that does."""
    if check == "washer":
        return _plates(made, system)
    return tuple(_least(made, way, check, system) for way in ways_of(made))


def _plates(made: ZonePlan, system: System) -> tuple[Answer, ...]:
    """Plates under the bolts, as wide as the core wants them."""
    proved = made.strength.proved
    found = next((c for c in proved.checks_in(proved.states[-1]) if c.key == "washer"), None) if proved else None
    engine = made.zone.proof.engine
    if found is None or engine is None:
        return ()
    area = (engine.washer.si**2 - engine.bolt.si**2) / max(found.margin, 1e-9)
    wide = (area + engine.bolt.si**2) ** 0.5
    square = (pi / 4 * area + pi / 4 * engine.bolt.si**2) ** 0.5
    bolts = max(engine.bolts // 2, 1)
    one = (bolts * pi / 4 * area) ** 0.5
    rows = (
        ("washers", f"washers {shown(wide, Kind.SIZE, system)} across (1.00)"),
        ("plates", f"square plates of {shown(square, Kind.SIZE, system)} under each upper bolt (1.00)"),
        ("plate", f"one stiff plate under all upper bolts, as much as {shown(one, Kind.SIZE, system)} square (1.00)"),
    )
    return tuple(Answer(key, words, 1.0, None) for key, words in rows)


def _least(made: ZonePlan, way: Way, check: str, system: System) -> Answer:
    """Halve the amounts until the least that reaches 1.0 is found."""

    def margin(n: int) -> float:
        checks = _checks_of(worked(made, way.make(way.amounts[n])))
        found = next((c for c in checks if c.key == check), None)
        return found.margin if found is not None else 0.0

    last = len(way.amounts) - 1
    best = margin(last)
    if best < 1:
        return Answer(way.key, f"{way.name(way.amounts[last], system)}: not enough ({fixed(best, 2)})", best, None)
    low, high = 0, last
    while low < high:
        middle = (low + high) // 2
        if margin(middle) >= 1:
            high = middle
        else:
            low = middle + 1
    reached = margin(high)
    name = way.name(way.amounts[high], system)
    return Answer(way.key, f"{name} ({fixed(reached, 2)})", reached, way.make(way.amounts[high]))

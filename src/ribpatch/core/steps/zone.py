"""The steps of a zone's repair, from its scheme: what each takes, who may do it, what it waits for and why.

Hours are those of all people together, s. Waits name a mark of the resin that is waited for: its own times at 25 degC
go by the clock of the shed.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol

from shapely.geometry import Point

from ribpatch.core.patch.bonding.protocol import sittings
from ribpatch.core.patch.coring.work import core_work
from ribpatch.core.proof import Proof
from ribpatch.core.record import known
from ribpatch.core.resin.cure import time_factor
from ribpatch.core.steps.maker import CARRYING, Maker, on_top
from ribpatch.core.steps.records import COAT, StepRow, Until, ZoneSteps
from ribpatch.core.supply.areas import bedded_area, covered_area, plied_area
from ribpatch.core.supply.coats import ACTIVATION, WINDOWS_AT, fairing_share, pinhole_time
from ribpatch.core.text import together

if TYPE_CHECKING:
    from shapely.geometry import MultiPolygon

    from ribpatch.core.figure import Figure
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.made_parts import PartMade
    from ribpatch.core.patch.repair import Patch
    from ribpatch.core.supply.needs import Needs
    from ribpatch.core.survey.sessions import Drying

ROUNDS = 8  # of one coat that are told apart
LEFT_WET = 1e-4  # m2 of the extent that the cut leaves, over which what stays wet must dry
GEL = "the prime coat must not gel first"
SOAKED = 0.6  # of fairing's hours that go into putty, the rest into sanding


class Worked(Protocol):
    """What is worked out of a zone, as far as its steps follow from it."""

    @property
    def zone(self) -> Zone:
        """The zone as stated."""
        ...

    @property
    def patch(self) -> Patch:
        """The geometry of its repair."""
        ...

    @property
    def needs(self) -> Needs:
        """What the repair uses."""
        ...

    @property
    def parts(self) -> tuple[PartMade, ...]:
        """The made parts."""
        ...

    @property
    def drying(self) -> tuple[Drying, ...]:
        """The drying of each place."""
        ...

    @property
    def shelf(self) -> Shelf:
        """Materials and rules."""
        ...

    def figure(self, key: str) -> Figure | None:
        """A figure by its key."""


def steps_of(made: Worked) -> ZoneSteps:
    """The steps of a zone; none where nothing is cut, laid or finished."""
    m = Maker(made)
    if made.patch.cut.region.is_empty and not made.patch.outlines and not made.needs.coats:
        return ZoneSteps((), ())
    _opened(m)
    _rebuilt(m)
    _faired(m)
    _joined(m)
    _finished(m)
    return ZoneSteps((*m.aside, *m.rows), tuple(m.waits))


def _opened(m: Maker) -> None:
    made, patch, shelf = m.made, m.made.patch, m.shelf
    area = patch.cut.region.area
    if not area:
        return
    m.then("strip", 1, shelf.rule("strip.hours") * 3600)
    if patch.through:
        m.then("open", patch.cut.region.length, why="what carries is supported first")
    days, until = drying(made)
    if days or until:
        why = f"by its readings dry about {until}" if until else "a wet core holds no bond: read it again"
        m.then("dry", days, waits=days * 86_400, until=until, why=why)
    grinding = made.figure("taper.hours")
    if grinding is not None and grinding.value > 0:
        m.then("grind", 1, grinding.value, why="the taper is ground into dry, sound laminate")


def drying(made: Worked) -> tuple[float, str]:
    """How long a wet zone dries once it is open, days, or the day on which its slowest place will pass: as likely as
    not, by its curve. Nothing where it is dry, or where all that is wet is cut out: only what stays must dry.
    """
    gone = _taken_out(made)
    days = [
        c.dates[1]
        for c in made.drying
        if c.says == "drying" and c.dates[1] is not None and not (gone and gone.contains(Point(c.at)))
    ]
    if days:
        return 0.0, max(days).isoformat()
    wet = made.figure("extent.wet")
    stays = gone is None or made.patch.cut.missed > LEFT_WET
    if wet is None or wet.value <= 0 or made.patch.part_depth or not stays:
        return 0.0, ""
    return made.shelf.rule("drying.usual"), ""


def _taken_out(made: Worked) -> MultiPolygon | None:
    """Where all that can hold water is cut out: core and skin, or the whole of a solid laminate."""
    whole = made.needs.core is not None or made.zone.build.core is None
    return made.patch.cut.region if whole and made.patch.through else None


def _rebuilt(m: Maker) -> None:
    made, patch, shelf, scheme = m.made, m.made.patch, m.shelf, m.zone.scheme
    new = made.needs.core is not None
    bedded, plied = bedded_area(m.zone, patch, new), plied_area(m.zone, patch, new)
    laid = sum(o.region.area for o in patch.all_outlines)
    core = patch.cut.region.area if new else 0.0
    if not laid and not core and not made.parts:
        return
    cleaned = None
    if bedded + plied:
        cleaned = m.then("clean", bedded + plied, why="degrease first, then abrade, then dust off")
    if laid + core:
        m.then("fit", laid + core, why="each piece is tried in place while nothing is wet")
    _parts_made(m)
    if made.needs.timber:
        m.then("beam", 1, shelf.rule("beam.hours") * 3600)
    wet = f"{m.zone.id}.1"
    if core:
        _core(m, bedded, wet)
    if laid:
        if core:
            _ready(m, plied)
        else:
            m.then("prime", plied, lays=scheme.resin.main, wet=wet)
        _laid(m, laid, f"{m.zone.id}.2" if core else wet)
    primed = next((r for r in m.rows if r.kind.id == "prime"), None)
    if cleaned is not None and primed is not None:
        m.while_fresh(primed, cleaned)


def _core(m: Maker, bedded: float, wet: str) -> None:
    """The new core bedded, or poured in lifts of so much liquid."""
    made, shelf, scheme = m.made, m.shelf, m.zone.scheme
    bed = scheme.resin.bedding or scheme.resin.main
    work = core_work(m.zone, made.patch, shelf)
    assert work is not None, "a new core that is needed is worked on"
    why = "the skins are wetted out" if work.core.poured else "the skin is wetted out and every face of the core sealed"
    prime = m.then("prime", bedded, lays=bed, wet=wet, why=why, name="prime for the core")
    if not work.core.poured:
        row = m.add("bed", work.area, work.area / shelf.rule("core.rate") * 3600, lays=bed, wet=wet)
        m.follow(row, prime, GEL, most=Until(bed, "gel"))
        return
    lifts, each = work.lifts, work.area / shelf.rule("core.rate") / work.lifts * 3600
    for n in range(1, lifts + 1):
        name = f"pour, lift {n} of {lifts}" if lifts > 1 else "pour the core"
        more = {"key": f"pour{n}", "name": name, "lays": bed}
        if n == 1:
            why = "the skins are braced for the head of a lift, the cavity dammed"
            row = m.add("pour", work.area / lifts, each, wet=wet, why=why, **more)
            m.follow(row, prime, GEL, most=Until(bed, "gel"))
        else:
            on_top(m, "pour", work.area / lifts, each, "green", wet=f"{wet}.pour{n}", **more)


def _ready(m: Maker, plied: float) -> None:
    """The face that takes plies made ready once the core is fast: what was primed for the bed has set since."""
    resin, wet = m.zone.scheme.resin.main, f"{m.zone.id}.2"
    on_top(m, "prime", plied, key="prime.plies", name="prime the face for plies", lays=resin, wet=wet)


def _parts_made(m: Maker) -> None:
    area = sum(o.region.area for p in m.made.parts for o in p.outlines)
    if area:  # on the bench: they wait for nothing, only their bonding in waits for them
        row = m.add("part", area, area / m.shelf.rule("lay.rate") * 3600, lays=m.zone.scheme.resin.main)
        m.rows.remove(row)
        m.aside.append(row)


def _laid(m: Maker, laid: float, wet: str) -> None:
    """The plies, sitting by sitting."""
    scheme, shelf = m.zone.scheme, m.shelf
    count = max(sittings(m.zone, m.made.patch, shelf), 1)
    plies = max(len(m.made.patch.stack.plies), 1)
    share = laid / shelf.rule("lay.rate") * 3600 / count
    between = scheme.laying.between
    for n in range(1, count + 1):
        resin = scheme.resin.of_ply(max(round(plies * (n - 1) / count) + 1, 1))
        name = f"laminate, sitting {n} of {count}" if count > 1 else ""
        block = wet if n == 1 else f"{m.zone.id}.{n + 1}"
        before, more = m.rows[-1], {"key": f"lay{n}", "name": name, "lays": resin, "wet": block}
        if n > 1:
            on_top(m, "lay", laid / count, share, between, **more)
            continue
        row = m.add("lay", laid / count, share, **more)
        m.follow(row, before, GEL, most=Until(before.lays, "gel"))


def _faired(m: Maker) -> None:
    patch, shelf, zone = m.made.patch, m.shelf, m.zone
    area = covered_area(patch)
    if not area or not m.rows or not patch.outlines:
        return
    last = m.rows[-1]
    wet_way = zone.finish.way == "wet"
    hours = area / shelf.rule("fair.rate") * 3600 * fairing_share(zone, shelf)
    later = zone.scheme.resin.later or zone.scheme.resin.of_ply(len(patch.stack.plies))
    if not wet_way:
        kind = "peel" if zone.scheme.laying.peel_ply else "scrape"
        row = m.add(kind, area)
        m.follow(row, last, "hard enough to be worked on", least=Until(last.lays, "sandable"))
        if zone.scheme.resin.later:
            m.then("second", area, lays=later, why="the resin put on later goes on a clean, dull face")
    block = f"{zone.id}.fair"
    if wet_way or m.rows[-1].kind.id == "second":
        fair = on_top(m, "fair", area, hours * SOAKED, "green", lays=later, wet=block)
    else:
        fair = m.then("fair", area, hours * SOAKED, lays=later, wet=block)
    sand = m.add("sand", area, hours * (1 - SOAKED))
    m.follow(sand, fair, "the putty is hard enough to sand", least=Until(later, "sandable"))
    if zone.finish.pinholes:
        m.then("pinholes", zone.finish.pinholes, pinhole_time(zone, shelf))


def _joined(m: Maker) -> None:
    """Caps, tabs and plates that were made on the bench, bonded in once what they lie on can be abraded."""
    parts = [p for p in m.made.parts if p.part.kind != "knee"]
    laid = next((r for r in reversed(m.rows) if r.kind.id in CARRYING), None)
    _bonded_in(m, "join", parts, () if laid is None else ((laid, "sandable", "hard enough to be abraded"),))


def _kneed(m: Maker) -> None:
    """Knees hand load on: they wait until what they stand on carries."""
    knees = [p for p in m.made.parts if p.part.kind == "knee"]
    under = [r for r in m.carrying() if r.kind.id != "part"]
    _bonded_in(m, "knee", knees, tuple((r, "service", f"“{r.name}” carries its load") for r in under))


def _bonded_in(m: Maker, kind: str, parts: list[PartMade], under: tuple[tuple[StepRow, str, str], ...]) -> None:
    """Made parts of one kind, onto what was laid before: each with its mark and why."""
    bond = sum(p.bond * p.part.count for p in parts)
    if not bond:
        return
    resin = m.zone.scheme.resin
    names = together(tuple(dict.fromkeys(p.part.name for p in parts)))
    last = m.rows[-1] if m.rows and kind == "join" else None
    abrade = m.add("abrade", bond, key=f"abrade.{kind}", name=f"wash and abrade where it goes: {names}")
    if last is not None and all(row is not last for row, _, _ in under):
        m.follow(abrade, last)
    for row, mark, why in under:
        m.follow(abrade, row, why, least=Until(row.lays, mark))
    block = f"{m.zone.id}.{kind}"
    made = m.add(kind, bond, name=f"bond in: {names}", lays=resin.bedding or resin.main, wet=block)
    m.while_fresh(made, abrade)
    for bench in m.aside:
        m.follow(made, bench, "the parts have set on the bench", least=Until(bench.lays, "sandable"))


def _finished(m: Maker) -> None:
    made = m.made
    before: StepRow | None = m.rows[-1] if m.rows else None
    base = time_factor(WINDOWS_AT, ACTIVATION)
    again: tuple[Until, Until | None, float] | None = None
    for n, needs in enumerate(made.needs.coats, 1):
        coat = needs.coat
        rounds = min(coat.coats, ROUNDS)
        for k in range(1, rounds + 1):
            name = f"{coat.name}, coat {k} of {rounds}" if rounds > 1 else coat.name
            row = m.add("coat", needs.area, needs.work / rounds, key=f"coat{n}.{k}", name=name, lays=COAT)
            if again is not None and before is not None:
                least, most, sanding = again
                words = "over the coat before it, unsanded within its window"
                m.follow(row, before, words, least=least, most=most, missed=sanding, missed_least=least)
            elif before is not None:
                m.follow(row, before)
            before = row
            most = None if coat.again_to is None else Until(COAT, worth=coat.again_to * 3600 / base)
            again = (Until(COAT, worth=coat.again_from * 3600 / base), most, needs.area * 0.1 * 3600)
    _kneed(m)
    if before is not None and not made.patch.cut.region.is_empty:
        _back_to_work(m, before, again[0] if again is not None else None)


def _back_to_work(m: Maker, before: StepRow, hard: Until | None) -> None:
    """What came off goes back, and the load test: once every resin that will carry is in service."""
    row = m.add("refit", len(m.made.patch.band.removed))
    m.follow(row, before, "the last coat is hard" if hard is not None else "", least=hard)
    steps = [row]
    if m.carrying() and m.zone.proof != known(Proof):
        steps.append(m.then("test", 1))
    for laid in m.carrying():
        for step in steps:
            m.follow(step, laid, f"“{laid.name}” carries its load", least=Until(laid.lays, "service"))

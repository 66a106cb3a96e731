"""The demo job: the lake passenger launch *Heron Reach*, an invented boat, with four zones in four states."""

from __future__ import annotations

from functools import cache

from ribpatch.core.job import Boat, BuildUp, CoreLayer, Edge, Fitting, Job, Place, ShedAir, Skin, Survey, Tick, Zone
from ribpatch.core.proof import Engine, Flex, Loads, Proof, RunLoad, Span, Trial
from ribpatch.core.quantity import parse
from ribpatch.core.readings import Graded, Moisture, Plug, Reading, SurveySession
from ribpatch.core.record import evolve, read_as
from ribpatch.core.scheme import Access, Backing, CoreChoice, Cut, Laminate, MadePart, Member, Scheme, StackLine, Taper
from ribpatch.core.simulated_air import simulated_forecast
from ribpatch.core.timetable import AidKept, DaySpan, Person, Timetable
from ribpatch.core.units import Kind, Measure
from ribpatch.library.demo_readings import (
    FOREDECK_TAPS,
    FOREDECK_WET,
    STRINGER_TAPS,
    TRANSOM_WET,
    taps_read,
    wet_read,
)


def _m(text: str, kind: Kind = Kind.SIZE) -> Measure:
    return parse(text, kind).measure


def _f(text: str) -> Measure:
    return _m(text, Kind.FORCE)


def _like(scheme: Scheme, **changes: object) -> Scheme:
    """Another scheme like one; made whole, which costs the start of the program less than changing it field by
    field.
    """
    return Scheme(**{**vars(scheme), **changes})


def _place(station: str, side: str, height: str) -> Place:
    return read_as(Place, {"station": _m(station, Kind.LENGTH), "side": side, "height": _m(height, Kind.LENGTH)})


def _foredeck() -> Zone:
    outline = (
        (0.0, -1.15),
        (0.8, -1.04),
        (1.4, -0.74),
        (1.9, -0.34),
        (2.15, 0.0),
        (1.9, 0.34),
        (1.4, 0.74),
        (0.8, 1.04),
        (0.0, 1.15),
    )
    taps = taps_read(FOREDECK_TAPS, 0.10, 1.05, 0.15, 0.15, outline)
    wet = wet_read(FOREDECK_WET, len(taps) + 1)
    first = len(taps) + len(wet) + 1
    seen: tuple[Reading, ...] = (
        Plug(
            id=f"r{first}",
            x=0.93,
            y=0.12,
            water="wet",
            core="soft",
            bond="torn",
            layers="gelcoat, mat, woven roving, balsa dark and soft",
            note="brown water ran out",
        ),
        Plug(
            id=f"r{first + 1}",
            x=0.45,
            y=-0.52,
            water="dry",
            core="firm",
            bond="whole",
            layers="gelcoat, mat, woven roving, balsa pale",
        ),
        Graded(id=f"r{first + 2}", kind="smell", x=0.93, y=0.12, grade="musty"),
    )
    scheme = Scheme(
        name="Foam core, new skin",
        laminate=Laminate(
            plies=(
                StackLine(fabric="biax-45-600", count=1),
                StackLine(fabric="biax-090-600", count=2),
                StackLine(fabric="biax-45-600", count=2),
                StackLine(fabric="woven-200", count=1),
            )
        ),
        core=CoreChoice(material="foam-pvc-130", thickness=_m("16.5 mm")),
        cut=Cut(margin=_m("40 mm")),
        taper=Taper(ratio=_m("12:1", Kind.RATIO)),
        note="At the locker hatch 9.4 : 1 is taken: its frame is bonded down over the join.",
    )
    return Zone(
        id="z1",
        name="Foredeck",
        kind="deck panel",
        place=_place("7.2 m", "centre", "1.3 m"),
        outline=outline,
        build=BuildUp(
            outer=Skin(thickness=_m("4 mm")),
            core=CoreLayer(core="balsa-150", thickness=_m("18 mm")),
            inner=Skin(thickness=_m("2.5 mm")),
        ),
        edges=(Edge(side=8, name="cabin front", sealed=True), Edge(side=0, name="toe rail, starboard", sealed=False)),
        fittings=(
            Fitting(
                id="f1",
                name="mooring bollard",
                x=1.05,
                y=0.0,
                width=_m("160 mm"),
                height=_m("160 mm"),
                sealed=False,
                holes=4,
                hole=_m("10 mm"),
                pull=Measure(si=6000.0, typed="6 kN"),
            ),
            Fitting(
                id="f2",
                name="locker hatch",
                x=1.52,
                y=0.0,
                width=_m("300 mm"),
                height=_m("360 mm"),
                sealed=True,
                opening=True,
            ),
            Fitting(id="f3", name="deck filler", x=0.22, y=-0.42, width=_m("60 mm"), height=Measure(si=0), sealed=True),
        ),
        survey=Survey(readings=(*taps, *wet, *seen), references=tuple(r.id for r in wet[:4]), pitch=_m("150 mm")),
        ticks=(Tick(item="electric", note="batteries isolated and labelled by the yard hand"),),
        proof=Proof(
            span=Span(left="clamped", right="supported", length=_m("1.2 m"), width=_m("1.5 m")),
            loads=Loads(x=1.05, y=0.3, lever=_m("140 mm")),
            flexes=(Flex(id="x1", x=1.05, y=0.3, force=_f("800 N"), read=_m("1.6 mm")),),
            trial=Trial(force=_f("900 N"), before=_m("1.9 mm")),
        ),
        scheme=scheme,
        others=(
            _like(
                scheme,
                id="s2",
                name="Plywood under the bollard",
                core=CoreChoice(material="ply-marine", thickness=_m("15 mm"), bedding=_m("3 mm")),
            ),
            _like(scheme, id="s3", name="Skin lifted and bonded back", cut=Cut(margin=scheme.cut.margin, saved=True)),
        ),
    )


def _transom() -> Zone:
    outline = (
        (0.0, 0.12),
        (0.35, 0.0),
        (1.95, 0.0),
        (2.3, 0.12),
        (2.3, 0.8),
        (1.55, 0.8),
        (1.48, 0.7),
        (0.82, 0.7),
        (0.75, 0.8),
        (0.0, 0.8),
    )
    wet = [evolve(r, session="s1") for r in wet_read(TRANSOM_WET, 1)]
    # Three weeks under cover with the engine off: it dries, but for the bolts, where water still finds its way in.
    again = [
        Moisture(
            id=f"r{len(wet) + n}",
            x=r.x,
            y=r.y,
            value=round(12 + (r.value - 12) * (0.97 if r.x > 0.98 else 0.72)),
            session="s2",
        )
        for n, r in enumerate(wet[6:], 1)
        if isinstance(r, Moisture)
    ]
    sessions = (
        SurveySession(id="s1", date="2026-10-05", who="yard hand"),
        SurveySession(id="s2", date="2026-10-26", who="yard hand", note="after three weeks under cover"),
    )
    return Zone(
        id="z2",
        name="Transom",
        kind="transom",
        place=_place("0 m", "centre", "0.3 m"),
        outline=outline,
        build=BuildUp(
            outer=Skin(thickness=_m("5 mm")),
            core=CoreLayer(core="ply-marine", thickness=_m("38 mm")),
            inner=Skin(thickness=_m("4 mm")),
        ),
        edges=(Edge(side=6, name="engine cut-out, capped", sealed=False),),
        fittings=(
            Fitting(
                id="f1",
                name="outboard bolts",
                x=1.15,
                y=0.45,
                width=_m("330 mm"),
                height=_m("210 mm"),
                sealed=False,
                holes=4,
                hole=_m("12.5 mm"),
            ),
            Fitting(
                id="f2",
                name="drain tube",
                x=0.48,
                y=0.08,
                width=_m("28 mm"),
                height=Measure(si=0),
                sealed=False,
                holes=1,
                hole=_m("28 mm"),
            ),
        ),
        survey=Survey(
            readings=(*wet, *again), references=("r1", "r2", "r3", "r4"), sessions=sessions, pitch=_m("150 mm")
        ),
        proof=Proof(
            span=Span(left="clamped", right="clamped", bottom="clamped", top="free", width=_m("700 mm")),
            engine=Engine(
                power=_m("80 kW", Kind.POWER),
                mass=_m("165 kg", Kind.MASS),
                overhang=_m("230 mm"),
                thrust_below=_m("620 mm"),
                height=_m("520 mm"),
                clamp_width=_m("450 mm"),  # plates on both faces, as wide as what the bolts press on
                clamp_height=_m("300 mm"),
                washer=_m("100 mm"),
            ),
        ),
        scheme=Scheme(
            name="New core from inside, knees, plates",
            note="LEFT OPEN AS AN EXAMPLE: how the new skin ends at the bottom, the sides and the engine cut-out. No "
            "taper fits there. Tabs are planned as a made part; plies lapped onto the hull are the other way.",
            access=Access(side="inside", chosen=True),
            laminate=Laminate(
                plies=(StackLine(fabric="biax-45-600", count=2), StackLine(fabric="biax-090-800", count=3))
            ),
            core=CoreChoice(material="ply-marine", thickness=_m("36 mm")),
            cut=Cut(margin=_m("75 mm"), radius=_m("60 mm")),
            parts=(
                MadePart(
                    id="p1",
                    name="knee to stringer",
                    kind="knee",
                    length=_m("660 mm"),
                    width=_m("350 mm"),
                    depth=_m("70 mm"),
                    count=2,
                    plies=(StackLine(fabric="biax-45-800", count=8),),
                ),
                MadePart(
                    id="p2",
                    name="tabs round the new skin",
                    kind="angle",
                    length=_m("2.15 m"),
                    width=_m("120 mm"),
                    depth=_m("120 mm"),
                    plies=(StackLine(fabric="biax-45-600", count=4),),
                ),
            ),
            members=tuple(
                Member(
                    id=f"m{n}",
                    name=f"knee, {side}",
                    kind="knee",
                    axis="y",
                    place=x,
                    start=0.0,
                    end=0.66,
                    height=_m("350 mm"),
                    width=_m("70 mm"),
                    wall=_m("4 mm"),
                )
                for n, (side, x) in enumerate((("port", 0.95), ("starboard", 1.35)), 1)
            ),
        ),
    )


def _stringer() -> Zone:
    outline = ((0.0, 0.0), (2.6, 0.0), (2.6, 0.18), (0.0, 0.18))
    return Zone(
        id="z3",
        name="Battery stringer",
        kind="stringer run",
        place=_place("1.9 m", "port", "0.25 m"),
        outline=outline,
        build=BuildUp(
            outer=Skin(plies=(StackLine(fabric="mat-450", count=2), StackLine(fabric="woven-800", count=2))),
            core=CoreLayer(core="ply-marine", thickness=_m("38 mm")),
            inner=Skin(thickness=_m("3.5 mm")),
        ),
        fittings=(
            Fitting(
                id="f1",
                name="battery tray screws",
                x=1.2,
                y=0.15,
                width=_m("420 mm"),
                height=_m("20 mm"),
                sealed=False,
                holes=6,
                hole=_m("6 mm"),
            ),
        ),
        survey=Survey(readings=tuple(taps_read(STRINGER_TAPS, 0.1, 0.13, 0.16, 0.08, outline)), pitch=_m("160 mm")),
        proof=Proof(
            run=RunLoad(
                span=_m("1.3 m"),
                first="clamped",
                last="clamped",
                spacing=_m("450 mm"),
                plating=_m("9 mm"),
                mass=_m("140 kg", Kind.MASS),
            )
        ),
        scheme=Scheme(
            name="Core out from above, new core, capped",
            access=Access(side="above", chosen=True),
            core=CoreChoice(material="ply-marine", thickness=_m("36 mm"), bedding=_m("1 mm"), clamp="props"),
            cut=Cut(rule="as far again"),
            parts=(
                MadePart(
                    id="p1",
                    name="cap over the stringer",
                    kind="end cap",
                    length=_m("1.4 m"),
                    width=_m("50 mm"),
                    depth=_m("60 mm"),
                    plies=(StackLine(fabric="biax-45-600", count=4),),
                ),
            ),
        ),
    )


def _topside() -> Zone:
    outline = ((0.0, 0.0), (1.5, 0.06), (1.5, 0.72), (0.0, 0.68))
    hole = ((0.62, 0.30), (0.70, 0.26), (0.80, 0.28), (0.85, 0.34), (0.79, 0.41), (0.68, 0.42), (0.61, 0.37))
    return Zone(
        id="z4",
        name="Bow topside",
        kind="hull panel",
        place=_place("7.3 m", "starboard", "0.5 m"),
        outline=outline,
        build=BuildUp(outer=Skin(thickness=_m("7 mm"))),
        edges=(Edge(side=2, name="hull-to-deck joint", sealed=True),),
        survey=Survey(drawn=(hole,), pitch=_m("100 mm")),
        proof=Proof(span=Span(length=_m("750 mm"), width=_m("450 mm"))),
        scheme=Scheme(
            laminate=Laminate(
                plies=(
                    StackLine(fabric="triax-750", count=1),
                    StackLine(fabric="woven-600", count=4),
                    StackLine(fabric="triax-750", count=1),
                    StackLine(fabric="woven-600", count=2),
                ),
                backing=Backing(),
            ),
            cut=Cut(margin=_m("30 mm"), shape="free", radius=_m("40 mm")),
            taper=Taper(ratio=_m("12:1", Kind.RATIO)),
        ),
    )


def _timetable() -> Timetable:
    """A heater in a cold shed in December, a hand, another in the mornings, the owner on one Saturday."""
    day = (DaySpan(start=8, end=12), DaySpan(start=12.5, end=17))
    table = Timetable(
        start="2026-11-30",
        people=(
            Person(id="p1", name="yard hand", hours=day, late=(DaySpan(start=18, end=20),), off=("2026-12-24",)),
            Person(id="p2", name="second hand", hours=day[:1], days=(0, 1, 2, 3), skills=("lay", "lift")),
            Person(id="p3", name="owner", hours=(DaySpan(start=9, end=16),), days=(), more=("2026-12-12",)),
        ),
        aids=(AidKept(id="a1", kind="heater", degrees=_m("18 c", Kind.TEMPERATURE), power=_m("3000 W", Kind.POWER)),),
    )
    return evolve(table, forecast=simulated_forecast(table, table.start))


@cache
def demo_job() -> Job:
    """The demo job; frozen, so one is enough."""
    boat = Boat(
        name="Heron Reach",
        length=_m("9.6 m", Kind.LENGTH),
        waterline=_m("8.7 m", Kind.LENGTH),
        beam=_m("2.9 m", Kind.LENGTH),
        depth=_m("1.3 m", Kind.LENGTH),
        displacement=_m("3400 kg", Kind.LOAD),
        year=1998,
        category="D",
        use="lake passenger launch, repowered with one 80 kW electric outboard",
    )
    air = ShedAir(
        temperature=_m("16.5 c", Kind.TEMPERATURE),
        humidity=_m("68 %", Kind.PERCENT),
        surface=_m("14 c", Kind.TEMPERATURE),
    )
    zones = (_foredeck(), _transom(), _stringer(), _topside())
    return Job(boat=boat, air=air, zones=zones, timetable=_timetable())

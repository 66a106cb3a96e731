"""The job that most tests work on: the demo's boat, with schemes that leave something to warn of, compare and mend.

The demo itself is a repair to be proud of and may change; what tests count on stands here.
"""

from __future__ import annotations

from functools import cache

from tests.schemes import rescheme

from ribpatch.core.job import Job
from ribpatch.core.quantity import parse
from ribpatch.core.record import evolve, evolve_in
from ribpatch.core.scheme import Access, CoreChoice, Cut, Laminate, MadePart, Scheme, StackLine, Taper
from ribpatch.core.units import Kind, Measure
from ribpatch.library import demo


def _m(text: str, kind: Kind = Kind.SIZE) -> Measure:
    return parse(text, kind).measure


@cache
def bed_job() -> Job:
    """Frozen, so one is enough."""
    job = demo.demo_job()
    air = evolve(job.air, surface=_m("13.2 c", Kind.TEMPERATURE))
    by_id = {"z1": _foredeck, "z2": _transom, "z3": _stringer, "z4": _topside}
    return evolve(job, air=air, zones=tuple(by_id[z.id](z) for z in job.zones))


def _foredeck(zone):
    return evolve(zone, scheme=evolve(zone.scheme, note=""), others=tuple(evolve(s, note="") for s in zone.others))


def _transom(zone):
    engine = evolve(zone.proof.engine, clamp_width=_m("330 mm"), clamp_height=_m("210 mm"), washer=_m("75 mm"))
    knee = MadePart(
        id="p1", name="knee to stringer", kind="knee", length=_m("320 mm"), width=_m("260 mm"), depth=_m("70 mm"),
        count=2, plies=(StackLine(fabric="biax-45-800", count=5),),
    )  # fmt: skip
    members = tuple(
        evolve(m, place=x, end=0.6, height=_m("260 mm"), wall=_m("5 mm"))
        for m, x in zip(zone.scheme.members, (0.9, 1.4), strict=True)
    )
    scheme = Scheme(
        access=Access(side="inside"),
        laminate=zone.scheme.laminate,
        core=CoreChoice(material="ply-marine", thickness=_m("34.5 mm")),
        cut=Cut(margin=_m("75 mm"), radius=_m("60 mm")),
        parts=(knee,),
        members=members,
    )
    build = evolve(zone.build, core=evolve(zone.build.core, thickness=_m("36 mm")))
    return evolve(zone, build=build, proof=evolve(zone.proof, engine=engine), scheme=scheme)


def _stringer(zone):
    scheme = Scheme(
        laminate=Laminate(plies=(StackLine(fabric="biax-45-600", count=4),)),
        core=CoreChoice(material="foam-pvc-130", thickness=_m("36.5 mm")),
    )
    return evolve(zone, scheme=scheme)


def _topside(zone):
    scheme = rescheme(zone.scheme, plies=(StackLine(fabric="biax-45-800", count=7),), backing=None)
    return evolve(zone, scheme=evolve_in(evolve(scheme, taper=Taper(ratio=_m("12:1", Kind.RATIO))), "cut"))

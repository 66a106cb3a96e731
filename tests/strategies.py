"""Shared hypothesis strategies: outlines, readings, schemes, whole edits."""

from __future__ import annotations

from collections.abc import Callable

from hypothesis import strategies as st
from tests.schemes import a_scheme

from ribpatch.core import edits, scheme_edits, survey_edits
from ribpatch.core.errors import Fault
from ribpatch.core.job import Job, Zone
from ribpatch.core.readings import Moisture, Tap
from ribpatch.core.scheme import Cut, StackLine, Taper
from ribpatch.core.survey.entry import made_reading
from ribpatch.core.units import Measure
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()


def measures(low: float, high: float) -> st.SearchStrategy[Measure]:
    return st.floats(low, high).map(lambda v: Measure(si=v))


fabrics = st.sampled_from([f.id for f in SHELF.fabrics])
lines = st.builds(StackLine, fabric=fabrics, count=st.integers(1, 6), angle=st.sampled_from([0.0, 45.0, 90.0, -30.0]))
stacks = st.lists(lines, max_size=4).map(tuple)
cuts = st.builds(
    Cut, rule=st.sampled_from(["margin", "as far again"]), margin=measures(0, 0.3), shape=st.sampled_from(["squared", "free"]),
    radius=measures(0, 0.2),
)  # fmt: skip
tapers = st.builds(Taper, ratio=measures(1, 60), form=st.sampled_from(["ground", "stepped"]))
schemes = st.builds(
    a_scheme, side=st.sampled_from(["outside", "inside"]), cut=cuts, taper=tapers, plies=stacks,
    order=st.sampled_from(["smallest first", "largest first"]), overlap=measures(0, 0.1),
    resin=st.sampled_from([r.id for r in SHELF.resins]), process=st.sampled_from(["hand", "bag", "infusion"]),
    core=st.sampled_from([None, *(c.id for c in SHELF.cores)]), core_thickness=st.one_of(st.none(), measures(0.002, 0.05)),
    bedding=measures(0, 0.01), putty=st.sampled_from([p.id for p in SHELF.putties]), peel_ply=st.booleans(),
)  # fmt: skip
places = st.tuples(st.floats(0, 1.4), st.floats(0.07, 0.66))
readings = st.one_of(
    st.builds(
        lambda p, g: Tap(id="new", x=p[0], y=p[1], grade=g),
        places,
        st.sampled_from([t.id for t in SHELF.instrument("tap").grades]),
    ),
    st.builds(lambda p, v: Moisture(id="new", x=p[0], y=p[1], value=v), places, st.floats(0, 100)),
)


@st.composite
def boxes(draw: st.DrawFn) -> tuple[tuple[float, float], ...]:
    x, y = draw(st.floats(0.0, 1.1)), draw(st.floats(0.05, 0.5))
    w, h = draw(st.floats(0.02, 0.4)), draw(st.floats(0.02, 0.3))
    return ((x, y), (x + w, y), (x + w, y + h), (x, y + h))


def _set(path: tuple[str, ...]) -> object:
    return lambda value: edits.set_value(("zones", "z4", *path), value)


facings = st.sampled_from(["x-", "x+", "y-", "y+"])


def in_turn(make: Callable[[Zone], edits.Edit]) -> edits.Edit:
    """An edit that is made from the zone as it then stands; one that no longer fits changes nothing."""

    def change(job: Job) -> Job:
        try:
            return make(job.zone("z4")).change(job)
        except Fault:
            return job

    return edits.Edit("in turn", change)


scheme_edit = st.one_of(
    st.tuples(facings, st.one_of(st.none(), measures(0, 0.3))).map(lambda t: scheme_edits.set_margin("z4", *t)),
    st.tuples(facings, st.one_of(st.none(), measures(1, 40))).map(lambda t: scheme_edits.set_stretch("z4", *t)),
    st.booleans().map(lambda on: scheme_edits.set_second("z4", on)), st.booleans().map(lambda on: scheme_edits.set_backing("z4", on)),
    st.booleans().map(lambda on: scheme_edits.set_tabbing("z4", on)), st.booleans().map(_set(("scheme", "access", "part_depth"))),
    st.booleans().map(_set(("scheme", "cut", "saved"))), st.sampled_from(["outside", "inside", "above"]).map(_set(("scheme", "access", "side"))),
    st.sampled_from(["hull panel", "deck panel", "transom", "stringer run"]).map(_set(("kind",))),
    st.tuples(st.floats(0.05, 1.4), st.floats(0.1, 0.6), measures(0, 0.02)).map(
        lambda t: in_turn(lambda z: scheme_edits.put_depth(z, (t[0], t[1]), t[2]))
    ),
    st.sampled_from(["angle", "knee", "backing plate", "end cap"]).map(lambda k: in_turn(lambda z: scheme_edits.add_part(z, k))),
    st.just(in_turn(scheme_edits.add_scheme)), st.sampled_from(["s1", "s2"]).map(lambda s: in_turn(lambda z: scheme_edits.choose_scheme(z, s))),
    st.sampled_from(["polyester-iso", "vinylester", "epoxy-1-1"]).map(_set(("scheme", "resin", "later"))),
    st.sampled_from(["screws", "weights", "props", "vacuum"]).map(_set(("scheme", "core", "clamp"))), st.booleans().map(_set(("scheme", "core", "scored"))),
)  # fmt: skip
any_edit = st.one_of(
    scheme_edit,
    stacks.map(lambda s: edits.set_plies("z4", s)), st.lists(readings, min_size=1, max_size=6).map(lambda r: survey_edits.add_readings("z4", tuple(r))),
    boxes().map(lambda b: edits.draw_extent("z4", (b,))), boxes().map(lambda b: edits.draw_cut("z4", (b,))),
    st.just(edits.draw_extent("z4", None)), st.just(edits.draw_cut("z4", None)),
    measures(1, 60).map(_set(("scheme", "taper", "ratio"))), measures(0, 0.3).map(_set(("scheme", "cut", "margin"))),
    measures(0.5, 0.99).map(_set(("survey", "confidence"))), st.sampled_from(["outside", "inside"]).map(_set(("scheme", "access", "side"))),
    st.sampled_from([None, "balsa-150", "ply-marine"]).map(lambda c: edits.set_core("z4", c)),
    st.sampled_from([None, "balsa-150"]).map(lambda c: edits.set_build_core("z4", c, None)), st.just(edits.remove_zone("z2")),
    st.floats(-5, 40).map(lambda t: edits.set_value(("air", "temperature"), Measure(si=t))),
)  # fmt: skip

ROLES = st.sampled_from(["", "yard hand", "surveyor, second visit"])
NOTES = st.sampled_from(["", "by the hatch, port", 'said "soft"; see photo', "line one"])
MOMENTS = st.sampled_from(["", "2026-05-14", "2026-05-14T09:30:00"])
spots = st.tuples(st.floats(0.01, 1.4), st.floats(0.07, 0.66))


def _taken(kind: str, **facts: st.SearchStrategy[object]) -> st.SearchStrategy[object]:
    common = {"who": ROLES, "note": NOTES, "at": MOMENTS}
    whole = st.fixed_dictionaries({**common, **facts})
    return st.tuples(spots, whole).map(lambda t: made_reading(kind, SHELF, x=t[0][0], y=t[0][1], **t[1]))


def _grades(kind: str) -> st.SearchStrategy[str]:
    return st.sampled_from([g.id for g in SHELF.instrument(kind).grades])


def _states(count: int) -> st.SearchStrategy[tuple[str, ...]]:
    one = st.sampled_from(["sound", "wet", "rotted", "disbonded"])
    return st.lists(one, min_size=count, max_size=count).map(tuple)


lines_of_points = st.lists(spots, min_size=2, max_size=5).map(tuple)
any_reading = st.one_of(
    *(_taken(kind, grade=_grades(kind)) for kind in ("tap", "soap", "screw", "weep", "smell")),
    _taken("moisture", value=st.floats(0, 100)), _taken("pin", value=st.floats(0, 200)), _taken("infrared", value=st.floats(-40, 120)),
    _taken("push", force=st.floats(0.1, 5000), deflection=st.floats(1e-5, 0.2)),
    _taken(
        "plug", water=st.sampled_from(["dry", "damp", "wet"]), core=st.sampled_from(["firm", "soft", "gone", "none"]),
        bond=st.sampled_from(["whole", "torn", "clean"]), layers=st.sampled_from(["", "gelcoat, mat"]),
    ),
    _taken(
        "strike", frequency=st.floats(50, 9000), centroid=st.floats(50, 9000), decay=st.floats(1e-4, 1), contact=st.floats(1e-4, 0.01),
        recording=st.sampled_from(["", "abc.wav"]), start=st.floats(0, 60),
    ),
    _taken("sketch", grade=_grades("sketch"), points=lines_of_points),
    lines_of_points.flatmap(lambda p: _taken("cut", points=st.just(p), states=_states(len(p) - 1))),
)  # fmt: skip

"""Shared hypothesis strategies: outlines, readings, schemes, whole edits."""

from __future__ import annotations

from hypothesis import strategies as st

from ribpatch.core import edits, survey_edits
from ribpatch.core.job import Cut, Scheme, StackLine, Taper
from ribpatch.core.readings import Moisture, Tap
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
    Scheme, skin=st.sampled_from(["outer", "inner"]), cut=cuts, taper=tapers, plies=stacks,
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


any_edit = st.one_of(
    stacks.map(lambda s: edits.set_plies("z4", s)), st.lists(readings, min_size=1, max_size=6).map(lambda r: survey_edits.add_readings("z4", tuple(r))),
    boxes().map(lambda b: edits.draw_extent("z4", (b,))), boxes().map(lambda b: edits.draw_cut("z4", (b,))),
    st.just(edits.draw_extent("z4", None)), st.just(edits.draw_cut("z4", None)),
    measures(1, 60).map(_set(("scheme", "taper", "ratio"))), measures(0, 0.3).map(_set(("scheme", "cut", "margin"))),
    measures(0.5, 0.99).map(_set(("survey", "confidence"))), st.sampled_from(["outer", "inner"]).map(_set(("scheme", "skin"))),
    st.sampled_from([None, "balsa-150", "ply-marine"]).map(lambda c: edits.set_core("z4", c)),
    st.sampled_from([None, "balsa-150"]).map(lambda c: edits.set_build_core("z4", c, None)), st.just(edits.remove_zone("z2")),
    st.floats(-5, 40).map(lambda t: edits.set_value(("air", "temperature"), Measure(si=t))),
)  # fmt: skip

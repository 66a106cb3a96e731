"""Local reinforcement: plies in steps inside the zone, counted in cloth, resin, weight and hours; its edits."""

from __future__ import annotations

import math

import pytest
from tests.bed import bed_job as demo_job

from ribpatch.core.drawing.plan_view import plan_view
from ribpatch.core.drawing.shapes import Callout
from ribpatch.core.edits import set_value
from ribpatch.core.errors import Fault
from ribpatch.core.pad_edits import add_pad, remove_pad, set_pad_plies
from ribpatch.core.patch.bonding.protocol import bond_plan
from ribpatch.core.plan import plan
from ribpatch.core.scheme import Pad, Scheme, StackLine
from ribpatch.core.scheme_edits import set_resin_from
from ribpatch.core.tables import zone_table
from ribpatch.core.units import Measure
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()
JOB = demo_job()
PLIES = (StackLine(fabric="biax-45-600", count=3),)


def padded(zone="z4", **more):
    """The demo with one pad in a zone."""
    job = add_pad(JOB.zone(zone)).change(JOB)
    job = set_pad_plies(zone, "l1", PLIES).change(job)
    for name, wanted in more.items():
        value = wanted if isinstance(wanted, str) or name in ("x", "y") else Measure(si=wanted)
        job = set_value(("zones", zone, "scheme", "pads", "l1", name), value).change(job)
    return plan(job, SHELF)


def test_plies_run_out_in_steps() -> None:
    made = padded(width=0.4, height=0.3, step=0.02).zone("z4").patch.pads[0]
    areas = [o.region.area for o in made.outlines]
    assert areas == pytest.approx([0.4 * 0.3, 0.36 * 0.26, 0.32 * 0.22])
    assert made.area == areas[0] and made.thickness == pytest.approx(3 * made.stack.plies[0].ply.thickness)
    assert made.weight == pytest.approx(sum(areas) * made.stack.plies[0].ply.weight)
    round_one = padded(width=0.3, height=0.0, step=0.05).zone("z4").patch.pads[0]
    assert [o.region.area for o in round_one.outlines] == pytest.approx(
        [math.pi * r**2 for r in (0.15, 0.1, 0.05)], rel=8e-3
    )
    small = padded(width=0.1, height=0.1, step=0.03).zone("z4")
    assert len(small.patch.pads[0].outlines) == 2
    (row,) = zone_table(small, "pads", "metric").rows
    assert row.mark == "warn" and "1 of its plies come to nothing" in row.why


def test_a_pad_ends_at_the_edge_of_the_zone() -> None:
    x0, y0 = (min(c[k] for c in JOB.zone("z4").outline) for k in (0, 1))
    made = padded(x=x0, y=y0, width=0.4, height=0.4, step=0.0).zone("z4").patch.pads[0]
    assert 0 < made.area < 0.4 * 0.4
    assert all(b >= a - 1e-9 for a, b in zip((x0, y0), made.outlines[0].region.bounds[:2], strict=True))


def test_it_is_counted_in_cloth_resin_weight_hours_and_pieces() -> None:
    before, after = plan(JOB, SHELF).zone("z4"), padded(width=0.4, height=0.3).zone("z4")
    pad = after.patch.pads[0]
    net = sum(o.region.area for o in pad.outlines)
    cloth = {c.fabric.id: c.net for c in after.needs.cloth}
    known = {c.fabric.id: c.net for c in before.needs.cloth}
    assert cloth["biax-45-600"] - known.get("biax-45-600", 0.0) == pytest.approx(net)
    wet = net * pad.stack.plies[0].ply.resin
    assert after.figure("resin.plies").value - before.figure("resin.plies").value == pytest.approx(wet)
    assert after.figure("weight.on").value > before.figure("weight.on").value + 0.99 * pad.weight
    names = [c.name for _, cuts in after.cuts for c in cuts]
    assert [n for n in names if "reinforcement" in n] == [
        f"{after.zone.name}, reinforcement 1, ply {k}" for k in (1, 2, 3)
    ]
    more = after.figure("resin.prime").value - before.figure("resin.prime").value
    past = (
        pad.outlines[0].region.difference(before.patch.outlines[-1].region.union(before.patch.outlines[0].region)).area
    )
    assert more == pytest.approx(past * SHELF.rule("prime.laminate"), rel=0.05, abs=1e-4)


def test_it_takes_the_last_resin_of_the_scheme() -> None:
    job = set_resin_from("z4", 2, "epoxy-2-1-slow").change(padded().job)
    needs = plan(job, SHELF).zone("z4").needs
    pads = sum(o.region.area * o.laid.ply.resin for o in plan(job, SHELF).zone("z4").patch.pads[0].outlines)
    second = next(u for u in needs.batches[1].uses if u.key == "plies.2")
    assert second.mass > pads


def test_it_is_drawn_bonded_and_told() -> None:
    made = padded()
    zone = made.zone("z4")
    drawing = plan_view(zone.zone, zone.patch, None, SHELF, "rebuild", "metric")
    assert any(isinstance(s, Callout) and s.text == "reinforcement 1, 3 plies" for s in drawing.shapes)
    away = padded("z1", x=0.2, y=0.8, width=0.2, height=0.2)
    rows = {i.key: i for i in bond_plan(away.zone("z1").zone, away.zone("z1").patch, 1998, SHELF)}
    assert rows["pad.l1"].kind == "secondary" and "past the plies" in rows["pad.l1"].name


def test_it_is_put_under_a_fitting_as_large_as_it_and_more() -> None:
    zone = JOB.zone("z1")
    fitting = next(f for f in zone.fittings if "bollard" in f.name)
    job = add_pad(zone, fitting).change(JOB)
    (pad,) = job.zone("z1").scheme.pads
    assert pad.name == f"under {fitting.name}" and (pad.x, pad.y) == (fitting.x, fitting.y)
    assert pad.width.si == pytest.approx(fitting.width.si + 0.16)
    job = add_pad(job.zone("z1")).change(job)
    assert [p.id for p in job.zone("z1").scheme.pads] == ["l1", "l2"]
    assert [p.id for p in remove_pad("z1", "l1").change(job).zone("z1").scheme.pads] == ["l2"]
    with pytest.raises(Fault, match="no-cloth"):
        plan(set_pad_plies("z1", "l1", (StackLine(fabric="no-cloth"),)).change(job), SHELF)
    with pytest.raises(ValueError, match="same id"):
        Scheme(pads=(Pad(id="a", name="a", x=0, y=0), Pad(id="a", name="b", x=0, y=0)))

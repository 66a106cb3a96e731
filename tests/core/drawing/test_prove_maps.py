"""The maps of Prove lie on the plan: what a place of a map is, and where the zone itself is drawn on it."""

import numpy as np
import pytest
from shapely.geometry import Polygon
from tests.bed import bed_job as demo_job

from ribpatch.core.drawing.prove_view import frame_of, prove_maps
from ribpatch.core.drawing.shapes import Line, Raster, Text
from ribpatch.core.plan import plan
from ribpatch.core.proof import Well
from ribpatch.core.record import built, evolve
from ribpatch.core.units import usual
from ribpatch.library.shelf import shipped_shelf

PLAN = plan(demo_job(), shipped_shelf())
PANELS = [z for z in PLAN.zones if z.strength.proved is not None]


def rings(maps, role):
    return [Polygon(s.points) for s in maps.drawing.shapes if isinstance(s, Line) and s.role == role and s.closed]


@pytest.mark.parametrize("zone", PANELS, ids=lambda z: z.zone.name)
@pytest.mark.parametrize("room", [0.3, 3.0])
def test_a_zone_is_drawn_where_it_lies_round_its_panel_on_every_map(zone, room):
    proved = zone.strength.proved
    maps = prove_maps(proved, proved.cases[0].key, "deflection", "metric", room)
    panel, shape = proved.panel, Polygon(zone.zone.outline)
    outlines = rings(maps, "zone-patch")
    assert len(outlines) == len(maps.corners) == len(proved.states)
    for (state, corner), drawn in zip(maps.corners, outlines, strict=True):
        assert drawn.area == pytest.approx(shape.area)
        moved = np.array(shape.centroid.coords[0]) - [panel.x0, panel.y0] + corner
        assert drawn.centroid.coords[0] == pytest.approx(tuple(moved))
        inside = (0.3 * panel.a, 0.7 * panel.b)
        found = maps.place((corner[0] + inside[0], corner[1] + inside[1]), (panel.a, panel.b))
        assert found is not None and found[0] == state and found[1] == pytest.approx(inside)
    assert not any(a.intersects(b) for n, a in enumerate(outlines) for b in outlines[n + 1 :])
    assert len(rings(maps, "fitting")) == len(proved.states) * len(zone.zone.fittings)
    x0, y0, x1, y1 = maps.drawing.bounds
    low, high = [np.array([r.bounds for r in outlines]).min(axis=0), np.array([r.bounds for r in outlines]).max(axis=0)]
    assert x0 <= low[0] + 1e-9 and y0 <= low[1] + 1e-9 and x1 >= high[2] - 1e-9 and y1 > high[3]
    names = [s.at[1] for s in maps.drawing.shapes if isinstance(s, Text)]
    assert len(names) == len(proved.states) and max(names) > high[3]


def test_damage_and_cut_are_drawn_as_they_are_beside_the_rectangles_that_stand_for_them():
    zone = PANELS[0]
    proved = zone.strength.proved
    maps = prove_maps(proved, proved.cases[0].key, "deflection", "metric", 3.0)
    assert sum(p.area for p in rings(maps, "surely")) == pytest.approx(zone.patch.extent.likely.area, rel=1e-6)
    assert sum(p.area for p in rings(maps, "band")) == pytest.approx(zone.patch.cut.region.area, rel=1e-6)
    frame = frame_of(proved)
    assert frame[0] <= 0 <= frame[2] - proved.panel.a + 1e-9
    assert sum(isinstance(s, Raster) for s in maps.drawing.shapes) == 3


def test_floor_and_sides_of_a_well_are_drawn_where_they_hold_on_every_map():
    job = demo_job()
    zone = job.zone("z2")
    well = built(Well, width=usual(0.5), floor=usual(0.3))
    changed = evolve(zone, proof=evolve(zone.proof, well=well))
    proved = plan(evolve(job, zones=(changed,)), shipped_shelf()).zone("z2").strength.proved
    bare = plan(evolve(job, zones=(zone,)), shipped_shelf()).zone("z2").strength.proved

    def lines(made):
        maps = prove_maps(made, "thrust", "deflection", "metric", 3.0)
        return maps.corners, {
            tuple(np.round(s.points, 6).ravel())
            for s in maps.drawing.shapes
            if isinstance(s, Line) and s.role == "stiffener"
        }

    corners, drawn = lines(proved)
    middle, top = proved.panel.a / 2, proved.panel.b
    wanted = set()
    for _, (x, y) in corners:
        for ends in (((-0.25, 0.3), (0.25, 0.3)), ((-0.25, 0.3), (-0.25, top)), ((0.25, 0.3), (0.25, top))):
            wanted.add(tuple(np.round([v for u, w in ends for v in (x + middle + u, y + w)], 6)))
    assert wanted <= drawn and len(drawn) == len(lines(bare)[1]) + 9

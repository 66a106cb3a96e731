"""SVG and DXF of small drawings made by hand: every kind of shape is written, words are escaped, layers carry the roles."""

import io
import xml.etree.ElementTree as ET

import ezdxf
import numpy as np
import pytest

from ribpatch.core.drawing.shapes import Area, Badge, Callout, Dimension, Drawing, Line, Raster, Spot, Text
from ribpatch.formats.dxf import dxf_text
from ribpatch.formats.svg import svg_text

SQUARE = ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0))
HOLE = ((0.4, 0.4), (0.4, 0.6), (0.6, 0.6), (0.6, 0.4))
ALL = (
    Area((SQUARE, HOLE), "old-core", "end grain"), Line(((0, 0), (1, 1)), "section"), Line(SQUARE, "cut", True),
    Dimension((0, 0), (1, 0), "1.00 m"), Dimension((0, 0), (0, 1), "1.00 m"), Callout((0.5, 0.5), "5 < 6 & \"7\"", "right"),
    Callout((0.2, 0.5), "left words", "left"), Badge((0.1, 0.1), "3", "piece"), Text((0.9, 0.9), "a note", "stretch"),
    Spot((0.7, 0.2), "circle", 0.5, False, "r1"), Raster((0, 0), (1, 1), np.zeros((2, 2)), (SQUARE,), "damage"),
)  # fmt: skip
DRAWING = Drawing("A & B", "true depth", (0, 0, 1, 1), ALL)


def test_an_svg_of_every_shape_is_well_formed_and_keeps_its_words():
    root = ET.fromstring(svg_text(DRAWING, 10).encode())
    words = [t.text for t in root.iter("{http://www.w3.org/2000/svg}text")]
    assert {'5 < 6 & "7"', "left words", "3", "a note", "1.00 m"} <= set(words)
    assert any(w.startswith("A & B. true depth. 1 : 10") for w in words)
    classes = {e.get("class") for e in root.iter()}
    assert {"old-core", "section", "cut", "dimension", "leader", "hatch", "spot"} <= classes


def test_a_hatch_leaves_the_hole_free():
    root = ET.fromstring(svg_text(Drawing("x", "", (0, 0, 1, 1), ALL[:1]), 10).encode())
    group = next(g for g in root.iter("{http://www.w3.org/2000/svg}g") if g.get("class") == "hatch")
    data = group.find("{http://www.w3.org/2000/svg}path").get("d")
    ends = np.array([float(v) for v in data.replace("M", " ").replace("L", " ").split()]).reshape(-1, 2, 2)
    middles = ends.mean(axis=1)
    left, top = ends[..., 0].min(), ends[..., 1].min()
    inside = (abs(middles[:, 0] - left - 50) < 9) & (abs(middles[:, 1] - top - 50) < 9)
    assert len(middles) > 50 and not inside.any()


@pytest.mark.parametrize("scale", [1, 5, 20])
def test_the_paper_shrinks_with_the_scale(scale):
    width = float(
        ET.fromstring(svg_text(Drawing("x", "", (0, 0, 1, 1), ALL[1:3]), scale).encode())
        .get("width")
        .removesuffix("mm")
    )
    assert width == pytest.approx(1000 / scale + 24, abs=0.1)


def test_a_dxf_of_every_shape_reads_back_with_its_layers_and_words():
    document = ezdxf.read(io.StringIO(dxf_text(DRAWING)))
    space = document.modelspace()
    assert {e.dxf.text for e in space.query("TEXT")} >= {'5 < 6 & "7"', "left words", "3", "a note", "1.00 m"}
    closed = [e for e in space.query("LWPOLYLINE") if e.dxf.layer == "cut"]
    assert len(closed) == 1 and closed[0].closed and [tuple(p[:2]) for p in closed[0].get_points()][2] == (1000, 1000)
    assert len(space.query("HATCH")) == 1 and len(space.query("CIRCLE")) == 1
    assert document.header["$INSUNITS"] == 4  # millimetres

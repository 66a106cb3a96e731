"""SVG and DXF of small drawings made by hand: every kind of shape is written, words are escaped, layers carry the
roles.
"""

import base64
import io
import xml.etree.ElementTree as ET

import ezdxf
import numpy as np
import pytest
from PIL import Image

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


def test_the_map_of_a_survey_is_in_the_svg_where_it_belongs_with_its_scale():
    field = Raster((0.0, 0.0), (1.0, 0.5), np.array([[0.0, 1.0], [0.2, 0.4]]), (SQUARE,), "damage", ("chance 0", "1"))
    root = ET.fromstring(svg_text(Drawing("x", "", (0, 0, 1, 1), (field,)), 10).encode())
    name = "{http://www.w3.org/2000/svg}"
    (image,) = root.iter(name + "image")
    assert float(image.get("width")) == pytest.approx(100) and float(image.get("height")) == pytest.approx(50)
    assert float(image.get("x")) == pytest.approx(12) and float(image.get("y")) == pytest.approx(12 + 50)
    raw = base64.b64decode(image.get("{http://www.w3.org/1999/xlink}href").split(",")[1])
    picture = np.asarray(Image.open(io.BytesIO(raw)).convert("L"), dtype=float)
    assert picture[-1, -1] < picture[-1, 0] - 50, "the lower right cell is the darkest: chance 1"
    words = [t.text for t in root.iter(name + "text")]
    assert "chance 0" in words and len([r for r in root.iter(name + "rect") if r.get("class") == "ramp"]) >= 3


def test_signs_that_no_file_may_hold_are_left_out():
    ugly = Drawing(
        "a\x00b",
        "c\x0bd\ne",
        (0, 0, 1, 1),
        (Text((0.5, 0.5), "x\x07\u2028y\uffff", "note"), Callout((0.2, 0.5), "\x1bz", "left")),
    )
    words = [t.text for t in ET.fromstring(svg_text(ugly, 10).encode()).iter("{http://www.w3.org/2000/svg}text")]
    assert {"xy", "z"} <= set(words)
    texts = {e.dxf.text for e in ezdxf.read(io.StringIO(dxf_text(ugly))).modelspace().query("TEXT")}
    assert {"xy", "z"} <= texts


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
    assert {e.dxf.layer for e in space} <= {layer.dxf.name for layer in document.layers}, "every layer is defined"
    low, high = document.header["$EXTMIN"], document.header["$EXTMAX"]
    assert low[0] < 0 < 1000 < high[0] and low[1] < 0 < 1000 <= high[1] and not document.audit().errors

"""Drawings as files: true to scale, readable by others, the same bytes for the same drawing; templates full size."""

import io
import math
import xml.etree.ElementTree as ET

import ezdxf
import pytest
import shapely
from pypdf import PdfReader

from ribpatch.core.drawing.plan_view import plan_view
from ribpatch.core.drawing.scale import USUAL, scale_for
from ribpatch.core.drawing.section_view import default_line, section_view
from ribpatch.core.drawing.shapes import Area, Drawing
from ribpatch.core.errors import FileProblem
from ribpatch.formats.svg import svg_text
from ribpatch.report.export import drawing_bytes
from ribpatch.report.sheet import sheet_scale
from ribpatch.report.templates import EDGE, FOOT, LAP, MM, template_pdf, tiles_of

SVG = "{http://www.w3.org/2000/svg}"


@pytest.fixture(scope="module")
def drawings(made):
    z = made.zone("z1")
    plan = plan_view(z.zone, z.patch, None, made.shelf, "rebuild", "metric")
    cut = section_view(z.zone, z.patch, made.shelf, default_line(z.zone), True, "metric")
    return {"plan": plan, "cut": cut}


def test_the_scale_is_the_largest_usual_one_that_fits():
    assert scale_for(0.2, 0.1, 250, 180) == 1
    assert scale_for(2.0, 1.0, 250, 180) == 10
    assert scale_for(900, 900, 250, 180) == USUAL[-1]


def test_an_svg_is_true_to_its_scale():
    ring = ((0.0, 0.0), (1.2, 0.0), (1.2, 0.5), (0.0, 0.5))
    text = svg_text(Drawing("Box", "true", (0, 0, 1.2, 0.5), (Area((ring,), "old-skin", "old laminate"),)), 10)
    root = ET.fromstring(text.encode())
    assert root.get("width").endswith("mm")
    path = next(p for p in root.iter(f"{SVG}path") if p.get("class") == "old-skin")
    numbers = [float(v) for v in path.get("d").replace("M", " ").replace("L", " ").replace("Z", " ").split()]
    xs, ys = numbers[::2], numbers[1::2]
    assert max(xs) - min(xs) == pytest.approx(120, abs=0.01) and max(ys) - min(ys) == pytest.approx(50, abs=0.01)


def test_hatches_of_an_svg_stay_inside_their_shape(drawings):
    text = svg_text(drawings["cut"], 10)
    root = ET.fromstring(text.encode())
    assert sum(1 for g in root.iter(f"{SVG}g") if g.get("class") == "hatch") >= 5
    assert "clipPath" not in text and "depth × " in text


@pytest.mark.parametrize("name", ["plan", "cut"])
@pytest.mark.parametrize("suffix", [".svg", ".pdf"])
def test_the_same_drawing_gives_the_same_bytes(drawings, name, suffix):
    assert drawing_bytes(drawings[name], "Heron Reach", suffix) == drawing_bytes(drawings[name], "Heron Reach", suffix)


def test_a_dxf_holds_the_cut_line_at_full_size(drawings, made):
    document = ezdxf.read(io.StringIO(drawing_bytes(drawings["plan"], "Heron Reach", ".dxf").decode()))
    assert document.units == ezdxf.units.MM and not document.audit().errors
    lines = [e for e in document.modelspace().query("LWPOLYLINE") if e.dxf.layer == "cut"]
    region = shapely.union_all([shapely.Polygon([(p[0], p[1]) for p in e.get_points()]) for e in lines])
    cut = made.zone("z1").patch.cut.region
    assert region.area / 1e6 == pytest.approx(cut.area, rel=1e-6)
    layers = {e.dxf.layer for e in document.modelspace()}
    assert {"zone", "cut", "band", "ply-line", "fitting", "title"} <= layers


def test_a_pdf_sheet_says_its_scale_and_carries_the_check_bar(drawings):
    page = PdfReader(io.BytesIO(drawing_bytes(drawings["plan"], "Heron Reach, Foredeck", ".pdf"))).pages[0]
    text = page.extract_text()
    assert f"1 : {sheet_scale(drawings['plan'], 'A4')}" in text and "100 mm" in text and "Foredeck" in text


def test_another_suffix_is_told(drawings):
    with pytest.raises(FileProblem, match=r"\.svg, \.dxf or \.pdf"):
        drawing_bytes(drawings["plan"], "Heron Reach", ".doc")


# ---- templates ----


@pytest.mark.parametrize("paper", ["A4", "Letter"])
def test_tiles_cover_the_piece_and_share_their_borders(paper):
    tiles = tiles_of((0.0, 0.0, 0.9, 0.7), paper)
    whole = shapely.union_all([shapely.box(t.x, t.y, t.x + t.width, t.y + t.height) for t in tiles])
    assert whole.buffer(1e-9).covers(shapely.box(0, 0, 0.9, 0.7))
    first, second = tiles[0], tiles[1]
    assert first.x + first.width - second.x == pytest.approx(LAP / 1000)


def test_a_tile_is_as_large_as_the_paper_less_its_edges():
    (tile,) = tiles_of((0, 0, 0.1, 0.1), "A4")
    assert tile.width == pytest.approx((210 - 2 * EDGE) / 1000, rel=1e-3)
    assert tile.height == pytest.approx((297 - 2 * EDGE - FOOT) / 1000, rel=1e-3)
    assert pytest.approx(72 / 25.4) == MM


def test_templates_hold_every_ply_with_its_grain_and_sheet_numbers(made):
    z = made.zone("z4")
    pdf = PdfReader(io.BytesIO(template_pdf(z.patch.outlines, "Heron Reach, Bow topside", "A4", "metric")))
    text = [page.extract_text() for page in pdf.pages]
    expected = sum(
        sum(1 for t in tiles_of(p.bounds, "A4") if p.intersects(shapely.box(t.x, t.y, t.x + t.width, t.y + t.height)))
        for o in z.patch.outlines for p in o.region.geoms
    )  # fmt: skip
    assert len(text) == expected
    for number in range(1, 8):
        assert any(f"ply {number}" in page for page in text)
    assert all("100 mm" in page and "row" in page for page in text) and any("grain" in page for page in text)


def test_no_plies_is_said_on_paper():
    pdf = PdfReader(io.BytesIO(template_pdf((), "Heron Reach, Transom", "Letter", "us")))
    assert "no plies" in pdf.pages[0].extract_text() and math.isclose(float(pdf.pages[0].mediabox.width), 612)

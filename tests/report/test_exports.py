"""Drawings as files: true to scale, readable by others, the same bytes for the same drawing; templates full size."""

import io
import math
import xml.etree.ElementTree as ET

import ezdxf
import pytest
import shapely
from pypdf import PdfReader
from tests.papers import pages_of, text_of

from ribpatch.core.drawing.plan_view import plan_view
from ribpatch.core.drawing.scale import USUAL, scale_for
from ribpatch.core.drawing.section_view import default_line, section_view
from ribpatch.core.drawing.shapes import Area, Drawing
from ribpatch.core.errors import FileProblem
from ribpatch.core.patch.nested import templates_of
from ribpatch.formats.svg import svg_text
from ribpatch.report.export import drawing_bytes, plies_file
from ribpatch.report.sheet import sheet_scale
from ribpatch.report.templates import EDGE, FOOT, LAP, MM, sheets_of, template_pdf, tiles_of

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
    text = text_of(drawing_bytes(drawings["plan"], "Heron Reach, Foredeck", ".pdf"))
    assert f"1 : {sheet_scale(drawings['plan'], 'A4')}" in text and "100 mm" in text and "Foredeck" in text


def test_another_suffix_is_told(drawings):
    with pytest.raises(FileProblem, match=r"\.svg, \.dxf, \.pdf or \.png"):
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
    outlines = made.zone("z4").patch.outlines
    map_page, *text = pages_of(template_pdf(outlines, "Heron Reach, Bow topside", "A4", "metric"))
    sheets = sheets_of(outlines, "A4")
    assert len(text) == len(sheets) and f"{len(sheets)} sheets" in map_page
    for number, page in enumerate(text, 1):
        assert f"sheet {number} of {len(sheets)}" in page and f"of {len(outlines)}" in page
        assert "100 mm" in page and "row" in page and "forward" in page and "up" in page
    for outline in outlines:
        assert any(f" {outline.laid.number}" in page for page in text)
    assert any("grain" in page for page in text)


def test_no_sheet_without_a_line_is_printed_and_every_line_is_on_one(made):
    for zone in ("z1", "z2", "z4"):
        outlines = made.zone(zone).patch.outlines
        sheets = sheets_of(outlines, "A4")
        for template in dict.fromkeys(s.template for s in sheets):
            mine = shapely.union_all([s.tile.box for s in sheets if s.template is template])
            for outline, piece in template.lines:
                assert mine.buffer(1e-9).covers(piece.boundary), (zone, outline.laid.number)
        for sheet in sheets:
            assert any(piece.boundary.intersects(sheet.tile.box) for _, piece in sheet.template.lines)
    # Once 152 sheets, a third of them blank: each ply tiled by itself, what lies wholly inside a ply printed too.
    alone = sum(len(tiles_of(p.bounds, "A4")) for o in made.zone("z1").patch.outlines for p in o.region.geoms)
    assert len(sheets_of(made.zone("z1").patch.outlines, "A4")) < alone / 5


class Ply:
    """An outline as templates see it."""

    def __init__(self, number, region):
        self.region = region
        self.laid = type("Laid", (), {"number": number, "angle": 0.0})()


def box(a, b, c, d):
    return shapely.MultiPolygon([shapely.box(a, b, c, d)])


def test_plies_that_step_out_share_a_template_and_others_have_their_own():
    stepped = [Ply(n, box(-0.01 * n, -0.01 * n, 0.3 + 0.01 * n, 0.2 + 0.01 * n)) for n in (3, 1, 2)]
    (one,) = templates_of(tuple(stepped))
    assert one.name == "plies 1, 2, 3" and [o.laid.number for o, _ in one.lines] == [1, 2, 3]
    aside = Ply(4, box(0.2, 0.1, 0.5, 0.3))
    assert [t.name for t in templates_of((*stepped, aside))] == ["plies 1, 2, 3", "ply 4"]
    two = Ply(5, shapely.MultiPolygon([shapely.box(0, 0, 0.1, 0.1), shapely.box(0.5, 0, 0.6, 0.1)]))
    assert [t.name for t in templates_of((two,))] == ["ply 5, piece 1 of 2", "ply 5, piece 2 of 2"]
    holed = Ply(6, shapely.MultiPolygon([shapely.box(-1, -1, 1, 1).difference(shapely.box(0.1, 0.1, 0.15, 0.15))]))
    assert len(templates_of((*stepped, holed))) == 2  # a line that crosses a hole would be cut away with it


@pytest.mark.parametrize(("paper", "wide"), [("A3", 297), ("A0", 841), ("roll-610", 610), ("roll-914", 914)])
def test_larger_paper_and_rolls_take_fewer_sheets_and_are_as_wide_as_they_say(made, paper, wide):
    outlines = made.zone("z1").patch.outlines
    raw = PdfReader(io.BytesIO(template_pdf(outlines, "Heron Reach, Foredeck", paper, "metric")))
    assert len(raw.pages) - 1 < len(sheets_of(outlines, "A4"))
    for page in raw.pages[1:]:
        assert float(page.mediabox.width) / MM == pytest.approx(wide, abs=0.1)
        if paper.startswith("roll"):
            assert float(page.mediabox.height) / MM <= 5000


def test_register_marks_of_neighbours_meet(made):
    tiles = {(t.row, t.column): t for t in tiles_of((0.0, 0.0, 0.9, 0.7), "A4")}
    here, right = tiles[1, 1], tiles[1, 2]
    half = LAP / 2000
    for share in (0.2, 0.5, 0.8):
        assert here.x + here.width - half == pytest.approx(right.x + half)
        assert here.y + here.height * share == pytest.approx(right.y + right.height * share)


def test_plies_as_svg_and_dxf_stand_full_size_each_on_its_layer(made):
    outlines = made.zone("z4").patch.outlines
    svg = plies_file(outlines, "Bow topside", ".svg", "A4", "metric", ("forward", "up")).decode()
    assert "1 : 1" in svg and all(f"ply {o.laid.number}" in svg for o in outlines)
    text = plies_file(outlines, "Bow topside", ".dxf", "A4", "metric", ("forward", "up")).decode()
    document = ezdxf.read(io.StringIO(text))
    for outline in outlines:
        lines = [
            e
            for e in document.modelspace().query("LWPOLYLINE")
            if e.dxf.layer.replace("_", " ") == f"ply {outline.laid.number}"
        ]
        xs = [p[0] for e in lines for p in e.get_points()]
        x0, _, x1, _ = outline.region.bounds
        assert max(xs) - min(xs) == pytest.approx(1000 * (x1 - x0), abs=1e-3)
    with pytest.raises(FileProblem):
        plies_file(outlines, "x", ".doc", "A4", "metric", ("forward", "up"))


def test_no_plies_is_said_on_paper():
    pdf = template_pdf((), "Heron Reach, Transom", "Letter", "us")
    assert "no plies" in text_of(pdf) and math.isclose(float(PdfReader(io.BytesIO(pdf)).pages[0].mediabox.width), 612)

from math import pi

import ezdxf
import pytest
from shapely.geometry import Polygon

from ribpatch.core.errors import BadDrawing
from ribpatch.formats import outline_process
from ribpatch.formats.outline_file import laid_at_origin, read_outlines
from ribpatch.formats.outlines import outlines_of


def saved(tmp_path, name, text):
    path = tmp_path / name
    path.write_text(text)
    return path


def svg(body, size='width="300mm" height="200mm" viewBox="0 0 300 200"'):
    return f'<svg xmlns="http://www.w3.org/2000/svg" {size}>{body}</svg>'


def areas(path):
    return [Polygon(ring).area for _, ring in read_outlines(path).rings]


def test_an_svg_of_shapes_gives_rings_in_metres_with_y_up(tmp_path):
    body = (
        '<rect id="panel" x="10" y="20" width="120" height="80"/>'
        '<circle cx="200" cy="100" r="30"/>'
        '<path d="M 20 150 L 60 150 L 60 190 Z"/>'
        '<line x1="0" y1="0" x2="9" y2="9"/>'
    )
    drawn = read_outlines(saved(tmp_path, "a.svg", svg(body)))
    assert drawn.stated and next(name for name, _ in drawn.rings) == "panel"
    found = [Polygon(ring).area for _, ring in drawn.rings]
    assert found == pytest.approx([0.12 * 0.08, pi * 0.03**2, 0.04 * 0.04 / 2], rel=2e-3)
    x0, y0, x1, y1 = Polygon(drawn.rings[0][1]).bounds
    assert (x1 - x0, y1 - y0) == pytest.approx((0.12, 0.08)) and y1 == pytest.approx(-0.02)
    assert Polygon(laid_at_origin(drawn.rings[0][1])).bounds == pytest.approx((0, 0, 0.12, 0.08))


@pytest.mark.parametrize(
    ("size", "stated", "side"),
    [
        ('width="10in" height="10in" viewBox="0 0 100 100"', True, 0.0254),
        ('width="20cm" height="20cm" viewBox="0 0 200 200"', True, 0.01),
        ('viewBox="0 0 200 200"', False, 0.01),
        ("", False, 0.01),
    ],
)
def test_the_size_that_an_svg_states_is_its_size_and_millimetres_are_taken_where_it_states_none(
    tmp_path, size, stated, side
):
    drawn = read_outlines(saved(tmp_path, "a.svg", svg('<rect width="10" height="10"/>', size)))
    assert drawn.stated is stated
    assert Polygon(drawn.rings[0][1]).area == pytest.approx(side**2, rel=1e-6)


def test_transforms_groups_curves_and_subpaths_are_followed(tmp_path):
    body = (
        '<g transform="translate(20 30) scale(2)"><path d="M 0 0 h 10 v 10 h -10 z M 30 0 h 6 v 6 h -6 z"/></g>'
        '<path d="M 100 50 A 25 25 0 1 1 150 50 A 25 25 0 1 1 100 50 Z"/>'
    )
    assert areas(saved(tmp_path, "a.svg", svg(body))) == pytest.approx([pi * 0.025**2, 0.0004, 0.000144], rel=2e-3)


def test_lines_and_arcs_of_a_dxf_that_meet_are_joined(tmp_path):
    document = ezdxf.new(units=4)
    space = document.modelspace()
    space.add_line((0, 0), (100, 0))
    space.add_arc((100, 30), 30, -90, 90)
    space.add_line((100, 60), (0, 60))
    space.add_line((0, 60), (0, 0))
    space.add_lwpolyline([(200, 0), (260, 0), (260, 40), (200, 40)], close=True)
    space.add_circle((400, 0), 12)
    space.add_text("not a line")
    document.saveas(tmp_path / "a.dxf")
    drawn = read_outlines(tmp_path / "a.dxf")
    assert drawn.stated
    found = [Polygon(ring).area for _, ring in drawn.rings]
    assert found == pytest.approx([0.006 + pi * 0.03**2 / 2, 0.0024, pi * 0.012**2], rel=2e-3)


@pytest.mark.parametrize(("units", "factor", "stated"), [(1, 0.0254, True), (6, 1.0, True), (0, 0.001, False)])
def test_a_dxf_is_read_in_the_units_of_its_header(tmp_path, units, factor, stated):
    document = ezdxf.new(units=units)
    document.modelspace().add_lwpolyline([(0, 0), (30, 0), (30, 20), (0, 20)], close=True)
    document.saveas(tmp_path / "a.dxf")
    drawn = read_outlines(tmp_path / "a.dxf")
    assert drawn.stated is stated and Polygon(drawn.rings[0][1]).area == pytest.approx(600 * factor**2)


def test_blocks_splines_and_ellipses_are_followed(tmp_path):
    document = ezdxf.new(units=4)
    block = document.blocks.new("half")
    block.add_lwpolyline([(0, 0), (10, 0), (10, 10), (0, 10)], close=True)
    document.modelspace().add_blockref("half", (50, 50), dxfattribs={"xscale": 3, "yscale": 3})
    document.modelspace().add_ellipse((200, 0), major_axis=(40, 0), ratio=0.5)
    document.saveas(tmp_path / "a.dxf")
    assert areas(tmp_path / "a.dxf") == pytest.approx([pi * 0.04 * 0.02, 0.0009], rel=2e-3)


@pytest.mark.parametrize("suffix", [".svg", ".dxf"])
def test_the_programs_own_ply_templates_read_back(tmp_path, suffix, made):
    from ribpatch.core.zone_axes import AXES
    from ribpatch.report.export import plies_file

    zone = made.zones[0]
    outlines = zone.patch.all_outlines
    path = tmp_path / f"plies{suffix}"
    path.write_bytes(plies_file(outlines, "Sample", suffix, "A4", "metric", AXES[zone.zone.kind]))
    found = areas(path)
    for outline in outlines:
        wanted = Polygon(outline.region.geoms[0].exterior).area
        assert min(abs(a / wanted - 1) for a in found) < 2e-3


@pytest.mark.parametrize(
    ("name", "text", "said"),
    [
        ("a.svg", "<svg", "is no SVG"),
        ("a.svg", svg('<line x1="0" y1="0" x2="9" y2="9"/>'), "no closed line"),
        ("a.svg", '<!DOCTYPE svg [<!ENTITY a "b">]>' + svg("&a;"), "defines entities"),
        ("a.svg", svg('<path d="M 0 0 L nan nan L 5 5 Z"/>'), "cannot be read|no closed line"),
        ("a.dxf", "not a drawing", "cannot be read"),
        ("a.dxf", "AutoCAD Binary DXF\r\n\x1a\x00", "binary"),
        ("a.txt", "x", "neither SVG nor DXF"),
    ],
)
def test_what_holds_no_outline_is_told_with_what_to_do(tmp_path, name, text, said):
    with pytest.raises(BadDrawing, match=said) as told:
        read_outlines(saved(tmp_path, name, text))
    assert name in told.value.sentence and told.value.sentence.endswith(".")


def test_a_missing_or_huge_file_is_told(tmp_path, monkeypatch):
    with pytest.raises(BadDrawing, match="cannot be read"):
        read_outlines(tmp_path / "gone.svg")
    monkeypatch.setattr("ribpatch.formats.outline_file.MOST_POINTS", 20)
    with pytest.raises(BadDrawing, match="far too many"):
        read_outlines(saved(tmp_path, "a.svg", svg('<circle r="30"/>' * 9)))


# ---- drawings that would take gigabytes or hours ----


def a_dxf(tmp_path, fill):
    document = ezdxf.new(units=4)
    fill(document, document.modelspace())
    document.saveas(tmp_path / "a.dxf")
    return tmp_path / "a.dxf"


def array_of_nothing(document, space):
    document.blocks.new("E")
    insert = space.add_blockref("E", (0, 0))
    insert.dxf.row_count = insert.dxf.column_count = 30_000


def nested(document, space):
    for n in range(12):
        block = document.blocks.new(f"B{n}")
        for k in range(10):
            block.add_blockref(f"B{n - 1}", (k, 0)) if n else block.add_circle((0, 0), 1)
    space.add_blockref("B11", (0, 0))


def within_itself(document, space):
    document.blocks.new("R").add_blockref("R", (1, 1))
    space.add_blockref("R", (0, 0))


@pytest.mark.parametrize(
    ("fill", "words"),
    [
        (array_of_nothing, "draws over 50 000 things"),
        (nested, "draws over"),
        (within_itself, "a block that holds itself"),
    ],
)
def test_blocks_are_counted_before_they_are_drawn(tmp_path, fill, words):
    with pytest.raises(BadDrawing, match=words):
        read_outlines(a_dxf(tmp_path, fill))


@pytest.mark.parametrize("radius", [100.0, 1e9])
def test_a_curve_is_chords_however_large_it_is(tmp_path, radius):
    drawn = read_outlines(a_dxf(tmp_path, lambda _document, space: space.add_circle((0, 0), radius)))
    ring = drawn.rings[0][1]
    assert len(ring) <= 2000
    assert Polygon(ring).area == pytest.approx(pi * (radius * 0.001) ** 2, rel=2e-3)


def test_copies_of_copies_in_an_svg_are_counted_before_they_are_drawn(tmp_path):
    groups = '<g id="g0"><rect width="1" height="1"/></g>' + "".join(
        f'<g id="g{n}">' + f'<use href="#g{n - 1}"/>' * 10 + "</g>" for n in range(1, 20)
    )
    with pytest.raises(BadDrawing, match="draws over"):
        read_outlines(saved(tmp_path, "a.svg", svg(f'<defs>{groups}</defs><use href="#g19"/>')))
    with pytest.raises(BadDrawing, match="holds itself"):
        read_outlines(saved(tmp_path, "a.svg", svg('<g id="a"><use href="#a"/></g>')))
    with pytest.raises(BadDrawing, match="nested far too deeply"):
        read_outlines(saved(tmp_path, "a.svg", svg("<g>" * 100 + "</g>" * 100)))
    twice = '<defs><rect id="r" width="30" height="20"/></defs><use href="#r"/><use href="#r" x="50"/>'
    assert areas(saved(tmp_path, "a.svg", svg(twice))) == pytest.approx([0.0006, 0.0006])


def test_another_process_reads_it_and_says_how_far_it_is(tmp_path):
    path = saved(tmp_path, "a.svg", svg('<rect id="panel" width="120" height="80"/>'))
    shares = []
    assert outlines_of(path, shares.append) == read_outlines(path)
    assert shares == sorted(shares) and shares[-1] > 0
    with pytest.raises(BadDrawing, match="is no SVG"):
        outlines_of(saved(tmp_path, "b.svg", "<svg"))

    class Stopped(Exception):
        pass

    def stop(_share):
        raise Stopped

    with pytest.raises(Stopped):
        outlines_of(path, stop)


def test_a_reader_that_takes_too_long_or_too_much_is_ended(tmp_path, monkeypatch):
    path = saved(tmp_path, "a.svg", svg('<rect width="120" height="80"/>'))
    monkeypatch.setattr("ribpatch.formats.outlines.SECONDS", 0.0)
    with pytest.raises(BadDrawing, match="is not read within"):
        outlines_of(path)
    monkeypatch.setattr("ribpatch.formats.outline_file.read_outlines", lambda *_given: bytearray(1 << 45))
    assert outline_process.read(path) == {"memory": True}

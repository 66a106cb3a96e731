import numpy as np
import pytest
from scipy.ndimage import gaussian_filter
from shapely.geometry import MultiPoint, Polygon
from tests.core.photo.scene import SHAPE, lengths
from tests.core.photo.sheet_picture import page, photographed

from ribpatch.core.errors import BadOutline
from ribpatch.core.photo.drawn_line import drawn_line
from ribpatch.core.photo.marks_found import found_marks
from ribpatch.core.photo.read_sheet import line_on_sheet
from ribpatch.core.photo.straightened import straightened
from ribpatch.core.set_straight import Straight
from ribpatch.report.set_off_sheet import spacing

BRACKET = ((0.02, 0.03), (0.14, 0.02), (0.15, 0.12), (0.11, 0.21), (0.03, 0.19))


def read(grey, paper="A4"):
    marks = found_marks(grey)
    straight = Straight(how="rectangle", marks=marks, sizes=lengths(*spacing(paper)), shape=SHAPE)
    made = straightened(straight)
    return line_on_sheet(np.stack([grey] * 3, axis=-1), made)


def away(ring, shape):
    """The largest distance between two outlines, m."""
    return Polygon(ring).exterior.hausdorff_distance(Polygon(shape).exterior)


@pytest.mark.parametrize("camera", [{}, {"eye": (0.3, 0.1, 0.35), "roll": -0.4}, {"eye": (0.0, 0.5, 0.4), "roll": 2.9}])
def test_a_shape_set_off_on_paper_reads_back_within_a_millimetre_and_a_half(camera):
    assert away(read(photographed(page(BRACKET), **camera)), BRACKET) < 0.0015


def test_a_shape_with_a_hollow_and_a_curve_reads_back_along_the_middle_of_a_thick_line():
    turn = np.linspace(0, 2 * np.pi, 90, endpoint=False)
    radius = 0.06 + 0.012 * np.cos(3 * turn)
    shape = tuple((0.08 + r * np.cos(t), 0.12 + r * np.sin(t)) for r, t in zip(radius, turn, strict=True))
    found = read(photographed(page(shape, pen=2.5)))
    assert Polygon(found).area == pytest.approx(Polygon(shape).area, rel=0.012)
    assert away(found, shape) < 0.0012


def test_a_line_with_a_small_gap_is_closed_and_one_with_a_large_gap_is_told():
    assert away(read(photographed(page(BRACKET, gap=0.002))), BRACKET) < 0.0015
    with pytest.raises(BadOutline, match="no closed line"):
        read(photographed(page(BRACKET, gap=0.03)))


def test_marks_are_found_from_any_side_and_told_where_they_are_not():
    for roll in (0.0, 1.6, 3.1, -1.5):
        marks = np.array(found_marks(photographed(page(BRACKET), roll=roll)))
        ring = marks - marks.mean(axis=0)
        x, y = ring.T
        assert float(x @ np.roll(y, -1) - y @ np.roll(x, -1)) < 0  # against the clock, as the rows go down
    covered = page(BRACKET).copy()
    covered[: covered.shape[0] // 4, : covered.shape[1] // 2] = 255
    with pytest.raises(BadOutline, match="3 printed marks were found, 1 of them"):
        found_marks(photographed(covered))
    with pytest.raises(BadOutline, match="0 printed marks"):
        found_marks(np.full((40, 50), 200, np.uint8))


def test_a_shadow_and_small_rings_in_the_drawing_are_no_marks():
    extra = page(((0.05, 0.05), (0.1, 0.05), (0.1, 0.1)))
    assert len(found_marks(photographed(extra, shade=0.7))) == 4


def test_an_empty_sheet_has_no_line():
    grey = np.full((200, 300), 220, np.uint8)
    with pytest.raises(BadOutline, match="no closed line"):
        drawn_line(grey, np.zeros(grey.shape, bool), (0.0, 0.0), 0.001)


def test_a_circle_in_a_flat_picture_has_its_area():
    y, x = np.mgrid[0:400, 0:400]
    r = np.hypot(x - 199.5, y - 199.5)
    grey = np.where(np.abs(r - 120) <= 3, 20, 230).astype(np.uint8)
    ring = drawn_line(grey, np.zeros(grey.shape, bool), (1.0, 2.0), 0.0005)
    assert Polygon(ring).area == pytest.approx(np.pi * 0.06**2, rel=0.01)
    assert Polygon(ring).centroid.coords[0] == pytest.approx((1.1, 2.1), abs=1e-4)


@pytest.mark.parametrize("seed", range(8))
def test_shapes_read_back_under_any_camera_blurred_noisy_and_half_in_shadow(seed):
    rng = np.random.default_rng(seed)
    turn = np.sort(rng.uniform(0, 2 * np.pi, 9))
    points = [(0.08 + 0.06 * np.cos(t), 0.12 + 0.085 * np.sin(t)) for t in turn]
    shape = tuple(MultiPoint(points).convex_hull.exterior.coords[:-1])
    camera = {
        "eye": (rng.uniform(-0.15, 0.35), rng.uniform(-0.2, 0.45), rng.uniform(0.32, 0.5)),
        "roll": rng.uniform(-3, 3),
        "shade": rng.uniform(0, 0.7),
        "noise": rng.uniform(1, 8),
    }
    grey = gaussian_filter(
        photographed(page(shape, pen=rng.uniform(0.7, 2)), **camera).astype(float), rng.uniform(0, 1.5)
    )
    if seed % 2:
        grey[:, : grey.shape[1] // 2] *= 0.55  # the edge of a shadow across the sheet
    assert away(read(np.clip(grey, 0, 255).astype(np.uint8)), shape) < 0.003


def test_a_line_that_runs_off_the_paper_encloses_nothing_there():
    grey = np.full((300, 400), 225, np.uint8)
    grey[100:104, :] = 20  # from rim to rim
    grey[150:250, 100] = grey[150:250, 260] = grey[150, 100:261] = grey[249, 100:261] = 20
    ring = drawn_line(grey, np.zeros(grey.shape, bool), (0.0, 0.0), 0.001)
    x0, y0, x1, y1 = Polygon(ring).bounds
    assert (x0, y0, x1, y1) == pytest.approx((0.1, 0.05, 0.26, 0.15), abs=0.002)


def test_what_is_not_paper_is_no_wall_and_no_inside():
    grey = np.full((300, 400), 225, np.uint8)
    clear = np.zeros(grey.shape, bool)
    clear[:, 200:] = True
    grey[50:250, 60] = grey[50:250, 150] = grey[50, 60:151] = grey[249, 60:151] = 20
    grey[50:250, 210] = grey[50:250, 390] = grey[50, 210:391] = grey[249, 210:391] = 20  # larger, beside the paper
    ring = drawn_line(grey, clear, (0.0, 0.0), 0.001)
    assert Polygon(ring).bounds == pytest.approx((0.06, 0.05, 0.151, 0.25), abs=0.002)


def test_a_small_loop_is_no_shape():
    grey = np.full((300, 400), 225, np.uint8)
    grey[100:120, 100] = grey[100:120, 119] = grey[100, 100:120] = grey[119, 100:120] = 20
    with pytest.raises(BadOutline, match="no closed line"):
        drawn_line(grey, np.zeros(grey.shape, bool), (0.0, 0.0), 0.001)

import numpy as np
import pytest
from tests.core.photo.scene import HEIGHT, WIDTH, looked_at, rectangle

from ribpatch.core.photo.pixels import laid_flat
from ribpatch.core.photo.straightened import straightened


def board(places):
    """A board whose colour is a smooth function of the place, so that any place tells its colour: 0 to 255."""
    x, y = np.asarray(places).T
    return np.column_stack([127 + 100 * np.sin(5 * x), 127 + 100 * np.cos(4 * y), 127 + 60 * np.sin(3 * x + 2 * y)])


def photograph(scale=4):
    """What a camera sees of the board: each pixel's ray meets the plane where it does, without a homography."""
    height, width = HEIGHT // scale, WIDTH // scale
    u, v = np.meshgrid((np.arange(width) + 0.5) / width, (np.arange(height) + 0.5) / width)
    colours = board(looked_at(np.column_stack([u.ravel(), v.ravel()])))
    return np.rint(colours).astype(np.uint8).reshape(height, width, 3)


def test_a_board_laid_flat_has_the_colours_of_its_places():
    made = straightened(rectangle())
    flat = laid_flat(photograph(), made, (0.2, 0.1), (1.2, 0.7), 200)
    assert flat.shape == (120, 200, 4) and (flat[..., 3] == 255).all()
    x, y = np.meshgrid(0.2 + (np.arange(200) + 0.5) / 200, 0.7 - (np.arange(120) + 0.5) * 0.6 / 120)
    wanted = board(np.column_stack([x.ravel(), y.ravel()])).reshape(120, 200, 3)
    assert np.abs(flat[..., :3] - wanted).max() < 3


def test_where_the_photograph_shows_nothing_the_picture_is_clear():
    made = straightened(rectangle())
    flat = laid_flat(np.full((300, 400, 3), 90, np.uint8), made, (-30.0, -30.0), (30.0, 30.0), 60)
    assert 0 < (flat[..., 3] == 255).sum() < flat[..., 3].size / 4
    assert (flat[flat[..., 3] == 0] == 0).all()


@pytest.mark.parametrize("picture", [np.full((1, 1, 3), 7, np.uint8), np.full((2, 3, 3), 7, np.uint8)])
def test_the_smallest_pictures_are_laid_flat_too(picture):
    flat = laid_flat(picture, straightened(rectangle()), (0.2, 0.1), (1.2, 0.7), 9)
    assert set(flat[flat[..., 3] == 255][:, :3].ravel()) <= {7}


def test_every_pixel_to_the_rim_is_found_at_its_own_place():
    made = straightened(rectangle())
    rng = np.random.default_rng(2)
    picture = rng.integers(0, 255, (6, 8, 3), dtype=np.uint8)
    for row in range(6):
        for column in range(8):
            (x, y) = made.to_zone(np.array([[(column + 0.5) / 8, (row + 0.5) / 8]]))[0]
            flat = laid_flat(picture, made, (x - 1e-7, y - 1e-7), (x + 1e-7, y + 1e-7), 1)
            assert flat.shape == (1, 1, 4) and flat[0, 0, 3] == 255
            assert np.abs(flat[0, 0, :3].astype(int) - picture[row, column]).max() <= 1, (row, column)


def test_half_way_between_pixels_is_half_of_both():
    made = straightened(rectangle())
    picture = np.zeros((6, 8, 3), np.uint8)
    picture[2, 3], picture[2, 4], picture[3, 3], picture[3, 4] = 40, 80, 120, 200
    for (column, row), wanted in (((4.0, 2.5), 60), ((3.5, 3.0), 80), ((4.0, 3.0), 110), ((3.75, 2.5), 50)):
        (x, y) = made.to_zone(np.array([[column / 8, row / 8]]))[0]
        flat = laid_flat(picture, made, (x - 1e-7, y - 1e-7), (x + 1e-7, y + 1e-7), 1)
        assert abs(int(flat[0, 0, 0]) - wanted) <= 1

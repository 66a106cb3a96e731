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

"""What a shop learned, kept in the user's library folder and used by every plan."""

import pytest

from ribpatch.core.errors import FileProblem
from ribpatch.core.shop import HoursSeen, Shop, ShopJob
from ribpatch.library.shelf import library_folder, shipped_shelf, user_shelf
from ribpatch.library.shop import read_shop, shop_path, write_shop


def shop(*ratios):
    return Shop(
        jobs=tuple(
            ShopJob(job=f"boat {n}", boat="boat", hours=(HoursSeen(kind="grind", usual=3600.0, actual=3600.0 * r),))
            for n, r in enumerate(ratios)
        )
    )


def test_what_was_learned_is_kept_applied_and_can_be_forgotten():
    assert read_shop() == Shop() and user_shelf()[0] is shipped_shelf()
    write_shop(shop(2.0, 2.0))
    assert read_shop() == shop(2.0, 2.0)
    shelf, faults = user_shelf()
    assert faults == () and shelf.step("grind").pace == pytest.approx(2**0.5)
    write_shop(shop())
    assert user_shelf()[0] is shipped_shelf()
    assert b"boat 1" in shop_path().with_name("shop.json~").read_bytes()


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("{", "is no JSON"),
        ('{"version": 1, "jobs": [{"job": ""}]}', "jobs.0"),
        ('{"version": 2}', "version"),
        ('{"jobs": [{"job": "a", "boat": "b"}, {"job": "a", "boat": "b"}]}', "counted twice"),
    ],
)
def test_a_file_that_is_wrong_is_told_and_left_out(text, words):
    library_folder().mkdir(parents=True)
    shop_path().write_text(text)
    with pytest.raises(FileProblem, match=words):
        read_shop()
    shelf, faults = user_shelf()
    assert shelf is shipped_shelf() and len(faults) == 1 and words in faults[0].sentence


def test_where_it_cannot_be_written_it_is_as_it_was(monkeypatch):
    write_shop(shop(2.0))

    def full(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("os.fsync", full)
    with pytest.raises(FileProblem, match="No space left"):
        write_shop(shop(3.0))
    assert read_shop() == shop(2.0) and not list(library_folder().glob("*.part"))

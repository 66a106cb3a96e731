"""Sheets are those of ISO 216 and of the inch."""

import pytest

from ribpatch.core.paper_sizes import PAPERS


def test_sheets_of_inches():
    assert PAPERS["Letter"] == pytest.approx((8.5 * 25.4, 11 * 25.4)) and PAPERS["Tabloid"] == pytest.approx((11 * 25.4, 17 * 25.4))  # fmt: skip


def test_each_sheet_is_half_of_the_next_and_the_largest_a_square_metre():
    assert PAPERS["A0"][0] * PAPERS["A0"][1] == pytest.approx(1e6, rel=1e-3)
    for small, large in zip(("A4", "A3", "A2", "A1"), ("A3", "A2", "A1", "A0"), strict=True):
        assert PAPERS[small] == (PAPERS[large][1] // 2, PAPERS[large][0])


def test_rolls_are_as_wide_as_their_name_and_of_any_length():
    assert {name: size for name, size in PAPERS.items() if name.startswith("roll")} == {"roll-610": (610, 0), "roll-914": (914, 0)}  # fmt: skip

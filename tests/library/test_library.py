"""User data files over the shipped ones, and the demo job."""

import json

import pytest

from ribpatch.core.errors import FileProblem
from ribpatch.core.figure import Origin
from ribpatch.library.demo import demo_job
from ribpatch.library.shelf import library_folder, read_items, shipped_shelf, user_shelf


def put(name, document):
    folder = library_folder()
    folder.mkdir(parents=True, exist_ok=True)
    (folder / f"{name}.json").write_text(document if isinstance(document, str) else json.dumps(document))


def test_own_prices_and_cores_come_over_the_shipped():
    put("prices", {"version": 1, "items": [{"id": "cup", "name": "cup", "price": 0.25, "per": "each"}]})
    shelf, faults = user_shelf()
    assert not faults and shelf.price("cup").price == 0.25 and shelf.origin("cup") is Origin.YOURS
    assert shelf.price("peel-ply") is not None


@pytest.mark.parametrize(
    "document",
    ["{", "[]", {"version": 9, "items": []}, {"version": 1}, {"version": 1, "items": [{"id": "x"}]},
     {"version": 1, "items": [{"id": "cup", "name": "c", "price": -1, "per": "each"}]}],
)  # fmt: skip
def test_a_bad_own_file_is_left_out_and_told(document):
    put("prices", document)
    shelf, faults = user_shelf()
    assert len(faults) == 1 and "prices.json" in faults[0].sentence
    assert shelf.price("cup").price == 0.6


@pytest.mark.parametrize(
    ("name", "items", "says"),
    [
        ("rules", [{"id": "psi.hand.mat", "name": "x", "value": 0.95, "kind": "share", "low": 0, "high": 1, "reason": ""}], "outside 11 % to 79 %"),
        ("rules", [{"id": "psi.hand.mat", "name": "x", "value": 0.3, "kind": "length", "low": 0, "high": 1, "reason": ""}], "is a share"),
        ("rules", [{"id": "psi.hand.hay", "name": "x", "value": 0.3, "kind": "share", "low": 0, "high": 1, "reason": ""}], "psi.hand.mat"),
        ("eras", [{"id": "old", "name": "x", "first": 1950, "last": 1960, "pattern": ["straw"], "resin": "polyester-ortho", "reason": ""}], "straw"),
        ("fabrics", [{"id": "f", "name": "x", "code": "", "layers": [{"angle": 0, "weight": 0.3, "kind": "mat", "fibre": "hay"}], "roll_width": 1,
          "turn": 90}], "hay"),
        ("prices", [{"id": "cup", "name": "a", "price": 1, "per": "each"}] * 2, "two records carry the id cup"),
        ("prices", [{"id": f"p{n}", "name": "a", "price": 1, "per": "each"} for n in range(2001)], "more than 2000"),
        ("prices", [{}] * 2000, "and "), ("prices", "[" * 100_000, "nested"), ("prices", " " * (4 * 2**20 + 1), "larger than 4 MiB"),
    ],
)  # fmt: skip
def test_own_files_are_held_to_the_limits_of_the_shipped_ones(name, items, says):
    put(name, items if isinstance(items, str) else {"version": 1, "items": items})
    shelf, faults = user_shelf()
    assert len(faults) == 1 and says in faults[0].sentence and len(faults[0].sentence) < 1500
    assert getattr(shelf, name) == getattr(shipped_shelf(), name), "none of it is used"


def test_the_reason_names_the_record_and_field():
    with pytest.raises(FileProblem, match=r"items\.0\.density"):
        read_items(
            "fibres",
            json.dumps({"version": 1, "items": [{"id": "e", "name": "e", "density": 1, "reason": ""}]}).encode(),
            "fibres.json",
        )


def test_the_demo_is_the_launch_with_her_four_zones():
    job = demo_job()
    assert job == demo_job()
    boat = job.boat
    assert (boat.length.si, boat.beam.si, boat.depth.si, boat.displacement.si, boat.year) == (9.6, 2.9, 1.3, 3400, 1998)
    assert [z.kind for z in job.zones] == ["deck panel", "transom", "stringer run", "hull panel"]


def test_the_demo_shows_a_tight_taper_and_a_clear_one(made):
    tight = made.zone("z1").patch.band.tight
    assert [t.against for t in tight] == ["locker hatch"] and 7 < tight[0].ratio < 11
    assert made.zone("z4").patch.band.tight == ()

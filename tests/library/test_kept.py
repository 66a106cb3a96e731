"""What is kept between starts: the same as made anew, never believed when it is anything else."""

import os
import pickle
from typing import get_type_hints

import pytest

from ribpatch.core.record import _records_in
from ribpatch.library import kept
from ribpatch.library.demo import demo_job
from ribpatch.library.shelf import _read_shipped, shipped_shelf


class Called:
    """What a file would do that should never be believed."""

    def __reduce__(self):
        return os.system, ("touch believed",)


def folder(own_folders):
    return own_folders / "xdg" / "cache" / "ribpatch"


def test_the_demo_job_and_the_shelf_read_back_are_those_that_were_made(own_folders):
    first, second = kept.kept_demo_job(), kept.kept_demo_job()
    assert first == second == demo_job() and second is not first
    assert (folder(own_folders) / "demo.kept").is_file()
    made = _read_shipped()
    shelf = shipped_shelf()
    for name in type(made).__struct_fields__:
        assert getattr(shelf, name) == getattr(made, name), name


def test_every_module_that_describes_a_part_of_a_job_or_a_shelf_decides_its_form():
    """A change to any of them makes what is kept anew."""
    seen, waiting = set(), [type(demo_job())]
    while waiting:
        record = waiting.pop()
        if record not in seen:
            seen.add(record)
            for hint in get_type_hints(record, include_extras=True).values():
                waiting += list(_records_in(hint))
    modules = {r.__module__.removeprefix("ribpatch.").replace(".", "/") + ".py" for r in seen}
    assert "core/stock.py" in modules and modules <= set(kept._FORMS)


def test_it_is_made_once_and_again_when_its_source_changes(own_folders, monkeypatch):
    made = []

    def make():
        made.append(1)
        return demo_job()

    for _ in range(3):
        kept.kept("try", ("core/job.py",), make, type(demo_job()))
    assert len(made) == 1
    kept.kept("try", ("core/units.py",), make, type(demo_job()))
    assert len(made) == 2
    monkeypatch.setattr("ribpatch.__version__", "9.9")
    kept.kept("try", ("core/units.py",), make, type(demo_job()))
    assert len(made) == 3


@pytest.mark.parametrize("harm", ["cut", "flipped", "empty", "other kind", "folder"])
def test_a_damaged_file_is_made_anew(own_folders, harm):
    kept.kept_demo_job()
    path = folder(own_folders) / "demo.kept"
    raw = path.read_bytes()
    if harm == "folder":
        path.unlink()
        path.mkdir()
    elif harm == "other kind":
        path.write_bytes(
            (folder(own_folders) / "shelf.kept").read_bytes()
            if (folder(own_folders) / "shelf.kept").exists()
            else raw[:40]
        )
    else:
        path.write_bytes({"cut": raw[: len(raw) // 2], "flipped": raw[:60] + b"x" + raw[61:], "empty": b""}[harm])
    assert kept.kept_demo_job() == demo_job()


def test_nothing_but_records_is_read_back(own_folders, monkeypatch):
    monkeypatch.chdir(own_folders)
    kept.kept_demo_job()
    path = folder(own_folders) / "demo.kept"
    stamp = path.read_bytes()[: kept._DIGEST]
    for harm in (Called(), os.path.join, ["a"]):
        body = pickle.dumps(harm)
        path.write_bytes(stamp + kept._sum(body) + body)
        assert kept.kept_demo_job() == demo_job()
    assert not (own_folders / "believed").exists()


def test_without_a_cache_folder_all_goes_on(own_folders):
    folder(own_folders).parent.mkdir(parents=True)
    folder(own_folders).write_text("a file where the folder should be")
    assert kept.kept_demo_job() == demo_job()

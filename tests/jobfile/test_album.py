"""Photographs and recordings of an open job: through save, undo and another file."""

import pytest

from ribpatch.core import survey_edits
from ribpatch.jobfile import archive
from ribpatch.jobfile.album import Album, damaged_folder


def with_photograph(job, member):
    return survey_edits.add_photograph("z1", member, "core", (0.2, 0.1)).change(job)


def saved(job, path, album, carry_from=None):
    """Save as the session does."""
    album.before_save(job)
    archive.save(job, path, carry_from=carry_from, album=album.fresh)
    album.saved_to(path, job)


def test_the_same_bytes_have_the_same_name_and_others_another():
    album = Album()
    one, two = album.add("photographs/", b"one", ".jpg"), album.add("photographs/", b"two", ".jpg")
    assert album.add("photographs/", b"one", ".jpg") == one != two
    assert album.get(f"photographs/{one}") == b"one" and album.get(f"recordings/{one}") is None


def test_after_a_save_the_bytes_are_read_from_the_file(job, tmp_path):
    album, path = Album(), tmp_path / "a.ribpatch"
    member = album.add("photographs/", b"picture", ".jpg")
    saved(with_photograph(job, member), path, album)
    assert album.fresh == {} and album.get(f"photographs/{member}") == b"picture"


def test_what_was_undone_before_a_save_comes_back_with_redo(job, tmp_path):
    album, path = Album(), tmp_path / "a.ribpatch"
    member = album.add("photographs/", b"picture", ".jpg")
    full = with_photograph(job, member)
    saved(full, path, album)
    saved(job, path, album, carry_from=path)
    assert archive.member_names(path) == frozenset() and album.get(f"photographs/{member}") == b"picture"
    saved(full, path, album, carry_from=path)
    assert archive.member_names(path) == {f"photographs/{member}"}
    assert Album(path).get(f"photographs/{member}") == b"picture"


def test_saved_under_another_name_both_files_are_whole(job, tmp_path):
    album, first, second = Album(), tmp_path / "a.ribpatch", tmp_path / "b.ribpatch"
    member = album.add("photographs/", b"picture", ".jpg")
    full = with_photograph(job, member)
    saved(full, first, album)
    more = album.add("photographs/", b"another", ".jpg")
    both = with_photograph(full, more)
    saved(both, second, album, carry_from=first)
    assert archive.member_names(first) == {f"photographs/{member}"}
    assert archive.member_names(second) == {f"photographs/{member}", f"photographs/{more}"}
    assert archive.load(first) == full and archive.load(second) == both
    first.unlink()
    assert album.get(f"photographs/{member}") == b"picture", "the job lies in the second file now"


def test_a_file_that_is_gone_still_gives_what_it_held_and_a_later_album_nothing(job, tmp_path):
    album, path = Album(), tmp_path / "a.ribpatch"
    member = album.add("photographs/", b"picture", ".jpg")
    saved(with_photograph(job, member), path, album)
    path.unlink()
    assert album.get(f"photographs/{member}") == b"picture"
    assert Album(path).get(f"photographs/{member}") is None


def damage(path, member):
    """Turn one bit of a stored member's data."""
    raw = bytearray(path.read_bytes())
    raw[raw.index(b"picture")] ^= 1
    path.write_bytes(raw)


@pytest.mark.parametrize("harm", ["deleted", "cut", "replaced"])
def test_photographs_outlast_what_happens_to_the_file_outside(job, tmp_path, harm):
    first, path = Album(), tmp_path / "a.ribpatch"
    member = first.add("photographs/", b"picture", ".jpg")
    full = with_photograph(job, member)
    saved(full, path, first)
    album = Album(path)
    if harm == "cut":
        assert album.get(f"photographs/{member}") == b"picture"  # what was looked at is kept
        with open(path, "r+b") as stream:
            stream.truncate(100)
    elif harm == "deleted":
        path.unlink()
    else:
        other = tmp_path / "b.ribpatch"
        archive.save(job, other)
        other.replace(path)
    assert archive.save(full, path, album=album) == ()
    assert Album(path).get(f"photographs/{member}") == b"picture"


def test_a_damaged_photograph_never_stops_a_save_and_is_named_and_set_aside(job, tmp_path):
    first, path = Album(), tmp_path / "a.ribpatch"
    member, sound = (first.add("photographs/", data, ".jpg") for data in (b"picture", b"another"))
    full = with_photograph(with_photograph(job, member), sound)
    saved(full, path, first)
    damage(path, member)
    album = Album(path)
    album.before_save(full)
    left_out = archive.save(full, path, carry_from=path, album=album)
    assert left_out == (f"photographs/{member}",) and "CRC" in album.damaged[left_out[0]]
    (aside,) = album.set_aside(left_out, damaged_folder(path))
    assert aside.read_bytes() == b"qicture" and aside.parent.name == "a damaged photographs"
    album.saved_to(path, full, left_out)
    assert archive.member_names(path) == {f"photographs/{sound}"} and archive.load(path) == full
    assert archive.save(full, path, album=album) == left_out, "the next save holds as well"


def test_where_nothing_else_is_left_the_spare_copies_are_asked(tmp_path):
    album = Album(tmp_path / "none.ribpatch")
    album.spare = tmp_path
    (tmp_path / "photographs").mkdir()
    (tmp_path / "photographs" / "a.jpg").write_bytes(b"spare")
    assert album.get("photographs/a.jpg") == b"spare" and album.get("photographs/b.jpg") is None


def test_what_is_kept_in_memory_is_bounded(job, tmp_path, monkeypatch):
    monkeypatch.setattr("ribpatch.jobfile.album.MOST_KEPT", 30_000)
    first, path = Album(), tmp_path / "a.ribpatch"
    names = [first.add("photographs/", b"picture%d" % n * 2500, ".jpg") for n in range(3)]
    full = job
    for name in names:
        full = with_photograph(full, name)
    saved(full, path, first)
    album = Album(path)
    for name in names:
        album.get(f"photographs/{name}")
    path.write_bytes(b"cut short")
    assert [album.get(f"photographs/{name}") for name in names] == [None, None, b"picture2" * 2500]

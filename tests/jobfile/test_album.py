"""Photographs and recordings of an open job: through save, undo and another file."""

from ribpatch.core import survey_edits
from ribpatch.jobfile import archive
from ribpatch.jobfile.album import Album


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


def test_a_file_that_is_gone_gives_no_bytes_and_no_crash(job, tmp_path):
    album, path = Album(), tmp_path / "a.ribpatch"
    member = album.add("photographs/", b"picture", ".jpg")
    saved(with_photograph(job, member), path, album)
    path.unlink()
    assert album.get(f"photographs/{member}") is None

"""The one writer: whole or not at all, never over an input or a job, and everything about the old file stays."""

import fcntl
import os
import stat
import time

import pytest

from ribpatch.core.errors import FileProblem
from ribpatch.jobfile import archive
from ribpatch.jobfile.writing import write_file, write_output


def put(data):
    return lambda stream: stream.write(data)


def parts(folder):
    return [p.name for p in folder.iterdir() if p.name.endswith(".part")]


def test_a_new_file_is_written_with_the_usual_mode(tmp_path):
    mask = os.umask(0o027)
    try:
        write_output(tmp_path / "a.csv", b"x")
    finally:
        os.umask(mask)
    assert (tmp_path / "a.csv").read_bytes() == b"x" and stat.S_IMODE((tmp_path / "a.csv").stat().st_mode) == 0o640


def test_mode_and_group_of_the_old_file_stay(tmp_path):
    path = tmp_path / "a.csv"
    path.write_bytes(b"old")
    path.chmod(0o604)
    if os.geteuid() == 0:
        os.chown(path, 1234, 4321)
    before = path.stat()
    write_output(path, b"new")
    after = path.stat()
    assert path.read_bytes() == b"new"
    assert (after.st_mode, after.st_uid, after.st_gid) == (before.st_mode, before.st_uid, before.st_gid)


def test_a_link_stays_a_link_and_its_target_is_written(tmp_path):
    (tmp_path / "far").mkdir()
    real, link, dangling = tmp_path / "far" / "a.csv", tmp_path / "a.csv", tmp_path / "b.csv"
    real.write_bytes(b"old")
    link.symlink_to(real)
    dangling.symlink_to(tmp_path / "far" / "new.csv")
    write_output(link, b"new")
    write_output(dangling, b"begun")
    assert link.is_symlink() and real.read_bytes() == b"new"
    assert dangling.is_symlink() and (tmp_path / "far" / "new.csv").read_bytes() == b"begun"


def test_a_pipe_and_a_device_are_written_in_place(tmp_path):
    pipe = tmp_path / "pipe"
    os.mkfifo(pipe)
    reader = os.open(pipe, os.O_RDONLY | os.O_NONBLOCK)
    write_output(pipe, b"through")
    assert os.read(reader, 100) == b"through" and stat.S_ISFIFO(pipe.stat().st_mode)
    os.close(reader)
    write_output(type(pipe)("/dev/null"), b"gone")
    assert stat.S_ISCHR(os.stat("/dev/null").st_mode)


@pytest.mark.skipif(not os.path.exists("/dev/full"), reason="no /dev/full here")
def test_a_full_disk_is_told(tmp_path):
    with pytest.raises(FileProblem, match="disk is full"):
        write_output(type(tmp_path)("/dev/full"), b"x" * 100_000)


def test_a_read_only_file_is_left_alone(tmp_path):
    path = tmp_path / "a.csv"
    path.write_bytes(b"old")
    path.chmod(0o444)
    with pytest.raises(FileProblem, match="read-only"):
        write_output(path, b"new")
    assert path.read_bytes() == b"old" and not parts(tmp_path)


@pytest.mark.parametrize("name", ["", ".", "sub"])
def test_no_name_or_a_folder_is_told(tmp_path, monkeypatch, name):
    monkeypatch.chdir(tmp_path)
    (tmp_path / "sub").mkdir()
    with pytest.raises(FileProblem, match="no file name"):
        write_output(type(tmp_path)(name), b"x")


def test_a_name_too_long_and_no_folder_are_told(tmp_path):
    with pytest.raises(FileProblem, match="too long"):
        write_output(tmp_path / ("n" * 300), b"x")
    with pytest.raises(FileProblem, match="folder is not there"):
        write_output(tmp_path / "no" / "a.csv", b"x")


@pytest.mark.parametrize("alias", ["itself", "link", "hard link", "dots"])
def test_what_was_read_is_never_written_over_by_any_of_its_names(tmp_path, alias):
    source, out = tmp_path / "readings.csv", tmp_path / "out.csv"
    source.write_bytes(b"mine")
    if alias == "itself":
        out = source
    elif alias == "link":
        out.symlink_to(source)
    elif alias == "hard link":
        out.hardlink_to(source)
    else:
        (tmp_path / "d").mkdir()
        out = tmp_path / "d" / ".." / "readings.csv"
    with pytest.raises(FileProblem, match="would be lost"):
        write_output(out, b"new", (source,))
    assert source.read_bytes() == b"mine"


@pytest.mark.parametrize("name", ["launch.ribpatch", "LAUNCH.RIBPATCH", "launch.ribpatch~", "launch.zip"])
def test_a_job_is_never_written_over_by_what_is_none(tmp_path, job, name):
    path = tmp_path / name
    archive.save(job, tmp_path / "x.ribpatch")
    (tmp_path / "x.ribpatch").rename(path)
    link = tmp_path / "pack.pdf"
    link.symlink_to(path)
    before = path.read_bytes()
    for out in (path, link):
        with pytest.raises(FileProblem, match="job's name"):
            write_output(out, b"%PDF")
    assert path.read_bytes() == before


def test_a_write_that_fails_leaves_the_old_file_and_no_part(tmp_path):
    path = tmp_path / "a.csv"
    path.write_bytes(b"old")

    def half(stream):
        stream.write(b"ha")
        raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        write_file(path, half)
    assert path.read_bytes() == b"old" and not parts(tmp_path)


def test_parts_of_killed_programs_are_cleared_and_living_ones_left(tmp_path):
    path = tmp_path / "a.csv"
    old = time.time() - 3600
    dead, living, young, other = (
        tmp_path / f"{stem}.part" for stem in (".a.csv.1", ".a.csv.2", ".a.csv.3", ".b.csv.1")
    )
    for part in (dead, living, young, other):
        part.write_bytes(b"half")
        if part is not young:
            os.utime(part, (old, old))
    with open(living) as held:
        fcntl.flock(held, fcntl.LOCK_EX)
        write_output(path, b"x")
    assert not dead.exists() and living.exists() and young.exists() and other.exists()


def test_a_job_saved_through_a_link_keeps_the_link_and_its_group(tmp_path, job):
    (tmp_path / "yard").mkdir()
    real, link = tmp_path / "yard" / "launch.ribpatch", tmp_path / "launch.ribpatch"
    archive.save(job, real)
    link.symlink_to(real)
    archive.save(job, link)
    assert link.is_symlink() and archive.load(real) == job
    assert (tmp_path / "yard" / "launch.ribpatch~").is_file() and not (tmp_path / "launch.ribpatch~").exists()

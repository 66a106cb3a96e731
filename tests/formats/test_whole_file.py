"""Files from outside are read to a limit, whatever they say of their size."""

from __future__ import annotations

import os
from pathlib import Path
from threading import Thread

import pytest

from ribpatch.core.errors import FileProblem
from ribpatch.formats.outline_file import BadDrawing
from ribpatch.formats.whole_file import read_whole


def test_a_file_of_just_the_limit_is_read_and_one_byte_more_is_not(tmp_path):
    path = tmp_path / "plan.svg"
    path.write_bytes(b"x" * 2**20)
    assert read_whole(path, 2**20, BadDrawing, "Save it smaller.") == b"x" * 2**20
    path.write_bytes(b"x" * (2**20 + 1))
    with pytest.raises(BadDrawing) as caught:
        read_whole(path, 2**20, BadDrawing, "Save it smaller.")
    assert caught.value.sentence == "plan.svg: is larger than 1 MiB. Save it smaller."


def test_a_device_that_tells_no_size_and_never_ends_is_refused():
    with pytest.raises(FileProblem, match="is larger than 1 MiB"):
        read_whole(Path("/dev/zero"), 2**20, FileProblem, "Split it.")


def test_what_another_program_hands_over_a_pipe_is_read(tmp_path):
    path = tmp_path / "readings.csv"
    os.mkfifo(path)
    writer = Thread(target=path.write_bytes, args=(b"x,y,kind,value\n",))
    writer.start()
    assert read_whole(path, 2**20, FileProblem, "Split it.") == b"x,y,kind,value\n"
    writer.join()


@pytest.mark.parametrize(("make", "why"), [(lambda p: None, "No such file"), (Path.mkdir, "Is a directory")])
def test_what_cannot_be_read_is_told_with_its_reason(tmp_path, make, why):
    path = tmp_path / "readings.csv"
    make(path)
    with pytest.raises(FileProblem, match=why):
        read_whole(path, 2**20, FileProblem, "Split it.")

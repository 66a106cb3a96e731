"""The process that writes the recovery copy: what it was given whole is written, whatever becomes of the window."""

import errno
import os
import signal
import stat
import zipfile

from ribpatch.jobfile.keeper import Keeper


def test_what_a_killed_window_gave_whole_is_written_after_it(tmp_path):
    """The process that keeps the copy goes on after the window, and forgets what it was given in part."""
    keeper, copy, note = Keeper(), tmp_path / "a.ribpatch", tmp_path / "a.json"
    keeper.put(copy, note, "{}", b"x" * 500_000)
    while keeper.unsent:
        keeper.send()
    os.set_blocking(keeper.into, True)
    os.write(keeper.into, b'{"serial": 9, "copy": "/nowhere/b", "note": "/nowhere/c", "told": "", "size": 50}\nhalf')
    keeper._in.close()  # as the end of the window closes it
    assert keeper._process.wait() == 0
    keeper.close()
    with zipfile.ZipFile(copy) as file:
        assert file.read("job.json") == b"x" * 500_000
    assert note.read_text() == "{}" and stat.S_IMODE(copy.stat().st_mode) == 0o600
    assert not list(tmp_path.glob(".*")), "nothing half written is left"


def test_only_the_newest_of_what_waits_for_the_pipe_is_sent(tmp_path):
    keeper, copy, note = Keeper(), tmp_path / "a.ribpatch", tmp_path / "a.json"
    os.kill(keeper._process.pid, signal.SIGSTOP)  # it reads nothing meanwhile
    for n in range(6):
        keeper.put(copy, note, "{}", bytes([65 + n]) * 400_000)
    assert keeper.unsent and keeper.busy
    os.kill(keeper._process.pid, signal.SIGCONT)
    heard = []
    while keeper.busy:
        keeper.send()
        heard += keeper.hear()
    with zipfile.ZipFile(copy) as file:
        assert file.read("job.json") == b"F" * 400_000
    assert heard == [None] * len(heard) and len(heard) < 6
    keeper.put(tmp_path / "gone" / "a", note, "{}", b"y")
    while keeper.busy:
        heard = keeper.hear() or heard
    assert heard[-1].errno == errno.ENOENT
    keeper.close()
    assert not keeper.alive

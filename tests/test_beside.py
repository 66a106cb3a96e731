"""Processes beside the program: they end with whoever asked, in time, and cleanly."""

import os
import signal
import subprocess
import sys

import pytest

from ribpatch.beside import lines_of

SLEEPER = """
import sys, time
from ribpatch.beside import task_given
print(task_given().decode(), flush=True)
import os
print(os.getpid(), flush=True)
time.sleep(600)
"""


@pytest.fixture
def sleeper(tmp_path, monkeypatch):
    """A module that answers with its task and its number, and then hangs."""
    (tmp_path / "sleeper.py").write_text(SLEEPER)
    monkeypatch.setenv("PYTHONPATH", str(tmp_path))
    return "sleeper"


def gone(pid):
    """Wait until a process is no more, or only its parent's to bury."""
    while True:
        try:
            with open(f"/proc/{pid}/stat") as stream:
                if stream.read().rpartition(")")[2].split()[0] == "Z":
                    return True
        except OSError:
            return True


def first_lines(found, count):
    lines = []
    for some in found:
        lines += some or []
        if len(lines) >= count:
            return lines
    return lines


def test_a_task_longer_than_a_pipe_arrives_whole(sleeper):
    task = b"x" * 3_000_000
    found = lines_of(sleeper, task, 300.0)
    said, pid = first_lines(found, 2)
    assert said == task
    found.close()
    assert gone(int(pid))


def test_one_that_hangs_is_ended_when_its_time_is_over(sleeper):
    pid = 0
    for lines in lines_of(sleeper, b"t", 3.0):
        pid = int((lines or [b"0"])[-1]) if lines and lines[-1].isdigit() else pid
    assert pid == 0 or gone(pid)


@pytest.mark.parametrize("number", [signal.SIGKILL, signal.SIGTERM])
def test_it_ends_with_whoever_asked_however_that_went(sleeper, number):
    code = f"""
from ribpatch.beside import lines_of
for lines in lines_of({sleeper!r}, b"t", 600.0):
    for line in lines or ():
        print(line.decode(), flush=True)
"""
    asker = subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.PIPE, text=True)
    assert asker.stdout.readline() == "t\n"
    pid = int(asker.stdout.readline())
    os.kill(asker.pid, number)
    asker.wait()
    asker.stdout.close()
    assert gone(pid)


SLOW = """
import sys
from ribpatch.cli import calc
calc.MOST_READ = 10
sys.argv = ["ribpatch", "calc", "beam"]
from ribpatch.__main__ import main
print("ready", flush=True)
sys.exit(main())
"""


@pytest.mark.parametrize(("number", "code"), [(signal.SIGINT, 130), (signal.SIGTERM, 143), (signal.SIGHUP, 129)])
def test_a_command_that_is_told_to_end_says_nothing_and_has_the_usual_code(number, code):
    """It waits for its input when the signal comes."""
    run = subprocess.Popen(
        [sys.executable, "-c", SLOW], stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True
    )
    assert run.stdout.readline() == "ready\n"
    while f"{run.pid}" and not _catches(run.pid, number):
        assert run.poll() is None
    os.kill(run.pid, number)
    out, err = run.communicate()
    assert (run.returncode, out, err) == (code, "", "")


def _catches(pid, number):
    """Whether a process has a handler of its own for a signal by now (SIGINT: after SIGTERM has one)."""
    with open(f"/proc/{pid}/status") as stream:
        mask = next(int(line.split()[1], 16) for line in stream if line.startswith("SigCgt"))
    return all(mask >> (n - 1) & 1 for n in (number, signal.SIGHUP))

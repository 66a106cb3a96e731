"""The watchdog of the suite names the test that hangs, and only that one."""

import time

from tests.conftest import LIMIT, Watchdog


def test_it_names_what_hangs_and_ends_the_run(tmp_path):
    ended = []
    with open(tmp_path / "said", "w+") as stream:
        with Watchdog("tests/x.py::test_stuck", 0.05, ended.append, stream):
            time.sleep(0.5)
        stream.seek(0)
        said = stream.read()
    assert (
        ended == [3] and said.startswith("\ntests/x.py::test_stuck has run for 0.05 s") and "test_watchdog.py" in said
    )


def test_it_is_silent_where_a_test_ends(tmp_path):
    ended = []
    with open(tmp_path / "said", "w+") as stream:
        with Watchdog("x", 0.2, ended.append, stream):
            pass
        time.sleep(0.3)
        assert ended == [] and stream.tell() == 0
    assert LIMIT >= 300

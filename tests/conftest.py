"""Shared fixtures: an offscreen Qt, folders of its own for every test, the shipped shelf and the demo job."""

from __future__ import annotations

import faulthandler
import os
import sys
import threading

os.environ["QT_QPA_PLATFORM"] = "offscreen"

from collections.abc import Callable, Iterator
from pathlib import Path
from typing import TextIO

import pytest
from hypothesis import settings
from tests.bed import bed_job as demo_job

from ribpatch.core.job import Job
from ribpatch.core.materials.shelf import Shelf
from ribpatch.core.plan import Plan, plan
from ribpatch.library.shelf import shipped_shelf

LIMIT = 600.0  # s for one test; the slowest take ten

settings.register_profile("quick", max_examples=30, deadline=None, derandomize=True)
settings.load_profile("quick")


@pytest.fixture(autouse=True)
def own_folders(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Path]:
    """No test sees or changes the user's own folders."""
    for name in ("CONFIG", "STATE", "DATA", "CACHE"):
        monkeypatch.setenv(f"XDG_{name}_HOME", str(tmp_path / "xdg" / name.lower()))
    yield tmp_path


PATIENCE = 300_000  # ms; the watchdog ends a test before


@pytest.fixture(autouse=True)
def patient(monkeypatch: pytest.MonkeyPatch) -> None:
    """What is waited for comes when it comes: a busy machine makes a test slow, not wrong. No test tells how long."""
    from pytestqt.qtbot import QtBot

    usual = QtBot.waitUntil

    def wait_until(bot: QtBot, callback: Callable[[], object], *, timeout: int = 0) -> None:
        del timeout
        usual(bot, callback, timeout=PATIENCE)

    monkeypatch.setattr(QtBot, "waitUntil", wait_until)
    for module in ("ribpatch.scheduler.search", "ribpatch.nester.search"):
        monkeypatch.setattr(f"{module}.SPARE", PATIENCE / 1000)
    monkeypatch.setattr("ribpatch.formats.outlines.SECONDS", PATIENCE / 1000)


@pytest.fixture(scope="session")
def shelf() -> Shelf:
    return shipped_shelf()


@pytest.fixture(scope="session")
def job() -> Job:
    return demo_job()


@pytest.fixture(scope="session")
def made(job: Job, shelf: Shelf) -> Plan:
    return plan(job, shelf)


class Watchdog:
    """Names a test that has run for far too long and ends the run: the dump of a stuck process alone does not say
    which.

    A busy machine makes tests slow, not endless: the limit is many times what the slowest takes. faulthandler's own
    limit stands behind it, for a test that holds the interpreter so that no thread of Python runs.
    """

    def __init__(
        self, name: str, seconds: float, ended: Callable[[int], None] = os._exit, stream: TextIO | None = None
    ) -> None:
        self.name, self.seconds, self._ended, self._stream = name, seconds, ended, stream or sys.__stderr__
        self._timer = threading.Timer(seconds, self._bark)
        self._timer.daemon = True

    def _bark(self) -> None:
        assert self._stream is not None
        self._stream.write(f"\n{self.name} has run for {self.seconds:g} s; the run is ended.\n")
        faulthandler.dump_traceback(self._stream)
        self._stream.flush()
        self._ended(3)

    def __enter__(self) -> None:
        self._timer.start()

    def __exit__(self, *_error: object) -> None:
        self._timer.cancel()


@pytest.hookimpl(wrapper=True)
def pytest_runtest_protocol(item: pytest.Item) -> Iterator[None]:
    with Watchdog(item.nodeid, LIMIT):
        return (yield)

"""Shared fixtures: an offscreen Qt, folders of its own for every test, the shipped shelf and the demo job."""

from __future__ import annotations

import os

os.environ["QT_QPA_PLATFORM"] = "offscreen"

from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import settings

from ribpatch.core.job import Job
from ribpatch.core.materials.shelf import Shelf
from ribpatch.core.plan import Plan, plan
from ribpatch.library.demo import demo_job
from ribpatch.library.shelf import shipped_shelf

settings.register_profile("quick", max_examples=40, deadline=None, derandomize=True)
settings.load_profile("quick")


@pytest.fixture(autouse=True)
def own_folders(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Path]:
    """No test sees or changes the user's own folders."""
    for name in ("CONFIG", "STATE", "DATA", "CACHE"):
        monkeypatch.setenv(f"XDG_{name}_HOME", str(tmp_path / "xdg" / name.lower()))
    yield tmp_path


@pytest.fixture(scope="session")
def shelf() -> Shelf:
    return shipped_shelf()


@pytest.fixture(scope="session")
def job() -> Job:
    return demo_job()


@pytest.fixture(scope="session")
def made(job: Job, shelf: Shelf) -> Plan:
    return plan(job, shelf)

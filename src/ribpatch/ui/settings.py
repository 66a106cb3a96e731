"""What the window remembers between runs, in the XDG config folder."""

from __future__ import annotations

import contextlib
import os
from pathlib import Path

from platformdirs import user_config_path
from PySide6.QtCore import QByteArray, QSettings

from ribpatch.core.units import System

MOST_RECENT = 6


class Settings:
    """Recent jobs, units, theme and the window's place."""

    def __init__(self, path: Path | None = None) -> None:
        self._path = path or user_config_path("ribpatch", appauthor=False) / "window.ini"
        with contextlib.suppress(OSError):  # a read-only home only means that nothing is remembered
            self._path.parent.mkdir(parents=True, exist_ok=True)
        self._store = QSettings(os.fspath(self._path), QSettings.Format.IniFormat)

    @property
    def recent(self) -> list[Path]:
        """Recent jobs that are still there, newest first."""
        raw = self._store.value("recent", [])
        names = raw if isinstance(raw, list) else [raw]
        return [Path(str(n)) for n in names if n and Path(str(n)).is_file()]

    def add_recent(self, path: Path) -> None:
        """Put a job first among the recent ones."""
        path = path.resolve()
        rows = [path, *(p for p in self.recent if p != path)][:MOST_RECENT]
        self._store.setValue("recent", [str(p) for p in rows])

    @property
    def system(self) -> System:
        """The units to show."""
        return "us" if self._store.value("units") == "us" else "metric"

    @system.setter
    def system(self, system: System) -> None:
        self._store.setValue("units", system)

    @property
    def theme(self) -> str:
        """Light or dark."""
        return "dark" if self._store.value("theme") == "dark" else "light"

    @theme.setter
    def theme(self, theme: str) -> None:
        self._store.setValue("theme", theme)

    @property
    def geometry(self) -> QByteArray:
        """The window's place and size."""
        value = self._store.value("geometry", QByteArray())
        return value if isinstance(value, QByteArray) else QByteArray()

    @geometry.setter
    def geometry(self, value: QByteArray) -> None:
        self._store.setValue("geometry", value)

    def sync(self) -> None:
        """Write what changed."""
        self._store.sync()

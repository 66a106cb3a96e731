"""What the window remembers between runs, in the XDG config folder."""

from __future__ import annotations

import contextlib
import json
import os
from math import isfinite
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QByteArray, QSettings

from ribpatch.core.units import SYSTEMS
from ribpatch.digests import digest_of
from ribpatch.folders import private_folder, user_folder
from ribpatch.ui.scaling import SHED, SIZES

if TYPE_CHECKING:
    from ribpatch.core.units import System

MOST_RECENT = 6
MOST_SCORES = 5
USUAL_BELOW = 0.43  # of the bench's height


def _key(header: str) -> str:
    """A header as a key: the store's own marks are not for it."""
    return digest_of(header.encode(), 24)


class Settings:
    """Recent jobs, units, theme and the window's place."""

    def __init__(self, path: Path | None = None) -> None:
        self._path = path or user_folder("CONFIG") / "window.ini"
        with contextlib.suppress(OSError):  # a read-only home only means that nothing is remembered
            private_folder(self._path.parent)
        self._store = QSettings(os.fspath(self._path), QSettings.Format.IniFormat)

    @property
    def recent(self) -> list[Path]:
        """Recent jobs that are still there, newest first."""
        raw = self._store.value("recent", [])
        names = raw if isinstance(raw, list) else [raw]
        return [Path(str(n)) for n in names if n and Path(str(n)).is_file()]

    def add_recent(self, path: Path, card: dict[str, Any] | None = None) -> None:
        """Put a job first among the recent ones, with what its list shows of it."""
        path = path.resolve()
        rows = [path, *(p for p in self.recent if p != path)][:MOST_RECENT]
        cards = {**self._cards, **({str(path): card} if card is not None else {})}
        self._store.setValue("recent", [str(p) for p in rows])
        self._store.setValue("recent cards", json.dumps({str(p): cards[str(p)] for p in rows if str(p) in cards}))

    @property
    def _cards(self) -> dict[str, Any]:
        try:
            kept = json.loads(str(self._store.value("recent cards", "{}")))
        except (ValueError, RecursionError):  # edited by hand, or half written
            return {}
        return kept if isinstance(kept, dict) else {}

    @property
    def recent_cards(self) -> list[tuple[Path, dict[str, Any]]]:
        """Recent jobs that are still there, newest first, with what was kept of each; nothing where none was."""
        cards = self._cards
        return [(p, c if isinstance(c := cards.get(str(p)), dict) else {}) for p in self.recent]

    @property
    def system(self) -> System:
        """The units to show."""
        kept = str(self._store.value("units"))
        return next((s for s in SYSTEMS if s == kept), "metric")

    @system.setter
    def system(self, system: System) -> None:
        self._store.setValue("units", system)

    @property
    def us_system(self) -> System:
        """The US units to switch to: fractions to a sixteenth, to a thirty-second, or decimal inches."""
        kept = str(self._store.value("us units"))
        return next((s for s in SYSTEMS if s == kept and s != "metric"), "us")

    @us_system.setter
    def us_system(self, system: System) -> None:
        self._store.setValue("us units", system)

    @property
    def currency(self) -> str:
        """The sign of money that was set last; empty where none was."""
        return str(self._store.value("currency") or "")[:8]

    @currency.setter
    def currency(self, sign: str) -> None:
        self._store.setValue("currency", sign)

    @property
    def theme(self) -> str:
        """Light or dark."""
        return "dark" if self._store.value("theme") == "dark" else "light"

    @theme.setter
    def theme(self, theme: str) -> None:
        self._store.setValue("theme", theme)

    @property
    def text(self) -> float:
        """How many times larger than usual text is."""
        kept = str(self._store.value("text", "1"))
        return next((s for s in SIZES if f"{s:g}" == kept), 1.0)

    @text.setter
    def text(self, size: float) -> None:
        self._store.setValue("text", f"{size:g}")

    @property
    def shed(self) -> bool:
        """Whether all is large and of high contrast, for the shed."""
        return str(self._store.value("shed")) == "on"

    @shed.setter
    def shed(self, on: bool) -> None:
        self._store.setValue("shed", "on" if on else "off")

    @property
    def factor(self) -> float:
        """How many times larger than usual everything is."""
        return SHED if self.shed else self.text

    @property
    def look(self) -> str:
        """The palette: light or dark, and in the shed of high contrast."""
        return {"light": "shed", "dark": "shed-dark"}[self.theme] if self.shed else self.theme

    @property
    def unfolded(self) -> bool:
        """Whether every decision card is shown unfolded."""
        return str(self._store.value("cards")) == "unfolded"

    @unfolded.setter
    def unfolded(self, unfolded: bool) -> None:
        self._store.setValue("cards", "unfolded" if unfolded else "folded")

    @property
    def lower_share(self) -> float:
        """The share of the bench's height that the pages below the plan have, 0 to 1."""
        try:
            share = float(str(self._store.value("below", USUAL_BELOW)))
        except ValueError:  # a line that somebody edited by hand
            return USUAL_BELOW
        return share if 0 < share < 1 else USUAL_BELOW

    @lower_share.setter
    def lower_share(self, share: float) -> None:
        self._store.setValue("below", round(share, 3))

    @property
    def column(self) -> int:
        """The width of the decisions that the user gave them, pixels; 0 where nobody did."""
        kept = str(self._store.value("column", "0"))
        return int(kept) if kept.isdigit() and len(kept) < 6 else 0

    @column.setter
    def column(self, width: int) -> None:
        self._store.setValue("column", width)

    @property
    def guided(self) -> bool:
        """Whether the first-run guidance is still shown."""
        return str(self._store.value("guide")) != "away"

    @guided.setter
    def guided(self, guided: bool) -> None:
        self._store.setValue("guide", "shown" if guided else "away")

    @property
    def best_scores(self) -> list[float]:
        """Best scores on practice panels, highest first."""
        raw = self._store.value("practice", [])
        texts = raw if isinstance(raw, list) else [raw]
        found: list[float] = []
        for text in texts:
            with contextlib.suppress(TypeError, ValueError):  # a line that somebody edited by hand
                found.append(float(str(text)))
        return sorted(filter(isfinite, found), reverse=True)

    def add_score(self, points: float) -> None:
        """Keep a score if it is among the best."""
        best = sorted([*self.best_scores, points], reverse=True)[:MOST_SCORES]
        self._store.setValue("practice", [f"{p:.2f}" for p in best])

    def mapping(self, header: str) -> dict[str, str]:
        """What the columns of a CSV with this header were last taken for."""
        self._store.beginGroup("columns")
        raw = str(self._store.value(_key(header), ""))
        self._store.endGroup()
        try:
            kept = json.loads(raw or "{}")
        except ValueError:
            return {}
        return {str(k): str(v) for k, v in kept.items()} if isinstance(kept, dict) else {}

    def keep_mapping(self, header: str, mapping: dict[str, str]) -> None:
        """Remember what the columns of a CSV were taken for."""
        self._store.beginGroup("columns")
        self._store.setValue(_key(header), json.dumps(mapping))
        self._store.endGroup()

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

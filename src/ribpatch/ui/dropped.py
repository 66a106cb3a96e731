"""What is dropped on the window: sorted by what it is, told before anything is asked or done, then taken one by one."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from ribpatch.core.text import counted
from ribpatch.jobfile.archive import SUFFIX
from ribpatch.ui.asking import PICTURES

if TYPE_CHECKING:
    from collections.abc import Sequence
    from pathlib import Path

    from PySide6.QtWidgets import QWidget

OUTLINES = (".svg", ".dxf")
TABLES = (".csv", ".txt", ".tsv")


class Dropped(Struct, frozen=True):
    """Paths by what they are; ``left`` are those that nothing is done with, each with why."""

    jobs: tuple[Path, ...] = ()
    pictures: tuple[Path, ...] = ()
    readings: tuple[Path, ...] = ()
    weather: tuple[Path, ...] = ()
    recordings: tuple[Path, ...] = ()
    outlines: tuple[Path, ...] = ()
    left: tuple[tuple[str, str], ...] = ()

    @property
    def kinds(self) -> int:
        """How many kinds of thing were dropped that something is done with."""
        return sum(
            bool(k) for k in (self.jobs, self.pictures, self.readings, self.weather, self.recordings, self.outlines)
        )


def sorted_out(paths: Sequence[Path], zone: str, stage: str) -> Dropped:
    """What each path is; of a job alone where no ``zone`` is worked on. A CSV is weather in Days, else readings."""
    made: dict[str, list[Path]] = {}
    left: list[tuple[str, str]] = []
    for path in dict.fromkeys(paths):
        suffix = path.suffix.lower()
        kind = (
            "jobs" if suffix == SUFFIX
            else "pictures" if suffix in PICTURES
            else "recordings" if suffix == ".wav"
            else "outlines" if suffix in OUTLINES
            else ("weather" if stage == "days" else "readings") if suffix in TABLES
            else ""
        )  # fmt: skip
        if path.is_dir():
            left.append((path.name, "is a folder: drop the files in it"))
        elif not path.is_file():
            left.append((path.name, "is not on this machine, or gone"))
        elif not kind:
            left.append((path.name, "is no job, picture, readings, recording or outline"))
        elif kind != "jobs" and any(p.suffix.lower() == SUFFIX for p in paths):
            left.append((path.name, "is left: drop it again once the job is open"))
        elif kind not in ("jobs", "weather") and not zone:
            left.append((path.name, "belongs to a zone: open a job first"))
        else:
            made.setdefault(kind, []).append(path)
    return Dropped(**{kind: tuple(rows) for kind, rows in made.items()}, left=tuple(left))


def will_do(dropped: Dropped, zone: str, boat: str, unsaved: bool) -> list[str]:
    """What will be done with what was dropped, a sentence each."""
    said = []
    if dropped.jobs:
        first = dropped.jobs[0].name
        instead = f" instead of {boat}" if boat else ""
        asked = f" Changes of {boat} that are not saved are asked for." if unsaved else ""
        said.append(f"Open {first}{instead}.{asked}")
        if len(dropped.jobs) > 1:
            said.append(f"Open {_names(dropped.jobs[1:])} in windows of their own.")
    if dropped.outlines:
        said.append(f"Read {_names(dropped.outlines[:1])} as the outline of {zone}, once you have looked at it.")
        if len(dropped.outlines) > 1:
            said.append(f"{_names(dropped.outlines[1:])}: not used, a zone has one outline.")
    if dropped.pictures:
        count = counted(len(dropped.pictures), "photograph", "photographs")
        said.append(f"Add {count} to {zone}: {_names(dropped.pictures)}.")
    if dropped.readings:
        said.append(f"Import {_names(dropped.readings)} as readings of {zone}, each once you have looked at it.")
    if dropped.weather:
        said.append(f"Read {_names(dropped.weather[:1])} as weather by the hour.")
    if dropped.recordings:
        said.append(f"Measure the taps in {_names(dropped.recordings)}, for {zone}.")
    return [*said, *(f"{name} {why}." for name, why in dropped.left)]


def _names(paths: Sequence[Path]) -> str:
    names = [p.name for p in paths]
    return ", ".join(names[:4]) + (f" and {len(names) - 4} more" if len(names) > 4 else "")


def agreed(said: list[str], parent: QWidget) -> bool:
    """Whether the user lets it be done."""
    from PySide6.QtWidgets import QMessageBox

    box = QMessageBox(parent)
    box.setWindowTitle("What was dropped")
    box.setText("\n".join(said))
    go = box.addButton("Go on", QMessageBox.ButtonRole.AcceptRole)
    box.addButton("Leave it", QMessageBox.ButtonRole.RejectRole)
    box.setDefaultButton(go)
    box.exec()
    return box.clickedButton() is go

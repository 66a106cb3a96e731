"""Uses one window for a working day in fast motion: 50,000 actions at every stage, files opened 500 times, saves, a full
disk and a suspend in the middle. Prints the least memory, widgets and objects as it goes; ends with 1 where they grew over 10 %.

    soak.py [ACTIONS] [SEED] [SMALL_FOLDER]      a folder on a small file system is filled up for the full disk
"""

from __future__ import annotations

import gc
import os
import random
import shutil
import signal
import subprocess
import sys
import tempfile
import time
import traceback
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from types import TracebackType

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
home = Path(tempfile.mkdtemp(prefix="ribpatch-soak-"))
for name in ("CONFIG", "STATE", "DATA"):
    os.environ[f"XDG_{name}_HOME"] = str(home / name.lower())

from PySide6.QtCore import QCoreApplication, QEvent, Qt  # noqa: E402 - after the environment is set
from PySide6.QtGui import QKeyEvent  # noqa: E402
from PySide6.QtWidgets import QApplication  # noqa: E402

from ribpatch.core.edits import set_value  # noqa: E402
from ribpatch.core.job import Job  # noqa: E402
from ribpatch.core.log_edits import log_entry  # noqa: E402
from ribpatch.core.survey.entry import made_reading  # noqa: E402
from ribpatch.core.survey_edits import put_reading  # noqa: E402
from ribpatch.core.units import Measure  # noqa: E402
from ribpatch.jobfile import archive  # noqa: E402
from ribpatch.library.kept import kept_demo_job  # noqa: E402
from ribpatch.library.manual import PAGES  # noqa: E402
from ribpatch.stages import STAGES  # noqa: E402
from ribpatch.ui.app import make_app, make_window  # noqa: E402
from ribpatch.ui.paper_actions import PaperActions  # noqa: E402
from ribpatch.ui.print_dialog import PrintDialog  # noqa: E402
from ribpatch.ui.settings import Settings  # noqa: E402
from ribpatch.ui.window import Window  # noqa: E402

OPENS = 500  # of a whole soak
EVERY = 50  # times that it is measured
WARM = 0.2  # of the actions, until which caches fill
MOST = 0.10  # growth after that
MUCH = 1.2  # times the size that a job began with
KEYS = (Qt.Key.Key_Space, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_PageUp, Qt.Key.Key_PageDown, Qt.Key.Key_Home, Qt.Key.Key_Escape, Qt.Key.Key_Tab)  # fmt: skip


def used() -> float:
    """Resident memory, MB."""
    line = next(row for row in Path("/proc/self/status").read_text().splitlines() if row.startswith("VmRSS"))
    return int(line.split()[1]) / 1024


def size(job: Job) -> int:
    """How much a job holds: readings, schemes, plies, entries."""
    return len(archive.job_json(job))


def delete_due() -> None:
    """Delete what is to be deleted, as the loop of events does each time that the program comes back to it."""
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)


def kinds_of() -> Counter[str]:
    """How many objects of each kind there are."""
    return Counter(f"{type(o).__module__}.{type(o).__qualname__}" for o in gc.get_objects())


class Soak:
    """One window and the dice."""

    def __init__(self, window: Window, seed: int) -> None:
        self.w, self.dice, self.count = window, random.Random(seed), 0
        self.files = {home / f"job-{n}{archive.SUFFIX}": set_value(("boat", "name"), f"Moorhen {n}").change(kept_demo_job()) for n in range(3)}  # fmt: skip
        self.faults: list[str] = []
        self.least = used()

    def act(self) -> None:
        """One action, as dice say."""
        kinds: tuple[tuple[int, Callable[[], object]], ...] = (
            (22, self.go), (8, self.turn_page), (14, self.edit), (12, self.read), (6, self.undo), (4, self.redo), (16, self.key),
            (2, self.look), (3, self.sheet), (3, self.working), (2, self.copy), (1, self.log), (1, self.save), (1, self.draft),
        )  # fmt: skip
        self.dice.choices([k for _, k in kinds], [n for n, _ in kinds])[0]()
        for _ in range(2):
            QApplication.processEvents()
            delete_due()
        self.least = min(self.least, used())

    def settled(self) -> float:
        """The least memory since this was asked last, MB: what is only needed while something is made comes and goes."""
        least, self.least = self.least, used()
        return least

    # ---- actions ----

    def go(self) -> None:
        zone = self.dice.choice(self.w.session.job.zones).id
        self.w.session.go(zone, self.dice.choice(STAGES).id)

    def turn_page(self) -> None:
        self.w.menu_action("next_page").trigger()

    def edit(self) -> None:
        zone = self.w.session.zone_id
        path, value = self.dice.choice(((("cut", "margin"), 0.03), (("taper", "ratio"), 9.0), (("core", "thickness"), 0.012)))  # fmt: skip
        grown = value * (1 + self.dice.randrange(20) / 50)
        self.w.session.apply(set_value(("zones", zone, "scheme", *path), Measure(si=round(grown, 5))))

    def read(self) -> None:
        zone, session = self.w.session.zone, self.w.session
        x0, y0 = zone.outline[0]
        x1, y1 = zone.outline[2]
        at = {"x": round(x0 + (x1 - x0) * self.dice.uniform(0.2, 0.8), 3), "y": round(y0 + (y1 - y0) * self.dice.uniform(0.3, 0.7), 3)}  # fmt: skip
        grade = self.dice.choice(("ring", "dull", "drummy"))
        session.apply(put_reading(zone.id, made_reading("tap", session.plan.shelf, grade=grade, **at), 0.05))

    def undo(self) -> None:
        self.w.session.stack.undo()

    def redo(self) -> None:
        self.w.session.stack.redo()

    def key(self) -> None:
        widget, key = QApplication.focusWidget() or self.w.zone_bench.plan_canvas, self.dice.choice(KEYS)
        if widget.window() is self.w and widget.isVisible():
            text = " " if key == Qt.Key.Key_Space else ""
            for kind in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease):
                QApplication.postEvent(widget, QKeyEvent(kind, key, Qt.KeyboardModifier.NoModifier, text))
                QApplication.processEvents()

    def failed(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        """Something went wrong in the program: where, and go on."""
        frame = traceback.extract_tb(trace)[-1]
        self.faults.append(f"{kind.__name__} in {Path(frame.filename).name}:{frame.lineno}: {error}")
        traceback.print_exception(kind, error, trace)

    def look(self) -> None:
        self.w.menu_action(self.dice.choice(("theme", "units", "fractions", "shed", "text_larger", "text_smaller", "text_usual", "cards", "whole_page"))).trigger()  # fmt: skip

    def sheet(self) -> None:
        self.w.manual.show_page(self.dice.choice(PAGES))
        QApplication.processEvents()
        self.w.manual.close_sheet()

    def working(self) -> None:
        figures = self.w.session.plan.figures
        self.w.work.ask_working(self.dice.choice(figures))
        QApplication.processEvents()
        self.w.work.working.close_sheet()

    def copy(self) -> None:
        self.w.menu_action("copy").trigger()

    def log(self) -> None:
        self.w.session.apply(log_entry(self.w.session.job, "said", at="2026-12-01T08:00", who="yard hand", note="a remark"))  # fmt: skip

    def save(self) -> None:
        if self.w.session.path is not None and not self.w.documents.save():
            self.faults.append(f"not saved: {self.w.message.label.text()}")

    def draft(self) -> None:
        self.w.menu_action("draft").trigger()

    def pause(self) -> None:
        """Look at what comes, as one who stops for a while: what waited for that begins and comes to its end."""
        self.w.tasks.wait()
        QApplication.processEvents()

    def preview(self) -> None:
        """Look at a paper page by page."""
        dialog = PrintDialog(self.w, self.dice.choice(("work_pack", "templates", "labels")), PaperActions(self.w).write)
        dialog.show()
        until = time.monotonic() + 30
        while dialog.pages is None and time.monotonic() < until:
            self.w.tasks.wait()
            QApplication.processEvents()
        dialog.done(0)
        dialog.deleteLater()
        delete_due()

    def open(self) -> None:
        """Open another file; what was not saved is let go. One that holds much more than it began with is begun anew: it is the
        program whose growth is measured, not the job's. Drafts alone double the schemes of a job, and what is worked out of it."""
        self.w.session.stack.setClean()
        path = self.dice.choice(list(self.files))
        if not path.exists() or size(archive.load(path)) > MUCH * size(self.files[path]):
            archive.save(self.files[path], path)
        if not self.w.documents.open(path):
            self.faults.append(f"not opened: {self.w.message.label.text()}")
        self.w.tasks.wait()

    # ---- bad luck ----

    def full_disk(self, folder: Path) -> None:
        """Save on a file system that is full: it is told, and the file stays as it was; then there is room again."""
        path = folder / f"soak{archive.SUFFIX}"
        self.w.session.save(path)
        before, filler = path.read_bytes(), folder / "filler"
        self.edit()
        with filler.open("wb") as out:
            try:
                while True:
                    out.write(b"\0" * 65536)
                    out.flush()
            except OSError:
                pass
        saved = self.w.documents.save()
        if saved or path.read_bytes() != before or "space" not in self.w.message.label.text():
            self.faults.append(f"full disk: saved {saved}, told {self.w.message.label.text()!r}")
        filler.unlink(missing_ok=True)
        if not self.w.documents.save() or archive.load(path) != self.w.session.job:
            self.faults.append("once there was room again it was not saved")
        print("    full disk: told, the file kept, saved once there was room", flush=True)

    def suspend(self) -> None:
        """Stop for some seconds, as a lid that is shut; go on."""
        subprocess.Popen(["sh", "-c", f"sleep 4; kill -CONT {os.getpid()}"])
        os.kill(os.getpid(), signal.SIGSTOP)
        QApplication.processEvents()
        self.save()
        print("    suspended and resumed", flush=True)


def small_folder(wanted: str) -> Path | None:
    """A folder on a small file system: the one named, or one made for it where that may be."""
    if wanted:
        return Path(wanted)
    folder = home / "small"
    folder.mkdir()
    mount = shutil.which("mount")
    if mount is None or subprocess.run([mount, "-t", "tmpfs", "-o", "size=4m", "tmpfs", folder], capture_output=True, check=False).returncode:  # fmt: skip
        print("    no small file system could be made: the full disk is left out")
        return None
    return folder


def main() -> int:
    actions = int(sys.argv[1]) if len(sys.argv) > 1 else 50_000
    seed = int(sys.argv[2]) if len(sys.argv) > 2 else 1
    small = small_folder(sys.argv[3] if len(sys.argv) > 3 else "")
    app = make_app([])
    window = make_window(app, Settings(home / "window.ini"))
    window.resize(1280, 800)
    window.documents.may_leave = lambda: True  # type: ignore[method-assign]  # no box waits for an answer
    window.show()
    soak = Soak(window, seed)
    sys.excepthook = soak.failed
    soak.open()
    window.show_work()
    rows: list[tuple[float, int, int]] = []
    kinds: list[Counter[str]] = []
    started, opens = time.monotonic(), max(actions * OPENS // 50_000, 1)
    for n in range(1, actions + 1):
        soak.act()
        if n % max(actions // opens, 1) == 0:
            soak.open()
        if n % 250 == 0:
            soak.pause()
        if n % max(min(actions // 5, 1000), 1) == 0:
            soak.preview()
        if n == actions // 2 and small is not None:
            soak.full_disk(small)
            soak.open()
        if n == actions * 3 // 4:
            soak.suspend()
        if n % max(actions // EVERY, 1) == 0:
            window.tasks.wait()
            delete_due()
            gc.collect()
            rows.append((soak.settled(), len(app.allWidgets()), len(gc.get_objects())))
            kinds.append(kinds_of())
            grown = (kinds[-1] - kinds[max(len(kinds) - 11, 0)]).most_common(4)
            print(f"{n:6} actions, {time.monotonic() - started:5.0f} s: {rows[-1][0]:.0f} MB, {rows[-1][1]} widgets, {rows[-1][2]} objects; more in ten: {grown}", flush=True)  # fmt: skip
    window.session.stack.setClean()
    window.close()
    return told(rows, soak.faults)


def told(rows: list[tuple[float, int, int]], faults: list[str]) -> int:
    """The growth after the caches were filled: means of the first and the last fifth of what was measured then."""
    kept = rows[round(len(rows) * WARM) :]
    fifth = max(len(kept) // 5, 1)
    bad = list(faults)
    for k, what in enumerate(("memory", "widgets", "objects")):
        first, last = (sum(r[k] for r in part) / fifth for part in (kept[:fifth], kept[-fifth:]))
        growth = last / first - 1
        print(f"{what}: {first:.0f} -> {last:.0f}, {growth:+.1%}")
        if growth > MOST:
            bad.append(f"{what} grew by {growth:.1%}")
    for fault in dict.fromkeys(bad):
        print(f"FAULT {fault}")
    return 1 if bad else 0


if __name__ == "__main__":
    sys.exit(main())

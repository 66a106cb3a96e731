"""A job of 100 zones, 50,000 readings and 500 photographs: opens, is edited, saved and printed, each timed.

heavy_job.py [ZONES READINGS PHOTOGRAPHS]
"""

from __future__ import annotations

import os
import resource
import sys
import tempfile
import time
from collections.abc import Callable
from io import BytesIO
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
home = Path(tempfile.mkdtemp(prefix="ribpatch-heavy-"))
for name in ("CONFIG", "STATE", "DATA"):
    os.environ[f"XDG_{name}_HOME"] = str(home / name.lower())

import numpy as np  # noqa: E402 - after the environment is set
from bench import large_job  # noqa: E402
from PIL import Image  # noqa: E402
from PySide6.QtWidgets import QApplication  # noqa: E402

from ribpatch.core.edits import set_value  # noqa: E402
from ribpatch.core.survey_edits import add_photograph  # noqa: E402
from ribpatch.core.units import Measure  # noqa: E402
from ribpatch.jobfile import archive  # noqa: E402
from ribpatch.jobfile.album import Album  # noqa: E402
from ribpatch.ui.app import make_app, make_window  # noqa: E402
from ribpatch.ui.paper_actions import PaperActions  # noqa: E402
from ribpatch.ui.print_dialog import PrintDialog  # noqa: E402
from ribpatch.ui.settings import Settings  # noqa: E402


def timed(what: str, work: Callable[[], object]) -> None:
    """Do it and say how long it took."""
    start = time.perf_counter()
    said = work()
    print(f"{what}: {time.perf_counter() - start:.2f} s{f', {said}' if said else ''}", flush=True)


def picture(n: int) -> bytes:
    """A made-up photograph of 1,600 x 1,200, each another."""
    rng = np.random.default_rng(n)
    coarse = rng.integers(60, 200, (30, 40, 3), dtype=np.uint8)
    stream = BytesIO()
    Image.fromarray(coarse).resize((1600, 1200), Image.Resampling.BICUBIC).save(stream, "JPEG", quality=85)
    return stream.getvalue()


def written(path: Path, zones: int, readings: int, photographs: int) -> str:
    """The job as a file."""
    job, album = large_job(zones, readings), Album()
    for n in range(photographs):
        member = album.add("photographs/", picture(n), ".jpg")
        edit = add_photograph(job.zones[n % zones].id, member, f"photograph {n + 1}", (0.3, 0.1))  # type: ignore[attr-defined]
        job = edit.change(job)  # type: ignore[arg-type]
    archive.save(job, path, album=album)  # type: ignore[arg-type]
    return f"{path.stat().st_size / 2**20:.0f} MB"


def main() -> int:
    zones, readings, photographs = (int(a) for a in sys.argv[1:4]) if len(sys.argv) > 3 else (100, 50_000, 500)
    path = home / "heavy.ribpatch"
    timed("made", lambda: written(path, zones, readings, photographs))
    app = make_app([])
    window = make_window(app, Settings(home / "window.ini"))
    window.resize(1280, 800)
    window.show()

    def act(work: Callable[[], object]) -> None:
        work()
        settled()

    def settled() -> None:
        for _ in range(4):
            app.processEvents()

    timed("opened and painted", lambda: act(lambda: window.open_path(path)))
    session = window.session
    assert session.is_open and len(session.job.zones) == zones
    assert sum(len(z.survey.readings) for z in session.job.zones) == readings
    for stage in ("open", "rebuild", "boat", "find"):
        timed(f"another zone at {stage}", lambda s=stage: act(lambda: session.go(f"z{zones // 2}", s)))
    margin = ("zones", session.zone_id, "scheme", "cut", "margin")
    timed("an edit", lambda: act(lambda: session.apply(set_value(margin, Measure(si=0.05)))))
    timed("undone", lambda: act(session.stack.undo))
    session.apply(set_value(margin, Measure(si=0.06)))
    timed("kept for recovery", lambda: (window.documents.keep_now(), None)[1])
    timed("saved", lambda: "" if window.documents.save() else window.message.label.text())
    assert archive.load(path) == session.job

    def pack() -> str:
        from ribpatch.report.workpack import work_pack

        return f"{len(work_pack(session.plan, 'metric', 'A4', '2026-12-01')) / 2**20:.1f} MB"

    timed("the work pack of all zones", pack)

    def survey() -> str:
        from ribpatch.report.survey_report import survey_report

        return f"{len(survey_report(session.plan, session.album, 'metric', 'A4')) / 2**20:.1f} MB"

    timed("the survey report with all photographs", survey)

    def preview() -> str:
        dialog = PrintDialog(window, "templates", PaperActions(window).write)
        dialog.show()
        until = time.monotonic() + 300
        while dialog.pages is None and time.monotonic() < until:
            window.tasks.wait()
            settled()
        shown = len(dialog.pages.sizes) if dialog.pages is not None else 0
        dialog.done(0)
        return f"{shown} pages"

    timed("print preview of a zone's templates", preview)
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"peak memory {peak:.0f} MB")
    window.session.stack.setClean()
    window.close()
    QApplication.processEvents()
    return 0


if __name__ == "__main__":
    sys.exit(main())

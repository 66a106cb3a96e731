"""Renders the main views of the demo job to PNG at 1280 x 800, the same bytes for the same view."""

from __future__ import annotations

import os
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
import made_photograph

home = Path(tempfile.mkdtemp(prefix="ribpatch-shots-"))
for name in ("CONFIG", "STATE", "DATA"):
    os.environ[f"XDG_{name}_HOME"] = str(home / name.lower())

from PySide6.QtWidgets import QApplication  # noqa: E402

from ribpatch.core.edits import set_value  # noqa: E402 - after the environment is set
from ribpatch.core.finish_edits import add_spots  # noqa: E402 - after the environment is set
from ribpatch.core.log_edits import log_entry  # noqa: E402 - after the environment is set
from ribpatch.core.survey_edits import add_photograph, set_straight  # noqa: E402
from ribpatch.core.units import Measure  # noqa: E402 - after the environment is set
from ribpatch.library.practice import practice_job  # noqa: E402 - after the environment is set
from ribpatch.stages import STAGES  # noqa: E402
from ribpatch.ui import documents  # noqa: E402 - after the environment is set
from ribpatch.ui.app import make_app, make_window  # noqa: E402 - after the environment is set
from ribpatch.ui.paper_actions import PaperActions  # noqa: E402
from ribpatch.ui.print_dialog import PrintDialog  # noqa: E402
from ribpatch.ui.settings import Settings  # noqa: E402
from ribpatch.ui.window import Window  # noqa: E402

LAID = {"step": "z4.lay1", "resin": "epoxy-5-1-slow"}
CUP = {"step": "z4.lay1", "resin": "epoxy-5-1-slow", "mass": Measure(si=0.32), "hardener": Measure(si=0.055)}
ENTRIES: tuple[tuple[str, str, dict[str, object]], ...] = (
    ("begun", "2026-12-01T08:00", {"step": "z4.strip"}),
    ("ended", "2026-12-01T11:20", {"step": "z4.strip"}),
    ("air", "2026-12-02T08:00", {"temperature": Measure(si=17.0), "humidity": Measure(si=0.48)}),
    ("mixed", "2026-12-02T08:20", {**CUP, "used_up": Measure(si=1500.0)}),
    ("laid", "2026-12-02T08:50", {**LAID, "first": 1, "last": 3}),
)


def settle(app: object) -> None:
    for _ in range(6):
        app.processEvents()  # type: ignore[attr-defined]


def days(window: Window) -> None:
    """The plan in lanes, a step looked at, before the work begins."""
    bench = window.showing.bench("days_bench")
    bench.plan.now = lambda: "2026-11-29T09:40"
    window.session.go("z1", "days")
    settle(QApplication.instance())
    window.tasks.wait()
    settle(QApplication.instance())
    bench.plan.view.choose("z4.lay2")
    bench.plan.picked.emit("z4.lay2")


def log(window: Window) -> None:
    """What cures now, after a few entries; they are taken back again."""
    bench = window.showing.bench("log_bench")
    bench.now.now = lambda: "2026-12-02T19:10"
    for kind, at, stated in ENTRIES:
        window.session.apply(log_entry(window.session.job, kind, at=at, who="yard hand", **stated))
    window.session.go("z4", "log")


def unlogged(window: Window) -> None:
    for _ in ENTRIES:
        window.menu_action("undo").trigger()


def views(window: Window) -> dict[str, Callable[[], None]]:
    go = window.session.go

    def below(zone: str, stage: str, page: str) -> None:
        go(zone, stage)
        window.zone_bench.below.show_page(page)

    def prove(zone: str, page: str, case: str = "") -> None:
        go(zone, "prove")
        settle(QApplication.instance())
        bench = window.showing.benches["prove_bench"]
        bench.below.show_page(page)
        settle(QApplication.instance())
        if case:
            bench.show_case(case)

    def working() -> None:
        below("z1", "open", "cut-through")
        window.work.ask_working(window.session.plan.by_id["z1.taper.length"])

    def draft() -> None:
        """Everything that a press drafts for the foredeck, each choice with its reason; taken back again."""
        window.work.working.close_sheet()
        window.survey.show_picture("chance", ("", ""))
        go("z1", "open")
        window.menu_action("draft").trigger()
        window.menu_action("whole_page").trigger()

    def dark() -> None:
        """Fair and finish: what a straightedge over the foredeck reads, and coats over it."""
        window.menu_action("whole_page").trigger()
        window.menu_action("undo").trigger()
        window.menu_action("theme").trigger()
        window.session.apply(add_spots(window.session.job.zone("z1"), "560 -300 to 1160 300: -0.5 -4 0.5"))
        window.session.apply(set_value(("zones", "z1", "finish", "system"), "deck-grip"))
        below("z1", "rebuild", "Fair and finish")

    def shed() -> None:
        """Large, of high contrast: the plan alone, the choices a press away."""
        window.menu_action("theme").trigger()
        window.menu_action("shed").trigger()
        go("z1", "open")
        window.work.parts.turn_to("plan")
        window.showing.finish()

    return {
        **{stage.id: lambda s=stage.id: below("z1", s, "cut-through") for stage in STAGES},
        "days": lambda: days(window), "log": lambda: log(window),
        "prove": lambda: (unlogged(window), prove("z1", "bent shape", "pull.f1")),
        "open-bond": lambda: below("z1", "open", "Taper and bond"),
        "working": working, "draft": draft, "rebuild-dark": dark, "shed": shed, "photograph": lambda: photograph(window),
    }  # fmt: skip


def new_job(window: Window) -> None:
    """A 17 ft boat with a rotten transom, begun in US units."""
    window.session.set_system("us")
    window.menu_action("new_job").trigger()
    page = window.new_page
    page.edits["boat.name"].setText("Grey Wagtail")
    page.edits["boat.length"].setText("17 ft")
    page.edits["boat.length"].editingFinished.emit()
    page.pick.list.choose("rotten-transom")
    page.begin.setFocus()


def kept(window: Window, app: object) -> None:
    """Wait until the copy for recovery of what was changed is kept beside the window, and told."""
    until = time.monotonic() + 10
    while not window.session.stack.isClean() and not window.documents._kept_at and time.monotonic() < until:
        settle(app)


def photograph(window: Window) -> None:
    """An outline drawn over a made-up photograph that was set straight."""
    window.menu_action("shed").trigger()
    session, zone = window.session, window.session.job.zone("z1")
    member = session.album.add("photographs/", made_photograph.photograph(zone), ".jpg")
    session.apply(add_photograph("z1", member, "foredeck from the cabin top"))
    session.apply(set_straight("z1", session.job.zone("z1").survey.photographs[-1].id, made_photograph.straight()))
    session.go("z1", "boat")
    window.menu_action("draw_shape").trigger()
    tool, outline = window.tracing.drawing.tool, session.job.zone("z1").outline
    for place in outline[:5]:
        tool.put(place)
    tool.at = outline[5]
    window.zone_bench.under.strength.setValue(100)


def printed(window: Window, app: object, path: Path) -> None:
    """Print preview: the ply templates of the foredeck."""
    window.tracing.drawing.tool.leave()
    dialog = PrintDialog(window, "templates", PaperActions(window).write)
    dialog.show()
    until = time.monotonic() + 60
    while dialog.pages is None and time.monotonic() < until:
        window.tasks.wait()
        settle(app)
    dialog.grab().save(str(path))
    dialog.done(0)


def practice(window: Window, app: object, path: Path) -> None:
    """A practice panel after a round of simulated taps."""
    window.show_new_job(practice_job(11), "find")
    window.work.showing.stages["find"].show_group("Read")
    for k in range(24):
        at = (round(0.1 + 0.2 * (k % 8), 3), round(0.17 + 0.33 * (k // 8), 3))
        window.zone_bench.readings.enter("sim-ear", {}, at)
    window.zone_bench.say("")
    window.zone_bench.plan_canvas.clearFocus()
    settle(app)
    kept(window, app)
    window.grab().save(str(path))


def main() -> int:
    folder = Path(sys.argv[1] if len(sys.argv) > 1 else "build/demo")
    folder.mkdir(parents=True, exist_ok=True)
    documents._clock = lambda: "09:40"  # when a copy was kept: the same view is the same bytes at any hour
    app = make_app([])
    window = make_window(app, Settings(home / "window.ini"))
    window.resize(1280, 800)
    window.show_start()
    window.show()
    settle(app)
    window.grab().save(str(folder / "start.png"))
    new_job(window)
    settle(app)
    window.grab().save(str(folder / "new-job.png"))
    window.new_page.cancelled.emit()
    window.session.set_system("metric")
    window.menu_action("demo_job").trigger()
    for name, show in views(window).items():
        show()
        window.zone_bench.plan_canvas.clearFocus()
        settle(app)
        window.tasks.wait()  # what is laid out beside the window
        settle(app)
        kept(window, app)
        window.grab().save(str(folder / f"{name}.png"))
    printed(window, app, folder / "print.png")
    practice(window, app, folder / "practice.png")
    window.session.stack.setClean()
    window.close()
    print(f"{len(views(window)) + 4} pictures written to {folder.resolve()}")
    return 0


if __name__ == "__main__":
    sys.exit(main())

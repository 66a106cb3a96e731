"""Renders the main views of the demo job to PNG at 1280 x 800, the same bytes for the same view."""

from __future__ import annotations

import os
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
home = Path(tempfile.mkdtemp(prefix="ribpatch-shots-"))
for name in ("CONFIG", "STATE", "DATA"):
    os.environ[f"XDG_{name}_HOME"] = str(home / name.lower())

from ribpatch.ui.app import make_app, make_window  # noqa: E402 - after the environment is set
from ribpatch.ui.settings import Settings  # noqa: E402
from ribpatch.ui.window import Window  # noqa: E402


def settle(app: object) -> None:
    for _ in range(6):
        app.processEvents()  # type: ignore[attr-defined]


def views(window: Window) -> dict[str, Callable[[], None]]:
    go = window.session.go

    def working() -> None:
        go("z1", "open")
        window.ask_working(window.session.plan.by_id["z1.taper.length"])

    def us_units() -> None:
        window.working.close_sheet()
        window.menu_action("units").trigger()
        go("z1", "order")

    def dark() -> None:
        window.menu_action("units").trigger()
        window.menu_action("theme").trigger()
        go("z2", "rebuild")

    return {
        "boat": lambda: go("z1", "boat"), "find": lambda: go("z1", "find"), "open": lambda: go("z1", "open"),
        "open-transom": lambda: go("z2", "open"), "rebuild": lambda: go("z1", "rebuild"), "rebuild-topside": lambda: go("z4", "rebuild"),
        "order": lambda: go("z1", "order"), "working": working, "order-us-units": us_units, "rebuild-dark": dark,
    }  # fmt: skip


def main() -> int:
    folder = Path(sys.argv[1] if len(sys.argv) > 1 else "build/demo")
    folder.mkdir(parents=True, exist_ok=True)
    app = make_app([])
    window = make_window(app, Settings(home / "window.ini"))
    window.resize(1280, 800)
    window.show_start()
    window.show()
    settle(app)
    window.grab().save(str(folder / "start.png"))
    window.menu_action("demo_job").trigger()
    for name, show in views(window).items():
        show()
        window.zone_bench.plan_canvas.clearFocus()
        settle(app)
        window.grab().save(str(folder / f"{name}.png"))
    window.session.stack.setClean()
    window.close()
    print(f"{len(views(window)) + 1} pictures written to {folder.resolve()}")
    return 0


if __name__ == "__main__":
    sys.exit(main())

"""Walks every stage, zone and page at every size, scale, system of units and look, and prints what is cut off or overlaps.

Without an argument all of it, a process for each size and scale; with SIZE that one; with SIZE, SYSTEM and LOOK only that.
"""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from itertools import product
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
ROOT = Path(__file__).parent.parent
sys.path.insert(0, str(ROOT))
home = Path(tempfile.mkdtemp(prefix="ribpatch-walk-"))
for name in ("CONFIG", "STATE", "DATA"):
    os.environ[f"XDG_{name}_HOME"] = str(home / name.lower())

from PySide6.QtCore import QSize  # noqa: E402 - after the environment is set
from tests.ui.geometry import findings, places, settle  # noqa: E402
from tests.ui.painted import Painted, painted_faults, recorded  # noqa: E402

from ribpatch.ui.app import make_app, make_window  # noqa: E402
from ribpatch.ui.settings import Settings  # noqa: E402
from ribpatch.ui.window import Window  # noqa: E402

SCREENS = ((1024, 700), (1280, 800), (1920, 1080), (2560, 1440))  # pixels
SCALES = ("1", "1.5", "2")
SYSTEMS = ("metric", "us")
LOOKS = ("", "theme", "shed", "shed theme")


def walk(size: tuple[int, int], systems: tuple[str, ...], looks: tuple[str, ...]) -> int:
    """Walk one window in each system of units and look, one after the other; the number of findings."""
    app = make_app([])
    window = make_window(app, Settings(home / "window.ini"))
    window.showing.at_once = True
    window.resize(*size)
    window.fit_in(QSize(*size))
    window.show_start()
    window.show()
    window.menu_action("demo_job").trigger()
    now: set[str] = set()
    found = 0
    with recorded() as painted:
        for system, look in product(systems, looks):
            window.session.set_system(system)
            for action in sorted(now ^ set(look.split())):
                window.menu_action(action).trigger()
            now = set(look.split())
            settle()
            name = f"{size[0]}x{size[1]} {system} {look or 'light'}"
            rows = faults(window, painted)
            print(
                *(f"{name}: {place}: {fault}" for fault, place in rows.items()), f"{name}: walked", sep="\n", flush=True
            )
            found += len(rows)
    window.session.stack.setClean()
    window.close()
    return found


def faults(window: Window, painted: Painted) -> dict[str, str]:
    """What is wrong at any place of a window, each with the first place where."""
    told: dict[str, str] = {}
    for place in places(window, folded=(False, True)):
        for fault in (*findings(window), *painted_faults(window, painted)):
            told.setdefault(fault, place)
    return told


def main() -> int:
    if len(sys.argv) > 1:
        wide, high = map(int, sys.argv[1].split("x"))
        systems, looks = (sys.argv[2:3], [" ".join(sys.argv[3:])]) if len(sys.argv) > 2 else (SYSTEMS, LOOKS)
        return min(walk((wide, high), tuple(systems), tuple(looks)), 1)
    failed = 0
    for scale, screen in product(SCALES, SCREENS):
        print(f"A screen of {screen[0]}x{screen[1]} at {scale}:", flush=True)
        size = "x".join(str(round(pixels / float(scale))) for pixels in screen)
        command = [sys.executable, __file__, size]
        failed += subprocess.run(command, env={**os.environ, "QT_SCALE_FACTOR": scale}, check=False).returncode != 0
    print(f"{failed} of {len(SCREENS) * len(SCALES)} screens with findings")
    return min(failed, 1)


if __name__ == "__main__":
    sys.exit(main())

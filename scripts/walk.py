"""Walks every stage, zone and page at every size, scale, system of units and look, and prints what is cut off or overlaps.

Without an argument all of it, a process for each size and scale; with SIZE, SYSTEM and LOOK that one.
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
from tests.ui.painted import painted_faults, recorded  # noqa: E402

from ribpatch.ui.app import make_app, make_window  # noqa: E402
from ribpatch.ui.settings import Settings  # noqa: E402

SCREENS = ((1024, 700), (1280, 800), (1920, 1080), (2560, 1440))  # pixels
SCALES = ("1", "1.5", "2")
LOOKS = ("", "theme", "shed", "shed theme")


def walk(size: tuple[int, int], system: str, look: str) -> int:
    """Walk one window; the number of findings."""
    app = make_app([])
    window = make_window(app, Settings(home / "window.ini"))
    window.showing.at_once = True
    window.resize(*size)
    window.fit_in(QSize(*size))
    window.show_start()
    window.show()
    window.menu_action("demo_job").trigger()
    window.session.set_system(system)
    for action in look.split():
        window.menu_action(action).trigger()
    settle()
    told: dict[str, str] = {}
    with recorded() as painted:
        for place in places(window, folded=(False, True)):
            for found in (*findings(window), *painted_faults(window, painted)):
                told.setdefault(found, place)
    for found, place in told.items():
        print(f"{size[0]}x{size[1]} {system} {look or 'light'}: {place}: {found}")
    window.session.stack.setClean()
    window.close()
    return len(told)


def main() -> int:
    if len(sys.argv) > 1:
        wide, high = map(int, sys.argv[1].split("x"))
        return min(walk((wide, high), sys.argv[2], " ".join(sys.argv[3:])), 1)
    failed = 0
    for screen, scale, system, look in product(SCREENS, SCALES, ("metric", "us"), LOOKS):
        size = "x".join(str(round(pixels / float(scale))) for pixels in screen)
        command = [sys.executable, __file__, size, system, *look.split()]
        failed += subprocess.run(command, env={**os.environ, "QT_SCALE_FACTOR": scale}, check=False).returncode != 0
        print(f"{screen[0]}x{screen[1]} at {scale}, {system}, {look or 'light'}: walked", flush=True)
    print(f"{failed} of {len(SCREENS) * len(SCALES) * 2 * len(LOOKS)} with findings")
    return min(failed, 1)


if __name__ == "__main__":
    sys.exit(main())

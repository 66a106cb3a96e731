"""The process that searches: a roll and its pieces on standard input, every better layout as a line on standard output.

The search itself cannot be stopped from within, and ends the process that it runs in where it meets what it did not
expect: both are why it has one of its own. Nothing is written but the lines.
"""

from __future__ import annotations

import json
import os
import threading
from typing import TYPE_CHECKING

from ribpatch.beside import task_given

if TYPE_CHECKING:
    import spyrrow

LOOK = 0.05  # s between looks at what was found
GENTLE = 5  # below the window in the order of who runs first


def search(task: dict[str, object]) -> None:
    """Search for the time given, and print what is better than before."""
    import spyrrow

    rows = task["pieces"]
    assert isinstance(rows, list)
    items = [spyrrow.Item(str(n), [tuple(p) for p in ring], 1, turns) for n, (ring, turns) in enumerate(rows)]
    roll = spyrrow.StripPackingInstance("roll", float(str(task["width"])), items)
    found, ended = spyrrow.ProgressQueue(), threading.Event()
    watch = threading.Thread(target=_tell, args=(found, ended))
    watch.start()
    try:
        seconds = int(str(task["seconds"]))
        roll.solve(
            spyrrow.StripPackingConfig(
                total_computation_time=None,
                exploration_time=max(1, round(seconds * 0.8)),
                compression_time=max(1, round(seconds * 0.2)),
                num_workers=1,
                seed=int(str(task["seed"])),
            ),
            found,
        )
    finally:
        ended.set()
        watch.join()


def _tell(found: spyrrow.ProgressQueue, ended: threading.Event) -> None:
    import spyrrow

    kinds = spyrrow.ReportType
    sound, best = (kinds.ExplFeas, kinds.CmprFeas, kinds.Final), float("inf")
    last = False
    while not last:
        last = ended.wait(LOOK)
        better = None
        for kind, layout in found.drain():
            if kind in sound and layout.width < best:
                best, better = layout.width, layout
        if better is not None:
            rows = [[int(p.id), *p.translation, p.rotation] for p in better.placed_items]
            print(json.dumps({"length": best, "placed": rows}), flush=True)


if __name__ == "__main__":
    os.nice(GENTLE)
    search(json.loads(task_given()))

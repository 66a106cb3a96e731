"""The process that reads a drawing from outside, with limits on its memory and time: what a parser of foreign files
makes of one is not known before. The path on standard input; how far it is, then what it found, as lines.
"""

from __future__ import annotations

import json
import os
from pathlib import Path

from ribpatch.beside import task_given

MEMORY = 1 << 30  # bytes of address space: the program itself takes some 300 MB of it
GENTLE = 5  # below the window in the order of who runs first


def read(path: Path) -> dict[str, object]:
    """What is found in a drawing, or what is wrong with it."""
    try:
        from ribpatch.core.errors import BadDrawing
        from ribpatch.formats.outline_file import read_outlines

        try:
            drawn = read_outlines(path, lambda share: _say({"share": share}))
        except BadDrawing as fault:
            return {"fault": fault.fields, "where": fault.where}
        return {"rings": drawn.rings, "stated": drawn.stated}
    except (MemoryError, RecursionError):
        return {"memory": True}


def _say(line: dict[str, object]) -> None:
    print(json.dumps(line), flush=True)


if __name__ == "__main__":
    given = Path(os.fsdecode(task_given(MEMORY)))
    os.nice(GENTLE)
    _say(read(given))

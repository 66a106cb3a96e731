"""Outlines out of drawings from outside, read by a process of its own: however large or crooked a drawing is, it takes
no more than so much memory and time, and the window goes on.
"""

from __future__ import annotations

import json
import os
from typing import TYPE_CHECKING, Any

from ribpatch.beside import lines_of
from ribpatch.core.errors import BadDrawing
from ribpatch.formats.outline_file import Drawn

if TYPE_CHECKING:
    from collections.abc import Callable
    from pathlib import Path

SECONDS = 30.0
SIMPLER = "Save only the outline that is wanted, with blocks and copies dissolved."


def outlines_of(path: Path, go_on: Callable[[float], object] = lambda _share: None) -> Drawn:
    """The closed lines of an SVG or DXF, largest first, m. ``go_on(share)`` is called as it is read, and what that
    raises gives it up. Raises BadDrawing.
    """
    said: dict[str, Any] = {}
    for lines in lines_of("ribpatch.formats.outline_process", os.fsencode(path.absolute()), SECONDS):
        for line in lines or ():
            said |= json.loads(line)
        go_on(said.get("share", 0.0))
    if "rings" in said:
        rings = tuple((layer, tuple((x, y) for x, y in ring)) for layer, ring in said["rings"])
        return Drawn(rings, said["stated"])
    if "fault" in said:
        raise BadDrawing(said["where"], **said["fault"])
    reason = "takes more memory than a drawing may" if "memory" in said else f"is not read within {SECONDS:.0f} s"
    raise BadDrawing(path.name, reason=reason, advice=SIMPLER)

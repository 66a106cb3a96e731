"""Where the program keeps what is not a job: the user's folders by the XDG base directory specification.

A package that does the same loads a fiftieth of the start.
"""

from __future__ import annotations

import os
from pathlib import Path
from typing import Literal

_USUAL = {"CONFIG": ".config", "STATE": ".local/state", "DATA": ".local/share", "CACHE": ".cache"}


def user_folder(what: Literal["CONFIG", "STATE", "DATA", "CACHE"]) -> Path:
    """The program's own folder for settings, states, the user's data or what can be made again; it may not exist yet.

    A relative path in the environment is as good as none, as the specification has it.
    """
    stated = os.environ.get(f"XDG_{what}_HOME", "")
    base = Path(stated) if os.path.isabs(stated) else Path.home() / _USUAL[what]
    return base / "ribpatch"

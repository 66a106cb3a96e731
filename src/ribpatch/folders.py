"""Where the program keeps what is not a job: the user's folders by the XDG base directory specification.

A package that does the same loads a fiftieth of the start.
"""

from __future__ import annotations

import contextlib
import os
import stat
from pathlib import Path
from typing import Literal

PRIVATE = 0o700
What = Literal["CONFIG", "STATE", "DATA", "CACHE"]
_USUAL: dict[What, str] = {"CONFIG": ".config", "STATE": ".local/state", "DATA": ".local/share", "CACHE": ".cache"}


def user_folder(what: What) -> Path:
    """The program's own folder for settings, states, the user's data or what can be made again; it may not exist yet.

    A relative path in the environment is as good as none, as the specification has it.
    """
    stated = os.environ.get(f"XDG_{what}_HOME", "")
    base = Path(stated) if os.path.isabs(stated) else Path.home() / _USUAL[what]
    return base / "ribpatch"


def private_folder(folder: Path) -> Path:
    """The folder, made where it is not there, for its owner only, with those of the program's own that it lies in;
    raises OSError. What is kept of work is no one else's business.
    """
    folder.mkdir(parents=True, exist_ok=True, mode=PRIVATE)
    bases = [user_folder(what) for what in _USUAL]
    ours = [p for p in folder.parents if any(p == base or p.is_relative_to(base) for base in bases)]
    with contextlib.suppress(PermissionError):  # another's folder, which its owner has opened to us
        for place in (folder, *ours):
            if stat.S_IMODE(place.stat().st_mode) != PRIVATE:
                place.chmod(PRIVATE)
    return folder

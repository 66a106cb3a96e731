"""Fonts, icons, data and licences that ship inside the package, read through this module only."""

from __future__ import annotations

from pathlib import Path

_HERE = Path(__file__).parent


def data(name: str) -> bytes:
    """The bytes of a shipped file, named by its path below this folder."""
    try:
        return (_HERE / name).read_bytes()
    except NotADirectoryError:  # inside an archive
        from importlib.resources import files

        return files(__name__).joinpath(name).read_bytes()

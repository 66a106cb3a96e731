"""Fonts, icons, data and licences that ship inside the package, read through this module only."""

from __future__ import annotations

from importlib.resources import files


def data(name: str) -> bytes:
    """The bytes of a shipped file, named by its path below this folder."""
    return files(__name__).joinpath(name).read_bytes()

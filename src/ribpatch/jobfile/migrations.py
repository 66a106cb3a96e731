"""Bringing old job files up to date: dict to dict, one step a version.

A step is registered under the version that it starts from; it changes nothing in place.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

Document = dict[str, Any]
Step = Callable[[Document], Document]


def _to_2(document: Document) -> Document:
    """Version 2 added kinds of readings, sessions, photographs, runs, diagnosis: all absent from a version 1 file."""
    return document


STEPS: Mapping[int, Step] = {1: _to_2}


def migrated(document: Document, target: int, steps: Mapping[int, Step] = STEPS) -> Document:
    """The document brought to version ``target``, one step at a time; raises KeyError where a step is missing."""
    while document["version"] < target:
        version = document["version"]
        document = {**steps[version](document), "version": version + 1}
    return document

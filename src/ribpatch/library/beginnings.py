"""What a job can be begun with, as shipped: kinds of craft, and what may be wrong. Read when a job or zone is begun."""

from __future__ import annotations

from functools import cache

from ribpatch import resources
from ribpatch.core.begin_records import Craft, Trouble
from ribpatch.library.shelf import items_of


@cache
def crafts() -> tuple[Craft, ...]:
    """The kinds of craft."""
    return items_of(Craft, resources.data("data/craft.json"), "craft")


@cache
def troubles() -> tuple[Trouble, ...]:
    """What may be wrong with a part of a boat."""
    return items_of(Trouble, resources.data("data/troubles.json"), "troubles")

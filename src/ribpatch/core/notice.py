"""A warning beside the choice that caused it, with what would clear it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Stage = Literal["boat", "find", "cause", "open", "rebuild", "order"]


@dataclass(frozen=True, slots=True)
class Notice:
    """``about`` names the decision it stands beside; ``grave`` ones must be answered before work starts."""

    id: str
    stage: Stage
    about: str
    text: str
    clears: str
    grave: bool = False
    zone: str = ""

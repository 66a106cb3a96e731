"""Text that any paper, drawing or screen can carry: without signs that no format may hold."""

from __future__ import annotations

import re

from ribpatch.core.numerals import comma_parts, joint

# Control signs, halves of surrogate pairs, and what Unicode says is no character: XML, DXF and fonts refuse them.
_UNPRINTABLE = (  # compiled when first wanted, as the next
    "[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\u200b-\u200f\u2028-\u202e\u2060-\u206f\ud800-\udfff\ufdd0-\ufdef\ufeff\ufff9-\uffff]"
)
_SPACES = r"[\t\n\r\x0b\x0c]+"


def counted(number: int, one: str, many: str) -> str:
    """A number of things in words: ``1 ply``, ``3 plies``."""
    return f"{number} {one if number == 1 else many}"


def upper(text: str) -> str:
    """The text with a capital."""
    return text[:1].upper() + text[1:]


def lines_of(text: str) -> list[str]:
    """The lines of typed text; a semicolon ends one too, except where the region needs it between numbers."""
    if joint() == ", ":
        text = text.replace(";", "\n")
    return [line for line in text.splitlines() if line.strip()]


def listed(line: str) -> list[str]:
    """The parts of a typed line by commas, semicolons, tabs or wide gaps."""
    return [part.strip() for part in re.split(comma_parts(), line.strip()) if part.strip()]


def parts_of(line: str) -> list[str]:
    """The parts of a typed line: by commas, tabs or wide gaps where there are any, since a size may hold a space; else
    by spaces.
    """
    parts = listed(line)
    return [p for p in parts[0].split(" ") if p] if len(parts) == 1 else parts


def percent(chance: float) -> str:
    """A chance that is neither certain nor impossible, and never reads as if it were."""
    return "over 99 %" if chance > 0.99 else "under 1 %" if chance < 0.01 else f"{chance:.0%}".replace("%", " %")


def printable(text: str) -> str:
    """``text`` in one line with nothing in it that cannot be printed."""
    return re.sub(_UNPRINTABLE, "", re.sub(_SPACES, " ", text))

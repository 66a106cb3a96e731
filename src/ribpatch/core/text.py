"""Text that any paper, drawing or screen can carry: without signs that no format may hold."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from ribpatch.core.numerals import comma_parts, joint

if TYPE_CHECKING:
    from collections.abc import Sequence

# Control signs, halves of surrogate pairs, and what Unicode says is no character: XML, DXF and fonts refuse them.
_UNPRINTABLE = (  # compiled when first wanted, as the next
    "[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\u200b-\u200f\u2028-\u202e\u2060-\u206f\ud800-\udfff\ufdd0-\ufdef\ufeff\ufff9-\uffff]"
)
_FORMULA = r"'*[=+\-@\t\r]"  # what a table takes for a formula, marked as words before or not
_SPACES = r"[\t\n\r\x0b\x0c]+"


def counted(number: int, one: str, many: str) -> str:
    """A number of things in words: ``1 ply``, ``3 plies``."""
    return f"{number} {one if number == 1 else many}"


def together(words: Sequence[str]) -> str:
    """Words in a row: ``plies, backing strips and made parts``."""
    return " and ".join([*([", ".join(words[:-1])] if len(words) > 1 else []), *words[-1:]])


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


def escaped_signs(json_text: str) -> str:
    """JSON text with the signs that nothing can print as escapes; line ends stay."""
    return re.sub(_UNPRINTABLE, lambda sign: f"\\u{ord(sign[0]):04x}", json_text)


def many_lines(text: str) -> str:
    """``text`` with its lines, and nothing else in it that cannot be printed."""
    return "\n".join(printable(part) for part in re.split(r"\r\n|\r|\n", text))


def cell_text(text: str) -> str:
    """``text`` for a cell of a table that other programs open: no program takes it for a formula.

    A mark before it makes it words; ``words_of_cell`` takes it away again.
    """
    return f"'{text}" if re.match(_FORMULA, text) else text


def words_of_cell(text: str) -> str:
    """What ``cell_text`` was made from."""
    return text[1:] if re.match("'" + _FORMULA, text) else text


def printable(text: str) -> str:
    """``text`` in one line with nothing in it that cannot be printed."""
    return re.sub(_UNPRINTABLE, "", re.sub(_SPACES, " ", text))

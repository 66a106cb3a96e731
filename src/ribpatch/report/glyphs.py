"""Signs that the program's font has not: names may hold any, and some marks are not in it. They are set in another
shipped font.
"""

from __future__ import annotations

from functools import cache
from io import BytesIO
from itertools import groupby

from reportlab.pdfbase.pdfmetrics import getFont, registerFont, stringWidth
from reportlab.pdfbase.ttfonts import TTFont

from ribpatch import resources

FALLBACK = "DejaVuSans"


@cache
def _fallback() -> str:
    """The other font, read when a sign first wants it."""
    registerFont(TTFont(FALLBACK, BytesIO(resources.data("fonts/DejaVuSans.ttf"))))
    return FALLBACK


def runs(text: str, font: str) -> list[tuple[str, str]]:
    """A text in pieces, each with the font that has its signs."""
    known = getattr(getFont(font), "face", None)
    glyphs = getattr(known, "charToGlyph", None)
    if glyphs is None or all(ord(sign) in glyphs for sign in text):
        return [(font, text)]
    parts = groupby(text, lambda sign: ord(sign) in glyphs or sign.isspace())
    return [(font if here else _fallback(), "".join(signs)) for here, signs in parts]


def width(text: str, font: str, size: float) -> float:
    """The width of a text in points, whichever fonts its signs are in."""
    return float(sum(stringWidth(part, name, size) for name, part in runs(text, font)))


def marked_up(escaped: str, font: str) -> str:
    """Reportlab's own markup with the signs that the font lacks set in the other one."""
    pieces = runs(escaped, font)
    return "".join(p if name == font else f'<font name="{name}">{p}</font>' for name, p in pieces)

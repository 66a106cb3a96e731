"""What stands on a paper: its words, read back from the PDF by another program than wrote it."""

from __future__ import annotations

from functools import lru_cache

import pypdfium2


@lru_cache(maxsize=8)
def pages_of(pdf: bytes) -> tuple[str, ...]:
    """The words of each page, lines as they stand."""
    with pypdfium2.PdfDocument(pdf) as document:
        made = []
        for page in document:
            words = page.get_textpage()
            made.append(words.get_text_bounded().replace("\r\n", "\n"))
            words.close()
            page.close()
        return tuple(made)


def text_of(pdf: bytes) -> str:
    """The words of all pages."""
    return "\n".join(pages_of(pdf))


def flat(text: str) -> str:
    """Words without lines."""
    return " ".join(text.split())

"""What the program is, its limits, and who made what it stands on."""

from __future__ import annotations

from html import escape

from ribpatch import __version__, resources
from ribpatch.core.cautions import LIMITS


def packages() -> list[tuple[str, str, str]]:
    """Name, version and licence of every package that the program stands on."""
    lines = resources.data("licences/third-party.txt").decode().splitlines()
    rows = (line.split("\t") for line in lines if line.count("\t") == 2)
    return [(name, version, licence) for name, version, licence in rows]


def about_html() -> str:
    """All of it as rich text."""
    cells = "".join(f"<tr>{''.join(f'<td>{escape(cell)}&nbsp;&nbsp;</td>' for cell in row)}</tr>" for row in packages())
    return (
        f"<p>Rib Patch {__version__}, under the MIT licence.</p><p>{LIMITS}</p>"
        "<p>Fonts: B612 under the SIL Open Font License 1.1; DejaVu Sans under its own free licence.</p>"
        "<p>It stands on these packages, each installed beside it with the full text of its licence:</p>"
        f"<table cellpadding='1'>{cells}</table>"
    )

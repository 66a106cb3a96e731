"""A drawing as a file by its suffix: SVG, PDF or PNG to scale, DXF at full size."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.errors import FileProblem

if TYPE_CHECKING:
    from ribpatch.core.drawing.shapes import Drawing
    from ribpatch.core.patch.plies import PlyOutline
    from ribpatch.core.units import System
    from ribpatch.report.page import Paper


def plies_file(
    outlines: tuple[PlyOutline, ...], title: str, suffix: str, paper: str, system: System, ways: tuple[str, str]
) -> bytes:
    """Ply templates full size by a file's suffix: PDF on sheets, SVG and DXF with a layer for each ply. Raises
    FileProblem where the suffix is none of them.
    """
    suffix = suffix.lower()
    if suffix == ".pdf":
        from ribpatch.report.templates import template_pdf

        return template_pdf(outlines, title, paper, system, ways)
    from ribpatch.core.drawing.ply_view import ply_view

    if suffix == ".svg":
        from ribpatch.formats.svg import svg_text

        return svg_text(ply_view(outlines, title), 1).encode()
    return drawing_bytes(ply_view(outlines, title), title, suffix)


def drawing_bytes(drawing: Drawing, title: str, suffix: str, paper: Paper = "A4") -> bytes:
    """The bytes of a file of that suffix; raises FileProblem where the suffix is none of the four."""
    suffix = suffix.lower()
    if suffix == ".svg":
        from ribpatch.formats.svg import svg_text
        from ribpatch.report.sheet import sheet_scale

        return svg_text(drawing, sheet_scale(drawing, paper)).encode()
    if suffix == ".dxf":
        from ribpatch.formats.dxf import dxf_text

        return dxf_text(drawing).encode()
    if suffix == ".pdf":
        from ribpatch.report.sheet import sheet_pdf

        return sheet_pdf(drawing, title, paper)
    if suffix == ".png":
        from ribpatch.formats.png import page_png
        from ribpatch.report.sheet import sheet_pdf

        return page_png(sheet_pdf(drawing, title, paper))
    raise FileProblem(
        suffix or "no suffix",
        reason="is no kind of drawing file that can be written",
        advice="End the name in .svg, .dxf, .pdf or .png.",
    )

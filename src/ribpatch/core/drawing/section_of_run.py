"""The section of a stringer or beam, old and new side by side, with its neutral axis. Metres."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.drawing.shapes import Area, Callout, Dimension, Drawing, Line, Shape, Text
from ribpatch.core.memo import remembered
from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from ribpatch.core.geometry import Ring
    from ribpatch.core.structure.run import RunModel
    from ribpatch.core.structure.section import Section
    from ribpatch.core.units import System

GAP = 0.25  # between the two, of the wider


@remembered(16)
def run_section_view(model: RunModel, system: System) -> Drawing:
    """Both sections at true proportions."""
    sections: list[tuple[str, Section, str]] = [("as built", model.old, "old-skin")]
    if model.new is not None:
        made = model.new if model.new_stretches else model.kept
        sections.append(("as rebuilt" if model.new_stretches else "as carried", made, "new-skin"))
    wide = max(max(p.width for p in s.parts) for _, s, _ in sections)
    shapes: list[Shape] = []
    for n, (name, section, role) in enumerate(sections):
        middle = wide * (0.5 + n * (1 + GAP))
        shapes += _section(section, middle, role)
        axis = section.neutral
        shapes.append(Line(((middle - wide / 2, axis), (middle + wide / 2, axis)), "centreline"))
        words = f"{name}: EI {shown(section.EI, Kind.RIGIDITY, system)}"
        shapes.append(Text((middle, section.top + 0.08 * section.top), words, "label"))
        side = "left" if n == 0 else "right"
        shapes.append(
            Callout(
                (middle, axis),
                f"neutral axis {shown(axis, Kind.SIZE, system)} up",
                "left" if side == "left" else "right",
            )
        )
    right = wide * (len(sections) + GAP * (len(sections) - 1))
    low, high = min(s.bottom for _, s, _ in sections), max(s.top for _, s, _ in sections)
    shapes.append(Dimension((0.0, low - 0.1 * high), (wide, low - 0.1 * high), shown(wide, Kind.SIZE, system)))
    counted = "core counted" if model.zone.proof.run.counted else "core only a former"
    note = f"on {shown(model.plating, Kind.SIZE, system)} plating, {counted}"
    bounds = (0.0, low - 0.16 * high, right, high * 1.2)
    return Drawing(f"{model.zone.name}: section", note, bounds, tuple(shapes))


def _section(section: Section, middle: float, role: str) -> list[Shape]:
    """The parts; two webs or flanges that were counted together stand apart."""
    shapes: list[Shape] = []
    crown = next((p for p in section.parts if p.name == "crown"), None)
    outer = crown.width if crown is not None else 0.0
    for p in section.parts:
        boxes: tuple[tuple[float, float], ...]
        if p.name == "webs":
            one = p.width / 2
            boxes = ((middle - outer / 2, one), (middle + outer / 2 - one, one))
        elif p.name == "flanges":
            one = p.width / 2
            boxes = ((middle - outer / 2 - one, one), (middle + outer / 2, one))
        elif p.name == "sister":
            boxes = ((middle + outer / 2, p.width),)
        elif p.name == "flange":
            boxes = ((middle, p.width),)
        else:
            boxes = ((middle - p.width / 2, p.width),)
        kind = "new-core" if p.name == "filling" else role
        material = "plywood" if p.name == "filling" else "old laminate" if role == "old-skin" else "stitched"
        for x, w in boxes:
            ring: Ring = ((x, p.bottom), (x + w, p.bottom), (x + w, p.top), (x, p.top))
            shapes.append(Area((ring,), kind, material))
    return shapes

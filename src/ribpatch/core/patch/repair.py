"""The worked-out geometry of one zone's repair: extent, cut, tapers, plies on each face, backing, pit, saved pieces."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace
from shapely.geometry import MultiPolygon

from ribpatch.core.laminate.stack import StackUp, skin_thickness, skin_weight, stack_up
from ribpatch.core.memo import remembered
from ribpatch.core.patch.access.sides import from_above
from ribpatch.core.patch.backing import BackingStrips, backing_of
from ribpatch.core.patch.cutline import CutLine, cut_line
from ribpatch.core.patch.pads import PadMade, pads_of
from ribpatch.core.patch.pieces import SavedSkin, saved_skin
from ribpatch.core.patch.pit import Pit, fill_outlines, pit_of
from ribpatch.core.patch.plies import PlyOutline, ply_outlines
from ribpatch.core.patch.tabbing import tab_outlines, tab_section
from ribpatch.core.patch.taper import Band, band_of
from ribpatch.core.record import known
from ribpatch.core.scheme import Taper
from ribpatch.core.survey.extent import Extent, extent_of
from ribpatch.core.survey.structure import starts_of

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.shelf import Shelf


class FaceMade(Struct, frozen=True, eq=False):
    """One face: the opening in its skin, its taper, its stack and the outline of every ply."""

    opening: CutLine
    band: Band
    stack: StackUp
    outlines: tuple[PlyOutline, ...]


class Patch(Struct, frozen=True, eq=False):
    """Everything that quantities and drawings follow from. ``cut`` is what the core loses, ``face.opening`` the
    skin.
    """

    extent: Extent
    cut: CutLine
    face: FaceMade
    second: FaceMade | None = None
    backing: BackingStrips | None = None
    pit: Pit | None = None
    saved: SavedSkin | None = None
    part_depth: bool = False
    pads: tuple[PadMade, ...] = ()

    @property
    def band(self) -> Band:
        """The taper of the main face."""
        return self.face.band

    @property
    def stack(self) -> StackUp:
        """The stack of the main face."""
        return self.face.stack

    @property
    def outlines(self) -> tuple[PlyOutline, ...]:
        """Plies of the main face, in the order of laying."""
        return self.face.outlines

    @property
    def all_outlines(self) -> tuple[PlyOutline, ...]:
        """Plies of both faces, of the backing strips and of local reinforcement."""
        second = self.second.outlines if self.second else ()
        pads = (o for pad in self.pads for o in pad.outlines)
        return (*(self.backing.outlines if self.backing else ()), *self.face.outlines, *second, *pads)

    @property
    def ground_volume(self) -> float:
        """Laminate ground off as dust, m3."""
        if self.pit is not None:
            return self.pit.volume
        faces = (self.face, self.second) if self.second else (self.face,)
        return sum(f.band.ground_volume for f in faces if f.outlines)

    def renews_core(self, zone: Zone) -> bool:
        """Whether the core in the cut is taken out for a new one."""
        core = zone.scheme.core
        return bool(self.through and zone.build.core and core.material and core.thickness)

    @property
    def through(self) -> bool:
        """Whether the skin is cut through, and not only ground to a depth."""
        return not self.part_depth


def to_reach(zone: Zone, patch: Patch) -> float:
    """The thickness that the stack of the main face should reach, m: as stated, else what is tapered or ground away
    there.
    """
    return zone.scheme.laminate.target.si if zone.scheme.laminate.target else patch.band.thickness


@remembered(128)
def without_skin(cut: CutLine) -> CutLine:
    """A cut that leaves the skin whole: the core is reached another way."""
    return replace(cut, region=MultiPolygon(), sound=0.0)


@remembered(128)
def slit(cut: CutLine, saved: SavedSkin) -> CutLine:
    """A cut whose skin is lifted in pieces and bonded back: only the saw's slits are open."""
    return replace(cut, region=saved.slits)


@remembered(64)
def patch_of(zone: Zone, shelf: Shelf) -> Patch:
    """The geometry of a zone's repair."""
    scheme, skin = zone.scheme, zone.rebuilt_skin
    extent = extent_of(zone.survey, zone.outline, shelf, starts_of(zone, shelf))
    cut = cut_line(extent, scheme.cut, zone.outline, zone.fittings)
    stack = stack_up(scheme.laminate.plies, scheme.resin.main, scheme.laying.process, shelf)
    thickness = skin_thickness(skin, shelf)
    if scheme.access.part_depth:
        return _ground(zone, extent, cut, stack, shelf)
    saved = None
    if scheme.cut.saved and not cut.region.is_empty:
        saved = saved_skin(
            cut.region, scheme.cut.piece.si, skin_weight(skin, shelf), shelf.rule("piece.most"), shelf.rule("saw.kerf")
        )
    opening = without_skin(cut) if from_above(zone) else slit(cut, saved) if saved else cut
    second = scheme.laminate.second
    share = second.share.si if second and zone.other_skin is None else 0.0
    flat = (
        0.0 if scheme.laminate.tabbing is not None else thickness * (1 - share)
    )  # tabbing laps onto both parts: nothing is tapered
    face = _face(zone, opening, scheme.taper, flat, stack, shelf)
    other = None
    if second is not None and not from_above(zone):
        behind = zone.other_skin
        depth = skin_thickness(behind, shelf) if behind else thickness * share
        laid = stack_up(second.plies, scheme.resin.main, scheme.laying.process, shelf)
        other = _face(zone, cut, second.taper, depth, laid, shelf)
    backing = None
    if scheme.laminate.backing is not None and not opening.region.is_empty:
        strips = stack_up(scheme.laminate.backing.plies, scheme.resin.main, scheme.laying.process, shelf)
        backing = backing_of(opening.region, strips, scheme.laminate.backing.width.si, shelf.rule("strip.overlap"))
    return Patch(extent, cut, face, other, backing, None, saved, pads=_pads(zone, shelf))


def _pads(zone: Zone, shelf: Shelf) -> tuple[PadMade, ...]:
    scheme = zone.scheme
    return pads_of(scheme.pads, scheme.resin.main, scheme.laying.process, zone.outline, shelf)


@remembered(64)
def as_found(zone: Zone, shelf: Shelf) -> Patch:
    """A zone before anything is opened: its extent, and no cut, taper or plies. Drawings of it wait for no repair."""
    extent = extent_of(zone.survey, zone.outline, shelf, starts_of(zone, shelf))
    nothing = CutLine(MultiPolygon(), MultiPolygon(), False, 0.0, 0.0, False, 0.0)
    band = band_of(nothing, known(Taper, ratio=zone.scheme.taper.ratio), 0.0, 0, 0.0, zone.outline, ())
    stack = stack_up(zone.scheme.laminate.plies, zone.scheme.resin.main, zone.scheme.laying.process, shelf)
    return Patch(extent, nothing, FaceMade(nothing, band, stack, ()))


def _face(zone: Zone, opening: CutLine, taper: Taper, depth: float, stack: StackUp, shelf: Shelf) -> FaceMade:
    scheme = zone.scheme
    least = shelf.rule("step.least")
    band = band_of(opening, taper, depth, len(stack.plies), least, zone.outline, zone.fittings)
    if scheme.laminate.tabbing is not None and not opening.region.is_empty:
        section = tab_section(stack, scheme.laminate.tabbing, shelf.rule("tab.times"), shelf.rule("tab.least"))
        return FaceMade(opening, band, stack, tab_outlines(opening, section, stack))
    outlines = ply_outlines(opening, band, stack, scheme.laminate.order, scheme.laminate.overlap.si, zone.outline)
    return FaceMade(opening, band, stack, outlines)


def _ground(zone: Zone, extent: Extent, cut: CutLine, stack: StackUp, shelf: Shelf) -> Patch:
    """Damage that did not go through: ground to sound and filled flush."""
    scheme = zone.scheme
    pit = pit_of(cut.region, zone.depths, scheme.taper.ratio.si, zone.outline)
    deepest = pit.deepest if pit else 0.0
    taper = known(Taper, ratio=scheme.taper.ratio)
    band = band_of(cut, taper, deepest, 0, shelf.rule("step.least"), zone.outline, zone.fittings)
    outlines: tuple[PlyOutline, ...] = ()
    if pit is not None:
        regions = fill_outlines(pit, stack, zone.outline)
        outlines = tuple(
            PlyOutline(laid, scheme.laminate.overlap.si, 1.0, region)
            for laid, region in zip(stack.plies, regions, strict=True)
        )
        if scheme.laminate.order == "largest first":
            outlines = outlines[::-1]
    return Patch(extent, cut, FaceMade(cut, band, stack, outlines), None, None, pit, None, True, _pads(zone, shelf))

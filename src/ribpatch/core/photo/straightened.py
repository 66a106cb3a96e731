"""A photograph set straight: where its places lie in the zone, how well the marks agree, how fine it can be read. SI.

From the picture to the zone: the lens is taken out by one number from points along straight edges, the perspective by
the homography of the marks, and the plane of the marks is then laid in the zone by the place of the first and the turn
of the line to the second. Validity: what is traced must lie in the plane of the marks; a place h above it is off by h
times the slant of the view. Source: [38].
"""

from __future__ import annotations

from math import cos, radians, sin
from typing import TYPE_CHECKING

import numpy as np
from msgspec import Struct

from ribpatch.core.errors import BadOutline
from ribpatch.core.memo import remembered
from ribpatch.core.photo.lens import bent, bow_of, off_lines, unbent
from ribpatch.core.photo.plane import camera_misfit, homography, inverse, moved, sides_of_horizon
from ribpatch.core.set_straight import LEAST_ON_EDGE
from ribpatch.core.taping import FIRST, SECOND, Span, adjusted
from ribpatch.core.units import Kind, shown

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats
    from ribpatch.core.set_straight import Straight
    from ribpatch.core.units import System

SLIP = 0.001  # of the picture's width: a mark set with care
GROSS = 0.01  # of the length of the marks: a misfit from which something is wrong


class Difference(Struct, frozen=True):
    """A measured distance, the same out of the picture, m."""

    measured: float
    read: float


class Straightened(Struct, frozen=True, eq=False):
    """``h`` (3, 3) takes the zone's plane (m) to the picture without its lens, in half diagonals from its middle.

    ``camera`` is the misfit of the four marks to a plain camera (m, root of the mean square); ``misfit`` that of the
    six distances, where they were measured; ``straight`` how far points along straight edges lie off them (m, root of
    the mean square), ``bowed`` the same before the lens was taken out; None where there are none.
    """

    h: Floats
    bow: float
    shape: float
    marks: Floats  # (4, 2), where they lie in the zone, m
    camera: float
    misfit: float | None
    straight: float | None
    bowed: float | None
    checks: tuple[Difference, ...]
    mirrored: bool  # the zone's plane is seen from behind
    slips: Floats  # (4, 2, 3, 3): what each of the marks' coordinates does to ``h``, a share of the width of it

    def to_zone(self, pixels: Floats) -> Floats:
        """Places in the zone (n, 2) in m of places in the picture (n, 2) in shares of its width; not a number for what
        lies beyond the horizon of the plane.
        """
        return _to_zone(self.h, unbent(_middled(pixels, self.shape), self.bow), self._front)

    def to_picture(self, places: Floats) -> Floats:
        """Places in the picture (n, 2), shares of its width, of places in the zone (n, 2), m; not a number where the
        picture cannot show them.
        """
        seen = bent(moved(places, self.h), self.bow)
        front = sides_of_horizon(places, self.h) == self._front
        pixels = np.where(front[:, None], seen, np.nan) * _half_diagonal(self.shape)
        return np.asarray(pixels + np.array([0.5, self.shape / 2]))

    @property
    def _front(self) -> float:
        return float(sides_of_horizon(self.marks[:1], self.h)[0])

    def spread(self, places: Floats) -> Floats:
        """How far off places in the zone (n, 2) may be read, (n,) in m, where every mark is set within ``SLIP`` of the
        width (one standard deviation of each coordinate), and so is what is traced.
        """
        seen = moved(places, self.h)
        total = np.zeros(len(places))
        for slip in self.slips.reshape(-1, 3, 3):
            total += ((moved(seen, inverse(slip)) - places) ** 2).sum(axis=1)
        step = SLIP / _half_diagonal(self.shape)
        for by in (np.array([step, 0.0]), np.array([0.0, step])):
            total += ((moved(seen + by, inverse(self.h)) - places) ** 2).sum(axis=1)
        return np.asarray(np.sqrt(total))

    @property
    def suspect(self) -> bool:
        """Whether the marks, the distances or the checks disagree by more than a hand's slip explains."""
        return self.worst > GROSS * self.size

    @property
    def worst(self) -> float:
        """The largest of the misfits, m."""
        off = [abs(c.read - c.measured) for c in self.checks]
        return max(self.camera, self.misfit or 0.0, *off, 0.0)

    @property
    def size(self) -> float:
        """How far the marks lie apart, m."""
        return float(np.hypot(*np.ptp(self.marks, axis=0)))


@remembered(64)
def straightened(straight: Straight) -> Straightened:
    """A photograph set straight. Raises BadOutline where the marks make no plane."""
    known, misfit = _known(straight)
    pixels = np.array(straight.marks)
    edges = [_middled(np.array(e), straight.shape) for e in straight.edges if len(e) >= LEAST_ON_EDGE]
    bow = bow_of(edges)
    seen = unbent(_middled(pixels, straight.shape), bow)
    laid = _laid(known, straight)
    h = homography(seen, laid)
    if len(set(sides_of_horizon(laid, h))) > 1:
        raise BadOutline("marks", reason="they are not in order", advice="Set them in order round the shape.")
    camera = float(np.sqrt((camera_misfit(seen, laid) ** 2).sum(axis=1).mean()))
    scale = _local_scale(h, laid.mean(axis=0))
    after, before = (_root_mean(off_lines(edges, k)) / scale if edges else None for k in (bow, 0.0))
    made = Straightened(
        h,
        bow,
        straight.shape,
        laid,
        camera,
        misfit,
        after,
        before,
        (),
        _seen_from_behind(pixels, laid),
        _slips(pixels, laid, straight.shape, bow),
    )
    return _checked(made, straight)


def _checked(made: Straightened, straight: Straight) -> Straightened:
    from msgspec.structs import replace

    found = []
    for check in straight.checks:
        a, b = made.to_zone(np.array([check.a, check.b]))
        found.append(Difference(check.length.si, float(np.hypot(*(a - b)))))
    return replace(made, checks=tuple(found))


def _known(straight: Straight) -> tuple[Floats, float | None]:
    """The marks in a plane of their own (4, 2) in m, the first at its origin and the second on its x, and the misfit of
    the distances between them where those are what is known.
    """
    sizes = [m.si for m in straight.sizes]
    if straight.how == "rectangle":
        length, width = sizes
        return np.array([[0, 0], [length, 0], [length, width], [0, width]]), None
    if straight.how == "tapes":
        one, two, at_one, at_two = sizes
        if not (0 <= at_one <= one and 0 <= at_two <= two):
            raise BadOutline(
                "tapes",
                reason="the tapes cross beyond an end of one of them",
                advice="Give what each tape reads at the crossing, from its end 1 or 3.",
            )
        return np.array([[0, 0], [one, 0], [at_one, -at_two], [at_one, two - at_two]]), None
    d12, d23, d34, d41, d13, d24 = sizes
    spans = (
        Span(FIRST, SECOND, d12),
        Span(FIRST, "3", d13),
        Span(SECOND, "3", d23),
        Span(FIRST, "4", d41),
        Span(SECOND, "4", d24),
        Span("3", "4", d34),
    )
    taped = adjusted(spans)
    return np.array([taped.points[n] for n in (FIRST, SECOND, "3", "4")]), taped.misfit


def _laid(known: Floats, straight: Straight) -> Floats:
    a = radians(straight.turn.si)
    laid: Floats = known @ np.array([[cos(a), sin(a)], [-sin(a), cos(a)]]) + np.array([straight.x, straight.y])
    return laid


def _middled(pixels: Floats, shape: float) -> Floats:
    """Shares of the width as half diagonals from the middle of the picture, y up."""
    off = pixels - np.array([0.5, shape / 2])
    return np.asarray(off / _half_diagonal(shape))


def _half_diagonal(shape: float) -> float:
    return float(np.hypot(1.0, shape)) / 2


def _to_zone(h: Floats, seen: Floats, front: float) -> Floats:
    """Places of the plane (n, 2) on the side ``front`` of its horizon; not a number for what is seen above it."""
    places = moved(seen, inverse(h))
    return np.where((sides_of_horizon(places, h) == front)[:, None], places, np.nan)


def _local_scale(h: Floats, at: Floats) -> float:
    """Half diagonals of the picture to a metre at a place of the plane."""
    near = moved(at + np.array([[0, 0], [1e-3, 0], [0, 1e-3]]), h)
    return float(np.sqrt(abs(np.linalg.det(np.array([near[1] - near[0], near[2] - near[0]]))))) / 1e-3


def _root_mean(off: Floats) -> float:
    return float(np.sqrt((off**2).mean()))


def _seen_from_behind(pixels: Floats, laid: Floats) -> bool:
    """Whether the marks go round the other way in the picture (whose second axis points down) than in the zone."""
    return _area(pixels) * _area(laid) > 0


def _area(ring: Floats) -> float:
    x, y = ring.T
    return float(x @ np.roll(y, -1) - y @ np.roll(x, -1)) / 2


def _slips(pixels: Floats, laid: Floats, shape: float, bow: float) -> Floats:
    made = np.empty((4, 2, 3, 3))
    for mark in range(4):
        for axis in range(2):
            moved_mark = pixels.copy()
            moved_mark[mark, axis] += SLIP
            made[mark, axis] = homography(unbent(_middled(moved_mark, shape), bow), laid)
    return made


def straight_words(made: Straightened, system: System) -> tuple[str, ...]:
    """How well it fits, in sentences: marks, lens, distances and checks, and how fine it can be read."""

    def said(value: float) -> str:
        return shown(value, Kind.SIZE, system)

    words = [f"The four marks fit a plain photograph to {said(made.camera)}."]
    if made.misfit is not None:
        words.append(f"The six distances agree to {said(made.misfit)}.")
    if made.straight is not None and made.bowed is not None:
        words.append(f"Lens: straight edges were bowed by {said(made.bowed)}, now {said(made.straight)}.")
    else:
        words.append("The lens is not taken out: set points along a straight edge near the rim of the picture.")
    if not made.checks and made.misfit is None:
        words.append("Nothing checks the sizes: add one more measured distance, a diagonal does best.")
    for check in made.checks:
        off = check.read - check.measured
        way = "as measured" if abs(off) < 5e-4 else f"{said(abs(off))} {'more' if off > 0 else 'less'} than measured"
        words.append(f"Check of {said(check.measured)}: the picture says {way}.")
    words.append(f"Marks set with care give places between them to about {said(float(made.spread(made.marks).max()))}.")
    if made.mirrored:
        words.append("The plane is seen from behind: 1 to 4 go round the other way. Swap 2 and 4 if it is not.")
    if made.suspect:
        words.append(
            "Something is off: a size mistyped or swapped, marks that are not square or not in one plane, or a "
            "picture that was cropped."
        )
    return tuple(words)

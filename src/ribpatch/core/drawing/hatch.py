"""Hatches that tell materials apart without colour: squares, dots, lines, stipple, crossing lines, waves.

A hatch is lines and dots over a box in the painter's own units; the painter clips it to the shape.
"""

from __future__ import annotations

from math import pi, sin

from msgspec import Struct

Segment = tuple[float, float, float, float]

# Material words (core faces, fabric kinds, putty) to the pattern that shows them.
PATTERNS = {
    "end grain": "squares",
    "open cells": "dots",
    "plywood": "veneers",
    "dense": "bricks",
    "mat": "stipple",
    "stitched": "crossing",
    "woven": "weave",
    "light": "weave",
    "unidirectional": "strokes",
    "putty": "wave",
    "old laminate": "diagonal",
    "fitting": "",
}


class Hatch(Struct, frozen=True):
    """Line segments and dot centres."""

    segments: tuple[Segment, ...] = ()
    dots: tuple[tuple[float, float], ...] = ()


def _steps(low: float, high: float, step: float) -> list[float]:
    first = int(low // step)
    return [k * step for k in range(first, int(high // step) + 2)]


def hatch(material: str, x0: float, y0: float, x1: float, y1: float, pitch: float) -> Hatch:
    """The hatch of a material over a box, at a pitch in the painter's units; empty where the material has none."""
    pattern = PATTERNS.get(material, "")
    xs, ys = _steps(x0, x1, pitch), _steps(y0, y1, pitch)
    if len(xs) * len(ys) > 40_000:
        return Hatch()
    maker = {
        "squares": _squares,
        "dots": _dots,
        "veneers": _veneers,
        "bricks": _bricks,
        "stipple": _stipple,
        "crossing": _crossing,
        "weave": _weave,
        "strokes": _strokes,
        "wave": _wave,
        "diagonal": _diagonal,
    }.get(pattern)
    return maker(xs, ys, pitch) if maker else Hatch()


def _squares(xs: list[float], ys: list[float], pitch: float) -> Hatch:
    upright = tuple((x, ys[0], x, ys[-1]) for x in xs)
    return Hatch((*upright, *((xs[0], y, xs[-1], y) for y in ys)))


def _dots(xs: list[float], ys: list[float], pitch: float) -> Hatch:
    return Hatch(dots=tuple((x + (pitch / 2 if i % 2 else 0), y) for i, y in enumerate(ys) for x in xs))


def _veneers(xs: list[float], ys: list[float], pitch: float) -> Hatch:
    third = pitch / 2
    lines = tuple((xs[0], y + k * third, xs[-1], y + k * third) for y in ys for k in (0, 1))
    ticks = tuple((x, y, x, y + third) for y in ys for x in xs)
    return Hatch((*lines, *ticks))


def _bricks(xs: list[float], ys: list[float], pitch: float) -> Hatch:
    ends = tuple(
        (x + (pitch / 2 if i % 2 else 0), y, x + (pitch / 2 if i % 2 else 0), y + pitch)
        for i, y in enumerate(ys)
        for x in xs
    )
    return Hatch((*((xs[0], y, xs[-1], y) for y in ys), *ends))


def _stipple(xs: list[float], ys: list[float], pitch: float) -> Hatch:
    shifts = ((0.1, 0.2), (0.6, 0.5), (0.3, 0.8))
    return Hatch(dots=tuple((x + a * pitch, y + b * pitch) for y in ys for x in xs for a, b in shifts))


def _crossing(xs: list[float], ys: list[float], pitch: float) -> Hatch:
    one = _diagonal(xs, ys, pitch).segments
    height = ys[-1] - ys[0]
    other = tuple((x, ys[-1], x + height, ys[0]) for x in _steps(xs[0] - height, xs[-1], pitch))
    return Hatch((*one, *other))


def _diagonal(xs: list[float], ys: list[float], pitch: float) -> Hatch:
    height = ys[-1] - ys[0]
    return Hatch(tuple((x, ys[0], x + height, ys[-1]) for x in _steps(xs[0] - height, xs[-1], pitch)))


def _weave(xs: list[float], ys: list[float], pitch: float) -> Hatch:
    half = pitch / 2
    flat = tuple((x, y, x + half, y) for i, y in enumerate(ys) for x in (xs if i % 2 else [v + half for v in xs]))
    return Hatch((*flat, *((x, y + half / 2, x, y + half) for y in ys for x in xs)))


def _strokes(xs: list[float], ys: list[float], pitch: float) -> Hatch:
    return Hatch(tuple((xs[0], y, xs[-1], y) for y in ys))


def _wave(xs: list[float], ys: list[float], pitch: float) -> Hatch:
    quarter = pitch / 4
    points = _steps(xs[0], xs[-1], quarter)
    heights = [sin(2 * pi * x / pitch) * pitch / 5 for x in points]
    return Hatch(
        tuple(
            (a, y + ha, b, y + hb)
            for y in ys
            for a, b, ha, hb in zip(points, points[1:], heights, heights[1:], strict=False)
        )
    )

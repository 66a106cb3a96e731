"""A photograph of a zone, made up: its outline, fittings, a rectangle of tape and a chalk line as a camera with a lens
sees them. Each pixel's ray is followed to the plane; no homography is used.
"""

from __future__ import annotations

from io import BytesIO

import numpy as np
from PIL import Image, ImageDraw

from ribpatch.core.job import Zone
from ribpatch.core.set_straight import Straight
from ribpatch.core.units import Measure

WIDE, HIGH = 1600, 1200
DOTS = 500  # a metre of the flat picture
ROUND = 1.2  # m of it beside the zone
LENS, FOCAL = -0.12, 0.95
EYE, TARGET = (-0.9, -0.5, 2.3), (1.0, 0.05, 0.0)
TAPE = ((0.2, -0.5), (1.4, -0.5), (1.4, 0.5), (0.2, 0.5))  # m in the zone
CHALK = ((0.36, -0.36), (0.9, -0.42), (1.22, -0.1), (1.12, 0.34), (0.62, 0.42), (0.34, 0.1))


def _flat(zone: Zone) -> tuple[np.ndarray, tuple[float, float]]:
    """The zone as it lies, and its upper left corner, m."""
    xs, ys = zip(*zone.outline, strict=True)
    left, top = min(xs) - ROUND, max(ys) + ROUND
    size = (int((max(xs) + ROUND - left) * DOTS), int((top - min(ys) + ROUND) * DOTS))
    picture = Image.new("RGB", size, (120, 116, 108))
    draw = ImageDraw.Draw(picture)

    def at(points):
        return [((x - left) * DOTS, (top - y) * DOTS) for x, y in points]

    draw.polygon(at(zone.outline), fill=(226, 221, 205))
    for y in np.arange(min(ys), max(ys), 0.09):
        draw.line(at([(min(xs), y), (max(xs), y)]), fill=(212, 206, 190), width=2)
    draw.line([*at(zone.outline), at(zone.outline)[0]], fill=(90, 84, 74), width=9)
    for fitting in zone.fittings:
        x0, y0, x1, y1 = fitting.shape.bounds
        shape = draw.ellipse if fitting.height.si == 0 else draw.rectangle
        shape([*at([(x0, y1)])[0], *at([(x1, y0)])[0]], fill=(96, 98, 102), outline=(60, 60, 64))
    draw.line([*at(TAPE), at(TAPE)[0]], fill=(214, 176, 60), width=8)
    draw.line([*at(CHALK), at(CHALK)[0]], fill=(170, 60, 70), width=7)
    return np.asarray(picture).astype(float), (left, top)


def _axes() -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    eye, target = np.array(EYE), np.array(TARGET)
    ahead = (target - eye) / np.linalg.norm(target - eye)
    right = np.cross(ahead, [0, 0, 1.0])
    right /= np.linalg.norm(right)
    return eye, ahead, right, np.cross(right, ahead)


def photograph(zone: Zone) -> bytes:
    """The picture as JPEG, the same bytes for the same zone."""
    flat, (left, top) = _flat(zone)
    eye, ahead, right, up = _axes()
    u, v = np.meshgrid((np.arange(WIDE) + 0.5) / WIDE, (np.arange(HIGH) + 0.5) / WIDE)
    bent_x, bent_y = (u - 0.5) / FOCAL, (HIGH / WIDE / 2 - v) / FOCAL
    x, y = bent_x, bent_y
    for _ in range(30):  # the lens backwards
        lens = 1 + LENS * (x**2 + y**2)
        x, y = bent_x / lens, bent_y / lens
    ray = ahead + x[..., None] * right + y[..., None] * up
    far = -eye[2] / np.minimum(ray[..., 2], -1e-3)
    place = eye + ray * far[..., None]
    column = np.clip((place[..., 0] - left) * DOTS, 0, flat.shape[1] - 1).astype(int)
    row = np.clip((top - place[..., 1]) * DOTS, 0, flat.shape[0] - 1).astype(int)
    light = 1.05 - 0.25 * u[..., None] + np.random.default_rng(1).normal(0, 0.012, (HIGH, WIDE, 1))
    stream = BytesIO()
    Image.fromarray(np.clip(flat[row, column] * light, 0, 255).astype(np.uint8)).save(stream, "JPEG", quality=88)
    return stream.getvalue()


def _seen(places) -> tuple[tuple[float, float], ...]:
    eye, ahead, right, up = _axes()
    away = np.column_stack([np.array(places), np.zeros(len(places))]) - eye
    x, y = away @ right / (away @ ahead), away @ up / (away @ ahead)
    lens = FOCAL * (1 + LENS * (x**2 + y**2))
    return tuple((float(a * k + 0.5), float(HIGH / WIDE / 2 - b * k)) for a, b, k in zip(x, y, lens, strict=True))


def straight() -> Straight:
    """The tape's corners as they were clicked, with points along the cabin front for the lens."""
    front = [(0.0, y) for y in (-1.0, -0.5, 0.0, 0.5, 1.0)]
    return Straight(
        how="rectangle",
        marks=_seen(TAPE),
        sizes=(Measure(si=1.2, typed="1200"), Measure(si=1.0, typed="1 m")),
        shape=HIGH / WIDE,
        x=TAPE[0][0],
        y=TAPE[0][1],
        edges=(_seen(front), _seen([(x, -0.5) for x in (0.2, 0.6, 1.0, 1.4)])),
    )

"""A camera made another way than the program's: a pinhole with eye, target and roll, and a lens of two powers."""

import numpy as np

from ribpatch.core.set_straight import Checked, Straight
from ribpatch.core.units import Measure

WIDTH, HEIGHT = 1600, 1200
SHAPE = HEIGHT / WIDTH


def axes(eye=(0.6, -0.8, 1.4), target=(0.7, 0.4), roll=0.2):
    """Where the camera stands, and its three axes."""
    eye = np.array(eye, float)
    ahead = np.array([*target, 0.0]) - eye
    ahead /= np.linalg.norm(ahead)
    right = np.cross(ahead, [0, 0, 1.0] if abs(ahead[2]) < 0.999 else [0, 1.0, 0])
    right /= np.linalg.norm(right)
    up = np.cross(right, ahead)
    c, s = np.cos(roll), np.sin(roll)
    right, up = c * right + s * up, c * up - s * right
    return eye, ahead, right, up


def looked_at(pixels, focal=0.9):
    """Places of the plane z = 0 that the rays of pixels (n, 2) meet: no lens."""
    eye, ahead, right, up = axes()
    u, v = np.asarray(pixels).T
    rays = ahead + ((u - 0.5) / focal)[:, None] * right + ((SHAPE / 2 - v) / focal)[:, None] * up
    return (eye - rays * (eye[2] / rays[:, 2])[:, None])[:, :2]


def seen(places, eye=(0.6, -0.8, 1.4), target=(0.7, 0.4), focal=0.9, k1=0.0, k2=0.0, roll=0.2, heights=0.0):
    """Shares of the width at which places (n, 2) of the plane z = 0 (or ``heights`` over it) are pictured."""
    eye, ahead, right, up = axes(eye, target, roll)
    places = np.atleast_2d(np.asarray(places, float))
    away = np.column_stack([places, np.full(len(places), heights)]) - eye
    x, y = away @ right / (away @ ahead), away @ up / (away @ ahead)
    r2 = x**2 + y**2
    lens = 1 + k1 * r2 + k2 * r2**2
    return np.column_stack([focal * x * lens + 0.5, SHAPE / 2 - focal * y * lens])


def spots(places, **camera):
    return tuple((float(u), float(v)) for u, v in seen(places, **camera))


def lengths(*values):
    return tuple(Measure(si=v) for v in values)


RECTANGLE = np.array([[0.2, 0.1], [1.2, 0.1], [1.2, 0.7], [0.2, 0.7]])


def rectangle(sizes=(1.0, 0.6), edges=(), checks=(), corners=RECTANGLE, **camera):
    lines = tuple(
        spots([np.array(a) + t * (np.array(b) - a) for t in np.linspace(0, 1, 9)], **camera) for a, b in edges
    )
    held = tuple(
        Checked(a=spots([a], **camera)[0], b=spots([b], **camera)[0], length=Measure(si=length))
        for a, b, length in checks
    )
    x, y = corners[0]
    return Straight(
        how="rectangle",
        marks=spots(corners, **camera),
        sizes=lengths(*sizes),
        shape=SHAPE,
        x=x,
        y=y,
        edges=lines,
        checks=held,
    )

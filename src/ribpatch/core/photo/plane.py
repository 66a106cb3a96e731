"""A plane as a camera sees it: places in it and places in the picture belong together by a homography.

More than four places are adjusted by least squares. Whether a plain camera, with square pixels and the middle of
the picture in line with its lens, could have seen four places as they were clicked is a check of its own: its one
unknown, the focal length, and where it stood are seven numbers against eight. Lenses from very wide to those of
portraits are thought of. Source: [38].
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ribpatch.core.errors import BadOutline

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats

WIDE, LONG = 0.55, 3.6  # half diagonals: a longer lens could have seen nearly any rectangle at a slant
FOCAL = np.geomspace(WIDE, LONG, 40)
STEPS = 60
LEAST_SPREAD = 1e-3  # of a triangle of three marks, as a share of all of them: less is a line
FLAT = "three of the four marks lie in one line"


def homography(seen: Floats, known: Floats) -> Floats:
    """The (3, 3) matrix that takes places of the plane ``known`` (n, 2) to where they are seen (n, 2), n of 4 and more.

    Both are moved and scaled to their middle before they are solved, which keeps the equations well conditioned.
    Raises BadOutline where three of four marks lie in one line.
    """
    for places in (seen, known):
        if len(places) == 4 and _flattest(places) < LEAST_SPREAD:
            raise BadOutline("marks", reason=FLAT, advice="Spread them: the corners of a large rectangle do best.")
    a, b = _middled(known), _middled(seen)
    p, q = moved(known, a), moved(seen, b)
    rows = []
    for (x, y), (u, v) in zip(p, q, strict=True):
        rows.append([x, y, 1, 0, 0, 0, -u * x, -u * y, -u])
        rows.append([0, 0, 0, x, y, 1, -v * x, -v * y, -v])
    h = np.linalg.svd(np.array(rows))[2][-1].reshape(3, 3)
    whole: Floats = inverse(b) @ h @ a
    return whole / np.linalg.norm(whole)


def inverse(h: Floats) -> Floats:
    """The homography (3, 3) that goes the other way."""
    return np.asarray(np.linalg.inv(h), dtype=np.float64)


def moved(places: Floats, h: Floats) -> Floats:
    """Where a homography (3, 3) takes places (n, 2); not a number for what lies on its horizon."""
    w = places @ h[2, :2] + h[2, 2]
    with np.errstate(divide="ignore", invalid="ignore"):
        to: Floats = (places @ h[:2, :2].T + h[:2, 2]) / np.where(w == 0, np.nan, w)[..., None]
    return to


def sides_of_horizon(places: Floats, h: Floats) -> Floats:
    """Above nothing where a place (n, 2) lies on this side of the horizon of a homography, whatever its scale."""
    return np.asarray(np.sign(places @ h[2, :2] + h[2, 2]))


def _middled(places: Floats) -> Floats:
    middle = places.mean(axis=0)
    scale = np.sqrt(2) / max(float(np.hypot(*(places - middle).T).mean()), 1e-12)
    return np.array([[scale, 0, -scale * middle[0]], [0, scale, -scale * middle[1]], [0, 0, 1]])


def _flattest(places: Floats) -> float:
    """The least triangle of three of four places as a share of the square of their spread."""
    spread = float(np.ptp(places, axis=0).max()) or 1.0
    least = min(
        abs(float(np.cross(np.append(b - a, 0), np.append(c - a, 0))[2]))
        for a, b, c in (places[[0, 1, 2]], places[[0, 1, 3]], places[[0, 2, 3]], places[[1, 2, 3]])
    )
    return least / spread**2


# ---- a plain camera ----------------------------------------------------------------------------------------------


def camera_misfit(seen: Floats, known: Floats) -> Floats:
    """How far, in the plane (n, 2), the places that a plain camera would have seen where they were clicked lie from
    where they are known to be. Nothing to speak of where the marks are right and the picture is not cropped.
    """
    h = homography(seen, known)
    scale = float(np.hypot(*(known - known.mean(axis=0)).T).mean())
    middle = known.mean(axis=0)
    plane = (known - middle) / scale
    start = min((_posed(h, f, middle, scale) for f in FOCAL), key=lambda p: float((_off(p, seen, plane) ** 2).sum()))
    fitted = _refined(start, seen, plane)
    backward = inverse(_camera(fitted))
    off: Floats = (moved(seen, backward) - plane) * scale
    return off


def _posed(h: Floats, focal: float, middle: Floats, scale: float) -> Floats:
    """A first pose for a focal length: the log of it, a turn as a vector, and where the plane lies."""
    to_plane = np.array([[scale, 0, middle[0]], [0, scale, middle[1]], [0, 0, 1]])
    m = np.diag([1 / focal, 1 / focal, 1]) @ h @ to_plane
    m = m / np.sqrt(np.linalg.norm(m[:, 0]) * np.linalg.norm(m[:, 1]))
    if m[2, 2] < 0:
        m = -m
    across = np.cross(m[:, 0], m[:, 1])
    u, _, v = np.linalg.svd(np.column_stack([m[:, 0], m[:, 1], across]))
    turn = u @ np.diag([1, 1, np.linalg.det(u @ v)]) @ v
    return np.array([np.log(focal), *_vector(turn), *m[:, 2]])


def _vector(turn: Floats) -> Floats:
    """The vector of a turn (3, 3): its axis times its angle."""
    angle = float(np.arccos(np.clip((np.trace(turn) - 1) / 2, -1, 1)))
    if angle < 1e-9:
        return np.zeros(3)
    if np.pi - angle < 1e-6:  # half a turn: the axis is an eigenvector
        values, vectors = np.linalg.eigh((turn + turn.T) / 2)
        return np.asarray(vectors[:, int(values.argmax())] * angle)
    odd = np.array([turn[2, 1] - turn[1, 2], turn[0, 2] - turn[2, 0], turn[1, 0] - turn[0, 1]])
    return np.asarray(odd * angle / (2 * np.sin(angle)))


def _turn(vector: Floats) -> Floats:
    """The turn (3, 3) of a vector, after Rodrigues."""
    angle = float(np.linalg.norm(vector))
    if angle < 1e-12:
        return np.eye(3)
    x, y, z = vector / angle
    k = np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])
    return np.asarray(np.eye(3) + np.sin(angle) * k + (1 - np.cos(angle)) * k @ k)


def _camera(pose: Floats) -> Floats:
    """The homography of a pose."""
    turn, focal = _turn(pose[1:4]), float(np.clip(np.exp(min(pose[0], 5.0)), WIDE, LONG))
    h: Floats = np.diag([focal, focal, 1]) @ np.column_stack([turn[:, 0], turn[:, 1], pose[4:]])
    return h


def _off(pose: Floats, seen: Floats, plane: Floats) -> Floats:
    off = np.nan_to_num(moved(plane, _camera(pose)) - seen, nan=1e3, posinf=1e3, neginf=-1e3)
    return np.asarray(off.ravel())


def _refined(pose: Floats, seen: Floats, plane: Floats) -> Floats:
    """Levenberg and Marquardt on the pose: damped steps that only ever better the fit."""
    damping, now = 1e-3, _off(pose, seen, plane)
    for _ in range(STEPS):
        slope = np.column_stack([(_off(pose + d, seen, plane) - now) / 1e-6 for d in np.eye(len(pose)) * 1e-6])
        normal, pull = slope.T @ slope, slope.T @ now
        step = np.linalg.solve(normal + damping * np.diag(np.diag(normal) + 1e-12), -pull)
        then = _off(pose + step, seen, plane)
        if float(then @ then) < float(now @ now):
            done = float(now @ now) - float(then @ then) < 1e-18
            pose, now, damping = pose + step, then, damping / 4
            if done:
                break
        else:
            damping *= 6
            if damping > 1e9:
                break
    return pose

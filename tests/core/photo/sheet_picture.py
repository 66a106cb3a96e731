"""Pictures of a set-off sheet made another way than it is read: drawn by hand on the printed page, seen by a camera in
uneven light and with noise.
"""

import numpy as np
import pypdfium2
from PIL import Image, ImageDraw
from tests.core.photo.scene import SHAPE, axes

from ribpatch.report.set_off_sheet import FOOT, set_off_pdf, spacing
from ribpatch.report.templates import PAPERS

DOTS = 6  # pixels a millimetre of the page


def page(shape, paper="A4", pen=0.9, gap=0.0):
    """The printed sheet with a closed line through places (m from mark 1, y up), drawn with a pen of ``pen`` mm; the
    last ``gap`` m of it missing.
    """
    document = pypdfium2.PdfDocument(set_off_pdf("Sample", paper, "metric"))
    made = document[0].render(scale=DOTS * 25.4 / 72).to_pil().convert("L")
    document.close()
    wide, high = PAPERS[paper]
    left = (wide - spacing(paper)[0] * 1000) / 2
    points = [((left + 1000 * x) * DOTS, (high - FOOT - 1000 * y) * DOTS) for x, y in (*shape, shape[0])]
    if gap:
        (ax, ay), (bx, by) = points[-2:]
        share = 1 - gap * 1000 * DOTS / np.hypot(bx - ax, by - ay)
        points[-1] = (ax + share * (bx - ax), ay + share * (by - ay))
    ImageDraw.Draw(made).line(points, fill=25, width=round(pen * DOTS), joint="curve")
    return np.asarray(made)


def photographed(flat, paper="A4", eye=(0.1, -0.12, 0.42), roll=0.15, shade=0.35, noise=3.0, width=1600):
    """What a camera sees of a page that lies in the plane z = 0, its lower left corner at the origin, on a dark bench."""
    high = PAPERS[paper][1] / 1000
    eye, ahead, right, up = axes(eye, (PAPERS[paper][0] / 2000, high / 2), roll)
    tall = round(width * SHAPE)
    u, v = (np.arange(width) + 0.5) / width, ((np.arange(tall) + 0.5) / width)[:, None]
    focal = 0.8
    x, y = (u - 0.5) / focal, (SHAPE / 2 - v) / focal
    ray = [ahead[n] + x * right[n] + y * up[n] for n in range(3)]
    far = -eye[2] / ray[2]
    column = (eye[0] + far * ray[0]) * 1000 * DOTS
    row = (high - eye[1] - far * ray[1]) * 1000 * DOTS
    inside = (column >= 0) & (row >= 0) & (column < flat.shape[1] - 1) & (row < flat.shape[0] - 1)
    seen = np.full(inside.shape, 70.0)
    seen[inside] = flat[row[inside].astype(int), column[inside].astype(int)]
    seen *= 1 - shade * u + np.random.default_rng(3).normal(0, noise / 255, inside.shape)
    return np.clip(seen, 0, 255).astype(np.uint8)


def as_picture(grey):
    return Image.fromarray(np.stack([grey] * 3, axis=-1))

"""The looks of roles: colours by theme, line widths and dashes. One accent colour marks what the user can act on."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    from ribpatch.core.geometry import Floats

LIGHT = {
    "paper": "#f5f2e8",
    "panel": "#fcfaf3",
    "rail": "#e8e4d6",
    "edge": "#c9c3ae",
    "ink": "#1d2a30",
    "soft": "#5a666b",
    "accent": "#0b5f5a",
    "accent-ink": "#ffffff",
    "accent-soft": "#d5e6e1",
    "warn": "#8a4b00",
    "warn-soft": "#f6e7cf",
    "grave": "#9c1c1c",
    "ledger": "#1d2a30",
    "ledger-ink": "#f5f2e8",
    "ledger-soft": "#b5bfc0",
    "change": "#f2c14e",
    "old-skin": "#b9c0c0",
    "old-core": "#efe3c6",
    "new-skin": "#bfe0d8",
    "new-core": "#fbeeb8",
    "putty": "#dcc7e6",
    "hatch": "#6d6a5c",
    "fitting": "#c8bfa8",
    "boat": "#fcfaf3",
}
DARK = {
    "paper": "#162026",
    "panel": "#1c2930",
    "rail": "#22313a",
    "edge": "#3d505a",
    "ink": "#e9ecea",
    "soft": "#a9b6b8",
    "accent": "#63cfc0",
    "accent-ink": "#0d1a1c",
    "accent-soft": "#244a49",
    "warn": "#f0b55a",
    "warn-soft": "#4a3a1f",
    "grave": "#ff9a8c",
    "ledger": "#0c1418",
    "ledger-ink": "#e9ecea",
    "ledger-soft": "#93a1a4",
    "change": "#f2c14e",
    "old-skin": "#5b686d",
    "old-core": "#4f4836",
    "new-skin": "#2b6a62",
    "new-core": "#6a5e2b",
    "putty": "#5d4a6a",
    "hatch": "#b9b59f",
    "fitting": "#6b6553",
    "boat": "#1c2930",
}
# In the shed: as far from the ground as ink can be, and no soft tones.
SHED = {
    **LIGHT,
    "paper": "#ffffff",
    "panel": "#ffffff",
    "rail": "#e6e6e6",
    "edge": "#4a4a4a",
    "ink": "#000000",
    "soft": "#262626",
    "accent": "#004b46",
    "accent-soft": "#c4e8e0",
    "warn": "#6b3500",
    "grave": "#8a0000",
    "ledger": "#000000",
    "ledger-ink": "#ffffff",
    "ledger-soft": "#e0e0e0",
    "hatch": "#3c3c3c",
    "boat": "#ffffff",
}
SHED_DARK = {
    **DARK,
    "paper": "#000000",
    "panel": "#0a0f12",
    "rail": "#1a2328",
    "edge": "#a9b4b8",
    "ink": "#ffffff",
    "soft": "#e3e9ea",
    "accent": "#7ff0df",
    "accent-ink": "#000000",
    "warn": "#ffc75f",
    "grave": "#ffb3a8",
    "ledger": "#000000",
    "ledger-ink": "#ffffff",
    "ledger-soft": "#d5dcdd",
    "boat": "#0a0f12",
}
PALETTES: dict[str, dict[str, str]] = {"light": LIGHT, "dark": DARK, "shed": SHED, "shed-dark": SHED_DARK}
DIM = {"shed": "light", "shed-dark": "dark"}  # whose ramps they share

# Perceptually even from the paper to a deep blue-violet; lightness alone carries it.
RAMP = {
    "light": ("#f7f4ea", "#d9dad9", "#b3bccb", "#8c9abb", "#6676a8", "#465391", "#2b3273", "#1b1b4f"),
    "dark": ("#1c2930", "#2c3a4b", "#3f4d6b", "#56638c", "#717dac", "#909bca", "#b4bde3", "#dfe4fb"),
}

# Better to worse: two hues of one lightness scale that stay apart for the colour-blind, paper between them.
CHANGE = {
    "light": ("#0b5e8a", "#5d9cc0", "#b4d0dd", "#f7f4ea", "#ecc9a0", "#cf8a45", "#8f4a0c"),
    "dark": ("#8fd0f2", "#5a93b3", "#355566", "#1c2930", "#6b5030", "#b5813f", "#f2c48a"),
}


class Pen(Struct, frozen=True):
    """A line's colour by name, width in points and dash in multiples of the width."""

    colour: str
    width: float
    dash: tuple[float, ...] = ()


PENS: dict[str, Pen] = {
    "zone": Pen("ink", 1.4),
    "boat": Pen("ink", 1.2),
    "centreline": Pen("edge", 0.8, (8, 3, 1, 3)),
    "zone-patch": Pen("soft", 1.0),
    "zone-here": Pen("accent", 2.2),
    "cut": Pen("accent", 2.4),
    "band": Pen("accent", 0.9, (4, 3)),
    "ply-line": Pen("accent", 0.7, (2, 3)),
    "extent": Pen("grave", 1.3, (6, 2)),
    "surely": Pen("grave", 0.9),
    "unsurveyed": Pen("hatch", 0.6),
    "fitting": Pen("ink", 1.0),
    "tight": Pen("warn", 3.0),
    "section": Pen("ink", 1.0, (9, 3, 2, 3)),
    "old-skin": Pen("ink", 0.9),
    "old-core": Pen("soft", 0.7),
    "new-skin": Pen("ink", 0.5),
    "new-core": Pen("ink", 0.7),
    "putty": Pen("soft", 0.5),
    "dimension": Pen("soft", 0.8),
    "grid": Pen("edge", 0.6),
    "damage": Pen("grave", 2.6),
    "cut-sound": Pen("ink", 3.2, (1.2, 0.8)),
    "cut-bad": Pen("grave", 4.0),
    "crack": Pen("ink", 1.6, (3, 1, 1, 1)),
    "truth-wet": Pen("accent", 1.6, (2, 2)),
    "truth-rotted": Pen("accent", 2.4),
    "truth-disbonded": Pen("accent", 1.6, (5, 2, 1, 2)),
    "band-second": Pen("soft", 0.9, (6, 3)),
    "backing": Pen("ink", 1.0, (2, 2)),
    "piece": Pen("accent", 0.9),
    "depth-line": Pen("soft", 0.8, (1, 2)),
    "joint": Pen("ink", 1.1, (5, 2, 1, 2)),
    "proving": Pen("grave", 2.2, (2, 1)),
    "edge-name": Pen("soft", 2.0),
    "seam": Pen("soft", 1.2, (5, 3)),
    "leader": Pen("soft", 0.6),
    "edge-supported": Pen("ink", 1.2),
    "edge-clamped": Pen("ink", 3.6),
    "edge-free": Pen("soft", 1.2, (3, 3)),
    "stiffener": Pen("accent", 3.4),
    "pad": Pen("warn", 1.6),
    "bent-before": Pen("soft", 1.6),
    "bent-damaged": Pen("grave", 1.8, (5, 2)),
    "bent-repaired": Pen("accent", 2.4),
}
FILLS: dict[str, str] = {
    "zone": "panel",
    "boat": "boat",
    "zone-patch": "rail",
    "zone-here": "accent-soft",
    "fitting": "fitting",
    "old-skin": "old-skin",
    "old-core": "old-core",
    "new-skin": "new-skin",
    "new-core": "new-core",
    "putty": "putty",
}


def ramp_of(name: str, theme: str) -> tuple[str, ...]:
    """The stops of a ramp: ``change`` or the damage ramp."""
    return (CHANGE if name == "change" else RAMP)[DIM.get(theme, theme)]


def ramp_colours(values: Floats, theme: str, name: str = "damage") -> NDArray[np.uint8]:
    """Colours (…, 3) in bytes of values 0 to 1 along a ramp; nan takes the paper's."""
    import numpy as np  # the start page does without it

    stops = np.array([[int(h[i : i + 2], 16) for i in (1, 3, 5)] for h in ramp_of(name, theme)], dtype=float)
    at = np.linspace(0, 1, len(stops))
    neutral = 0.5 if name == "change" else 0.0
    clipped = np.clip(np.where(np.isnan(values), neutral, values), 0, 1)
    return np.stack([np.interp(clipped, at, stops[:, i]) for i in range(3)], axis=-1).astype(np.uint8)

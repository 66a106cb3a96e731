"""Trade codes of fabrics: NNMM is NN oz/yd2 of stitched biaxial with MM tenths of an oz/ft2 of mat.

1708 is 17 oz/yd2 of biaxial and 0.8 oz/ft2 of mat; 1700 has no mat. How the biaxial lies is not in the number but in
the trade's custom: 12 and 17 are stitched at +-45 degrees, 18 and 24 at 0/90. A leading ``x`` says +-45. What was
assumed is in the name, and a fabric can be turned. Source: [3].
"""

from __future__ import annotations

import re
from typing import Literal

from ribpatch.core.errors import BadFabricCode
from ribpatch.core.materials.records import Fabric, Layer
from ribpatch.core.record import evolve
from ribpatch.core.units import FOOT, OUNCE, YARD

Lie = Literal["±45", "0/90"]
ANGLES: dict[Lie, tuple[float, float]] = {"±45": (45.0, -45.0), "0/90": (0.0, 90.0)}
CUSTOM: dict[int, Lie] = {12: "±45", 17: "±45", 18: "0/90", 24: "0/90"}
USUAL: Lie = "±45"  # for other weights: what a code without more words mostly means


def fabric_from_code(code: str, roll_width: float = 1.27) -> Fabric:
    """A fabric from its trade code; raises BadFabricCode. Roll width in m."""
    match = re.fullmatch(r"(x?)(\d{2})(\d{2})", code.strip().lower())
    if match is None or int(match[2]) == 0:
        raise BadFabricCode(code=code)
    ounces = int(match[2])
    lie: Lie = "±45" if match[1] else CUSTOM.get(ounces, USUAL)
    if match[1]:
        why = "x in its code says ±45"
    elif ounces in CUSTOM:
        why = f"{lie} is assumed: the trade's custom for {ounces} oz/yd²"
    else:
        why = f"{lie} is assumed: the code does not say, and there is no custom for {ounces} oz/yd²"
    mat = int(match[3]) / 10 * OUNCE / FOOT**2
    layers = (Layer(angle=0, weight=mat, kind="mat"),) if mat else ()
    name = f"{match[1]}{match[2]}{match[3]}"
    return _laid(name, lie, ounces * OUNCE / YARD**2, layers, roll_width, f"read from its trade code; {why}")


def _laid(name: str, lie: Lie, stitched: float, mat: tuple[Layer, ...], roll_width: float, reason: str) -> Fabric:
    layers = (*(Layer(angle=a, weight=stitched / 2, kind="stitched") for a in ANGLES[lie]), *mat)
    backing = f" + mat {mat[0].weight * 1000:.0f} g/m2" if mat else ""
    return Fabric(
        id=f"code-{name}",
        name=f"{name}: biaxial {lie} {stitched * 1000:.0f} g/m2{backing}",
        code=name.upper(),
        layers=layers,
        roll_width=roll_width,
        turn=90,
        reason=reason,
    )


def lie_of(fabric: Fabric) -> Lie | None:
    """How the biaxial of a fabric from a code lies; None where it is no such fabric."""
    angles = tuple(layer.angle for layer in fabric.layers if layer.kind == "stitched")
    return (
        next((lie for lie, known in ANGLES.items() if angles == known), None) if fabric.id.startswith("code-") else None
    )


def turned(fabric: Fabric) -> Fabric:
    """A fabric from a code with its biaxial the other way, under the same id; any other comes back as it is."""
    lie = lie_of(fabric)
    if lie is None:
        return fabric
    other: Lie = "0/90" if lie == "±45" else "±45"
    stitched = sum(layer.weight for layer in fabric.layers if layer.kind == "stitched")
    mat = tuple(layer for layer in fabric.layers if layer.kind == "mat")
    made = _laid(
        fabric.id.removeprefix("code-"),
        other,
        stitched,
        mat,
        fabric.roll_width,
        f"from its trade code; {other} as you said",
    )
    return evolve(made, code=fabric.code)

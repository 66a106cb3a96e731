"""Trade codes of fabrics: NNMM is NN oz/yd2 of stitched biaxial with MM tenths of an oz/ft2 of mat.

1708 is 17 oz/yd2 of biaxial and 0.8 oz/ft2 of mat; 1700 has no mat. A leading ``x`` means the biaxial lies at
+-45 degrees, which is how such cloth is commonly stitched.
Source: [3].
"""

from __future__ import annotations

import re

from ribpatch.core.errors import BadFabricCode
from ribpatch.core.materials.records import Fabric, Layer
from ribpatch.core.units import FOOT, OUNCE, YARD


def fabric_from_code(code: str, roll_width: float = 1.27) -> Fabric:
    """A fabric from its trade code; raises BadFabricCode. Roll width in m."""
    match = re.fullmatch(r"(x?)(\d{2})(\d{2})", code.strip().lower())
    if match is None or int(match[2]) == 0:
        raise BadFabricCode(code=code)
    stitched = int(match[2]) * OUNCE / YARD**2
    mat = int(match[3]) / 10 * OUNCE / FOOT**2
    angles = (45.0, -45.0) if match[1] else (0.0, 90.0)
    layers = tuple(Layer(angle=a, weight=stitched / 2, kind="stitched") for a in angles)
    if mat:
        layers += (Layer(angle=0, weight=mat, kind="mat"),)
    backing = f" + mat {mat * 1000:.0f} g/m2" if mat else ""
    return Fabric(
        id=f"code-{match[1]}{match[2]}{match[3]}",
        name=f"{match[1]}{match[2]}{match[3]}: biaxial {'±45' if match[1] else '0/90'} {stitched * 1000:.0f} g/m2{backing}",
        code=f"{match[1].upper()}{match[2]}{match[3]}",
        layers=layers,
        roll_width=roll_width,
        turn=90,
        reason="read from its trade code",
    )

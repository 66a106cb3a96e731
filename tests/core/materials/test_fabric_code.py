"""Trade codes of fabrics."""

import pytest

from ribpatch.core.errors import BadFabricCode
from ribpatch.core.materials.fabric_code import fabric_from_code


@pytest.mark.parametrize(
    ("code", "biaxial", "mat"),
    [("1708", 17, 0.8), ("1208", 12, 0.8), ("1700", 17, 0), ("2415", 24, 1.5), (" x1808 ", 18, 0.8)],
)
def test_codes(code, biaxial, mat):
    fabric = fabric_from_code(code)
    stitched = sum(layer.weight for layer in fabric.layers if layer.kind == "stitched")
    loose = sum(layer.weight for layer in fabric.layers if layer.kind == "mat")
    assert stitched == pytest.approx(biaxial * 0.03391, rel=1e-3)
    assert loose == pytest.approx(mat * 0.3052, rel=1e-3)
    assert {layer.angle for layer in fabric.layers if layer.kind == "stitched"} == (
        {45, -45} if "x" in code else {0, 90}
    )


@pytest.mark.parametrize("code", ["", "17", "170", "17o8", "0008", "17088", "-1708"])
def test_what_is_no_code_is_explained(code):
    with pytest.raises(BadFabricCode, match="NNMM"):
        fabric_from_code(code)

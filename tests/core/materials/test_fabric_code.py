"""Trade codes of fabrics."""

import pytest

from ribpatch.core.errors import BadFabricCode
from ribpatch.core.materials.fabric_code import fabric_from_code, lie_of, turned


@pytest.mark.parametrize(
    ("code", "biaxial", "mat", "lie"),
    [("1708", 17, 0.8, "±45"), ("1208", 12, 0.8, "±45"), ("1700", 17, 0, "±45"), ("2415", 24, 1.5, "0/90"), ("1808", 18, 0.8, "0/90"),
     (" x1808 ", 18, 0.8, "±45"), ("3210", 32, 1.0, "±45")],
)  # fmt: skip
def test_codes(code, biaxial, mat, lie):
    fabric = fabric_from_code(code)
    stitched = sum(layer.weight for layer in fabric.layers if layer.kind == "stitched")
    loose = sum(layer.weight for layer in fabric.layers if layer.kind == "mat")
    assert stitched == pytest.approx(biaxial * 0.03391, rel=1e-3)
    assert loose == pytest.approx(mat * 0.3052, rel=1e-3)
    assert {layer.angle for layer in fabric.layers if layer.kind == "stitched"} == (
        {45, -45} if lie == "±45" else {0, 90}
    )
    assert lie in fabric.name and lie in fabric.reason and lie_of(fabric) == lie
    other = turned(fabric)
    assert lie_of(other) != lie and turned(other).layers == fabric.layers
    assert (other.id, other.code, other.weight) == (fabric.id, fabric.code, pytest.approx(fabric.weight))


@pytest.mark.parametrize("code", ["", "17", "170", "17o8", "0008", "17088", "-1708"])
def test_what_is_no_code_is_explained(code):
    with pytest.raises(BadFabricCode, match="NNMM"):
        fabric_from_code(code)


def test_a_fabric_that_came_from_no_code_is_not_turned():
    from ribpatch.library.shelf import shipped_shelf

    fabric = shipped_shelf().fabric("biax-45-600")
    assert turned(fabric) is fabric and lie_of(fabric) is None

"""The failing load of one even layer under each load, against strength of materials on paper."""

import pytest

from ribpatch.core.laminate.elastic import Elastic
from ribpatch.core.laminate.layup import Layup, Sheet
from ribpatch.core.laminate.strength import LOADS, failures

E, NU, T = 12e9, 0.3, 0.004
G = E / (2 * (1 + NU))
TENSION, COMPRESSION, SHEAR = 0.010, 0.015, 0.018
LEAST = min(TENSION, COMPRESSION)
ON_PAPER = {
    "tension along": E * T * TENSION,
    "tension across": E * T * TENSION,
    "compression along": E * T * COMPRESSION,
    "compression across": E * T * COMPRESSION,
    "shear": G * T * SHEAR,
    # M = sigma t^2 / 6 at the outer face; the stretched face fails first where it bears less.
    "bending along, top stretched": E * T**2 / 6 * LEAST,
    "bending along, bottom stretched": E * T**2 / 6 * LEAST,
    "bending across, top stretched": E * T**2 / 6 * LEAST,
    "bending across, bottom stretched": E * T**2 / 6 * LEAST,
}


def even_layer():
    limits = (TENSION, COMPRESSION, TENSION, COMPRESSION, SHEAR)
    return Layup((Sheet(1, "mat", T, 0.0, Elastic(E, E, G, NU), limits),))


@pytest.mark.parametrize("load", LOADS)
def test_one_even_layer_fails_where_strength_of_materials_says(load):
    found = next(f for f in failures(even_layer()) if f.load == load)
    # Stretched along x it is squeezed across by Poisson's ratio: less than what it is stretched, so along decides.
    assert found.first == pytest.approx(ON_PAPER[load], rel=1e-9)
    assert found.breaks == pytest.approx(ON_PAPER[load], rel=1e-9) and found.ply == 1


def test_every_load_is_told_once():
    assert [f.load for f in failures(even_layer())] == list(LOADS) == list(ON_PAPER)

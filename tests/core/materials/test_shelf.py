"""The shelf: finding things, and the user's own over the shipped."""

import pytest

from ribpatch.core.errors import Fault, UnknownItem
from ribpatch.core.figure import Origin
from ribpatch.core.materials.records import Resin
from ribpatch.core.materials.shelf import merged
from ribpatch.core.record import evolve, read_as, reader


def test_unknown_things_name_the_nearest(shelf):
    with pytest.raises(UnknownItem, match="biax-45-600"):
        shelf.fabric("biax-45-60")


def test_own_items_replace_and_are_told_as_yours(shelf):
    mine = evolve(shelf.resin("vinylester"), name="my vinylester")
    both = merged(shelf, resins=(mine,))
    assert both.resin("vinylester").name == "my vinylester"
    assert both.origin("vinylester") is Origin.YOURS and shelf.origin("vinylester") is Origin.DEFAULT
    assert len(both.resins) == len(shelf.resins)


def test_every_default_has_a_reason(shelf):
    for items in (shelf.fibres, shelf.resins, shelf.cores, shelf.putties, shelf.rules, shelf.instruments, shelf.prices):
        assert all(item.reason for item in items)


def test_rules_lie_within_their_own_limits(shelf):
    assert all(rule.low <= rule.value <= rule.high for rule in shelf.rules)


def test_mix_by_volume_agrees_with_mix_by_mass(shelf):
    for resin in shelf.resins:
        (a, b), (va, vb) = resin.mass_parts, resin.volume_parts
        by_mass = (a / resin.resin_density) / (b / resin.hardener_density)
        assert va / vb == pytest.approx(by_mass, rel=5e-3), resin.id


def test_a_mix_ratio_of_zero_is_refused(shelf):
    row = reader(Resin).dump_python(shelf.resin("vinylester"))
    with pytest.raises(ValueError, match="zero makes no cured resin"):
        read_as(Resin, {**row, "mass_parts": (100, 0)})


def test_everything_on_the_shelf_has_a_price(shelf):
    priced = {p.id for p in shelf.prices}
    assert {f.id for f in shelf.fabrics} | {r.id for r in shelf.resins} | {c.id for c in shelf.cores} <= priced


def test_every_fabric_names_a_fibre_that_is_there(shelf):
    for fabric in shelf.fabrics:
        for layer in fabric.layers:
            assert shelf.fibre(layer.fibre).density > 1000


@pytest.mark.parametrize(
    ("find", "field", "low", "high"),
    [
        (lambda s: s.putty("silica"), "filler_volumes", 0, 10), (lambda s: s.putty("silica"), "density", 100, 3000),
        (lambda s: s.putty("silica"), "resin_share", 0, 1), (lambda s: s.putty("silica"), "filler_bulk", 1, 3000),
        (lambda s: s.putty("silica"), "filler_true", 10, 5000), (lambda s: s.fibre("e-glass"), "density", 500, 5000),
        (lambda s: s.fibre("e-glass"), "modulus", 1e6, 1e12), (lambda s: s.fibre("e-glass"), "tension", 0, 0.2),
        (lambda s: s.core("balsa-150"), "density", 20, 2000), (lambda s: s.core("balsa-150"), "temperature", 30, 300),
        (lambda s: s.core("balsa-150"), "shear_strength", 1e4, 1e9), (lambda s: s.resin("epoxy-5-1-slow"), "density", 800, 2000),
        (lambda s: s.resin("epoxy-5-1-slow"), "activation", 1e4, 2e5), (lambda s: s.resin("epoxy-5-1-slow"), "bond_shear", 1e5, 1e8),
    ],
)  # fmt: skip
def test_what_no_material_can_be_is_refused_just_outside_its_limits(shelf, find, field, low, high):
    record, little = find(shelf), 1e-6 * high
    for inside in (low + little, high - little):
        assert getattr(evolve(record, **{field: inside}), field) == inside
    for outside in (low - little, high + little, float("nan"), float("inf")):
        with pytest.raises(Fault):
            evolve(record, **{field: outside})

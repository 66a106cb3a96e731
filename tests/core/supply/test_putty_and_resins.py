"""Putty by the cup and the resins of the shelf: recipes that add up, times in the shed, numbers typed over."""

from __future__ import annotations

import pytest
from tests.bed import bed_job as demo_job

from ribpatch.core.errors import Fault
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve
from ribpatch.core.resin_table import FACTS, fact_text, in_shed, set_fact
from ribpatch.core.supply.putty_table import CUP, filler_in, putty_table
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()
JOB = demo_job()
BY_FIELD = {f.field: f for f in FACTS}


@pytest.mark.parametrize("putty", SHELF.putties, ids=lambda p: p.id)
def test_a_recipe_adds_up_from_the_densities_of_its_parts(putty) -> None:
    """A litre of resin of 1150 kg/m3 and so many litres of loose filler: masses and true volumes."""
    resin, filler = 1150.0, putty.filler_volumes * putty.filler_bulk
    assert putty.resin_share == pytest.approx(resin / (resin + filler), abs=0.01)
    assert putty.density == pytest.approx((resin + filler) / (1 + filler / putty.filler_true), rel=0.02)
    assert filler_in(1.0, putty) == pytest.approx(filler / resin, rel=0.06)
    assert putty.purpose and putty.sands and putty.lift and putty.reason
    assert SHELF.price(f"filler.{putty.id}") is not None


def test_the_table_has_every_recipe_with_what_the_job_takes() -> None:
    made = plan(JOB, SHELF)
    table = putty_table((z.needs for z in made.zones), SHELF, "metric")
    assert [r.key for r in table.rows] == [p.id for p in SHELF.putties]
    chosen = {r.key for r in table.rows if r.mark == "chosen"}
    assert chosen == {u.recipe.id for z in made.zones for u in z.needs.putties}
    light = next(r for r in table.rows if r.key == "light")
    assert light.cells[3] == f"{1000 * filler_in(CUP, SHELF.putty('light')):.0f} g" and light.why.endswith(
        "Does not carry."
    )
    assert (
        "oz" in putty_table((), SHELF, "us").rows[0].cells[3] or "lb" in putty_table((), SHELF, "us").rows[0].cells[3]
    )


@pytest.mark.parametrize("resin", SHELF.resins, ids=lambda r: r.id)
def test_times_of_a_resin_come_in_their_order(resin) -> None:
    assert resin.pot_life < resin.gel <= resin.green_from < resin.green_to <= resin.recoat
    assert resin.gel < resin.unclamp and resin.gel < resin.sandable < resin.service and resin.unclamp < resin.service
    assert resin.inhibited == (resin.family != "epoxy")
    assert all(fact_text(resin, fact, "metric") for fact in FACTS)


def test_a_shed_stretches_times_as_the_design_says() -> None:
    """Factors of 55 kJ/mol: 2.16 at 15 and 0.69 at 30 degC."""
    resin = evolve(SHELF.resin("epoxy-1-1"), activation=55_000.0)
    assert "takes 2.16 times as long" in in_shed(resin, 15.0, "metric") and "takes 0.69 times" in in_shed(
        resin, 30.0, "metric"
    )
    assert f"gel after {3.5 * 2.16:.1f} h" in in_shed(resin, 15.0, "metric") and "blushes" in in_shed(
        resin, 15.0, "metric"
    )
    cold = in_shed(resin, 5.0, "metric")
    assert "nothing is foretold" in cold and "12.0 °C" in cold
    assert "Air keeps its face tacky" in in_shed(SHELF.resin("vinylester"), 20.0, "us")
    bare = evolve(resin, gel=None, green_from=None, sandable=None)
    assert "gel after" not in in_shed(bare, 20.0, "metric") and fact_text(bare, BY_FIELD["gel"], "metric") == ""


def test_a_number_is_typed_over_emptied_and_refused() -> None:
    resin = SHELF.resin("epoxy-5-1-slow")
    job = set_fact(resin, BY_FIELD["gel"], "2.5 h", "metric").change(JOB)
    made = plan(job, SHELF)
    assert made.shelf.resin(resin.id).gel == 9000 and made.shelf.resin(resin.id).reason == "set for this job"
    assert set_fact(resin, BY_FIELD["recoat"], " ", "metric").change(JOB).own.resins[0].recoat is None
    cups = plan(set_fact(resin, BY_FIELD["pot_life"], "50 min", "metric").change(JOB), SHELF).zone("z1").needs.cups
    assert cups.working > plan(JOB, SHELF).zone("z1").needs.cups.working
    warm = set_fact(resin, BY_FIELD["least_temperature"], "64 F", "us").change(JOB)
    assert any("colder" in n.text for n in plan(warm, SHELF).notices_of("z1"))
    for field, text, words in (("gel", "soon", "soon"), ("gel", "-1 h", "gel"), ("pot_life", "", "must be known")):
        with pytest.raises(Fault, match=words):
            set_fact(resin, BY_FIELD[field], text, "metric")


def test_another_number_of_a_polyester_leaves_its_catalyst_to_the_shed() -> None:
    iso = SHELF.resin("polyester-iso")
    job = set_fact(iso, BY_FIELD["gel"], "1 h", "metric").change(JOB)
    zone = evolve(
        JOB.zone("z1"),
        scheme=evolve(JOB.zone("z1").scheme, resin=evolve(JOB.zone("z1").scheme.resin, main="polyester-iso")),
    )
    made = plan(evolve(job, zones=(zone,)), SHELF).zone("z1").needs.resin
    assert made.mass_parts[1] == pytest.approx(1.71) and made.gel == 3600

"""Several resins in one scheme: which use goes to which, cups of each, catalyst by temperature, how they go together."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.bed import bed_job as demo_job

from ribpatch.core.edits import set_mix, set_value
from ribpatch.core.errors import Fault
from ribpatch.core.mixing import mixing_words, several_resins
from ribpatch.core.patch.bonding.protocol import bond_plan, coupon_test
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve
from ribpatch.core.resin.catalyst import as_mixed, share_at
from ribpatch.core.scheme import ResinChoice, ResinFrom
from ribpatch.core.scheme_edits import set_resin_from
from ribpatch.core.units import Measure
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()
JOB = demo_job()


def with_resins(main="vinylester", changes=((2, "polyester-iso"),), **more):
    """The demo's foredeck laid with several resins."""
    job = JOB
    for name, wanted in {"main": main, **more}.items():
        job = set_value(("zones", "z1", "scheme", "resin", name), wanted).change(job)
    for ply, resin in changes:
        job = set_resin_from("z1", ply, resin).change(job)
    return plan(job, SHELF)


def uses(made, number):
    return {u.key for u in made.zone("z1").needs.batches[number - 1].uses}


def test_every_use_goes_to_its_resin_and_none_is_lost() -> None:
    made = with_resins(bedding="epoxy-5-1-slow", later="epoxy-3-1-medium")
    needs = made.zone("z1").needs
    assert [b.resin.id for b in needs.batches] == ["vinylester", "polyester-iso", "epoxy-5-1-slow", "epoxy-3-1-medium"]
    assert uses(made, 1) == {"plies", "prime"} and uses(made, 2) == {"plies.2", "peel"}
    assert uses(made, 3) == {"core-faces", "prime.bed", "putty"} and uses(made, 4) == {"fairing"}
    one = plan(set_value(("zones", "z1", "scheme", "resin", "main"), "vinylester").change(JOB), SHELF).zone("z1").needs
    assert len(one.batches) == 1 and needs.resin_net == pytest.approx(one.resin_net)
    names = {u.name for u in needs.uses}
    assert {"resin in ply 1", "resin in plies 2 to 6"} <= names
    assert made.zone("z1").figure("resin.net").value == pytest.approx(sum(u.mass for u in needs.uses))


def test_each_batch_has_its_own_cups_figures_and_line_of_the_order() -> None:
    made = with_resins()
    zone = made.zone("z1")
    for number, batch in enumerate(zone.needs.batches, 1):
        prefix = "" if number == 1 else f"batch.{number}."
        assert zone.figure(f"{prefix}laid").value == pytest.approx(sum(u.mass for u in batch.uses))
        total = zone.figure(f"{prefix}mixed").value
        assert total == batch.cups.total > zone.figure(f"{prefix}laid").value
        parts = [zone.figure(f"{prefix}mix.{p}.mass").value for p in ("resin", "hardener")]
        assert sum(parts) == pytest.approx(total)
        assert parts[1] / parts[0] == pytest.approx(batch.resin.mass_parts[1] / batch.resin.mass_parts[0])
        each = zone.figure(f"{prefix}cup.each").value
        assert each * zone.figure(f"{prefix}cup.count").value == pytest.approx(total)
        item = next(i for i in made.items if i.id == batch.resin.id)
        assert item.amount >= total - 1e-9
    assert zone.figure("resin.mixed").value == pytest.approx(sum(b.cups.total for b in zone.needs.batches))
    cups = sum(b.cups.count for z in made.zones for b in z.needs.batches)
    assert next(i for i in made.items if i.id == "cup").amount == cups == made.figure("job.cup.all").value
    assert (
        zone.figure("cup.all").value == sum(b.cups.count for b in zone.needs.batches) > zone.figure("cup.count").value
    )
    assert "those of isophthalic polyester stand under Cups" in several_resins(zone)
    assert several_resins(made.zone("z2")) == ""


def test_a_change_beyond_the_last_ply_lays_nothing_with_it() -> None:
    made = with_resins(changes=((40, "polyester-iso"),))
    assert [b.resin.id for b in made.zone("z1").needs.batches] == ["vinylester", "polyester-iso"]
    assert uses(made, 2) == {"fairing"}, "what fairs follows the last resin that is stated"
    assert not any(
        i.key.startswith("change") for i in bond_plan(made.zone("z1").zone, made.zone("z1").patch, 1998, SHELF)
    )


def test_what_goes_over_what_is_judged_and_a_bad_pair_warns() -> None:
    made = with_resins(bedding="epoxy-5-1-slow", changes=((2, "polyester-iso"), (4, "epoxy-5-1-slow")))
    rows = {i.key: i for i in bond_plan(made.zone("z1").zone, made.zone("z1").patch, 1998, SHELF)}
    assert rows["bedding"].suits.verdict == "no" and rows["change.2"].suits.verdict == "with care"
    assert rows["change.4"].suits.verdict == "good" and rows["finish"].suits.verdict == "with care"
    assert "from ply 4" in rows["change.4"].name and rows["bed"].suits.verdict == "good"
    assert any("beds and fillets" in n.text for n in made.notices)
    assert coupon_test(made.zone("z1").zone, SHELF) and not coupon_test(JOB.zone("z1"), SHELF)


@given(st.floats(-30, 60))
@settings(max_examples=60, deadline=None)
def test_catalyst_follows_the_shed_within_its_limits(temperature: float) -> None:
    share = share_at(temperature, SHELF)
    assert 0.01 <= share <= 0.025 and share_at(temperature + 1, SHELF) <= share
    stated = SHELF.resin("polyester-iso")
    mixed = as_mixed(stated, temperature, SHELF)
    assert mixed.mass_parts[1] / mixed.mass_parts[0] == pytest.approx(share)
    assert mixed.pot_life * share == pytest.approx(stated.pot_life * 0.015), "as much later as there is less"
    volume = share * 1100 / 1180
    assert mixed.volume_parts[1] / mixed.volume_parts[0] == pytest.approx(volume)


def test_catalyst_by_hand_and_what_keeps_its_mix() -> None:
    assert share_at(20, SHELF) == 0.015 and share_at(10, SHELF) == pytest.approx(0.021) and share_at(40, SHELF) == 0.01
    epoxy = SHELF.resin("epoxy-5-1-slow")
    assert as_mixed(epoxy, 10, SHELF) is epoxy
    made = with_resins(changes=())
    own = set_mix(SHELF.resin("vinylester"), 100, 1.2).change(made.job)
    assert plan(own, SHELF).zone("z1").needs.resin.mass_parts == (100, 1.2), "a mix that the user set stays"


def test_catalyst_is_said_in_millilitres_and_drops() -> None:
    made = with_resins(changes=())
    zone = made.zone("z1")
    words = mixing_words(zone, "metric")[0]
    cups, share = zone.needs.cups, share_at(16.5, SHELF)
    ml = cups.each * share / (1 + share) / 1180 * 1e6
    assert (
        words
        == f"Catalyst for vinylester at 16.5 °C: 1.7 % by mass, {ml:.1f} ml or about {ml / 0.04:.0f} drops to a cup."
    )
    note = next(i.note for i in made.items if i.id == "vinylester")
    assert note.endswith("L)") and " and " in note
    assert not any("Catalyst" in w for w in mixing_words(plan(JOB, SHELF).zone("z1"), "metric"))


def test_changes_are_put_in_order_replaced_and_taken_back() -> None:
    job = set_resin_from("z1", 4, "epoxy-1-1").change(JOB)
    job = set_resin_from("z1", 2, "polyester-iso").change(job)
    job = set_resin_from("z1", 4, "vinylester").change(job)
    choice = job.zone("z1").scheme.resin
    assert [(s.ply, s.resin) for s in choice.sittings] == [(2, "polyester-iso"), (4, "vinylester")]
    assert [choice.of_ply(n) for n in (1, 2, 3, 4, 9)] == [
        choice.main,
        "polyester-iso",
        "polyester-iso",
        "vinylester",
        "vinylester",
    ]
    assert len(set_resin_from("z1", 2, None).change(job).zone("z1").scheme.resin.sittings) == 1
    with pytest.raises(Fault, match="nowhere"):
        plan(set_resin_from("z1", 2, "nowhere").change(JOB), SHELF)
    with pytest.raises(ValueError, match="in order"):
        ResinChoice(sittings=(ResinFrom(ply=4, resin="a"), ResinFrom(ply=2, resin="b")))


def test_a_cold_shed_is_told_for_each_resin_that_it_is_too_cold_for() -> None:
    made = with_resins(main="epoxy-5-1-fast", changes=((3, "epoxy-5-1-slow"),))
    cold = plan(evolve(made.job, air=evolve(made.job.air, temperature=Measure(si=10.0))), SHELF)
    told = [n.text for n in cold.notices_of("z1") if "colder" in n.text]
    assert len(told) == 1 and "slow hardener" in told[0]

"""States told apart by place, states that exclude each other, evidence by how much there is of it, and the sentences."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.core.diagnosis.test_zone import make, with_readings

from ribpatch.core.diagnosis.by_place import placed_states, told_apart
from ribpatch.core.diagnosis.diagnose import diagnose
from ribpatch.core.diagnosis.network import marginals, network_of, posterior
from ribpatch.core.diagnosis.words import summary
from ribpatch.core.diagnosis.zone import diagnosis_of, possible_causes, said_in, summary_of
from ribpatch.core.job import Edge, Fitting
from ribpatch.core.materials.cause_records import CauseCard, FindingCard, Shows
from ribpatch.core.record import evolve
from ribpatch.core.units import Measure
from ribpatch.core.zone_axes import AXES
from ribpatch.library.shelf import shipped_shelf

SHELF = shipped_shelf()
DECK = possible_causes("deck panel", "wood", SHELF)
PLATE = ((0.0, 0.0), (2.4, 0.0), (2.4, 0.8), (0.0, 0.8))


def cluster(kind, x, y, **facts):
    steps = ((0, 0), (0.1, 0), (-0.1, 0), (0, 0.1), (0, -0.1), (0.1, 0.1))
    return [make(kind, x + dx, y + dy, **facts) for dx, dy in steps]


def deck(job, *rows, fittings=(), edges=(), kind="deck panel"):
    zone = evolve(job.zones[0], kind=kind, outline=PLATE, fittings=fittings, edges=edges)
    ring = [make("tap", x, y, grade="ring") for x in np.arange(0.05, 2.4, 0.15).tolist() for y in (0.05, 0.75)]
    return with_readings(zone, *rows, *ring)


def rotted_and_wet(job, **more):
    rotted = cluster("tap", 0.5, 0.4, grade="crunch") + cluster(
        "plug", 0.5, 0.42, water="wet", core="soft", bond="torn"
    )
    return deck(job, *rotted, *cluster("plug", 1.7, 0.4, water="wet", core="firm", bond="whole"), **more)


def bollard(x=0.5, y=0.4):
    return Fitting(
        id="b", name="bollard", x=x, y=y, width=Measure(si=0.12), height=Measure(si=0.0), sealed=False, holes=4
    )


def test_rotted_at_one_place_and_wet_at_another_is_told_so(job):
    zone = rotted_and_wet(job, fittings=(bollard(),))
    placed = {p.state: p for p in placed_states(zone, SHELF)}
    assert set(placed) == {"rotted-core", "wet-core"} and told_apart(zone, SHELF)
    assert placed["rotted-core"].words == "round bollard" and placed["wet-core"].words == "forward of it"
    assert placed["rotted-core"].at == pytest.approx((0.5, 0.4), abs=0.06)
    assert placed["wet-core"].at == pytest.approx((1.7, 0.4), abs=0.06)
    made = diagnosis_of(zone, SHELF)
    assert made.chance("rotted-core") > 0.9 and made.chance("wet-core") > 0.7, "both can be, each at its place"
    words = summary_of(zone, SHELF)
    assert "otted wood core round bollard" in words and "wet but sound core forward of it" in words


def test_a_place_is_named_after_an_edge_or_by_the_way_from_the_other(job):
    fore = Edge(side=1, name="coaming")
    along = {p.state: p.words for p in placed_states(rotted_and_wet(job, edges=(fore,)), SHELF)}
    assert along["wet-core"] == "forward of it" and along["rotted-core"] == ""
    near = evolve(
        rotted_and_wet(job), edges=(Edge(side=0, name="toe rail"),), outline=tuple((x, y + 0.32) for x, y in PLATE)
    )
    assert {p.words for p in placed_states(near, SHELF)} == {"along toe rail", "along toe rail, forward of it"}


def test_in_a_zone_of_one_kind_of_damage_wet_and_rotted_exclude_each_other(job):
    zone = deck(job, *cluster("plug", 1.2, 0.4, water="wet", core="soft", bond="torn"))
    assert [p.state for p in placed_states(zone, SHELF)] == ["rotted-core"] and not told_apart(zone, SHELF)
    made = diagnosis_of(zone, SHELF)
    assert made.chance("rotted-core") > 0.95 and made.chance("wet-core") < 0.05
    assert "wet but sound" not in summary_of(zone, SHELF)


@given(st.lists(st.sampled_from([True, False, None]), min_size=10, max_size=10), st.booleans())
@settings(max_examples=25, deadline=None)
def test_states_that_exclude_each_other_never_add_to_more_than_one(answers, by_place):
    names = ("moisture-high", "plug-wet", "plug-soft", "taps-dull", "smell-musty", "brown-water", "metal-behind",
             "high-alone", "not-drying", "fitting-unsealed")  # fmt: skip
    said = {n: a for n, a in zip(names, answers, strict=True) if a is not None}
    apart = (("wet-core", 0.9), ("rotted-core", 0.8)) if by_place else ()
    made = diagnose(DECK, SHELF.findings, said, apart)
    together = sum(made.chance(c) for c in ("wet-core", "rotted-core", "false-high"))
    assert apart or together <= 1 + 1e-9
    assert 0 <= made.sound <= 1 - made.chance("rotted-core") + 1e-9


def test_what_a_state_yields_to_takes_its_place_and_both_keep_their_priors():
    """Two states and one finding, by hand: no combination with both."""
    shows = (Shows(finding="f", p=0.8, reason="r"),)
    card = {"kind": "state", "reason": "r", "means": "m", "shows": shows}
    first = CauseCard(id="a", name="a", prior=0.3, **card)
    second = CauseCard(id="b", name="b", prior=0.2, yields=("a",), **card)
    finding = FindingCard(id="f", name="f", ask="?", cost="minute", leak=0.1, reason="r")
    network = network_of((second, first), (finding,))
    assert dict(zip([c.id for c in network.causes], marginals(network, network.prior), strict=True)) == pytest.approx(
        {"a": 0.3, "b": 0.2}
    )
    yes = 1 - 0.9 * 0.2
    total = 0.5 * 0.1 + 0.5 * yes
    found = dict(zip([c.id for c in network.causes], marginals(network, posterior(network, {"f": True})), strict=True))
    assert found == pytest.approx({"a": 0.3 * yes / total, "b": 0.2 * yes / total})
    half = marginals(network, posterior(network, {"f": 0.5}))
    assert half == pytest.approx(marginals(network, network.prior)), "even odds of a finding say nothing"


def test_the_more_readings_say_so_the_surer_a_finding_is_and_its_cause(job):
    chances, sures = [], []
    for count in (2, 5, 16):
        rows = [make("tap", 1.0 + 0.06 * (n % 4), 0.3 + 0.06 * (n // 4), grade="dull") for n in range(count)]
        zone = deck(job, *rows)
        found = {s.finding: s for s in said_in(zone, SHELF)}["taps-dull"]
        sures.append(found.sure)
        chances.append(sum(diagnosis_of(zone, SHELF).chance(c) for c in ("rotted-core", "wet-core")))
    doubt = SHELF.rule("finding.doubt")
    assert sures == pytest.approx([1 - doubt / n for n in (2, 5, 16)]) and sorted(chances) == chances
    assert chances[-1] > chances[0] + 0.02


@pytest.mark.parametrize(
    ("rows", "finding", "there", "shared"),
    [
        ([make("plug", water="wet", core="soft", bond="torn")], "plug-soft", True, 10),
        ([make("plug", 0.1 * n, water="wet", core="firm", bond="whole") for n in (3, 5, 7)], "plug-soft", False, 30),
        ([make("weep", grade="brown")], "brown-water", True, 2),
        ([make("weep", 0.2 * n, grade="dry") for n in (1, 2, 3)], "weeps", False, 3),
        ([make("sketch", grade="star", points=((0.5, 0.3),))] * 2, "crack-star", True, 4),
        ([make("pin", 0.2 * n, value=28.0) for n in (1, 2, 3)], "wood-wet", True, 4),
        ([make("pin", 0.2 * n, value=12.0) for n in (1, 2, 3)], "wood-wet", False, 3),
        ([make("tap", 0.05 + 0.1 * (n % 12), 0.1 + 0.2 * (n // 12), grade="ring") for n in range(36)], "taps-dull", False, 36 / 10 + 1),
    ],
)  # fmt: skip
def test_a_findings_doubt_is_shared_out_among_what_makes_it(job, rows, finding, there, shared):
    assert SHELF.rule("finding.taps") == 10
    zone = with_readings(evolve(job.zones[0], outline=PLATE, fittings=(), edges=()), *rows)
    found = {s.finding: s for s in said_in(zone, SHELF)}[finding]
    assert found.there is there and found.sure == pytest.approx(1 - SHELF.rule("finding.doubt") / shared)


def test_the_bands_are_those_of_shaking_the_whole_network(monkeypatch):
    """Against the same shakes over every combination, without leaving any out."""
    said = {"moisture-high": 0.9, "taps-dull": 1.0, "fitting-unsealed": 1.0, "weeps": 0.0}
    made = diagnose(DECK, SHELF.findings, said)
    held, prior = made._combinations
    assert held.shape[0] < len(made.weight) / 4 and prior.shape == held.shape[:1]
    every = np.arange(len(made.weight))[:, None] >> np.arange(len(made.network.causes)) & 1
    whole = type(made)(made.network, made.said)
    whole.__dict__["_combinations"] = (every.astype(float), made.network.prior)
    assert made._shaken(np.random.default_rng(5)) == pytest.approx(whole._shaken(np.random.default_rng(5)), abs=0.01)
    monkeypatch.setattr("ribpatch.core.diagnosis.diagnose.SHAKE", 0.0)
    assert made._shaken(np.random.default_rng(5)) == pytest.approx(made.chances, abs=0.002), "unshaken, the chances"
    assert made.weight[(every == held[:1]).all(axis=1)] == made.weight.max(), "the likeliest combination first"


def test_one_high_reading_among_many_is_no_finding_and_all_of_them_are(job):
    dry = [make("moisture", 0.1 + 0.2 * (n % 11), 0.15 + 0.1 * (n // 11), value=12 + n % 3) for n in range(60)]
    one = deck(job, *dry[:-1], make("moisture", 1.2, 0.45, value=80))
    one = evolve(one, survey=evolve(one.survey, references=("r0", "r1", "r2")))
    assert not any(s.finding == "moisture-high" and s.there for s in said_in(one, SHELF))


def test_high_readings_that_nothing_bears_out_are_a_false_high(job):
    """A tank behind: the meter reads high over a stretch where dense taps ring and a plug is dry."""
    high = [make("moisture", 1.0 + 0.08 * (n % 4), 0.3 + 0.08 * (n // 4), value=70) for n in range(12)]
    taps = [make("tap", 0.9 + 0.06 * (n % 9), 0.22 + 0.06 * (n // 9), grade="ring") for n in range(63)]
    plugs = [make("plug", x, 0.42, water="dry", core="firm", bond="whole") for x in (1.05, 1.18)]
    dry = [make("moisture", 0.2 + 0.05 * n, 0.4, value=12) for n in range(4)]
    zone = deck(job, *dry, *high, *taps, *plugs)
    zone = evolve(zone, survey=evolve(zone.survey, references=("r0", "r1", "r2", "r3")))
    found = {s.finding: s for s in said_in(zone, SHELF)}
    assert found["high-alone"].there and not found.get("moisture-high", found["taps-dull"]).there
    top = diagnosis_of(zone, SHELF).ranked[0]
    assert top.cause.id == "false-high"
    made = diagnose(
        DECK, SHELF.findings, {"high-alone": True, "metal-behind": True, "taps-dull": False, "plug-wet": False}
    )
    words = summary(made)
    assert words.startswith("False high of the meter") and "sound" in words and "still open" not in words


def test_no_sentence_tells_a_cause_that_nothing_speaks_for():
    for said in ({"crack-star": False}, {"blow": False, "oily": False}, {"taps-dull": False}):
        assert "because" not in summary(diagnose(DECK, SHELF.findings, said))
    sound = diagnose(
        DECK, SHELF.findings, dict.fromkeys(("moisture-high", "taps-dull", "taps-drummy", "plug-wet"), False)
    )
    assert summary(sound).startswith("Nothing found speaks of damage: sound") and sound.sound > 0.5
    assert "sound (" not in summary(sound, damaged=True)
    for row in sound.ranked:
        assert not row.raised


def test_two_states_that_exclude_each_other_and_cannot_be_told_apart_are_told_as_one_or_the_other():
    words = summary(diagnose(DECK, SHELF.findings, {"moisture-high": True, "not-drying": True, "wet-at-fitting": True}))
    assert words.lower().startswith(
        ("rotted wood core or wet but sound core (", "wet but sound core or rotted wood core (")
    )
    assert "one of them), because of water in through fasteners" in words
    soft = summary(diagnose(DECK, SHELF.findings, {"plug-soft": True, "moisture-high": True}))
    assert soft.startswith("Rotted wood core (") and " or " not in soft


def test_a_cause_that_is_told_shows_what_speaks_for_it():
    said = {
        "moisture-high": 0.97,
        "not-drying": 0.95,
        "wet-at-fitting": 0.9,
        "fitting-unsealed": 0.98,
        "skin-thin": 0.02,
    }
    made = diagnose(DECK, SHELF.findings, said)
    for row in made.ranked:
        if row.chance > 1.2 * row.cause.prior:
            assert row.for_it, row.cause.id


def test_only_causes_with_evidence_are_argued_and_all_where_nothing_was_found():
    made = diagnose(DECK, SHELF.findings, {"plug-soft": True, "fitting-unsealed": True})
    argued = {r.cause.id for r in made.argued}
    assert {"rotted-core", "fastener-ingress"} <= argued and "crazing" not in argued
    assert all(r.evidence for r in made.argued)
    assert diagnose(DECK, SHELF.findings, {}).argued == diagnose(DECK, SHELF.findings, {}).ranked


def test_a_sole_is_a_zone_of_its_own(job):
    assert AXES["sole"] == AXES["deck panel"]
    names = {c.id for c in possible_causes("sole", "wood", SHELF)}
    assert {"fastener-ingress", "leaking-cap", "rotted-core", "loose-foam"} <= names and "split-joint" not in names
    zone = evolve(rotted_and_wet(job, kind="sole"), name="cockpit sole")
    assert "otted wood core" in summary_of(zone, SHELF)

"""The network against plain enumeration, one combination at a time, for any small set of causes and findings."""

import math
from itertools import product

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from ribpatch.core.diagnosis.network import check_data, marginals, network_of, posterior, products
from ribpatch.core.errors import InvalidValue, UnknownItem
from ribpatch.core.materials.cause_records import CauseCard, FindingCard, Leads, Shows
from ribpatch.core.record import as_json, evolve
from ribpatch.library.shelf import shipped_shelf, user_shelf

SHELF = shipped_shelf()
odds = st.floats(0.02, 0.9)


@st.composite
def networks(draw):
    """Up to three origins and two states with random links; the states' priors leave room for what leads to them."""
    findings = tuple(
        FindingCard(id=f"f{n}", name=f"f{n}", ask="?", cost="minute", leak=draw(st.floats(0.01, 0.4)), reason="r")
        for n in range(draw(st.integers(1, 4)))
    )
    states = [f"s{n}" for n in range(draw(st.integers(0, 2)))]

    def card(identity, kind, leads, prior):
        shows = tuple(Shows(finding=f.id, p=draw(odds), reason="r") for f in findings if draw(st.booleans()))
        return CauseCard(
            id=identity, name=identity, kind=kind, prior=prior, reason="r", means="m", shows=shows, leads=leads
        )

    origins = []
    for n in range(draw(st.integers(1, 3))):
        leads = tuple(Leads(cause=s, p=draw(st.floats(0.05, 0.5)), reason="r") for s in states if draw(st.booleans()))
        origins.append(card(f"o{n}", "origin", leads, draw(st.floats(0.05, 0.4))))
    return (*origins, *(card(s, "state", (), draw(st.floats(0.6, 0.9))) for s in states)), findings


def slowly(causes, findings, said):
    """Chance of each cause by summing over every combination, as it is written down."""
    origins = [c for c in causes if c.kind == "origin"]
    total = dict.fromkeys((c.id for c in causes), 0.0)
    everything = 0.0
    for held in product((0, 1), repeat=len(causes)):
        holds = dict(zip((c.id for c in causes), held, strict=True))
        weight = 1.0
        for c in causes:
            if c.kind == "origin":
                weight *= c.prior if holds[c.id] else 1 - c.prior
                continue
            led = [(o, lead.p) for o in origins for lead in o.leads if lead.cause == c.id]
            free = 1.0
            for o, p in led:
                free *= 1 - o.prior * p
            none = (1 - c.prior) / free
            for o, p in led:
                none *= (1 - p) if holds[o.id] else 1
            weight *= 1 - none if holds[c.id] else none
        for f in findings:
            if f.id in said:
                none = 1 - f.leak
                for c in causes:
                    for shows in c.shows:
                        none *= (1 - shows.p) if holds[c.id] and shows.finding == f.id else 1
                weight *= 1 - none if said[f.id] else none
        everything += weight
        for c in causes:
            total[c.id] += weight * holds[c.id]
    return [total[c.id] / everything for c in causes]


@given(networks(), st.lists(st.sampled_from([True, False, None]), min_size=4, max_size=4))
@settings(max_examples=60)
def test_any_small_network_agrees_with_plain_enumeration(made, answers):
    causes, findings = made
    said = {f.id: a for f, a in zip(findings, answers, strict=False) if a is not None}
    network = network_of(causes, findings)
    assert marginals(network, posterior(network, said)) == pytest.approx(slowly(causes, findings, said), abs=1e-9)


@given(st.lists(st.floats(0, 5), min_size=1, max_size=8))
def test_products_over_combinations_are_those_of_the_bits(values):
    total = products(np.array(values))
    for number in (0, 1, len(total) // 2, len(total) - 1):
        bits = [v for k, v in enumerate(values) if number >> k & 1]
        assert total[number] == pytest.approx(math.prod(bits), abs=1e-9)


def test_a_finding_that_is_not_there_is_named_with_its_cause():
    causes = (evolve(SHELF.causes[0], shows=(Shows(finding="bong", p=0.5, reason="r"),)),)
    with pytest.raises(UnknownItem, match=f"{SHELF.causes[0].name}.*bong"):
        check_data(causes, SHELF.findings)


def test_own_causes_that_do_not_fit_are_left_out_whole_and_told(tmp_path):
    good = evolve(SHELF.causes[0], prior=0.3, reason="our yard sees more of it")
    bad = evolve(SHELF.causes[1], shows=(Shows(finding="bong", p=0.5, reason="r"),))

    def write(*cards):
        rows = ",".join(as_json(c).decode() for c in cards)
        (tmp_path / "causes.json").write_text(f'{{"version": 1, "items": [{rows}]}}')

    write(good)
    shelf, faults = user_shelf(tmp_path)
    assert not faults and shelf.causes[0].prior == 0.3 and len(shelf.causes) == len(SHELF.causes)
    write(good, bad)
    shelf, faults = user_shelf(tmp_path)
    assert "bong" in faults[0].sentence and shelf.causes == SHELF.causes
    write(evolve(good, prior=0.95))  # so common that it alone brings more wet cores about than there are
    shelf, faults = user_shelf(tmp_path)
    assert isinstance(faults[0], InvalidValue) and shelf.causes == SHELF.causes

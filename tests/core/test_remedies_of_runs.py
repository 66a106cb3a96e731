"""What carries a run besides like for like: laid beside each other, asked back, begun as a scheme."""

import pytest
from tests.bed import bed_job as demo_job

from ribpatch.core.compare import _hours
from ribpatch.core.figure import FigureBook
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve
from ribpatch.core.remedies import NAMES, ask_back, remedies_of, remedy_table, worked
from ribpatch.core.table import Row
from ribpatch.core.units import usual
from ribpatch.library.shelf import shipped_shelf

JOB, SHELF = demo_job(), shipped_shelf()
MADE = plan(JOB, SHELF).zone("z3")


def cell(row: Row, n: int) -> float:
    return row.cells[n].value


def test_a_beam_on_posts_and_a_strip_stand_beside_like_for_like():
    table = remedy_table(MADE, "metric")
    rows = {row.key: row for row in table.rows}
    assert list(rows) == ["now", "plies", "sister", "post"] and set(rows) <= {"now", *NAMES}
    assert rows["now"].mark == "chosen"
    for key in ("plies", "sister", "post"):
        assert cell(rows[key], 1) < cell(rows["now"], 1), "each of them stiffens"
        assert cell(rows[key], 2) > cell(rows["now"], 2) or "beam on posts" in rows[key].why
    made = next(r.made for r in remedies_of(MADE, "metric") if r.key == "post")
    named = []
    for m in (MADE, made):
        _hours(book := FigureBook("x"), m, SHELF)
        named.append([g.name for g in book.figures[0].inputs])
    assert "hours to fit a beam on posts" in named[1] and "hours to fit a beam on posts" not in named[0]
    strains = [next(c.margin for c in m.strength.run.checks_in("repaired") if c.key == "strain") for m in (MADE, made)]
    assert strains[1] > strains[0]
    kilos = 1.5 * 0.8 * 0.045 * 0.145 * 520
    assert cell(rows["post"], 3) == pytest.approx(kilos) and cell(rows["post"], 4) == pytest.approx(2.4 * kilos)
    assert cell(rows["post"], 5) == pytest.approx(3 * 3600)
    assert cell(rows["sister"], 3) > 0 and cell(rows["sister"], 5) > 0


def test_a_strip_is_laid_as_parts_of_its_own_as_often_as_it_is_thick():
    scheme = next(r.scheme for r in remedies_of(MADE, "metric") if r.key == "sister")
    (part,) = [p for p in scheme.parts if p.id == "strip"]
    run = MADE.strength.run
    assert part.length.si == pytest.approx(run.span, abs=1e-4) and part.count == 1
    assert scheme.support.sister.si == pytest.approx(MADE.patch.stack.thickness, abs=1e-6)
    twice = worked(MADE, evolve(scheme, support=evolve(scheme.support, post=1.0)))
    assert twice.strength.run.states[-1] == "repaired" and not twice.strength.fault


def test_the_reverse_question_finds_the_softest_beam_that_is_enough():
    heavy = evolve(JOB.zone("z3").proof.run, mass=evolve(JOB.zone("z3").proof.run.mass, si=1500.0))
    zone = evolve(JOB.zone("z3"), proof=evolve(JOB.zone("z3").proof, run=heavy))
    made = plan(evolve(JOB, zones=tuple(zone if z.id == "z3" else z for z in JOB.zones)), SHELF).zone("z3")
    before = {c.key: c.margin for c in made.strength.run.checks_in("repaired")}
    assert before["strain"] < 1
    answers = {a.way: a for a in ask_back(made, "strain", "metric")}
    assert set(answers) == {"plies", "sister", "post"}
    post = answers["post"]
    assert post.scheme is not None and post.margin >= 1
    softer = evolve(post.scheme, support=evolve(post.scheme.support, gives=usual(0.09)))
    less = next(c for c in worked(made, softer).strength.run.checks_in("repaired") if c.key == "strain")
    assert less.margin < post.margin


def test_where_a_post_stands_already_another_is_not_proposed():
    zone = JOB.zone("z3")
    scheme = evolve(zone.scheme, support=evolve(zone.scheme.support, post=1.0))
    made = plan(evolve(JOB, zones=tuple(evolve(z, scheme=scheme) if z.id == "z3" else z for z in JOB.zones)), SHELF)
    assert "post" not in {r.key for r in remedies_of(made.zone("z3"), "metric")}


def test_a_run_that_nothing_loads_is_offered_a_beam_within_its_span():
    zone = JOB.zone("z3")
    loads = evolve(zone.proof.loads, pressure=usual(0.0))
    bare = evolve(zone.proof, loads=loads, run=evolve(zone.proof.run, mass=None))
    job = evolve(JOB, zones=tuple(evolve(z, proof=bare) if z.id == "z3" else z for z in JOB.zones))
    made = plan(job, SHELF).zone("z3")
    post = next(r.scheme.support.post for r in remedies_of(made, "metric") if r.key == "post")
    run = made.strength.run
    assert post == pytest.approx(run.start + 0.05 * run.span, abs=1e-3)
    loaded = next(r.scheme.support.post for r in remedies_of(MADE, "metric") if r.key == "post")
    answer = MADE.strength.run.answers["repaired"]
    assert loaded == pytest.approx(MADE.strength.run.start + answer.greatest(answer.w)[1], abs=0.02)


def test_where_a_strip_lies_already_the_remedy_is_one_more():
    once = next(r.scheme for r in remedies_of(MADE, "metric") if r.key == "sister")
    made = worked(MADE, once)
    remedy = next(r for r in remedies_of(made, "metric") if r.key == "sister")
    assert remedy.name.endswith("more")
    assert remedy.scheme.support.sister.si == pytest.approx(2 * once.support.sister.si, abs=1e-6)
    assert [p.count for p in remedy.scheme.parts if p.id == "strip"] == [2]
    least = {r.key: cell(r, 1) for r in remedy_table(made, "metric").rows}
    assert least["sister"] < least["now"]

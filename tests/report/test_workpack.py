"""The work pack: what must be on it, read back from the PDF."""

import io

import pytest
from pypdf import PdfReader
from tests.schemes import rescheme

from ribpatch.core.cautions import LIMITS
from ribpatch.core.fields import set_at
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve
from ribpatch.report.workpack import work_pack


@pytest.fixture(scope="module")
def pack(made):
    return work_pack(made)


def text_of(raw):
    return "\n".join(page.extract_text() for page in PdfReader(io.BytesIO(raw)).pages)


def flat(text):
    return " ".join(text.split())


def test_it_holds_boat_zones_plies_quantities_cautions_and_limits(pack, made):
    text = flat(text_of(pack))
    for words in (
        "Heron Reach: work pack",
        "Foredeck",
        "Transom",
        "Battery stringer",
        "Bow topside",
        "Plies, in the order of laying",
        "Section along the middle",
        "Shopping list",
        "Cups",
        "Cautions by step",
        "Glass dust",
        "Limits",
    ):
        assert words in text, words
    assert flat(LIMITS) in text
    for key in ("z1.cut.area", "z1.taper.length", "z2.resin.mixed", "z3.weight.net", "cost.total"):
        assert made.by_id[key].shown() in text, key


def test_every_ply_is_listed_with_its_size(pack, made):
    text = text_of(pack)
    for outline in made.zone("z1").patch.outlines:
        assert made.by_id[f"z1.ply.{outline.laid.number}.length"].shown() in text


def test_the_same_job_gives_the_same_bytes(pack, made):
    assert work_pack(made) == pack


@pytest.mark.parametrize(("paper", "size"), [("A4", (595.3, 841.9)), ("Letter", (612, 792))])
def test_paper_sizes(made, paper, size):
    box = PdfReader(io.BytesIO(work_pack(made, "us", paper))).pages[0].mediabox
    assert (float(box.width), float(box.height)) == pytest.approx(size, abs=0.5)


def test_us_units_are_used_throughout(made):
    text = text_of(work_pack(made, "us", "Letter"))
    assert " lb" in text and " ft²" in text and " kg" not in text.replace("kg/m3", "").split("Shopping list")[0]


def test_an_empty_job_and_a_job_with_markup_in_its_name_print(job, shelf):
    bare = evolve(job, zones=())
    assert "Zones" in text_of(work_pack(plan(bare, shelf)))
    odd = set_at(job, ("boat", "name"), "<b>Nasty & Co</b> ✓ 船")
    assert "<b>Nasty & Co</b>" in text_of(work_pack(plan(odd, shelf)))


# ---- what Open and Rebuild come to on paper ----


def test_before_cutting_stands_ticked_or_open(pack):
    text = flat(text_of(pack))
    assert "Before cutting" in text and "Seen to: batteries isolated and labelled by the yard hand" in text
    assert "⚠ Shore the deck from below" in text


def test_laminate_core_bonds_parts_and_schemes_are_on_paper(pack, made):
    text = flat(text_of(pack))
    for words in (
        "New laminate against the old",
        "Work on the core",
        "Bonds, from the inside out",
        "Made parts",
        "Schemes",
        "mooring bollard: drill 4 holes",
        "first ply on the taper of the old laminate: secondary bond",
        "2 × knee to stringer",
        "Plywood under the bollard",
        "Skin lifted and bonded back",
    ):
        assert words in text, words
    for key in ("z1.match.stiff.along.new", "z1.panel.bend.along", "z4.match.weight.old"):
        assert made.by_id[key].shown() in text, key


def test_degreasing_is_printed_before_grinding(pack):
    text = flat(text_of(pack))
    start = text.index("first ply on the taper of the old laminate")
    assert text.index("grease off", start) < text.index("Grind or sand", start)


def test_a_later_resin_prints_its_coupon_test(job, shelf):
    zone = job.zone("z4")
    later = evolve(zone, scheme=rescheme(zone.scheme, later_resin="polyester-iso"))
    text = flat(text_of(work_pack(plan(evolve(job, zones=(later,)), shelf))))
    assert "Coupon test before another resin goes on" in text and "together: no" in text


def test_plies_of_both_faces_are_listed(job, shelf):
    from ribpatch.core.scheme_edits import set_second

    text = flat(text_of(work_pack(plan(set_second("z4", True).change(evolve(job, zones=(job.zone("z4"),))), shelf))))
    assert "other face 1" in text and "other face 3" in text

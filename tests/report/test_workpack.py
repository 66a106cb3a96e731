"""The work pack: what must be on it, read back from the PDF."""

import io

import pytest
from pypdf import PdfReader
from tests.papers import flat, pages_of, text_of
from tests.schemes import rescheme

from ribpatch.core.cautions import LIMITS
from ribpatch.core.fields import set_at
from ribpatch.core.plan import plan
from ribpatch.core.record import evolve
from ribpatch.report.workpack import work_pack


@pytest.fixture(scope="module")
def pack(made):
    return work_pack(made)


@pytest.fixture(scope="module")
def us_pack(made):
    return work_pack(made, "us", "Letter")


def test_it_holds_boat_zones_plies_quantities_cautions_and_limits(pack, made):
    text = flat(text_of(pack))
    for words in (
        "Heron Reach: work pack",
        "Foredeck",
        "Transom",
        "Battery stringer",
        "Bow topside",
        "set out",
        "Cut-through A–A",
        "In all",
        "Open points",
        "Appendix: Foredeck",
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
        length, width = (made.by_id[f"z1.ply.{outline.laid.number}.{k}"].value for k in ("length", "width"))
        assert f"{length * 1000:.0f} × {width * 1000:.0f}" in text


def test_the_same_job_gives_the_same_bytes(pack, made):
    assert work_pack(made) == pack


@pytest.mark.parametrize(("paper", "size"), [("pack", (595.3, 841.9)), ("us_pack", (612, 792))])
def test_paper_sizes(request, paper, size):
    box = PdfReader(io.BytesIO(request.getfixturevalue(paper))).pages[0].mediabox
    assert (float(box.width), float(box.height)) == pytest.approx(size, abs=0.5)


def test_us_units_are_used_throughout(us_pack):
    text = text_of(us_pack)
    assert " lb" in text and " ft²" in text and " kg" not in text.replace("kg/m3", "").split("Shopping list")[0]


def test_an_empty_job_and_a_job_with_markup_in_its_name_print(job, shelf):
    bare = evolve(job, zones=())
    assert "Zones" in text_of(work_pack(plan(bare, shelf)))
    odd = set_at(evolve(job, zones=job.zones[3:]), ("boat", "name"), "<b>Nasty & Co</b> ✓ 船")
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


# ---- one sheet a zone, numbered, dated, with bookmarks ----


def flat_pages(pdf):
    return [flat(page) for page in pages_of(pdf)]


@pytest.mark.parametrize("paper", ["pack", "us_pack"])
def test_each_zone_has_one_sheet_in_the_order_of_work_that_stands_alone(request, made, paper):
    pages = flat_pages(request.getfixturevalue(paper))
    for number, order in enumerate(made.order, 1):
        page = pages[number]
        assert page.startswith(f"{number} of 4 {order.zone.name}")
        for words in (
            "Heron Reach:",
            "set out",
            "cut line",
            "taper ends",
            "Resin:",
            "Steps",
            "Glass dust",
            "checked",
            "1 : ",
        ):
            assert words in page, (order.zone.name, words)
        for row in made.zone(order.zone.id).steps.rows:
            assert row.name in page, row.name
    assert pages[5].startswith("What becomes") or "Shopping list" in " ".join(pages[5:])


def test_every_page_says_which_of_how_many_it_is_when_and_of_what_state(made, shelf):
    made = plan(evolve(made.job, zones=made.job.zones[3:]), shelf)
    pages = flat_pages(work_pack(made, dated="2026-11-26"))
    for number, page in enumerate(pages, 1):
        assert f"page {number} of {len(pages)}" in page and "work pack, 2026-11-26" in page
    changed = evolve(made.job, notes="a word more")
    states = {p[0].split("state ")[1][:6] for p in (pages, flat_pages(work_pack(plan(changed, shelf))))}
    assert len(states) == 2 and all(s.isalnum() for s in states)


def test_the_document_has_a_title_a_language_bookmarks_and_its_fonts(pack):
    reader = PdfReader(io.BytesIO(pack))
    assert reader.metadata.title == "Heron Reach: work pack" and reader.trailer["/Root"]["/Lang"] == "en"
    top = [item.title for item in reader.outline if not isinstance(item, list)]
    assert top[0] == "Heron Reach: work pack" and "1 of 4 Battery stringer" in top and "Appendix: Transom" in top
    assert any(isinstance(item, list) for item in reader.outline)
    for page in reader.pages:
        for font in page["/Resources"]["/Font"].values():
            name = font.get_object()["/BaseFont"]
            assert (
                "B612" in name or name == "/Helvetica"
            )  # reportlab names the latter on each page and sets nothing in it


def test_no_page_is_all_but_empty(pack):
    short = [n for n, page in enumerate(flat_pages(pack), 1) if len(page) < 400]
    assert len(short) <= 1


def test_what_is_assumed_is_said_on_the_sheet(shelf):
    from tests.core.test_draft import drafted_job, fresh

    job = drafted_job(fresh("soft-sole"))
    page = flat_pages(work_pack(plan(job, shelf)))[1]
    assert "leans on what is assumed: length, width" in page and "≈" in page

"""The manual: every link leads somewhere, every rung has a page, every figure and source can be looked up."""

import re

import pytest

from ribpatch.core.plan import plan
from ribpatch.library.kept import kept_demo_job
from ribpatch.library.manual import (
    ABOUT,
    FIGURES,
    KEYS,
    PAGES,
    headings,
    page_of,
    page_text,
    search,
    slug,
    terms,
    terms_in,
    title_of,
)
from ribpatch.library.shelf import user_shelf
from ribpatch.stages import STAGES

WRITTEN = [p for p in PAGES if p != KEYS]


@pytest.mark.parametrize("page", WRITTEN)
def test_every_link_of_a_page_leads_to_a_page_and_a_place(page):
    links = re.findall(r"\]\(([^)]+)\)", page_text(page))
    for link in links:
        target, _, place = link.partition("#")
        name = target.removesuffix(".md")
        assert name in PAGES, link
        if place:
            assert place in headings(name), link


def test_every_rung_has_a_page_and_every_page_is_in_the_contents():
    assert {s.id for s in STAGES} <= set(PAGES)
    linked = set(re.findall(r"\]\((\S+)\.md\)", page_text("contents")))
    assert linked == set(PAGES) - {"contents"}
    assert title_of(KEYS) == "Keys" and title_of(ABOUT).startswith("About")
    for stage in STAGES:
        assert title_of(stage.id) == stage.name


def test_every_school_of_practice_is_told():
    text = page_text("schools").lower()
    for words in ("8:1", "12:1", "20:1", "largest ply first", "smallest first", "vinylester", "dead weight", "green window", "peel ply", "former", "elastic adhesive", "wet laminate"):  # fmt: skip
        assert words in text, words


def test_words_of_the_glossary_are_in_order_and_each_is_told():
    words = [w for w, _ in terms()]
    assert words == sorted(words, key=str.lower) and len(words) == len(set(words)) > 35
    assert all(len(said) > 10 for _, said in terms())


def test_words_are_found_in_a_text_whole_and_the_longer_one_first():
    assert terms_in("taper ratio × skin thickness over plies") == ("Taper ratio", "Skin")
    assert "Ply" not in terms_in("supply") and terms_in("") == ()


def test_every_figure_of_a_job_has_a_page_that_explains_it():
    shelf, _ = user_shelf()
    made = plan(kept_demo_job(), shelf, "metric")
    lost = {f.id for f in made.figures if page_of(f.id) == "contents"}
    assert not lost and set(FIGURES.values()) <= set(PAGES)
    cited = {int(n) for f in made.figures for n in re.findall(r"\[(\d+)\]", f.source)}
    assert cited and all(str(n) in headings("sources") for n in cited)


def test_looking_up_gives_headings_first_and_needs_all_words():
    hits = search("taper ratio")
    assert hits[0].line.lower() == "taper ratio" and {h.page for h in hits} >= {"schools", "glossary"}
    assert all("taper" in h.line.lower() and "ratio" in h.line.lower() for h in hits)
    assert search("") == () and search("zeppelin") == ()
    assert not any("](" in h.line for h in search("source"))


def test_a_page_that_is_not_there_is_refused():
    for name in ("keys", "../schema/words", "nothing"):
        with pytest.raises(KeyError):
            page_text(name)


def test_headings_as_links():
    assert slug("Before cutting") == "before-cutting" and slug("Region, eyes and screens") == "region-eyes-and-screens"

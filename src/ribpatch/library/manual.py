"""The manual: its pages, what is found in them, and which page and word of the glossary belong to a figure."""

from __future__ import annotations

import re
from functools import cache

from msgspec import Struct

from ribpatch import resources

PAGES = (
    "contents",
    "first-steps",
    "boat",
    "find",
    "cause",
    "open",
    "rebuild",
    "prove",
    "order",
    "days",
    "log",
    "schools",
    "files",
    "desk",
    "keys",
    "glossary",
    "sources",
)
KEYS, ABOUT = "keys", "about"  # made where they are shown: from the table of actions, from what is installed
MOST_HITS = 40
# The page of a figure, by the first part of its id after the zone.
FIGURES = {
    **dict.fromkeys(("zone", "air", "boat", "skin"), "boat"),
    **dict.fromkeys(("extent", "survey", "drying"), "find"),
    "cause": "cause",
    **dict.fromkeys(("cut", "taper", "school", "bond", "side"), "open"),
    **dict.fromkeys(("lam", "ply", "match", "old", "stack", "core", "laid", "mixed", "peel", "putty"), "rebuild"),
    **dict.fromkeys(("panel", "margin", "pull", "scantling", "run", "transom", "load", "trial"), "prove"),
    **dict.fromkeys(("cost", "cup", "resin", "cloth", "mix", "use", "weight", "job", "hardener"), "order"),
    **dict.fromkeys(("hours", "days", "finish"), "days"),
}


class Hit(Struct, frozen=True):
    """A line of the manual that holds what was looked for."""

    page: str
    heading: str
    line: str


@cache
def page_text(name: str) -> str:
    """A page as Markdown; raises KeyError where there is none."""
    if name not in PAGES or name == KEYS:
        raise KeyError(name)
    text = resources.data(f"manual/{name}.md").decode()
    if name == "sources":  # each number is a place that a figure's working can link to
        text = re.sub(r"^(\d+)\. ", r"### \1\n", text, flags=re.M)
    return text


def title_of(name: str) -> str:
    """The title of a page."""
    made = {KEYS: "Keys", ABOUT: "About Rib Patch"}
    return made[name] if name in made else page_text(name).partition("\n")[0].lstrip("# ")


def slug(heading: str) -> str:
    """A heading as the part of a link after its #."""
    return re.sub(r"[^a-z0-9]+", "-", heading.lower()).strip("-")


def headings(name: str) -> tuple[str, ...]:
    """The places of a page that links may name."""
    return tuple(slug(m) for m in re.findall(r"^#+ (.+)$", page_text(name), re.M))


@cache
def terms() -> tuple[tuple[str, str], ...]:
    """The words of the glossary with what each means."""
    parts = re.split(r"^### (.+)\n", page_text("glossary"), flags=re.M)[1:]
    return tuple((word.strip(), said.strip()) for word, said in zip(parts[::2], parts[1::2], strict=True))


def terms_in(text: str) -> tuple[str, ...]:
    """The words of the glossary that a text uses, the longest first where one holds another."""
    found: list[str] = []
    for word, _ in sorted(terms(), key=lambda t: -len(t[0])):
        if re.search(rf"\b{re.escape(word.lower())}(s|es)?\b", text.lower()) and not any(
            word.lower() in f.lower() for f in found
        ):
            found.append(word)
    return tuple(found)


def page_of(figure: str) -> str:
    """The page that explains a figure, by its id."""
    parts = figure.split(".")
    if len(parts) > 1 and re.fullmatch(r"z\d+", parts[0]):
        parts = parts[1:]
    return FIGURES.get(parts[0], "contents")


def search(words: str) -> tuple[Hit, ...]:
    """The lines that hold all words, headings first."""
    wanted = words.lower().split()
    if not wanted:
        return ()
    made: list[tuple[bool, Hit]] = []
    for name in PAGES:
        if name == KEYS:
            continue
        heading = title_of(name)
        for line in page_text(name).splitlines():
            if line.startswith("#"):
                heading = line.lstrip("# ")
            plain = re.sub(r"\[([^\]]*)\]\([^)]*\)|[*`>#]", r"\1", line).strip(" -")
            if plain and all(w in plain.lower() for w in wanted):
                made.append((line.startswith("#"), Hit(name, heading, plain)))
    return tuple(hit for _, hit in sorted(made, key=lambda m: not m[0]))[:MOST_HITS]

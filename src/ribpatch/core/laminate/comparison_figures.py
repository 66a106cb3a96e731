"""Figures and tables of the laminate bench: stiffness, strength, and the new laminate against the old."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace

from ribpatch.core.chart import Bars, Chart
from ribpatch.core.figure import Figure, FigureBook, Given, Origin
from ribpatch.core.laminate.match import Match, PropertyComparison, flags_of
from ribpatch.core.laminate.strength import LOADS
from ribpatch.core.memo import remembered
from ribpatch.core.numerals import general
from ribpatch.core.table import Row, Table
from ribpatch.core.units import Kind, number_text

if TYPE_CHECKING:
    from ribpatch.core.laminate.comparison import LaminateComparison
    from ribpatch.core.laminate.layup import Layup
    from ribpatch.core.laminate.sandwich import Sandwich
    from ribpatch.core.laminate.stack import StackUp
    from ribpatch.core.materials.shelf import Shelf

THEORY = "classical lamination theory [15], [16]: fibre and resin to layers by mixture rules, layers to A, B, D"
SCREEN = "screening: dry laminate, small strains, no holes or notches; test a coupon where it matters"
FAILS = "first layer to reach a strain limit under this load alone, stiffness whole until then [15]"
BREAKS = (
    "load at which the first layer breaks: fibres along, mat any way, any layer in shear; cracks across the fibres are "
    "left "
    "out, for a mat has no limit of that kind [15]"
)
TERMS = ("11", "22", "12", "66", "16", "26")
_PLACE = {"11": (0, 0), "22": (1, 1), "12": (0, 1), "66": (2, 2), "16": (0, 2), "26": (1, 2)}


@remembered(64)
def comparison_figures(comparison: LaminateComparison, stack: StackUp, shelf: Shelf, prefix: str) -> tuple[Figure, ...]:
    """All figures of a zone's laminate bench."""
    book = FigureBook(prefix)
    plies = tuple(
        Given(f"ply {p.number}", f"{p.ply.fabric.name} at {general(p.angle)}°", None, Origin.YOURS) for p in stack.plies
    )
    fibres = sorted({layer.fibre for p in stack.plies for layer in p.ply.fabric.layers})
    made_of = tuple(
        Given(shelf.fibre(f).name, "as on the shelf", None, shelf.origin(f), note=shelf.fibre(f).reason) for f in fibres
    )
    given = (*plies, *made_of)
    if comparison.standing:
        given = (Given("skin", "stays as it stands", None, Origin.YOURS),)
    else:
        share, how = sum(p.ply.fibre for p in stack.plies) / stack.weight, "dry weight ÷ cured weight of all plies"
        book.add("lam.fibre", "fibre mass fraction", share, Kind.PERCENT, how, plies)
    _moduli(book, "lam", "", comparison.skin.new, given)
    _matrices(book, comparison.skin.new, given)
    _fails(book, "lam", comparison.skin, given)
    old = Given("old laminate", comparison.known, None, Origin.DEFAULT)
    _moduli(book, "old", "old: ", comparison.skin.old, (old,))
    for held in comparison.skin.held:
        _held(book, "match", held, given, old)
    if comparison.panel is not None and comparison.new_sandwich is not None and comparison.old_sandwich is not None:
        _sandwich(book, comparison.panel, comparison.old_sandwich, comparison.new_sandwich, old)
    return book.figures


def _moduli(book: FigureBook, key: str, who: str, layup: Layup, given: tuple[Given, ...]) -> None:
    p = layup.plate
    for name, words, value in (
        ("ex", "modulus along", p.in_plane[0]),
        ("ey", "modulus across", p.in_plane[1]),
        ("gxy", "shear modulus", p.in_plane[2]),
        ("fx", "bending modulus along", p.flexural[0]),
        ("fy", "bending modulus across", p.flexural[1]),
    ):
        book.add(f"{key}.{name}", who + words, float(value), Kind.MODULUS, THEORY, given, source="[15]", valid=SCREEN)
    if key == "lam":
        for name, words, value in (("zx", "along", p.neutral[0]), ("zy", "across", p.neutral[1])):
            book.add(
                f"lam.{name}", f"neutral axis over the middle, bent {words}", float(value), Kind.SIZE, "B ÷ A", given
            )


def _matrices(book: FigureBook, layup: Layup, given: tuple[Given, ...]) -> None:
    p = layup.plate
    for letter, matrix, kind, words in (
        ("A", p.A, Kind.MEMBRANE, "stretching"),
        ("B", p.B, Kind.TENSION, "coupling"),
        ("D", p.D, Kind.BENDING, "bending"),
    ):
        for term in TERMS:
            value = float(matrix[_PLACE[term]])
            formula = f"sum over layers of Q{term} × thickness" + {"A": "", "B": " × height", "D": " × height²"}[letter]
            book.add(f"lam.{letter}{term}", f"{letter}{term}, {words}", value, kind, formula, given, source="[15]")


def _fails(book: FigureBook, key: str, match: Match, given: tuple[Given, ...]) -> None:
    for fail in match.new_fails:
        kind = Kind.MOMENT if fail.load.startswith("bending") else Kind.TENSION
        name = fail.load.replace(",", "").replace(" ", "-")
        where = f"ply {fail.ply}: {fail.mode}" if fail.ply else fail.mode
        book.add(
            f"{key}.fail.{name}",
            f"first failure in {fail.load}",
            fail.first,
            kind,
            f"{FAILS}; here {where}",
            given,
            source="[15]",
            valid=SCREEN,
        )
        book.add(
            f"{key}.break.{name}",
            f"first broken fibres in {fail.load}",
            fail.fibres,
            kind,
            "as the first failure, but only limits along the fibres (any way in mat) count",
            given,
            source="[15]",
            valid=SCREEN + "; stiffness taken as whole, so it is an upper figure",
        )


def _held(book: FigureBook, prefix: str, held: PropertyComparison, given: tuple[Given, ...], old: Given) -> None:
    how = BREAKS if held.key.startswith("strong") else THEORY
    new = book.add(f"{prefix}.{held.key}.new", held.name, held.new, held.kind, how, given, source="[15]", valid=SCREEN)
    was = book.add(f"{prefix}.{held.key}.old", f"old: {held.name}", held.old, held.kind, how, (old,), source="[15]")
    book.add(
        f"{prefix}.{held.key}",
        f"{held.name}, new ÷ old",
        held.ratio,
        Kind.PERCENT,
        "new ÷ old",
        (new.given(), was.given()),
        valid="under 100 % weaker; over about 125 % a hard spot",
    )


def _sandwich(book: FigureBook, panel: Match, before: Sandwich, after: Sandwich, old: Given) -> None:
    core = Given("core", after.core.name, None, Origin.DEFAULT, note=after.core.reason)
    beds = after.under.thickness + after.over.thickness
    bed = (Given("beds and shim of putty", beds, Kind.SIZE, Origin.WORKED),) if beds else ()
    for held in panel.held:
        if held.key.startswith(("bend", "weight", "strong.bending")):
            _held(book, "panel", held, (core, *bed), old)
    pair = (("old", before, "old panel: "), ("new", after, "new panel: "))
    for key, sandwich, who in pair:
        skin = sandwich.above
        along, across = sandwich.wrinkling(skin)
        words = "0.5 (Ef Ec Gc)^⅓ of the rebuilt skin on its core"
        for way, value in (("along", along), ("across", across)):
            book.add(
                f"panel.{key}.wrinkle.{way}",
                f"{who}skin wrinkles at, {way}",
                value,
                Kind.STRESS,
                words,
                (core,),
                source="[17]",
                valid="sound core; a wet or rotted one has lost most of it",
            )
        book.add(
            f"panel.{key}.shear",
            f"{who}shear stiffness",
            sandwich.shear_stiffness,
            Kind.MEMBRANE,
            "G d² ÷ c",
            (core,),
            source="[17]",
        )
        book.add(
            f"panel.{key}.shear.most",
            f"{who}shear force it carries",
            sandwich.shear_strength,
            Kind.TENSION,
            "core shear strength × distance between the skins' middles",
            (core,),
            source="[17]",
        )
    lost = before.core.wet_loss
    for key, share in (("least", lost[0]), ("most", lost[1])):
        wet = replace(before, stiff=max(1 - share, 0.01))
        book.add(
            f"panel.wet.{key}",
            f"old panel with its core gone bad, {key}: shear stiffness",
            wet.shear_stiffness,
            Kind.MEMBRANE,
            "G d² ÷ c with the share of stiffness that a wet to rotted core keeps",
            (Given("stiffness lost", share, Kind.PERCENT, note=before.core.reason),),
            source="[17]",
            valid="a range, not a measurement",
        )


def worry(held: PropertyComparison, least: float, most: float) -> str:
    """What is wrong with one comparison: weaker or softer than it was, or so stiff that it makes a hard spot.

    ``least`` and ``most`` are ratios of new over old.
    """
    if held.ratio < least - 0.005:
        return "softer than it was" if held.kind in (Kind.MEMBRANE, Kind.BENDING) else "weaker than it was"
    stiff = held.key in ("stiff.along", "stiff.across", "bend.along", "bend.across")
    return "a hard spot: stiffer than what is round it" if stiff and held.ratio > most else ""


def match_table(comparison: LaminateComparison, by_id: dict[str, Figure], shelf: Shelf) -> Table:
    """The new laminate against the old, line by line; ``by_id`` holds the figures without the zone's prefix."""
    least, most = shelf.rule("match.least"), shelf.rule("hard.surplus")
    rows = _match_rows(by_id, "match", comparison.skin.held, least, most)
    if comparison.panel is not None:
        rows.append(Row("", ("the whole panel, with its core and other skin", "", "", ""), "head"))
        held = tuple(h for h in comparison.panel.held if f"panel.{h.key}" in by_id)
        rows += _match_rows(by_id, "panel", held, least, most)
        for key, words in (("shear", "shear stiffness of the core"), ("wrinkle.along", "skin wrinkles at, along")):
            new, old = by_id[f"panel.new.{key}"], by_id[f"panel.old.{key}"]
            rows.append(Row(key, (words, new, old, f"{new.value / old.value:.0%}")))
    return Table(
        ("", "new", "old", "new ÷ old"),
        tuple(rows),
        note=f"Old: {comparison.known}. Strength is to the break of fibres or mat, like with like; first cracks are "
        "under strength.",
    )


def _match_rows(
    by_id: dict[str, Figure], key: str, held: tuple[PropertyComparison, ...], least: float, most: float
) -> list[Row]:
    rows = []
    for h in held:
        why = "" if h.key in ("weight", "thickness") else worry(h, least, most)
        mark = "warn" if why else ""
        ratio = by_id[f"{key}.{h.key}"]
        rows.append(Row(h.key, (h.name, by_id[f"{key}.{h.key}.new"], by_id[f"{key}.{h.key}.old"], ratio), mark, why))
    return rows


def strength_table(by_id: dict[str, Figure]) -> Table:
    """First failure and first broken fibres under each load."""
    rows = []
    for load in LOADS:
        name = load.replace(",", "").replace(" ", "-")
        first = by_id[f"lam.fail.{name}"]
        how = first.formula.removeprefix(f"{FAILS}; here ")
        rows.append(Row(name, (load, first, how, by_id[f"lam.break.{name}"])))
    return Table(("under", "first failure", "what fails", "fibres break"), tuple(rows), note=f"{SCREEN}.")


def stiffness_table(layup: Layup, by_id: dict[str, Figure], shelf: Shelf) -> Table:
    """A, B and D in numbers, moduli, and what the coupling means in words."""
    rows = [Row(f.key, (f.words, "", "", ""), "warn") for f in flags_of(layup, shelf)]
    if not rows:
        rows = [
            Row(
                "plain",
                ("pulls straight: the same above and below its middle, and alike to left and right", "", "", ""),
            )
        ]
    rows.append(Row("", ("", "along", "across", "shear or coupling"), "head"))
    rows.append(Row("e", ("moduli", by_id["lam.ex"], by_id["lam.ey"], by_id["lam.gxy"])))
    rows.append(Row("f", ("bending moduli", by_id["lam.fx"], by_id["lam.fy"], "")))
    rows.append(Row("z", ("neutral axis over the middle", by_id["lam.zx"], by_id["lam.zy"], "")))
    for letter, words in (("A", "stretching"), ("B", "pull between stretching and bending"), ("D", "bending")):
        rows.append(
            Row(letter, (f"{letter}: {words}, 11 22 66", *(by_id[f"lam.{letter}{t}"] for t in ("11", "22", "66"))))
        )
        rows.append(
            Row(f"{letter}x", (f"{letter}: 12 16 26", *(by_id[f"lam.{letter}{t}"] for t in ("12", "16", "26"))))
        )
    return Table(("", "", "", ""), tuple(rows), note=THEORY + ".")


def match_chart(match: Match, shelf: Shelf) -> Chart:
    """New over old as bars, along and across."""
    least, most = shelf.rule("match.least"), shelf.rule("hard.surplus")
    kinds = (
        ("stretching", "stiff"),
        ("bending", "bend"),
        ("tension", "strong.tension"),
        ("compression", "strong.compression"),
        ("in bending", "strong.bending"),
    )
    bars = tuple(
        Bars(way, tuple(match.least(f"{key}.{way}") for _, key in kinds), role)
        for way, role in (("along", "main"), ("across", "second"))
    )
    names = ("stretch: stiff", "bend: stiff", "pull: strong", "push: strong", "bend: strong")
    limits = ((least, f"as it was: {number_text(least, Kind.PERCENT)} %"), (most, "hard spot"))
    return Chart("", "new ÷ old", categories=names, bars=bars, limits=limits, top=2.0)

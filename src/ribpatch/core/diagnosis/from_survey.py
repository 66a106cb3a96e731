"""Findings that the survey answers by itself, each with what it was seen from. What it cannot tell stays unknown."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from typing import TYPE_CHECKING, Any

from msgspec import Struct

from ribpatch.core.memo import remembered
from ribpatch.core.readings import Graded, Moisture, Pin, Plug, Push, Sketch, Strike, Tap
from ribpatch.core.survey.lone import borne_out
from ribpatch.core.survey.score import levels_of
from ribpatch.core.survey.sessions import drying_curves
from ribpatch.core.survey.strikes import verdict_of
from ribpatch.core.survey.way_in import Source, ways_in

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.shelf import Shelf


LEAST_TOGETHER, LEAST_SHARE = 2, 0.02  # readings that make a finding: so many, and such a share of all
LONE_SHARE = 0.1  # up to such a share of stray ones still says that it is not there


class Seen(Struct, frozen=True):
    """A finding that the survey answers: whether it is there, and from what."""

    finding: str
    there: bool
    why: str


class _Look(Struct, frozen=True, dict=True):
    """The survey of a zone, sorted for the rules."""

    zone: Zone
    shelf: Shelf

    @cached_property
    def by_kind(self) -> dict[type, list[Any]]:
        found: dict[type, list[Any]] = {}
        for reading in self.zone.survey.readings:
            found.setdefault(type(reading), []).append(reading)
        return found

    def of(self, kind: type) -> list[Any]:
        return self.by_kind.get(kind, [])

    def words(self, kind: str) -> list[str]:
        return [r.grade for r in self.of(Graded) if r.kind == kind]

    @cached_property
    def sounds(self) -> list[tuple[str, bool]]:
        """Words of the taps by ear, and verdicts of the recorded ones that have references; whether the rest of the
        survey bears each out.
        """
        strikes: list[Strike] = self.of(Strike)
        marked = set(self.zone.survey.references)
        known = tuple(s for s in strikes if s.id in marked)
        judged = [(v.id, s.id) for s in strikes if (v := verdict_of(s, known, self.shelf)) is not None]
        heard = [*((r.grade, r.id) for r in self.of(Tap)), *judged]
        return [(word, identity in self.backed) for word, identity in heard]

    @cached_property
    def backed(self) -> frozenset[str]:
        """Ids of the readings that the rest of the survey bears out as bad."""
        return borne_out(self.zone, self.shelf)

    def there(self, backed: int, all_told: int, what: str) -> tuple[bool, str] | None:
        """Whether enough readings that say so are borne out: a cluster of them or a share, never one."""
        least = max(LEAST_TOGETHER, round(LEAST_SHARE * all_told))
        return (True, f"{backed} of {all_told} {what}") if backed >= least else None

    @property
    def sources(self) -> tuple[Source, ...]:
        return ways_in(self.zone, None, None, self.shelf)


Rule = Callable[[_Look], tuple[bool, str] | None]


def _sound(word: str) -> Rule:
    def rule(look: _Look) -> tuple[bool, str] | None:
        sounds = look.sounds
        said = [backed for name, backed in sounds if name == word]
        found = look.there(sum(said), len(sounds), "taps")
        if found is not None:
            return found
        few = len(said) <= LONE_SHARE * len(sounds) and not any(said)
        words = f"{len(said) or 'none'} of {len(sounds)} taps{', borne out by none round it' if said else ''}"
        return (False, words) if few and len(sounds) >= look.shelf.rule("finding.taps") else None

    return rule


def _levels(kind: type, what: str, enough: Callable[[Shelf], float]) -> Rule:
    """Whether a metered instrument finds something: high levels that the rest bears out say yes, enough low ones no."""

    def rule(look: _Look) -> tuple[bool, str] | None:
        shelf, survey = look.shelf, look.zone.survey
        levels = levels_of(survey, shelf)
        marked = set(survey.references)
        judged = [(levels[r.id], r.id in look.backed) for r in look.of(kind) if r.id in levels and r.id not in marked]
        high = [backed for level, backed in judged if level >= shelf.rule("finding.high")]
        found = look.there(sum(high), len(judged), what)
        if found is not None or len(judged) < enough(shelf):
            return found
        raised = sum(level >= shelf.rule("finding.low") for level, _ in judged)
        low = raised <= LONE_SHARE * len(judged) and not any(high)
        words = f"{len(high) or 'none'} of {len(judged)} {what}{', borne out by none round it' if high else ''}"
        return (False, words) if low else None

    return rule


def _at(names: Callable[[Zone], set[str]]) -> Rule:
    def rule(look: _Look) -> tuple[bool, str] | None:
        mine = [s for s in look.sources if s.name in names(look.zone)]
        best = next(
            (s for s in mine if s.share >= look.shelf.rule("finding.source") and "wet round it" in s.reasons), None
        )
        if best is not None:
            return True, f"wettest round {best.name}"
        dry = bool(mine) and all("dry round it" in s.reasons for s in mine)
        return (False, "dry round all of them") if dry else None

    return rule


def _sealing(states: Callable[[Zone], list[tuple[str, bool | None]]]) -> Rule:
    def rule(look: _Look) -> tuple[bool, str] | None:
        found = states(look.zone)
        bare = [name for name, sealed in found if sealed is False]
        if bare:
            return True, f"not sealed: {', '.join(bare)}"
        return (False, "all stated as sealed") if found and all(s for _, s in found) else None

    return rule


def _plug(what: Callable[[Plug], bool], said: str) -> Rule:
    def rule(look: _Look) -> tuple[bool, str] | None:
        plugs: list[Plug] = look.of(Plug)
        count = sum(what(p) for p in plugs)
        if count:
            return True, f"{count} of {len(plugs)} plugs {said}"
        bad = [p for p in plugs if p.water == "wet" or p.core in ("soft", "gone") or p.bond == "clean"]
        return (False, f"no plug {said}, of {len(plugs)}") if len(plugs) >= 2 or bad else None

    return rule


def _word(kind: str, yes: tuple[str, ...], no: tuple[str, ...], least_no: int = 1) -> Rule:
    def rule(look: _Look) -> tuple[bool, str] | None:
        words = look.words(kind)
        count = sum(w in yes for w in words)
        if count:
            return True, f"{count} of {len(words)} {look.shelf.instrument(kind).name} readings"
        against = sum(w in no for w in words)
        return (
            (False, f"none of {len(words)} {look.shelf.instrument(kind).name} readings")
            if against >= least_no
            else None
        )

    return rule


def _sketched(*types: str) -> Rule:
    def rule(look: _Look) -> tuple[bool, str] | None:
        count = sum(s.grade in types for s in look.of(Sketch))
        return (True, f"{count} sketched") if count else None

    return rule


def _drying(look: _Look) -> tuple[bool, str] | None:
    curves = drying_curves(look.zone.survey, look.shelf)
    still = sum(c.says == "not drying" for c in curves)
    if still:
        return True, f"{still} of {len(curves)} places do not dry"
    done = curves and all(c.says in ("drying", "dry") for c in curves)
    return (False, f"all of {len(curves)} places dry") if done else None


def _wood(look: _Look) -> tuple[bool, str] | None:
    pins: list[Pin] = look.of(Pin)
    limit = look.shelf.rule("finding.wood")
    wet = sum(p.value > limit for p in pins)
    if wet:
        return True, f"{wet} of {len(pins)} pin readings over {limit:g} %"
    return (False, f"none of {len(pins)} pin readings over {limit:g} %") if len(pins) >= 2 else None


def _skins(look: _Look) -> tuple[bool, str] | None:
    build = look.zone.build
    if build.core is None:
        return None
    inner, outer = build.inner, build.outer
    if inner is None:
        return True, "no inner skin in the build-up"
    if inner.thickness and outer.thickness and inner.thickness.typed and outer.thickness.typed:
        thin, thick = sorted((inner.thickness.si, outer.thickness.si))
        return thin < look.shelf.rule("finding.thin") * thick, "skin thicknesses of the build-up"
    return None


RULES: dict[str, Rule] = {
    "moisture-high": _levels(Moisture, "meter readings", lambda shelf: shelf.rule("finding.meter")),
    "wet-at-fitting": _at(lambda z: {f.name for f in z.fittings}),
    "wet-at-edge": _at(lambda z: {e.name for e in z.edges}),
    "fitting-unsealed": _sealing(lambda z: [(f.name, f.sealed) for f in z.fittings if f.holes]),
    "edge-unsealed": _sealing(lambda z: [(e.name, e.sealed) for e in z.edges]),
    "taps-dull": _sound("dull"),
    "taps-drummy": _sound("drummy"),
    "taps-crunch": _sound("crunch"),
    "plug-wet": _plug(lambda p: p.water == "wet", "wet"),
    "plug-soft": _plug(lambda p: p.core in ("soft", "gone"), "with soft core"),
    "plug-clean": _plug(lambda p: p.bond == "clean", "with a clean bond"),
    "weeps": _word("weep", ("weeps", "brown"), ("dry",)),
    "brown-water": _word("weep", ("brown",), ("weeps",)),
    "soap-bubble": _word("soap", ("bubble",), ("none",), 3),
    "screw-loose": _word("screw", ("creeps", "strips"), ("holds",), 2),
    "smell-musty": _word("smell", ("musty",), ("clean", "sour")),
    "smell-sour": _word("smell", ("sour",), ("clean", "musty")),
    "crack-star": _sketched("star"),
    "crack-line": _sketched("hairline"),
    "crack-craze": _sketched("craze"),
    "blisters": _sketched("blister"),
    "pimples": _sketched("pimples"),
    "not-drying": _drying,
    "wood-wet": _wood,
    "stiffness-lost": _levels(Push, "pushes", lambda _shelf: 2),
    "skin-thin": _skins,
}


LOOKED_AT = ("kind", "outline", "build", "edges", "fittings", "falls", "survey")  # of a zone, by the rules above


@remembered(128, zone=LOOKED_AT)
def seen_in(zone: Zone, shelf: Shelf) -> tuple[Seen, ...]:
    """What the survey of a zone answers by itself."""
    look = _Look(zone, shelf)
    found: list[Seen] = []
    for card in shelf.findings:
        answer = RULES[card.auto](look) if card.auto in RULES else None
        if answer is not None:
            found.append(Seen(card.id, *answer))
    return tuple(found)

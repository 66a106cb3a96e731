"""Findings that the survey answers by itself, each with what it was seen from and how sure that makes it.

What it cannot tell stays unknown. One reading in ten is wrong, so a finding is the surer the more readings say so: its
doubt is shared out among them.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from typing import TYPE_CHECKING, Any

import numpy as np
from msgspec import Struct

from ribpatch.core.memo import remembered
from ribpatch.core.numerals import general
from ribpatch.core.readings import Graded, Moisture, Pin, Plug, Push, Sketch, Strike, Tap
from ribpatch.core.survey.lone import borne_out, on_damage
from ribpatch.core.survey.score import levels_of, strikes_by_place
from ribpatch.core.survey.sessions import drying_curves
from ribpatch.core.survey.strikes import verdict_of
from ribpatch.core.survey.way_in import Source, ways_in

if TYPE_CHECKING:
    from ribpatch.core.job import Zone
    from ribpatch.core.materials.shelf import Shelf


LEAST_TOGETHER, LEAST_SHARE = 2, 0.02  # readings that make a finding: so many, and such a share of all
ENOUGH_ON_IT = 4  # readings on the damage that say what is not there
LEAST_ALONE = 3  # high readings that say something of the meter; plugs that say something of each other
STATED = 0.98  # chance that what was stated of a zone is so
LONE_SHARE = 0.1  # up to such a share of stray ones still says that it is not there


class Seen(Struct, frozen=True):
    """A finding that was answered: whether it is there, from what, and with what chance that is so (0.5 to 1)."""

    finding: str
    there: bool
    why: str
    sure: float = 1.0

    @property
    def chance(self) -> float:
        """Chance that the finding is there, 0 to 1."""
        return self.sure if self.there else 1 - self.sure


Answer = tuple[bool, str, float]  # whether it is there, from what, how sure


def _among(ids: list[str], these: frozenset[str]) -> int:
    """How many of the ids are among these."""
    return sum(map(these.__contains__, ids))


class _Sounds(Struct, frozen=True):
    """Taps by word: how many, and how many of them the rest of the survey bears out; how many in all, and how many can
    say that something is not there.
    """

    said: dict[str, int]
    backed: dict[str, int]
    count: int
    telling: int


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
    def sounds(self) -> _Sounds:
        """What the taps say: by ear, and the recorded ones that have references."""
        strikes: list[Strike] = self.of(Strike)
        marked = set(self.zone.survey.references)
        known = tuple(s for s in strikes if s.id in marked)
        several = strikes_by_place(self.zone.survey, self.shelf)
        by_word: dict[str, list[str]] = {}
        for tap in self.of(Tap):
            by_word.setdefault(tap.grade, []).append(tap.id)
        for strike in strikes:
            verdict = verdict_of(np.array(several[strike.id]) if strike.id in several else strike, known, self.shelf)
            if verdict is not None:
                by_word.setdefault(verdict.id, []).append(strike.id)
        return _Sounds(
            {word: len(ids) for word, ids in by_word.items()},
            {word: _among(ids, self.backed) for word, ids in by_word.items()},
            sum(map(len, by_word.values())),
            sum(map(self.telling, by_word.values())),
        )

    @cached_property
    def backed(self) -> frozenset[str]:
        """Ids of the readings that the rest of the survey bears out as bad."""
        return borne_out(self.zone, self.shelf)

    @cached_property
    def on_damage(self) -> frozenset[str] | None:
        """Ids of the readings taken on damage; None where none was found."""
        return on_damage(self.zone, self.shelf)

    def telling(self, ids: list[str]) -> int:
        """How many readings can say that something is not there: where damage was found, only those taken on it."""
        return len(ids) if self.on_damage is None else _among(ids, self.on_damage)

    def there(self, backed: int, all_told: int, what: str) -> Answer | None:
        """Whether enough readings that say so are borne out: a cluster of them or a share, never one."""
        least = max(LEAST_TOGETHER, round(LEAST_SHARE * all_told))
        return (True, f"{backed} of {all_told} {what}", self.sure(backed)) if backed >= least else None

    def sure(self, count: float) -> float:
        """Chance, 0 to 1, that what a number of readings say is so."""
        return 1 - self.shelf.rule("finding.doubt") / max(count, 1.0)

    @property
    def sources(self) -> tuple[Source, ...]:
        return ways_in(self.zone, None, None, self.shelf)


Rule = Callable[[_Look], Answer | None]


def _sound(word: str) -> Rule:
    def rule(look: _Look) -> Answer | None:
        sounds = look.sounds
        said, backed = sounds.said.get(word, 0), sounds.backed.get(word, 0)
        found = look.there(backed, sounds.count, "taps")
        if found is not None:
            return found
        few = said <= LONE_SHARE * sounds.count and not backed
        words = f"{said or 'none'} of {sounds.count} taps{', borne out by none round it' if said else ''}"
        enough = look.shelf.rule("finding.taps") if look.on_damage is None else ENOUGH_ON_IT
        sure = look.sure(sounds.telling / enough + 1)
        return (False, words, sure) if few and sounds.telling >= enough else None

    return rule


def _levels(kind: type, what: str, enough: Callable[[Shelf], float]) -> Rule:
    """Whether a metered instrument finds something: high levels that the rest bears out say yes, enough low ones no."""

    def rule(look: _Look) -> Answer | None:
        shelf, survey = look.shelf, look.zone.survey
        levels = levels_of(survey, shelf)
        marked = set(survey.references)
        read = [r.id for r in look.of(kind) if r.id in levels and r.id not in marked]
        high = [i for i in read if levels[i] >= shelf.rule("finding.high")]
        backed = _among(high, look.backed)
        found = look.there(backed, len(read), what)
        telling = look.telling(read)
        least = enough(shelf) if look.on_damage is None else min(enough(shelf), ENOUGH_ON_IT)
        if found is not None or telling < least:
            return found
        raised = sum(levels[i] >= shelf.rule("finding.low") for i in read)
        low = raised <= LONE_SHARE * len(read) and not backed
        words = f"{len(high) or 'none'} of {len(read)} {what}{', borne out by none round it' if high else ''}"
        return (False, words, look.sure(telling / max(enough(shelf), 1) + 1)) if low else None

    return rule


def _at(names: Callable[[Zone], set[str]]) -> Rule:
    def rule(look: _Look) -> Answer | None:
        mine = [s for s in look.sources if s.name in names(look.zone)]
        best = next(
            (s for s in mine if s.share >= look.shelf.rule("finding.source") and "wet round it" in s.reasons), None
        )
        if best is not None:
            return True, f"wettest round {best.name}", look.sure(1 / (1 - min(best.share, 0.98)))
        dry = bool(mine) and all("dry round it" in s.reasons for s in mine)
        return (False, "dry round all of them", look.sure(2)) if dry else None

    return rule


def _sealing(states: Callable[[Zone], list[tuple[str, bool | None]]]) -> Rule:
    def rule(look: _Look) -> Answer | None:
        found = states(look.zone)
        bare = [name for name, sealed in found if sealed is False]
        if bare:
            return True, f"not sealed: {', '.join(bare)}", STATED
        return (False, "all stated as sealed", STATED) if found and all(s for _, s in found) else None

    return rule


def _is_bad(plug: Plug) -> bool:
    return plug.water == "wet" or plug.core in ("soft", "gone") or plug.bond == "clean"


def _plug(what: Callable[[Plug], bool], said: str) -> Rule:
    def rule(look: _Look) -> Answer | None:
        plugs: list[Plug] = look.of(Plug)
        count = sum(what(p) for p in plugs)
        if count:
            return True, f"{count} of {len(plugs)} plugs {said}", look.sure(10 * count)  # seen, not heard
        enough = len(plugs) >= 2 or any(map(_is_bad, plugs))
        return (False, f"no plug {said}, of {len(plugs)}", look.sure(10 * len(plugs))) if enough else None

    return rule


def _word(kind: str, yes: tuple[str, ...], no: tuple[str, ...], least_no: int = 1) -> Rule:
    def rule(look: _Look) -> Answer | None:
        words = look.words(kind)
        count = sum(w in yes for w in words)
        if count:
            return True, f"{count} of {len(words)} {look.shelf.instrument(kind).name} readings", look.sure(count + 1)
        against = sum(w in no for w in words)
        why = f"none of {len(words)} {look.shelf.instrument(kind).name} readings"
        return (False, why, look.sure(against)) if against >= least_no else None

    return rule


def _sketched(*types: str) -> Rule:
    def rule(look: _Look) -> Answer | None:
        count = sum(s.grade in types for s in look.of(Sketch))
        return (True, f"{count} sketched", look.sure(count + 2)) if count else None

    return rule


def _drying(look: _Look) -> Answer | None:
    curves = drying_curves(look.zone.survey, look.shelf)
    still = sum(c.says == "not drying" for c in curves)
    if still:
        return True, f"{still} of {len(curves)} places do not dry", look.sure(still + 1)
    done = curves and all(c.says in ("drying", "dry") for c in curves)
    return (False, f"all of {len(curves)} places dry", look.sure(len(curves) + 1)) if done else None


def _wood(look: _Look) -> Answer | None:
    pins: list[Pin] = look.of(Pin)
    limit = look.shelf.rule("finding.wood")
    wet = sum(p.value > limit for p in pins)
    if wet:
        return True, f"{wet} of {len(pins)} pin readings over {general(limit)} %", look.sure(wet + 1)
    return (
        (False, f"none of {len(pins)} pin readings over {general(limit)} %", look.sure(len(pins)))
        if len(pins) >= 2
        else None
    )


def _skins(look: _Look) -> Answer | None:
    build = look.zone.build
    if build.core is None:
        return None
    inner, outer = build.inner, build.outer
    if inner is None:
        return True, "no inner skin in the build-up", STATED
    if inner.thickness and outer.thickness and inner.thickness.typed and outer.thickness.typed:
        thin, thick = sorted((inner.thickness.si, outer.thickness.si))
        return thin < look.shelf.rule("finding.thin") * thick, "skin thicknesses of the build-up", STATED
    return None


def _high_alone(look: _Look) -> Answer | None:
    """High meter readings in a cluster that nothing else bears out; none where what is high is borne out."""
    shelf, levels = look.shelf, levels_of(look.zone.survey, look.shelf)
    read = [r.id for r in look.of(Moisture) if r.id in levels]
    high = [i for i in read if levels[i] >= shelf.rule("finding.high")]
    alone = sum(i not in look.backed for i in high)
    if alone >= LEAST_ALONE and alone > len(high) / 2:
        return True, f"{alone} of {len(high)} high meter readings, which nothing else bears out", look.sure(alone)
    backed = len(high) - alone
    if backed >= LEAST_ALONE and alone < LONE_SHARE * len(high):
        return False, f"{backed} of {len(high)} high meter readings are borne out", look.sure(backed)
    return None


def _plugs_differ(look: _Look) -> Answer | None:
    plugs: list[Plug] = look.of(Plug)
    bad = sum(map(_is_bad, plugs))
    if 0 < bad < len(plugs):
        return True, f"{bad} of {len(plugs)} plugs are bad", look.sure(len(plugs))
    return (False, f"all {len(plugs)} plugs alike", look.sure(len(plugs))) if len(plugs) >= LEAST_ALONE else None


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
    "high-alone": _high_alone,
    "plugs-differ": _plugs_differ,
}


LOOKED_AT = ("kind", "outline", "build", "edges", "fittings", "seams", "falls", "survey")  # by the rules above


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

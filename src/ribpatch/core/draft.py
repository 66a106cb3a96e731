"""A first scheme from what was read and why it failed: every choice in its order, each with its reason.

Each step works on the zone as the steps before left it, so that plies follow from the side, and the taper from the
plies. What is drafted is what the schools would do without knowing more; every choice stays open. Goals: sound (as it
was, by the usual ways), cheapest, lightest, quickest; the last three choose among what keeps the same limits.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from ribpatch.core.draft_plies import plies_for_goal
from ribpatch.core.edits import Edit, in_zone, next_id
from ribpatch.core.errors import NothingToDraft
from ribpatch.core.geometry import polygon_of
from ribpatch.core.hours import worked_hours
from ribpatch.core.numerals import fixed, general
from ribpatch.core.patch.access.sides import CAVITIES
from ribpatch.core.patch.bonding.shear_lag import ratio_for
from ribpatch.core.patch.taper import NO_TAPER
from ribpatch.core.record import evolve, evolve_in
from ribpatch.core.scheme import SCHOOLS, Access, Backing, MadePart, Reason, Scheme, Tabbing
from ribpatch.core.units import Kind, Measure, shown
from ribpatch.core.zone_plan import ZonePlan

if TYPE_CHECKING:
    from ribpatch.core.materials.records import Resin
    from ribpatch.core.patch.coring.choice import CoreChoice
    from ribpatch.core.units import System

Goal = Literal["sound", "cheapest", "lightest", "quickest"]
GOALS: dict[Goal, str] = {
    "sound": "First draft",
    "cheapest": "Draft, cheapest",
    "lightest": "Draft, lightest",
    "quickest": "Draft, quickest",
}
OTHERS: tuple[Goal, ...] = ("cheapest", "lightest", "quickest")
BESIDE = 2  # alternatives that a second press puts beside the first
THIN, THICK = 0.0025, 0.008  # m, of the tapered laminate: below, long tapers; above, short ones will do
SHALLOW = 0.6  # of the laminate: damage no deeper leaves enough to grind to sound and fill
LIKELY = 0.4  # chance from which a state of the core decides the cut
MOST_CUT = 0.6  # of the zone: where cutting as far again takes more, a margin does
WARM = 18.0  # degC from which a slow hardener is not too slow
LEAST_BEND = 0.95  # of the old panel's stiffness, under like skins
NEAR = 0.03  # m; a cut this near a side of the outline ends there
CAP_PLIES = 4
NO_ROOM = "the cut meets the edge, where no taper fits"


class Draft:
    """A scheme in the making, with the zone as it is with it and the reasons so far."""

    def __init__(self, made: ZonePlan, scheme: Scheme, goal: Goal, system: System) -> None:
        self.first, self.scheme, self.goal, self.system = made, scheme, goal, system
        self.reasons: list[Reason] = []
        self.made = self._worked()

    def _worked(self, scheme: Scheme | None = None) -> ZonePlan:
        first = self.first
        zone = evolve(first.zone, scheme=scheme or self.scheme, others=())
        return ZonePlan(zone, first.air, first.boat, first.shelf)

    def put(self, group: str, **changes: object) -> None:
        """Choose something of one of the scheme's groups."""
        self.scheme = evolve_in(self.scheme, group, **changes)
        self.made = self._worked()

    def measured(self, core: CoreChoice) -> float:
        """What the goal of the draft weighs, of the whole repair with one core: cost, kg on, or s of work."""
        scheme = evolve_in(self.scheme, "core", material=core.core.id, thickness=Measure(si=core.thickness))
        made = self._worked(scheme)
        if self.goal == "quickest":
            return worked_hours(made)
        figure = made.figure("cost.total" if self.goal == "cheapest" else "weight.on")
        return figure.value if figure is not None else 0.0

    def add_part(self, part: MadePart) -> None:
        """Add a made part."""
        self.scheme = evolve(self.scheme, parts=(*self.scheme.parts, part))
        self.made = self._worked()

    def tell(self, choice: str, chosen: str, why: str) -> None:
        """Say what was chosen and why."""
        self.reasons.append(Reason(choice=choice, chosen=chosen[:200], why=why[:400]))

    def size(self, value: float, kind: Kind = Kind.SIZE) -> str:
        """A value (SI) of a kind in words."""
        return shown(value, kind, self.system)


def drafted(made: ZonePlan, goal: Goal, system: System, identity: str = "s1") -> Scheme:
    """A complete scheme for a zone; raises NothingToDraft where no damage is known."""
    if made.patch.extent.likely.is_empty and made.patch.cut.region.is_empty:
        raise NothingToDraft(made.zone.name)
    # Sides are scored with your marks; a cut line drawn by hand is yours too.
    access, cut = made.zone.scheme.access, made.zone.scheme.cut
    base = Scheme(id=identity, name=GOALS[goal])
    base = evolve_in(base, "access", marks=access.marks, chosen=access.chosen, part_depth=access.part_depth)
    draft = Draft(made, evolve_in(base, "cut", drawn=cut.drawn), goal, system)
    for step in (_side, _depth, _cut, _resin, _laying, _tabbing, _core, _plies, _taper, _backing, _ends):
        step(draft)
    return evolve(draft.scheme, reasons=tuple(draft.reasons))


def draft_repair(made: ZonePlan, system: System) -> Edit:
    """Draft the repair of a zone as its chosen scheme. One that holds work already stays beside it."""
    zone = made.zone
    fresh = not is_begun(zone.scheme)
    identity = zone.scheme.id if fresh else next_id("s", (s.id for s in zone.schemes))
    scheme = drafted(made, "sound", system, identity)
    if fresh:
        return in_zone("draft the repair", zone.id, lambda z: evolve(z, scheme=scheme))
    return in_zone("draft the repair", zone.id, lambda z: evolve(z, scheme=scheme, others=(*z.others, z.scheme)))


def draft_others(made: ZonePlan, system: System) -> Edit:
    """Put up to two other drafts beside the chosen scheme: cheapest, lightest, quickest, where they differ."""
    zone = made.zone
    known = [_substance(s) for s in zone.schemes]
    found: list[Scheme] = []
    for goal in OTHERS:
        if len(found) == BESIDE:
            break
        taken = (s.id for s in (*zone.schemes, *found))
        scheme = drafted(made, goal, system, next_id("s", taken))
        if _substance(scheme) not in known:
            known.append(_substance(scheme))
            found.append(scheme)
    if not found:
        raise NothingToDraft(zone.name, others=True)
    return in_zone("draft alternatives", zone.id, lambda z: evolve(z, others=(*z.others, *found)))


def is_begun(scheme: Scheme) -> bool:
    """Whether a scheme holds choices of its own, so that a draft must not take its place."""
    kept = evolve(scheme, id="s1", name=Scheme().name, access=Scheme().access, note="")
    return evolve(kept, cut=evolve(kept.cut, drawn=None)) != Scheme()


def _substance(scheme: Scheme) -> Scheme:
    return evolve(scheme, id="s1", name="draft", reasons=(), note="")


# ---- the choices, in their order ---------------------------------------------------------------------------------


def _side(draft: Draft) -> None:
    zone, scores = draft.made.zone, draft.made.side_scores
    stated = draft.first.zone.scheme.access
    if stated.chosen or stated.side != Access().side:
        draft.put("access", side=stated.side)
        draft.tell("side", stated.side, "you chose it")
        return
    if zone.is_tabbed:
        draft.tell("side", "where it lies", "tabbing is ground and laid over what it ties together")
        return
    able = [
        s
        for s in scores
        if (s.side != "above" or (zone.kind in CAVITIES and zone.build.core is not None))
        # On a solid laminate there is one skin only: from inside is planned as from outside.
        and (s.side != "inside" or zone.build.inner is not None)
    ]
    best = max(able, key=lambda s: (round(s.score, 6), s.side == "outside"))
    draft.put("access", side=best.side)
    rest = ", ".join(f"{s.side} {fixed(s.score, 1)}" for s in able if s is not best)
    strong = max(best.marks, key=lambda m: m.mark * m.criterion.weight)
    than = f" against {rest}" if rest else ""
    draft.tell("side", best.side, f"scores {fixed(best.score, 1)} of 5{than}; most for {strong.criterion.name}")


def _depth(draft: Draft) -> None:
    from ribpatch.core.laminate.stack import skin_thickness

    zone = draft.made.zone
    whole = skin_thickness(zone.rebuilt_skin, draft.made.shelf)
    deepest = max((d.depth.si for d in zone.depths), default=0.0)
    if zone.build.core is None and 0 < deepest < SHALLOW * whole:
        draft.put("access", part_depth=True)
        draft.tell(
            "depth",
            "ground to sound and filled",
            f"the damage goes {draft.size(deepest)} deep at most, of {draft.size(whole)}",
        )


def _cut(draft: Draft) -> None:
    from ribpatch.core.diagnosis.zone import diagnosis_of

    zone = draft.made.zone
    if zone.scheme.cut.drawn is not None:
        draft.tell("cut", cut_words(zone.scheme, draft.system), "a line drawn by hand is kept")
        return
    diagnosis = diagnosis_of(zone, draft.made.shelf)
    states = {c.id for c in diagnosis.network.causes}
    rotted = max((diagnosis.chance(s) for s in ("rotted-core", "wet-core") if s in states), default=0.0)
    if zone.build.core is not None and rotted >= LIKELY:
        draft.put("cut", rule="as far again")
        share = draft.made.patch.cut.region.area / polygon_of(zone.outline).area
        if share <= MOST_CUT:
            why = f"rot and water run on in the core (likely, {rotted:.0%})"
        else:
            draft.put("cut", rule="margin")
            why = f"as far again would take {share:.0%} of the zone: probe as you go"
    else:
        why = "the damage ends where it was read: a margin into sound material"
    draft.tell("cut", cut_words(draft.scheme, draft.system), why)


def cut_words(scheme: Scheme, system: System) -> str:
    """How far a scheme cuts."""
    if scheme.cut.drawn is not None:
        return "as you drew it"
    if scheme.cut.rule == "as far again":
        return "as far again as the bad band"
    return f"{shown(scheme.cut.margin.si, Kind.SIZE, system)} past the damage"


def _resin(draft: Draft) -> None:
    air, shelf = draft.made.air.temperature.si, draft.made.shelf
    epoxies = [r for r in shelf.resins if r.family == "epoxy"] or list(shelf.resins)
    able = [r for r in epoxies if r.least_temperature <= air] or [min(epoxies, key=lambda r: r.least_temperature)]
    quick = draft.goal == "quickest" or air < WARM

    def by(r: Resin) -> tuple[float, ...]:
        price = shelf.price(r.id)
        return (price.price if price else 0.0, r.pot_life if quick else -r.pot_life)

    chosen = min(able, key=by)
    draft.put("resin", main=chosen.id)
    pace = "cures soonest of those that cure at all" if quick else "leaves most working time"
    why = f"epoxy bonds best to old laminate; this one {pace} at {draft.size(air, Kind.TEMPERATURE)}"
    draft.tell("resin", chosen.name, why)


def _laying(draft: Draft) -> None:
    from ribpatch.core.structure.pressure import area_of

    zone = draft.made.zone
    if zone.is_shell and zone.scheme.access.side == "outside" and area_of(zone, draft.made.boat) == "bottom":
        draft.put("laying", overhead=True)
        draft.tell("laying", "overhead", "the bottom is laid from below: no cloth too heavy to hang while it is wet")


def _tabbing(draft: Draft) -> None:
    zone = draft.made.zone
    if zone.is_tabbed:
        draft.put("laminate", tabbing=Tabbing())
        draft.tell("tabbing", "in the corner", "the plies lap onto both parts over a fillet, each wider than the last")


def _core(draft: Draft) -> None:
    zone = draft.made.zone
    if zone.build.core is None or draft.scheme.access.part_depth:
        return
    # Cores are compared under a skin: until the plies are chosen, under one like the old.
    like = plies_for_goal(draft.made, "sound", draft.system)
    draft.put("laminate", plies=like.plies)
    choices = draft.made.core_choices
    if not choices:
        return
    chosen, why = _best_core(choices, draft)
    draft.put("core", material=chosen.core.id, thickness=Measure(si=chosen.thickness))
    thick = "" if chosen.core.poured else f", {draft.size(chosen.thickness)}"
    draft.tell("core", f"{chosen.core.name}{thick}", why)


def _best_core(choices: tuple[CoreChoice, ...], draft: Draft) -> tuple[CoreChoice, str]:
    """The core, and why: as stiff and strong as the old one where any is; like for like where it did not rot."""
    from ribpatch.core.diagnosis.zone import WOOD

    zone, above = draft.made.zone, draft.scheme.access.side == "above"
    old = zone.build.core
    assert old is not None
    able = [c for c in choices if above or not c.core.poured]
    firm = [c for c in able if c.bolts is None or c.bolts <= 1] or able
    strong = [c for c in firm if c.shear >= 1 and c.bend >= LEAST_BEND] or [c for c in firm if c.shear >= 1] or firm
    like = next((c for c in strong if c.core.id == old.core), None)
    if draft.goal != "sound":
        chosen = min(strong, key=draft.measured)
        return chosen, f"the {draft.goal} of those that shear and bend no more than the old core{_bolted(chosen)}"
    if like is not None and like.core.faces not in WOOD:
        return like, "like for like: it did not rot, and it fits"
    dry = [c for c in strong if c.core.faces not in WOOD]
    if above and (poured := [c for c in strong if c.core.poured]):
        chosen = min(poured, key=lambda c: c.cost or 0.0)
        return chosen, "fills the cavity between standing skins without a seam, and does not rot"
    if dry:
        chosen = min(dry, key=lambda c: (c.bend < 1, c.cost if c.cost is not None else 1e9))
        return chosen, f"does not rot, and shears and bends no more than the old core{_bolted(chosen)}"
    chosen = like or max(strong, key=lambda c: c.shear)
    return (
        chosen,
        f"like for like: no core that cannot rot is as strong and stiff here; seal every hole{_bolted(chosen)}",
    )


def _bolted(chosen: CoreChoice) -> str:
    return f"; carries the fastenings with {chosen.bolts:.0%} of what it bears" if chosen.bolts is not None else ""


def _plies(draft: Draft) -> None:
    if draft.scheme.access.side == "above" and draft.made.patch.face.opening.region.is_empty:
        draft.put("laminate", plies=())
        draft.tell("plies", "none on the skins", "both skins stay; the opened edge is capped")
        return
    found = plies_for_goal(draft.made, draft.goal, draft.system)
    draft.put("laminate", plies=found.plies)
    draft.tell("plies", found.words, found.why)


def _taper(draft: Draft) -> None:
    zone, joint, band = draft.made.zone, draft.made.joint, draft.made.patch.band
    if band.thickness <= 0 or not draft.made.patch.outlines or draft.scheme.access.part_depth:
        return
    loaded = zone.kind in ("transom", "keel")
    ratio, why = 12.0, "the usual ratio of hulls and decks"
    if band.thickness <= THIN or loaded:
        ratio, why = 20.0, "highly loaded" if loaded else f"a thin skin, {draft.size(band.thickness)}"
    elif band.thickness >= THICK and not zone.is_shell:
        ratio, why = 8.0, f"thick laminate, {draft.size(band.thickness)}"
    need = ratio_for(draft.scheme.bond.factor.si, joint.stiffer, joint.glue) if joint is not None else 0.0
    enough = [s for s in SCHOOLS if s >= need]
    if need > ratio and enough:
        ratio, why = min(enough), f"the bond needs {fixed(need, 1)} : 1 for its factor"
    fits = band.least_ratio
    if fits < ratio:
        lower = [s for s in SCHOOLS if s <= fits]
        if lower:
            ratio, why = max(lower), f"no more than {fixed(fits, 1)} : 1 fits all round"
            short = f"; the bond would want {fixed(need, 1)} : 1 for its factor: move the cut, or add a doubler"
            why += short if ratio < need else ""
        else:
            room = f"only {fixed(fits, 1)} : 1 fits at the tightest place" if fits >= NO_TAPER else NO_ROOM
            why = f"{why}; {room}: see the warning"
    draft.put("taper", ratio=Measure(si=ratio, typed=f"{ratio:g}:1"))
    draft.tell("taper", f"{general(ratio)} : 1, ground", why)


def _backing(draft: Draft) -> None:
    zone, patch = draft.made.zone, draft.made.patch
    if zone.is_run or zone.build.core is not None or draft.scheme.access.part_depth or patch.cut.region.is_empty:
        return
    if draft.scheme.access.side == "outside" and zone.is_shell:
        draft.put("laminate", backing=Backing())
        draft.tell("backing", "strips under the hole", "cut through from outside: something must carry the first ply")


def _ends(draft: Draft) -> None:
    """Tabbing where the cut ends at the panel's edge; a cap on an edge that was opened from above."""
    zone, cut = draft.made.zone, draft.made.patch.cut.region
    if cut.is_empty:
        return
    if draft.scheme.access.side == "above":
        x0, _, x1, _ = cut.bounds
        _part(draft, "end cap", "cap over the opened edge", x1 - x0)
        draft.tell(
            "ends",
            f"a cap, {draft.size(x1 - x0, Kind.LENGTH)} long",
            "water came in at the top: the edge is glassed shut",
        )
        return
    if zone.kind not in ("sole", "bulkhead", "transom"):
        return
    edge = polygon_of(zone.outline).exterior
    length = edge.intersection(cut.buffer(NEAR)).length
    if length > 0.1:
        _part(draft, "angle", "tabbing where the panel ends", length)
        draft.tell(
            "ends",
            f"tabbing, {draft.size(length, Kind.LENGTH)} long",
            "the cut takes the panel's edge with it: what tied it there is laid again",
        )


def _part(draft: Draft, kind: str, name: str, length: float) -> None:
    from ribpatch.core.scheme_edits import made_part

    part = made_part(draft.scheme, kind, draft.made.shelf.first_fabric, CAP_PLIES)
    size = Measure(si=min(max(round(length, 2), 0.05), 20.0))
    draft.add_part(evolve(part, name=name, length=size))

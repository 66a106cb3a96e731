"""The diagnosis of a zone: which causes can be, what was found, what that asks of the repair, where else to look."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from msgspec import Struct

from ribpatch.core.diagnosis.by_place import placed_states, told_apart
from ribpatch.core.diagnosis.diagnose import CONTRIBUTES, Diagnosis, diagnose
from ribpatch.core.diagnosis.from_survey import LOOKED_AT, Seen, seen_in
from ribpatch.core.diagnosis.words import summary
from ribpatch.core.figure import Figure, FigureBook, Given, Origin
from ribpatch.core.geometry import polygon_of
from ribpatch.core.memo import remembered
from ribpatch.core.survey.extent import extent_of
from ribpatch.core.survey.structure import starts_of
from ribpatch.core.units import Kind

if TYPE_CHECKING:
    from ribpatch.core.job import Job, Zone
    from ribpatch.core.materials.cause_records import CauseCard, Remedy
    from ribpatch.core.materials.shelf import Shelf

SOURCE = (
    "Bayesian network summed exactly over all combinations of causes [13]; its probabilities are judgements, each "
    "with its reason"
)
ANSWERED = (*LOOKED_AT, "diagnosis")  # of a zone, what its diagnosis depends on
WOOD = ("end grain", "plywood")


@remembered(64)
def possible_causes(kind: str, core: str, shelf: Shelf) -> tuple[CauseCard, ...]:
    """The causes that can be in a kind of zone with a kind of core: none, other or wood."""
    held = {"": ("", "any", "wood"), "none": ("",), "other": ("", "any"), "wood": ("", "any", "wood")}[core]
    return tuple(c for c in shelf.causes if (not c.zones or kind in c.zones) and c.core in held)


def core_kind(zone: Zone, shelf: Shelf) -> str:
    """Whether a zone has no core, one of wood, or another."""
    if zone.build.core is None:
        return "none"
    return "wood" if shelf.core(zone.build.core.core).faces in WOOD else "other"


@remembered(256, zone=ANSWERED)
def said_in(zone: Zone, shelf: Shelf) -> tuple[Seen, ...]:
    """Everything said about findings: what the survey answers, and the user's own answers over it."""
    own = {a.finding: a.said for a in zone.diagnosis.answers}
    found = [s for s in seen_in(zone, shelf) if s.finding not in own]
    names = {card.id for card in shelf.findings}
    found += [Seen(f, said == "yes", "you said so") for f, said in own.items() if said != "unknown" and f in names]
    return tuple(sorted(found, key=lambda s: s.finding))


@remembered(256, zone=ANSWERED)
def diagnosis_of(zone: Zone, shelf: Shelf) -> Diagnosis:
    """The diagnosis of a zone as it stands."""
    causes = possible_causes(zone.kind, core_kind(zone, shelf), shelf)
    said = {s.finding: s.chance for s in said_in(zone, shelf)}
    return diagnose(causes, shelf.findings, said, told_apart(zone, shelf))


@remembered(128, zone=ANSWERED)
def sound_as_surveyed(zone: Zone, shelf: Shelf) -> bool:
    """Whether the survey is wide enough and shows no damage, and nobody said otherwise: no cause is asked for then."""
    survey = zone.survey
    if survey.drawn is not None or len(survey.readings) < shelf.rule("finding.taps"):
        return False
    if any(a.said == "yes" for a in zone.diagnosis.answers):
        return False
    extent = extent_of(survey, zone.outline, shelf, starts_of(zone, shelf))
    return extent.likely.is_empty and extent.any_damage < 0.5


def summary_of(zone: Zone, shelf: Shelf) -> str:
    """The diagnosis in a sentence."""
    if sound_as_surveyed(zone, shelf):
        extent = extent_of(zone.survey, zone.outline, shelf, starts_of(zone, shelf))
        looked = 1 - extent.unsurveyed_area / max(polygon_of(zone.outline).area, 1e-9)
        return f"Sound as far as surveyed, {looked:.0%} of the panel".replace("%", " %") + ": no cause is looked for."
    places = {p.state: p.words for p in placed_states(zone, shelf)}
    return summary(diagnosis_of(zone, shelf), places, damaged=zone.survey.drawn is not None)


Standing = Literal["open", "answered", "planned", "overruled"]


class Asked(Struct, frozen=True):
    """A remedy that a cause asks for, and how it stands: open, answered by the scheme, planned or overruled in
    words.
    """

    cause: CauseCard
    chance: float
    remedy: Remedy
    standing: Standing
    reason: str = ""


def remedies_of(zone: Zone, shelf: Shelf, answered: frozenset[str]) -> tuple[Asked, ...]:
    """What the likely causes ask of the repair. ``answered`` names the checks that the scheme meets."""
    if sound_as_surveyed(zone, shelf):
        return ()
    made = diagnosis_of(zone, shelf)
    settled = {s.remedy: s for s in zone.diagnosis.settled}
    found: list[Asked] = []
    for cause, chance in made.likely:
        for remedy in cause.remedies:
            word = settled.get(remedy.id)
            standing: Standing = word.how if word else "answered" if remedy.answered in answered - {""} else "open"
            found.append(Asked(cause, chance, remedy, standing, word.reason if word else ""))
    return tuple(found)


class Place(Struct, frozen=True):
    """Somewhere that the damage may have spread to: its id, what to look at, why, and the zone where it is one of
    ours.
    """

    id: str
    where: str
    why: str
    zone: str = ""


@remembered(128)
def places_to_look(job: Job, zone: Zone, shelf: Shelf) -> tuple[Place, ...]:
    """Where else to look, from the likely causes and from the zones that lie below and aft of this one."""
    if sound_as_surveyed(zone, shelf):
        return ()
    made = diagnosis_of(zone, shelf)
    found: dict[str, Place] = {}
    for cause, _ in made.likely:
        for spread in cause.spread:
            place = f"{cause.id}.{spread.way}"
            found[place] = Place(place, spread.where, cause.name)
    wet = made.chance("wet-core") + made.chance("rotted-core")
    if made.said and wet >= CONTRIBUTES:
        for other in job.zones:
            if other.id != zone.id and water_reaches(zone, other):
                place = f"zone.{other.id}"
                found[place] = Place(place, other.name, "lies below or aft of it: water runs there", other.id)
    return tuple(found.values())


LOOK = {"sound": "✓", "bad": "⚠", "not reachable": "–"}


def look_marks(job: Job, zone: Zone, shelf: Shelf) -> tuple[str, ...]:
    """For each zone of the job: ``?`` where it is still to be looked at for spread from this one, else what was
    found.
    """
    looked = {p.place: LOOK[p.found] for p in zone.diagnosis.looked}
    wanted = {p.zone: looked.get(p.id, "?") for p in places_to_look(job, zone, shelf) if p.zone}
    return tuple(wanted.get(other.id, "") for other in job.zones)


def water_reaches(zone: Zone, other: Zone) -> bool:
    """Whether water that leaves a zone runs towards another: lower, and not ahead of it."""
    lower = other.place.height.si < zone.place.height.si - 0.05
    ahead = other.place.station.si > zone.place.station.si + 0.3
    across = {other.place.side, zone.place.side} == {"port", "starboard"}
    return lower and not ahead and not across


@remembered(96, zone=ANSWERED)
def cause_figures(zone: Zone, shelf: Shelf, prefix: str) -> tuple[Figure, ...]:
    """The chance of every cause that can be, as figures that show their working."""
    book = FigureBook(prefix)
    made = diagnosis_of(zone, shelf)
    names = {card.id: card.name for card in shelf.findings}
    inputs = tuple(
        Given(
            names[s.finding],
            "yes" if s.there else "no",
            None,
            Origin.YOURS if s.why == "you said so" else Origin.MEASURED,
            note=s.why,
        )
        for s in said_in(zone, shelf)
    )
    for cause, chance in zip(made.network.causes, made.chances.tolist(), strict=True):
        prior = Given(
            "chance before anything was found", cause.prior, Kind.PERCENT, shelf.origin(cause.id), note=cause.reason
        )
        book.add(
            f"cause.{cause.id}",
            cause.name,
            chance,
            Kind.PERCENT,
            "share of all combinations of causes in which this one holds, each weighed by how well it explains what "
            "was found",
            (prior, *inputs),
            source=SOURCE,
            valid="causes of the list only; a judgement, not a measurement",
        )
    return book.figures

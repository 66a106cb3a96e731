"""What a zone's panels list beside its figures, as lazy as these: causes, next tests, sides, what precedes a cut."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from msgspec import Struct

if TYPE_CHECKING:
    from ribpatch.core.diagnosis.diagnose import Diagnosis
    from ribpatch.core.diagnosis.from_survey import Seen
    from ribpatch.core.diagnosis.zone import Asked
    from ribpatch.core.facts import Fact
    from ribpatch.core.figure import Figure
    from ribpatch.core.job import Boat, ShedAir, Zone
    from ribpatch.core.materials.shelf import Shelf
    from ribpatch.core.patch.access.before import ChecklistItem
    from ribpatch.core.patch.access.scores import SideScore
    from ribpatch.core.patch.bonding.protocol import Interface
    from ribpatch.core.patch.repair import Patch
    from ribpatch.core.survey.next_test import NextTest
    from ribpatch.core.survey.practice import Result
    from ribpatch.core.survey.sessions import Drying
    from ribpatch.core.survey.strikes import Verdict
    from ribpatch.core.survey.way_in import Source


class ZoneLists(Struct, frozen=True, eq=False, dict=True):
    """The lists of one zone, each worked out when it is first asked for."""

    zone: Zone
    air: ShedAir
    boat: Boat
    shelf: Shelf

    @property
    def year(self) -> int | None:
        """The year that the boat was built in."""
        return self.boat.year

    @cached_property
    def assumed(self) -> tuple[Fact, ...]:
        """What is only assumed of the zone, her shed and the boat."""
        from ribpatch.core.leaning import assumed_in

        return assumed_in(self.zone, self.air, self.boat)

    def told(self, group: str, figures: tuple[Figure, ...]) -> tuple[Figure, ...]:
        """The figures of a group, each with what it leans on."""
        from ribpatch.core.leaning import leaning

        return leaning(figures, group, self.assumed) if self.assumed else figures

    @cached_property
    def patch(self) -> Patch:
        """The geometry of the repair."""
        from ribpatch.core.patch.repair import patch_of

        return patch_of(self.zone, self.shelf)

    @cached_property
    def found(self) -> Patch:
        """The zone before anything is opened."""
        from ribpatch.core.patch.repair import as_found

        return as_found(self.zone, self.shelf)

    @cached_property
    def said(self) -> tuple[Seen, ...]:
        """What was found, by the survey and by the user."""
        from ribpatch.core.diagnosis.zone import said_in

        return said_in(self.zone, self.shelf)

    @cached_property
    def diagnosis(self) -> Diagnosis:
        """The causes, with what speaks for and against each."""
        from ribpatch.core.diagnosis.zone import diagnosis_of

        return diagnosis_of(self.zone, self.shelf)

    @cached_property
    def cause_words(self) -> str:
        """The diagnosis in a sentence."""
        from ribpatch.core.diagnosis.zone import summary_of

        return summary_of(self.zone, self.shelf)

    @cached_property
    def asked(self) -> tuple[Asked, ...]:
        """What the likely causes ask of the repair, and how it stands."""
        from ribpatch.core.survey_checks import asked_of

        return asked_of(self.zone, self.patch, self.shelf)

    @cached_property
    def next_tests(self) -> tuple[NextTest, ...]:
        """The places to test next, best first."""
        from ribpatch.core.survey.next_test import next_tests
        from ribpatch.core.survey.structure import starts_of

        return next_tests(self.zone.survey, self.zone.outline, self.shelf, starts_of(self.zone, self.shelf))

    @cached_property
    def heard(self) -> dict[str, Verdict | None]:
        """What each recorded tap is told as, by the reading's id; None without a sound reference."""
        from ribpatch.core.survey.heard import heard

        return heard(self.zone.survey, self.shelf)

    @cached_property
    def sources(self) -> tuple[Source, ...]:
        """Where the water came in, likeliest first, as of the year of the last session."""
        from ribpatch.core.survey.way_in import ways_in

        years = [int(s.date[:4]) for s in self.zone.survey.sessions if s.date[:4].isdigit()]
        return ways_in(self.zone, self.year, max(years, default=None), self.shelf)

    @cached_property
    def drying(self) -> tuple[Drying, ...]:
        """How the places read in several sessions dry."""
        from ribpatch.core.survey.sessions import drying_curves

        return drying_curves(self.zone.survey, self.shelf)

    @cached_property
    def practice_result(self) -> Result | None:
        """How the survey of a practice zone stands against its truth; None for any other zone."""
        from ribpatch.core.survey.lone import lone_readings
        from ribpatch.core.survey.panel import truth_of
        from ribpatch.core.survey.practice import score_practice

        zone = self.zone
        if zone.practice is None:
            return None
        truth = truth_of(zone.practice, zone.outline)
        extent, alone = self.patch.extent, len(lone_readings(zone, self.shelf))
        return score_practice(zone.survey, extent.likely, extent.unsurveyed, truth, self.shelf, alone)

    @cached_property
    def interfaces(self) -> tuple[Interface, ...]:
        """Every interface of the repair from the inside out, with the steps of its bond."""
        from ribpatch.core.patch.bonding.protocol import bond_plan

        return bond_plan(self.zone, self.patch, self.year, self.shelf)

    @cached_property
    def coupon_test(self) -> tuple[str, ...]:
        """What to try before another resin goes on."""
        from ribpatch.core.patch.bonding.protocol import coupon_test

        return coupon_test(self.zone, self.shelf)

    @property
    def aim(self) -> float:
        """The thickness that the stack of the main face should reach, m."""
        from ribpatch.core.patch.repair import to_reach

        return to_reach(self.zone, self.patch)

    @cached_property
    def side_scores(self) -> tuple[SideScore, ...]:
        """The sides from which the zone can be opened, with their marks."""
        from ribpatch.core.patch.access.scores import side_scores

        return side_scores(self.zone, self.patch, self.shelf)

    @cached_property
    def checklist(self) -> tuple[ChecklistItem, ...]:
        """What is to be done before the zone is cut."""
        from ribpatch.core.patch.access.before import checklist

        return checklist(self.zone, self.patch, self.shelf)

"""Steps put one after the other, each over what was laid before it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ribpatch.core.steps.records import StepRow, StepWait, Until, mark_time

if TYPE_CHECKING:
    from ribpatch.core.materials.records import Resin
    from ribpatch.core.steps.zone import Worked

CARRYING = ("part", "bed", "pour", "lay", "join", "knee")  # kinds of steps whose resin carries load once in service
OPEN_FOR = 2 * 3600.0  # s at 25 degC that a window stays open after the clamps are off; shorter ones are not planned
FRESH = Until("", worth=86_400.0)  # by the wall: an abraded face is laid on within a day


class Maker:
    """Steps as they are put one after the other."""

    def __init__(self, made: Worked) -> None:
        self.made, self.shelf, self.zone = made, made.shelf, made.zone
        self.rows: list[StepRow] = []
        self.waits: list[StepWait] = []
        self.aside: list[StepRow] = []  # what is done beside the rest

    def add(
        self, kind: str, amount: float, hours: float | None = None, *, key: str = "", name: str = "", **more: object
    ) -> StepRow:
        """A step of so much, or of so many hours, s, before set-up and clean-up."""
        card = self.shelf.step(kind)
        worked = (amount * card.hours * 3600 if hours is None else hours) * card.pace
        total = worked + (card.set_up + card.clean_up) * 3600
        people = card.people + (1 if card.people and total > card.more_from * 3600 else 0)
        row = StepRow(
            f"{self.zone.id}.{key or kind}",
            self.zone.id,
            card,
            name or card.name,
            total if card.people else 0.0,
            amount,
            people,
            **more,  # type: ignore[arg-type]  # the other fields, by name
        )
        self.rows.append(row)
        return row

    def follow(self, after: StepRow, before: StepRow | None = None, why: str = "", **more: object) -> None:
        """A step follows another, usually the one put before it."""
        if before is None:
            place = self.rows.index(after)
            if place == 0:
                return
            before = self.rows[place - 1]
        self.waits.append(StepWait(before.id, after.id, why=why, **more))  # type: ignore[arg-type]  # fields by name

    def while_fresh(self, after: StepRow, abraded: StepRow) -> None:
        """A step wets an abraded face within a day; later, the face is abraded again."""
        self.follow(after, abraded, "wet within a day of the last abrading", most=FRESH, missed=abraded.hours)

    def carrying(self) -> tuple[StepRow, ...]:
        """What was laid so far and carries load."""
        return tuple(r for r in (*self.aside, *self.rows) if r.kind.id in CARRYING)

    def then(self, kind: str, amount: float, hours: float | None = None, why: str = "", **more: object) -> StepRow:
        """A step that follows the one before it; ``hours`` in s, of all people, before set-up and clean-up."""
        row = self.add(kind, amount, hours, **more)  # type: ignore[arg-type]  # fields by name
        self.follow(row, why=why)
        return row


def on_top(
    m: Maker,
    kind: str,
    amount: float,
    hours: float | None = None,
    between: str = "",
    *,
    key: str = "",
    **more: object,
) -> StepRow:
    """A step laid over what was laid before it: in the green window without sanding, or once that is cured, washed and
    abraded. A face is primed for plies once the clamps are off the core. ``hours`` in s, of all people.
    """
    before = m.rows[-1]
    opens = "unclamp" if kind == "prime" else "green_from"
    resin = m.shelf.resin(before.lays)
    if (between or m.zone.scheme.laying.between) == "cured" or not _has_window(resin, opens):
        name = "wash and abrade between" if kind != "prime" else "wash and abrade the face for plies"
        sanded = m.add("abrade", amount, key=f"abrade.{key or kind}", name=name)
        m.follow(sanded, before, "cured, then washed and abraded", least=Until(before.lays, "sandable"))
        row = m.add(kind, amount, hours, key=key, **more)  # type: ignore[arg-type]  # fields by name
        m.while_fresh(row, sanded)
        return row
    abrade = m.shelf.step("abrade")
    row = m.add(kind, amount, hours, key=key, **more)  # type: ignore[arg-type]  # fields by name
    clamps = "the clamps come off once the bed has set; " if kind == "prime" else ""
    m.follow(
        row,
        before,
        f"{clamps}bonds without sanding while {resin.name} is green",
        least=Until(before.lays, opens),
        most=Until(before.lays, "green_to"),
        missed=(amount * abrade.hours * abrade.pace + abrade.set_up + abrade.clean_up) * 3600,
        missed_least=Until(before.lays, "sandable"),
    )
    return row


def _has_window(resin: Resin, opens: str) -> bool:
    """Whether the green window is long enough to be met once a mark has come."""
    if resin.green_from is None or resin.green_to is None:
        return False
    if opens == "green_from":
        return resin.green_to > resin.green_from
    return resin.green_to >= max(resin.green_from, mark_time(resin, opens)) + OPEN_FOR

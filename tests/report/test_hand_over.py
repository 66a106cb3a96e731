"""The hand-over report."""

from tests.papers import text_of

from ribpatch.core.log_edits import log_entry
from ribpatch.core.logged_days import logged_days
from ribpatch.core.plan import plan
from ribpatch.core.readings import Photograph
from ribpatch.core.record import evolve
from ribpatch.report.hand_over import hand_over


def test_it_tells_what_was_found_done_and_when_to_look_again(job, shelf):
    zones = list(job.zones)
    zones[3] = evolve(
        zones[3],
        survey=evolve(
            zones[3].survey,
            photographs=(
                Photograph(id="p1", member="before.jpg", caption="the hole"),
                Photograph(id="p2", member="after.jpg", caption="closed"),
            ),
        ),
    )
    made = evolve(job, zones=tuple(zones))
    for kind, at, more in (
        ("begun", "2026-11-30T08:00", {"step": "z4.strip"}),
        ("ended", "2026-11-30T12:00", {"step": "z4.strip"}),
        ("said", "2026-12-01T12:00", {"step": "z4.lay1", "note": "one ply more at the bolt", "deviation": True}),
        ("said", "2026-12-02T12:00", {"step": "z4.lay1", "photographs": ("p2",)}),
    ):
        made = log_entry(made, kind, at=at, **more).change(made)
    drawn = plan(made, shelf)
    days = logged_days(drawn, "", "")
    data = hand_over(drawn, days, {}, "metric", "A4")
    assert data == hand_over(drawn, days, {}, "metric", "A4")
    text = " ".join(text_of(data).split())
    for words in (
        "Heron Reach: hand-over",
        "support and strip out",
        "one ply more at the bolt",
        "the hole",
        "before.jpg cannot be read",
        "Look again by 2027-06-02",
        "Not inspected",
        "They certify nothing",
        "Nothing is logged yet of its 15 steps",
    ):
        assert words in text, words
    us = text_of(hand_over(drawn, days, {}, "us", "Letter"))
    assert "lb" in us and "kg" not in us

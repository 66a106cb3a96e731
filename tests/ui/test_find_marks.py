"""Where to test next follows the picture of a reading."""

from ribpatch.core.drawing.shapes import Badge
from ribpatch.core.survey.entry import made_reading
from ribpatch.core.survey_edits import put_reading


def numbered(window):
    shapes = window.zone_bench.plan_canvas.drawing.shapes
    return [s for s in shapes if isinstance(s, Badge) and s.role == "next"]


def test_places_to_test_stay_until_the_new_ones_are_known(window):
    window.session.go("z1", "find")
    window.showing.finish()
    before = numbered(window)
    assert [b.text for b in before][:1] == ["1"]
    window.showing.at_once = False
    place = before[0].at
    tap = made_reading("tap", window.session.plan.shelf, x=place[0], y=place[1], grade="ring")
    window.session.apply(put_reading("z1", tap, 0.001))
    assert numbered(window) == before, "the picture does not wait for them"
    window.showing.finish()
    after = numbered(window)
    assert after != before and after[:3] == [
        Badge(t.at, str(n), "next") for n, t in enumerate(window.session.plan.zone("z1").next_tests[:3], 1)
    ]
    window.session.go("z2", "find")
    window.showing.finish()
    window.session.go("z1", "find")
    assert numbered(window) == after, "those of a zone that was left are shown at once"

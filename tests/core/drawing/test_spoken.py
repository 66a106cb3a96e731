"""A drawing in words, for those who listen."""

from ribpatch.core.drawing.shapes import Area, Badge, Callout, Dimension, Drawing, Spot, Text
from ribpatch.core.drawing.spoken import MOST, spoken

SQUARE = ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0))


def drawn(*shapes):
    return Drawing("a zone", "", (0.0, 0.0, 1.0, 1.0), shapes)


def test_words_sizes_marks_and_readings_are_told_each_with_its_place():
    drawing = drawn(
        Area((SQUARE,), "cut"),
        Text((0.1, 0.2), "sound", "note"),
        Text((0.3, 0.3), "", "note"),
        Callout((0.5, 0.5), "mooring bollard", "left"),
        Dimension((0.0, 0.0), (1.0, 0.4), "1.00 m"),
        Badge((0.2, 0.2), "3", "next"),
        Badge((0.4, 0.4), "2", "odd role"),
        Spot((0.7, 0.7), "circle", 1.0, False, "r1"),
        Spot((0.8, 0.8), "square", 0.0, True, "r2"),
        Spot((0.9, 0.9), "tag", 0.0, False, "lost", "P"),
    )
    said = {"r1": "tap dull", "r2": "moisture 12"}
    assert spoken(drawing, lambda key: said.get(key, "")) == [
        ("sound", (0.1, 0.2)),
        ("mooring bollard", (0.5, 0.5)),
        ("1.00 m", (0.5, 0.2)),
        ("place to test 3", (0.2, 0.2)),
        ("odd role 2", (0.4, 0.4)),
        ("tap dull", (0.7, 0.7)),
        ("moisture 12, reference", (0.8, 0.8)),
        ("P", (0.9, 0.9)),
    ]


def test_what_is_drawn_twice_is_told_once():
    assert len(spoken(drawn(Text((0.1, 0.1), "gap", ""), Callout((0.1, 0.1), "gap", "right")))) == 1


def test_of_very_many_the_rest_is_counted():
    def many(count):
        return spoken(drawn(*(Text((n / 1000, 0.0), f"note {n}", "") for n in range(count))))

    assert len(many(MOST)) == MOST and many(MOST)[-1][0] == f"note {MOST - 1}"
    told = many(MOST + 7)
    assert len(told) == MOST + 1 and told[-1][0] == "and 7 more" and told[-2][0] == f"note {MOST - 1}"

"""``ribpatch calc``: what it answers, what it refuses, and that it documents itself."""

from __future__ import annotations

import io
import json
from math import exp, log

import pytest

from ribpatch.cli import calc
from ribpatch.cli.commands import run
from ribpatch.core.errors import Fault, ManyFaults

STEEL = {"D": [[19230.8, 5769.2, 0], [5769.2, 19230.8, 0], [0, 0, 6730.8]], "S": [[6.7e8, 0], [0, 6.7e8]]}


def panel(**more: object) -> dict[str, object]:
    whole = [{"x0": 0, "y0": 0, "x1": 1, "y1": 1, "pressure": 1000.0}]
    return {"a": 1.0, "b": 1.0, "stiffness": STEEL, "loads": whole, **more}


def answer(name: str, given: object) -> dict[str, object]:
    return calc.calculate(name, json.dumps(given))


def test_a_supported_square_panel_is_as_the_table_says() -> None:
    made = answer("panel", panel(points=[[0.5, 0.5], [0, 0.5]]))
    assert made["max"]["w"]["value"] * 19230.8 / 1000 == pytest.approx(0.00406, rel=5e-3)  # type: ignore[index]
    assert made["points"][0]["mx"] / 1000 == pytest.approx(0.0479, rel=0.02)  # type: ignore[index]
    assert made["points"][1]["w"] == pytest.approx(0.0, abs=1e-12)  # type: ignore[index]
    assert "decide" in str(made["note"])


def test_a_stack_gives_the_stiffness_of_its_layers() -> None:
    layers = [{"thickness": 0.01, "E1": 1e10, "nu12": 0.3}]
    made = answer("stack", {"layers": layers})
    assert made["D"][0][0] == pytest.approx(1e10 * 0.01**3 / 12 / 0.91)  # type: ignore[index]
    assert made["S"][0][0] == pytest.approx(5 / 6 * 1e10 / 2.6 * 0.01)  # type: ignore[index]
    one = answer("panel", panel(stiffness={"stack": layers}))
    same = answer("panel", panel(stiffness={"D": made["D"], "S": made["S"]}))
    assert one["max"] == same["max"]


def test_a_sandwich_carries_shear_in_its_core() -> None:
    layers = [
        {"thickness": 0.003, "E1": 1e10},
        {"thickness": 0.02, "E1": 1e8, "G12": 4e7, "G23": 2e7, "core": True},
        {"thickness": 0.005, "E1": 1e10},
    ]
    S = answer("stack", {"layers": layers})["S"]
    assert S[0][0] == pytest.approx(4e7 * 0.024**2 / 0.02)  # type: ignore[index]
    assert S[1][1] == pytest.approx(2e7 * 0.024**2 / 0.02)  # type: ignore[index]


def test_beam_section_ply_and_scarf_by_closed_forms() -> None:
    load = [{"start": 0, "end": 2, "force": 100}]
    beam = answer("beam", {"length": 2, "EI": 1000, "loads": load, "points": [1.0]})
    assert beam["points"][0]["w"] == pytest.approx(5 * 100 * 8 / 384 / 1000, rel=1e-3)  # type: ignore[index]
    part = {"name": "bar", "width": 0.05, "height": 0.1, "bottom": 0, "E": 1e10, "G": 4e9}
    section = answer("section", {"parts": [part], "shear": 1000, "levels": [0.05]})
    assert section["EI"] == pytest.approx(1e10 * 0.05 * 0.001 / 12)
    assert section["shear_flow"][0]["value"] == pytest.approx(1.5 * 1000 / 0.1)  # type: ignore[index]
    assert answer("ply", {"weight": 0.3, "fibre_fraction": 0.3})["resin"] == pytest.approx(0.7)
    scarf = answer("scarf", {"ratio": 12, "thickness": 0.006, "stress": 5e7})
    assert scarf["shear"] == pytest.approx(5e7 * 12 / 145)
    assert scarf["peel"] == pytest.approx(5e7 / 145)


@pytest.mark.parametrize(
    ("name", "text", "words"),
    [
        ("beam", "{", "no JSON"),
        ("beam", "[]", "one JSON object"),
        ("beam", '{"length": NaN}', "NaN"),
        ("beam", "[" * 100_000, "JSON"),
        ("scarf", '{"ratio": 12, "thicknes": 1, "stress": 1}', "thicknes"),
        ("panel", json.dumps(panel(points=[[2, 0.5]])), "off the panel"),
        ("panel", json.dumps(panel(stiffness={"D": [[1, 0], [0, 1]], "S": [[1, 0], [0, 1]]})), "3 by 3"),
        ("panel", json.dumps(panel(stiffness={})), "either D and S"),
        ("panel", json.dumps(panel(loads=[{"x0": 0.2, "y0": 0.2, "x1": 0.2, "y1": 0.3, "pressure": 1}])), "no area"),
        ("panel", json.dumps(panel(edges={"left": "F", "right": "F", "top": "F", "bottom": "F"})), "mechanism"),
    ],
)
def test_bad_input_is_refused_with_where_it_lies(name: str, text: str, words: str) -> None:
    with pytest.raises((Fault, ManyFaults)) as caught:
        calc.calculate(name, text)
    faults = caught.value.faults if isinstance(caught.value, ManyFaults) else (caught.value,)
    assert any(words in fault.sentence for fault in faults)


@pytest.mark.parametrize("name", list(calc.METHODS))
def test_every_method_documents_what_it_reads(name: str, capsys: pytest.CaptureFixture[str]) -> None:
    assert run(["calc", name, "--schema"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["type"] == "object"
    assert told["required"]


def test_the_command_reads_and_writes_streams(
    capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("sys.stdin", io.StringIO('{"weight": 0.45, "fibre_fraction": 0.5}'))
    assert run(["calc", "ply"]) == 0
    assert json.loads(capsys.readouterr().out)["weight"] == pytest.approx(0.9)
    monkeypatch.setattr("sys.stdin", io.StringIO('{"weight": -1, "fibre_fraction": 0.5}'))
    assert run(["calc", "ply"]) == 1
    assert "weight" in capsys.readouterr().err


def test_cup_slab_and_trim_by_closed_forms() -> None:
    kinetics = {"rate": 1e-3, "activation": 0, "heat": 0, "order": 1, "seed": 0.1}
    cup = answer("cup", {"kinetics": kinetics, "mass": 0.2, "cured": 0.5, "mixed": 25, "air": 20})
    assert cup["time_to_cured"] == pytest.approx(log(0.6 / 0.05) / 1.1e-3, rel=1e-3)
    assert cup["time_to_hot"] is None and cup["peak"] == pytest.approx(25)
    hot = answer("cup", {"kinetics": {**kinetics, "heat": 3.8e5}, "mass": 0.2, "area": 0, "mixed": 20, "air": 20})
    assert hot["peak"] == pytest.approx(20 + 0.97 * 200) and hot["adiabatic_rise"] == 200
    life = answer("cup", {"kinetics": {"pot_life": 1500, "pot_mass": 0.1}, "mass": 0.1})
    assert life["working_time"] == pytest.approx(1500, rel=3e-3)
    tray = answer("cup", {"kinetics": {"pot_life": 1500}, "mass": 0.1, "vessel": "tray", "depth": 0.01})
    assert tray["area"] == pytest.approx(2 * 0.1 / 1150 / 0.01 + 4 * (0.1 / 1150 / 0.01) ** 0.5 * 0.01)
    thick = {
        "kinetics": {**kinetics, "heat": 2.6e5},
        "thickness": 0.02,
        "resin_share": 0.5,
        "loss": 1e-6,
        "loss_below": 1e-6,
    }
    slab = answer("slab", thick)
    assert slab["peak"] == pytest.approx(20 + 0.97 * 100, rel=0.02) and slab["time_to_hot"] is not None
    boat = {"length": 6, "beam": 2, "transom": 1, "widest": 1, "displacement": 2400}
    trim = answer("trim", {**boat, "changes": [{"mass": 30, "x": 5, "y": 0.5}]})
    assert trim["sinkage"] == pytest.approx(30 / 12000) and trim["height_along"] == pytest.approx(36 / 2.4, rel=1e-3)
    stations = answer("trim", {**boat, "half_breadths": [1, 1, 1, 1], "changes": [{"mass": 30, "x": 5}]})
    assert stations["sinkage"] == trim["sinkage"] and stations["deeper_at_stem"] == pytest.approx(
        trim["deeper_at_stem"], rel=1e-3
    )


@pytest.mark.parametrize(
    ("name", "text", "words"),
    [
        ("cup", '{"kinetics": {}, "mass": 0.1}', "either rate"),
        ("cup", '{"kinetics": {"rate": 1, "pot_life": 9}, "mass": 0.1}', "either rate"),
        ("slab", '{"kinetics": {"rate": 0.001}, "thickness": 0}', "thickness"),
        (
            "trim",
            '{"length": 6, "beam": 2, "displacement": 9, "half_breadths": [0], "changes": [{"mass": 1, "x": 1}]}',
            "no area",
        ),
    ],
)
def test_what_a_cup_a_slab_or_a_trim_lacks_is_told(name: str, text: str, words: str) -> None:
    with pytest.raises((Fault, ManyFaults), match=words):
        calc.calculate(name, text)


def test_pieces_on_a_roll_are_nested_and_what_cannot_lie_is_told() -> None:
    half = [[0, 0], [1, 0], [0, 1]]
    pieces = [{"polygon": half}, {"polygon": [*half, [0, 0]], "turns": [180]}, {"long": 0.5, "wide": 1.0, "turn": 0}]
    made = answer("nest", {"roll_width": 1.0, "pieces": pieces})
    assert made["length"] == pytest.approx(1.5) and made["proven"] and made["utilisation"] == pytest.approx(1.0)
    rows = made["pieces"]
    assert [p["piece"] for p in rows] == [1, 2, 3] and made["bound"] == pytest.approx(1.5)  # type: ignore[union-attr, index]
    assert rows[1]["turn"] == 180 and rows[1]["outline"][0] == pytest.approx([rows[1]["x"] + 1, 1.0])  # type: ignore[index]
    assert {(p["long"], p["wide"]) for p in rows} == {(1.0, 1.0), (0.5, 1.0)}  # type: ignore[union-attr, index]
    first = answer("nest", {"roll_width": 1.0, "pieces": [{"long": 0.3, "wide": 0.7}] * 2, "seconds": 0})
    assert first["length"] == pytest.approx(0.6) and not first["pieces"][0]["turned"]  # type: ignore[index]
    turned = answer("nest", {"roll_width": 1.0, "pieces": [{"long": 1, "wide": 0.5, "turn": "any"}], "seconds": 0})
    assert turned["length"] == pytest.approx(0.5) and turned["pieces"][0]["turned"]  # type: ignore[index]
    for wrong, words in (
        ({"roll_width": 0.5, "pieces": pieces}, "roll 0.5 m"),
        ({"roll_width": 1, "pieces": [{"long": 1}]}, "either long and wide"),
        ({"roll_width": 1, "pieces": [{"polygon": [[0, 0], [1, 1]]}]}, "three corners"),
        ({"roll_width": 1, "pieces": [{"polygon": [[0, 0], [1, 1], [1, 0], [0, 1]]}]}, "piece 1"),
        ({"roll_width": 1, "pieces": [{"polygon": half, "turn": 45}]}, "turn"),
    ):
        with pytest.raises((Fault, ManyFaults), match=words):
            answer("nest", wrong)


def test_pieces_on_sheets_are_counted_laid_and_what_goes_on_none_is_told() -> None:
    given = {"sheet": {"long": 2.0, "wide": 1.0}, "pieces": [{"long": 1.0, "wide": 0.5, "count": 4}]}
    made = answer("sheets", given)
    assert made["sheets"] == 1 == made["bound"] and made["proven"] and made["utilisation"] == pytest.approx(1.0)
    assert [p["piece"] for p in made["pieces"]] == [1, 1, 1, 1]  # type: ignore[union-attr, index]
    assert answer("sheets", {**given, "kerf": 0.003})["sheets"] == 2
    spare = answer("sheets", {**given, "off_cuts": [{"long": 1.0, "wide": 1.0}]})
    assert spare["off_cuts_used"] == 1 and spare["sheets"] == 1 and spare["proven"] is None
    for wrong, words in (
        ({**given, "pieces": [{"long": 1.5, "wide": 1.2, "turn": 0}]}, "piece 1.*sheet 2 by 1 m"),
        ({**given, "pieces": [{"long": 1, "wide": 0.1, "count": 500}] * 3}, "more than 1000"),
        ({**given, "kerf": -1}, "kerf"),
    ):
        with pytest.raises((Fault, ManyFaults), match=words):
            answer("sheets", wrong)


def test_a_clock_reads_temperatures_over_time():
    held = [{"hours": 0, "degrees": 20}, {"hours": 2, "degrees": 10}]
    marks = [{"name": "gel", "hours": 1}, {"name": "sandable", "hours": 6}]
    made = answer("clock", {"temperatures": held, "between": "held", "marks": marks, "ask": [2]})
    slow = [exp(55_000 / 8.314462618 * (1 / (t + 273.15) - 1 / 298.15)) for t in (20, 10)]
    assert made["marks"][0]["hours"] == pytest.approx(slow[0])
    assert made["marks"][1]["after"] == pytest.approx(2 + (6 - 2 / slow[0]) * slow[1])
    assert made["progress"] == [{"hours": 2, "worth": pytest.approx(2 / slow[0])}]
    cold = answer("clock", {"temperatures": held, "between": "held", "marks": marks, "least": 12, "laid": 1})
    assert cold["marks"][1]["hours"] is None and "below 12" in cold["marks"][1]["why"]
    with pytest.raises(Fault, match="rise"):
        answer("clock", {"temperatures": held[::-1], "marks": marks})


def test_a_schedule_is_the_best_one_or_tells_the_clash():
    steps = [{"id": "a", "hours": 4}, {"id": "b", "hours": 4, "people": 2, "lays": True}, {"id": "c", "hours": 2}]
    lags = [{"before": "a", "after": "b", "most": {"hours": 30}}, {"before": "b", "after": "c", "least": {"cure": 10}}]
    crew = [{"name": "x"}, {"name": "y", "hours": [[8, 12], [13, 18]]}]
    air = {"hours": [{"hours": 0, "temperature": 20}, {"hours": 36, "temperature": 8}], "least": 10}
    asked = {"steps": steps, "lags": lags, "crew": crew, "days": 14}
    made = answer("schedule", asked)
    slow = exp(55_000 / 8.314462618 * (1 / 293.15 - 1 / 298.15))
    rows = {s["id"]: s for s in made["steps"]}
    # a from 8 to 12 on Monday, b from 13 to 17 with both; 10 h of cure by the wall without air.
    assert rows["b"]["start"] == 13 and rows["b"]["who"] == ["x", "y"] and rows["c"]["start"] == 32
    assert made["best"] and made["finish"] == made["bound"] == 34 and made["sandings"] == made["late_hours"] == 0
    cured = answer("schedule", {**asked, "air": air})
    assert {s["id"]: s for s in cured["steps"]}["c"]["start"] == pytest.approx(32)
    assert 17 + 10 * slow < 32
    long = answer("schedule", {**asked, "steps": [{**steps[0], "hours": 12}, *steps[1:]], "lags": lags[1:]})
    whole = {s["id"]: s for s in long["steps"]}["a"]
    assert whole["end"] - whole["start"] > 20  # over a night, as all work may that lays nothing
    in_one_go = answer("schedule", {**asked, "steps": [{**steps[0], "hours": 12, "split": False}], "lags": []})
    assert not in_one_go["found"] and in_one_go["frees"][0]["kind"] == "one go"
    held = answer("schedule", {**asked, "steps": [*steps[:2], {**steps[2], "latest": 33}]})
    assert not held["found"] and held["frees"][0]["hours"] == 34 and "34" in held["frees"][0]["words"]
    for wrong, words in (
        ({"grid": 7}, "whole number"),
        ({"lags": [{"before": "a", "after": "z"}]}, "no such step"),
        ({"crew": [{"name": "x"}, {"name": "x"}]}, "same name"),
        ({"lags": [{"before": "a", "after": "b", "least": {}}]}, "either hours or cure"),
    ):
        with pytest.raises(Fault, match=words):
            answer("schedule", {**asked, **wrong})


def test_a_picture_of_a_plane_is_read_by_another_camera_than_ours():
    from tests.core.photo.scene import RECTANGLE, SHAPE, spots

    places = [(0.0, 0.0), (1.5, 0.2), (1.4, 0.9)]
    told = {"marks": spots(RECTANGLE), "sizes": [1.0, 0.6], "shape": SHAPE, "x": 0.2, "y": 0.1, "places": spots(places)}
    told["checks"] = [{"a": spots([(0.2, 0.1)])[0], "b": spots([(1.2, 0.7)])[0], "length": 1.16619}]
    answer = calc.calculate("straighten", json.dumps(told))
    assert answer["places"] == [pytest.approx(p, abs=1e-6) for p in places] and not answer["suspect"]
    assert answer["checks"][0]["read"] == pytest.approx(1.16619, abs=1e-4) and min(answer["spread"]) > 0
    with pytest.raises(Fault, match="lengths are wanted"):
        calc.calculate("straighten", json.dumps({**told, "sizes": [1.0, 0.6, 0.3]}))
    high = calc.calculate("straighten", json.dumps({**told, "places": [[0.5, -0.99]]}))
    assert high["places"] == [None] == high["spread"]


def test_tapes_and_typed_sides_answer_alone():
    spans = [("1", "2", 1.0), ("1", "A", 2**0.5), ("2", "A", 1.0), ("1", "B", 1.0), ("2", "B", 2**0.5), ("A", "B", 1.0)]
    answer = calc.calculate(
        "tapes", json.dumps({"spans": [dict(zip("ab", s[:2], strict=True)) | {"length": s[2]} for s in spans]})
    )
    assert answer["points"]["A"] == pytest.approx([1, 1], abs=1e-6) and answer["points"]["B"] == pytest.approx(
        [0, 1], abs=1e-6
    )
    assert answer["misfit"] == pytest.approx(0, abs=1e-9) and not answer["suspect"]
    sides = [{"length": 0.8}, {"length": 0.5, "turn": 90}, {"length": 0.8, "turn": 90}]
    answer = calc.calculate("trace", json.dumps({"sides": sides}))
    assert answer["area"] == pytest.approx(0.4) and answer["round"] == pytest.approx(2.6)


# ---- whatever it is given, it answers in numbers or says why not ----

EXTREMES = (0, -1, 1e-300, 1e300, -1e300, 5e-324, 1.7e308, 1e-9, 1e9, True, "1", None, [], {}, 2**63)
GIVEN = {
    "panel": panel(points=[[0.5, 0.5]]),
    "beam": {"length": 2, "EI": 1000, "GA": 1e5, "loads": [{"start": 0, "end": 2, "force": 100}], "points": [1.0]},
    "section": {
        "parts": [{"name": "bar", "width": 0.05, "height": 0.1, "bottom": 0, "E": 1e10, "G": 4e9}],
        "moment": 10.0, "shear": 1000.0, "levels": [0.05],
    },
    "ply": {"weight": 0.3, "fibre_fraction": 0.3, "voids": 0.01},
    "stack": {"layers": [{"thickness": 0.01, "E1": 1e10, "E2": 5e9, "G12": 2e9, "nu12": 0.3, "angle": 30}]},
    "scarf": {"ratio": 12, "thickness": 0.006, "stress": 5e7, "old_modulus": 1e10, "new_modulus": 2e10, "steps": 3},
    "mix": {"liquids": [{"mass": 5, "density": 1160}], "filler": {"volumes": 2, "bulk": 60, "true": 2200}},
    "offset": {"ring": [[0, 0], [1, 0], [1, 1]], "distance": 0.1, "corners": "mitre"},
}  # fmt: skip


def altered(value: object) -> list[object]:
    """The value with each number in it in turn as each extreme."""
    if isinstance(value, dict):
        return [{**value, k: new} for k, v in value.items() for new in altered(v)]
    if isinstance(value, list):
        return [[*value[:n], new, *value[n + 1 :]] for n, v in enumerate(value) for new in altered(v)]
    return list(EXTREMES) if isinstance(value, int | float) else []


@pytest.mark.parametrize("name", sorted(GIVEN))
def test_no_input_ends_in_a_trace_or_in_what_is_no_number(name: str) -> None:
    answered = 0
    for given in altered(GIVEN[name]):
        try:
            made = answer(name, given)
        except (Fault, ManyFaults) as fault:
            assert str(fault)
            continue
        json.dumps(made, allow_nan=False)
        answered += 1
    assert answered > 3


def test_mixes_and_outlines_by_hand() -> None:
    liquids = [{"mass": 5.8, "density": 1160}, {"mass": 1, "density": 1000}]
    filler = {"volumes": 2.0, "bulk": 60.0, "true": 2200.0}
    made = answer("mix", {"liquids": liquids, "filler": filler})
    assert made["density"] == pytest.approx(6.8 / (5.8 / 1160 + 1 / 1000)) and made["volume_parts"] == pytest.approx(
        [5, 1]
    )
    resin = made["density"]
    assert made["filled"]["density"] == pytest.approx((resin + 120) / (1 + 120 / 2200))  # type: ignore[index, operator]
    square = [[0, 0], [1, 0], [1, 1], [0, 1]]
    assert answer("offset", {"ring": square, "distance": 0.1, "corners": "mitre"})["area"] == pytest.approx(1.44)
    rounded = answer("offset", {"ring": square, "distance": 0.1})["area"]
    assert rounded == pytest.approx(1 + 0.4 + 3.14159 * 0.01, rel=1e-3)
    assert answer("offset", {"ring": square, "distance": -0.2})["area"] == pytest.approx(0.36)
    assert answer("offset", {"ring": square, "distance": -0.6})["shapes"] == []

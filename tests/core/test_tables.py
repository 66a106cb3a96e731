"""Tables of a zone: the same for window, paper and command line, and each figure in them one that can be asked."""

import json

import pytest

from ribpatch.cli.commands import run
from ribpatch.core.figure import Figure
from ribpatch.core.tables import TABLES, bond_curve, laminate_chart, zone_table


@pytest.mark.parametrize("name", TABLES)
def test_a_table_is_worked_out_once_and_its_rows_fit_its_columns(made, name):
    for zone in made.zones:
        table = zone_table(zone, name, "metric")
        assert table is zone_table(zone, name, "metric")
        if table is not None:
            assert all(len(row.cells) == len(table.columns) for row in table.rows)


def test_a_figure_in_a_table_shows_its_working_and_is_no_other_by_the_same_id(made):
    for zone in made.zones:
        seen = dict(zone.by_id)
        for name in TABLES:
            for row in (zone_table(zone, name, "metric") or zone_table(zone, "tight", "metric")).rows:
                for cell in row.cells:
                    if isinstance(cell, Figure):
                        assert cell.formula and cell.id.startswith(zone.zone.id)
                        key = cell.id.removeprefix(f"{zone.zone.id}.")
                        assert seen.setdefault(key, cell).value == pytest.approx(cell.value, nan_ok=True), cell.id


def test_the_command_line_tells_what_the_window_tabulates(made, tmp_path, capsys):
    path = tmp_path / "heron.ribpatch"
    assert run(["demo-job", "-o", str(path)]) == 0
    capsys.readouterr()
    assert run(["plan", str(path), "--json"]) == 0
    told = {(t["zone"], t["table"]): t for t in json.loads(capsys.readouterr().out)["tables"]}
    cores = zone_table(made.zone("z1"), "cores", "metric")
    rows = told["z1", "cores"]["rows"]
    assert told["z1", "cores"]["columns"] == list(cores.columns) and len(rows) == len(cores.rows)
    for row, line in zip(cores.rows, rows, strict=True):
        for cell, said in zip(row.cells, line, strict=True):
            assert said == cell if isinstance(cell, str) else said["value"] == cell.value and said["id"] == cell.id
    assert ("z4", "cores") not in told or told["z4", "cores"]["rows"]


def test_charts_follow_from_the_plan(made):
    assert laminate_chart(made.zone("z1")).bars and bond_curve(made.zone("z1")).curves
    chosen = [m for m in bond_curve(made.zone("z1")).marks if m.chosen]
    assert [m.x for m in chosen] == [made.zone("z1").zone.scheme.taper.ratio.si]

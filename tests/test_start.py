"""What the start may load: nothing that the first picture does without."""

import json
import os
import subprocess
import sys

import pytest

START = """
import enum, json, sys
made, plain = [], enum.EnumType.__new__
enum.EnumType.__new__ = lambda kind, name, *rest, **more: made.append(name) or plain(kind, name, *rest, **more)
from ribpatch.__main__ import before_qt
before_qt({opens})
from ribpatch.ui.app import make_app, make_window
app = make_app([]); window = make_window(app); window.resize(1280, 800)
{show}
window.show(); window.repaint()
print(json.dumps([sorted(sys.modules), made]))
window.session.stack.setClean(); window.close()
"""
PARTS = {"__feature__", "signature_bootstrap", "cython_runtime"}  # of those below
NOT_OURS = {
    "PySide6",
    "contourpy",
    "msgspec",
    "numpy",
    "shapely",
    "shiboken6",
    "shibokensupport",
}
# Of icons, boxes of questions and files, screen readers and styles: one call loads all that Qt knows of them.
SELDOM = {"ThemeIcon", "StandardButton", "FileMode", "RelationFlag", "StandardPixmap", "StepType"}
LATER = (
    "core.supply", "core.checks", "core.repair_checks", "core.survey_checks", "core.diagnosis", "core.compare", "core.edits",
    "core.scheme_edits", "core.survey_edits", "core.quantity", "core.laminate.search", "core.laminate.suggest", "core.patch.bonding",
    "core.survey.acoustics", "core.survey.way_in", "report", "formats", "cli", "library.demo", "ui.stages", "ui.bench.order_bench",
    "ui.bench.cause_bench", "ui.widgets.entry", "ui.widgets.table_view", "ui.widgets.chart_view", "ui.widgets.working",
)  # fmt: skip


def loaded(show, opens):
    for _ in range(2):  # the first start fills the cache folder
        code = START.format(show=show, opens=opens)
        run = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, timeout=60)
        assert run.returncode == 0, run.stderr
    return json.loads(run.stdout)


def below(names, tops):
    return [n for n in names if any(n == f"ribpatch.{top}" or n.startswith(f"ribpatch.{top}.") for top in tops)]


@pytest.fixture(scope="module")
def machinery():
    """What any program of this Python has loaded before ours begins, as coverage or editable installs."""
    run = subprocess.run([sys.executable, "-c", "import sys; print(*sys.modules)"], capture_output=True, text=True)
    return {name.partition(".")[0] for name in run.stdout.split()}


def test_the_first_picture_of_a_job_loads_no_rung_that_is_not_shown(machinery):
    names, choices = loaded("window.menu_action('demo_job').trigger()", True)
    assert "Orientation" in choices and not SELDOM & set(choices)
    foreign = (
        {n.partition(".")[0] for n in names}
        - set(sys.stdlib_module_names)
        - machinery
        - PARTS
        - {"ribpatch", "__main__"}
    )
    foreign = {top for top in foreign if not top.startswith("_cython")}
    assert foreign <= NOT_OURS, foreign - NOT_OURS
    assert not {"numpy.ma", "hashlib", "html", "difflib", "importlib.resources"} & set(names) - machinery
    assert "numpy.ma" not in names and "numpy.polynomial" not in names
    assert below(names, LATER) == []


def test_the_start_page_loads_no_geometry_at_all(machinery):
    names, choices = loaded("window.show_start()", False)
    assert not SELDOM & set(choices)
    tops = {n.partition(".")[0] for n in names}
    assert not tops & {"numpy", "shapely", "contourpy", "pydantic"}
    assert below(names, ("core.patch", "core.survey", "core.laminate", "ui.bench", "ui.frame", *LATER)) == []


def test_the_program_uses_one_thread_for_matrices_unless_told_otherwise():
    code = (
        "import os; from ribpatch.__main__ import main; main(['--version']); print(os.environ['OPENBLAS_NUM_THREADS'])"
    )
    for told, wanted in ((None, "1"), ("2", "2")):
        env = {k: v for k, v in os.environ.items() if k != "OPENBLAS_NUM_THREADS"}
        env |= {"OPENBLAS_NUM_THREADS": told} if told else {}
        run = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, env=env, timeout=60)
        assert run.stdout.split()[-1] == wanted

"""A window that the system ends: nothing is lost, and the exit code is the usual one."""

import os
import signal
import subprocess
import sys

import pytest

from ribpatch.jobfile import recovery

CODE = """
import sys
from PySide6.QtCore import QTimer
from ribpatch.core.edits import set_value
from ribpatch.core.units import Measure
from ribpatch.ui import app
begin = app.make_window
def made(application, settings=None):
    window = begin(application, settings)
    def ready():
        if "edit" in sys.argv:
            window.session.apply(set_value(("zones", "z1", "scheme", "cut", "margin"), Measure(si=0.077)))
        print("ready", flush=True)
    QTimer.singleShot(0, lambda: QTimer.singleShot(0, ready))
    return window
app.make_window = made
sys.exit(app.run_window(["--demo"]))
"""


@pytest.mark.parametrize(("number", "code"), [(signal.SIGTERM, 143), (signal.SIGINT, 130), (signal.SIGHUP, 129)])
def test_work_is_kept_when_the_system_ends_the_window(number, code):
    run = subprocess.Popen([sys.executable, "-c", CODE, "edit"], stdout=subprocess.PIPE, text=True)
    assert run.stdout.readline() == "ready\n"
    os.kill(run.pid, number)
    assert run.wait() == code
    run.stdout.close()
    (item,) = recovery.found()
    assert recovery.recover(item).zone("z1").scheme.cut.margin.si == pytest.approx(0.077)

"""Chooses between the command line and the window; Qt is imported only for the window."""

from __future__ import annotations

import gc
import os
import sys
from importlib import import_module

COMMANDS = (
    "plan",
    "check",
    "report",
    "labels",
    "survey",
    "taps",
    "outlines",
    "schema",
    "import-readings",
    "export-readings",
    "demo-job",
    "shopping",
    "drawing",
    "templates",
    "cut",
    "days",
    "materials",
    "calc",
    "man-page",
    "completion",
)
# What the start page and the first picture of a job stand on; the rest comes with them.
FIRST_PAGE = ("library.shelf", "jobfile.recovery", "stages")
FIRST_PICTURE = (
    *FIRST_PAGE,
    "core.plan",
    "core.patch.figures",
    "core.survey.figures",
    "core.drawing.plan_view",
    "core.drawing.section_view",
    "core.drawing.survey_picture",
    "core.drawing.boat_view",
)


def main(argv: list[str] | None = None) -> int:
    """Run Rib Patch; the exit code."""
    arguments = sys.argv[1:] if argv is None else argv
    # Two threads wait for each other where another program works: one is quicker for matrices of some hundred rows.
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    if arguments and (arguments[0] in COMMANDS or arguments[0] in ("-h", "--help", "--version")):
        if argv is None:  # a program of its own, and not a part of another
            _end_by_signals()
        from ribpatch.cli.commands import run

        return run(arguments)
    before_qt(bool(arguments))
    from ribpatch.ui.app import run_window

    return run_window(arguments)


def _end_by_signals() -> None:
    """A command that gets a signal ends at once, cleaned up and without a word, with the usual exit code."""
    import signal

    def end(number: int, _frame: object) -> None:
        raise SystemExit(128 + number)

    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, end)


def before_qt(opens_a_job: bool) -> None:
    """Load what has nothing to do with Qt: its binding looks at the source of every module that is loaded after it."""
    # Thousands of frozen objects are alive: looking through them all after every few hundred new ones only costs time.
    gc.set_threshold(50_000, 20, 50)
    # A recovery copy or a search goes on beside the window: its thread hands over within a millisecond, not five, each
    # time that an edit comes back from NumPy.
    sys.setswitchinterval(0.001)
    _load_records()
    for module in FIRST_PICTURE if opens_a_job else FIRST_PAGE:
        import_module(f"ribpatch.{module}")


def _load_records() -> None:
    """Load what records are made of without ``typing_extensions``: it asks for it, and from Python 3.11 on does
    without, as ``typing`` has the same. A hundredth of the start; whoever imports it later gets it.
    """
    name = "typing_extensions"
    if name in sys.modules or "msgspec" in sys.modules:
        return
    sys.modules[name] = None  # type: ignore[assignment]  # what Python calls a module that is not to be found
    try:
        import_module("msgspec")
    finally:
        del sys.modules[name]


if __name__ == "__main__":
    sys.exit(main())

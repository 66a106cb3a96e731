"""Chooses between the command line and the window; Qt is imported only for the window."""

from __future__ import annotations

import sys

COMMANDS = (
    "plan", "check", "report", "survey", "taps", "schema", "import-readings", "export-readings", "demo-job", "shopping", "drawing", "templates",
    "materials",
)  # fmt: skip


def main(argv: list[str] | None = None) -> int:
    """Run Rib Patch; the exit code."""
    arguments = sys.argv[1:] if argv is None else argv
    if arguments and (arguments[0] in COMMANDS or arguments[0] in ("-h", "--help", "--version")):
        from ribpatch.cli.commands import run

        return run(arguments)
    # Qt's binding looks at the source of every module imported after it, so what has nothing to do with Qt comes first.
    import ribpatch.core.plan  # noqa: F401
    from ribpatch.ui.app import run_window

    return run_window(arguments)


if __name__ == "__main__":
    sys.exit(main())

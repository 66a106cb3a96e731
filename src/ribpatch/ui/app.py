"""Starting the window: the only place that composes the program."""

from __future__ import annotations

import argparse
import os
import sys
import traceback
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QLocale, QSize, QTimer, QtMsgType, qInstallMessageHandler
from PySide6.QtWidgets import QApplication

from ribpatch import __version__, resources
from ribpatch.core.numerals import use_numerals
from ribpatch.jobfile.lock import state_folder
from ribpatch.library.shelf import user_shelf
from ribpatch.ui.collecting import Collector
from ribpatch.ui.ended_by import EndedBy
from ribpatch.ui.other_window import open_window
from ribpatch.ui.region import numerals_of, usual_currency
from ribpatch.ui.scaling import set_factor
from ribpatch.ui.session import Session
from ribpatch.ui.settings import Settings
from ribpatch.ui.tasks import Tasks
from ribpatch.ui.theme import apply_theme, load_font
from ribpatch.ui.widgets.spoken import begin_to_tell
from ribpatch.ui.window import Window
from ribpatch.ui.window_actions import WindowActions

if TYPE_CHECKING:
    from types import TracebackType

    from ribpatch.ui.session import Change

FRAME = QSize(0, 32)  # pixels round a window: a title bar, and panels that do not say how high they are
OWN_FRAME = QSize(6, 33)  # where a window draws its frame itself
COLLECTS = "collects"


def make_app(arguments: list[str]) -> QApplication:
    """The application with its font, or the one that runs already."""
    running = QApplication.instance()
    app = running if isinstance(running, QApplication) else _begun(["ribpatch", "-style", "fusion", *arguments])
    app.setApplicationName("ribpatch")
    app.setApplicationDisplayName("Rib Patch")
    app.setApplicationVersion(__version__)
    app.setDesktopFileName("ribpatch")
    if not app.property(COLLECTS):  # to look among its children would load all that styles are made of
        app.setProperty(COLLECTS, True)
        Collector(app)
    load_font()
    use_numerals(numerals_of(QLocale()))
    return app


def _begun(arguments: list[str]) -> QApplication:
    """Qt's application. Where it finds no display it ends the process with a core dump: it is told in a sentence
    instead.
    """

    told: list[str] = []

    def heard(kind: QtMsgType, _context: object, text: str) -> None:
        if kind is QtMsgType.QtFatalMsg:
            print(f"ribpatch: {_why_no_window()}", file=sys.stderr, flush=True)
            os._exit(1)
        told.append(text)

    qInstallMessageHandler(heard)
    try:
        return QApplication(arguments)
    finally:
        qInstallMessageHandler(None)
        for text in told:  # it began all the same: what Qt said on the way is for whoever looks at the terminal
            print(text, file=sys.stderr)


def _why_no_window() -> str:
    display = os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY")
    why = f"no window can be opened on the display {display}" if display else "there is no display to open a window on"
    return f"{why}. The commands work without one: see ribpatch --help."


def make_window(app: QApplication, settings: Settings | None = None) -> Window:
    """A window with nothing open yet."""
    settings = settings or Settings()
    shelf, faults = user_shelf()
    tasks = Tasks()
    session = Session(shelf)
    session.system = settings.system
    session.currency = settings.currency or usual_currency(QLocale())
    session.changed.connect(lambda change: _keep_currency(change, session, settings))
    set_factor(settings.factor)
    apply_theme(app, settings.look)
    window = Window(session, settings, tasks, WindowActions)
    tasks.setParent(window)
    session.setParent(window)
    window.use_theme(settings.look)
    if not settings.geometry.isEmpty():
        window.restoreGeometry(settings.geometry)
    _fit_to_screen(app, window)
    if faults:
        window.message.tell(" ".join(f.sentence for f in faults))
    if window.documents.cannot_keep:
        window.message.tell(window.documents.cannot_keep)
    window.actions_table.refresh()
    return window


def _keep_currency(change: Change, session: Session, settings: Settings) -> None:
    """The sign of money that a user sets for one job is that of the next ones too."""
    sign = change.new.job.buying.currency
    if sign and change.old is not None and sign != change.old.job.buying.currency:
        session.currency = settings.currency = sign


def _fit_to_screen(app: QApplication, window: Window) -> None:
    """On a small screen leave room for the title bar and panels; a picture drawn without a screen has no limit."""
    if app.platformName() == "offscreen":
        return
    room = (app.screenAt(window.frameGeometry().center()) or app.primaryScreen()).availableSize()
    window.fit_in(room - (OWN_FRAME if app.platformName().startswith("wayland") else FRAME))


def install_hook(window: Window) -> None:
    """Send what goes wrong in the program to a plain message; the work is kept first and the window runs on."""

    def hook(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        if issubclass(kind, KeyboardInterrupt):
            QApplication.exit(130)
            return
        text = "".join(traceback.format_exception(kind, error, trace))
        sys.stderr.write(text)
        try:
            window.documents.keep_now()
            with open(state_folder() / "errors.txt", "a", encoding="utf-8") as log:
                log.write(text + "\n")
        except Exception as second:
            sys.stderr.write(f"the recovery copy could not be written: {second}\n")
        window.message.tell(
            f"Something went wrong in the program ({kind.__name__}: {error}). Your work was kept; save it, then go on."
        )

    sys.excepthook = hook


def _give_icon(window: Window) -> None:
    from PySide6.QtGui import QIcon, QPixmap

    icon = QPixmap()
    if icon.loadFromData(resources.data("icons/hicolor/64.png")):
        window.setWindowIcon(QIcon(icon))


def warm_up(window: Window) -> None:
    """Load what is slow to load and not needed for the first picture, beside the window."""
    from ribpatch.core.quantity import registry
    from ribpatch.ui.theme import load_fallback

    load_fallback()

    window.tasks.run("", registry, lambda _result, _error: None)


def run_window(arguments: list[str]) -> int:
    """Run the window; the exit code."""
    parser = argparse.ArgumentParser(prog="ribpatch", description="Plan composite boat repairs.")
    parser.add_argument("file", nargs="*", type=Path, help="jobs to open, each in a window of its own")
    parser.add_argument("--demo", action="store_true", help="open the demo job")
    parser.add_argument("--ready-file", type=Path, help=argparse.SUPPRESS)
    chosen = parser.parse_args(arguments)
    for path in chosen.file:
        if not path.is_file():
            print(f"ribpatch: {path} is neither a command nor a job file; see ribpatch --help", file=sys.stderr)
            return 2
    app = make_app([])
    window = make_window(app)
    install_hook(window)
    EndedBy(window)
    if chosen.demo:
        window.menu_action("demo_job").trigger()
        if window.documents.found():
            window.message.tell(
                "Work from a window that ended without closing was kept: see the start page (Ctrl+Home)."
            )
    elif chosen.file:
        QTimer.singleShot(0, lambda: window.open_path(chosen.file[0]))
        for path in chosen.file[1:]:
            open_window(path)
    else:
        window.show_start()
    window.show()
    QTimer.singleShot(0, lambda: _ready(window, chosen.ready_file))
    return app.exec()


def _ready(window: Window, ready_file: Path | None) -> None:
    """After the first picture: what was not needed for it, and tell a waiting measurement that the window is ready."""
    window.repaint()
    _give_icon(window)
    begin_to_tell(window)
    if ready_file is not None:
        ready_file.write_text("ready")
    QTimer.singleShot(300, lambda: warm_up(window))
